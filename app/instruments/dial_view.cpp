#include "app/instruments/dial_view.h"

#include <QPainter>
#include <cmath>

#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "core/reference/hardness.h"

namespace fortitor {

using parts::qs;
using theme::Ink;

namespace {

constexpr int kSwing = 420;  // ms of a hand to its reading

QPointF on_circle(const QPointF& centre, double radius, double turns) {
  const double a = turns * 2 * M_PI - M_PI / 2;
  return centre + QPointF(std::cos(a), std::sin(a)) * radius;
}

void hand(QPainter& p, const QPointF& centre, double length, double turns, const QColor& tone, double width) {
  p.setPen(QPen(tone, width, Qt::SolidLine, Qt::RoundCap));
  p.drawLine(on_circle(centre, -0.16 * length, turns), on_circle(centre, length, turns));
  p.setBrush(tone);
  p.setPen(Qt::NoPen);
  p.drawEllipse(centre, 2 * width, 2 * width);
}

}  // namespace

DialView::DialView(QWidget* parent) : Instrument(parent) {
  setMinimumSize(260, 280);
  setAccessibleName(spoken("Dial"));
  hand_.setDuration(kSwing);
  hand_.setEasingCurve(QEasingCurve::OutCubic);
  hand_.setStartValue(0.0);
  hand_.setEndValue(0.0);
  connect(&hand_, &QVariantAnimation::valueChanged, this, [this] { update(); });
}

void DialView::ask(const CallOut& now, const TestRecord& record, UnitSet) {
  const RockwellScale* scale = find_rockwell(record.fields.text("specimen.scale"));
  diamond_ = scale == nullptr || scale->diamond();
  ring_ = qs(record.fields.text(diamond_ ? "equipment.hardness_machine.ring_diamond"
                                         : "equipment.hardness_machine.ring_ball"));
  title_ =
      "Reading " + QString::number(now.row + 1) + (scale != nullptr ? " on scale " + qs(std::string(scale->id)) : "");
  update();
}

// The rings stand 30 apart: 0 of the outer one is 30 of the inner one, for scales that count from 130.
double DialView::turn_of(double reading) const {
  return (diamond_ ? reading : reading - 30) / 100;
}

void DialView::look(const StepMachine* machine) {
  face_ = machine != nullptr ? machine->dial() : std::nullopt;
  const double to = face_ ? turn_of(face_->large) : 0;
  hand_.stop();
  hand_.setStartValue(hand_.currentValue().toDouble());
  hand_.setEndValue(to);
  hand_.setDuration(theme::calm() ? 0 : kSwing);
  hand_.start();
  update();
}

QString DialView::headline() const {
  if (!face_) return "Fresh place";
  if (face_->reading_counts) return "Read";
  return qs(face_->next).section(',', 0, 0);
}

QString DialView::keys() const {
  return "Space: the next movement at the machine; read the dial when the lever is back, type it, Enter keeps";
}

void DialView::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const double s = theme::scale();
  p.setPen(theme::color(Ink::ink));
  p.setFont(theme::words(13, QFont::DemiBold));
  p.drawText(QRectF(4, 0, width() - 8, 24 * s), Qt::AlignLeft | Qt::AlignVCenter, spoken(title_));
  const double d = std::max(80.0, std::min(width() - 16.0, height() - 92 * s));
  const QRectF c((width() - d) / 2, 28 * s, d, d);
  const QPointF centre = c.center();
  p.setBrush(theme::color(Ink::sheet));
  p.setPen(QPen(theme::color(Ink::ink), 4));
  p.drawEllipse(c.adjusted(2, 2, -2, -2));
  const QColor outer = theme::color(Ink::ink), inner = theme::temper(2);
  for (int i = 0; i < 100; ++i) {
    const bool ten = i % 10 == 0, five = i % 5 == 0;
    p.setPen(QPen(outer, ten ? 2 : 1));
    p.drawLine(on_circle(centre, d * 0.465, i / 100.0), on_circle(centre,
                                                                  d * (ten    ? 0.42
                                                                       : five ? 0.435
                                                                              : 0.447),
                                                                  i / 100.0));
  }
  for (int i = 0; i < 10; ++i) {
    const QPointF at = on_circle(centre, d * 0.375, i / 10.0), in = on_circle(centre, d * 0.285, i / 10.0);
    p.setFont(theme::numbers(d * 0.042 / s, diamond_ ? QFont::Bold : QFont::Normal));
    p.setPen(diamond_ ? outer : theme::color(Ink::quiet));
    p.drawText(QRectF(at.x() - 24, at.y() - 12, 48, 24), Qt::AlignCenter, QString::number(i * 10));
    p.setFont(theme::numbers(d * 0.036 / s, diamond_ ? QFont::Normal : QFont::Bold));
    p.setPen(diamond_ ? theme::color(Ink::quiet) : inner);
    const int ball = (i * 10 + 30) % 100;
    p.drawText(QRectF(in.x() - 24, in.y() - 12, 48, 24), Qt::AlignCenter, QString::number(ball));
  }
  // The small dial with its set mark.
  const QPointF small = centre + QPointF(0, d * 0.15);
  p.setBrush(Qt::NoBrush);
  p.setPen(QPen(theme::color(Ink::hairline), 1.5));
  p.drawEllipse(small, d * 0.085, d * 0.085);
  p.setBrush(theme::color(Ink::fails));
  p.setPen(Qt::NoPen);
  p.drawEllipse(on_circle(small, d * 0.085, 0.25), d * 0.014, d * 0.014);
  hand(p, small, d * 0.066, face_ ? 0.25 * face_->small : 0, theme::color(Ink::ink), 2);
  hand(p, centre, d * 0.40, hand_.currentValue().toDouble(), theme::color(Ink::ink), 3);

  const QRectF foot(8, c.bottom() + 8 * s, width() - 16, 54 * s);
  p.setPen(theme::color(Ink::ink));
  p.setFont(theme::words(14, QFont::DemiBold));
  QString words = "Move to a fresh place: Space";
  if (face_) words = face_->reading_counts ? QString("The lever is back: read the dial") : qs(face_->next);
  p.drawText(foot, Qt::AlignHCenter | Qt::AlignTop, spoken(words));
  p.setPen(theme::color(Ink::quiet));
  p.setFont(theme::words(12));
  const QString which = diamond_ ? "outer ring" : "inner ring, in russet";
  p.drawText(foot.adjusted(0, 22 * s, 0, 0), Qt::AlignHCenter | Qt::AlignTop,
             spoken("Read the " + which + (ring_.isEmpty() ? QString() : " (" + ring_ + " on this machine)") +
                    (face_ && face_->loaded ? ". The whole force is on: not yet." : ".")));
}

}  // namespace fortitor
