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

struct Plan2d {
  double left, right, y, depth;  // supports and mid-plane of the unbent beam
};

Plan2d plan_of(const QRectF& a, Scene scene) {
  const double depth = std::clamp(a.height() * (scene == Scene::sizes ? 0.14 : 0.1), 12.0, 44.0);
  const double margin = std::max(34.0, a.width() * 0.09);
  const double y = a.top() + a.height() * (scene == Scene::sizes ? 0.38 : scene == Scene::broken ? 0.34 : 0.42);
  return {a.left() + margin, a.right() - margin, y, depth};
}

double span_line(const QRectF& a) {
  return a.top() + a.height() * 0.78;
}

// Where the load heads stand, as shares of the span.
std::vector<double> heads(const TestRecord& r) {
  const std::string loading = r.fields.text("specimen.loading");
  if (loading == "third-point") return {1.0 / 3, 2.0 / 3};
  if (loading == "quarter-point") return {0.25, 0.75};
  return {0.5};
}

// Sag as drawn: the true one is too small to see, so it is drawn fifteen times, within the paper.
double sag_px(const TestRecord& r, const Plan2d& s, double most) {
  const double span = r.fields.number("specimen.span").value_or(0);
  if (!(span > 0)) return 0;
  const double sag = draw::last_reading(r, "deflection") / span * (s.right - s.left) * 3;
  return std::clamp(sag, 0.0, most);
}

double sag_at(double x, double sag) {  // x: −0.1 … 1.1 of the span
  if (x < 0 || x > 1) return -3.2 * sag * (x < 0 ? -x : x - 1);
  return sag * std::sin(x * 3.14159265);
}

QPainterPath beam_path(const Plan2d& s, double sag, double from, double to, double thick) {
  QPainterPath top, path;
  constexpr int n = 40;
  auto at = [&](int i, double off) {
    const double x = from + (to - from) * i / n;
    return QPointF(s.left + x * (s.right - s.left), s.y + sag_at(x, sag) + off);
  };
  path.moveTo(at(0, -thick / 2));
  for (int i = 1; i <= n; ++i) path.lineTo(at(i, -thick / 2));
  for (int i = n; i >= 0; --i) path.lineTo(at(i, thick / 2));
  path.closeSubpath();
  return path;
}

void grain(QPainter& p, const Plan2d& s, double sag, double from, double to) {
  p.setBrush(Qt::NoBrush);
  p.setPen(QPen(theme::temper(1).darker(120), 0.9));
  for (double share : {-0.28, -0.05, 0.2}) {
    QPainterPath line;
    for (int i = 0; i <= 30; ++i) {
      const double x = from + (to - from) * i / 30;
      const QPointF at(s.left + x * (s.right - s.left),
                       s.y + sag_at(x, sag) + share * s.depth + 1.6 * std::sin(i * 0.8 + share * 20));
      i == 0 ? line.moveTo(at) : line.lineTo(at);
    }
    p.drawPath(line);
  }
}

void dial(QPainter& p, QPointF stem, const QString& text) {
  p.setPen(QPen(theme::color(Ink::ink), 1.4));
  p.drawLine(stem, stem + QPointF(0, 18));
  p.setBrush(theme::color(Ink::sheet));
  p.drawEllipse(stem + QPointF(0, 36), 18, 18);
  p.setPen(QPen(theme::color(Ink::action), 1.6));
  p.drawLine(stem + QPointF(0, 36), stem + QPointF(8, 27));
  if (!text.isEmpty()) {
    p.setFont(theme::numbers(12, QFont::DemiBold));
    p.setPen(theme::color(Ink::ink));
    p.drawText(QRectF(stem.x() + 24, stem.y() + 26, 120, 20), Qt::AlignVCenter, spoken(text));
  }
}

}  // namespace

