// Drawings of the laminate plate through its three lives: under the mass, with its damage drawn on it, in the fixture.
#pragma once

#include "app/sketches/sketch.h"

namespace fortitor {

/// The plate as it lies there, with its sizes, or as it gave way.
class PlateSketch : public Sketch {
 public:
  enum class View { piece, sizes, crushed };
  /// `gauged`: it carries pairs of gauges and is measured for its fixture; otherwise it lies on the base of the tower.
  explicit PlateSketch(View view, bool gauged = false) : view_(view), gauged_(gauged) {}
  void paint(QPainter& p, const QRectF& area, const SketchState& state) const override;
  std::vector<Anchor> anchors(const QRectF& area, const TestRecord& record) const override;

 private:
  View view_;
  bool gauged_;
};

/// Both faces to scale; what is seen is drawn on them. Marks are rows of the table “drawn”.
class PlateDamageSketch : public Sketch {
 public:
  void paint(QPainter& p, const QRectF& area, const SketchState& state) const override;
  std::vector<Anchor> anchors(const QRectF& area, const TestRecord& record) const override;
  QString hint() const override;
  SketchHand press(const QRectF& area, const TestRecord& record, QPointF at, bool second) const override;
  SketchHand stroke(const QRectF& area, const TestRecord& record, QPointF from, QPointF to) const override;
  SketchHand key(const TestRecord& record, int chosen, int key, bool coarse) const override;
};

/// The tower: mass on its guide, height of the drop, the plate under it, the catcher.
class DropTowerSketch : public Sketch {
 public:
  void paint(QPainter& p, const QRectF& area, const SketchState& state) const override;
  std::vector<Anchor> anchors(const QRectF& area, const TestRecord& record) const override;
};

/// The plate in its fixture with its two pairs of gauges, what each shows, the bending of each pair.
class PlateFixtureSketch : public Sketch {
 public:
  void paint(QPainter& p, const QRectF& area, const SketchState& state) const override;
};

/// How a dented plate gave way in compression, for the drawn choices; false when there is no such picture.
bool paint_plate_failure(QPainter& p, const QRectF& area, const std::string& value);

}  // namespace fortitor
