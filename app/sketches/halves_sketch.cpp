// The two halves of a broken bar, and the looks of fractures.
#include <QPainterPath>
#include <cmath>

#include "app/sketches/bar_plan.h"
#include "app/sketches/bar_sketches.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"

namespace fortitor {

using bar::BarPlan;
using bar::caption;
using bar::editor_x;
using bar::plan_bar;
using bar::shape_of;
using theme::Ink;

namespace {

struct HalvesPlan {
  BarPlan bar;
  double break_x, m0, m1;
};

HalvesPlan plan_halves(const QRectF& area, const TestRecord& r) {
  HalvesPlan h;
  h.bar = plan_bar(QRectF(area.left(), area.top() - area.height() * 0.02, area.width(), area.height()));
  const double span = h.bar.right - h.bar.left;
  h.m0 = h.bar.left + span * 0.06;
  h.m1 = h.bar.right - span * 0.06;
  const double lu = r.fields.number("specimen.after.gauge_length").value_or(0),
               x = r.fields.number("specimen.after.break_to_mark").value_or(0);
  const double share = lu > 0 && x > 0 ? std::clamp(x / lu, 0.06, 0.94) : 0.44;
  h.break_x = h.m0 + (h.m1 - h.m0) * share;
  return h;
}

}  // namespace

void HalvesSketch::paint(QPainter& p, const QRectF& area, const SketchState& s) const {
  p.setRenderHint(QPainter::Antialiasing);
  const HalvesPlan h = plan_halves(area, s.record);
  const BarPlan& b = h.bar;
  const double cy = b.bar.center().y(), w = b.waist / 2;
  const double neck =
      w * std::sqrt(std::clamp(1 - (s.evaluation && s.evaluation->find("z") ? s.evaluation->find("z")->value : 0.5),
                               0.12, 1.0));
  const std::string look = s.record.fields.text("specimen.after.fracture");
  const double reach = std::min(70.0, (b.right - b.left) * 0.12), gap = 7;
  // The middle third, inside which a break counts without question.
  const double third = (h.m1 - h.m0) / 3;
  p.setPen(Qt::NoPen);
  QColor band = theme::color(Ink::meets);
  band.setAlpha(26);
  p.setBrush(band);
  p.drawRect(QRectF(h.m0 + third, cy - b.head / 2 - 8, third, b.head + 16));
  caption(p, {h.m0 + third * 1.5, cy - b.head / 2 - 16}, "middle third", theme::color(Ink::meets), 11);
  auto half = [&](bool left) {
    const double dir = left ? 1 : -1, tip = h.break_x - dir * gap / 2;
    const double end = left ? b.bar.left() : b.bar.right(), head = end + dir * b.head_width,
                 par = head + dir * b.head * 0.45;
    QPainterPath path(QPointF(end, cy - b.head / 2));
    path.lineTo(head, cy - b.head / 2);
    path.quadTo(head + dir * b.head * 0.15, cy - w, par, cy - w);
    path.lineTo(tip - dir * reach, cy - w);
    path.cubicTo(tip - dir * reach * 0.5, cy - w, tip - dir * reach * 0.35, cy - neck, tip, cy - neck);
    if (look == "shear") {
      path.lineTo(tip + (left ? neck : -neck) * 0.0, cy - neck);
      path.lineTo(tip - dir * neck * 1.2 * (left ? 1 : 1) * (left ? 1 : -1), cy + neck);
    } else if (look == "flat" || look == "other") {
      path.lineTo(tip, cy + neck);
    } else {  // cup on one side, cone on the other
      const double d = (left ? -1 : 1) * neck * 0.7;
      path.lineTo(tip + (left ? d : d * 0.9), cy - neck * 0.45);
      path.lineTo(tip + (left ? d : d * 0.9), cy + neck * 0.45);
      path.lineTo(tip, cy + neck);
    }
    path.cubicTo(tip - dir * reach * 0.35, cy + neck, tip - dir * reach * 0.5, cy + w, tip - dir * reach, cy + w);
    path.lineTo(par, cy + w);
    path.quadTo(head + dir * b.head * 0.15, cy + w, head, cy + b.head / 2);
    path.lineTo(end, cy + b.head / 2);
    path.closeSubpath();
    draw::metal_fill(p, path);
  };
  half(true);
  half(false);
  const QColor quiet = theme::color(Ink::quiet), ink = theme::color(Ink::ink), action = theme::color(Ink::action);
  p.setBrush(ink);
  p.setPen(Qt::NoPen);
  for (double x : {h.m0, h.m1}) p.drawEllipse(QPointF(x, cy - w + 6), 2.6, 2.6);
  const double y0 = cy - b.head / 2 - 34, y1 = cy + b.head / 2 + 40;
  draw::dimension_line(p, {h.m0, y0}, {h.m1, y0}, s.focus == "specimen.after.gauge_length" ? action : quiet);
  p.setPen(QPen(quiet, 0.7, Qt::DotLine));
  for (double x : {h.m0, h.m1}) p.drawLine(QPointF(x, y0), QPointF(x, cy - w));
  const double near = h.break_x - h.m0 < h.m1 - h.break_x ? h.m0 : h.m1;
  draw::dimension_line(p, {near, y1}, {h.break_x, y1}, s.focus == "specimen.after.break_to_mark" ? action : quiet);
  p.setPen(QPen(quiet, 0.7, Qt::DotLine));
  p.drawLine(QPointF(near, y1), QPointF(near, cy + w));
  p.drawLine(QPointF(h.break_x, y1 + 62), QPointF(h.break_x, cy + neck + 4));
}

std::vector<Anchor> HalvesSketch::anchors(const QRectF& area, const TestRecord& r) const {
  const HalvesPlan h = plan_halves(area, r);
  const double cy = h.bar.bar.center().y(), y1 = cy + h.bar.head / 2 + 40;
  std::vector<Anchor> out;
  out.push_back({"specimen.after.gauge_length", 0, {(h.m0 + h.m1) / 2, cy - h.bar.head / 2 - 48}, 116});
  const double centre = std::clamp(h.break_x, area.left() + 130, area.right() - 130);
  if (shape_of(r) == "flat") {
    for (const auto& [name, dy] : {std::pair{"width", 66.0}, std::pair{"thickness", 102.0}})
      for (int i = 0; i < 2; ++i)
        out.push_back({std::string("specimen.after.") + name, i, {centre - 62 + 124 * i, y1 + dy}, 112});
  } else if (shape_of(r) == "round") {
    for (int i = 0; i < 2; ++i) out.push_back({"specimen.after.diameter", i, {centre - 62 + 124 * i, y1 + 76}, 112});
  }
  const double near = h.break_x - h.m0 < h.m1 - h.break_x ? h.m0 : h.m1;
  const double middle = (near + h.break_x) / 2;
  out.push_back(
      {"specimen.after.break_to_mark", 0, {std::clamp(middle, area.left() + 66, area.right() - 66), y1 + 22}, 104});
  return out;
}

bool paint_fracture(QPainter& p, const QRectF& area, const std::string& value) {
  p.setRenderHint(QPainter::Antialiasing);
  const double cx = area.center().x(), cy = area.center().y(), w = area.width() * 0.24, h = area.height() * 0.44;
  const double gap = area.height() * 0.05;
  auto half = [&](bool top, const QPolygonF& edge) {
    QPainterPath path(QPointF(cx - w, top ? cy - h : cy + h));
    for (const QPointF& q : edge) path.lineTo(cx + q.x() * w, cy + q.y() * h + (top ? -gap : gap));
    path.lineTo(cx + w, top ? cy - h : cy + h);
    path.closeSubpath();
    draw::metal_fill(p, path);
  };
  if (value == "cup-and-cone" || value == "partial-cup") {
    const double depth = value == "cup-and-cone" ? 0.34 : 0.18;
    const QPolygonF edge{{-0.8, 0.0}, {-0.45, depth}, {0.45, depth}, {0.8, value == "partial-cup" ? -0.12 : 0.0}};
    half(true, edge);
    half(false, edge);
  } else if (value == "flat") {
    half(true, {{-1, 0}, {1, 0}});
    half(false, {{-1, 0}, {1, 0}});
  } else if (value == "shear") {
    half(true, {{-1, 0.36}, {1, -0.36}});
    half(false, {{-1, 0.36}, {1, -0.36}});
  } else if (value == "star") {
    const QPolygonF edge{{-0.8, 0}, {-0.5, 0.2}, {-0.2, -0.1}, {0, 0.3}, {0.2, -0.1}, {0.5, 0.2}, {0.8, 0}};
    half(true, edge);
    half(false, edge);
  } else {
    const QPolygonF edge{{-1, -0.1}, {-0.3, 0.18}, {0.2, -0.16}, {1, 0.1}};
    half(true, edge);
    half(false, edge);
  }
  return true;
}

}  // namespace fortitor
