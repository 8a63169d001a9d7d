#include <QPainter>
#include <cmath>

#include "app/series/series_page.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"

namespace fortitor {

using parts::qs;
using theme::Ink;

SeriesFigure::SeriesFigure(QWidget* parent) : QWidget(parent) {
  setMinimumSize(240, 190);
  setAccessibleName("Histogram of the series");
}

void SeriesFigure::show_view(const SeriesView* view, UnitSet set) {
  view_ = view;
  set_ = set;
  update();
}

void SeriesFigure::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  if (view_ == nullptr || view_->report.counted.n == 0) {
    p.setPen(theme::color(Ink::quiet));
    p.setFont(theme::words(13));
    p.drawText(rect(), Qt::AlignCenter | Qt::TextWordWrap, "The histogram grows with the pieces.");
    return;
  }
  const SeriesReport& r = view_->report;
  const Dimension d = r.spec.dimension;
  double low = r.all.least, high = r.all.most;
  for (const auto& bound : {view_->limit.min, view_->limit.max})
    if (bound && bound->value) {
      low = std::min(low, *bound->value);
      high = std::max(high, *bound->value);
    }
  if (high <= low) high = low + std::max(1e-9, std::abs(low) * 0.02);
  const double margin = 0.08 * (high - low);
  low -= margin;
  high += margin;
  const double left = 26, right = width() - 20.0, base = height() - 74.0, top = 22;
  auto x = [&](double v) { return left + (right - left) * (v - low) / (high - low); };
  size_t most = 1;
  for (size_t c : r.histogram.counts) most = std::max(most, c);
  const double unit = (base - top) / double(most);
  for (size_t i = 0; i < r.histogram.counts.size(); ++i) {
    if (r.histogram.counts[i] == 0) continue;
    const double a = x(r.histogram.from + double(i) * r.histogram.width),
                 b = x(r.histogram.from + double(i + 1) * r.histogram.width);
    const double h = unit * double(r.histogram.counts[i]);
    QColor fill = theme::temper(6);
    fill.setAlpha(150);
    p.fillRect(QRectF(a + 1, base - h, std::max(2.0, b - a - 2), h), fill);
    p.setPen(theme::color(Ink::quiet));
    p.setFont(theme::numbers(11));
    p.drawText(QRectF(a, base - h - 16, b - a, 14), Qt::AlignCenter, QString::number(r.histogram.counts[i]));
  }
  // Mean with its interval, on the axis.
  p.setPen(QPen(theme::color(Ink::ink), 1.2));
  p.drawLine(QPointF(left, base), QPointF(right, base));
  if (r.counted.of_mean) {
    p.setPen(QPen(theme::temper(5), 5));
    p.drawLine(QPointF(x(r.counted.of_mean->low), base), QPointF(x(r.counted.of_mean->high), base));
  }
  p.setPen(QPen(theme::temper(5), 2));
  p.drawLine(QPointF(x(r.counted.mean), base - 9), QPointF(x(r.counted.mean), base + 9));
  for (const auto& [bound, word] : {std::pair{view_->limit.min, "at least"}, {view_->limit.max, "at most"}}) {
    if (!bound || !bound->value) continue;
    p.setPen(QPen(theme::color(Ink::fails), 1.4, Qt::DashLine));
    p.drawLine(QPointF(x(*bound->value), top), QPointF(x(*bound->value), base + 34));
    p.setFont(theme::words(11, QFont::Medium));
    const QString text = QString(word) + " " + qs(format_value(*bound->value, d, set_, 4));
    const double w = p.fontMetrics().horizontalAdvance(text) + 4,
                 at = std::clamp(x(*bound->value) - w / 2, 2.0, width() - w - 2.0);
    p.drawText(QRectF(at, 2, w, 16), Qt::AlignCenter, text);
  }
  // Every piece as a mark: square when something was ticked, hollow when left out, ringed when it lies apart.
  for (size_t i = 0; i < view_->pieces.size(); ++i) {
    const SeriesPiece& piece = view_->pieces[i];
    if (!piece.there || piece.void_test) continue;
    bool ticked = false;
    for (const auto& [path, on] : piece.ticked) ticked = ticked || on;
    const QPointF at(x(piece.value), base + 22 + double(i % 2) * 9);
    const QColor ink = ticked ? theme::temper(2) : theme::temper(5);
    p.setPen(QPen(ink, 1.6));
    p.setBrush(piece.left_out.empty() ? QBrush(ink) : QBrush(theme::color(Ink::sheet)));
    if (ticked)
      p.drawRect(QRectF(at.x() - 4, at.y() - 4, 8, 8));
    else
      p.drawEllipse(at, 4.4, 4.4);
    if (piece.censored) p.drawLine(at, at + QPointF(14, 0));
    if (std::find(r.outliers.begin(), r.outliers.end(), i) != r.outliers.end()) {
      p.setPen(QPen(theme::color(Ink::near), 2));
      p.setBrush(Qt::NoBrush);
      p.drawEllipse(at, 9, 9);
    }
  }
  p.setPen(theme::color(Ink::quiet));
  p.setFont(theme::numbers(11));
  for (double share : {0.0, 0.5, 1.0}) {
    const double v = low + share * (high - low);
    const QString text = qs(format_number(v, d, set_, 4));
    const double w = p.fontMetrics().horizontalAdvance(text) + 6;
    p.drawText(QRectF(std::clamp(x(v) - w / 2, 0.0, width() - w), height() - 36.0, w, 16), Qt::AlignCenter, text);
  }
  p.setFont(theme::words(12, QFont::Medium));
  p.setPen(theme::color(Ink::ink));
  p.drawText(QRectF(0, height() - 20.0, width(), 18), Qt::AlignCenter,
             qs(r.spec.name) + ", " + qs(display_unit(d, set_, r.counted.mean).symbol));
}

}  // namespace fortitor
