// Test bar: as measured before the run, and its two halves after it.
#include <QPainterPath>
#include <cmath>

#include "app/sketches/bar_sketches.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"

namespace fortitor {
namespace {

using parts::qs;
using theme::Ink;

std::string shape_of(const TestRecord& r) {
  const std::string s = r.fields.text("specimen.section.shape");
  return s.empty() ? "round" : s;
}

void caption(QPainter& p, QPointF centre, const QString& text, const QColor& colour, double px = 12, int weight = QFont::Medium) {
  p.setFont(theme::words(px, weight));
  p.setPen(colour);
  const double w = p.fontMetrics().horizontalAdvance(text) + 8;
  p.drawText(QRectF(centre.x() - w / 2, centre.y() - px, w, px * 2), Qt::AlignCenter, text);
}

struct BarPlan {
  QRectF bar;
  double head = 0, waist = 0, head_width = 0, left = 0, right = 0;  // parallel part
};

BarPlan plan_bar(const QRectF& area) {
  BarPlan b;
  b.head = std::min(124.0, area.height() * 0.24);
  b.waist = b.head * 0.56;
  b.head_width = area.width() * 0.13;
  b.bar = QRectF(area.left() + 12, area.top() + area.height() * 0.46 - b.head / 2, area.width() - 24, b.head);
  b.left = b.bar.left() + b.head_width + b.head * 0.45;
  b.right = b.bar.right() - b.head_width - b.head * 0.45;
  return b;
}

}  // namespace

namespace draw {

void dimension_line(QPainter& p, QPointF a, QPointF b, const QColor& colour) {
  p.setPen(QPen(colour, 1));
  p.drawLine(a, b);
  const QPointF d = b - a;
  const double l = std::hypot(d.x(), d.y());
  if (l < 1) return;
  const QPointF n(-d.y() / l * 5, d.x() / l * 5);
  p.drawLine(a - n, a + n);
  p.drawLine(b - n, b + n);
}

QPainterPath bar_outline(const QRectF& box, double head, double waist, double head_width) {
  const double cy = box.center().y(), fillet = head * 0.45;
  const double l = box.left(), r = box.right();
  QPainterPath path(QPointF(l, cy - head / 2));
  path.lineTo(l + head_width, cy - head / 2);
  path.cubicTo(l + head_width + fillet * 0.2, cy - waist / 2 - (head - waist) * 0.1, l + head_width + fillet * 0.5, cy - waist / 2, l + head_width + fillet, cy - waist / 2);
  path.lineTo(r - head_width - fillet, cy - waist / 2);
  path.cubicTo(r - head_width - fillet * 0.5, cy - waist / 2, r - head_width - fillet * 0.2, cy - waist / 2 - (head - waist) * 0.1, r - head_width, cy - head / 2);
  path.lineTo(r, cy - head / 2);
  path.lineTo(r, cy + head / 2);
  path.lineTo(r - head_width, cy + head / 2);
  path.cubicTo(r - head_width - fillet * 0.2, cy + waist / 2 + (head - waist) * 0.1, r - head_width - fillet * 0.5, cy + waist / 2, r - head_width - fillet, cy + waist / 2);
  path.lineTo(l + head_width + fillet, cy + waist / 2);
  path.cubicTo(l + head_width + fillet * 0.5, cy + waist / 2, l + head_width + fillet * 0.2, cy + waist / 2 + (head - waist) * 0.1, l + head_width, cy + head / 2);
  path.lineTo(l, cy + head / 2);
  path.closeSubpath();
  return path;
}

void metal_fill(QPainter& p, const QPainterPath& path) {
  p.setRenderHint(QPainter::Antialiasing);
  const QColor steel = theme::dark() ? QColor("#4C5C69") : QColor("#C9CFD1");
  p.setPen(QPen(theme::color(Ink::ink), 1.4));
  p.setBrush(steel);
  p.drawPath(path);
}

}  // namespace draw

void BarSketch::paint(QPainter& p, const QRectF& area, const SketchState& s) const {
  p.setRenderHint(QPainter::Antialiasing);
  const BarPlan b = plan_bar(area);
  draw::metal_fill(p, draw::bar_outline(b.bar, b.head, b.waist, b.head_width));
  const double cy = b.bar.center().y();
  const QColor quiet = theme::color(Ink::quiet), ink = theme::color(Ink::ink), action = theme::color(Ink::action);
  // Knurled heads and a centre line, so that it reads as a turned bar.
  p.setPen(QPen(quiet, 0.8));
  for (int i = 1; i < 6; ++i) {
    const double dx = b.head_width * i / 6.0;
    p.drawLine(QPointF(b.bar.left() + dx, cy - b.head / 2 + 5), QPointF(b.bar.left() + dx, cy + b.head / 2 - 5));
    p.drawLine(QPointF(b.bar.right() - dx, cy - b.head / 2 + 5), QPointF(b.bar.right() - dx, cy + b.head / 2 - 5));
  }
  p.setPen(QPen(quiet, 0.8, Qt::DashDotLine));
  p.drawLine(QPointF(b.bar.left() - 8, cy), QPointF(b.bar.right() + 8, cy));

  // Gauge marks and the three measured places.
  const double span = b.right - b.left, m0 = b.left + span * 0.10, m1 = b.right - span * 0.10;
  p.setBrush(ink);
  p.setPen(Qt::NoPen);
  for (double x : {m0, m1}) p.drawEllipse(QPointF(x, cy - b.waist / 2 + 6), 2.6, 2.6);
  const std::string shape = shape_of(s.record);
  for (int i = 0; i < 3; ++i) {
    const double x = m0 + (m1 - m0) * (0.12 + 0.38 * i);
    const bool focus = s.focus.find("specimen.section.") == 0 && s.focus_index == i;
    p.setPen(QPen(focus ? action : ink, focus ? 2.4 : 1.1));
    p.drawLine(QPointF(x, cy - b.waist / 2 - 6), QPointF(x, cy + b.waist / 2 + 6));
    p.drawLine(QPointF(x, cy + b.waist / 2 + 6), QPointF(x, cy + b.head / 2 + 34));
    caption(p, QPointF(x, cy - b.waist / 2 - 18), QString::number(i + 1), focus ? action : quiet, 12, QFont::DemiBold);
  }
  const double y0 = cy - b.head / 2 - 26, y1 = y0 - 44, y2 = y1 - 44;
  auto length = [&](double y, double xa, double xb, const char* path, const char* name) {
    const bool focus = s.focus == path;
    draw::dimension_line(p, {xa, y}, {xb, y}, focus ? action : quiet);
    p.setPen(QPen(quiet, 0.7, Qt::DotLine));
    p.drawLine(QPointF(xa, y), QPointF(xa, cy - b.waist / 2));
    p.drawLine(QPointF(xb, y), QPointF(xb, cy - b.waist / 2));
    p.setFont(theme::words(12));
    p.setPen(focus ? action : quiet);
    const double w = p.fontMetrics().horizontalAdvance(name) + 10;
    p.fillRect(QRectF(xa - w - 4, y - 9, w, 18), theme::color(Ink::sheet));  // over the dotted lines of the others
    p.drawText(QRectF(xa - 176, y - 10, 166, 20), Qt::AlignRight | Qt::AlignVCenter, name);
  };
  length(y2, b.left, b.right, "specimen.parallel_length", "parallel length");
  length(y1, m0 + span * 0.03, m1 - span * 0.03, "specimen.extensometer_length", "extensometer length");
  length(y0, m0, m1, "specimen.gauge_length", "gauge length L₀");
}

std::vector<Anchor> BarSketch::anchors(const QRectF& area, const TestRecord& r) const {
  const BarPlan b = plan_bar(area);
  const double cy = b.bar.center().y(), span = b.right - b.left;
  const double m0 = b.left + span * 0.10, m1 = b.right - span * 0.10;
  const double row = cy + b.head / 2 + (shape_of(r) == "round" ? 48 : 80), y0 = cy - b.head / 2 - 26;
  std::vector<Anchor> out;
  const std::string shape = shape_of(r);
  auto three = [&](const char* path, double y) {
    for (int i = 0; i < 3; ++i) out.push_back({std::string("specimen.section.") + path, i, {m0 + (m1 - m0) * (0.12 + 0.38 * i), y}, 108});
  };
  if (shape == "round") {
    three("diameter", row);
  } else if (shape == "flat") {
    three("width", row - 32);
    three("thickness", row + 4);
  } else if (shape == "tube") {
    three("outer", row - 32);
    three("wall", row + 4);
    three("inner", row + 40);
  } else {
    for (const auto& [name, x] : {std::pair{"mass", 0.12}, std::pair{"length", 0.5}, std::pair{"density", 0.88}})
      out.push_back({std::string("specimen.section.") + name, 0, {m0 + (m1 - m0) * x, row}, 130});
  }
  out.push_back({"specimen.gauge_length", 0, {(m0 + m1) / 2, y0}, 104});
  out.push_back({"specimen.extensometer_length", 0, {(m0 + m1) / 2, y0 - 44}, 104});
  out.push_back({"specimen.parallel_length", 0, {(m0 + m1) / 2, y0 - 88}, 104});
  return out;
}

void TaggedBarSketch::paint(QPainter& p, const QRectF& area, const SketchState& s) const {
  p.setRenderHint(QPainter::Antialiasing);
  const double head = std::min(64.0, area.height() * 0.34);
  const QRectF bar(area.left() + 10, area.top() + area.height() * 0.30 - head / 2, area.width() - 20, head);
  draw::metal_fill(p, draw::bar_outline(bar, head, head * 0.56, area.width() * 0.13));
  const QColor ink = theme::color(Ink::ink), quiet = theme::color(Ink::quiet);
  // A colour in the marking is painted on the end, as in the rack.
  const QString marking = qs(s.record.fields.text("specimen.marking"));
  QColor paint = quiet;
  for (const auto& [word, colour] : {std::pair{"yellow", "#E0B84C"}, std::pair{"blue", "#2F5D8A"}, std::pair{"red", "#B5452F"},
                                     std::pair{"green", "#2E7D5B"}, std::pair{"white", "#FBFAF6"}})
    if (marking.contains(word, Qt::CaseInsensitive)) paint = QColor(colour);
  p.setPen(QPen(ink, 1.2));
  p.setBrush(paint);
  p.drawRect(QRectF(bar.left(), bar.top(), 20, head));
  // The tag hangs from the parallel part on a loop of wire.
  const QPointF eye(bar.left() + bar.width() * 0.36, bar.center().y() + head * 0.28);
  const QRectF tag(eye.x() + 26, eye.y() + 30, std::min(290.0, area.right() - eye.x() - 30), std::min(112.0, area.bottom() - eye.y() - 34));
  p.setBrush(Qt::NoBrush);
  p.setPen(QPen(quiet, 1.4));
  QPainterPath wire(eye);
  wire.cubicTo(eye + QPointF(-16, 40), tag.topLeft() + QPointF(-26, -6), tag.topLeft() + QPointF(12, tag.height() / 2));
  p.drawPath(wire);
  QPainterPath paper(QPointF(tag.left() + 18, tag.top()));
  paper.lineTo(tag.topRight());
  paper.lineTo(tag.bottomRight());
  paper.lineTo(tag.left() + 18, tag.bottom());
  paper.lineTo(tag.left(), tag.bottom() - 18);
  paper.lineTo(tag.left(), tag.top() + 18);
  paper.closeSubpath();
  p.setPen(QPen(ink, 1.2));
  p.setBrush(theme::dark() ? QColor("#3A3524") : QColor("#F4E7BF"));
  p.drawPath(paper);
  p.setBrush(theme::color(Ink::sheet));
  p.drawEllipse(tag.topLeft() + QPointF(12, tag.height() / 2), 4, 4);
  const double x = tag.left() + 32;
  auto line = [&](double y, const QString& text, const QFont& font, const QColor& colour) {
    p.setFont(font);
    p.setPen(colour);
    p.drawText(QPointF(x, tag.top() + y), p.fontMetrics().elidedText(text, Qt::ElideRight, int(tag.right() - x - 8)));
  };
  const Fields& f = s.record.fields;
  line(28, qs(f.text("specimen.id")), theme::numbers(20, QFont::Bold), ink);
  line(50, qs(f.text("specimen.material").empty() ? "material not known yet" : f.text("specimen.material")), theme::words(14, QFont::DemiBold), ink);
  line(70, qs(f.text("specimen.family")), theme::words(12), quiet);
  line(90, f.text("specimen.lot").empty() ? QString() : "lot " + qs(f.text("specimen.lot")), theme::words(12), quiet);
  caption(p, {bar.left() + 10, bar.top() - 14}, marking.isEmpty() ? "end" : "", quiet, 11);
  if (!marking.isEmpty()) {
    p.setFont(theme::words(11));
    p.setPen(quiet);
    p.drawText(QPointF(bar.left(), bar.top() - 8), marking);
  }
}

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
  const double lu = r.fields.number("specimen.after.gauge_length").value_or(0), x = r.fields.number("specimen.after.break_to_mark").value_or(0);
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
  const double neck = w * std::sqrt(std::clamp(1 - (s.evaluation && s.evaluation->find("z") ? s.evaluation->find("z")->value : 0.5), 0.12, 1.0));
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
    const double end = left ? b.bar.left() : b.bar.right(), head = end + dir * b.head_width, par = head + dir * b.head * 0.45;
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
      for (int i = 0; i < 2; ++i) out.push_back({std::string("specimen.after.") + name, i, {centre - 62 + 124 * i, y1 + dy}, 112});
  } else if (shape_of(r) == "round") {
    for (int i = 0; i < 2; ++i) out.push_back({"specimen.after.diameter", i, {centre - 62 + 124 * i, y1 + 76}, 112});
  }
  const double near = h.break_x - h.m0 < h.m1 - h.break_x ? h.m0 : h.m1;
  const double middle = (near + h.break_x) / 2;
  out.push_back({"specimen.after.break_to_mark", 0, {std::clamp(middle, area.left() + 66, area.right() - 66), y1 + 22}, 104});
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
