// Drawings of what stands on the slow benches: beam on its supports, gauged strip, shaft in its chucks.
// Every one has two levels of detail: small areas leave out grain, hatching and instruments.
#pragma once

#include "app/sketches/sketch.h"

namespace fortitor {

/// What a sketch of a piece is drawn for.
enum class Scene { piece, sizes, broken };

/// Beam on two supports; bends as readings come in.
class BeamSketch : public Sketch {
 public:
  explicit BeamSketch(Scene scene) : scene_(scene) {}
  void paint(QPainter& p, const QRectF& area, const SketchState& state) const override;
  std::vector<Anchor> anchors(const QRectF& area, const TestRecord& record) const override;

 private:
  Scene scene_;
};

/// Strip with a lengthwise and a crosswise gauge, wired to the channels of the indicator.
class GaugedStripSketch : public Sketch {
 public:
  explicit GaugedStripSketch(Scene scene) : scene_(scene) {}
  void paint(QPainter& p, const QRectF& area, const SketchState& state) const override;
  std::vector<Anchor> anchors(const QRectF& area, const TestRecord& record) const override;

 private:
  Scene scene_;
};

/// Bar between two chucks with a line along it that winds as degrees go on.
class ShaftSketch : public Sketch {
 public:
  explicit ShaftSketch(Scene scene) : scene_(scene) {}
  void paint(QPainter& p, const QRectF& area, const SketchState& state) const override;
  std::vector<Anchor> anchors(const QRectF& area, const TestRecord& record) const override;

 private:
  Scene scene_;
};

/// Torsion bench at Set up: drive, chucks, torque cell with its rating.
class TorsionBenchSketch : public Sketch {
 public:
  void paint(QPainter& p, const QRectF& area, const SketchState& state) const override;
  std::vector<Anchor> anchors(const QRectF& area, const TestRecord& record) const override;
};

/// Looks of the broken beam and the broken shaft for the drawn choices.
bool paint_beam_break(QPainter& p, const QRectF& area, const std::string& value);
bool paint_shaft_break(QPainter& p, const QRectF& area, const std::string& value);

namespace draw {

/// Last complete reading of a channel, internal units; 0 when there is none.
double last_reading(const TestRecord& record, const std::string& channel);
QColor steel();
QColor wood();
/// Triangle support standing on hatched ground.
void support(QPainter& p, QPointF tip, double size, bool detail);
/// Arrow pointing down at `tip`.
void load_arrow(QPainter& p, QPointF tip, double length, const QColor& colour);

}  // namespace draw
}  // namespace fortitor
