// The drawing with its editors on it, and the hand that works on the drawing itself.
#include <QMouseEvent>
#include <QPainter>

#include "app/stages/reading_stage.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"

namespace fortitor {

using parts::qs;

SketchPad::SketchPad(Workbench* bench, QWidget* parent) : QWidget(parent), bench_(bench) {
  setMinimumSize(360, 320);
}

void SketchPad::show_sketch(const std::string& name) {
  sketch_ = make_sketch(name);
  for (ReadingEdit* e : edits_) {
    e->hide();
    e->deleteLater();
  }
  edits_.clear();
  chosen_ = -1;
  if (!sketch_) return;
  setAccessibleName(spoken("Drawing of the piece"));
  setAccessibleDescription(spoken(sketch_->hint()));
  if (!sketch_->hint().isEmpty()) {
    setFocusPolicy(Qt::StrongFocus);
    setProperty("key", "drawing");
  }
  for (const Anchor& a : sketch_->anchors(area(), bench_->record())) {
    const FieldSpec* field = bench_->method().field(a.path);
    if (field == nullptr) continue;
    auto* edit = new ReadingEdit(bench_, *field, a.index, this);
    edit->show();
    connect(edit, &ReadingEdit::kept, this, [this, edit] { go_on(edit); });
    connect(edit, &ReadingEdit::column_pasted, this, [this, edit](const QStringList& lines) { paste(edit, lines); });
    edits_.push_back(edit);
  }
  place();
}

void SketchPad::place() {
  if (!sketch_) return;
  auto anchors = sketch_->anchors(area(), bench_->record());
  std::erase_if(anchors, [this](const Anchor& a) { return bench_->method().field(a.path) == nullptr; });
  const double height = edits_.empty() ? 0 : edits_.front()->sizeHint().height();
  const auto boxes = editor_boxes(anchors, height, QRectF(rect()));
  for (size_t i = 0; i < std::min(boxes.size(), edits_.size()); ++i) edits_[i]->setGeometry(boxes[i].toRect());
  for (size_t k = 1; k < edits_.size(); ++k) setTabOrder(edits_[k - 1], edits_[k]);
  update();
}

bool SketchPad::holds(const std::string& path) const {
  for (const ReadingEdit* e : edits_)
    if (e->field().path == path) return true;
  return false;
}

void SketchPad::refresh() {
  for (ReadingEdit* e : edits_) e->refresh();
  place();
}

void SketchPad::focus_first_empty() {
  for (ReadingEdit* e : edits_)
    if (e->text().isEmpty()) return e->setFocus();
}

void SketchPad::go_on(ReadingEdit* from) {
  for (size_t i = 0; i + 1 < edits_.size(); ++i)
    if (edits_[i] == from) return edits_[i + 1]->setFocus();
}

void SketchPad::paste(ReadingEdit* from, const QStringList& lines) {
  // A pasted column fills the readings of the same list from here on, in one edit.
  Readings list = bench_->record().fields.readings(from->field().path);
  size_t at = size_t(from->index());
  FieldSpec single = from->field();
  single.kind = FieldKind::quantity;
  for (const QString& line : lines) {
    Reading r;
    if (line.trimmed().compare("missed", Qt::CaseInsensitive) != 0) {
      const auto v = bench_->parse_field(single, line);
      if (!v) {
        bench_->say("Line “" + line.trimmed() + "”: " + qs(v.error().message) + " Nothing was pasted.");
        return;
      }
      r = std::get<Reading>(*v);
    }
    if (list.size() <= at) list.resize(at + 1);
    list[at++] = r;
  }
  const std::string path = from->field().path;
  bench_->edit(QString::number(lines.size()) + " readings pasted: " + qs(from->field().label),
               [&](TestRecord& r) { r.fields.set(path, list); });
  refresh();
}

void SketchPad::take(const SketchHand& hand) {
  chosen_ = hand.chosen;
  const FieldSpec* field = hand.path.empty() ? nullptr : bench_->method().field(hand.path);
  if (field != nullptr) bench_->set_field(*field, qs(hand.typed));
  if (hand.edit) bench_->edit(qs(hand.what), hand.edit);
  update();
}

void SketchPad::mousePressEvent(QMouseEvent* event) {
  if (!sketch_ || !bench_->has_specimen() || sketch_->hint().isEmpty()) return QWidget::mousePressEvent(event);
  setFocus();
  const SketchHand hand =
      sketch_->press(area(), bench_->record(), event->position(), event->button() == Qt::RightButton);
  if (hand.used) return take(hand);
  if (event->button() == Qt::LeftButton) stroke_ = {event->position(), event->position()};
}

void SketchPad::mouseMoveEvent(QMouseEvent* event) {
  if (!stroke_) return QWidget::mouseMoveEvent(event);
  stroke_->second = event->position();
  update();
}

void SketchPad::mouseReleaseEvent(QMouseEvent* event) {
  if (!stroke_) return QWidget::mouseReleaseEvent(event);
  const auto [from, to] = *stroke_;
  stroke_.reset();
  update();
  if (!sketch_ || !bench_->has_specimen()) return;
  if (const SketchHand hand = sketch_->stroke(area(), bench_->record(), from, to); hand.used) take(hand);
}

void SketchPad::keyPressEvent(QKeyEvent* event) {
  if (!sketch_ || !bench_->has_specimen()) return QWidget::keyPressEvent(event);
  const SketchHand hand = sketch_->key(bench_->record(), chosen_, event->key(), event->modifiers() & Qt::ShiftModifier);
  if (!hand.used) return QWidget::keyPressEvent(event);
  take(hand);
}

void SketchPad::resizeEvent(QResizeEvent*) {
  place();
}

void SketchPad::paintEvent(QPaintEvent*) {
  QPainter p(this);
  if (!sketch_ || !bench_->has_specimen()) return;
  SketchState state{
      bench_->record(), bench_->evaluation().get(), plan_, machine_, bench_->units(), {}, 0, hasFocus() ? chosen_ : -1,
      stroke_};
  for (const ReadingEdit* e : edits_) {
    if (!e->hasFocus()) continue;
    state.focus = e->field().path;
    state.focus_index = e->index();
  }
  sketch_->paint(p, area(), state);
}

}  // namespace fortitor
