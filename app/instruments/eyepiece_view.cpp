#include "app/instruments/eyepiece_view.h"

#include <QDragEnterEvent>
#include <QFileDialog>
#include <QFileInfo>
#include <QInputDialog>
#include <QMimeData>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <cmath>

#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "core/quantity/format.h"

namespace fortitor {

using parts::qs;
using theme::Ink;

namespace {

// The lines sit on glass sleeves: driven through each other they break.
constexpr double kLeastGap = 2;

double half_division(double v) {
  return std::round(2 * v) / 2;
}

}  // namespace

EyepieceView::EyepieceView(QWidget* parent) : Instrument(parent) {
  setMinimumSize(260, 300);
  setAcceptDrops(true);
  setAccessibleName(spoken("Eyepiece"));
}

void EyepieceView::ask(const CallOut& now, const TestRecord& record, UnitSet) {
  const auto& columns = now.table.columns;
  const FieldSpec& column = columns[std::min(now.column, columns.size() - 1)];
  counted_ = !column.division_path.empty();
  if (counted_) division_ = record.fields.number(column.division_path).value_or(0);
  const bool turned = column_ != column.path || row_ != now.row;
  column_ = column.path;
  row_ = now.row;
  // A second cell, or the second reading of one cell, is read across: the eyepiece is turned.
  const bool second = counted_ ? column.path.back() == '2' : now.part == 1;
  if (second != second_ || turned) {
    second_ = second;
    start_lines();
  }
  if (counted_) take_line(now.part == 1 || column.wanted == 1 ? 1 : 0);
  title_ = qs(column.label).left(1).toUpper() + qs(column.label).mid(1) + " of " + qs(now.table.row) + " " +
           QString::number(now.row + 1);
  update();
}

void EyepieceView::look(const StepMachine* machine) {
  const auto before = sight_ ? std::optional(sight_->grain) : std::nullopt;
  sight_ = machine != nullptr ? machine->sight() : std::nullopt;
  if (sight_) {
    photo_ = {};
    field_ = sight_->field;
    if (!counted_ || !(division_ > 0)) division_ = sight_->division;
    if (before != sight_->grain) {
      focus_ = 0.5;
      start_lines();
    }
  }
  update();
}

void EyepieceView::start_lines() {
  lines_ = {0.15 * field_, 0.85 * field_};
  for (double& l : lines_) l = half_division(l);
  hand_ = 0;
}

void EyepieceView::show_photograph(const QImage& picture, double width) {
  photo_ = picture;
  photo_width_ = width;
  sight_.reset();
  if (!(division_ > 0)) division_ = width / 400;
  field_ = width / division_;
  focus_ = 0.5;
  start_lines();
  update();
  emit changed();
}

void EyepieceView::take_photograph(const QString& path) {
  const QImage picture(path);
  if (picture.isNull()) return emit says(QFileInfo(path).fileName() + " is no picture that can be read.");
  bool ok = false;
  const QString typed =
      QInputDialog::getText(this, spoken("Photograph of an indent"), spoken("How wide is the picture? Such as 120 µm"),
                            QLineEdit::Normal, "", &ok);
  if (!ok) return;
  const auto width = parse_quantity(typed.toStdString(), Dimension::length);
  if (!width) return emit says(qs(width.error().message));
  if (!(width->value > 0)) return emit says("The width of the picture must be above zero.");
  show_photograph(picture, width->value);
}

void EyepieceView::take_line(int which) {
  hand_ = which;
  update();
}

void EyepieceView::move_line(int which, double to) {
  double stop = std::clamp(half_division(to), 0.0, field_);
  const double other = lines_[size_t(1 - which)];
  const bool clash = which == 0 ? stop > other - kLeastGap : stop < other + kLeastGap;
  if (clash) {
    stop = which == 0 ? other - kLeastGap : other + kLeastGap;
    emit says("The line stops before the other: driven through each other the glass sleeves break.");
  }
  if (stop == lines_[size_t(which)]) return;
  lines_[size_t(which)] = stop;
  update();
  emit changed();
}

bool EyepieceView::take_key(const QKeyEvent& event) {
  if (event.key() == Qt::Key_P) {
    const QString path = QFileDialog::getOpenFileName(this, spoken("Photograph of an indent"), {},
                                                      parts::file_kinds("Pictures", "*.png *.jpg *.jpeg *.bmp"));
    if (!path.isEmpty()) take_photograph(path);
    return true;
  }
  if (empty()) return false;
  const bool coarse = event.modifiers() & Qt::ShiftModifier;
  const double step = coarse ? 10 : 0.5;
  switch (event.key()) {
    case Qt::Key_Left: move_line(hand_, lines_[size_t(hand_)] - step); return true;
    case Qt::Key_Right: move_line(hand_, lines_[size_t(hand_)] + step); return true;
    case Qt::Key_L: take_line(1 - hand_); return true;
    case Qt::Key_Up:
    case Qt::Key_Down:
      focus_ = std::clamp(focus_ + (event.key() == Qt::Key_Up ? 0.04 : -0.04), 0.0, 1.0);
      update();
      return true;
    default: return false;
  }
}

QString EyepieceView::reading() const {
  if (empty()) return {};
  if (counted_) return qs(plain_number(lines_[size_t(hand_)], 6));
  return qs(plain_number((lines_[1] - lines_[0]) * division_, 5)) + " mm";
}

void EyepieceView::offer(const QString& typed) {
  if (counted_) {
    bool ok = false;
    const double v = typed.toDouble(&ok);
    if (ok) move_line(hand_, v);
    return;
  }
  if (!sight_) return;
  const double a = second_ ? sight_->up : sight_->left, b = second_ ? sight_->down : sight_->right;
  move_line(0, a);
  move_line(1, b);
}

bool EyepieceView::advance() {
  // A length lies between both lines: the second one is set before it is kept.
  if (counted_ || empty() || hand_ == 1) return false;
  take_line(1);
  return true;
}

QString EyepieceView::keys() const {
  return "← → move the line, with Shift by ten; L takes the other; ↑ ↓ focus; P a photograph; Enter keeps";
}

QRectF EyepieceView::circle() const {
  const double s = theme::scale(), foot = 104 * s, head = 26 * s;
  const double d = std::max(60.0, std::min(width() - 16.0, height() - foot - head));
  return {(width() - d) / 2, head, d, d};
}

double EyepieceView::px(double v) const {
  const QRectF c = circle();
  return c.left() + c.width() * v / field_;
}

double EyepieceView::divisions(double x) const {
  const QRectF c = circle();
  return (x - c.left()) / c.width() * field_;
}

void EyepieceView::mousePressEvent(QMouseEvent* event) {
  if (empty()) return;
  for (int which : {0, 1})
    if (std::abs(px(lines_[size_t(which)]) - event->position().x()) < 8) {
      drag_ = which;
      if (!counted_) hand_ = which;
    }
  if (counted_ && drag_ >= 0) hand_ = drag_;
  update();
}

void EyepieceView::mouseMoveEvent(QMouseEvent* event) {
  if (drag_ >= 0 && event->buttons() & Qt::LeftButton)
    move_line(drag_, divisions(event->position().x()));
  else
    drag_ = -1;
}

void EyepieceView::wheelEvent(QWheelEvent* event) {
  if (empty()) return;
  const double step = event->modifiers() & Qt::ShiftModifier ? 10 : 0.5;
  move_line(hand_, lines_[size_t(hand_)] + (event->angleDelta().y() > 0 ? step : -step));
}

void EyepieceView::dragEnterEvent(QDragEnterEvent* event) {
  if (event->mimeData()->hasUrls()) event->acceptProposedAction();
}

void EyepieceView::dropEvent(QDropEvent* event) {
  for (const QUrl& url : event->mimeData()->urls())
    if (url.isLocalFile()) return take_photograph(url.toLocalFile());
}

}  // namespace fortitor
