#include "app/kit/kit_lives.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>

#include "app/theme/parts.h"
#include "app/theme/theme.h"

namespace fortitor {
namespace {

using parts::qs;
using theme::Ink;

// Months before and after today that are drawn.
constexpr int kBefore = 5, kAfter = 8;

}  // namespace

KitLives::KitLives(QWidget* parent) : QWidget(parent) {
  setFocusPolicy(Qt::StrongFocus);
  setAccessibleName(spoken("Items of the Kit and how long they may be used"));
}

void KitLives::show_items(std::vector<kit::Item> items, Order order, const std::string& today, UnitSet units) {
  items_ = std::move(items);
  today_ = today;
  units_ = units;
  from_ = months_after(today.substr(0, 8) + "01", -kBefore);
  to_ = months_after(today.substr(0, 8) + "01", kAfter);
  rows_.clear();
  auto of = [&](auto wanted) {
    std::vector<int> out;
    for (size_t i = 0; i < items_.size(); ++i)
      if (wanted(items_[i])) out.push_back(int(i));
    return out;
  };
  if (order == Order::kind) {
    add_group("Benches", of([](const kit::Item& i) { return i.is_bench(); }));
    for (const EquipmentSlot& kind : kit::kinds())
      add_group(qs(kind.label) + (kind.label.back() == 's' ? "" : "s"),
                of([&](const kit::Item& i) { return i.kind == kind.id; }));
  } else if (order == Order::bench) {
    std::vector<int> free = of([](const kit::Item& i) { return !i.is_bench(); });
    for (const int b : of([](const kit::Item& i) { return i.is_bench(); })) {
      std::vector<int> members = {b};
      for (size_t i = 0; i < items_.size(); ++i)
        if (items_[size_t(b)].holds(items_[i])) {
          members.push_back(int(i));
          std::erase(free, int(i));
        }
      add_group(qs(items_[size_t(b)].name()), members);
    }
    add_group("On no bench", free);
  } else {
    std::vector<int> all = of([](const kit::Item& i) { return !i.is_bench(); });
    auto key = [&](int i) {
      const kit::Item& item = items_[size_t(i)];
      const bool retired = kit::state_on(item, today_) == kit::State::retired;
      const std::string due = item.due();
      return std::pair(retired ? 2 : due.empty() ? 1 : 0, due);
    };
    std::stable_sort(all.begin(), all.end(), [&](int a, int b) { return key(a) < key(b); });
    add_group("Due next", all);
  }
  setMinimumHeight(rows_.empty() ? 0 : rows_.back().top + rows_.back().height + theme::px(34));
  update();
}

void KitLives::add_group(const QString& heading, const std::vector<int>& members) {
  if (members.empty()) return;
  const int top = rows_.empty() ? theme::px(34) : rows_.back().top + rows_.back().height;
  rows_.push_back({top, theme::px(30), heading, -1});
  for (const int i : members) rows_.push_back({rows_.back().top + rows_.back().height, theme::px(29), {}, i});
}

void KitLives::select(long long id) {
  selected_ = id;
  update();
}

QRect KitLives::row_of(long long id) const {
  for (const Row& r : rows_)
    if (r.item >= 0 && items_[size_t(r.item)].id == id) return {0, r.top, width(), r.height};
  return {};
}

// Names never take more than half: the lives are what one looks at.
double KitLives::names_width() const {
  return std::min<double>(theme::px(300), 0.5 * width());
}

double KitLives::x_of(const std::string& day) const {
  const double left = names_width(), right = width() - theme::px(20);
  const double t = double(days_between(from_, day)) / days_between(from_, to_);
  return left + (right - left) * std::clamp(t, 0.0, 1.0);
}

std::vector<PaintedPart> KitLives::painted_parts() {
  std::vector<PaintedPart> out;
  for (const Row& r : rows_) {
    const QRect where(0, r.top, width(), r.height);
    if (r.item < 0) {
      out.push_back({spoken(r.heading), {}, where, QAccessible::Heading});
      continue;
    }
    const kit::Item& item = items_[size_t(r.item)];
    QStringList said = {spoken(qs(kit::rating_words(item, units_)))};
    if (!item.is_bench()) said << spoken(qs(kit::state_words(item, today_)));
    if (const auto read = checks_.find(item.id); read != checks_.end()) said << spoken(read->second);
    said.removeAll(QString());
    out.push_back({qs(item.name()), said.join(", "), where, QAccessible::ListItem, item.id == selected_,
                   [this, id = item.id] { emit picked(id); }});
  }
  return out;
}

void KitLives::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  if (rows_.empty()) return;
  paint_months(p);
  for (const Row& r : rows_) {
    if (r.item >= 0) {
      paint_item(p, r);
      continue;
    }
    p.setFont(theme::words(12, QFont::DemiBold));
    p.setPen(theme::color(Ink::quiet));
    p.drawText(QRect(theme::px(14), r.top + theme::px(4), theme::px(280), r.height - theme::px(4)), Qt::AlignVCenter,
               spoken(r.heading));
  }
  paint_today(p);
}

