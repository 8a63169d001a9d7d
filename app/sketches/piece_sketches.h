// Drawings of the pieces of the frame: dumbbell, laminate strip, sandwich block, block and shell between
// platens; and the pictures of how they fail.
#pragma once

#include "app/sketches/bench_sketches.h"

namespace fortitor {

/// Dumbbell of plastic or strip of laminate with its tabs.
class StripPieceSketch : public Sketch {
 public:
  StripPieceSketch(bool tabs, Scene scene) : tabs_(tabs), scene_(scene) {}
  void paint(QPainter& p, const QRectF& area, const SketchState& state) const override;
  std::vector<Anchor> anchors(const QRectF& area, const TestRecord& record) const override;

 private:
  bool tabs_;
  Scene scene_;
};

/// Sandwich block bonded between its loading blocks.
class SandwichSketch : public Sketch {
 public:
  explicit SandwichSketch(Scene scene) : scene_(scene) {}
  void paint(QPainter& p, const QRectF& area, const SketchState& state) const override;
  std::vector<Anchor> anchors(const QRectF& area, const TestRecord& record) const override;

 private:
  Scene scene_;
};

/// Block or thin shell between the platens of a press; it shortens, barrels or folds with the travel.
class PlatenSketch : public Sketch {
 public:
  PlatenSketch(bool shell, Scene scene) : shell_(shell), scene_(scene) {}
  void paint(QPainter& p, const QRectF& area, const SketchState& state) const override;
  std::vector<Anchor> anchors(const QRectF& area, const TestRecord& record) const override;

 private:
  bool shell_;
  Scene scene_;
};

/// A rope clamp between its pin and the rope.
class ClampSketch : public Sketch {
 public:
  void paint(QPainter& p, const QRectF& area, const SketchState& state) const override;
};

/// A plate with a rib welded on it: where fatigue cracks begin.
class WeldSketch : public Sketch {
 public:
  void paint(QPainter& p, const QRectF& area, const SketchState& state) const override;
};

/// Block on a scale; at Measure its three sizes.
class BlockSketch : public Sketch {
 public:
  explicit BlockSketch(Scene scene) : scene_(scene) {}
  void paint(QPainter& p, const QRectF& area, const SketchState& state) const override;
  std::vector<Anchor> anchors(const QRectF& area, const TestRecord& record) const override;

 private:
  Scene scene_;
};

bool paint_dumbbell_break(QPainter& p, const QRectF& area, const std::string& value);
/// One part of the failure code of a laminate: its look, how far from the grip, where.
bool paint_laminate_failure(QPainter& p, const QRectF& area, const std::string& path, const std::string& value);
bool paint_block_failure(QPainter& p, const QRectF& area, const std::string& value);
bool paint_shell_failure(QPainter& p, const QRectF& area, const std::string& value);

}  // namespace fortitor
