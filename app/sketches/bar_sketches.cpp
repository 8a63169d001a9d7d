// Test bar: as measured before the run, and its two halves after it.
#include <QPainterPath>
#include <cmath>

#include "app/sketches/bar_plan.h"
#include "app/sketches/bar_sketches.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "core/section/section.h"

namespace fortitor {
using bar::BarPlan;
using bar::caption;
using bar::editor_x;
using bar::plan_bar;
using bar::shape_of;
using parts::qs;
using theme::Ink;

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
  path.cubicTo(l + head_width + fillet * 0.2, cy - waist / 2 - (head - waist) * 0.1, l + head_width + fillet * 0.5,
               cy - waist / 2, l + head_width + fillet, cy - waist / 2);
  path.lineTo(r - head_width - fillet, cy - waist / 2);
  path.cubicTo(r - head_width - fillet * 0.5, cy - waist / 2, r - head_width - fillet * 0.2,
               cy - waist / 2 - (head - waist) * 0.1, r - head_width, cy - head / 2);
  path.lineTo(r, cy - head / 2);
  path.lineTo(r, cy + head / 2);
  path.lineTo(r - head_width, cy + head / 2);
  path.cubicTo(r - head_width - fillet * 0.2, cy + waist / 2 + (head - waist) * 0.1, r - head_width - fillet * 0.5,
               cy + waist / 2, r - head_width - fillet, cy + waist / 2);
  path.lineTo(l + head_width + fillet, cy + waist / 2);
  path.cubicTo(l + head_width + fillet * 0.5, cy + waist / 2, l + head_width + fillet * 0.2,
               cy + waist / 2 + (head - waist) * 0.1, l + head_width, cy + head / 2);
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
    p.drawLine(QPointF(x, cy + b.waist / 2 + 6), QPointF(x, cy + b.head / 2 + 14));
    p.drawLine(QPointF(x, cy + b.head / 2 + 14), QPointF(editor_x(m0, m1, i, 108), cy + b.head / 2 + 34));
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
    const double w = p.fontMetrics().horizontalAdvance(spoken(name)) + 10;
    const double high = p.fontMetrics().height();
    p.fillRect(QRectF(xa - w - 4, y - high / 2, w, high), theme::color(Ink::sheet));  // over the dotted lines of others
    p.drawText(QRectF(xa - w - 10, y - high / 2, w, high), Qt::AlignRight | Qt::AlignVCenter, spoken(name));
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
    for (int i = 0; i < 3; ++i)
      out.push_back({std::string("specimen.section.") + path, i, {editor_x(m0, m1, i, 108), y}, 108});
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
    int i = 0;  // weighed: one reading each
    for (const FieldSpec& f : section_fields({shape}, Stage::measure))
      if (f.when_value == shape) out.push_back({f.path, 0, {editor_x(m0, m1, i++, 130), row}, 130});
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
  for (const auto& [word, colour] :
       {std::pair{"yellow", "#E0B84C"}, std::pair{"blue", "#2F5D8A"}, std::pair{"red", "#B5452F"},
        std::pair{"green", "#2E7D5B"}, std::pair{"white", "#FBFAF6"}})
    if (marking.contains(word, Qt::CaseInsensitive)) paint = QColor(colour);
  p.setPen(QPen(ink, 1.2));
  p.setBrush(paint);
  p.drawRect(QRectF(bar.left(), bar.top(), 20, head));
  // The tag hangs from the parallel part on a loop of wire.
  const QPointF eye(bar.left() + bar.width() * 0.36, bar.center().y() + head * 0.28);
  const QRectF tag(eye.x() + 26, eye.y() + 30, std::min(290.0, area.right() - eye.x() - 30),
                   std::min(112.0, area.bottom() - eye.y() - 34));
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
    p.drawText(QPointF(x, tag.top() + y),
               p.fontMetrics().elidedText(spoken(text), Qt::ElideRight, int(tag.right() - x - 8)));
  };
  const Fields& f = s.record.fields;
  line(28, qs(f.text("specimen.id")), theme::numbers(20, QFont::Bold), ink);
  line(50, qs(f.text("specimen.material").empty() ? "material not known yet" : f.text("specimen.material")),
       theme::words(14, QFont::DemiBold), ink);
  QStringList more;  // on one line: the tag is low where the form above it is long
  if (!f.text("specimen.family").empty()) more << qs(f.text("specimen.family"));
  if (!f.text("specimen.lot").empty()) more << "lot " + qs(f.text("specimen.lot"));
  line(70, more.join(" · "), theme::words(12), quiet);
  caption(p, {bar.left() + 10, bar.top() - 14}, marking.isEmpty() ? "end" : "", quiet, 11);
  if (!marking.isEmpty()) {
    p.setFont(theme::words(11));
    p.setPen(quiet);
    p.drawText(QPointF(bar.left(), bar.top() - 8), spoken(marking));
  }
}

}  // namespace fortitor
