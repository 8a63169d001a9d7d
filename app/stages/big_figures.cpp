#include "app/stages/big_figures.h"

#include <QPainter>

#include "app/theme/parts.h"
#include "app/theme/theme.h"

namespace fortitor {

using parts::qs;

BigFigures::BigFigures(QWidget* parent) : QWidget(parent) {
  setMinimumSize(200, 210);
  setAccessibleName(spoken("Readings"));
}

void BigFigures::show_readings(std::vector<Reading> readings, UnitSet units) {
  readings_ = std::move(readings);
  units_ = units;
  update();
}

std::vector<PaintedPart> BigFigures::painted_parts() {
  std::vector<PaintedPart> out;
  for (const Reading& r : readings_)
    out.push_back({spoken(r.name),
                   r.value == r.value ? spoken(qs(format_value(r.value, r.dimension, units_, 4))) : QString("–"),
                   rect(), QAccessible::StaticText});
  return out;
}

void BigFigures::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(Qt::NoPen);
  p.setBrush(theme::color(theme::Ink::callout));
  p.drawRoundedRect(rect(), 4, 4);
  const QColor pale("#AEB8C0"), amber("#E0B84C"), white("#FBFAF6");
  const double left = 16, s = theme::scale();
  double y = 12;
  auto big = [&](const Reading& r, double size, const QColor& colour) {
    p.setFont(theme::words(12));
    p.setPen(pale);
    p.drawText(QPointF(left, y + 12 * s), spoken(r.name));
    // What is led or feared stays in its small unit: a figure that jumps from N to kN cannot be read from afar.
    const bool led = r.dimension == Dimension::force || r.dimension == Dimension::torque;
    const bool there = r.value == r.value;
    const Unit& u = display_unit(r.dimension, units_, led || !there ? 0 : r.value);
    const double v = r.value / u.factor;
    const int decimals = led                                     ? (u.symbol == "N" ? 0 : 1)
                         : r.dimension == Dimension::stress      ? 1
                         : r.dimension == Dimension::microstrain ? 0
                                                                 : 3;
    const QString text = there ? qs(fixed(v, decimals)) : QString("–");
    p.setFont(theme::numbers(size, QFont::Bold));
    p.setPen(colour);
    const QFontMetricsF m(p.font());
    p.drawText(QPointF(left, y + 16 * s + m.ascent()), spoken(text));
    const double w = m.horizontalAdvance(spoken(text));
    p.setFont(theme::words(size > 40 ? 18 : 13));
    p.drawText(QPointF(left + w + 8, y + 16 * s + m.ascent()), spoken(qs(u.symbol)));
    y += 18 * s + m.height();
  };
  const bool roomy = height() > 300 * s;
  // Many readings: the first stays large, the rest stand in two columns.
  const bool many = readings_.size() > 4;
  for (size_t i = 0; i < readings_.size(); ++i) {
    const bool first = i == 0;
    const double before = y;
    if (many && !first && i % 2 == 0) p.translate((width() - 16) / 2.0, 0);
    big(readings_[i], first ? (roomy ? 50 : 42) : many ? 20 : roomy ? 30 : 24, first ? amber : white);
    if (!many || first) continue;
    if (i % 2 == 0)
      p.translate(-(width() - 16) / 2.0, 0);
    else if (i + 1 < readings_.size())
      y = before;  // its neighbour stands beside it
  }
}

}  // namespace fortitor
