#include "app/sketches/plate_sketches.h"

#include <algorithm>
#include <cmath>

#include "app/sketches/bench_sketches.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "core/methods/compression_after_impact/compression_after_impact.h"
#include "core/methods/drop_impact/drop_impact.h"
#include "core/quantity/format.h"
#include "core/section/section.h"

namespace fortitor {
namespace {

using parts::qs;
using theme::Ink;

QColor carbon() {
  return theme::dark() ? QColor("#59626B") : QColor("#C9CFD3");
}

// Weave of the outermost ply, faintly, at 45°.
void plate_face(QPainter& p, const QRectF& r) {
  p.save();
  p.setPen(QPen(theme::color(Ink::ink), 1.4));
  p.setBrush(carbon());
  p.drawRoundedRect(r, 2, 2);
  p.setClipRect(r.adjusted(1, 1, -1, -1));
  QColor thread = theme::color(Ink::ink);
  thread.setAlpha(18);
  p.setPen(QPen(thread, 1));
  for (double x = r.left() - r.height(); x < r.right(); x += 7)
    p.drawLine(QPointF(x, r.bottom()), QPointF(x + r.height(), r.top()));
  p.restore();
}

void plate_caption(QPainter& p, const QPointF& at, const QString& text, const QColor& tone, double size = 12,
                   int weight = QFont::Normal) {
  p.setFont(theme::words(size, weight));
  p.setPen(tone);
  p.drawText(QRectF(at.x() - 160, at.y() - 10, 320, 20), Qt::AlignCenter, spoken(text));
}

double tower_half(const QRectF& a) {
  return std::min(a.width() * 0.21, 92.0);
}

// `below`: room under the plate for its readings or its name, px.
constexpr double kBelowSizes = 176;  // px under the plate for its readings

QRectF one_plate(const QRectF& a, double below) {
  const double w = std::clamp((a.height() - below) * 1.5, 60.0, a.width() * 0.62), h = w / 1.5;
  return {a.center().x() - w / 2, a.top() + 26, w, h};
}

}  // namespace

void PlateSketch::paint(QPainter& p, const QRectF& a, const SketchState& s) const {
  p.setRenderHint(QPainter::Antialiasing);
  const QRectF r = one_plate(a, view_ == View::sizes ? kBelowSizes * std::min(1.35, theme::scale()) : 96);
  const QColor quiet = theme::color(Ink::quiet);
  plate_face(p, r);
  const double mm = r.width() / 150;
  if (gauged_) {
    // Loaded along its length; pairs of gauges 25 mm from top and sides.
    for (double side : {-1.0, 1.0}) {
      const QPointF g(r.left() + 25 * mm, r.center().y() + side * 25 * mm);
      p.setPen(QPen(theme::color(Ink::ink), 1));
      p.setBrush(theme::temper(0));
      p.drawRect(QRectF(g.x() - 7, g.y() - 4, 14, 8));
    }
    if (view_ == View::piece) plate_caption(p, {r.left() + 25 * mm, r.top() - 12}, "gauges back to back", quiet);
  } else {
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(quiet, 1, Qt::DashLine));
    p.drawRect(QRectF(r.center().x() - 62.5 * mm, r.center().y() - 37.5 * mm, 125 * mm, 75 * mm));
    plate_caption(p, {r.center().x(), r.top() - 12}, "cut-out of the base, 125 × 75 mm", quiet);
  }
  const QPointF c = r.center();
  p.setPen(QPen(theme::temper(2), 1.6));
  p.drawLine(c - QPointF(9, 0), c + QPointF(9, 0));
  p.drawLine(c - QPointF(0, 9), c + QPointF(0, 9));
  if (gauged_ || view_ == View::crushed) {
    p.setBrush(Qt::NoBrush);
    p.drawEllipse(c, 11 * mm, 8 * mm);
  }
  if (view_ == View::crushed && !s.record.fields.text("specimen.failure").empty()) {
    const std::string mode = s.record.fields.text("specimen.failure");
    p.setPen(QPen(theme::color(Ink::fails), 2.4, Qt::SolidLine, Qt::RoundCap));
    const double x = mode == "end" ? r.left() + 6 * mm : mode == "edge" ? r.left() + 45 * mm : c.x();
    QPolygonF crack;
    const int steps = 18;
    for (int i = 0; i <= steps; ++i) {
      const double t = double(i) / steps;
      crack << QPointF(x + (i % 2 != 0 ? 3 : -3) * mm * (mode == "buckled" ? 0.4 : 1), r.top() + t * r.height());
    }
    p.drawPolyline(crack);
  }
  if (view_ == View::piece) {
    plate_caption(p, {r.center().x(), r.bottom() + 18}, "150 mm", quiet);
    p.save();
    p.translate(r.right() + 18, r.center().y());
    p.rotate(90);
    plate_caption(p, {0, 0}, "100 mm", quiet);
    p.restore();
    plate_caption(p, {r.center().x(), r.bottom() + 44}, qs(s.record.fields.text("specimen.id")), theme::color(Ink::ink),
                  16, QFont::DemiBold);
    return;
  }
  if (view_ == View::crushed)
    return plate_caption(p, {r.center().x(), r.bottom() + 22}, "loaded along its length", quiet);
  for (const Anchor& at : anchors(a, s.record)) {
    if (at.index != 0) continue;
    const QString name = at.path == "specimen.thickness" ? "thickness t"
                         : at.path == "specimen.width"   ? "width w"
                                                         : "length L";
    plate_caption(p, {at.at.x(), at.at.y() - 26 * std::min(1.35, theme::scale())}, name, quiet);
  }
}

