#include "app/sketches/machine_sketches.h"

#include <QPainterPath>
#include <cmath>

#include "app/theme/parts.h"
#include "app/theme/theme.h"

namespace fortitor {
namespace {

using parts::qs;
using theme::Ink;

constexpr int kMachineParts = 4;

QRectF part_box(const QRectF& area, int i) {
  const double h = (area.height() - 40) / kMachineParts;
  return {area.left() + 14, area.top() + 20 + i * h, area.width() * (theme::scale() > 1.2 ? 0.18 : 0.26), h - 16};
}

// Beside the parts their names and fields, and behind those the bars: what larger words take, the drawing gives.
double names_x(const QRectF& area) {
  return part_box(area, 0).right() + area.width() * 0.05 - 8;
}
double bars_x(const QRectF& area) {
  return names_x(area) + 124 * std::min(1.4, theme::scale());
}

void block(QPainter& p, const QRectF& r, const QColor& fill) {
  p.setPen(QPen(theme::color(Ink::ink), 1.3));
  p.setBrush(fill);
  p.drawRoundedRect(r, 3, 3);
}

double bar_x(const QRectF& scale, double force, double top) {
  return scale.left() + scale.width() * std::clamp(force / top, 0.0, 1.0);
}

}  // namespace

void LoadPathSketch::paint(QPainter& p, const QRectF& area, const SketchState& s) const {
  if (s.plan == nullptr) return;
  p.setRenderHint(QPainter::Antialiasing);
  const Plan& plan = *s.plan;
  const QColor steel = theme::dark() ? QColor("#4C5C69") : QColor("#C9CFD1"), ink = theme::color(Ink::ink),
               quiet = theme::color(Ink::quiet);
  const Dimension d = plan.expected ? plan.expected->dimension : Dimension::force;
  const double high = plan.expected ? plan.expected->high : 0;
  double top = high > 0 ? high : 1000;
  for (const LoadPathPart& part : plan.load_path)
    if (part.rating) top = std::max(top, high > 0 ? std::min(*part.rating, 4 * high) : *part.rating);
  top *= 1.05;
  const QRectF first = part_box(area, 0), last = part_box(area, kMachineParts - 1);
  p.setPen(QPen(quiet, 2));
  p.drawLine(QPointF(first.center().x(), first.bottom()), QPointF(last.center().x(), last.top()));
  const double large = theme::scale();
  const QRectF scale(bars_x(area), area.top() + 20, area.right() - 12 - bars_x(area), area.height() - 40);
  // The expected force is one band through all parts: what it does not reach holds.
  if (plan.expected) {
    const Expectation& x = *plan.expected;
    QColor band = theme::color(Ink::window);
    band.setAlpha(70);
    p.fillRect(
        QRectF(QPointF(bar_x(scale, x.low, top), scale.top()), QPointF(bar_x(scale, x.high, top), scale.bottom())),
        band);
    p.setPen(QPen(theme::color(Ink::near), 1, Qt::DashLine));
    const double likely = bar_x(scale, x.likely, top);
    p.drawLine(QPointF(likely, scale.top()), QPointF(likely, scale.bottom()));
    p.setFont(theme::words(11, QFont::Medium));
    p.drawText(QRectF(area.left(), scale.top() - 20 * large, scale.right() - area.left(), 18 * large),
               Qt::AlignRight | Qt::AlignVCenter,
               spoken("expected " + qs(format_value(x.low, d, s.units, 3)) + " to " +
                      qs(format_value(x.high, d, s.units, 3))));
  }
  for (int i = 0; i < kMachineParts; ++i) {
    const QRectF r = part_box(area, i);
    const bool piece = i == 3;
    const LoadPathPart* part = !piece && size_t(i) < plan.load_path.size() ? &plan.load_path[size_t(i)] : nullptr;
    const double mid = r.center().x();
    if (i == 0) {  // crosshead on its columns
      block(p, QRectF(r.left(), r.center().y() - 12, r.width(), 24), steel);
      block(p, QRectF(r.left() + 6, r.top(), 10, r.height()), steel.darker(112));
      block(p, QRectF(r.right() - 16, r.top(), 10, r.height()), steel.darker(112));
    } else if (i == 1) {  // load cell
      p.setPen(QPen(ink, 1.3));
      p.setBrush(steel);
      p.drawEllipse(QPointF(mid, r.center().y()), 24, 24);
      p.setBrush(theme::color(Ink::sheet));
      p.drawEllipse(QPointF(mid, r.center().y()), 10, 10);
    } else if (i == 2) {  // grip
      QPainterPath jaw(QPointF(mid - 26, r.center().y() - 24));
      jaw.lineTo(mid + 26, r.center().y() - 24);
      jaw.lineTo(mid + 18, r.center().y() + 24);
      jaw.lineTo(mid - 18, r.center().y() + 24);
      jaw.closeSubpath();
      p.setPen(QPen(ink, 1.3));
      p.setBrush(steel);
      p.drawPath(jaw);
      p.drawLine(QPointF(mid, r.center().y() - 24), QPointF(mid, r.center().y() + 24));
    } else {
      QPainterPath bar;
      bar.addRect(QRectF(mid - 7, r.top(), 14, r.height()));
      p.setPen(QPen(ink, 1.3));
      p.setBrush(theme::temper(0));
      p.drawPath(bar);
    }
    p.setPen(ink);
    p.setFont(theme::words(13, QFont::DemiBold));
    const double tx = names_x(area);
    const QString name = piece ? "Specimen" : part != nullptr ? qs(part->label) : QString();
    p.drawText(QRectF(tx, r.center().y() - (piece ? 9 : 28) * large, area.right() - tx, 18 * large), Qt::AlignVCenter,
               spoken(name));
    // Its rating, or for the piece the expected yield, as a bar over the band.
    const double rating = piece ? plan.yield.value_or(0) : part != nullptr ? part->rating.value_or(0) : 0;
    const QRectF rail(scale.left(), r.center().y() - 5, scale.width(), 10);
    // Words beneath it begin with it, or end with it where they are longer.
    const auto beneath = [&](const QString& words) {
      const bool fits = p.fontMetrics().horizontalAdvance(words) <= rail.width();
      const double from = fits ? rail.left() : tx;
      p.drawText(QRectF(from, rail.bottom() + 2, rail.right() - from, 16 * large),
                 (fits ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignTop, words);
    };
    p.setPen(QPen(theme::color(Ink::hairline), 1));
    p.setBrush(Qt::NoBrush);
    p.drawRect(rail);
    if (rating > 0) {
      const bool weak = !piece && high > rating;
      p.setPen(Qt::NoPen);
      p.setBrush(weak ? theme::color(Ink::fails) : piece ? theme::temper(2) : theme::color(Ink::action));
      p.drawRect(QRectF(rail.left(), rail.top(), bar_x(scale, rating, top) - rail.left(), rail.height()));
      p.setPen(weak ? theme::color(Ink::fails) : quiet);
      p.setFont(theme::words(11, QFont::Medium));
      const QString note = piece  ? "yields near " + qs(format_value(rating, d, s.units, 3))
                           : weak ? QString("too weak for what is expected")
                                  : QString();
      beneath(spoken(note));
    } else if (!piece) {
      p.setPen(quiet);
      p.setFont(theme::words(11));
      beneath(spoken("no rating entered"));
    }
  }
}

std::vector<Anchor> LoadPathSketch::anchors(const QRectF& area, const TestRecord&) const {
  std::vector<Anchor> out;
  const char* paths[] = {"equipment.frame.capacity", "equipment.load_cell.capacity", "equipment.grips.capacity"};
  for (int i = 0; i < 3; ++i) {
    const QRectF r = part_box(area, i);
    out.push_back(
        {paths[i], 0, {names_x(area) + 54 * std::min(1.4, theme::scale()), r.center().y() + 9 * theme::scale()}, 108});
  }
  return out;
}

void FrameSketch::paint(QPainter& p, const QRectF& area, const SketchState& s) const {
  p.setRenderHint(QPainter::Antialiasing);
  static const MachineStatus still;
  const MachineStatus& m = s.machine != nullptr ? *s.machine : still;
  const QColor steel = theme::dark() ? QColor("#4C5C69") : QColor("#C9CFD1"), ink = theme::color(Ink::ink);
  const double cx = area.center().x(), w = std::min(area.width() * 0.86, 210.0);
  const double top = area.top() + 8, bottom = area.bottom() - 8;
  // Columns, base, fixed top beam.
  for (double x : {cx - w / 2, cx + w / 2 - 14}) block(p, QRectF(x, top, 14, bottom - top), steel.darker(110));
  block(p, QRectF(cx - w / 2 - 8, bottom - 30, w + 16, 30), steel);
  const double half = std::min(70.0, (bottom - top) * 0.19);
  // The crosshead moves more on screen than in life, but in proportion.
  const double move = std::clamp((m.now.count("crosshead") ? m.reading("crosshead") : 0) * 2.2, -10.0, 46.0);
  const double head_y = top + 58 - move;
  block(p, QRectF(cx - w / 2 - 4, head_y, w + 8, 26), steel);
  p.setBrush(steel);
  p.setPen(QPen(ink, 1.3));
  p.drawEllipse(QPointF(cx, head_y + 40), 14, 14);
  p.setBrush(theme::color(Ink::sheet));
  p.drawEllipse(QPointF(cx, head_y + 40), 5, 5);
  auto grip = [&](double y, bool upper, bool closed) {
    const double open = closed ? 0 : 6;
    for (int side : {-1, 1}) {
      QPainterPath jaw(QPointF(cx + side * (7 + open), y));
      jaw.lineTo(cx + side * (26 + open), y + (upper ? -4 : 4));
      jaw.lineTo(cx + side * (22 + open), y + (upper ? 34 : -34));
      jaw.lineTo(cx + side * (7 + open), y + (upper ? 34 : -34));
      jaw.closeSubpath();
      p.setPen(QPen(ink, 1.3));
      p.setBrush(closed ? steel.darker(118) : steel);
      p.drawPath(jaw);
    }
  };
  const double upper_y = head_y + 56, lower_y = bottom - 32;
  // The bar between the grips: stretches with strain, necks, parts.
  const double y0 = upper_y + 30, y1 = lower_y - 30, width = 13;
  const double neck_y = y1 - (y1 - y0) * std::clamp(m.neck_place, 0.1, 0.9);
  const double neck_w = width * (1 - 0.5 * m.neck);
  auto half_bar = [&](bool upper) {
    const double from = upper ? y0 - 26 : y1 + 26, to = neck_y + (m.broken ? (upper ? -5 : 5) : 0),
                 reach = upper ? -26 : 26;
    QPainterPath path(QPointF(cx - width, from));
    path.lineTo(cx - width / 2, from + (upper ? 30 : -30));
    path.lineTo(cx - width / 2, to + reach);
    path.quadTo(cx - width / 2, to + reach * 0.4, cx - neck_w / 2, to);
    if (m.broken) path.lineTo(cx, to + 5);
    path.lineTo(cx + neck_w / 2, to);
    path.quadTo(cx + width / 2, to + reach * 0.4, cx + width / 2, to + reach);
    path.lineTo(cx + width / 2, from + (upper ? 30 : -30));
    path.lineTo(cx + width, from);
    p.setPen(QPen(ink, 1.3));
    p.setBrush(theme::temper(std::clamp(int(m.neck * 2 + (m.specimen_strain > 0.003 ? 1 : 0)), 0, 2)));
    p.drawPath(path);
  };
  half_bar(true);
  half_bar(false);
  grip(upper_y, true, m.top_grip);
  grip(lower_y, false, m.bottom_grip);
  if (m.extensometer) {
    p.setPen(QPen(theme::color(Ink::action), 2));
    const double mid = (y0 + y1) / 2;
    for (double y : {mid - half, mid + half}) p.drawLine(QPointF(cx + width / 2, y), QPointF(cx + 44, y));
    p.setBrush(theme::color(Ink::action));
    p.drawRoundedRect(QRectF(cx + 40, mid - half - 6, 12, 2 * half + 12), 3, 3);
  }
  if (m.state == MachineState::running || m.state == MachineState::returning) {
    const int dir = m.state == MachineState::running ? -1 : 1;
    p.setPen(QPen(theme::color(Ink::near), 2.4));
    const double x = cx + w / 2 + 18, y = head_y + 13;
    p.drawLine(QPointF(x, y - 12 * dir), QPointF(x, y + 12 * dir));
    p.drawLine(QPointF(x, y + 12 * dir), QPointF(x - 5, y + 5 * dir));
    p.drawLine(QPointF(x, y + 12 * dir), QPointF(x + 5, y + 5 * dir));
  }
}

}  // namespace fortitor
