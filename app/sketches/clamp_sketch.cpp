#include <cmath>

#include "app/sketches/bench_sketches.h"
#include "app/sketches/piece_sketches.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"

namespace fortitor {

using theme::Ink;

// A clamp on its rope, pulled between a pin and the rope: two jaws, a bolt across them, an eye.
void ClampSketch::paint(QPainter& p, const QRectF& a, const SketchState& s) const {
  p.setRenderHint(QPainter::Antialiasing);
  const QColor ink = theme::color(Ink::ink), quiet = theme::color(Ink::quiet);
  const double h = std::min(a.height() * 0.62, a.width() * 1.5), w = h * 0.5, x = a.center().x(),
               top = a.top() + a.height() * 0.1;
  const double open = s.machine != nullptr && s.machine->broken ? h * 0.12 : 0;
  const bool held = s.machine == nullptr || s.machine->top_grip || s.record.run.has_samples();
  // Rope below, pin above.
  p.setPen(QPen(quiet, std::max(4.0, w * 0.16)));
  p.drawLine(QPointF(x, top + h * 0.42 + open), QPointF(x, a.bottom() - 26));
  QPen lay(theme::color(Ink::sheet), 1.2);
  p.setPen(lay);
  for (double y = top + h * 0.5 + open; y < a.bottom() - 30; y += 9)
    p.drawLine(QPointF(x - w * 0.07, y + 5), QPointF(x + w * 0.07, y));
  if (held) {
    p.setPen(QPen(ink, 1.5));
    p.setBrush(draw::steel());
    QPainterPath jaw;
    jaw.moveTo(x - w * 0.12, top + h * 0.34);
    jaw.cubicTo(x - w * 0.55, top + h * 0.36, x - w * 0.5, top + h * 0.86, x - w * 0.14, top + h * 0.88);
    jaw.lineTo(x - w * 0.09, top + h * 0.6);
    jaw.closeSubpath();
    for (double side : {1.0, -1.0}) {
      p.save();
      p.translate(x, open);
      p.scale(side, 1);
      p.translate(-x, 0);
      p.drawPath(jaw);
      p.restore();
    }
    p.drawRoundedRect(QRectF(x - w * 0.5, top + h * 0.6 + open, w, h * 0.07), 3, 3);
    p.drawRect(QRectF(x - w * 0.58, top + h * 0.585 + open, w * 0.09, h * 0.1));
    p.drawRect(QRectF(x + w * 0.49, top + h * 0.585 + open, w * 0.09, h * 0.1));
    QPainterPath eye;
    eye.addEllipse(QPointF(x, top + h * 0.2), w * 0.32, h * 0.17);
    eye.addEllipse(QPointF(x, top + h * 0.19), w * 0.17, h * 0.09);
    eye.setFillRule(Qt::OddEvenFill);
    p.drawPath(eye);
    p.drawRect(QRectF(x - w * 0.12, top + h * 0.33, w * 0.24, h * 0.06));
  }
  p.setBrush(theme::temper(5));
  p.setPen(QPen(ink, 1.2));
  p.drawEllipse(QPointF(x, top + h * 0.15), w * 0.1, w * 0.1);
  p.setPen(theme::color(Ink::fails));
  p.setFont(theme::words(11, QFont::Medium));
  p.drawText(QRectF(a.left(), a.bottom() - 18, a.width(), 18), Qt::AlignCenter,
             spoken(a.width() < 240 ? "nobody in line" : "nobody in line with the load"));
}

}  // namespace fortitor
