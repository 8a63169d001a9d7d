#pragma once

#include "app/sketches/sketch.h"

namespace fortitor {

/// Load path from frame to grip: rating of each part against the expected force.
class LoadPathSketch : public Sketch {
 public:
  void paint(QPainter& p, const QRectF& area, const SketchState& state) const override;
  std::vector<Anchor> anchors(const QRectF& area, const TestRecord& record) const override;
};

/// The frame with its bar, which stretches, necks and breaks.
class FrameSketch : public Sketch {
 public:
  void paint(QPainter& p, const QRectF& area, const SketchState& state) const override;
};

}  // namespace fortitor
