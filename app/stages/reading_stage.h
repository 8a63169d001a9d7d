// Measure and After: readings typed onto a drawing of the piece.
#pragma once

#include "app/sketches/sketch.h"
#include "app/stages/equipment_panel.h"
#include "app/stages/field_form.h"
#include "app/stages/reading_edit.h"
#include "app/stages/stage_page.h"
#include "app/theme/widgets.h"

namespace fortitor {

/// The drawing with its editors on it. Also used at Set up for the ratings of the load path.
class SketchPad : public QWidget {
  Q_OBJECT

 public:
  SketchPad(Workbench* bench, QWidget* parent = nullptr);
  void show_sketch(const std::string& name);
  void refresh();
  /// Paths that have an editor on the drawing.
  bool holds(const std::string& path) const;
  void set_plan(const Plan* plan) { plan_ = plan; }
  void set_machine(const MachineStatus* machine) { machine_ = machine; }
  const std::vector<ReadingEdit*>& edits() const { return edits_; }
  void focus_first_empty();
  /// How the drawing is worked by hand; empty: it is only looked at.
  QString hint() const { return sketch_ ? sketch_->hint() : QString(); }
  int chosen() const { return chosen_; }

 protected:
  void paintEvent(QPaintEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  void place();
  QRectF area() const { return QRectF(rect()).adjusted(10, 10, -10, -10); }
  void paste(ReadingEdit* from, const QStringList& lines);
  void go_on(ReadingEdit* from);
  void take(const SketchHand& hand);

  Workbench* bench_;
  std::unique_ptr<Sketch> sketch_;
  int chosen_ = -1;
  std::optional<std::pair<QPointF, QPointF>> stroke_;
  std::vector<ReadingEdit*> edits_;
  const Plan* plan_ = nullptr;
  const MachineStatus* machine_ = nullptr;
};

class ReadingStage : public StagePage {
  Q_OBJECT

 public:
  ReadingStage(Workbench* bench, Stage stage, QWidget* parent = nullptr);
  void rebuild() override;
  void refresh() override;
  void evaluated() override;
  SketchPad* pad() const { return pad_; }

 protected:
  void resizeEvent(QResizeEvent* event) override;

 private:
  void stand();
  void refresh_summary();
  void read_by_caliper();

  SketchPad* pad_ = nullptr;
  QWidget* side_ = nullptr;  ///< looks, summary and what is typed
  int side_width_ = 0;       ///< beside the drawing
  int beside_ = 0;           ///< what drawing and side want beside one another
  FieldForm* form_ = nullptr;
  EquipmentPanel* equipment_ = nullptr;
  QVBoxLayout* summary_ = nullptr;
  std::vector<QPushButton*> choices_;
  std::string shape_;  ///< choices that decide which fields there are, as last built
};

}  // namespace fortitor
