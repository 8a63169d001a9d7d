#include <cmath>

#include "app/sketches/bench_sketches.h"
#include "app/sketches/piece_sketches.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"

namespace fortitor {

using theme::Ink;

// A plate with a rib welded on it, pulled along: cracks begin at the toe in front of the rib.
void WeldSketch::paint(QPainter& p, const QRectF& a, const SketchState& s) const {
  p.setRenderHint(QPainter::Antialiasing);
  const QColor ink = theme::color(Ink::ink), quiet = theme::color(Ink::quiet);
  const double w = std::min(a.width() * 0.8, 560.0), h = std::min(a.height() * 0.16, w * 0.14);
  const QPointF c(a.center().x(), a.top() + a.height() * 0.52);
  const QRectF plate(c.x() - w / 2, c.y() - h / 2, w, h);
  p.setPen(QPen(ink, 1.4));
  p.setBrush(draw::steel());
  p.drawRect(plate);
  const QRectF rib(c.x() - w * 0.12, plate.top() - h * 1.3, w * 0.24, h * 1.3);
  p.drawRect(rib);
  p.setBrush(theme::temper(1));
  for (double side : {-1.0, 1.0}) {
    const double x = side < 0 ? rib.left() : rib.right();
    p.drawPolygon(QPolygonF({{x, plate.top()}, {x + side * h * 0.42, plate.top()}, {x, plate.top() - h * 0.42}}));
  }
  // The crack grows from the toe with the share of the points that are in.
  const size_t rows = s.record.run.rows("points").size();
  if (rows > 0) {
    const double deep = h * std::min(0.8, 0.12 + 0.05 * double(rows)), x = rib.left() - h * 0.42;
    p.setPen(QPen(theme::color(Ink::fails), 2));
    QPolygonF crack;
    for (int i = 0; i <= 6; ++i) crack << QPointF(x + (i % 2 != 0 ? 2 : -1), plate.top() + deep * i / 6);
    p.drawPolyline(crack);
  }
  p.setPen(QPen(theme::color(Ink::action), 2));
  for (double side : {-1.0, 1.0}) {
    const QPointF from(c.x() + side * (w / 2 + 8), c.y()), to(c.x() + side * (w / 2 + 40), c.y());
    p.drawLine(from, to);
    p.drawLine(to, to + QPointF(-side * 8, -5));
    p.drawLine(to, to + QPointF(-side * 8, 5));
    p.drawLine(from, from + QPointF(side * 8, -5));
    p.drawLine(from, from + QPointF(side * 8, 5));
  }
  p.setFont(theme::words(12));
  p.setPen(quiet);
  p.drawText(QRectF(rib.left() - h * 0.42 - 150, rib.top() - 6, 140, 18), Qt::AlignRight | Qt::AlignVCenter,
             spoken("toe: cracks begin here"));
  p.drawLine(QPointF(rib.left() - h * 0.42 - 8, rib.top() + 4), QPointF(rib.left() - h * 0.42, plate.top() - 2));
  p.drawText(QRectF(a.left(), plate.bottom() + 14, a.width(), 18), Qt::AlignCenter,
             spoken("range of the stress beside the weld, as if nobody had welded there"));
}

}  // namespace fortitor
