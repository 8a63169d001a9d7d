#include "app/plan/lanes_view.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "core/quantity/date.h"

namespace fortitor {
namespace {

using day::Resource;
using parts::qs;
using theme::Ink;

constexpr double kHourLine = 26, kLane = 26, kBar = 20;

}  // namespace

LanesView::LanesView(QWidget* parent) : QWidget(parent) {
  setFocusPolicy(Qt::StrongFocus);
  setMouseTracking(true);
  setAccessibleName(
      spoken("Lanes of the day: arrows choose a bar, Shift and arrows move it, P pins it, Enter opens it"));
}

void LanesView::show_day(const AgendaPtr& a, const agenda::Hours& hours, const std::string& day,
                         const std::string& now) {
  if (selected_ && agenda_ && a && a != agenda_) {  // the same piece and step, by their number in the new plan
    const agenda::Agenda::Entry& was = agenda_->entries[*selected_];
    const auto same = std::find_if(a->entries.begin(), a->entries.end(),
                                   [&](const auto& e) { return e.specimen == was.specimen && e.step == was.step; });
    if (same == a->entries.end())
      selected_.reset();
    else
      selected_ = size_t(same - a->entries.begin());
  }
  agenda_ = a;
  hours_ = hours;
  day_ = day;
  now_ = now;
  dragged_.reset();
  build();
  updateGeometry();
  update();
}

void LanesView::set_now(const std::string& now) {
  if (now == now_) return;
  now_ = now;
  update();
}

void LanesView::build() {
  lanes_.clear();
  shown_.clear();
  hovered_.reset();
  jobs_.clear();
  if (agenda_ == nullptr) return;
  midnight_ = days_between(agenda_->from, day_) * day::kDay;
  from_ = 24 * 60;
  to_ = 0;
  for (const agenda::Person& p : hours_.people)
    from_ = std::min(from_, p.from / 60 * 60), to_ = std::max(to_, (p.to + 59) / 60 * 60);
  if (to_ <= from_) from_ = 8 * 60, to_ = 17 * 60;
  const auto& problem = agenda_->problem;
  for (const auto& e : agenda_->entries)
    if (std::find(jobs_.begin(), jobs_.end(), e.job) == jobs_.end()) jobs_.push_back(e.job);
  const int first = midnight_ + from_, last = midnight_ + to_;
  double top = kHourLine;
  for (const Resource::Kind kind : {Resource::Kind::machine, Resource::Kind::person, Resource::Kind::place}) {
    if (small_ && kind == Resource::Kind::person) continue;
    for (size_t r = 0; r < problem.resources.size(); ++r) {
      if (problem.resources[r].kind != kind) continue;
      // The small day shows the machines themselves, not what is mounted on them.
      if (small_ && kind == Resource::Kind::machine &&
          std::none_of(agenda_->layout.bars.begin(), agenda_->layout.bars.end(),
                       [&](const day::Bar& b) { return !b.resources.empty() && b.resources.front() == r; }))
        continue;
      Lane lane{r, int(top), 0};
      std::vector<int> row_ends;
      for (size_t b = 0; b < agenda_->layout.bars.size(); ++b) {
        const day::Bar& bar = agenda_->layout.bars[b];
        const bool here = kind == Resource::Kind::person
                              ? bar.person == r
                              : std::find(bar.resources.begin(), bar.resources.end(), r) != bar.resources.end();
        const int end = kind == Resource::Kind::person ? bar.start + problem.tasks[bar.task].attended : bar.end;
        if (!here || end <= first || bar.start >= last) continue;
        size_t row = 0;
        while (row < row_ends.size() && row_ends[row] > bar.start) ++row;
        if (row == row_ends.size()) row_ends.push_back(0);
        row_ends[row] = end;
        shown_.push_back({b, lanes_.size(), int(row), bar.start, end});
      }
      if (row_ends.empty() && kind != Resource::Kind::person) continue;  // nothing there today
      lane.rows = std::max<int>(1, int(row_ends.size()));
      top += lane.rows * kLane + 4;
      lanes_.push_back(lane);
    }
  }
  if (selected_ && *selected_ >= problem.tasks.size()) selected_.reset();
}

QSize LanesView::sizeHint() const {
  double rows = 2;
  for (const Lane& l : lanes_) rows += l.rows;
  return {600, theme::px(kHourLine + rows * kLane + double(lanes_.size()) * 4)};
}

double LanesView::names_width() const {
  return std::min<double>(theme::px(150), 0.3 * width());
}

double LanesView::x_of(double minute) const {
  const double left = names_width(), right = width() - theme::px(16);
  return left + (right - left) * (minute - midnight_ - from_) / double(to_ - from_);
}

int LanesView::minute_at(double x) const {
  const double left = names_width(), right = width() - theme::px(16);
  return midnight_ + from_ + int(std::lround((x - left) / (right - left) * (to_ - from_)));
}

QRectF LanesView::rect_of(const Shown& b) const {
  const double shift = dragged_ && agenda_->layout.bars[b.bar].task == *dragged_ ? shift_ : 0;
  const double a = std::clamp(x_of(b.from) + shift, names_width(), width() - 4.0),
               e = std::clamp(x_of(b.to) + shift, names_width(), width() - 4.0);
  return {a, double(theme::px(lanes_[b.lane].top + b.row * kLane + (kLane - kBar) / 2)), std::max(2.0, e - a - 1),
          double(theme::px(kBar))};
}

QRectF LanesView::bar_of(size_t task) const {
  for (const Shown& b : shown_)
    if (agenda_->layout.bars[b.bar].task == task) return rect_of(b);
  return {};
}

// Where the next bar of its row begins, px.
double LanesView::next_on_lane(const Shown& b) const {
  double next = width();
  for (const Shown& o : shown_)
    if (o.lane == b.lane && o.row == b.row && o.from > b.from) next = std::min(next, x_of(o.from));
  return next;
}

const LanesView::Shown* LanesView::at(QPointF where) const {
  for (const Shown& b : shown_)
    if (rect_of(b).adjusted(-1, -2, 1, 2).contains(where)) return &b;
  return nullptr;
}

std::vector<PaintedPart> LanesView::painted_parts() {
  std::vector<PaintedPart> out;
  if (agenda_ == nullptr) return out;
  for (const Shown& b : shown_) {
    const day::Bar& bar = agenda_->layout.bars[b.bar];
    const agenda::Agenda::Entry& e = agenda_->entries[bar.task];
    const QString lane = spoken(qs(agenda_->problem.resources[lanes_[b.lane].resource].name));
    const auto clock = [&](int minute) { return qs(agenda_->when(minute)).mid(11); };
    out.push_back({qs(e.code) + ", " + spoken(qs(agenda::step_words(*agenda_, bar.task))),
                   lane + ", " + clock(b.from) + "–" + clock(b.to), rect_of(b).toRect(), QAccessible::ListItem,
                   selected_ == bar.task, [this, task = bar.task] { select(task); }});
  }
  return out;
}

void LanesView::select(std::optional<size_t> task) {
  selected_ = task;
  update();
  emit picked();
}

void LanesView::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  if (agenda_ == nullptr) return;
  const double bottom =
      lanes_.empty() ? theme::px(kHourLine + kLane) : theme::px(lanes_.back().top + lanes_.back().rows * kLane + 6);
  // Hours; where nobody is there the paper is darker.
  for (int h = from_; h <= to_; h += 60) {
    const double x = x_of(midnight_ + h);
    p.setPen(QPen(theme::color(Ink::grid), 1));
    p.drawLine(QPointF(x, theme::px(kHourLine - 6)), QPointF(x, bottom));
    p.setPen(theme::color(Ink::quiet));
    p.setFont(theme::numbers(11));
    p.drawText(QRectF(x - theme::px(20), 0, theme::px(40), theme::px(kHourLine - 8)), Qt::AlignCenter,
               QString::number(h / 60));
  }
  for (const day::Span& b : hours_.breaks) {
    QColor shade = theme::color(Ink::docket);
    shade.setAlphaF(0.6f);
    p.fillRect(
        QRectF(QPointF(x_of(midnight_ + b.from), theme::px(kHourLine - 2)), QPointF(x_of(midnight_ + b.to), bottom)),
        shade);
  }
  for (const Lane& l : lanes_) {
    const Resource& r = agenda_->problem.resources[l.resource];
    p.setPen(theme::color(r.kind == Resource::Kind::person  ? Ink::ink
                          : r.kind == Resource::Kind::place ? Ink::quiet
                                                            : Ink::ink));
    p.setFont(theme::words(13, r.kind == Resource::Kind::person ? QFont::DemiBold : QFont::Normal));
    p.drawText(QRectF(theme::px(12), theme::px(l.top), names_width() - theme::px(18), theme::px(kLane)),
               Qt::AlignVCenter,
               p.fontMetrics().elidedText(spoken(qs(r.name)), Qt::ElideRight, int(names_width()) - theme::px(18)));
  }
  p.save();
  p.setClipRect(QRectF(names_width(), 0, width() - names_width(), height()));
  for (const Shown& b : shown_) {
    const day::Bar& bar = agenda_->layout.bars[b.bar];
    const agenda::Agenda::Entry& e = agenda_->entries[bar.task];
    const size_t job = size_t(std::find(jobs_.begin(), jobs_.end(), e.job) - jobs_.begin());
    const bool wait = e.step == "wait", here = selected_ == bar.task;
    QColor fill = theme::temper(int(job % 7));
    if (wait) fill.setAlphaF(0.4f);
    const QRectF r = rect_of(b);
    p.setPen(here           ? QPen(theme::color(Ink::ink), 2)
             : bar.late > 0 ? QPen(theme::color(Ink::fails), 2)
                            : QPen(Qt::NoPen));
    p.setBrush(fill);
    p.drawRoundedRect(r, 3, 3);
    if (agenda_->problem.tasks[bar.task].pinned == bar.start) {
      p.setPen(Qt::NoPen);
      p.setBrush(theme::color(Ink::ink));
      p.drawEllipse(QPointF(r.left() + theme::px(4), r.top() + theme::px(4)), theme::px(2.5), theme::px(2.5));
    }
    p.setFont(theme::words(11, QFont::DemiBold));
    const QString words = wait ? qs(agenda_->problem.tasks[bar.task].title) : qs(e.code);
    const double wide = p.fontMetrics().horizontalAdvance(spoken(words)) + theme::px(10);
    if (wide > r.width()) {
      // Beside the bar, where the lane has room.
      const double next = next_on_lane(b);
      if (r.right() + wide < next) {
        p.setPen(theme::color(Ink::ink));
        p.drawText(QRectF(r.right() + theme::px(4), r.top(), wide, r.height()), Qt::AlignVCenter, spoken(words));
      }
      continue;
    }
    const bool light = fill.lightnessF() > 0.55 || wait;
    p.setPen(wait ? theme::color(Ink::ink) : light ? QColor("#22303C") : QColor("#FBFAF6"));
    p.drawText(r.adjusted(theme::px(6), 0, 0, 0), Qt::AlignVCenter, spoken(words));
  }
  if (now_.size() >= 16 && now_.substr(0, 10) == day_) {
    const double x = x_of(midnight_ + agenda::parse_clock(now_.substr(11, 5)).value_or(0));
    p.setPen(QPen(theme::color(Ink::fails), 2));
    p.drawLine(QPointF(x, theme::px(kHourLine - 6)), QPointF(x, bottom));
  }
  paint_name(p);
  p.restore();
  if (shown_.empty()) {
    p.setPen(theme::color(Ink::quiet));
    p.setFont(theme::words(13));
    p.drawText(QRectF(names_width(), theme::px(kHourLine), width() - names_width(), theme::px(kLane * 1.5)),
               Qt::AlignCenter, spoken("Nothing is planned for this day."));
  }
  if (hasFocus() && !small_) {
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(theme::color(Ink::action), 1));
    p.drawRoundedRect(QRectF(rect()).adjusted(1, 1, -1, -1), 4, 4);
  }
}

