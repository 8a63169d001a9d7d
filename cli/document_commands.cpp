// Documents, their register, demand sheets and labels.
#include <QFile>
#include <algorithm>

#include "cli/commands.h"
#include "cli/headless.h"
#include "core/json/json.h"
#include "report/document.h"
#include "report/label.h"
#include "store/clock.h"
#include "store/new_file.h"

namespace fortitor::cli {
namespace {

std::string user() {
  return qEnvironmentVariable("USER", "operator").toStdString();
}

int print(const Json& j) {
  std::printf("%s\n", j.dump(1).c_str());
  return 0;
}

Outcome<std::unique_ptr<Book>> open_to_write(const std::string& path) {
  auto book = QFile::exists(QString::fromStdString(path))
                  ? Book::open(path, user())
                  : Outcome<std::unique_ptr<Book>>(InputError{path + ": there is no such book.", {}});
  if (!book) return book;
  if ((*book)->read_only()) return InputError{(*book)->notices().front(), {}};
  (*book)->use_shelf(shelf());
  return book;
}

// The series of that title; the only one of the job where none is named.
Outcome<Id> series_named(const Book& book, const std::string& job_code, const std::string& title) {
  const auto job = book.job_by_code(job_code);
  if (!job) return InputError{"There is no job " + job_code + " in this book.", {}};
  const auto all = book.series(job->id);
  std::string names;
  for (const SeriesRow& s : all) {
    if (s.title == title || (title.empty() && all.size() == 1)) return s.id;
    names += (names.empty() ? "" : ", ") + s.title;
  }
  return InputError{"--series: job " + job_code + " has " + (names.empty() ? "none" : names) + ".", {}};
}

int certificates(const Book& book, const ReportOptions& o) {
  if (o.issue) return bad_input("--issue: a document is issued, say which with --document");
  if (!o.out.ends_with(".pdf") && !o.out.ends_with(".html")) return bad_input("--out: expected FILE.pdf or FILE.html");
  auto pages = certificates_of_job(book, o.job, UnitSet::si, told("reading", 0.3));
  if (!pages) return bad_input(o.book + ": " + pages.error().message);
  if (const auto done = write_certificates(pages->pages, o.out, told("writing", 0.7, 0.3)); !done)
    return bad_input(done.error().message);
  for (const std::string& why : pages->refused) remark(why + " It is not printed.");
  return pages->refused.empty() ? 0 : 1;
}

}  // namespace

int report(const ReportOptions& o) {
  const Headless headless;
  const bool wants_document = !o.document.empty() || !o.language.empty() || !o.layout.empty();
  auto book = o.issue ? open_to_write(o.book) : Book::open_read_only(o.book, shelf());
  if (!book) return bad_input(book.error().message);
  if (!wants_document) return certificates(**book, o);
  bool known = false;
  for (const char* ending : {".pdf", ".html", ".csv", ".json"}) known = known || o.out.ends_with(ending);
  if (!known) return bad_input("--out: expected FILE.pdf, FILE.html, FILE.csv or FILE.json");
  DocumentRequest request;
  request.job = o.job;
  if (!o.language.empty()) request.language = language_of(o.language);
  if (!o.layout.empty()) request.layout = o.layout;
  if (o.document == "pieces") request.covers = DocumentRequest::Covers::pieces;
  if (o.document == "series") {
    const auto series = series_named(**book, o.job, o.series);
    if (!series) return bad_input(series.error().message);
    request.covers = DocumentRequest::Covers::series;
    request.what = *series;
  }
  if (o.issue) {
    if (QFile::exists(QString::fromStdString(o.out))) return bad_input(o.out + ": is there already; name a new file");
    if (!o.out.ends_with(".pdf")) return bad_input("--out: a document is issued as FILE.pdf");
    const auto issued = issue_document(**book, request, {}, o.replaces, o.because, told("writing", 1));
    if (!issued) return bad_input(issued.error().message);
    const auto bytes = Papers(static_cast<const Book&>(**book)).bytes(*issued);
    if (!bytes) return bad_input(bytes.error().message);
    if (const auto done = write_new_file(o.out, *bytes); !done) return bad_input(done.error().message);
    std::printf("%s\n", issued->number.c_str());
    return 0;
  }
  const auto document = collect(**book, request, told("reading", 0.3));
  if (!document) return bad_input(o.book + ": " + document.error().message);
  if (const auto done = write_document(*document, o.out, told("writing", 0.7, 0.3)); !done)
    return bad_input(done.error().message);
  for (const std::string& why : document->refused) remark(why + " It is not printed.");
  return document->refused.empty() ? 0 : 1;
}

int documents(const RegisterOptions& o) {
  const Headless headless;
  auto book = o.withdraw.empty() ? Book::open_read_only(o.book, shelf()) : open_to_write(o.book);
  if (!book) return bad_input(book.error().message);
  if (!o.withdraw.empty()) {
    if (const auto done = withdraw_document(**book, o.withdraw, o.because); !done)
      return bad_input(done.error().message);
    return 0;
  }
  const Papers papers(static_cast<const Book&>(**book));
  if (!o.open.empty()) {
    if (o.out.empty()) return bad_input("--out: name the file for the document");
    const auto d = papers.document(o.open);
    if (!d) return bad_input(o.book + ": there is no document " + o.open + " in the register");
    const auto bytes = papers.bytes(*d);
    if (!bytes) return bad_input(bytes.error().message);
    if (const auto done = write_new_file(o.out, *bytes); !done) return bad_input(done.error().message);
    return 0;
  }
  Json all = Json::array();
  const auto rows = papers.documents();
  for (const DocumentRow& d : rows) {
    std::string replaced;
    for (const DocumentRow& other : rows)
      if (d.replaces == other.id) replaced = other.number;
    all.push_back({{"number", d.number},
                   {"edition", d.edition},
                   {"state", d.state},
                   {"kind", d.kind},
                   {"covers", d.covers},
                   {"customer", d.customer},
                   {"language", d.language},
                   {"day", day_here(d.issued_at)},
                   {"issued_at", d.issued_at},
                   {"issued_by", d.issued_by},
                   {"replaces", replaced.empty() ? Json(nullptr) : Json(replaced)},
                   {"reason", d.reason},
                   {"sha256", d.sha256}});
  }
  if (o.json) return print({{"fortitor", "documents/1"}, {"documents", all}});
  for (const DocumentRow& d : rows)
    std::printf("%-12s ed. %d  %-9s  %s  %-28s %-24s %.16s\n", d.number.c_str(), d.edition, d.state.c_str(),
                day_here(d.issued_at).c_str(), d.covers.c_str(), d.customer.c_str(), d.sha256.c_str());
  return 0;
}

int demands(const DemandsOptions& o) {
  const Headless headless;
  if (!o.list && !o.json && o.import.empty() && o.export_to.empty())
    return bad_input("expected --list, --import FILE or --export FILE");
  auto book = o.import.empty() ? Book::open_read_only(o.book, shelf()) : open_to_write(o.book);
  if (!book) return bad_input(book.error().message);
  if (!o.import.empty()) {
    const auto read = lab::read_demands(o.import);
    if (!read) return bad_input(read.error().message);
    Papers papers(**book);
    const auto known = papers.sheets();
    if (!known) return bad_input(known.error().message);
    const auto done = (*book)->together([&]() -> Outcome<Done> {
      for (lab::DemandSheet sheet : *read) {
        for (const lab::DemandSheet& old : *known)
          if (old.name == sheet.name) sheet.id = old.id;
        if (const auto kept = papers.save(sheet); !kept) return kept.error();
      }
      return Done{};
    });
    if (!done) return bad_input(done.error().message);
    std::printf("%zu %s\n", read->size(), read->size() == 1 ? "sheet" : "sheets");
    return 0;
  }
  const auto sheets = Papers(static_cast<const Book&>(**book)).sheets();
  if (!sheets) return bad_input(sheets.error().message);
  if (!o.export_to.empty()) {
    const std::string text =
        o.export_to.ends_with(".csv") ? lab::demands_to_csv(*sheets) : lab::demands_to_json(*sheets) + "\n";
    if (const auto done = write_new_file(o.export_to, QByteArray::fromStdString(text)); !done)
      return bad_input(done.error().message);
    return 0;
  }
  if (o.json) {
    std::printf("%s\n", lab::demands_to_json(*sheets, 1).c_str());
    return 0;
  }
  for (const lab::DemandSheet& s : *sheets)
    std::printf("%-26s %-24s %2zu rows  %s\n", s.name.c_str(),
                (s.source + (s.edition.empty() ? "" : ":" + s.edition)).c_str(), s.rows.size(),
                s.id == 0 ? "shipped" : "of the book");
  return 0;
}

int completeness(const std::string& book_path, const std::string& job, bool json) {
  const Headless headless;
  auto book = Book::open_read_only(book_path, shelf());
  if (!book) return bad_input(book.error().message);
  const auto row = (*book)->job_by_code(job);
  if (!row) return bad_input(book_path + ": There is no job " + job + " in this book.");
  const auto all = completeness_of(**book, row->id);
  if (!all) return bad_input(all.error().message);
  bool complete = true;
  Json out = {{"fortitor", "completeness/1"}, {"job", job}, {"series", Json::array()}};
  for (const SeriesCompleteness& s : *all) {
    complete = complete && s.table.complete();
    Json one = {{"title", s.series.title}, {"demand", s.sheet.title()}, {"rows", Json::array()}};
    if (!json) std::printf("%s, %s\n", s.series.title.c_str(), s.sheet.title().c_str());
    for (const auto& line : s.table.lines) {
      Json cells = Json::object();
      for (size_t i = 0; i < s.codes.size(); ++i)
        if (line.cells[i] != lab::CellState::not_wanted) cells[s.codes[i]] = lab::cell_word(line.cells[i]);
      one["rows"].push_back({{"method", line.row.method},
                             {"key", line.row.key},
                             {"wanted", line.wanted},
                             {"cut", line.cut},
                             {"tested", line.tested},
                             {"meets", line.met},
                             {"fails", line.failed},
                             {"retest_open", line.retest_open},
                             {"set", lab::cell_word(line.set)},
                             {"needed", line.row.needed},
                             {"cells", cells}});
      if (!json)
        std::printf("  %-34s %-8s %s\n", line.row.words().c_str(), std::string(lab::cell_word(line.set)).c_str(),
                    line.words.c_str());
    }
    out["series"].push_back(std::move(one));
  }
  if (json) print(out);
  return complete ? 0 : 1;
}

int labels(const std::string& book_path, const std::string& job, const std::string& out, bool sheets) {
  const Headless headless;
  if (!out.ends_with(".pdf")) return bad_input("--out: expected FILE.pdf");
  auto book = Book::open_read_only(book_path, shelf());
  if (!book) return bad_input(book.error().message);
  const auto all = labels_of(**book, job);
  if (!all) return bad_input(book_path + ": " + all.error().message);
  const auto done = write_labels(*all, sheets ? LabelPaper::sheet : LabelPaper::roll, out);
  return done ? 0 : bad_input(done.error().message);
}

}  // namespace fortitor::cli
