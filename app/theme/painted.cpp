// What is painted the same way everywhere: verdicts, symbols of results, sheets.
#include <QPainter>
#include <QPainterPath>

#include "app/theme/theme.h"

namespace fortitor::theme {

QColor verdict_color(Verdict v) {
  switch (v) {
    case Verdict::meets: return color(Ink::meets);
    case Verdict::conditional_pass:
    case Verdict::open: return color(Ink::near);
    case Verdict::conditional_fail:
    case Verdict::fails: return color(Ink::fails);
    case Verdict::void_test:
    case Verdict::none: break;
  }
  return color(Ink::void_test);
}

void draw_glyph(QPainter& p, const QRectF& box, Verdict v, bool near) {
  if (v == Verdict::none) return;
  if (v == Verdict::conditional_pass || v == Verdict::conditional_fail) {
    // The yes or no in a ring: it stands under a condition.
    const bool pass = v == Verdict::conditional_pass;
    p.save();
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(QPen(verdict_color(v), 1.4));
    p.drawEllipse(box.adjusted(0.5, 0.5, -0.5, -0.5));
    p.restore();
    const double in = 0.22 * box.width();
    return draw_glyph(p, box.adjusted(in, in, -in, -in), pass ? Verdict::meets : Verdict::fails, pass);
  }
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  const QColor c = near ? color(Ink::near) : verdict_color(v);
  const double w = box.width();
  p.setPen(QPen(c, std::max(1.5, w * 0.16), Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
  p.setBrush(Qt::NoBrush);
  const QPointF o = box.topLeft();
  if (v == Verdict::meets) {
    p.drawPolyline(
        QPolygonF{o + QPointF(w * 0.15, w * 0.55), o + QPointF(w * 0.4, w * 0.8), o + QPointF(w * 0.88, w * 0.22)});
  } else if (v == Verdict::fails) {
    p.drawLine(o + QPointF(w * 0.2, w * 0.2), o + QPointF(w * 0.8, w * 0.8));
    p.drawLine(o + QPointF(w * 0.8, w * 0.2), o + QPointF(w * 0.2, w * 0.8));
  } else {
    const QRectF ring = box.adjusted(w * 0.1, w * 0.1, -w * 0.1, -w * 0.1);
    p.setPen(QPen(c, 1.4));
    p.drawEllipse(ring);
    if (v == Verdict::void_test) {
      p.drawLine(QPointF(ring.left() + ring.width() * 0.16, ring.bottom() - ring.height() * 0.16),
                 QPointF(ring.right() - ring.width() * 0.16, ring.top() + ring.height() * 0.16));
    } else {
      p.setBrush(c);
      p.drawPie(ring, 90 * 16, 180 * 16);
    }
  }
  p.restore();
}

double draw_symbol(QPainter& p, QPointF baseline, const QString& symbol, const QFont& font, const QColor& colour) {
  p.save();
  p.setPen(colour);
  p.setFont(font);
  const qsizetype at = symbol.indexOf('_');
  const QString head = at < 0 ? symbol : symbol.left(at);
  p.drawText(baseline, head);
  double width = QFontMetricsF(font).horizontalAdvance(head);
  if (at >= 0) {
    QFont low = font;
    low.setPixelSize(std::max(8, qRound(font.pixelSize() * 0.78)));
    p.setFont(low);
    const QString tail = symbol.mid(at + 1);
    p.drawText(baseline + QPointF(width, font.pixelSize() * 0.22), tail);
    width += QFontMetricsF(low).horizontalAdvance(tail);
  }
  p.restore();
  return width;
}

void draw_sheet(QPainter& p, const QRectF& r) {
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(QPen(color(Ink::hairline), 1));
  p.setBrush(color(Ink::sheet));
  p.drawRoundedRect(r.adjusted(0.5, 0.5, -0.5, -0.5), 4, 4);
  p.restore();
}

}  // namespace fortitor::theme
