#include "app/stages/big_figures.h"

#include <QPainter>

#include "app/theme/parts.h"
#include "app/theme/theme.h"

namespace fortitor {

using parts::qs;

BigFigures::BigFigures(QWidget* parent) : QWidget(parent) {
  setMinimumSize(200, 210);
  setAccessibleName("Readings");
}

void BigFigures::show_status(const MachineStatus& status, UnitSet units, double area, double gauge) {
  status_ = status;
  units_ = units;
  area_ = area;
  gauge_ = gauge;
  update();
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
  auto big = [&](const QString& name, double value, Dimension d, double size, const QColor& colour, bool shown = true) {
    p.setFont(theme::words(12));
    p.setPen(pale);
    p.drawText(QPointF(left, y + 12 * s), name);
    const Unit& u = display_unit(d, units_, d == Dimension::force ? 0 : value);
    const double v = value / u.factor;
    QString text = shown ? qs(fixed(v, d == Dimension::force    ? (u.symbol == "N" ? 0 : 1)
                                       : d == Dimension::stress ? 1
                                                                : 3))
                         : QString("–");
    p.setFont(theme::numbers(size, QFont::Bold));
    p.setPen(colour);
    const QFontMetricsF m(p.font());
    p.drawText(QPointF(left, y + 16 * s + m.ascent()), text);
    const double w = m.horizontalAdvance(text);
    p.setFont(theme::words(size > 40 ? 18 : 13));
    p.drawText(QPointF(left + w + 8, y + 16 * s + m.ascent()), qs(u.symbol));
    y += 18 * s + m.height();
  };
  const bool roomy = height() > 300 * s;
  big("Force", status_.now.force, Dimension::force, roomy ? 50 : 42, amber);
  if (area_ > 0) big("Stress", status_.now.force / area_, Dimension::stress, roomy ? 30 : 24, white);
  const bool ext = status_.now.extension == status_.now.extension;
  if (gauge_ > 0)
    big("Strain, extensometer", ext ? status_.now.extension / gauge_ : 0, Dimension::strain, roomy ? 30 : 24, white,
        ext);
  big("Crosshead", status_.now.crosshead, Dimension::length, roomy ? 30 : 24, white);
}

}  // namespace fortitor
