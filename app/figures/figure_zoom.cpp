// Looking closer at a figure: wheel, drag, box and double click; values under the pointer.
#include <QMouseEvent>
#include <QPainter>
#include <QWheelEvent>
#include <cmath>

#include "app/figures/figure_view.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"

namespace fortitor {

namespace {

constexpr double kClosest = 1e-4;  // of the whole: what is magnified further shows no data any more

bool counts_along(const Axis& a) {
  return a.scale != Axis::Scale::category;
}

}  // namespace

int FigureView::panel_at(const QPointF& px) const {
  const Figure f = shown();
  for (size_t i = 0; i < laid().frames.size() && i < f.panels.size(); ++i)
    if (laid().frames[i].holds(px.x(), px.y()) && counts_along(f.panels[i].x) && counts_along(f.panels[i].y))
      return int(i);
  return -1;
}

void FigureView::show_all() {
  zoom_.clear();
  lay_out();
}

// As far as the first landmark and half as far again: the elastic part with its yield, of a curve that goes much
// farther.
void FigureView::show_beginning() {
  if (zoomed()) show_all();
  const Figure f = shown();
  for (size_t i = 0; i < f.panels.size() && i < laid().frames.size(); ++i) {
    const Panel& p = f.panels[i];
    const figure::Frame whole = laid().frames[i];
    double first = HUGE_VAL;
    for (const Mark& m : p.marks)
      if (m.kind == Mark::Kind::point)
        for (const Point& at : m.points)
          if (at.x > whole.x0 && at.x < first) first = at.x;
    const double until = whole.x0 + 1.5 * (first - whole.x0);
    if (whole.log_x || whole.log_y || !counts_along(p.x) || !counts_along(p.y) || !(until < whole.x1)) continue;
    double low = HUGE_VAL, high = -HUGE_VAL;
    for (const Trace& t : p.traces)
      for (size_t k = 0; k < std::min(t.x.size(), t.y.size()); ++k)
        if (t.x[k] >= whole.x0 && t.x[k] <= until) low = std::min(low, t.y[k]), high = std::max(high, t.y[k]);
    if (!(high > low)) continue;
    const double room = 0.08 * (high - low);
    figure::Frame part = whole;
    part.x1 = until;
    part.y0 = std::max(whole.y0, low - room);
    part.y1 = std::min(whole.y1, high + room);
    zoom_[i] = part;
  }
  lay_out();
}

void FigureView::magnify(size_t panel, const QRectF& px) {
  const figure::Frame now = laid().frames.at(panel);
  const std::vector<figure::Frame>& all = zoomed() ? whole_ : laid().frames;
  if (panel >= all.size()) return;
  const figure::Frame& whole = all[panel];
  figure::Frame part = now;
  part.x0 = now.data_x(px.left()), part.x1 = now.data_x(px.right());
  part.y0 = now.data_y(px.bottom()), part.y1 = now.data_y(px.top());
  // Never beyond what there is; a part that is the whole is none.
  part.x0 = std::max(part.x0, whole.x0), part.x1 = std::min(part.x1, whole.x1);
  part.y0 = std::max(part.y0, whole.y0), part.y1 = std::min(part.y1, whole.y1);
  // On a scale of powers a share of the plot is one of its logarithm: measured in px.
  const double wide = std::abs(whole.px(part.x1) - whole.px(part.x0)),
               high = std::abs(whole.py(part.y1) - whole.py(part.y0));
  if (!(wide > kClosest * whole.width) || !(high > kClosest * whole.height)) return;
  const double slack = 0.5;
  if (wide > whole.width - slack && high > whole.height - slack)
    zoom_.erase(panel);
  else
    zoom_[panel] = part;
  lay_out();
}

void FigureView::magnify_about(const QPointF& at, double factor) {
  const int panel = panel_at(at);
  if (panel < 0) return;
  const figure::Frame& f = laid().frames[size_t(panel)];
  const double share = 1 / factor;
  magnify(size_t(panel), QRectF(at.x() - (at.x() - f.left) * share, at.y() - (at.y() - f.top) * share, f.width * share,
                                f.height * share));
}

void FigureView::wheelEvent(QWheelEvent* event) {
  if (panel_at(event->position()) < 0) return event->ignore();
  magnify_about(event->position(), std::pow(1.2, event->angleDelta().y() / 120.0));
  event->accept();
}

void FigureView::mouseDoubleClickEvent(QMouseEvent* event) {
  if (zoomed() && panel_at(event->position()) >= 0) return show_all();
  QWidget::mouseDoubleClickEvent(event);
}

void FigureView::leaveEvent(QEvent* event) {
  pointer_.reset();
  update();
  QWidget::leaveEvent(event);
}

void FigureView::begin_sweep(QMouseEvent* event) {
  if (panel_at(event->position()) < 0) return;
  boxing_ = event->modifiers() & Qt::ShiftModifier;
  if (boxing_ || zoomed()) sweep_ = event->position();
}

void FigureView::go_on_sweeping(const QPointF& to) {
  pointer_ = to;
  const int panel = panel_at(*sweep_);
  if (!boxing_ && panel >= 0 && zoom_.count(size_t(panel)) != 0) {
    const figure::Frame f = laid().frames[size_t(panel)];
    const std::vector<figure::Frame> all = whole_;
    QPointF by = *sweep_ - to;
    // As far as there is something.
    const figure::Frame& whole = all[size_t(panel)];
    by.setX(std::clamp(by.x(), f.px(whole.x0) - f.left, f.px(whole.x1) - f.left - f.width));
    by.setY(std::clamp(by.y(), f.py(whole.y1) - f.top, f.py(whole.y0) - f.top - f.height));
    magnify(size_t(panel), QRectF(f.left + by.x(), f.top + by.y(), f.width, f.height));
    sweep_ = to;
  }
  update();
}

void FigureView::paint_reading(QPainter& p) const {
  if (boxing_ && sweep_ && pointer_) {
    QColor tint = theme::color(theme::Ink::action);
    p.setPen(QPen(tint, 1.2, Qt::DashLine));
    tint.setAlpha(24);
    p.setBrush(tint);
    p.drawRect(QRectF(*sweep_, *pointer_).normalized());
  }
  const int panel = pointer_ && !figure_.linked ? panel_at(*pointer_) : -1;
  if (panel < 0) return;
  const Panel part = shown().panels[size_t(panel)];
  const figure::Frame& f = laid().frames[size_t(panel)];
  auto words = [&](const Axis& a, double v) {
    const QString text = parts::qs(format_value(v, a.dimension, set_, 4));
    return a.dimension == Dimension::none ? parts::qs(a.name) + " " + text : text;
  };
  const QString text = words(part.x, f.data_x(pointer_->x())) + "   " + words(part.y, f.data_y(pointer_->y()));
  p.setFont(theme::numbers(11));
  const QFontMetricsF m = p.fontMetrics();
  const QRectF box(f.left + f.width - m.horizontalAdvance(spoken(text)) - 10, f.top + f.height - m.height() - 8,
                   m.horizontalAdvance(spoken(text)) + 8, m.height() + 4);
  QColor paper = theme::color(theme::Ink::sheet);
  paper.setAlpha(225);
  p.setPen(Qt::NoPen);
  p.setBrush(paper);
  p.drawRect(box);
  p.setPen(theme::color(theme::Ink::quiet));
  p.drawText(box, Qt::AlignCenter, spoken(text));
}

}  // namespace fortitor