// The bar under the pointer, or the one chosen by keys, says what it is at once, however narrow it is.
void LanesView::paint_name(QPainter& p) const {
  const Shown* named = nullptr;
  for (const Shown& b : shown_) {
    if (hovered_ == &b - shown_.data()) named = &b;
    if (!hovered_ && selected_ == agenda_->layout.bars[b.bar].task && named == nullptr) named = &b;
  }
  if (named == nullptr || dragged_) return;
  const day::Bar& bar = agenda_->layout.bars[named->bar];
  const QString words = qs(agenda_->problem.tasks[bar.task].title) + "  " + qs(agenda_->when(bar.start).substr(11)) +
                        "–" + qs(agenda_->when(bar.end).substr(11));
  p.setFont(theme::words(11, QFont::DemiBold));
  const double wide = p.fontMetrics().horizontalAdvance(spoken(words)) + theme::px(14);
  const QRectF r = rect_of(*named);
  const double left = std::max(names_width(), std::min(r.left(), width() - wide - theme::px(4)));
  const bool below = r.bottom() + theme::px(24) < height();
  const QRectF chip(left, below ? r.bottom() + theme::px(3) : r.top() - theme::px(23), wide, theme::px(20));
  p.setPen(Qt::NoPen);
  p.setBrush(theme::color(Ink::ink));
  p.drawRoundedRect(chip, 3, 3);
  p.setPen(theme::color(Ink::sheet));
  p.drawText(chip, Qt::AlignCenter, spoken(words));
}

