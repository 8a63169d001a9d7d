#include <unistd.h>
#include <QDate>
#include <QFontDatabase>
#include <QGuiApplication>
#include <algorithm>
#include <cstdio>
#include <filesystem>
#include <functional>
#include <memory>
#include <set>
#include <utility>

#include "cli/commands.h"
#include "cli/headless.h"
#include "core/quantity/date.h"
#include "report/certificate.h"
#include "report/export.h"
#include "report/page.h"
#include "store/backup.h"
#include "store/book_plan.h"
#include "store/bundle.h"
#include "store/papers.h"
#include "store/shared.h"

namespace fortitor::cli {

bool is_book(const std::string& path) {
  return is_shared_address(path) || path.ends_with(".fortitor");
}

Outcome<std::vector<TestRecord>> records_of_book(const std::string& path, const std::vector<std::string>& marks,
                                                 std::vector<std::string>& refused) {
  const Headless headless;
  auto book = Book::open_read_only(path, shelf());
  if (!book) return book.error();
  std::vector<TestRecord> out;
  std::set<std::string> found;
  for (const JobOutline& job : (*book)->outline())
    for (const SeriesOutline& series : job.series)
      for (const SpecimenRow& piece : series.specimens) {
        bool asked = false;
        for (const std::string& mark : {piece.code, job.job.code + "/" + piece.code})
          if (std::find(marks.begin(), marks.end(), mark) != marks.end()) {
            found.insert(mark);
            asked = true;
          }
        if (!marks.empty() && !asked) continue;
        auto record = (*book)->record(piece.id);
        if (!record)  // one bad piece never stops the others
          refused.push_back(piece.code + ": " + record.error().message + " It is left out.");
        else if (asked || !record->run.empty())
          out.push_back(std::move(*record));
      }
  for (const std::string& mark : marks)
    if (!found.count(mark)) return InputError{path + ": there is no piece " + mark + ".", {}};
  if (out.empty() && refused.empty()) return InputError{path + ": nothing was tested yet.", {}};
  return out;
}

int check(const std::string& book_path, const std::string& head, const std::string& certificate) {
  const Headless headless;
  auto book = Book::open_read_only(book_path, shelf());
  if (!book) return bad_input(book.error().message);
  auto damage = (*book)->verify();
  if (!head.empty())
    if (const auto holds = (*book)->check_head({0, head}); !holds) damage.push_back({holds.error().message});
  if (!certificate.empty())
    if (const auto holds = check_certificate(**book, certificate); !holds) damage.push_back({holds.error().message});
  for (const Damage& d : damage) std::printf("%s\n", d.what.c_str());
  if (!damage.empty()) return 1;
  const int without = Papers(static_cast<const Book&>(**book)).without_key();
  if (without > 0) std::printf("%d %s signed without a key.\n", without, without == 1 ? "piece is" : "pieces are");
  const ChainHead now = (*book)->head();
  std::printf("The book is sound.\nLogbook: %lld lines, head %s\n", static_cast<long long>(now.lines),
              now.hash.c_str());
  return 0;
}

int backup(const std::string& book_path, const std::string& folder) {
  const Headless headless;
  const auto made = back_up(book_path, folder, Clock().day());
  if (!made) return bad_input(made.error().message);
  std::printf("%s\n", made->c_str());
  return 0;
}

int bundle(const std::string& book_path, const std::string& job, const std::string& out) {
  const Headless headless;
  auto book = Book::open_read_only(book_path, shelf());
  if (!book) return bad_input(book.error().message);
  const auto done = write_bundle(**book, job, out, told("packing", 1));
  if (!done) return bad_input(done.error().message);
  for (const std::string& one : *done) remark(one);
  return done->empty() ? 0 : 1;
}

int unbundle(const std::string& file, const std::string& book_path, const std::string& as) {
  const Headless headless;
  auto book = Book::open(book_path, qEnvironmentVariable("USER", "operator").toStdString());
  if (!book) return bad_input(book.error().message);
  if ((*book)->read_only()) return bad_input((*book)->notices().front());
  (*book)->use_shelf(shelf());
  const auto taken = read_bundle(**book, file, as);
  if (!taken) return bad_input(taken.error().message);
  std::printf("%s: %d specimens\n", taken->code.c_str(), taken->specimens);
  for (const std::string& n : taken->notices) std::printf("%s\n", n.c_str());
  return 0;
}

namespace {

// A name as a folder: what a path cannot hold becomes a hyphen.
std::string folder_name(std::string name) {
  for (char& c : name)
    if (c == '/' || c == '\\' || c == '\0') c = '-';
  return name.empty() || name == "." || name == ".." ? "-" : name;
}

}  // namespace

int plan(const std::string& book_path, const std::string& from, const std::string& ics, bool json) {
  const Headless headless;
  const QDateTime now = Clock().now();
  const std::string today = now.date().toString(Qt::ISODate).toStdString();
  std::string first = today;
  if (!from.empty()) {
    const auto day = parse_day(from, today);
    if (!day) return bad_input("--from: " + day.error().message);
    first = *day;
  }
  auto book = Book::open_read_only(book_path, shelf());
  if (!book) return bad_input(book.error().message);
  const auto input =
      agenda_input(**book, first, from.empty() ? now.toString("yyyy-MM-dd'T'HH:mm").toStdString() : std::string());
  if (!input) return bad_input(book_path + ": " + input.error().message);
  const agenda::Agenda a = agenda::plan(*input);
  if (!ics.empty()) {
    const auto done =
        page::write_new(agenda::to_ics(a, now.toUTC().toString("yyyyMMdd'T'HHmmss'Z'").toStdString()), ics);
    if (!done) return bad_input(done.error().message);
  }
  std::printf("%s", (json ? agenda::to_json(a) + "\n" : agenda::to_text(a)).c_str());
  return 0;
}

int book(const std::string& book_path, BookAnswer what, const std::string& folder) {
  namespace fs = std::filesystem;
  const Headless headless;
  auto book = Book::open_read_only(book_path, shelf());
  if (!book) return bad_input(book.error().message);
  const std::vector<JobOutline> jobs = (*book)->outline();
  size_t count = 0;
  for (const JobOutline& j : jobs)
    for (const SeriesOutline& s : j.series) {
      count += s.specimens.size();
      if (what != BookAnswer::list) continue;
      for (const SpecimenRow& p : s.specimens)
        std::printf("%s\t%s\t%s\t%s\t%s\n", j.job.code.c_str(), s.series.title.c_str(), p.code.c_str(),
                    s.series.method.c_str(), p.verdict.c_str());
    }
  if (what == BookAnswer::count) std::printf("%zu\n", count);
  if (what != BookAnswer::export_records) return 0;
  std::error_code failed;
  if (fs::exists(folder, failed) && !fs::is_empty(folder, failed))
    return bad_input(folder + ": holds files already; name a new folder");
  // Everything is read and written beside, so that a record that cannot be read leaves nothing behind.
  const std::string part = folder + ".part";
  const fs::path mark = fs::path(part) / ".fortitor-export";
  if (fs::exists(part, failed) && !fs::exists(mark, failed))
    return bad_input(part + ": is there already, and is not of an earlier export; move it away");
  fs::remove_all(part, failed);  // left by an export that was ended
  fs::create_directories(part, failed);
  std::FILE* marked = std::fopen(mark.c_str(), "w");
  if (marked == nullptr) return bad_input(part + ": cannot be written");
  std::fclose(marked);
  std::string why;
  std::vector<std::string> left_out;
  size_t written_records = 0;
  for (const JobOutline& j : jobs)
    for (const SeriesOutline& s : j.series) {
      const fs::path into = fs::path(part) / folder_name(j.job.code) / folder_name(s.series.title);
      if (why.empty() && !fs::create_directories(into, failed) && failed)
        why = into.string() + ": cannot be made: " + failed.message();
      for (const SpecimenRow& p : s.specimens) {
        if (!why.empty()) break;
        auto record = (*book)->record(p.id);
        if (!record) {  // one bad piece never stops the others
          left_out.push_back(p.code + ": " + record.error().message + " It is left out.");
          continue;
        }
        ++written_records;
        if (const auto written = export_record(*record, into.string()); !written) {
          why = written.error().message;
        }
      }
    }
  if (why.empty()) {
    fs::remove(mark, failed);
    fs::remove(folder, failed);  // an empty one
    fs::rename(part, folder, failed);
    if (failed) why = folder + ": " + failed.message();
  }
  if (!why.empty()) {
    fs::remove_all(part, failed);
    return bad_input(why);
  }
  for (const std::string& one : left_out) remark(one);
  std::printf("%zu records\n", written_records);
  return left_out.empty() ? 0 : 1;
}

}  // namespace fortitor::cli
