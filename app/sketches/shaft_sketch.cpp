#include <cmath>
#include <numbers>

#include "app/sketches/bar_plan.h"
#include "app/sketches/bench_sketches.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"

namespace fortitor {
namespace {

using bar::caption;
using parts::qs;
using theme::Ink;

struct ShaftPlan {
  QRectF bar, left_chuck, right_chuck;
};

ShaftPlan plan_of(const QRectF& a, Scene scene) {
  const double h = std::clamp(a.height() * 0.2, 26.0, 72.0);
  const double y = a.top() + a.height() * (scene == Scene::piece ? 0.45 : 0.36);
  const double chuck = std::clamp(a.width() * 0.11, 30.0, 76.0);
  ShaftPlan s;
  s.left_chuck = QRectF(a.left() + 6, y - h * 0.95, chuck, h * 1.9);
  s.right_chuck = QRectF(a.right() - 6 - chuck, y - h * 0.95, chuck, h * 1.9);
  s.bar = QRectF(s.left_chuck.right(), y - h / 2, s.right_chuck.left() - s.left_chuck.right(), h);
  return s;
}

void chuck(QPainter& p, const QRectF& r, bool detail) {
  p.setPen(QPen(theme::color(Ink::ink), 1.4));
  p.setBrush(draw::steel().darker(112));
  p.drawRoundedRect(r, 5, 5);
  if (!detail) return;
  p.setPen(QPen(theme::color(Ink::ink), 1));
  for (double share : {0.25, 0.5, 0.75})
    p.drawLine(QPointF(r.left() + 6, r.top() + share * r.height()),
               QPointF(r.right() - 6, r.top() + share * r.height()));
}

// The line along the bar after `angle` of twist between the ends: in front solid, behind faint.
void winding(QPainter& p, const QRectF& bar, double angle) {
  const QColor ink = theme::temper(2);
  QColor faint = ink;
  faint.setAlpha(60);
  const int n = int(std::clamp(std::abs(angle) * 24, 60.0, 1200.0));
  QPointF last;
  for (int i = 0; i <= n; ++i) {
    const double x = double(i) / n, phi = angle * x;
    const QPointF at(bar.left() + x * bar.width(), bar.center().y() - 0.5 * bar.height() * std::sin(phi));
    if (i > 0) {
      p.setPen(QPen(std::cos(phi) >= 0 ? ink : faint, 2));
      p.drawLine(last, at);
    }
    last = at;
  }
}

}  // namespace

void ShaftSketch::paint(QPainter& p, const QRectF& area, const SketchState& s) const {
  p.setRenderHint(QPainter::Antialiasing);
  const ShaftPlan plan = plan_of(area, scene_);
  const bool detail = area.width() > 340;
  const QColor ink = theme::color(Ink::ink), quiet = theme::color(Ink::quiet);
  const TestRecord& r = s.record;
  double angle = draw::last_reading(r, "angle");
  const std::string fracture = r.fields.text("specimen.after.fracture");
  const bool broken = scene_ == Scene::broken && !fracture.empty() && fracture != "none";
  if (scene_ == Scene::broken) angle = r.fields.number("specimen.after.angle").value_or(angle);
  if (scene_ == Scene::sizes) angle = 0;
  const QRectF& b = plan.bar;
  p.setPen(QPen(ink, 1.4));
  p.setBrush(theme::temper(0).lighter(theme::dark() ? 80 : 118));
  p.drawRect(b);
  p.setPen(QPen(theme::color(Ink::sheet), 2));
  p.drawLine(b.topLeft() + QPointF(0, b.height() * 0.2), b.topRight() + QPointF(0, b.height() * 0.2));
  winding(p, b, angle);
  if (detail && scene_ == Scene::piece) {  // gauge at 45°
    p.save();
    p.translate(b.center().x() - b.width() * 0.22, b.center().y());
    p.rotate(-45);
    p.setPen(QPen(theme::temper(5), 1.4));
    p.setBrush(theme::color(Ink::sheet));
    p.drawRect(QRectF(-13, -6, 26, 12));
    for (double y : {-3.0, 0.0, 3.0}) p.drawLine(QPointF(-9, y), QPointF(9, y));
    p.restore();
  }
  if (broken) {
    const double mid = fracture == "at-chuck" ? b.left() + 8 : b.center().x();
    p.setPen(Qt::NoPen);
    p.setBrush(theme::color(Ink::sheet));
    QPolygonF gap;
    if (fracture == "helical")
      gap << QPointF(mid - b.height() * 0.6, b.bottom() + 2) << QPointF(mid - b.height() * 0.6 + 10, b.bottom() + 2)
          << QPointF(mid + b.height() * 0.6 + 10, b.top() - 2) << QPointF(mid + b.height() * 0.6, b.top() - 2);
    else
      gap << QPointF(mid - 5, b.top() - 2) << QPointF(mid + 5, b.top() - 2) << QPointF(mid + 5, b.bottom() + 2)
          << QPointF(mid - 5, b.bottom() + 2);
    p.drawPolygon(gap);
  }
  chuck(p, plan.left_chuck, detail);
  chuck(p, plan.right_chuck, detail);
  if (scene_ == Scene::piece) {
    // The turning arrow on the right chuck, with where it stands.
    const QRectF c = plan.right_chuck;
    p.setPen(QPen(theme::color(Ink::action), 2.4));
    p.setBrush(Qt::NoBrush);
    p.drawArc(QRectF(c.center().x() - 18, c.top() - 24, 36, 26), 20 * 16, 150 * 16);
    p.setBrush(theme::color(Ink::action));
    p.setPen(Qt::NoPen);
    const QPointF tip(c.center().x() + 18, c.top() - 10);
    p.drawPolygon(QPolygonF({tip + QPointF(0, 6), tip + QPointF(-6, -4), tip + QPointF(5, -4)}));
    if (r.run.row_count() > 0) {
      caption(p, {c.center().x() - 30, c.bottom() + 18}, qs(format_value(angle, Dimension::angle, s.units, 4)), ink, 13,
              QFont::DemiBold);
      const double torque = draw::last_reading(r, "torque");
      if (torque > 0)
        caption(p, {plan.left_chuck.center().x() + 26, plan.left_chuck.bottom() + 18},
                qs(format_value(torque, Dimension::torque, s.units, 4)), ink, 13, QFont::DemiBold);
    }
    if (detail && angle > 2 * std::numbers::pi)
      caption(p, {b.center().x(), b.bottom() + 26},
              qs(fixed(angle / from_unit(1, "rev", Dimension::angle), 1)) + " turns", quiet, 12);
  }
  if (scene_ == Scene::sizes) {
    caption(p, {b.center().x(), b.top() - 66}, "diameter, along the twisted length", quiet, 12);
    const double y = b.bottom() + 40;
    draw::dimension_line(p, {b.left(), y}, {b.right(), y}, quiet);
    caption(p, {b.center().x(), area.bottom() - 66}, "bore, of a tube", quiet, 12);
  }
  if (scene_ == Scene::broken) {
    const double y = area.top() + area.height() * 0.74;
    caption(p, {area.center().x() - 110, y - 28}, "angle at the end", quiet, 12);
    caption(p, {area.center().x() + 110, y - 28}, "largest torque", quiet, 12);
  }
}

std::vector<Anchor> ShaftSketch::anchors(const QRectF& a, const TestRecord&) const {
  std::vector<Anchor> out;
  const ShaftPlan s = plan_of(a, scene_);
  const double mid = s.bar.center().x();
  if (scene_ == Scene::sizes) {
    const double step = std::max(116.0, s.bar.width() * 0.3);
    for (int i = 0; i < 3; ++i) out.push_back({"specimen.diameter", i, {mid + (i - 1) * step, s.bar.top() - 34}, 104});
    out.push_back({"specimen.length", 0, {mid, s.bar.bottom() + 40}, 112});
    for (int i = 0; i < 2; ++i)
      out.push_back({"specimen.inner", i, {mid + (i == 0 ? -62.0 : 62.0), a.bottom() - 34}, 104});
  }
  if (scene_ == Scene::broken) {
    const double y = a.top() + a.height() * 0.74;
    out.push_back({"specimen.after.angle", 0, {mid - 110, y}, 120});
    out.push_back({"specimen.after.torque_max", 0, {mid + 110, y}, 120});
  }
  return out;
}

void TorsionBenchSketch::paint(QPainter& p, const QRectF& area, const SketchState& s) const {
  p.setRenderHint(QPainter::Antialiasing);
  const QColor ink = theme::color(Ink::ink), quiet = theme::color(Ink::quiet);
  const double y = area.top() + area.height() * 0.4, h = std::clamp(area.height() * 0.1, 20.0, 44.0);
  p.setPen(QPen(ink, 1.4));
  p.setBrush(draw::steel());
  p.drawRect(QRectF(area.left() + 10, y + h * 1.5, area.width() - 20, 14));  // bed
  const double w = area.width();
  const QRectF motor(area.left() + 20, y - h * 1.5, w * 0.2, h * 3),
      cell(area.right() - 20 - w * 0.16, y - h * 1.2, w * 0.16, h * 2.4);
  p.setBrush(draw::steel().darker(110));
  p.drawRoundedRect(motor, 5, 5);
  p.setBrush(draw::steel());
  p.drawRoundedRect(cell, 5, 5);
  const QRectF left(motor.right(), y - h, w * 0.08, h * 2), right(cell.left() - w * 0.08, y - h, w * 0.08, h * 2);
  chuck(p, left, true);
  chuck(p, right, true);
  p.setBrush(theme::temper(0));
  p.setPen(QPen(ink, 1.4));
  p.drawRect(QRectF(left.right(), y - h * 0.35, right.left() - left.right(), h * 0.7));
  caption(p, {motor.center().x(), motor.center().y()}, "drive", ink, 13, QFont::DemiBold);
  caption(p, {cell.center().x(), cell.center().y()}, "cell", ink, 13, QFont::DemiBold);
  caption(p, {cell.center().x() - 20, area.top() + area.height() * 0.66}, "torque cell, rating", quiet, 12);
  if (s.plan != nullptr)
    for (const Advice& a : s.plan->advice)
      if (a.dimension == Dimension::torque)
        caption(p, {area.center().x(), area.top() + 16}, qs(a.why), theme::color(Ink::near), 12);
}

std::vector<Anchor> TorsionBenchSketch::anchors(const QRectF& a, const TestRecord&) const {
  return {{"equipment.torque_cell.capacity",
           0,
           {a.right() - 20 - a.width() * 0.08 - 20, a.top() + a.height() * 0.73},
           120}};
}

bool paint_shaft_break(QPainter& p, const QRectF& r, const std::string& value) {
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  const double t = r.height() * 0.4, y = r.center().y(), mid = r.center().x();
  p.setPen(QPen(theme::color(Ink::ink), 1.3));
  p.setBrush(theme::temper(0));
  p.drawRect(QRectF(r.left(), y - t / 2, r.width(), t));
  p.setPen(QPen(theme::color(Ink::sheet), 5));
  if (value == "flat") p.drawLine(QPointF(mid, y - t / 2 - 1), QPointF(mid, y + t / 2 + 1));
  if (value == "helical") p.drawLine(QPointF(mid - t * 0.6, y + t / 2 + 1), QPointF(mid + t * 0.6, y - t / 2 - 1));
  if (value == "fibrous")
    for (double d : {-0.25, 0.0, 0.25}) {
      p.setPen(QPen(theme::color(Ink::sheet), 2));
      p.drawLine(QPointF(mid - 18, y + d * t), QPointF(mid + 18, y + d * t + 3));
    }
  if (value == "at-chuck") {
    p.drawLine(QPointF(r.left() + 16, y - t / 2 - 1), QPointF(r.left() + 16, y + t / 2 + 1));
    p.setPen(QPen(theme::color(Ink::ink), 1.3));
    p.setBrush(draw::steel());
    p.drawRect(QRectF(r.left(), y - t * 0.8, 12, t * 1.6));
  }
  p.restore();
  return true;
}

}  // namespace fortitor
