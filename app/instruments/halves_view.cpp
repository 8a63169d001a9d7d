#include "app/instruments/halves_view.h"

#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "core/quantity/parse.h"

namespace fortitor {

using parts::qs;
using theme::Ink;

HalvesView::HalvesView(QWidget* parent) : Instrument(parent) {
  setMinimumSize(178, 150);
  setMaximumHeight(176);
  setAccessibleName(spoken("Halves of the piece"));
}

void HalvesView::ask(const CallOut& now, const TestRecord& record, UnitSet) {
  const std::string path = now.column < now.table.columns.size() ? now.table.columns[now.column].path : std::string();
  const Asked asked = now.phase == CallOut::Phase::ended ? Asked::nothing
                      : path == "bend_angle"             ? Asked::bend
                      : path == "shear"                  ? Asked::shear
                      : path == "lateral_expansion"      ? Asked::expansion
                                                         : Asked::nothing;
  if (asked != asked_ || now.row != row_) touched_ = false;
  asked_ = asked;
  row_ = now.row;
  // What the row already has is what the drawing shows; a row not begun shows the one before.
  const Rows& rows = record.run.rows(now.table.id);
  const size_t at = rows.empty() ? 0 : std::min(now.row, rows.size() - 1);
  if (at < rows.size()) {
    if (const auto v = rows[at].number("bend_angle")) bend_ = *v * 180 / M_PI;
    if (const auto v = rows[at].number("shear")) shear_ = 100 * *v;
    if (const auto v = rows[at].number("lateral_expansion")) expansion_ = *v;
  }
  update();
}

bool HalvesView::take_key(const QKeyEvent& event) {
  const int by = event.key() == Qt::Key_Right ? 1 : event.key() == Qt::Key_Left ? -1 : 0;
  if (by == 0 || asked_ == Asked::nothing) return false;
  const bool coarse = event.modifiers() & Qt::ShiftModifier;
  if (asked_ == Asked::bend) bend_ = std::clamp(std::round(bend_) + by * (coarse ? 5 : 1), 60.0, 180.0);
  if (asked_ == Asked::shear) shear_ = std::clamp(std::round(shear_ / 5) * 5 + by * (coarse ? 20 : 5), 0.0, 100.0);
  if (asked_ == Asked::expansion)
    expansion_ = std::clamp(std::round(expansion_ * 20) / 20 + by * (coarse ? 0.25 : 0.05), 0.0, 4.0);
  touched_ = true;
  update();
  emit changed();
  return true;
}

QString HalvesView::reading() const {
  if (!touched_) return {};
  if (asked_ == Asked::bend) return QString::number(bend_, 'f', 0) + " deg";
  if (asked_ == Asked::shear) return QString::number(shear_, 'f', 0) + " %";
  if (asked_ == Asked::expansion) return QString::number(expansion_, 'f', 2) + " mm";
  return {};
}

void HalvesView::offer(const QString& typed) {
  const auto d = asked_ == Asked::bend    ? Dimension::angle
                 : asked_ == Asked::shear ? Dimension::elongation
                                          : Dimension::length;
  const auto q = parse_quantity(typed.toStdString(), d);
  if (!q || asked_ == Asked::nothing) return;
  if (asked_ == Asked::bend) bend_ = q->value * 180 / M_PI;
  if (asked_ == Asked::shear) shear_ = 100 * q->value;
  if (asked_ == Asked::expansion) expansion_ = q->value;
  touched_ = true;
  update();
}

QString HalvesView::headline() const {
  return touched_ ? reading().replace(" deg", "°") : QString();
}

QString HalvesView::keys() const {
  if (asked_ == Asked::bend) return "← → turn the halves, Shift in steps of five; Enter keeps";
  if (asked_ == Asked::shear) return "← → fill the dull rim, Shift in steps of twenty; Enter keeps";
  if (asked_ == Asked::expansion) return "← → spread the far side, Shift in larger steps; Enter keeps";
  return {};
}

void HalvesView::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const QColor ink = theme::color(Ink::ink), quiet = theme::color(Ink::quiet),
               steel = theme::dark() ? QColor("#7B868F") : QColor("#C6CCD0");
  const QRectF a = QRectF(rect()).adjusted(8, 8, -8, -8);
  const QColor held = theme::color(Ink::action);
  p.setFont(theme::words(12, QFont::DemiBold));
  p.setPen(ink);
  p.drawText(QRectF(a.left(), a.top(), a.width(), 18), Qt::AlignLeft | Qt::AlignVCenter, spoken("The halves"));
  const bool face_asked = asked_ == Asked::shear || asked_ == Asked::expansion;
  if (!face_asked) {
    // Put together at their bend, seen from the side.
    const double arm = std::min(a.width() * 0.42, 120.0), thick = arm * 0.2;
    const QPointF c(a.center().x(), a.top() + 52 + arm * 0.16);
    const double tilt = (180 - bend_) / 2;
    for (int side : {-1, 1}) {
      p.save();
      p.translate(c);
      p.rotate(side * tilt);
      p.setPen(QPen(asked_ == Asked::bend ? held : ink, asked_ == Asked::bend ? 2 : 1.3));
      p.setBrush(steel);
      p.drawPolygon(QPolygonF({{side * 2.0, -thick / 2 + 5},
                               {side * 5.0, -thick / 2},
                               {side * arm, -thick / 2},
                               {side * arm, thick / 2},
                               {side * 2.0, thick / 2}}));
      p.restore();
    }
    p.setPen(QPen(quiet, 1));
    p.setBrush(Qt::NoBrush);
    const double r = arm * 0.5;
    p.drawArc(QRectF(c.x() - r, c.y() - r, 2 * r, 2 * r), int(16 * (tilt + 180)), int(16 * bend_));
    p.setFont(theme::numbers(15, QFont::Bold));
    p.setPen(asked_ == Asked::bend ? held : ink);
    p.drawText(QRectF(c.x() - 50, c.y() + thick * 0.8, 100, 20), Qt::AlignCenter,
               spoken(QString::number(bend_, 'f', 0) + "°"));
  } else {
    // The broken face: shining in the middle, a dull rim that is the shear; bulged at the far side by the expansion.
    const double side = std::min(a.height() - 52, 96.0);
    const QRectF face(a.center().x() - side / 2, a.top() + 24, side, side);
    const double bulge = side * 0.06 * expansion_;
    p.setPen(QPen(held, 2));
    p.setBrush(steel.darker(125));
    p.drawPolygon(QPolygonF({face.topLeft(),
                             face.topRight(),
                             {face.right() + bulge, face.bottom() - side * 0.12},
                             face.bottomRight(),
                             face.bottomLeft(),
                             {face.left() - bulge, face.bottom() - side * 0.12}}));
    const double bright = std::sqrt(std::max(0.0, 1 - shear_ / 100));
    p.setPen(Qt::NoPen);
    p.setBrush(steel.lighter(125));
    p.drawRect(QRectF(face.center().x() - bright * side / 2, face.center().y() - bright * side / 2, bright * side,
                      bright * side));
    p.setFont(theme::numbers(13, QFont::Bold));
    p.setPen(held);
    if (asked_ == Asked::shear)
      p.drawText(face, Qt::AlignCenter, spoken(QString::number(shear_, 'f', 0) + " %"));
    else
      p.drawText(QRectF(face.left() - 20, face.bottom() - 4, side + 40, 20), Qt::AlignCenter,
                 spoken("+ " + QString::number(expansion_, 'f', 2) + " mm"));
  }
  if (face_asked) return;
  p.setFont(theme::words(11));
  p.setPen(quiet);
  p.drawText(QRectF(a.left(), a.bottom() - 18, a.width(), 18), Qt::AlignCenter, spoken("100° tough, 180° brittle"));
}

}  // namespace fortitor
