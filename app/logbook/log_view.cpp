#include "app/logbook/log_view.h"

#include <QDateTime>
#include <QPaintEvent>
#include <QPainter>

#include "app/theme/parts.h"
#include "app/theme/theme.h"

namespace fortitor {
namespace {

using parts::qs;
using theme::Ink;

QDateTime time_of(const LogEntry& line) {
  return QDateTime::fromString(qs(line.at), Qt::ISODateWithMs).toLocalTime();
}

// What stands out on the chain: signatures, runs, what touched the book itself.
enum class Link { plain, run, signature, book };

Link link_of(const LogEntry& line) {
  if (line.what == "signed off" || line.what == "sealed") return Link::signature;
  if (line.what.rfind("run ", 0) == 0) return Link::run;
  if (line.what.rfind("book ", 0) == 0 || line.what.rfind("bundle ", 0) == 0) return Link::book;
  return Link::plain;
}

// Hashes are for machines; their beginnings are enough for the eye.
QString shortened(const QString& text) {
  QStringList words = text.split(' ');
  for (QString& w : words)
    if (w.size() == 64) w = w.left(8) + "…";
  return words.join(' ');
}

}  // namespace

LogView::LogView(QWidget* parent) : QWidget(parent) {
  setAccessibleName(spoken("Lines of the logbook, the newest first"));
}

void LogView::show_lines(std::vector<LogEntry> lines) {
  lines_ = std::move(lines);
  rows_.clear();
  int y = theme::px(6);
  QDate day;
  for (size_t i = 0; i < lines_.size(); ++i) {
    const QDate of = time_of(lines_[i]).date();
    if (of != day) {
      rows_.push_back({y, theme::px(38), -1, of});
      y += theme::px(38);
      day = of;
    }
    rows_.push_back({y, theme::px(27), int(i), of});
    y += theme::px(27);
  }
  setMinimumHeight(y + theme::px(10));
  update();
}

std::vector<PaintedPart> LogView::painted_parts() {
  std::vector<PaintedPart> out;
  for (const Row& row : rows_) {
    const QRect where(0, row.top, width(), row.height);
    if (row.line < 0) {
      out.push_back({spoken_day(row.day), {}, where, QAccessible::Heading});
      continue;
    }
    const LogEntry& line = lines_[size_t(row.line)];
    QStringList said = {time_of(line).toString("HH:mm:ss")};
    for (const QString& one : {qs(line.specimen), spoken(shortened(qs(line.detail))), qs(line.who)})
      if (!one.isEmpty()) said << one;
    out.push_back({spoken(qs(line.what)), said.join(", "), where});
  }
  return out;
}

void LogView::paintEvent(QPaintEvent* event) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  if (rows_.empty()) {
    p.setFont(theme::words(13));
    p.setPen(theme::color(Ink::quiet));
    p.drawText(rect().adjusted(theme::px(20), theme::px(16), 0, 0), Qt::AlignTop | Qt::AlignLeft,
               spoken("No line of the logbook says that."));
    return;
  }
  const double x = theme::px(24);
  p.setPen(QPen(theme::color(Ink::hairline), 2));
  p.drawLine(QPointF(x, rows_.front().top + theme::px(20)), QPointF(x, rows_.back().top + rows_.back().height / 2.0));
  for (const Row& row : rows_) {
    if (row.top > event->rect().bottom() || row.top + row.height < event->rect().top()) continue;
    if (row.line >= 0) {
      paint_line(p, row);
      continue;
    }
    p.setFont(theme::words(13, QFont::DemiBold));
    const QString day = spoken_day(row.day);
    const QRectF box(theme::px(12), row.top + theme::px(9), p.fontMetrics().horizontalAdvance(day) + theme::px(24),
                     theme::px(22));
    p.setPen(QPen(theme::color(Ink::hairline), 1));
    p.setBrush(theme::color(Ink::background));
    p.drawRoundedRect(box, 11, 11);
    p.setPen(theme::color(Ink::ink));
    p.drawText(box, Qt::AlignCenter, day);
  }
}

void LogView::paint_line(QPainter& p, const Row& row) const {
  const LogEntry& line = lines_[size_t(row.line)];
  const Link link = link_of(line);
  const double x = theme::px(24), middle = row.top + row.height / 2.0;
  const QColor colour = link == Link::signature ? theme::color(Ink::action)
                        : link == Link::run     ? theme::temper(3)
                        : link == Link::book    ? theme::temper(0)
                                                : theme::color(Ink::quiet);
  p.setPen(QPen(colour, 1.6));
  p.setBrush(link == Link::plain ? theme::color(Ink::sheet) : colour);
  const double r = link == Link::plain ? theme::px(3.4) : theme::px(4.6);
  p.drawEllipse(QPointF(x, middle), r, r);

  auto put = [&](double left, double room, const QFont& font, Ink ink, const QString& text, Qt::Alignment side) {
    p.setFont(font);
    p.setPen(theme::color(ink));
    const QRectF box(left, row.top, room, row.height);
    p.drawText(box, Qt::AlignVCenter | side, p.fontMetrics().elidedText(spoken(text), Qt::ElideRight, int(room)));
  };
  const double who = theme::px(110), what = theme::px(250), left = theme::px(46), end = width() - theme::px(18);
  put(left, theme::px(74), theme::numbers(12.5), Ink::quiet, time_of(line).toString("HH:mm:ss"), Qt::AlignLeft);
  put(left + theme::px(80), theme::px(76), theme::words(13, QFont::DemiBold), Ink::ink, qs(line.specimen),
      Qt::AlignLeft);
  put(left + theme::px(162), what, theme::words(13, link == Link::signature ? QFont::DemiBold : QFont::Normal),
      Ink::ink, qs(line.what), Qt::AlignLeft);
  const double detail = left + theme::px(162) + what + theme::px(12);
  put(detail, end - who - theme::px(12) - detail, theme::words(13), Ink::quiet, shortened(qs(line.detail)),
      Qt::AlignLeft);
  put(end - who, who, theme::words(13), Ink::quiet, qs(line.who), Qt::AlignRight);
}

}  // namespace fortitor
