// The print that an indenter leaves, seen from above: what tells one hardness from another at a glance.
#include <QPainterPath>
#include <QRadialGradient>

#include "app/sketches/hardness_sketches.h"
#include "app/theme/theme.h"

namespace fortitor {

void PrintSketch::paint(QPainter& p, const QRectF& area, const SketchState&) const {
  const QColor ink = theme::color(theme::Ink::ink), face = QColor(200, 205, 209), deep = QColor(96, 106, 116),
               light = QColor(226, 229, 232);
  const QRectF plate = QRectF(area.center().x() - 0.36 * area.width(), area.center().y() - 0.44 * area.height(),
                              0.72 * area.width(), 0.88 * area.height());
  p.setPen(QPen(ink, 1.5));
  p.setBrush(face);
  p.drawRoundedRect(plate, 8, 8);
  const QPointF at = plate.center();
  const double r = 0.34 * plate.height();
  if (indenter_ == Indenter::cone || indenter_ == Indenter::ball) {
    // A cone is deepest in one point, a ball evenly.
    QRadialGradient shade(at, r);
    shade.setColorAt(0, deep);
    shade.setColorAt(indenter_ == Indenter::cone ? 0.15 : 0.75, indenter_ == Indenter::cone ? deep.lighter(125) : deep);
    shade.setColorAt(1, light);
    p.setBrush(shade);
    p.drawEllipse(at, r, r);
    if (indenter_ == Indenter::ball) {
      p.setPen(QPen(light, 3));
      p.drawArc(QRectF(at.x() - 0.7 * r, at.y() - 0.7 * r, 1.4 * r, 1.4 * r), 20 * 16, 60 * 16);
    } else {
      p.setBrush(ink);
      p.drawEllipse(at, 3, 3);
    }
    return;
  }
  // Four faces of a pyramid, each in its own light.
  const double across = indenter_ == Indenter::rhomb ? 0.42 * plate.width() : 1.15 * r,
               up = indenter_ == Indenter::rhomb ? 0.16 * plate.height() : 1.15 * r;
  const QPointF corners[] = {at - QPointF(across, 0), at - QPointF(0, up), at + QPointF(across, 0),
                             at + QPointF(0, up)};
  const QColor sides[] = {deep.lighter(130), deep, deep.lighter(110), light};
  for (int i = 0; i < 4; ++i) {
    p.setBrush(sides[i]);
    p.drawPolygon(QPolygonF({at, corners[i], corners[(i + 1) % 4]}));
  }
}

}  // namespace fortitor
