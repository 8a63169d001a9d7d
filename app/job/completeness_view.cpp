#include "app/job/completeness_view.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>

#include "app/theme/parts.h"
#include "app/theme/theme.h"

namespace fortitor {
namespace {

using parts::qs;
using theme::Ink;

constexpr int kTop = 26, kLine = 34, kSet = 150;  // px of the design
constexpr double kWidest = 64, kNarrowest = 20;

QColor tint(lab::CellState s) {
  switch (s) {
    case lab::CellState::meets: return theme::color(Ink::meets);
    case lab::CellState::near:
    case lab::CellState::open: return theme::color(Ink::near);
    case lab::CellState::fails: return theme::color(Ink::fails);
    default: return theme::color(Ink::quiet);
  }
}

// Shape tells, colour helps: a dash is not wanted, a dot waits, a ring is tested, the others are the glyphs of
// verdicts.
void draw_state(QPainter& p, const QRectF& box, lab::CellState s) {
  const QPointF c = box.center();
  const double r = std::min(box.width(), box.height()) / 2;
  switch (s) {
    case lab::CellState::not_wanted:
      p.setPen(QPen(theme::color(Ink::quiet), 1.2));
      p.drawLine(QPointF(c.x() - r * 0.4, c.y()), QPointF(c.x() + r * 0.4, c.y()));
      return;
    case lab::CellState::waiting:
      p.setPen(Qt::NoPen);
      p.setBrush(theme::color(Ink::hairline));
      p.drawEllipse(c, r * 0.35, r * 0.35);
      return;
    case lab::CellState::tested:
      p.setPen(QPen(theme::color(Ink::quiet), 1.6));
      p.setBrush(Qt::NoBrush);
      p.drawEllipse(c, r * 0.6, r * 0.6);
      return;
    case lab::CellState::near: return theme::draw_glyph(p, box, Verdict::meets, true);
    case lab::CellState::meets: return theme::draw_glyph(p, box, Verdict::meets);
    case lab::CellState::fails: return theme::draw_glyph(p, box, Verdict::fails);
    case lab::CellState::open: return theme::draw_glyph(p, box, Verdict::open);
    case lab::CellState::void_test: return theme::draw_glyph(p, box, Verdict::void_test);
  }
}

// The set as one, and what is still to make.
QString set_words(const lab::Completeness::Line& line) {
  QString said = qs(line.words);
  if (line.still_to_make() > 0) said += ", " + QString::number(line.still_to_make()) + " to make";
  return said;
}

}  // namespace

CompletenessView::CompletenessView(QWidget* parent) : QWidget(parent) {
  setFocusPolicy(Qt::StrongFocus);
  setMouseTracking(true);
}

void CompletenessView::show_series(const SeriesCompleteness& series) {
  shown_ = series;
  held_ = -1;
  setMinimumHeight(theme::px(kTop + kLine * int(shown_.table.lines.size())) + 4);
  QString words = "Completeness of " + qs(series.series.title) + ".";
  for (const auto& line : series.table.lines) words += " " + qs(line.row.words()) + ": " + qs(line.words) + ".";
  setAccessibleName(spoken(words));
  update();
}

std::vector<PaintedPart> CompletenessView::painted_parts() {
  std::vector<PaintedPart> out;
  for (size_t n = 0; n < shown_.table.lines.size(); ++n) {
    const auto& line = shown_.table.lines[n];
    const int top = theme::px(kTop) + theme::px(kLine) * int(n);
    out.push_back({spoken(qs(line.row.words())), spoken(set_words(line)),
                   QRect(0, top, words_width(), theme::px(kLine)), QAccessible::Heading});
    for (size_t i = 0; i < line.cells.size(); ++i) {
      const QString value = line.shown[i].empty() ? QString() : spoken(qs(line.shown[i])) + ", ";
      out.push_back({qs(shown_.codes[i]) + ", " + spoken(qs(line.name)),
                     value + spoken(qs(lab::cell_word(line.cells[i]))), cell(n, i), QAccessible::ListItem,
                     held_ == int(n * shown_.codes.size() + i), [this, id = shown_.ids[i]] { emit piece_wanted(id); }});
    }
  }
  return out;
}

int CompletenessView::words_width() const {
  return std::min(theme::px(250), width() / 3);
}

double CompletenessView::cell_width() const {
  const double room = width() - words_width() - theme::px(kSet);
  return std::min(theme::scaled(kWidest), room / std::max<size_t>(1, shown_.codes.size()));
}

QRect CompletenessView::cell(size_t line, size_t piece) const {
  const double w = cell_width();
  return QRectF(words_width() + w * double(piece), theme::px(kTop) + theme::px(kLine) * double(line), w,
                theme::px(kLine))
      .toRect();
}

void CompletenessView::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const double w = cell_width();
  const bool named = w >= theme::scaled(kNarrowest);
  p.setFont(theme::words(11));
  p.setPen(theme::color(Ink::quiet));
  for (size_t i = 0; named && i < shown_.codes.size(); ++i) {
    const QRectF head(words_width() + w * double(i), 0, w, theme::px(kTop));
    p.drawText(head.adjusted(2, 0, -2, 0), Qt::AlignCenter,
               p.fontMetrics().elidedText(spoken(qs(shown_.codes[i])), Qt::ElideLeft, int(w) - 4));
  }
  for (size_t n = 0; n < shown_.table.lines.size(); ++n) {
    const auto& line = shown_.table.lines[n];
    const QRect row(0, theme::px(kTop) + theme::px(kLine) * int(n), width(), theme::px(kLine));
    p.setPen(theme::color(Ink::hairline));
    p.drawLine(row.topLeft(), row.topRight());
    p.setFont(theme::words(12, line.row.needed ? QFont::DemiBold : QFont::Normal));
    p.setPen(theme::color(Ink::ink));
    const QRect words = row.adjusted(0, 0, words_width() - width() - 8, 0);
    p.drawText(words, Qt::AlignVCenter,
               p.fontMetrics().elidedText(spoken(qs(line.row.words())), Qt::ElideRight, words.width()));
    const double side = std::min(theme::scaled(15), w - 4);
    for (size_t i = 0; i < line.cells.size(); ++i) {
      const QRect box = cell(n, i);
      draw_state(p, QRectF(box.center().x() - side / 2, box.center().y() - side / 2, side, side), line.cells[i]);
      if (hasFocus() && held_ == int(n * shown_.codes.size() + i)) {
        p.setPen(QPen(theme::color(Ink::action), 1.5));
        p.setBrush(Qt::NoBrush);
        p.drawRoundedRect(QRectF(box).adjusted(2, 3, -2, -3), 4, 4);
      }
    }
    p.setFont(theme::words(11, QFont::DemiBold));
    p.setPen(tint(line.set));
    const QRect set = row.adjusted(row.width() - theme::px(kSet) + 8, 0, 0, 0);
    p.drawText(set, Qt::AlignVCenter | Qt::TextWordWrap, spoken(set_words(line)));
  }
}