void KitLives::paint_months(QPainter& p) const {
  const int bottom = rows_.back().top + rows_.back().height + theme::px(6);
  for (int m = 0; m <= kBefore + kAfter; ++m) {
    const std::string first = months_after(from_, m);
    const double x = x_of(first);
    p.setPen(QPen(theme::color(Ink::grid), 1));
    p.drawLine(QPointF(x, theme::px(30)), QPointF(x, bottom));
    if (m == kBefore + kAfter) break;
    p.setFont(theme::words(11));
    p.setPen(theme::color(Ink::quiet));
    const double room = x_of(months_after(from_, m + 1)) - x;
    const QString month = qs(day_words(first, first)).section(' ', 1);
    // All months by name, or all by their letter.
    const bool roomy = (x_of(to_) - x_of(from_)) / (kBefore + kAfter) >
                       p.fontMetrics().horizontalAdvance(spoken("Mar")) + theme::px(6);
    p.drawText(QRectF(x, theme::px(6), room, theme::px(20)), Qt::AlignCenter, spoken(roomy ? month : month.left(1)));
  }
}

void KitLives::paint_item(QPainter& p, const Row& row) const {
  const kit::Item& item = items_[size_t(row.item)];
  const kit::State state = kit::state_on(item, today_);
  const bool here = item.id == selected_, retired = state == kit::State::retired;
  const QRectF box(0, row.top, width(), row.height);
  if (here) {
    p.fillRect(box.adjusted(1, 0, -1, 0), theme::color(Ink::selected));
    p.fillRect(QRectF(0, row.top, 3, row.height), theme::color(Ink::action));
    if (hasFocus()) {
      p.setPen(QPen(theme::color(Ink::action), 1));
      p.setBrush(Qt::NoBrush);
      p.drawRect(box.adjusted(0.5, 0.5, -1.5, -1.5));
    }
  }
  const QString name = qs(item.name()), rating = qs(kit::rating_words(item, units_));
  const double room = names_width() - theme::px(14) - theme::px(22);
  p.setFont(theme::words(13, here ? QFont::DemiBold : QFont::Normal));
  p.setPen(theme::color(retired ? Ink::quiet : Ink::ink));
  const QString shown =
      p.fontMetrics().elidedText(spoken(name), Qt::ElideRight, int(item.is_bench() ? room : room * 0.6));
  p.drawText(QRectF(theme::px(22), row.top, room, row.height), Qt::AlignVCenter, spoken(shown));
  const double used = p.fontMetrics().horizontalAdvance(spoken(shown)) + theme::px(10);
  p.setPen(theme::color(Ink::quiet));
  p.setFont(theme::words(12));
  if (item.is_bench()) {
    const QRectF wide(x_of(from_), row.top, width() - x_of(from_) - theme::px(16), row.height);
    p.drawText(wide, Qt::AlignVCenter, p.fontMetrics().elidedText(spoken(rating), Qt::ElideRight, int(wide.width())));
    return;
  }
  p.drawText(QRectF(theme::px(22) + used, row.top, room - used, row.height), Qt::AlignVCenter,
             p.fontMetrics().elidedText(spoken(rating), Qt::ElideRight, int(std::max(0.0, room - used))));
  const std::string last = item.fields.text(item.path("calibrated")), due = item.due();
  const double y = row.top + row.height / 2.0, half = theme::px(4);
  const QString words = qs(kit::state_words(item, today_));
  const QColor colour = state == kit::State::ready  ? theme::temper(5)
                        : state == kit::State::soon ? theme::temper(1)
                        : retired                   ? theme::color(Ink::hairline)
                                                    : theme::temper(2);
  double after = x_of(today_);
  if (!due.empty()) {
    const double from = x_of(last.empty() ? from_ : last);
    // What is held is not used: its life stands still at today.
    const double end = state == kit::State::held ? std::min(x_of(due), x_of(today_)) : x_of(due);
    p.setPen(Qt::NoPen);
    p.setBrush(colour);
    if (end > from) p.drawRoundedRect(QRectF(from, y - half, end - from, 2 * half), 2, 2);
    if (due < today_ && state == kit::State::overdue) {  // what it has been used beyond
      p.setPen(QPen(theme::color(Ink::fails), 1, Qt::DashLine));
      p.setBrush(Qt::NoBrush);
      p.drawRect(QRectF(end, y - half, x_of(today_) - end, 2 * half));
    }
    after = std::max(after, end);
  }
  if (state == kit::State::ready && !due.empty()) return;
  p.setFont(theme::words(12, state == kit::State::ready ? QFont::Normal : QFont::Medium));
  p.setPen(state == kit::State::soon               ? theme::color(Ink::near)
           : state == kit::State::ready || retired ? theme::color(Ink::quiet)
                                                   : theme::color(Ink::fails));
  // Beside the bar where there is room, else on its left.
  const double width_of = p.fontMetrics().horizontalAdvance(spoken(words));
  const bool fits = after + theme::px(8) + width_of < width() - theme::px(8);
  if (const auto read = checks_.find(item.id); read != checks_.end()) {
    p.save();
    p.setFont(theme::words(11));
    p.setPen(theme::color(Ink::quiet));
    p.drawText(QRectF(names_width(), row.top - theme::px(4), width() - names_width() - theme::px(24), theme::px(16)),
               Qt::AlignRight | Qt::AlignVCenter, spoken(read->second));
    p.restore();
  }
  const QRectF place(fits ? after + theme::px(8) : names_width() + theme::px(6), row.top,
                     fits ? width() - after : width() - names_width() - theme::px(16), row.height);
  p.drawText(place, Qt::AlignVCenter,
             p.fontMetrics().elidedText(spoken(words), Qt::ElideRight, int(place.width() - theme::px(8))));
}

