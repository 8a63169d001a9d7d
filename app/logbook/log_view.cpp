#include "app/logbook/log_view.h"

#include <QDateTime>
#include <QLocale>
#include <QPaintEvent>
#include <QPainter>

#include "app/theme/parts.h"
#include "app/theme/theme.h"

namespace fortitor {
namespace {

using parts::qs;
using theme::Ink;

int s(double v) {
  return int(v * theme::scale());
}

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
  setAccessibleName("Lines of the logbook, the newest first");
}

void LogView::show_lines(std::vector<LogEntry> lines) {
  lines_ = std::move(lines);
  rows_.clear();
  int y = s(6);
  QDate day;
  for (size_t i = 0; i < lines_.size(); ++i) {
    const QDate of = time_of(lines_[i]).date();
    if (of != day) {
      rows_.push_back({y, s(38), -1, of});
      y += s(38);
      day = of;
    }
    rows_.push_back({y, s(27), int(i), of});
    y += s(27);
  }
  setMinimumHeight(y + s(10));
  update();
}

void LogView::paintEvent(QPaintEvent* event) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  if (rows_.empty()) {
    p.setFont(theme::words(13));
    p.setPen(theme::color(Ink::quiet));
    p.drawText(rect().adjusted(s(20), s(16), 0, 0), Qt::AlignTop | Qt::AlignLeft, "No line of the logbook says that.");
    return;
  }
  const double x = s(24);
  p.setPen(QPen(theme::color(Ink::hairline), 2));
  p.drawLine(QPointF(x, rows_.front().top + s(20)), QPointF(x, rows_.back().top + rows_.back().height / 2.0));
  for (const Row& row : rows_) {
    if (row.top > event->rect().bottom() || row.top + row.height < event->rect().top()) continue;
    if (row.line >= 0) {
      paint_line(p, row);
      continue;
    }
    p.setFont(theme::words(13, QFont::DemiBold));
    const QString day = QLocale(QLocale::English).toString(row.day, "dddd, d MMMM yyyy");
    const QRectF box(s(12), row.top + s(9), p.fontMetrics().horizontalAdvance(day) + s(24), s(22));
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
  const double x = s(24), middle = row.top + row.height / 2.0;
  const QColor colour = link == Link::signature ? theme::color(Ink::action)
                        : link == Link::run     ? theme::temper(3)
                        : link == Link::book    ? theme::temper(0)
                                                : theme::color(Ink::quiet);
  p.setPen(QPen(colour, 1.6));
  p.setBrush(link == Link::plain ? theme::color(Ink::sheet) : colour);
  const double r = link == Link::plain ? s(3.4) : s(4.6);
  p.drawEllipse(QPointF(x, middle), r, r);

  auto put = [&](double left, double room, const QFont& font, Ink ink, const QString& text, Qt::Alignment side) {
    p.setFont(font);
    p.setPen(theme::color(ink));
    const QRectF box(left, row.top, room, row.height);
    p.drawText(box, Qt::AlignVCenter | side, p.fontMetrics().elidedText(text, Qt::ElideRight, int(room)));
  };
  const double who = s(110), what = s(250), left = s(46), end = width() - s(18);
  put(left, s(74), theme::numbers(12.5), Ink::quiet, time_of(line).toString("HH:mm:ss"), Qt::AlignLeft);
  put(left + s(80), s(76), theme::words(13, QFont::DemiBold), Ink::ink, qs(line.specimen), Qt::AlignLeft);
  put(left + s(162), what, theme::words(13, link == Link::signature ? QFont::DemiBold : QFont::Normal), Ink::ink,
      qs(line.what), Qt::AlignLeft);
  const double detail = left + s(162) + what + s(12);
  put(detail, end - who - s(12) - detail, theme::words(13), Ink::quiet, shortened(qs(line.detail)), Qt::AlignLeft);
  put(end - who, who, theme::words(13), Ink::quiet, qs(line.who), Qt::AlignRight);
}

}  // namespace fortitor
