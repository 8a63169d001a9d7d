#include "app/spectrum/week_view.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QWheelEvent>
#include <algorithm>
#include <cmath>

#include "app/theme/spoken.h"
#include "app/theme/theme.h"
#include "core/quantity/plain.h"

namespace fortitor {

using theme::Ink;

WeekView::WeekView(QWidget* parent) : QWidget(parent) {
  setFocusPolicy(Qt::StrongFocus);
  setAccessibleName(spoken("The week; arrows slide the window, plus and minus zoom"));
  setMinimumHeight(theme::px(96));
  setProperty("key", "week");
}

void WeekView::show_week(std::shared_ptr<const overview::Kept> week, const QString& caption) {
  const double before = seconds();
  week_ = std::move(week);
  caption_ = caption;
  if (week_) {
    std::vector<float> low, high;
    for (size_t i = 0; i < week_->overview.least.size(); ++i)
      if (week_->overview.least[i] <= week_->overview.largest[i])
        low.push_back(week_->overview.least[i]), high.push_back(week_->overview.largest[i]);
    if (!low.empty()) {
      const size_t out = low.size() / 2000;
      std::nth_element(low.begin(), low.begin() + std::ptrdiff_t(out), low.end());
      std::nth_element(high.begin(), high.end() - 1 - std::ptrdiff_t(out), high.end());
      low_ = low[out];
      high_ = high[high.size() - 1 - out];
      const float room = 0.25f * (high_ - low_) + 1e-6f;
      low_ -= room;
      high_ += room;
    }
  }
  if (seconds() != before) {
    shown_from_ = 0;
    shown_length_ = std::max(1.0, seconds());
    from_ = std::clamp(from_, 0.0, std::max(0.0, seconds() - length_));
  }
  update();
}

void WeekView::set_window(double from, double length) {
  const double all = std::max(seconds(), 1.0);
  length_ = std::clamp(length, 1.0, std::min(all, 1800.0));
  from_ = std::clamp(from, 0.0, std::max(0.0, all - length_));
  // The week follows the window out of sight.
  if (from_ < shown_from_) shown_from_ = from_;
  if (from_ + length_ > shown_from_ + shown_length_) shown_from_ = std::max(0.0, from_ + length_ - shown_length_);
  update();
  emit window_moved();
}

QRectF WeekView::plot() const {
  return QRectF(rect()).adjusted(theme::px(52), theme::px(26), -14, -theme::px(22));
}

double WeekView::time_at(double x) const {
  return shown_from_ + (x - plot().left()) / std::max(1.0, plot().width()) * shown_length_;
}

void WeekView::zoom(double factor, double around) {
  const double all = std::max(1.0, seconds()), length = std::clamp(shown_length_ * factor, std::min(all, 60.0), all);
  shown_from_ = std::clamp(around - (around - shown_from_) * length / shown_length_, 0.0, all - length);
  shown_length_ = length;
  update();
}

void WeekView::mousePressEvent(QMouseEvent* event) {
  setFocus();
  const double t = time_at(event->position().x());
  grip_ = t >= from_ && t <= from_ + length_ ? t - from_ : length_ / 2;
  set_window(t - grip_, length_);
}

void WeekView::mouseMoveEvent(QMouseEvent* event) {
  if (event->buttons() & Qt::LeftButton) set_window(time_at(event->position().x()) - grip_, length_);
}

void WeekView::wheelEvent(QWheelEvent* event) {
  zoom(event->angleDelta().y() > 0 ? 0.8 : 1.25, time_at(event->position().x()));
  event->accept();
}

void WeekView::keyPressEvent(QKeyEvent* event) {
  const double step = event->modifiers() & Qt::ShiftModifier ? length_ : length_ / 4, middle = from_ + length_ / 2;
  switch (event->key()) {
    case Qt::Key_Left: return set_window(from_ - step, length_);
    case Qt::Key_Right: return set_window(from_ + step, length_);
    case Qt::Key_Home: return set_window(0, length_);
    case Qt::Key_End: return set_window(seconds(), length_);
    case Qt::Key_Up: return set_window(middle - length_ / 4, length_ / 2);
    case Qt::Key_Down: return set_window(middle - length_, length_ * 2);
    case Qt::Key_Plus:
    case Qt::Key_Equal: return zoom(0.5, middle);
    case Qt::Key_Minus: return zoom(2, middle);
    default: QWidget::keyPressEvent(event);
  }
}

void WeekView::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.setFont(theme::words(11));
  p.setPen(theme::color(Ink::quiet));
  p.drawText(QRectF(rect()).adjusted(14, 6, -14, 0), Qt::AlignLeft | Qt::AlignTop, spoken(caption_));
  const QRectF a = plot();
  if (!week_ || week_->overview.least.empty()) return;
  const fatigue::Overview& o = week_->overview;
  const double per = double(o.per) / week_->rate;  // s an entry stands for
  const float low = low_, high = high_;
  const double span = std::max(1e-6, double(high) - double(low));
  auto y = [&](double v) { return a.bottom() - (v - double(low)) / span * a.height(); };
  // Days, or hours when one looks closer.
  const double unit = shown_length_ > 3 * 86400  ? 86400
                      : shown_length_ > 8 * 3600 ? 6 * 3600
                      : shown_length_ > 3600     ? 1800
                                                 : 600;
  for (double t = std::ceil(shown_from_ / unit) * unit; t <= shown_from_ + shown_length_ + 1; t += unit) {
    const double x = a.left() + (t - shown_from_) / shown_length_ * a.width();
    p.setPen(QPen(theme::color(Ink::grid), 1));
    p.drawLine(QPointF(x, a.top()), QPointF(x, a.bottom()));
    p.setPen(theme::color(Ink::quiet));
    const QString words = unit == 86400 ? "day " + QString::number(int(t / 86400) + 1)
                                        : QString("day %1 %2:%3")
                                              .arg(int(t / 86400) + 1)
                                              .arg(int(std::fmod(t, 86400) / 3600), 2, 10, QChar('0'))
                                              .arg(int(std::fmod(t, 3600) / 60), 2, 10, QChar('0'));
    if (x + 60 < a.right() + 30)
      p.drawText(QRectF(x + 4, a.bottom() + 3, theme::px(90), theme::px(17)), Qt::AlignLeft, spoken(words));
  }
  p.setFont(theme::numbers(10));
  for (double v : {double(low), double(high)})
    p.drawText(QRectF(0, y(v) - 8, a.left() - 6, 16), Qt::AlignRight | Qt::AlignVCenter, QString::number(v, 'f', 0));
  // One column a pixel: least and largest of what lies under it.
  p.setRenderHint(QPainter::Antialiasing, false);
  p.setPen(QPen(theme::temper(5), 1));
  const int columns = std::max(1, int(a.width()));
  for (int c = 0; c < columns; ++c) {
    const size_t from = size_t((shown_from_ + shown_length_ * c / columns) / per),
                 to = std::max(from + 1, size_t((shown_from_ + shown_length_ * (c + 1) / columns) / per));
    float least = HUGE_VALF, largest = -HUGE_VALF;
    for (size_t i = from; i < std::min(to, o.least.size()); ++i)
      if (o.least[i] <= o.largest[i]) least = std::min(least, o.least[i]), largest = std::max(largest, o.largest[i]);
    if (largest < least) continue;
    p.drawLine(QPointF(a.left() + c, y(double(std::clamp(least, low, high)))),
               QPointF(a.left() + c, y(double(std::clamp(largest, low, high))) - 1));
    for (const bool up : {true, false}) {
      if (up ? largest <= high : least >= low) continue;
      // It goes on beyond the paper: a tick in another colour says so.
      p.setPen(QPen(theme::temper(2), 2));
      const double edge = up ? a.top() : a.bottom();
      p.drawLine(QPointF(a.left() + c, edge), QPointF(a.left() + c, edge + (up ? 8 : -8)));
      p.setPen(QPen(theme::temper(5), 1));
    }
  }
  // The window.
  const double x = a.left() + (from_ - shown_from_) / shown_length_ * a.width(),
               w = std::max(3.0, length_ / shown_length_ * a.width());
  QColor warm = theme::temper(0);
  p.setPen(QPen(warm, 1.4));
  warm.setAlpha(90);
  p.setBrush(warm);
  p.drawRect(QRectF(x, a.top() - 3, w, a.height() + 6).intersected(a.adjusted(-2, -4, 2, 4)));
  if (hasFocus()) {
    p.setPen(QPen(theme::color(Ink::action), 1.4));
    p.setBrush(Qt::NoBrush);
    p.drawRoundedRect(QRectF(rect()).adjusted(2, 2, -2, -2), 4, 4);
  }
}

std::string WeekView::table() const {
  std::string out = "\"time, s\",least,largest\n";
  if (week_ == nullptr) return out;
  const auto& o = week_->overview;
  const double step = double(o.per) / week_->rate;
  for (size_t k = 0; k < std::min(o.least.size(), o.largest.size()); ++k) {
    const double at = double(k) * step;
    if (at < shown_from_ || at > shown_from_ + shown_length_) continue;
    out += plain::shortest(at) + "," + plain::general(o.least[k], 7) + "," + plain::general(o.largest[k], 7) + "\n";
  }
  return out;
}

}  // namespace fortitor
