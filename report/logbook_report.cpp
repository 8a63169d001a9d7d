#include "report/logbook_report.h"

#include <QDateTime>

#include "report/page.h"

namespace fortitor {
namespace {

using page::escaped;

std::string body(const LogbookReport& r) {
  std::string rows;
  for (auto line = r.lines.rbegin(); line != r.lines.rend(); ++line) {  // read from the morning on
    const QDateTime at = QDateTime::fromString(QString::fromStdString(line->at), Qt::ISODateWithMs).toLocalTime();
    rows += "<tr><td>" + at.toString("d MMM HH:mm:ss").toStdString() + "</td><td>" + escaped(line->who) +
            "</td><td><b>" + escaped(line->specimen) + "</b></td><td>" + escaped(line->what) +
            (line->detail.empty() ? "" : "<br/><span style=\"color:#6F7780\">" + escaped(line->detail) + "</span>") +
            "</td><td><span style=\"color:#6F7780\">" + escaped(line->hash.substr(0, 10)) + "</span></td></tr>";
  }
  return "<table width=\"100%\" cellspacing=\"0\" cellpadding=\"8\"><tr bgcolor=\"#22303C\"><td><span "
         "style=\"color:#E0B84C;font-size:14pt\"><b>Logbook</b></span><br/><span style=\"color:#F3F0E8\">" +
         escaped(r.title) + "</span></td><td align=\"right\"><span style=\"color:#F3F0E8\">" + escaped(r.book) +
         "</span></td></tr></table><table width=\"100%\" cellspacing=\"0\" cellpadding=\"3\">" + rows +
         "</table><p style=\"color:#6F7780\">" + std::to_string(r.lines.size()) +
         (r.lines.size() == 1 ? " line" : " lines") + ". The chain of the book had " + std::to_string(r.head.lines) +
         " lines, head " + escaped(r.head.hash) + ".</p>";
}

}  // namespace

Outcome<Done> write_logbook_report(const LogbookReport& r, const std::string& path) {
  if (path.ends_with(".pdf"))
    return page::pdf({{body(r), {}, UnitSet::si, 0.36, "Logbook · " + r.title, r.head.hash.substr(0, 16)}}, "Logbook",
                     path);
  return page::write_new(page::document("Logbook", "<section>" + body(r) + "</section>"), path);
}

}  // namespace fortitor
