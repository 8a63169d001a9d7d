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

struct StripPlan {
  QRectF whole, middle;  // middle: between fillets or tabs
};

StripPlan plan_of(const QRectF& a, Scene scene, bool tabs) {
  StripPlan s;
  const double h = std::clamp(a.height() * 0.2, 30.0, 92.0);
  const double y = a.top() + a.height() * (scene == Scene::sizes ? 0.38 : 0.42);
  s.whole = QRectF(a.left() + 14, y - h / 2, a.width() - 28, h);
  const double end = s.whole.width() * (tabs ? 0.2 : 0.26), waist = tabs ? h : h * 0.5;
  s.middle = QRectF(s.whole.left() + end, y - waist / 2, s.whole.width() - 2 * end, waist);
  return s;
}

QColor plastic() {
  return theme::temper(6).lighter(theme::dark() ? 80 : 118);
}
QColor laminate() {
  return theme::dark() ? QColor("#39424B") : QColor("#55606B");
}

QPainterPath outline(const StripPlan& s, bool tabs) {
  QPainterPath path;
  if (tabs) {
    path.addRect(s.whole);
    return path;
  }
  const double r = s.middle.width() * 0.1;
  const QRectF &w = s.whole, &m = s.middle;
  path.moveTo(w.topLeft());
  path.lineTo(m.left() - r, w.top());
  path.cubicTo(QPointF(m.left() - r * 0.4, w.top()), QPointF(m.left() - r * 0.3, m.top()), QPointF(m.left(), m.top()));
  path.lineTo(m.topRight());
  path.cubicTo(QPointF(m.right() + r * 0.3, m.top()), QPointF(m.right() + r * 0.4, w.top()),
               QPointF(m.right() + r, w.top()));
  path.lineTo(w.topRight());
  path.lineTo(w.bottomRight());
  path.lineTo(m.right() + r, w.bottom());
  path.cubicTo(QPointF(m.right() + r * 0.4, w.bottom()), QPointF(m.right() + r * 0.3, m.bottom()),
               QPointF(m.right(), m.bottom()));
  path.lineTo(m.bottomLeft());
  path.cubicTo(QPointF(m.left() - r * 0.3, m.bottom()), QPointF(m.left() - r * 0.4, w.bottom()),
               QPointF(m.left() - r, w.bottom()));
  path.lineTo(w.bottomLeft());
  path.closeSubpath();
  return path;
}

void weave(QPainter& p, const QRectF& r, const QColor& ink) {
  p.save();
  p.setClipRect(r);
  p.setPen(QPen(ink, 0.8));
  for (double x = r.left() - r.height(); x < r.right(); x += 9) {
    p.drawLine(QPointF(x, r.bottom()), QPointF(x + r.height(), r.top()));
    p.drawLine(QPointF(x, r.top()), QPointF(x + r.height(), r.bottom()));
  }
  p.restore();
}

}  // namespace