std::vector<Anchor> PlateSketch::anchors(const QRectF& a, const TestRecord&) const {
  std::vector<Anchor> out;
  if (view_ != View::sizes) return out;
  const QRectF r = one_plate(a, kBelowSizes * std::min(1.35, theme::scale()));
  const double large = std::min(1.35, theme::scale());  // as the editors grow
  const double step = std::min(112.0 * large, (a.width() - 30) / 4.2);
  const int thick = gauged_ ? 3 : 4;
  double y = r.bottom() + 40 * large;
  for (int i = 0; i < thick; ++i)
    out.push_back({"specimen.thickness", i, {a.center().x() + (i - (thick - 1) / 2.0) * step, y}, 96});
  y += 64 * large;
  if (gauged_) {
    for (int i = 0; i < 3; ++i) out.push_back({"specimen.width", i, {a.center().x() + (i - 1) * step, y}, 96});
  } else {
    out.push_back({"specimen.length", 0, {a.center().x() - step / 2, y}, 96});
    out.push_back({"specimen.width", 0, {a.center().x() + step / 2, y}, 96});
  }
  return out;
}

void DropTowerSketch::paint(QPainter& p, const QRectF& a, const SketchState& s) const {
  p.setRenderHint(QPainter::Antialiasing);
  const QColor ink = theme::color(Ink::ink), quiet = theme::color(Ink::quiet);
  const bool small = a.width() < 240, run = s.machine != nullptr;
  const double half = small ? std::min(a.width() * 0.3, 92.0) : tower_half(a),
               x = small ? a.center().x() : a.left() + half + 18;
  const double foot = a.bottom() - (small ? 26 : 54), head = a.top() + 22;
  p.setPen(QPen(ink, 1.3));
  p.setBrush(draw::steel());
  p.drawRect(QRectF(x - half - 14, foot, 2 * half + 28, 14));
  p.drawRect(QRectF(x - half - 14, head - 12, 2 * half + 28, 12));
  p.setPen(QPen(quiet, 3));
  for (double side : {-1.0, 1.0}) p.drawLine(QPointF(x + side * half, head), QPointF(x + side * half, foot));
  // Plate on its base, four clamps when it is held.
  p.setPen(QPen(ink, 1.2));
  p.setBrush(carbon());
  p.drawRect(QRectF(x - half * 0.62, foot - 7, half * 1.24, 7));
  const bool clamped = !run || s.machine->top_grip || s.record.run.has_samples();
  p.setBrush(clamped ? theme::temper(1) : theme::color(Ink::sheet));
  for (double side : {-1.0, 1.0}) p.drawRect(QRectF(x + side * half * 0.56 - 5, foot - 18, 10, 11));
  const bool up = !run ? true : s.machine->neck_place > 0.5;
  const bool falling = run && s.machine->state == MachineState::running;
  const double span = foot - head;
  const double bottom = falling ? foot - span * 0.4 : up ? foot - span * 0.74 : foot - 16;
  // The mass: carriage, weight, striker with its round nose.
  p.setPen(QPen(ink, 1.3));
  p.setBrush(theme::temper(5));
  const double w = half * 1.1, h = std::max(22.0, span * 0.1);
  p.drawRoundedRect(QRectF(x - w / 2, bottom - h - 22, w, h), 3, 3);
  p.setBrush(draw::steel());
  p.drawRect(QRectF(x - half - 4, bottom - h - 30, 2 * half + 8, 8));
  QPainterPath nose;
  nose.moveTo(x - 7, bottom - 22);
  nose.lineTo(x - 7, bottom - 7);
  nose.arcTo(QRectF(x - 7, bottom - 14, 14, 14), 180, 180);
  nose.lineTo(x + 7, bottom - 22);
  nose.closeSubpath();
  p.drawPath(nose);
  const auto mass = s.record.fields.number("specimen.mass"), height = s.record.fields.number("settings.drop_height");
  p.setPen(Qt::white);
  p.setFont(theme::numbers(small ? 10 : 12, QFont::DemiBold));
  if (mass)
    p.drawText(QRectF(x - w / 2, bottom - h - 22, w, h), Qt::AlignCenter,
               spoken(qs(format_value(*mass, Dimension::mass, s.units, 3))));
  if (small) {
    plate_caption(p, {x, a.bottom() - 6}, falling ? "falls" : up ? "locked above" : "down", quiet, 11);
    return;
  }
  draw::dimension_line(p, {x + half + 26, bottom}, {x + half + 26, foot - 7}, ink);
  const double right = x + half + 46, room = a.right() - right - 8;
  double y = a.top() + 148;
  auto fact = [&](const QString& name, const QString& value) {
    p.setFont(theme::words(12));
    p.setPen(quiet);
    p.drawText(QRectF(right, y, room, 18), Qt::AlignLeft | Qt::AlignVCenter, spoken(name));
    p.setFont(theme::numbers(18, QFont::DemiBold));
    p.setPen(ink);
    p.drawText(QRectF(right, y + 17, room, 26), Qt::AlignLeft | Qt::AlignVCenter, spoken(value));
    y += 52;
  };
  const Dim thickness = dimension_of(s.record.fields, "specimen.thickness", "t", "thickness");
  const double target = drop::target_of(s.record.fields, thickness.mean);
  if (target > 0) fact("energy asked for", qs(format_value(target, Dimension::energy, s.units, 4)));
  if (mass && height) {
    fact("this mass and height",
         qs(format_value(*mass * drop::kGravity * *height * 1e-6, Dimension::energy, s.units, 4)));
    fact("speed at contact", qs(format_value(std::sqrt(2 * drop::kGravity * *height), Dimension::speed, s.units, 3)));
  }
  for (const Anchor& at : anchors(a, s.record)) {
    p.setFont(theme::words(12));
    p.setPen(quiet);
    p.drawText(QRectF(at.at.x() - at.width / 2, at.at.y() - 36, 160, 18), Qt::AlignLeft | Qt::AlignVCenter,
               spoken(at.path == "specimen.mass" ? "falling mass m" : "height of the drop H"));
  }
  plate_caption(p, {x, foot + 30}, "nobody under the mass, ever", theme::color(Ink::fails), 12, QFont::Medium);
}

