#include <QPainterPath>
#include <algorithm>

#include "app/sketches/bench_sketches.h"
#include "app/sketches/hardness_sketches.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "core/quantity/format.h"

namespace fortitor {

using parts::qs;
using theme::Ink;

namespace {

QRectF block_box(const QRectF& a) {
  const double d = std::min(a.width() * 0.62, a.height() * 0.62);
  QRectF box(0, 0, d, d);
  box.moveCenter(QPointF(a.center().x(), a.top() + a.height() * 0.40));
  return box;
}

}  // namespace

void ReferenceBlockSketch::paint(QPainter& p, const QRectF& area, const SketchState& s) const {
  p.setRenderHint(QPainter::Antialiasing);
  const QRectF b = block_box(area);
  p.setPen(QPen(theme::color(Ink::ink), 1.4));
  p.setBrush(draw::steel().darker(118));
  p.drawEllipse(b.translated(0, 8));
  QPainterPath top;
  top.addEllipse(b);
  draw::metal_fill(p, top);
  p.setBrush(Qt::NoBrush);
  p.setPen(QPen(theme::color(Ink::ink), 1.4));
  p.drawPath(top);
  const auto certified = s.record.fields.number("specimen.block.certified");
  const auto tolerance = s.record.fields.number("specimen.block.tolerance");
  p.setPen(theme::color(Ink::ink));
  p.setFont(theme::numbers(std::clamp(b.width() * 0.13, 12.0, 30.0), QFont::Bold));
  const QRectF words(b.left(), b.top() + b.height() * 0.14, b.width(), b.height() * 0.2);
  p.drawText(words, Qt::AlignCenter, spoken(certified ? qs(plain_number(*certified, 4)) : "– –"));
  p.setFont(theme::words(12));
  p.setPen(theme::color(Ink::quiet));
  p.drawText(
      words.translated(0, b.height() * 0.17), Qt::AlignCenter,
      spoken(certified && tolerance ? "± " + qs(plain_number(*tolerance, 3)) + " as certified" : "reference block"));
  // Its readings as prints, in the order in which they were made.
  const Readings list = s.record.fields.readings(path());
  for (size_t i = 0; i < std::max<size_t>(3, list.size()) && i < 6; ++i) {
    const QPointF at(b.left() + b.width() * (0.28 + 0.22 * double(i % 3)),
                     b.top() + b.height() * (0.62 + 0.18 * double(i / 3)));
    const bool there = i < list.size() && !list[i].missed();
    p.setPen(QPen(theme::temper(5), 1.4));
    p.setBrush(there ? QBrush(theme::temper(5)) : QBrush(theme::color(Ink::sheet)));
    draw::diamond(p, at, 5);
  }
  p.setPen(theme::color(Ink::quiet));
  p.setFont(theme::words(12));
  const auto anchor = anchors(area, s.record);
  p.drawText(QRectF(area.left(), anchor.front().at.y() - 40, area.width(), 18), Qt::AlignCenter,
             spoken(after_ ? "block after the work" : "block before the work"));
}

std::vector<Anchor> ReferenceBlockSketch::anchors(const QRectF& a, const TestRecord&) const {
  std::vector<Anchor> out;
  const double y = block_box(a).bottom() + 58;
  for (int i = 0; i < 3; ++i) out.push_back({path(), i, {a.center().x() + (i - 1) * 112, y}, 100});
  return out;
}

}  // namespace fortitor