namespace draw {

double last_reading(const TestRecord& record, const std::string& channel) {
  for (const auto& [id, rows] : record.run.tables)
    for (auto it = rows.rbegin(); it != rows.rend(); ++it)
      if (const auto v = it->number(channel)) return *v;
  return 0;
}

QColor steel() {
  return theme::dark() ? QColor("#4C5C69") : QColor("#C9CFD1");
}

QColor wood() {
  return theme::temper(1).lighter(theme::dark() ? 90 : 116);
}

void support(QPainter& p, QPointF tip, double size, bool detail) {
  p.setPen(Qt::NoPen);
  p.setBrush(theme::color(Ink::ink));
  p.drawPolygon(QPolygonF({tip, tip + QPointF(-size * 0.6, size), tip + QPointF(size * 0.6, size)}));
  if (!detail) return;
  p.setPen(QPen(theme::color(Ink::quiet), 1));
  for (int i = -3; i <= 3; ++i)
    p.drawLine(tip + QPointF(i * size * 0.28, size + 2), tip + QPointF(i * size * 0.28 - 6, size + 8));
}

void load_arrow(QPainter& p, QPointF tip, double length, const QColor& colour) {
  p.setPen(QPen(colour, 3));
  p.drawLine(tip - QPointF(0, length), tip - QPointF(0, 8));
  p.setPen(Qt::NoPen);
  p.setBrush(colour);
  p.drawPolygon(QPolygonF({tip, tip + QPointF(-7, -11), tip + QPointF(7, -11)}));
}

}  // namespace draw

void BeamSketch::paint(QPainter& p, const QRectF& area, const SketchState& s) const {
  p.setRenderHint(QPainter::Antialiasing);
  const TestRecord& r = s.record;
  const bool detail = area.width() > 340 && area.height() > 150;
  const Plan2d plan = plan_of(area, scene_);
  const bool broken = scene_ == Scene::broken &&
                      (!r.fields.readings("specimen.after.broke_between").empty() ||
                       r.fields.text("specimen.after.fracture").size() > 0) &&
                      r.fields.text("specimen.after.fracture") != "none";
  const double sag = scene_ == Scene::sizes ? 0 : sag_px(r, plan, area.height() * 0.16);
  const QColor edge = theme::temper(2);
  const double over = 0.05;
  if (broken) {
    // Two halves that lie in a shallow vee, the break jagged on the tension side.
    const double dip = area.height() * 0.12;
    auto half = [&](bool left) {
      QPainterPath path;
      const double mid = (plan.left + plan.right) / 2, out = left ? plan.left - over * (plan.right - plan.left)
                                                                  : plan.right + over * (plan.right - plan.left);
      const double sign = left ? -1 : 1, t = plan.depth / 2;
      path.moveTo(out, plan.y - t);
      path.lineTo(mid + sign * 3, plan.y - t + dip);
      path.lineTo(mid + sign * 10, plan.y - t * 0.3 + dip);
      path.lineTo(mid - sign * 14, plan.y + t * 0.2 + dip);
      path.lineTo(mid + sign * 26, plan.y + t * 0.55 + dip);
      path.lineTo(mid + sign * 12, plan.y + t + dip);
      path.lineTo(out, plan.y + t);
      path.closeSubpath();
      return path;
    };
    p.setPen(QPen(edge, 1.6));
    p.setBrush(draw::wood());
    p.drawPath(half(true));
    p.drawPath(half(false));
  } else {
    p.setPen(QPen(edge, 1.6));
    p.setBrush(draw::wood());
    p.drawPath(beam_path(plan, sag, -over, 1 + over, plan.depth));
    if (detail) grain(p, plan, sag, -over, 1 + over);
  }
  const double foot = plan.y + plan.depth / 2;
  for (double x : {plan.left, plan.right}) draw::support(p, {x, foot + 1}, detail ? 22 : 14, detail);
  const double load = draw::last_reading(r, "force");
  if (!broken && scene_ != Scene::sizes)
    for (double h : heads(r)) {
      const double x = plan.left + h * (plan.right - plan.left), y = plan.y + sag_at(h, sag) - plan.depth / 2 - 2;
      draw::load_arrow(p, {x, y}, detail ? 40 : 22, theme::color(Ink::ink));
      if (load > 0 && h == heads(r).front())
        bar::caption(p, {x + 54, y - (detail ? 30 : 16)}, qs(format_value(load, Dimension::force, s.units, 4)),
                     theme::color(Ink::ink), 13, QFont::DemiBold);
    }
  if (scene_ == Scene::piece && detail) {
    const double deflection = draw::last_reading(r, "deflection");
    dial(p, {(plan.left + plan.right) / 2, plan.y + sag + plan.depth / 2 + 2},
         deflection > 0 ? qs(format_value(deflection, Dimension::length, s.units, 4)) : QString());
  }
  const double span_y = scene_ == Scene::sizes ? span_line(area) : foot + (detail ? 74 : 34);
  if (span_y < area.bottom()) {
    draw::dimension_line(p, {plan.left, span_y}, {plan.right, span_y}, theme::color(Ink::quiet));
    const double span = r.fields.number("specimen.span").value_or(0);
    if (scene_ != Scene::sizes && span > 0 && scene_ != Scene::broken)
      caption(p, {plan.left + 70, span_y - 12}, "span " + qs(format_value(span, Dimension::length, s.units, 4)),
              theme::color(Ink::quiet), 12);
  }
  if (scene_ == Scene::sizes) {
    caption(p, {plan.left - 4, plan.y - plan.depth / 2 - 48}, "h", theme::color(Ink::action), 15, QFont::DemiBold);
    caption(p, {plan.left - 4, plan.y + plan.depth / 2 + 48}, "b", theme::color(Ink::action), 15, QFont::DemiBold);
    const double mid = (plan.left + plan.right) / 2;
    for (double h : heads(r))
      draw::load_arrow(p, {plan.left + h * (plan.right - plan.left), plan.y - plan.depth / 2 - 2}, 26,
                       theme::color(Ink::quiet));
    caption(p, {mid, plan.y - plan.depth / 2 - 78}, "depth, in the direction of the load", theme::color(Ink::quiet),
            12);
    caption(p, {mid, plan.y + plan.depth / 2 + 78}, "width, across the load", theme::color(Ink::quiet), 12);
  }
  if (scene_ == Scene::broken) {
    const double y = area.top() + area.height() * 0.72, mid = area.center().x();
    caption(p, {mid - 110, y - 26}, "last load that held", theme::color(Ink::quiet), 12);
    caption(p, {mid + 110, y - 26}, "first load not reached", theme::color(Ink::quiet), 12);
    p.setPen(QPen(theme::color(Ink::quiet), 1.4));
    p.drawLine(QPointF(mid - 24, y), QPointF(mid + 24, y));
  }
}

