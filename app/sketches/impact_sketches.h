// Drawings of the impact bench: the pendulum with its swing, the notched bar.
#pragma once

#include "app/sketches/sketch.h"

namespace fortitor {

/// The pendulum to scale: where it starts, how far it swings empty, how far after the last blow, where nobody stands.
class SwingSketch : public Sketch {
 public:
  void paint(QPainter& p, const QRectF& area, const SketchState& state) const override;
};

/// The notched bar with breadth, height and ligament; after the blows its halves put together at their bend.
class NotchedBarSketch : public Sketch {
 public:
  void paint(QPainter& p, const QRectF& area, const SketchState& state) const override;
  std::vector<Anchor> anchors(const QRectF& area, const TestRecord& record) const override;
};

}  // namespace fortitor
