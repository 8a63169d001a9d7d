// One row of the ledger: symbol, name, value, its uncertainty on a scale with the limit, the verdict in words.
#include <QPainter>
#include <QTextDocument>
#include <algorithm>

#include "app/ledger/ledger.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"

namespace fortitor {
namespace {

using parts::qs;
using theme::Ink;

constexpr double kRow = 62, kTextRow = 40;

QString limit_words(const ResultValue& r, const Fields& fields, UnitSet set) {
  if (r.verdict == Verdict::none) return {};
  auto bound = [&](const std::optional<Reading>& b) {
    ResultValue copy = r;
    copy.censored.reset();
    copy.value = *b->value;
    return qs(reported(copy, fields, set).number);
  };
  const bool min = r.limit.min && r.limit.min->value, max = r.limit.max && r.limit.max->value;
  const QString range = min && max ? bound(r.limit.min) + "–" + bound(r.limit.max)
                        : min      ? "≥ " + bound(r.limit.min)
                                   : "≤ " + bound(r.limit.max);
  const QString sure = qs(sureness(r));
  return qs(verdict_word(r.verdict)) + " " + range + (sure.isEmpty() ? "" : ", " + sure);
}

// The name in lines of at most `width`, parted between words. A word that is wider stands alone.
QStringList lines_of(const QString& name, const QFontMetricsF& m, double width) {
  QStringList lines;
  for (const QString& word : name.split(' ')) {
    if (word == "%" && !lines.isEmpty()) {  // a number and its sign stay together
      lines.back() += " %";
      continue;
    }
    const QString longer = lines.isEmpty() ? word : lines.back() + " " + word;
    if (!lines.isEmpty() && m.horizontalAdvance(longer) <= width)
      lines.back() = longer;
    else
      lines << word;
  }
  return lines;
}

// Beside the value a name takes one line or two; else it goes under symbol and value, as wide as the row.
bool fits_beside(const QString& name, const QFontMetricsF& m, double width) {
  const QStringList lines = lines_of(name, m, width);
  return lines.size() <= 2 &&
         std::all_of(lines.begin(), lines.end(), [&](const QString& l) { return m.horizontalAdvance(l) <= width; });
}

void draw_name(QPainter& p, const QString& name, QPointF base, double width) {
  const QStringList lines = lines_of(name, p.fontMetrics(), width);
  if (lines.size() == 1) return p.drawText(base, name);
  const double half = 0.45 * p.fontMetrics().height();
  p.drawText(base - QPointF(0, half), lines[0]);
  p.drawText(base + QPointF(0, half), lines[1]);
}

}  // namespace

double LedgerList::row_height(const ResultValue& r) const {
  const bool large = (r.spec.headline || r.verdict != Verdict::none) && !r.is_text();
  return theme::scaled(large ? kRow : kTextRow) + name_under(r);
}

// Limit range as a green rail, the value as a bar with its uncertainty.
void LedgerList::paint_scale(QPainter& p, const ResultValue& r, const QRectF& rail) {
  const auto min = r.limit.min ? r.limit.min->value : std::nullopt,
             max = r.limit.max ? r.limit.max->value : std::nullopt;
  double low = r.value - 4 * r.expanded(), high = r.value + 4 * r.expanded();
  for (const auto& bound : {min, max}) {
    if (!bound) continue;
    low = std::min(low, *bound - 3 * r.expanded());
    high = std::max(high, *bound + 3 * r.expanded());
  }
  if (!(high > low)) return;
  auto x = [&](double v) { return rail.left() + rail.width() * std::clamp((v - low) / (high - low), 0.0, 1.0); };
  p.setPen(QPen(theme::color(Ink::hairline), 2));
  p.drawLine(QPointF(rail.left(), rail.center().y()), QPointF(rail.right(), rail.center().y()));
  if (min || max) {
    QColor good = theme::color(Ink::meets);
    good.setAlpha(90);
    p.fillRect(QRectF(QPointF(min ? x(*min) : rail.left(), rail.center().y() - 3),
                      QPointF(max ? x(*max) : rail.right(), rail.center().y() + 3)),
               good);
  }
  p.setPen(QPen(theme::color(Ink::quiet), 3));
  p.drawLine(QPointF(x(r.value - r.expanded()), rail.center().y()),
             QPointF(x(r.value + r.expanded()), rail.center().y()));
  p.setPen(QPen(theme::color(Ink::ink), 3));
  p.drawLine(QPointF(x(r.value), rail.center().y() - 6), QPointF(x(r.value), rail.center().y() + 6));
}

double LedgerList::name_room(const ResultValue& r) const {
  const bool large = (r.spec.headline || r.verdict != Verdict::none) && !r.is_text();
  const Printed value = reported(r, bench_->record().fields, bench_->units());
  const QFontMetricsF words(theme::words(12)), number(theme::numbers(large ? 18 : 13, QFont::Bold)),
      symbol(theme::words(13, QFont::DemiBold));
  const double unit_w = value.unit.empty() ? 0 : words.horizontalAdvance(spoken(qs(value.unit))) + 5;
  const double symbol_w = symbol.horizontalAdvance(qs(plain_symbol(r.spec.symbol)));
  return width() - 12 - unit_w - number.horizontalAdvance(spoken(qs(value.number))) - 8 -
         (12 + std::max(symbol_w + 8, theme::scaled(52.0)));
}

double LedgerList::name_under(const ResultValue& r) const {
  const QFontMetricsF m(theme::words(12));
  const QString name = spoken(r.spec.name);
  if (name.isEmpty() || fits_beside(name, m, name_room(r))) return 0;
  return double(lines_of(name, m, width() - 24).size()) * m.height() + theme::scaled(4);
}

void LedgerList::paint_row(QPainter& p, const ResultValue& r, const QRectF& box) {
  const double under = name_under(r);
  const UnitSet set = bench_->units();
  const Fields& fields = bench_->record().fields;
  const bool open = qs(r.spec.key) == open_;
  if (open) p.fillRect(box, theme::color(Ink::selected));
  const double left = 12, right = box.right() - 12, base = box.top() + theme::scaled(24);
  const bool large = (r.spec.headline || r.verdict != Verdict::none) && !r.is_text();
  const Printed value = reported(r, fields, set);
  p.setFont(theme::words(12));
  const double unit_w = value.unit.empty() ? 0 : p.fontMetrics().horizontalAdvance(spoken(qs(value.unit))) + 5;
  p.setPen(theme::color(Ink::quiet));
  p.drawText(QPointF(right - unit_w + 5, base), spoken(qs(value.unit)));
  const QFont number = theme::numbers(large ? 18 : 13, QFont::Bold);
  p.setFont(number);
  p.setPen(theme::color(Ink::ink));
  const double number_w = p.fontMetrics().horizontalAdvance(spoken(qs(value.number)));
  p.drawText(QPointF(right - unit_w - number_w, base), spoken(qs(value.number)));
  const double symbol_w =
      theme::draw_symbol(p, {left, base}, qs(r.spec.symbol), theme::words(13, QFont::DemiBold), theme::color(Ink::ink));
  const double name_left = left + std::max(symbol_w + 8, theme::scaled(52.0));
  p.setFont(theme::words(12));
  p.setPen(theme::color(Ink::quiet));
  const double name_w = right - unit_w - number_w - 8 - name_left;
  if (under > 0) {
    const QStringList lines = lines_of(spoken(r.spec.name), p.fontMetrics(), width() - 24);
    for (qsizetype i = 0; i < lines.size(); ++i)
      p.drawText(QPointF(left, base + theme::scaled(4) + (double(i) + 0.9) * p.fontMetrics().height()), lines[i]);
  } else {
    draw_name(p, spoken(r.spec.name), {name_left, base}, name_w);
  }
  if (large) {
    const double y = box.top() + under + theme::scaled(46);
    p.setFont(theme::numbers(11));
    p.setPen(theme::color(Ink::quiet));
    double uncertainty_w = 0;
    if (r.standard_uncertainty > 0) {
      const QString text = "± " + qs(printed_uncertainty(r.expanded(), r.shown_like(), r.spec.dimension, set).number);
      uncertainty_w = p.fontMetrics().horizontalAdvance(spoken(text));
      p.drawText(QPointF(left, y), spoken(text));
    }
    QString verdict = limit_words(r, fields, set);
    QColor colour = r.near ? theme::color(Ink::near) : theme::verdict_color(r.verdict);
    if (verdict.isEmpty()) {
      verdict = "no limit";
      colour = theme::color(Ink::quiet);
    }
    if (const auto original = bench_->original())
      if (const ResultValue* was = original->find(r.spec.key); was && was->value != r.value) {
        verdict = "was " + qs(reported(*was, fields, set).number);
        colour = theme::color(Ink::action);
      }
    p.setFont(theme::words(12, r.verdict == Verdict::none ? QFont::Normal : QFont::DemiBold));
    // Where it does not fit beside U the limit goes: it stands in How.
    const double room = right - left - uncertainty_w - theme::scaled(30);
    if (r.verdict != Verdict::none && p.fontMetrics().horizontalAdvance(spoken(verdict)) > room && !sureness(r).empty())
      verdict = qs(verdict_word(r.verdict)) + ", " + qs(sureness(r));
    const double w = p.fontMetrics().horizontalAdvance(spoken(verdict));
    p.setPen(colour);
    p.drawText(QPointF(right - w, y), spoken(verdict));
    double scale_right = right - w - 10;
    if (r.verdict != Verdict::none) {
      theme::draw_glyph(
          p, QRectF(right - w - theme::scaled(17), y - theme::scaled(10), theme::scaled(12), theme::scaled(12)),
          r.verdict, r.near);
      scale_right -= theme::scaled(16);
    }
    const double scale_left = left + std::max(theme::scaled(56), uncertainty_w + 10);
    if (scale_right - scale_left > 24 && r.standard_uncertainty > 0)
      paint_scale(p, r, QRectF(scale_left, y - theme::scaled(10), scale_right - scale_left, theme::scaled(12)));
  }
  if (open) {
    QTextDocument doc;
    doc.setDefaultFont(theme::words(12));
    doc.setHtml("<body style='color:" + theme::color(Ink::ink).name() + "'>" + how_html(r) + "</body>");
    doc.setTextWidth(width() - 40);
    const double top = box.top() + under + theme::scaled(large ? kRow : kTextRow);
    p.save();
    p.setPen(QPen(theme::color(Ink::hairline)));
    p.setBrush(theme::color(Ink::sheet));
    p.drawRoundedRect(QRectF(12, top - 2, width() - 24, doc.size().height() + 8), 4, 4);
    p.translate(20, top + 2);
    doc.drawContents(&p);
    p.restore();
  }
  p.setPen(theme::color(Ink::hairline));
  p.drawLine(QPointF(0, box.bottom() - 0.5), QPointF(box.right(), box.bottom() - 0.5));
}

}  // namespace fortitor