void StripPieceSketch::paint(QPainter& p, const QRectF& area, const SketchState& s) const {
  p.setRenderHint(QPainter::Antialiasing);
  const StripPlan plan = plan_of(area, scene_, tabs_);
  const bool detail = area.width() > 340;
  const QColor ink = theme::color(Ink::ink), quiet = theme::color(Ink::quiet);
  p.setPen(QPen(ink, 1.5));
  p.setBrush(tabs_ ? laminate() : plastic());
  p.drawPath(outline(plan, tabs_));
  if (tabs_) {
    if (detail) weave(p, plan.middle, theme::dark() ? QColor("#5A6570") : QColor("#78838E"));
    p.setBrush(theme::temper(0).lighter(theme::dark() ? 80 : 120));
    p.setPen(QPen(ink, 1.2));
    const double bevel = 16;
    for (bool left : {true, false}) {
      const double out = left ? plan.whole.left() : plan.whole.right(),
                   in = left ? plan.middle.left() : plan.middle.right(), d = left ? -bevel : bevel;
      p.drawPolygon(QPolygonF({QPointF(out, plan.whole.top()), QPointF(in + d, plan.whole.top()),
                               QPointF(in, plan.whole.center().y()), QPointF(in + d, plan.whole.bottom()),
                               QPointF(out, plan.whole.bottom())}));
    }
  }
  const bool broken = scene_ == Scene::broken && s.record.run.has_samples();
  if (broken) {
    const std::string where = s.record.fields.text("specimen.after.failure.area"),
                      place = s.record.fields.text("specimen.after.failure.place");
    const QRectF& m = plan.middle;
    double x = m.center().x();
    if (where == "A" || where == "I") x = place == "B" ? m.right() : m.left();
    if (where == "I") x += place == "B" ? 18 : -18;
    if (where == "W") x = place == "B" ? m.right() - m.height() : m.left() + m.height();
    if (where == "G" && place == "T") x = m.left() + m.width() * 0.3;
    if (where == "G" && place == "B") x = m.right() - m.width() * 0.3;
    p.setPen(QPen(theme::color(Ink::sheet), 9));
    QPolygonF crack;
    for (int i = 0; i <= 6; ++i)
      crack << QPointF(x + (i % 2 ? 6 : -6), plan.whole.top() - 4 + (plan.whole.height() + 8) * i / 6.0);
    p.drawPolyline(crack);
    p.setPen(QPen(theme::color(Ink::fails), 1.4));
    p.drawPolyline(crack.translated(-5, 0));
    p.drawPolyline(crack.translated(5, 0));
  }
  if (scene_ == Scene::sizes) {
    const double mid = plan.middle.center().x();
    caption(p, {mid, plan.whole.top() - 66}, "width of the narrow part", quiet, 12);
    caption(p, {mid, plan.whole.bottom() + 66}, "thickness at the same places", quiet, 12);
    const double y = plan.whole.bottom() + 112;
    draw::dimension_line(p, {plan.middle.left(), y}, {plan.middle.right(), y}, quiet);
    caption(p, {plan.middle.left() + 60, y - 14}, tabs_ ? "between the tabs" : "between the grips", quiet, 12);
  } else if (detail && scene_ == Scene::piece) {
    const std::string print = s.record.fields.text("specimen.print.direction"),
                      layup = s.record.fields.text("specimen.layup");
    if (!print.empty() && print != "none")
      caption(p, {plan.middle.center().x(), plan.whole.bottom() + 22}, "printed, direction " + qs(print), quiet, 12);
    if (!layup.empty()) caption(p, {plan.middle.center().x(), plan.whole.bottom() + 22}, qs(layup), quiet, 12);
    p.setPen(QPen(ink, 2));
    for (bool left : {true, false}) {  // pull
      const double x = left ? plan.whole.left() - 2 : plan.whole.right() + 2, d = left ? -10 : 10;
      p.drawLine(QPointF(x, plan.whole.center().y()), QPointF(x + d, plan.whole.center().y()));
    }
  }
}

std::vector<Anchor> StripPieceSketch::anchors(const QRectF& a, const TestRecord&) const {
  if (scene_ != Scene::sizes) return {};
  std::vector<Anchor> out;
  const StripPlan s = plan_of(a, scene_, tabs_);
  const double mid = s.middle.center().x(), step = std::max(116.0, s.middle.width() * 0.34);
  for (int i = 0; i < 3; ++i)
    out.push_back({"specimen.section.width", i, {mid + (i - 1) * step, s.whole.top() - 34}, 104});
  for (int i = 0; i < 3; ++i)
    out.push_back({"specimen.section.thickness", i, {mid + (i - 1) * step, s.whole.bottom() + 34}, 104});
  out.push_back({"specimen.grip_separation", 0, {mid, s.whole.bottom() + 112}, 112});
  return out;
}

bool paint_dumbbell_break(QPainter& p, const QRectF& r, const std::string& value) {
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  const double y = r.center().y(), t = r.height() * 0.3, mid = r.center().x();
  p.setPen(QPen(theme::color(Ink::ink), 1.3));
  p.setBrush(plastic());
  if (value == "yielded") {
    QPainterPath path(QPointF(r.left(), y - t / 2));
    path.cubicTo(QPointF(mid - 16, y - t / 2), QPointF(mid - 18, y - t / 6), QPointF(mid - 10, y - t / 6));
    path.lineTo(mid + 10, y - t / 6);
    path.cubicTo(QPointF(mid + 18, y - t / 6), QPointF(mid + 16, y - t / 2), QPointF(r.right(), y - t / 2));
    path.lineTo(r.right(), y + t / 2);
    path.cubicTo(QPointF(mid + 16, y + t / 2), QPointF(mid + 18, y + t / 6), QPointF(mid + 10, y + t / 6));
    path.lineTo(mid - 10, y + t / 6);
    path.cubicTo(QPointF(mid - 18, y + t / 6), QPointF(mid - 16, y + t / 2), QPointF(r.left(), y + t / 2));
    path.closeSubpath();
    p.drawPath(path);
  } else {
    p.drawRect(QRectF(r.left(), y - t / 2, r.width(), t));
  }
  p.setPen(QPen(theme::color(Ink::sheet), 4));
  if (value == "brittle") p.drawLine(QPointF(mid, y - t / 2 - 2), QPointF(mid, y + t / 2 + 2));
  if (value == "whitened") {
    QColor white = theme::color(Ink::sheet);
    white.setAlpha(150);
    p.fillRect(QRectF(mid - 9, y - t / 2 + 1, 18, t - 2), white);
    p.drawLine(QPointF(mid, y - t / 2 - 2), QPointF(mid, y + t / 2 + 2));
  }
  if (value == "yielded") p.drawLine(QPointF(mid, y - t / 3), QPointF(mid, y + t / 3));
  if (value == "at-grip") {
    p.drawLine(QPointF(r.left() + 15, y - t / 2 - 2), QPointF(r.left() + 15, y + t / 2 + 2));
    p.setPen(QPen(theme::color(Ink::ink), 1.2));
    p.setBrush(draw::steel());
    p.drawRect(QRectF(r.left(), y - t * 0.75, 12, t * 1.5));
  }
  p.restore();
  return true;
}

