// How the rows of the docket are painted.
#include <QPainter>

#include "app/docket/docket.h"
#include "app/theme/theme.h"

namespace fortitor {
namespace {

using theme::Ink;
using theme::px;

Verdict verdict_from(const std::string& word) {
  if (word == "near") return Verdict::open;  // as earlier versions kept it, until the piece is evaluated again
  for (Verdict v : {Verdict::meets, Verdict::conditional_pass, Verdict::open, Verdict::conditional_fail, Verdict::fails,
                    Verdict::void_test})
    if (word == verdict_word(v)) return v;
  return Verdict::none;
}

}  // namespace

void Docket::paint_row(QPainter& p, const Row& r, bool here) const {
  const QRect box(0, r.top, width(), r.height);
  if (here) {
    p.fillRect(box, theme::color(Ink::sheet));
    p.fillRect(QRect(0, r.top, 3, r.height), theme::color(Ink::action));
    if (hasFocus()) {
      p.setPen(QPen(theme::color(Ink::action), 1));
      p.setBrush(Qt::NoBrush);
      p.drawRect(box.adjusted(0, 0, -1, -1));
    }
  }
  const QRect text = box.adjusted(14, 0, -14, 0);
  switch (r.kind) {
    case Kind::today:
    case Kind::desk:
    case Kind::jobs: return paint_place(p, r, text, here);
    case Kind::filter:
      p.setFont(theme::words(12));
      p.setPen(theme::color(Ink::action));
      p.drawText(
          text, Qt::AlignVCenter,
          p.fontMetrics().elidedText("“" + r.text + "”   " + spoken("Esc shows all"), Qt::ElideRight, text.width()));
      break;
    case Kind::job: return paint_job(p, r, text);
    case Kind::series:
      p.setFont(theme::words(12, here ? QFont::DemiBold : QFont::Normal));
      p.setPen(theme::color(here ? Ink::ink : Ink::quiet));
      p.drawText(text, Qt::AlignVCenter, p.fontMetrics().elidedText(r.text, Qt::ElideRight, text.width()));
      break;
    case Kind::spectrum: return paint_spectrum(p, r, text, here);
    case Kind::specimen: return paint_piece(p, r, text, here);
  }
}

// A small mark: clock hands, stacked sheets, bars of a day, a caliper's jaws, a sum, a target.
void Docket::paint_mark(QPainter& p, const Row& r, const QRectF& mark) const {
  p.setPen(QPen(theme::color(Ink::ink), 1.4));
  p.setBrush(Qt::NoBrush);
  if (r.kind == Kind::today) {
    p.drawEllipse(mark);
    p.drawLine(mark.center(), mark.center() - QPointF(0, 3.6));
    p.drawLine(mark.center(), mark.center() + QPointF(2.8, 0));
  } else if (r.kind == Kind::desk && r.desk == Place::plan) {
    p.drawLine(mark.topLeft() + QPointF(0, 1.5), mark.topLeft() + QPointF(6, 1.5));
    p.drawLine(mark.topLeft() + QPointF(4, 5.5), mark.topLeft() + QPointF(11, 5.5));
    p.drawLine(mark.topLeft() + QPointF(2, 9.5), mark.topLeft() + QPointF(7, 9.5));
  } else if (r.kind == Kind::desk && r.desk == Place::slate) {
    p.drawPolyline(QPolygonF({mark.topLeft() + QPointF(9, 1), mark.topLeft() + QPointF(2, 1), mark.center(),
                              mark.topLeft() + QPointF(2, 10), mark.topLeft() + QPointF(9, 10)}));
  } else if (r.kind == Kind::desk && r.desk == Place::laboratory) {
    p.drawRect(mark.adjusted(1, 0, -1, 0));
    p.drawLine(mark.topLeft() + QPointF(3.5, 3.5), mark.topLeft() + QPointF(7.5, 3.5));
    p.drawLine(mark.topLeft() + QPointF(3.5, 6.5), mark.topLeft() + QPointF(7.5, 6.5));
  } else if (r.kind == Kind::desk && r.desk == Place::practice) {
    p.drawEllipse(mark.center(), 5, 5);
    p.drawEllipse(mark.center(), 1.6, 1.6);
  } else if (r.kind == Kind::desk) {
    p.drawLine(mark.topLeft() + QPointF(0, 1.5), mark.topRight() + QPointF(0, 1.5));
    p.drawLine(mark.topLeft() + QPointF(2, 1.5), mark.bottomLeft() + QPointF(2, 0));
    p.drawLine(mark.topLeft() + QPointF(7.5, 1.5), mark.bottomLeft() + QPointF(7.5, 0));
  } else {
    for (int k = 0; k < 3; ++k)
      p.drawLine(mark.topLeft() + QPointF(0, 1.5 + 4 * k), mark.topRight() + QPointF(0, 1.5 + 4 * k));
  }
}

void Docket::paint_place(QPainter& p, const Row& r, const QRect& text, bool here) const {
  paint_mark(p, r, QRectF(14, text.center().y() - 5, 11, 11));
  p.setFont(theme::words(13, here ? QFont::DemiBold : QFont::Medium));
  p.drawText(text.adjusted(18, 0, 0, 0), Qt::AlignVCenter, r.text);
  p.setFont(theme::numbers(12, QFont::Bold));
  p.setPen(theme::color(Ink::quiet));
  p.drawText(text, Qt::AlignVCenter | Qt::AlignRight, r.detail);
}

void Docket::paint_job(QPainter& p, const Row& r, const QRect& text) const {
  p.setFont(theme::words(11, QFont::Bold));
  p.setPen(theme::color(Ink::ink));
  const QRect name = text.adjusted(0, px(4), -px(12), r.detail.isEmpty() ? 0 : -px(14));
  p.drawText(name, Qt::AlignVCenter, p.fontMetrics().elidedText(r.text, Qt::ElideRight, name.width()));
  if (!r.detail.isEmpty()) {
    p.setFont(theme::words(11));
    p.setPen(theme::color(Ink::quiet));
    const QRect customer = text.adjusted(0, px(20), -px(12), 0);
    p.drawText(customer, Qt::AlignVCenter, p.fontMetrics().elidedText(r.detail, Qt::ElideRight, customer.width()));
  }
  // A small angle: down while open, to the left when folded.
  p.setPen(QPen(theme::color(Ink::quiet), 1.4));
  const QPointF c(text.right() - px(4), name.center().y() + 0.5);
  const bool folded = filter_.isEmpty() && folded_.count(r.job) != 0;
  const double u = px(3);
  if (folded)
    p.drawPolyline(QPolygonF({c + QPointF(u / 2, -u), c + QPointF(-u / 2, 0), c + QPointF(u / 2, u)}));
  else
    p.drawPolyline(QPolygonF({c + QPointF(-u, -u / 2), c + QPointF(0, u / 2), c + QPointF(u, -u / 2)}));
}

void Docket::paint_spectrum(QPainter& p, const Row& r, const QRect& text, bool here) const {
  // A small wave instead of stages: it has none.
  p.setFont(theme::words(13, here ? QFont::DemiBold : QFont::Normal));
  p.setPen(theme::color(Ink::ink));
  p.drawText(text.adjusted(0, 0, -px(40), 0), Qt::AlignVCenter,
             p.fontMetrics().elidedText(r.text, Qt::ElideRight, text.width() - px(44)));
  p.setPen(QPen(theme::temper(5), 1.5));
  p.setBrush(Qt::NoBrush);
  QPolygonF wave;
  const double heights[] = {0, -3, 1, -5, 4, -2, 3, -1, 0};
  for (int k = 0; k < 9; ++k)
    wave << QPointF(text.right() - px(34) + px(4) * k, text.center().y() + heights[k] * theme::scale());
  p.drawPolyline(wave);
}

void Docket::paint_piece(QPainter& p, const Row& r, const QRect& text, bool here) const {
  p.setFont(theme::words(13, here ? QFont::DemiBold : QFont::Normal));
  p.setPen(theme::color(Ink::ink));
  const int glyph = px(13), bar_w = px(5), bars = 7 * (bar_w + 2);
  p.drawText(text.adjusted(0, 0, -bars - glyph - 14, 0), Qt::AlignVCenter,
             p.fontMetrics().elidedText(r.text, Qt::ElideRight, text.width() - bars - glyph - 16));
  const double x0 = text.right() - glyph - 8 - bars;
  if (const auto at = bench_->others_at_work().find(r.specimen.id); at != bench_->others_at_work().end()) {
    // It runs at another bench: who is there, in place of how far it is.
    p.setFont(theme::words(11, QFont::DemiBold));
    p.setPen(theme::color(Ink::action));
    p.setBrush(theme::color(Ink::action));
    p.drawEllipse(QPointF(text.right() - 3, text.center().y() + 0.5), 3, 3);
    p.drawText(QRectF(x0 - px(14), text.top(), text.right() - 12 - x0 + px(14), text.height()),
               Qt::AlignVCenter | Qt::AlignRight,
               p.fontMetrics().elidedText(at->second, Qt::ElideRight, int(text.right() - 12 - x0 + px(14))));
    return;
  }
  for (int k = 0; k < 7; ++k) {
    const char state = k < int(r.specimen.stages.size()) ? r.specimen.stages[size_t(k)] : '0';
    const QRectF bar(x0 + k * (bar_w + 2), text.center().y() - px(5), bar_w, px(10));
    p.setPen(Qt::NoPen);
    p.setBrush(theme::dark() ? QColor("#3A4650") : QColor("#CFC8B8"));
    p.drawRect(bar);
    p.setBrush(theme::temper(k));
    if (state == '2') p.drawRect(bar);
    if (state == '1') p.drawRect(bar.adjusted(0, bar.height() / 2, 0, 0));
  }
  const bool run = r.specimen.stages.size() > 3 && r.specimen.stages[3] == '2';
  if (run)
    theme::draw_glyph(p, QRectF(text.right() - glyph + 2, text.center().y() - glyph / 2.0, glyph, glyph),
                      r.specimen.open_judgements > 0 && r.specimen.verdict != "fails"
                          ? Verdict::open
                          : verdict_from(r.specimen.verdict));
}

}  // namespace fortitor