std::vector<Anchor> DropTowerSketch::anchors(const QRectF& a, const TestRecord& record) const {
  if (a.width() < 240 || record.fields.text("settings.way") == "indentation") return {};
  const double x = a.left() + 2 * tower_half(a) + 18 + 46 + 60;
  return {{"specimen.mass", 0, {x, a.top() + 40}, 120}, {"settings.drop_height", 0, {x, a.top() + 106}, 120}};
}

void PlateFixtureSketch::paint(QPainter& p, const QRectF& a, const SketchState& s) const {
  p.setRenderHint(QPainter::Antialiasing);
  const QColor ink = theme::color(Ink::ink), quiet = theme::color(Ink::quiet);
  const double h = std::min(a.height() * 0.5, a.width() * 1.05), w = h / 1.5, x = a.center().x(), top = a.top() + 34;
  const QRectF plate(x - w / 2, top, w, h);
  p.setPen(QPen(ink, 1.3));
  p.setBrush(draw::steel());
  p.drawRect(QRectF(x - w * 0.75, top - 14, w * 1.5, 14));
  p.drawRect(QRectF(x - w * 0.75, top + h, w * 1.5, 14));
  for (double side : {-1.0, 1.0}) p.drawRect(QRectF(x + side * (w / 2 + 5) - 4, top + 8, 8, h - 16));
  plate_face(p, plate);
  p.setPen(QPen(theme::temper(2), 1.6));
  p.setBrush(Qt::NoBrush);
  p.drawEllipse(plate.center(), w * 0.11, w * 0.08);
  const double mm = h / 150;
  const char* names[2][2] = {{"strain_front_1", "strain_back_1"}, {"strain_front_2", "strain_back_2"}};
  for (int k = 0; k < 2; ++k) {
    const QPointF g(plate.center().x() + (k == 0 ? -1 : 1) * 25 * mm, plate.top() + 25 * mm);
    double front = NAN, back = NAN;
    if (s.machine != nullptr) {
      front = std::abs(s.machine->reading(names[k][0]));
      back = std::abs(s.machine->reading(names[k][1]));
    }
    const double bend = front + back > 40e-6 ? cai::bending_of(front, back) : NAN;
    const QColor tone = std::isnan(bend)                       ? quiet
                        : std::abs(bend) <= cai::kBendingLimit ? theme::color(Ink::meets)
                                                               : theme::color(Ink::fails);
    p.setPen(QPen(ink, 1));
    p.setBrush(std::isnan(bend) ? theme::temper(0) : tone);
    p.drawRect(QRectF(g.x() - 4, g.y() - 7, 8, 14));
    // Which side carries more, by how much; what its screws want.
    const double room = a.width() / 2 - 2;
    const QPointF words(a.left() + a.width() * (k == 0 ? 0.25 : 0.75), top + h + 40);
    p.setFont(theme::words(11));
    p.setPen(quiet);
    p.drawText(QRectF(words.x() - room / 2, words.y() - 10, room, 16), Qt::AlignCenter,
               spoken(k == 0 ? "left pair" : "right pair"));
    p.setFont(theme::numbers(19, QFont::Bold));
    p.setPen(tone);
    p.drawText(QRectF(words.x() - room / 2, words.y() + 6, room, 26), Qt::AlignCenter,
               spoken(std::isnan(bend) ? QString("–") : QString::number(std::abs(bend), 'f', 1) + " %"));
    p.setFont(theme::words(11, QFont::Medium));
    if (std::isnan(bend)) continue;
    const QString advice = std::abs(bend) <= cai::kBendingLimit ? QString("✓ below 10 %")
                           : bend > 0                           ? QString("front out: ") + (k == 0 ? "1" : "3")
                                                                : QString("back out: ") + (k == 0 ? "2" : "4");
    p.drawText(QRectF(words.x() - room / 2, words.y() + 32, room, 18), Qt::AlignCenter, spoken(advice));
  }
}

