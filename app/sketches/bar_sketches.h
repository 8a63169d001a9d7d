#pragma once

#include "app/sketches/sketch.h"

namespace fortitor {

/// Test bar before the run: three measured places, gauge, extensometer and parallel length.
class BarSketch : public Sketch {
 public:
  void paint(QPainter& p, const QRectF& area, const SketchState& state) const override;
  std::vector<Anchor> anchors(const QRectF& area, const TestRecord& record) const override;
};

/// The bar as it lies in the rack: its marked end, and its tag with what is known of it.
class TaggedBarSketch : public Sketch {
 public:
  void paint(QPainter& p, const QRectF& area, const SketchState& state) const override;
};

/// The halves fitted together: final length, neck, place of the break.
class HalvesSketch : public Sketch {
 public:
  void paint(QPainter& p, const QRectF& area, const SketchState& state) const override;
  std::vector<Anchor> anchors(const QRectF& area, const TestRecord& record) const override;
};

bool paint_fracture(QPainter& p, const QRectF& area, const std::string& value);

}  // namespace fortitor
