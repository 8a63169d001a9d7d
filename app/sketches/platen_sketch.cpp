#include <cmath>

#include "app/sketches/bar_plan.h"
#include "app/sketches/piece_sketches.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"

namespace fortitor {
namespace {

using bar::caption;
using parts::qs;
using theme::Ink;

// Side of a piece that is shortened by `share`: barrelled when solid, folded when thin. `x` is the half
// width, `t` runs from 0 at the top to 1 at the bottom.
double side(bool shell, double half, double share, double t) {
  if (!shell) return half * (1 + 0.9 * share * (1 - std::pow(2 * t - 1, 2)));
  const double folded = std::min(1.0, share * 1.4);
  if (t > folded) return half;  // folds form from the top down
  return half * (1 + 0.16 * std::sin(t / std::max(0.08, folded) * folded * 46));
}

QPainterPath body(bool shell, QPointF top, double half, double height, double share) {
  QPainterPath path;
  constexpr int n = 60;
  const double now = height * (1 - share);
  for (int i = 0; i <= n; ++i) {
    const double t = double(i) / n;
    const QPointF at(top.x() - side(shell, half, share, t), top.y() + t * now);
    i == 0 ? path.moveTo(at) : path.lineTo(at);
  }
  for (int i = n; i >= 0; --i) {
    const double t = double(i) / n;
    path.lineTo(top.x() + side(shell, half, share, t), top.y() + t * now);
  }
  path.closeSubpath();
  return path;
}

void platen(QPainter& p, const QRectF& r) {
  p.setPen(QPen(theme::color(Ink::ink), 1.4));
  p.setBrush(draw::steel().darker(108));
  p.drawRoundedRect(r, 3, 3);
}

QColor skin(bool shell) {
  return shell ? draw::steel().lighter(104) : theme::temper(1).lighter(theme::dark() ? 90 : 116);
}

double height_of(const TestRecord& r) {
  for (const Reading& x : r.fields.readings("specimen.height"))
    if (x.value) return *x.value;
  return 0;
}

}  // namespace

void PlatenSketch::paint(QPainter& p, const QRectF& a, const SketchState& s) const {
  p.setRenderHint(QPainter::Antialiasing);
  const bool detail = a.width() > 240;
  const QColor quiet = theme::color(Ink::quiet);
  const bool sizes = scene_ == Scene::sizes, run = s.machine != nullptr;
  const double height = std::min(a.height() * (run ? 0.44 : 0.46), a.width() * 0.9),
               half = std::min(a.width() * (run ? 0.22 : 0.1), height * (shell_ ? 0.32 : 0.27));
  const double foot = a.top() + a.height() * (sizes ? 0.76 : 0.78), x = a.center().x();
  double share = 0, gap = run ? 14 : 0;
  const double true_height = height_of(s.record);
  if (run && true_height > 0) {
    const double travel = std::max(0.0, s.machine->reading("crosshead") - 2.0);
    share = std::clamp(travel / true_height, 0.0, 0.8);
    gap = std::max(0.0, gap * (1 - s.machine->reading("crosshead") / 2.0));
    if (!s.machine->top_grip) gap = 26;
  }
  if (scene_ == Scene::broken && s.record.run.has_samples()) share = shell_ ? 0.55 : 0.22;
  const double top = foot - height * (1 - share);
  p.setPen(QPen(theme::color(Ink::ink), 1.5));
  p.setBrush(skin(shell_));
  const bool placed = !run || s.machine->top_grip || s.record.run.has_samples();
  if (placed) p.drawPath(body(shell_, {x, top}, half, height, share));
  if (placed && shell_ && detail) {  // the rim of a tube
    p.setBrush(theme::color(Ink::sheet));
    p.drawEllipse(QPointF(x, top), half, 5);
  }
  if (placed && !shell_ && detail && share == 0) {
    p.setPen(QPen(theme::temper(1).darker(120), 0.8));
    if (s.record.fields.text("specimen.species").size() > 0)
      for (double d : {-0.5, -0.15, 0.2, 0.55}) {
        const bool across = s.record.fields.text("settings.grain") == "perpendicular";
        if (across)
          p.drawLine(QPointF(x - half, top + height * (0.5 + d * 0.8)),
                     QPointF(x + half, top + height * (0.5 + d * 0.8)));
        else
          p.drawLine(QPointF(x + d * half * 1.6, top), QPointF(x + d * half * 1.6, foot));
      }
  }
  const double wide = std::max(half * 2.8, 90.0);
  if (!sizes || detail) {
    platen(p, QRectF(x - wide / 2, top - gap - 20, wide, 20));
    platen(p, QRectF(x - wide / 2, foot, wide, 20));
    if (!sizes) draw::load_arrow(p, {x, top - gap - 22}, 26, theme::color(Ink::ink));
  }
  if (sizes) {
    caption(p, {a.left() + a.width() * 0.22, a.top() + 22}, "height, at three places", quiet, 12);
    caption(p, {a.right() - a.width() * 0.22, a.top() + 22}, shell_ ? "outer diameter" : "section", quiet, 12);
    draw::dimension_line(p, {x - half - 26, top}, {x - half - 26, foot}, quiet);
  }
  if (scene_ == Scene::broken && !shell_)
    caption(p, {a.right() - 90, (top + foot) / 2 - 28}, "largest width", quiet, 12);
}

std::vector<Anchor> PlatenSketch::anchors(const QRectF& a, const TestRecord& r) const {
  std::vector<Anchor> out;
  if (scene_ == Scene::broken && !shell_)
    out.push_back({"specimen.after.diameter", 0, {a.right() - 90, a.top() + a.height() * 0.6}, 112});
  if (scene_ != Scene::sizes) return out;
  const double left = a.left() + a.width() * 0.22, right = a.right() - a.width() * 0.22, y0 = a.top() + 54, dy = 40;
  const std::string shape = bar::shape_of(r);
  auto column = [&](const std::string& path, int n, double x, double from) {
    for (int i = 0; i < n; ++i) out.push_back({path, i, {x, from + i * dy}, 112});
  };
  column("specimen.height", shell_ ? 1 : 3, left, y0);
  if (shape == "round") column("specimen.section.diameter", 3, right, y0);
  if (shape == "flat") {
    column("specimen.section.width", 3, right, y0);
    column("specimen.section.thickness", 3, right, y0 + 3 * dy + 26);
  }
  if (shape == "tube") {
    column("specimen.section.outer", 3, right, y0);
    column("specimen.section.wall", 3, right, y0 + 3 * dy + 26);
  }
  return out;
}

bool paint_block_failure(QPainter& p, const QRectF& r, const std::string& value) {
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  const double half = r.width() * 0.22, h = r.height() * 0.86;
  const QPointF top(r.center().x(), r.top() + r.height() * 0.07);
  p.setPen(QPen(theme::color(Ink::ink), 1.3));
  p.setBrush(skin(false));
  p.drawPath(body(false, top, half, h / (value == "barrelled" ? 0.7 : 1), value == "barrelled" ? 0.3 : 0));
  p.setPen(QPen(theme::color(Ink::fails), 2.2));
  const double x = top.x(), y = top.y();
  if (value == "shear") p.drawLine(QPointF(x - half, y + h * 0.75), QPointF(x + half, y + h * 0.25));
  if (value == "crushed")
    for (double s : {0.42, 0.5, 0.58})
      p.drawPolyline(QPolygonF({QPointF(x - half, y + h * s), QPointF(x - half / 3, y + h * s - 3),
                                QPointF(x + half / 3, y + h * s + 3), QPointF(x + half, y + h * s)}));
  if (value == "split")
    for (double s : {-0.4, 0.1, 0.5}) p.drawLine(QPointF(x + s * half, y + 4), QPointF(x + s * half, y + h - 4));
  if (value == "buckled") {
    QPainterPath bow(QPointF(x, y));
    bow.quadTo(QPointF(x + half * 2, y + h / 2), QPointF(x, y + h));
    p.setBrush(Qt::NoBrush);
    p.drawPath(bow);
  }
  p.restore();
  return true;
}

bool paint_shell_failure(QPainter& p, const QRectF& r, const std::string& value) {
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  const double half = r.width() * 0.24, h = r.height() * 0.86, x = r.center().x(), y = r.top() + r.height() * 0.07;
  p.setPen(QPen(theme::color(Ink::ink), 1.3));
  p.setBrush(skin(true));
  if (value == "tilt") {
    p.translate(x, y + h);
    p.rotate(14);
    p.translate(-x, -y - h);
  }
  p.drawPath(body(true, {x, y}, half, h / (value == "none" ? 1 : 0.75),
                  value == "none"    ? 0
                  : value == "rings" ? 0.25
                                     : 0.0001));
  p.setPen(QPen(theme::color(Ink::fails), 1.8));
  if (value == "diamonds")
    for (int row = 0; row < 3; ++row)
      for (double d : {-0.5, 0.5}) {
        const QPointF c(x + d * half, y + h * (0.25 + 0.25 * row));
        p.drawPolyline(QPolygonF(
            {c + QPointF(-7, 0), c + QPointF(0, -6), c + QPointF(7, 0), c + QPointF(0, 6), c + QPointF(-7, 0)}));
      }
  if (value == "burst")
    p.drawPolyline(QPolygonF(
        {QPointF(x, y + 3), QPointF(x - 4, y + h * 0.3), QPointF(x + 3, y + h * 0.6), QPointF(x, y + h - 3)}));
  p.restore();
  return true;
}

}  // namespace fortitor
