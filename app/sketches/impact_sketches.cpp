#include "app/sketches/impact_sketches.h"

#include <QPainterPath>
#include <cmath>

#include "app/sketches/bench_sketches.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "core/methods/support/blows.h"
#include "core/quantity/format.h"

namespace fortitor {
namespace {

using parts::qs;
using theme::Ink;

// Angles count from hanging still; the hammer starts on the left and rises on the right.
QPointF on_arc(const QPointF& axis, double radius, double angle) {
  return axis + QPointF(std::sin(angle), std::cos(angle)) * radius;
}

QString degrees(double radians) {
  return QString::number(radians * 180 / M_PI, 'f', 1) + "°";
}

void hammer(QPainter& p, const QPointF& axis, double radius, double angle, const QColor& tone) {
  p.setPen(QPen(tone, std::max(3.0, radius * 0.045), Qt::SolidLine, Qt::RoundCap));
  p.drawLine(axis, on_arc(axis, radius * 0.86, angle));
  p.save();
  p.translate(on_arc(axis, radius * 0.9, angle));
  p.rotate(-angle * 180 / M_PI);
  p.setPen(Qt::NoPen);
  p.setBrush(tone);
  const double w = radius * 0.13, h = radius * 0.16;
  p.drawPolygon(QPolygonF({{-w, -h}, {w, -h}, {w, h * 0.5}, {w * 0.5, h}, {-w, h}}));
  p.restore();
}

void arc(QPainter& p, const QPointF& axis, double radius, double to, const QPen& pen) {
  QPainterPath path;
  for (int i = 0; i <= 60; ++i) {
    const QPointF at = on_arc(axis, radius, to * i / 60);
    i == 0 ? path.moveTo(at) : path.lineTo(at);
  }
  p.setPen(pen);
  p.setBrush(Qt::NoBrush);
  p.drawPath(path);
}

}  // namespace

void SwingSketch::paint(QPainter& p, const QRectF& area, const SketchState& s) const {
  p.setRenderHint(QPainter::Antialiasing);
  const blows::Set set = blows::set_of(s.record);
  const double start = set.swing.start.value_or(150 * M_PI / 180);
  const blows::Blow* last = nullptr;
  for (const blows::Blow& b : set.all)
    if (std::isfinite(b.energy)) last = &b;
  const double r = std::min(area.width() * 0.36, area.height() * 0.37);
  const QPointF axis(area.center().x() - r * 0.1, area.top() + area.height() * 0.44);
  // The zone nobody stands in: all that the hammer can reach.
  QPainterPath zone;
  zone.moveTo(axis);
  for (int i = 0; i <= 80; ++i) zone.lineTo(on_arc(axis, r * 1.14, -start - 0.12 + (2 * start + 0.24) * i / 80));
  zone.closeSubpath();
  QColor warn = theme::color(Ink::fails);
  warn.setAlpha(theme::dark() ? 44 : 22);
  p.setPen(Qt::NoPen);
  p.setBrush(warn);
  p.drawPath(zone);
  p.setPen(QPen(theme::color(Ink::ink), 2));
  p.drawLine(QPointF(axis.x() - r * 0.55, axis.y() + r * 1.12), QPointF(axis.x() + r * 0.55, axis.y() + r * 1.12));
  p.setBrush(theme::temper(1));
  p.setPen(QPen(theme::color(Ink::ink), 1));
  p.drawRect(QRectF(axis.x() - r * 0.06, axis.y() + r * 0.93, r * 0.12, r * 0.19));
  arc(p, axis, r, -start, QPen(theme::color(Ink::ink), 1.2, Qt::DashLine));
  QColor pale = theme::color(Ink::quiet);
  pale.setAlpha(120);
  hammer(p, axis, r, -start, pale);
  p.setFont(theme::words(12, QFont::Medium));
  auto words = [&](double angle, const QString& text, const QColor& tone) {
    const QPointF at = on_arc(axis, r * 1.24, angle);
    p.setPen(tone);
    const bool left = at.x() < axis.x();
    p.drawText(QRectF(left ? at.x() - 150 : at.x(), at.y() - 10, 150, 20),
               left ? Qt::AlignRight | Qt::AlignVCenter : Qt::AlignLeft | Qt::AlignVCenter, spoken(text));
  };
  words(-start, "start " + (set.swing.start ? degrees(start) : QString()), theme::color(Ink::ink));
  if (set.swing.free_rise) {
    arc(p, axis, r * 0.98, *set.swing.free_rise, QPen(theme::temper(6), 4));
    words(*set.swing.free_rise, "empty " + degrees(*set.swing.free_rise), theme::temper(5));
  }
  if (last != nullptr && set.available > 0) {
    // How far it rises: as read, or what the energy left over makes of the height it fell.
    const auto read = s.record.run.rows(blows::kTable)[last->row].number("beta");
    const double left = std::clamp(1 - last->energy / set.available, 0.0, 1.0);
    const double rise = read ? *read : std::acos(std::clamp(1 - left * (1 - std::cos(start)), -1.0, 1.0));
    arc(p, axis, r * 0.9, rise, QPen(theme::temper(0), 6));
    hammer(p, axis, r, rise, theme::color(Ink::ink));
    words(rise, (read ? "rise " : "about ") + degrees(rise), theme::color(Ink::ink));
  } else {
    hammer(p, axis, r, 0, theme::color(Ink::ink));
  }
  p.setBrush(theme::color(Ink::ink));
  p.setPen(Qt::NoPen);
  p.drawEllipse(axis, 5, 5);
  p.setPen(theme::color(Ink::fails));
  p.setFont(theme::words(11, QFont::Medium));
  p.drawText(QRectF(area.left(), area.bottom() - 18, area.width(), 18), Qt::AlignCenter,
             spoken("nobody inside the swing until the hammer hangs still"));
}

void NotchedBarSketch::paint(QPainter& p, const QRectF& area, const SketchState& s) const {
  p.setRenderHint(QPainter::Antialiasing);
  const double w = std::min(area.width() * 0.7, 520.0), h = std::min(area.height() * 0.2, w * 0.2);
  const QPointF c(area.center().x(), area.top() + area.height() * 0.4);
  const double bend = draw::last_reading(s.record, "bend_angle");
  const std::string notch = s.record.fields.text("specimen.notch");
  const double depth = notch == "none" ? 0 : h * (notch.size() > 1 && (notch[1] == '5') ? 0.5 : 0.24);
  const bool halves = bend > 0;
  p.setPen(QPen(theme::color(Ink::ink), 1.4));
  p.setBrush(draw::steel());
  for (int side : {-1, 1}) {
    p.save();
    p.translate(c);
    // Put together at the bend that was read: near 180° brittle, near 100° tough.
    if (halves) p.rotate(side * (180 - bend * 180 / M_PI) / 2);
    const double gap = halves ? side * 3 : 0;
    QPolygonF half;
    half << QPointF(gap, -h / 2 + (depth > 0 ? depth : 0)) << QPointF(gap + side * depth * 0.5, -h / 2)
         << QPointF(side * w / 2, -h / 2) << QPointF(side * w / 2, h / 2) << QPointF(gap, h / 2);
    p.drawPolygon(half);
    p.restore();
  }
  p.setPen(theme::color(Ink::quiet));
  p.setFont(theme::words(12));
  if (halves) {
    p.drawText(QRectF(area.left(), area.bottom() - 40, area.width(), 18), Qt::AlignCenter,
               spoken("bend of the halves " + degrees(bend) + ": near 180° brittle, near 100° tough"));
    return;
  }
  for (const Anchor& a : anchors(area, s.record)) {
    if (a.index != 0) continue;
    const QString words = a.path.find("width") != std::string::npos       ? "breadth"
                          : a.path.find("thickness") != std::string::npos ? "height"
                                                                          : "ligament";
    p.drawText(QRectF(a.at.x() - 60, a.at.y() - 36, 120, 18), Qt::AlignCenter, spoken(words));
  }
}

std::vector<Anchor> NotchedBarSketch::anchors(const QRectF& area, const TestRecord& r) const {
  std::vector<Anchor> out;
  if (draw::last_reading(r, "bend_angle") > 0) return out;
  const QPointF c(area.center().x(), area.top() + area.height() * 0.4);
  const double h = std::min(area.height() * 0.2, std::min(area.width() * 0.7, 520.0) * 0.2);
  for (int i = 0; i < 3; ++i) {
    out.push_back({"specimen.section.width", i, {c.x() - 180, c.y() + h / 2 + 60 + i * 34.0}, 96});
    out.push_back({"specimen.section.thickness", i, {c.x(), c.y() + h / 2 + 60 + i * 34.0}, 96});
    out.push_back({"specimen.ligament", i, {c.x() + 180, c.y() + h / 2 + 60 + i * 34.0}, 96});
  }
  return out;
}

}  // namespace fortitor