void LanesView::leaveEvent(QEvent*) {
  hovered_.reset();
  update();
}

void LanesView::mousePressEvent(QMouseEvent* event) {
  const Shown* b = at(event->position());
  select(b ? std::optional(agenda_->layout.bars[b->bar].task) : std::nullopt);
  if (b == nullptr || small_ || event->button() != Qt::LeftButton || agenda_->entries[*selected_].step == "wait")
    return;
  dragged_ = selected_;
  grab_ = event->position().x();
  shift_ = 0;
}

void LanesView::mouseMoveEvent(QMouseEvent* event) {
  const Shown* under = at(event->position());
  const auto now = under != nullptr ? std::optional(under - shown_.data()) : std::nullopt;
  if (now != hovered_) {
    hovered_ = now;
    setCursor(under != nullptr ? Qt::PointingHandCursor : Qt::ArrowCursor);
    update();
  }
  if (!dragged_) return;
  shift_ = event->position().x() - grab_;
  update();
}

void LanesView::mouseReleaseEvent(QMouseEvent*) {
  if (!dragged_) return;
  const size_t task = *dragged_;
  const double shift = shift_;
  dragged_.reset();
  shift_ = 0;
  update();
  const day::Bar* bar = agenda_->layout.of(task);
  if (bar == nullptr || std::abs(shift) < 4) return;
  const int minutes = minute_at(x_of(bar->start) + shift);
  emit moved(task, std::max(0, (minutes + 2) / 5 * 5));
}