int CompletenessView::at(const QPoint& p) const {
  for (size_t n = 0; n < shown_.table.lines.size(); ++n)
    for (size_t i = 0; i < shown_.codes.size(); ++i)
      if (cell(n, i).contains(p) && shown_.table.lines[n].cells[i] != lab::CellState::not_wanted)
        return int(n * shown_.codes.size() + i);
  return -1;
}

void CompletenessView::mousePressEvent(QMouseEvent* event) {
  if (const int hit = at(event->pos()); hit >= 0) emit piece_wanted(shown_.ids[size_t(hit) % shown_.ids.size()]);
}

void CompletenessView::mouseMoveEvent(QMouseEvent* event) {
  const int hit = at(event->pos());
  setCursor(hit >= 0 ? Qt::PointingHandCursor : Qt::ArrowCursor);
  if (hit < 0) return setToolTip({});
  const size_t n = size_t(hit) / shown_.codes.size(), i = size_t(hit) % shown_.codes.size();
  const auto& line = shown_.table.lines[n];
  setToolTip(spoken(theme::plain_tip(qs(shown_.codes[i]) + ": " + qs(line.name) + " " +
                                     (line.shown[i].empty() ? QString() : qs(line.shown[i]) + ", ") +
                                     qs(lab::cell_word(line.cells[i])))));
}

void CompletenessView::keyPressEvent(QKeyEvent* event) {
  const int columns = int(shown_.codes.size()), all = columns * int(shown_.table.lines.size());
  if (all == 0) return QWidget::keyPressEvent(event);
  const int step = event->key() == Qt::Key_Right  ? 1
                   : event->key() == Qt::Key_Left ? -1
                   : event->key() == Qt::Key_Down ? columns
                   : event->key() == Qt::Key_Up   ? -columns
                                                  : 0;
  if (step != 0) {
    held_ = std::clamp(std::max(held_, 0) + (held_ < 0 ? 0 : step), 0, all - 1);
    return update();
  }
  if ((event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) && held_ >= 0)
    return emit piece_wanted(shown_.ids[size_t(held_ % columns)]);
  QWidget::keyPressEvent(event);
}

void CompletenessView::focusInEvent(QFocusEvent* event) {
  if (held_ < 0 && !shown_.codes.empty()) held_ = 0;
  QWidget::focusInEvent(event);
  update();
}

void CompletenessView::focusOutEvent(QFocusEvent* event) {
  QWidget::focusOutEvent(event);
  update();
}

}  // namespace fortitor
