#include <cmath>

#include "app/sketches/bar_plan.h"
#include "app/sketches/bench_sketches.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"

namespace fortitor {
namespace {

using bar::caption;
using parts::qs;
using theme::Ink;

struct GaugedPlan {
  QRectF strip, indicator;
  QPointF along, across;  // gauges
};

GaugedPlan gauged_plan(const QRectF& a, Scene scene) {
  GaugedPlan s;
  const bool sizes = scene == Scene::sizes;
  const double h = std::clamp(a.height() * 0.17, 30.0, 74.0);
  const double y = a.top() + a.height() * (sizes ? 0.3 : 0.22);
  s.strip = QRectF(a.left() + 12, y - h / 2, a.width() - 24, h);
  s.along = {s.strip.center().x() - s.strip.width() * 0.1, y};
  s.across = {s.strip.center().x() + s.strip.width() * 0.1, y};
  const double w = std::min(a.width() - 40, 320.0), ih = std::clamp(a.height() * 0.3, 72.0, 110.0);
  s.indicator = QRectF(a.center().x() - w / 2, a.bottom() - ih - 8, w, ih);
  return s;
}

// A foil gauge: a meander on its carrier with two tabs.
void gauge(QPainter& p, QPointF at, double size, bool lengthwise, const QColor& ink, bool detail) {
  p.save();
  p.translate(at);
  if (!lengthwise) p.rotate(90);
  p.setPen(QPen(ink, 1));
  QColor carrier = theme::temper(0);
  carrier.setAlpha(170);
  p.setBrush(carrier);
  p.drawRect(QRectF(-size, -size * 0.5, 2 * size, size));
  p.setPen(QPen(ink, 1.3));
  const int n = detail ? 5 : 3;
  QPolygonF meander;
  for (int i = 0; i < n; ++i) {
    const double y = -size * 0.34 + size * 0.68 * i / (n - 1);
    meander << QPointF(i % 2 ? size * 0.5 : -size * 0.7, y) << QPointF(i % 2 ? -size * 0.7 : size * 0.5, y);
  }
  p.drawPolyline(meander);
  p.restore();
}

}  // namespace

void GaugedStripSketch::paint(QPainter& p, const QRectF& area, const SketchState& s) const {
  p.setRenderHint(QPainter::Antialiasing);
  const GaugedPlan plan = gauged_plan(area, scene_);
  const bool detail = area.width() > 340;
  const QColor ink = theme::color(Ink::ink), quiet = theme::color(Ink::quiet);
  const QRectF& strip = plan.strip;
  p.setPen(QPen(ink, 1.4));
  p.setBrush(draw::steel());
  p.drawRect(strip);
  if (detail) {  // grips
    p.setBrush(draw::steel().darker(118));
    for (const QRectF& g :
         {QRectF(strip.left(), strip.top() - 10, strip.width() * 0.1, strip.height() + 20),
          QRectF(strip.right() - strip.width() * 0.1, strip.top() - 10, strip.width() * 0.1, strip.height() + 20)})
      p.drawRect(g);
  }
  const double size = std::clamp(strip.height() * 0.3, 10.0, 20.0);
  gauge(p, plan.along, size, true, theme::temper(5), detail);
  gauge(p, plan.across, size, false, theme::temper(2), detail);
  const double load = draw::last_reading(s.record, "force");
  if (scene_ != Scene::sizes) {
    // Pull at both ends, the load written at the right one.
    p.setPen(QPen(ink, 2.4));
    if (load > 0)
      caption(p, {strip.right() - 46, strip.top() - 24}, qs(format_value(load, Dimension::force, s.units, 4)), ink, 13,
              QFont::DemiBold);
    // Wires to the channels.
    const QRectF& box = plan.indicator;
    for (const auto& [from, x, colour] :
         {std::tuple{plan.along, 0.27, theme::temper(5)}, std::tuple{plan.across, 0.73, theme::temper(2)}}) {
      const QPointF to(box.left() + box.width() * x, box.top());
      QPainterPath wire(from + QPointF(0, size * 0.7));
      wire.cubicTo(from + QPointF(0, 46), to - QPointF(0, 40), to);
      p.setPen(QPen(colour, 2));
      p.setBrush(Qt::NoBrush);
      p.drawPath(wire);
    }
    p.setPen(QPen(ink, 1.4));
    p.setBrush(theme::color(Ink::callout));
    p.drawRoundedRect(box, 4, 4);
    for (const auto& [channel, label, x] :
         {std::tuple{"strain_long", "1  lengthwise", 0.0}, std::tuple{"strain_lat", "2  crosswise", 0.5}}) {
      const QRectF half(box.left() + box.width() * x, box.top(), box.width() / 2, box.height());
      p.setFont(theme::words(11));
      p.setPen(theme::color(Ink::bar_text));
      p.drawText(half.adjusted(12, 8, -4, 0), Qt::AlignLeft | Qt::AlignTop, spoken(label));
      p.setFont(theme::numbers(std::min(24.0, box.width() / 13), QFont::DemiBold));
      p.setPen(theme::temper(0));
      const Rows& rows = s.record.run.rows("stations");
      const bool any = !rows.empty() && rows.back().number(channel).has_value();
      p.drawText(
          half.adjusted(12, 22, -4, -4), Qt::AlignLeft | Qt::AlignVCenter,
          spoken(any ? qs(format_value(draw::last_reading(s.record, channel), Dimension::microstrain, s.units, 4))
                     : QString("– µε")));
    }
  } else {
    caption(p, {strip.center().x(), strip.top() - 62}, "width at the gauges", quiet, 12);
    caption(p, {strip.center().x(), strip.bottom() + 62}, "thickness at the gauges", quiet, 12);
    caption(p, {area.center().x(), area.top() + area.height() * 0.79},
            "transverse sensitivity K_t of both gauges, from the package", quiet, 12);
  }
}

std::vector<Anchor> GaugedStripSketch::anchors(const QRectF& a, const TestRecord&) const {
  if (scene_ != Scene::sizes) return {};
  std::vector<Anchor> out;
  const GaugedPlan s = gauged_plan(a, scene_);
  const double mid = s.strip.center().x(), step = std::max(116.0, s.strip.width() * 0.27);
  for (int i = 0; i < 3; ++i)
    out.push_back({"specimen.section.width", i, {mid + (i - 1) * step, s.strip.top() - 32}, 104});
  for (int i = 0; i < 3; ++i)
    out.push_back({"specimen.section.thickness", i, {mid + (i - 1) * step, s.strip.bottom() + 32}, 104});
  for (int i = 0; i < 2; ++i)
    out.push_back(
        {"specimen.transverse_sensitivity", i, {mid + (i == 0 ? -66.0 : 66.0), a.top() + a.height() * 0.88}, 104});
  return out;
}

}  // namespace fortitor