void KitLives::show_checks(std::map<long long, QString> words) {
  checks_ = std::move(words);
  update();
}

void KitLives::paint_today(QPainter& p) const {
  const double x = x_of(today_);
  const int bottom = rows_.back().top + rows_.back().height + theme::px(6);
  p.setPen(QPen(theme::color(Ink::fails), 1.4));
  p.drawLine(QPointF(x, theme::px(28)), QPointF(x, bottom));
  p.setFont(theme::words(11, QFont::Medium));
  p.drawText(QRectF(x - theme::px(40), bottom + theme::px(2), theme::px(80), theme::px(18)), Qt::AlignCenter,
             spoken("today"));
}

void KitLives::mousePressEvent(QMouseEvent* event) {
  setFocus();
  for (const Row& r : rows_)
    if (r.item >= 0 && event->pos().y() >= r.top && event->pos().y() < r.top + r.height) {
      emit picked(items_[size_t(r.item)].id);
      return;
    }
}

void KitLives::keyPressEvent(QKeyEvent* event) {
  const int step = event->key() == Qt::Key_Down ? 1 : event->key() == Qt::Key_Up ? -1 : 0;
  if (step == 0) return QWidget::keyPressEvent(event);
  int at = -1;
  for (size_t i = 0; i < rows_.size(); ++i)
    if (rows_[i].item >= 0 && items_[size_t(rows_[i].item)].id == selected_) at = int(i);
  for (int i = at + step; i >= 0 && i < int(rows_.size()); i += step)
    if (rows_[size_t(i)].item >= 0) return emit picked(items_[size_t(rows_[size_t(i)].item)].id);
}

void KitLives::focusInEvent(QFocusEvent* event) {
  QWidget::focusInEvent(event);
  if (selected_ == 0)
    for (const Row& r : rows_)
      if (r.item >= 0) return emit picked(items_[size_t(r.item)].id);
}

}  // namespace fortitor
