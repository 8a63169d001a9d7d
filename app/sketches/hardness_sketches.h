// Drawings of the hardness bench: the face with its indents, and the reference block.
#pragma once

#include "app/sketches/sketch.h"

namespace fortitor {

/// The print of an indenter, for the card of its method.
class PrintSketch : public Sketch {
 public:
  enum class Indenter { cone, ball, square, rhomb };
  explicit PrintSketch(Indenter indenter) : indenter_(indenter) {}
  void paint(QPainter& p, const QRectF& area, const SketchState& state) const override;

 private:
  Indenter indenter_;
};

/// The face: edges, zones, spoilt areas, places planned and read. A hand sets, nudges and takes away places on it.
class IndentMapSketch : public Sketch {
 public:
  explicit IndentMapSketch(bool sizes) : sizes_(sizes) {}
  void paint(QPainter& p, const QRectF& area, const SketchState& state) const override;
  std::vector<Anchor> anchors(const QRectF& area, const TestRecord& record) const override;
  QString hint() const override;
  SketchHand press(const QRectF& area, const TestRecord& record, QPointF at, bool second) const override;
  SketchHand key(const TestRecord& record, int chosen, int key, bool coarse) const override;

 private:
  bool sizes_;
};

/// A round block with its certified hardness and the readings made on it, before or after the work.
class ReferenceBlockSketch : public Sketch {
 public:
  explicit ReferenceBlockSketch(bool after) : after_(after) {}
  void paint(QPainter& p, const QRectF& area, const SketchState& state) const override;
  std::vector<Anchor> anchors(const QRectF& area, const TestRecord& record) const override;

 private:
  const char* path() const { return after_ ? "specimen.block.after" : "specimen.block.readings"; }
  bool after_;
};

namespace draw {

/// A print of a pyramid, seen from above.
void diamond(QPainter& p, QPointF at, double r);

}  // namespace draw
}  // namespace fortitor
