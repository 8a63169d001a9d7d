#include "app/reference/reference_ranges.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>

#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "core/figure/ticks.h"
#include "core/quantity/format.h"

namespace fortitor {
namespace {

using parts::qs;
using theme::Ink;

// The properties that are drawn, of which those a group has are taken in this order.
std::vector<const ReferenceProperty*> drawn() {
  std::vector<const ReferenceProperty*> out;
  for (const ReferenceProperty& p : reference_properties())
    if (p.drawn > 0) out.push_back(&p);
  std::sort(out.begin(), out.end(), [](const auto* a, const auto* b) { return a->drawn < b->drawn; });
  return out;
}

}  // namespace

ReferenceRanges::ReferenceRanges(QWidget* parent) : QWidget(parent) {
  setFocusPolicy(Qt::StrongFocus);
  setAccessibleName(spoken("Materials and their usual ranges"));
  setProperty("key", "reference-ranges");
}

void ReferenceRanges::show_materials(std::vector<ReferenceMaterial> materials, UnitSet units) {
  materials_ = std::move(materials);
  units_ = units;
  scales_.clear();
  for (const ReferenceProperty* property : drawn()) {
    if (scales_.size() == 3) break;
    const std::string key(property->key);
    Scale scale{property, 0, nullptr};
    size_t there = 0;
    for (const ReferenceMaterial& m : materials_)
      if (const auto it = m.values.find(key); it != m.values.end()) {
        scale.high = std::max(scale.high, it->second.high);
        ++there;
      }
    if (there * 2 < materials_.size() || there == 0) continue;
    scale.unit = &display_unit(scale.property->dimension, units_, scale.high);
    scale.high *= 1.04;
    scales_.push_back(scale);
  }
  setMinimumHeight(head() + row_height() * int(materials_.size()) + theme::px(8));
  update();
}

void ReferenceRanges::select(const std::string& name) {
  selected_ = name;
  update();
}

int ReferenceRanges::head() const {
  return theme::px(46);
}

int ReferenceRanges::row_height() const {
  return theme::px(27);
}

QRect ReferenceRanges::row_of(const std::string& name) const {
  for (size_t i = 0; i < materials_.size(); ++i)
    if (materials_[i].name == name) return {0, head() + row_height() * int(i), width(), row_height()};
  return {};
}

QRectF ReferenceRanges::column(size_t i) const {
  const double names = std::min<double>(theme::px(170), 0.34 * width()), gap = theme::px(22);
  const double each = (width() - names - gap) / std::max<size_t>(1, scales_.size());
  return {names + each * double(i), 0, each - gap, double(height())};
}

std::vector<PaintedPart> ReferenceRanges::painted_parts() {
  std::vector<PaintedPart> out;
  for (const ReferenceMaterial& m : materials_) {
    QStringList said;
    for (const Scale& scale : scales_)
      if (const auto it = m.values.find(std::string(scale.property->key)); it != m.values.end())
        said << spoken(qs(scale.property->label)) + " " + range_words(scale, it->second);
    out.push_back({spoken(qs(m.name)), said.join(", "), row_of(m.name), QAccessible::ListItem, m.name == selected_,
                   [this, name = qs(m.name)] { emit picked(name); }});
  }
  return out;
}

QString ReferenceRanges::range_words(const Scale& scale, const ReferenceValue& v) const {
  return spoken(qs(format_number(v.low, scale.property->dimension, units_, 3)) + "–" +
                qs(format_value(v.high, scale.property->dimension, units_, 3)));
}

void ReferenceRanges::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const double bottom = head() + row_height() * double(materials_.size());
  for (size_t c = 0; c < scales_.size(); ++c) {
    const Scale& scale = scales_[c];
    const QRectF box = column(c);
    QString name = qs(scale.property->label);
    if (scale.property->dimension != Dimension::none) name += ", " + qs(scale.unit->symbol);
    p.setPen(theme::color(Ink::ink));
    p.setFont(theme::words(12, QFont::Medium));
    p.drawText(QRectF(box.left(), 0, box.width() + theme::px(20), theme::px(22)), Qt::AlignVCenter | Qt::AlignLeft,
               p.fontMetrics().elidedText(spoken(name), Qt::ElideRight, int(box.width() + theme::px(18))));
    for (const figure::Tick& t :
         figure::linear_ticks(0, scale.high, std::max(2, int(box.width() / theme::px(64))), scale.unit->factor)) {
      const double x = box.left() + box.width() * t.value / scale.high;
      p.setPen(QPen(theme::color(Ink::grid), 1));
      p.drawLine(QPointF(x, head() - theme::px(6)), QPointF(x, bottom));
      p.setPen(theme::color(Ink::quiet));
      p.setFont(theme::numbers(10));
      p.drawText(QRectF(x - theme::px(30), theme::px(22), theme::px(60), theme::px(16)), Qt::AlignCenter,
                 spoken(qs(t.label)));
    }
  }
  for (size_t i = 0; i < materials_.size(); ++i) {
    const ReferenceMaterial& m = materials_[i];
    const QRectF row(0, head() + row_height() * double(i), width(), row_height());
    const bool here = m.name == selected_;
    if (here) {
      p.fillRect(row, theme::color(Ink::selected));
      p.fillRect(QRectF(0, row.top(), 3, row.height()), theme::color(Ink::action));
      if (hasFocus()) {
        p.setPen(QPen(theme::color(Ink::action), 1));
        p.setBrush(Qt::NoBrush);
        p.drawRect(row.adjusted(0.5, 0.5, -1.5, -1.5));
      }
    }
    p.setFont(theme::words(13, here ? QFont::DemiBold : QFont::Normal));
    p.setPen(theme::color(m.own ? Ink::action : Ink::ink));
    const double names = column(0).left() - theme::px(26);
    p.drawText(QRectF(theme::px(14), row.top(), names, row.height()), Qt::AlignVCenter,
               p.fontMetrics().elidedText(spoken(qs(m.name)), Qt::ElideRight, int(names)));
    for (size_t c = 0; c < scales_.size(); ++c) {
      const auto it = m.values.find(std::string(scales_[c].property->key));
      if (it == m.values.end()) continue;
      const QRectF box = column(c);
      const ReferenceValue& v = it->second;
      auto x = [&](double value) { return box.left() + box.width() * std::clamp(value / scales_[c].high, 0.0, 1.0); };
      const double y = row.center().y(), half = theme::px(4);
      static const int kTones[] = {5, 2, 1};
      p.setPen(Qt::NoPen);
      p.setBrush(m.own ? theme::color(Ink::action) : theme::temper(kTones[c]));
      // A range that is next to nothing is still seen.
      const double from = x(v.low), to = std::max(x(v.high), from + 3);
      p.drawRoundedRect(QRectF(from, y - half, to - from, 2 * half), 2, 2);
      if (v.from_spread && to - from > 10) {
        p.setPen(QPen(theme::color(Ink::sheet), 1.6));
        p.drawLine(QPointF(x(v.mean), y - half), QPointF(x(v.mean), y + half));
      }
      if (!here) continue;
      p.setFont(theme::numbers(11));
      p.setPen(theme::color(Ink::ink));
      const QString words = qs(format_number(v.low, scales_[c].property->dimension, units_, 3)) + "–" +
                            qs(format_number(v.high, scales_[c].property->dimension, units_, 3));
      const double w = p.fontMetrics().horizontalAdvance(spoken(words));
      const bool right = to + theme::px(6) + w < box.right() + theme::px(18);
      p.drawText(QRectF(right ? to + theme::px(6) : from - theme::px(6) - w, row.top(), w + 2, row.height()),
                 Qt::AlignVCenter, spoken(words));
    }
  }
}

void ReferenceRanges::mousePressEvent(QMouseEvent* event) {
  setFocus();
  const int i = (int(event->position().y()) - head()) / row_height();
  if (event->position().y() < head() || i >= int(materials_.size())) return;
  emit picked(qs(materials_[size_t(i)].name));
}

void ReferenceRanges::keyPressEvent(QKeyEvent* event) {
  const int step = event->key() == Qt::Key_Down ? 1 : event->key() == Qt::Key_Up ? -1 : 0;
  if (step == 0 || materials_.empty()) return QWidget::keyPressEvent(event);
  int at = -1;
  for (size_t i = 0; i < materials_.size(); ++i)
    if (materials_[i].name == selected_) at = int(i);
  at = std::clamp(at + step, 0, int(materials_.size()) - 1);
  emit picked(qs(materials_[size_t(at)].name));
}

}  // namespace fortitor
