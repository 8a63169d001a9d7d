// Drawings of specimens and machines. They show numbers and hold none; readings are typed onto them.
#pragma once

#include <QPainter>
#include <QPainterPath>
#include <QRectF>
#include <QSizeF>
#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/evaluation/evaluation.h"
#include "core/plan/plan.h"
#include "core/standin/machine.h"

namespace fortitor {

/// What a sketch may look at.
struct SketchState {
  const TestRecord& record;
  const Evaluation* evaluation = nullptr;
  const Plan* plan = nullptr;
  const MachineStatus* machine = nullptr;
  UnitSet units = UnitSet::si;
  std::string focus;  ///< path of the field being typed, drawn bolder
  int focus_index = 0;
  int chosen = -1;                                         ///< thing on the drawing that is in hand
  std::optional<std::pair<QPointF, QPointF>> stroke = {};  ///< a line that is being drawn, from where to where
};

/// What a hand on the drawing does: takes something, and perhaps changes a field.
struct SketchHand {
  int chosen = -1;
  std::string path, typed;  ///< empty path: nothing is changed
  bool used = false;        ///< the press or key was meant for the drawing
  std::string what = {};    ///< with `edit`: what is done to more than one field, in words
  std::function<void(TestRecord&)> edit = {};
};

/// Where an editor for a reading sits on the drawing.
struct Anchor {
  std::string path;
  int index = 0;
  QPointF at;  ///< centre of the editor
  double width = 104;
};

/// Where editors stand at this size of text, one an anchor: at their anchors, pushed apart where larger ones would lie
/// over one another.
std::vector<QRectF> editor_boxes(const std::vector<Anchor>& anchors, double height, const QRectF& area);

class Sketch {
 public:
  virtual ~Sketch() = default;
  virtual void paint(QPainter& p, const QRectF& area, const SketchState& state) const = 0;
  virtual std::vector<Anchor> anchors(const QRectF&, const TestRecord&) const { return {}; }
  /// How things on the drawing are worked by hand; empty: they are not.
  virtual QString hint() const { return {}; }
  virtual SketchHand press(const QRectF&, const TestRecord&, QPointF, bool /*second*/) const { return {}; }
  /// A stroke over the drawing, from press to release.
  virtual SketchHand stroke(const QRectF&, const TestRecord&, QPointF, QPointF) const { return {}; }
  virtual SketchHand key(const TestRecord&, int chosen, int /*key*/, bool /*coarse*/) const {
    return {chosen, {}, {}, false};
  }
};

/// Sketch by the name a method gives; null when there is none.
std::unique_ptr<Sketch> make_sketch(const std::string& name);

/// Picture for one value of a drawn choice (fracture looks) beside the sketch `sketch`; false when there is
/// no drawing for it.
bool paint_choice(QPainter& p, const QRectF& area, const std::string& sketch, const std::string& path,
                  const std::string& value);

namespace draw {

/// Dimension line with end ticks between two points.
void dimension_line(QPainter& p, QPointF a, QPointF b, const QColor& colour);
/// Side view of a bar: heads, fillets and a parallel part that may neck. All in px.
QPainterPath bar_outline(const QRectF& box, double head_height, double waist_height, double head_width);
void metal_fill(QPainter& p, const QPainterPath& path);

}  // namespace draw
}  // namespace fortitor