std::vector<Anchor> BeamSketch::anchors(const QRectF& a, const TestRecord&) const {
  std::vector<Anchor> out;
  const Plan2d s = plan_of(a, scene_);
  if (scene_ == Scene::sizes) {
    const double step = std::max(0.3 * (s.right - s.left), 116.0), mid = (s.left + s.right) / 2;
    for (int i = 0; i < 3; ++i)
      out.push_back({"specimen.depth", i, {mid + (i - 1) * step, s.y - s.depth / 2 - 48}, 104});
    for (int i = 0; i < 3; ++i)
      out.push_back({"specimen.width", i, {mid + (i - 1) * step, s.y + s.depth / 2 + 48}, 104});
    out.push_back({"specimen.span", 0, {mid, span_line(a)}, 112});
  }
  if (scene_ == Scene::broken) {
    const double y = a.top() + a.height() * 0.72, mid = a.center().x();
    out.push_back({"specimen.after.broke_between", 0, {mid - 110, y}, 120});
    out.push_back({"specimen.after.broke_between", 1, {mid + 110, y}, 120});
  }
  return out;
}

bool paint_beam_break(QPainter& p, const QRectF& r, const std::string& value) {
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  const double y = r.center().y(), t = r.height() * 0.34;
  const QRectF body(r.left(), y - t / 2, r.width(), t);
  p.setPen(QPen(theme::temper(2), 1.4));
  p.setBrush(draw::wood());
  p.drawRect(body);
  p.setPen(QPen(theme::color(Ink::ink), 2));
  const double mid = r.center().x();
  auto line = [&](std::initializer_list<QPointF> points) { p.drawPolyline(QPolygonF(QList<QPointF>(points))); };
  if (value == "tension")
    line({{mid, body.bottom()}, {mid - 3, y + 2}, {mid + 4, y - 4}});
  else if (value == "splinter")
    line({{mid - 16, body.bottom()},
          {mid - 8, y + 4},
          {mid - 12, y + 2},
          {mid + 6, y - 2},
          {mid, y - 4},
          {mid + 16, y - 6}});
  else if (value == "brash")
    line({{mid, body.top()}, {mid, body.bottom()}});
  else if (value == "cross-grain")
    line({{mid - 22, body.bottom()}, {mid + 22, body.top()}});
  else if (value == "compression") {
    for (int i = 0; i < 3; ++i)
      line(
          {{mid - 6 + 5.0 * i, body.top()}, {mid - 9 + 5.0 * i, body.top() + 5}, {mid - 4 + 5.0 * i, body.top() + 10}});
  } else if (value == "shear")
    line({{mid - 4, y}, {body.right(), y + 1}});
  p.restore();
  return true;
}

}  // namespace fortitor