bool paint_plate_failure(QPainter& p, const QRectF& a, const std::string& mode) {
  p.setRenderHint(QPainter::Antialiasing);
  const double h = std::min(a.height() * 0.86, a.width() * 1.2), w = h / 1.5;
  const QRectF r(a.center().x() - w / 2, a.center().y() - h / 2, w, h);
  p.setPen(QPen(theme::color(Ink::ink), 1.2));
  p.setBrush(carbon());
  if (mode == "buckled") {  // seen from the edge: bowed out between its ends
    QPainterPath bow;
    bow.moveTo(r.center().x() - 3, r.top());
    bow.quadTo(r.center().x() + w * 0.7, r.center().y(), r.center().x() - 3, r.bottom());
    bow.lineTo(r.center().x() + 3, r.bottom());
    bow.quadTo(r.center().x() + w * 0.7 + 6, r.center().y(), r.center().x() + 3, r.top());
    bow.closeSubpath();
    p.drawPath(bow);
    return true;
  }
  p.drawRect(r);
  p.setBrush(Qt::NoBrush);
  p.setPen(QPen(theme::temper(3), 1.2));
  p.drawEllipse(r.center(), w * 0.14, w * 0.11);
  auto crack = [&](double y, double from, double to) {
    p.setPen(QPen(theme::color(Ink::fails), 2));
    QPolygonF line;
    for (int i = 0; i <= 8; ++i) line << QPointF(from + (to - from) * i / 8, y + (i % 2 != 0 ? 2.5 : -2.5));
    p.drawPolyline(line);
  };
  if (mode == "damage") crack(r.center().y(), r.left(), r.right());
  if (mode == "delamination") {
    QColor wash = theme::temper(3);
    wash.setAlpha(90);
    p.setBrush(wash);
    p.setPen(QPen(theme::temper(3), 1));
    p.drawEllipse(r.center(), w * 0.48, w * 0.16);
  }
  if (mode == "end") crack(r.top() + 6, r.left(), r.right());
  if (mode == "edge") crack(r.top() + h * 0.24, r.left(), r.left() + w * 0.45);
  return mode == "damage" || mode == "delamination" || mode == "end" || mode == "edge" || mode == "other";
}

}  // namespace fortitor