bool paint_laminate_failure(QPainter& p, const QRectF& r, const std::string& path, const std::string& value) {
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  // The strip stands upright, as it hangs in the grips.
  const double w = r.width() * 0.34, x = r.center().x();
  const QRectF strip(x - w / 2, r.top(), w, r.height()), top(strip.left(), r.top(), w, r.height() * 0.22),
      bottom(strip.left(), r.bottom() - r.height() * 0.22, w, r.height() * 0.22);
  p.setPen(QPen(theme::color(Ink::ink), 1.1));
  p.setBrush(laminate());
  p.drawRect(strip);
  p.setBrush(theme::temper(0).lighter(theme::dark() ? 80 : 120));
  p.drawRect(top);
  p.drawRect(bottom);
  const QPen crack(theme::color(Ink::fails), 2.4);
  p.setPen(crack);
  const double mid = r.center().y(), gap = mid - top.bottom();
  auto across = [&](double y) { p.drawLine(QPointF(strip.left() - 3, y), QPointF(strip.right() + 3, y)); };
  if (path.find(".type") != std::string::npos) {
    if (value == "L") across(mid);
    if (value == "A") p.drawLine(QPointF(strip.left() - 2, mid + 8), QPointF(strip.right() + 2, mid - 8));
    if (value == "S") p.drawLine(QPointF(x, top.bottom() + 2), QPointF(x, bottom.top() - 2));
    if (value == "D")
      for (double e : {strip.left() + 3, strip.right() - 3})
        p.drawLine(QPointF(e, top.bottom() + 4), QPointF(e, bottom.top() - 4));
    if (value == "X")
      for (int i = 0; i < 8; ++i)
        p.drawLine(QPointF(x + 4 * std::cos(i * 0.785), mid + 4 * std::sin(i * 0.785)),
                   QPointF(x + 13 * std::cos(i * 0.785), mid + 13 * std::sin(i * 0.785)));
    if (value == "G") {
      p.setBrush(theme::color(Ink::sheet));
      p.drawRect(top.translated(7, -1));
    }
    if (value == "M") {
      across(mid - 6);
      p.drawLine(QPointF(x, mid), QPointF(x, bottom.top() - 2));
    }
  } else if (path.find(".area") != std::string::npos) {
    if (value == "G") across(mid);
    if (value == "W") across(top.bottom() + gap * 0.35);
    if (value == "A") across(top.bottom());
    if (value == "I") across(top.center().y());
    if (value == "M") {
      across(mid);
      across(top.bottom());
    }
    if (value == "V")
      for (double s : {0.2, 0.6, 1.2}) across(top.bottom() + gap * s);
  } else {
    if (value == "T") across(top.bottom() + gap * 0.5);
    if (value == "M") across(mid);
    if (value == "B") across(bottom.top() - gap * 0.5);
    if (value == "L") p.drawLine(QPointF(strip.left() + 3, mid - 9), QPointF(strip.left() + 3, mid + 9));
    if (value == "R") p.drawLine(QPointF(strip.right() - 3, mid - 9), QPointF(strip.right() - 3, mid + 9));
    if (value == "V")
      for (double s : {0.3, 1.0, 1.6}) across(top.bottom() + gap * s);
  }
  if (value == "U" || value == "O") {
    p.setFont(theme::words(14, QFont::Bold));
    p.drawText(strip, Qt::AlignCenter, "?");
  }
  p.restore();
  return true;
}

}  // namespace fortitor
