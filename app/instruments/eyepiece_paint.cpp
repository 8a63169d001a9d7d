// What the eyepiece looks like: field, grain, indent out of focus and in, lines, scale and drums.
#include <QPainter>
#include <QPainterPath>
#include <cmath>
#include <random>

#include "app/instruments/eyepiece_view.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "core/quantity/format.h"

namespace fortitor {

using parts::qs;
using theme::Ink;

namespace {

const QColor kField("#D5D8CE"), kGrain("#B4B8AC");

// Shaded faces of the pyramid, light from the upper left.
const std::array<QColor, 4> kFaces = {QColor("#5B6468"), QColor("#474E51"), QColor("#2F3638"), QColor("#3C4346")};

}  // namespace

void EyepieceView::paint_field(QPainter& p, const QRectF& c) const {
  p.fillRect(c, kField);
  if (!photo_.isNull()) {
    p.save();
    if (second_) {
      p.translate(c.center());
      p.rotate(-90);
      p.translate(-c.center());
    }
    // The width of the picture is the width of the field.
    const double h = c.width() * photo_.height() / std::max(1, photo_.width());
    p.setRenderHint(QPainter::SmoothPixmapTransform);
    p.drawImage(QRectF(c.left(), c.center().y() - h / 2, c.width(), h), photo_);
    p.restore();
    return;
  }
  if (!sight_) return;
  std::mt19937_64 random(sight_->grain);
  auto between = [&](double a, double b) { return a + (b - a) * double(random() % 10000) / 10000; };
  p.setPen(QPen(kGrain, 1));
  for (int i = 0; i < 60; ++i) {
    QPainterPath path;
    QPointF at(between(c.left(), c.right()), between(c.top(), c.bottom()));
    path.moveTo(at);
    double angle = between(0, 2 * M_PI);
    for (int k = 0; k < 3; ++k) {
      angle += between(-0.9, 0.9);
      at += QPointF(std::cos(angle), std::sin(angle)) * between(6, 20);
      path.lineTo(at);
    }
    p.drawPath(path);
  }
}

void EyepieceView::paint_indent(QPainter& p, const QRectF& c) const {
  if (!sight_) return;
  const Sight& s = *sight_;
  const double k = c.width() / s.field;
  const double a = second_ ? s.up : s.left, b = second_ ? s.down : s.right;
  const double u = second_ ? s.left : s.up, v = second_ ? s.right : s.down;
  const QPointF left(c.left() + a * k, c.top() + (u + v) / 2 * k), right(c.left() + b * k, left.y());
  const QPointF top(c.left() + (a + b) / 2 * k, c.top() + u * k), bottom(top.x(), c.top() + v * k);
  const QPointF middle(top.x(), left.y());
  if (s.scratched && !second_) {
    // It runs out of the right corner: easily taken for its tip.
    p.setPen(QPen(QColor("#5A6063"), 2.2));
    const double tail = 0.13 * (b - a) * k;
    p.drawLine(right - QPointF(3, 0), right + QPointF(tail, -tail * 0.12));
    p.setPen(QPen(QColor("#8A8F88"), 1));
    p.drawLine(right + QPointF(tail, -tail * 0.12), right + QPointF(tail * 4, -tail * 0.7));
  }
  // Out of focus the picture is drawn several times, each a little off and faint.
  const double blur = std::min(1.0, std::abs(focus_ - s.focus) / 0.35);
  const int copies = blur < 0.06 ? 1 : 9;
  for (int i = 0; i < copies; ++i) {
    const double r = copies == 1 ? 0 : blur * 9, angle = i * 2.4;
    const QPointF off = QPointF(std::cos(angle), std::sin(angle)) * r * (i == 0 ? 0 : 1);
    p.setOpacity(copies == 1 ? 1 : 0.24);
    p.setPen(Qt::NoPen);
    if (s.round) {
      QRadialGradient shade(middle + off - QPointF((b - a) * k * 0.15, (b - a) * k * 0.15), (b - a) * k * 0.62);
      shade.setColorAt(0, kFaces[0]);
      shade.setColorAt(1, kFaces[2]);
      p.setBrush(shade);
      p.drawEllipse(middle + off, (b - a) * k / 2, (v - u) * k / 2);
      continue;
    }
    const QPointF corner[] = {left + off, top + off, right + off, bottom + off};
    for (size_t f = 0; f < 4; ++f) {
      p.setBrush(kFaces[f]);
      p.drawPolygon(QPolygonF({corner[f], corner[(f + 1) % 4], middle + off}));
    }
  }
  p.setOpacity(1);
}

void EyepieceView::paint_scale(QPainter& p, const QRectF& c) const {
  const double s = theme::scale(), y = c.bottom() + 10 * s;
  p.setFont(theme::numbers(10));
  const double every = field_ > 900 ? 50 : 10;
  for (double v = 0; v <= field_ + 1e-9; v += every) {
    const bool mark = std::fmod(v + 1e-9, 50) < 1e-6 + 1e-9;
    p.setPen(QPen(theme::color(mark ? Ink::ink : Ink::quiet), 1));
    p.drawLine(QPointF(px(v), y), QPointF(px(v), y + (mark ? 11 : 6) * s));
  }
}

void EyepieceView::paint_drums(QPainter& p, const QRectF& c) const {
  const double s = theme::scale(), y = c.bottom() + 30 * s, third = width() / 3.0;
  const struct {
    QString name, value;
    bool held;
    QColor tone;
  } boxes[] = {
      {"left edge", qs(plain_number(lines_[0], 6)), hand_ == 0, theme::temper(2)},
      {"right edge", qs(plain_number(lines_[1], 6)), hand_ == 1, theme::temper(1)},
      {division_ > 0 ? "one division" : "division",
       division_ > 0 ? qs(plain_number(division_ * 1e3, 4)) + " µm" : QString("not entered"), false,
       theme::color(Ink::ink)},
  };
  for (int i = 0; i < 3; ++i) {
    const QRectF box(8 + i * third, y, third - 14, 62 * s);
    p.setPen(theme::color(Ink::quiet));
    p.setFont(theme::words(12));
    p.drawText(box, Qt::AlignLeft | Qt::AlignTop, spoken(boxes[i].name));
    p.setPen(theme::color(Ink::ink));
    double size = 18;
    while (size > 11 &&
           QFontMetricsF(theme::numbers(size, QFont::Bold)).horizontalAdvance(spoken(boxes[i].value)) > box.width())
      size -= 1;
    p.setFont(theme::numbers(size, QFont::Bold));
    p.drawText(box.adjusted(0, 18 * s, 0, 0), Qt::AlignLeft | Qt::AlignTop, spoken(boxes[i].value));
    if (i < 2) {
      // As the drum shows it: whole marks and what lies beyond them.
      const double v = lines_[size_t(i)], marks = std::floor(v / 50);
      p.setPen(theme::color(Ink::quiet));
      p.setFont(theme::numbers(11));
      p.drawText(box.adjusted(0, 44 * s, 0, 0), Qt::AlignLeft | Qt::AlignTop,
                 spoken(counted_ ? qs(plain_number(marks, 3)) + ":" + qs(plain_number(v - 50 * marks, 4)) : QString()));
    }
    if (boxes[i].held) p.fillRect(QRectF(box.left(), y + 42 * s, box.width(), 2), boxes[i].tone);
  }
}

void EyepieceView::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const QRectF c = circle();
  p.setPen(theme::color(Ink::ink));
  p.setFont(theme::words(13, QFont::DemiBold));
  p.drawText(QRectF(4, 0, width() - 8, c.top()), Qt::AlignLeft | Qt::AlignVCenter, spoken(title_));
  QPainterPath round;
  round.addEllipse(c);
  p.save();
  p.setClipPath(round);
  paint_field(p, c);
  paint_indent(p, c);
  p.restore();
  p.setPen(QPen(theme::color(Ink::ink), 4));
  p.setBrush(Qt::NoBrush);
  p.drawEllipse(c.adjusted(2, 2, -2, -2));
  if (empty()) {
    p.setPen(QColor("#4A5257"));
    // As large as it fits into the circle.
    const QString hint =
        "Nothing is under the eyepiece. Space sets an indent on the stand-in; or drop a photograph here; or type "
        "what you read.";
    const double inset = 0.16 * c.width();  // the square within the circle, a little wider
    const QRectF room = c.adjusted(inset, inset, -inset, -inset);
    for (double px = 13; px >= 7; px -= 0.5) {
      p.setFont(theme::words(px));
      const QRectF needed = p.boundingRect(room, Qt::AlignCenter | Qt::TextWordWrap, hint);
      if (needed.height() <= room.height() && needed.width() <= room.width()) break;
    }
    p.drawText(room, Qt::AlignCenter | Qt::TextWordWrap, spoken(hint));
    return;
  }
  for (int which : {0, 1}) {
    const double x = px(lines_[size_t(which)]), half = c.width() / 2;
    const double dx = x - c.center().x(), reach = std::sqrt(std::max(0.0, half * half - dx * dx)) - 6;
    const QColor tone = theme::temper(which == 0 ? 2 : 0);
    p.setPen(QPen(tone, hand_ == which ? 2.6 : 1.4));
    p.drawLine(QPointF(x, c.center().y() - reach), QPointF(x, c.center().y() + reach));
    if (hand_ != which) continue;
    p.setBrush(tone);
    p.setPen(Qt::NoPen);
    const double y = c.bottom() + 8 * theme::scale();
    p.drawPolygon(QPolygonF({{x, y - 6}, {x - 6, y + 4}, {x + 6, y + 4}}));
  }
  paint_scale(p, c);
  paint_drums(p, c);
}

}  // namespace fortitor