void LanesView::mouseDoubleClickEvent(QMouseEvent* event) {
  dragged_.reset();
  if (const Shown* b = at(event->position())) emit opened(agenda_->layout.bars[b->bar].task);
}

void LanesView::keyPressEvent(QKeyEvent* event) {
  const bool left = event->key() == Qt::Key_Left, right = event->key() == Qt::Key_Right;
  if (agenda_ == nullptr || shown_.empty()) return QWidget::keyPressEvent(event);
  if ((left || right) && (event->modifiers() & Qt::ShiftModifier) != 0) {
    if (!selected_ || small_) return;
    if (const day::Bar* bar = agenda_->layout.of(*selected_))
      emit moved(*selected_, std::max(0, bar->start / 5 * 5 + (left ? -5 : 5)));
    return;
  }
  if (left || right) {
    // In the order of time, each task once.
    std::vector<std::pair<int, size_t>> order;
    for (const Shown& b : shown_) order.push_back({b.from, agenda_->layout.bars[b.bar].task});
    std::sort(order.begin(), order.end());
    order.erase(std::unique(order.begin(), order.end()), order.end());
    size_t at = left ? 0 : order.size() - 1;
    bool found = false;
    for (size_t i = 0; i < order.size(); ++i)
      if (selected_ == order[i].second) at = i, found = true;
    if (found)
      at = left ? (at == 0 ? 0 : at - 1) : std::min(at + 1, order.size() - 1);
    else
      at = 0;
    return select(order[at].second);
  }
  if (selected_ && (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter)) {
    emit opened(*selected_);
    return;
  }
  if (selected_ && event->key() == Qt::Key_P && !small_) {
    emit pin_wanted(*selected_);
    return;
  }
  QWidget::keyPressEvent(event);
}

}  // namespace fortitor
