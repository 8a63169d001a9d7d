// The commands of fortitorctl. Each returns the exit code: 0 done, 1 bad news, 2 bad input.
#pragma once

#include <cstdint>
#include <optional>
#include <set>
#include <string>
#include <vector>

#include "core/record/record.h"

namespace fortitor::cli {

/// The usual values of whoever runs the command: shipped and own, read once by main().
const ReferenceShelf& shelf();
void use_shelf(const ReferenceShelf& own);

/// Whether a path or an address is one of a book.
bool is_book(const std::string& path);
/// The newest records of the pieces of a book: those of these marks ("HB-01", or "TC-031/HB-01" where several jobs have
/// one), or all that were tested. One that cannot be read is left out and said in `refused`. Errors: no book, no such
/// piece, none tested.
Outcome<std::vector<TestRecord>> records_of_book(const std::string& path, const std::vector<std::string>& marks,
                                                 std::vector<std::string>& refused);
/// Ledgers of records and of the pieces of books, one after the other; with `json` one document, or an array of them
/// when there are several. 1: a piece of a book was left out.
int evaluate(const std::vector<std::string>& paths, const std::vector<std::string>& pieces, bool json);
struct SeriesOptions {
  std::vector<std::string> records;
  std::string key;      ///< result; the method's first when empty
  std::string by;       ///< path of a field, "operator" or "series" (the one named in the records); empty: no groups
  std::string against;  ///< another result, for a straight relation
  std::string margin, interval;  ///< widths as typed: "20 MPa", "5 %"
  std::vector<std::string>
      over;  ///< further records of the method: those of the same material enter the chart over time
  bool json = false;
};
/// Statistics of records of one method; void tests are counted apart.
int series(const SeriesOptions& options);
int convert(const std::string& quantity, const std::string& unit);
/// A hardness in another scale, or in all of them when `to` is empty.
int hardness(const std::string& value, const std::string& from, const std::string& to);

/// What the importer makes of a machine's file, for a method or the one that knows most of its columns.
int import_file(const std::string& path, const std::string& method, bool json);

struct SpectrumOptions {
  std::vector<std::string> files;
  std::string format, column, count, level, rate, block, cut, gate, modulus, detail, area, frequency, synth;
  std::optional<double> scale, sentinel, p, share, m, levels, length, seed;
  bool leave_out = false, study = false, json = false;
};
/// Signals, one a week, through the whole chain; a drive file when `synth` names one.
int spectrum(const SpectrumOptions& options);
struct SimulateOptions {
  std::string method, out, material;
  uint64_t seed = 1;
  double rate = 50;
  double hours = 0;  ///< of a strain history; 0: a week
  std::set<std::string> faults;
  std::string stop_force;
};
int simulate(const SimulateOptions& options);

struct ReportOptions {
  std::string book, job, out;
  std::string document;  ///< "job", "series", "pieces"; empty: the certificates of its pieces
  std::string series;    ///< title, where a series is asked for; the only one when left out
  std::string language, layout;
  bool issue = false;             ///< under the next number of the register
  std::string replaces, because;  ///< in place of that document, for the reason
};
/// Certificates or a document of a job. 1: something of it is not printed.
int report(const ReportOptions& options);
/// The register; with `open` the bytes of one document, with `withdraw` that one ends for the reason.
struct RegisterOptions {
  std::string book, open, out, withdraw, because;
  bool json = false;
};
int documents(const RegisterOptions& options);
/// Demand sheets of a book: a list, a file taken in, or a file written (.json or .csv).
struct DemandsOptions {
  std::string book, import, export_to;
  bool list = false, json = false;
};
int demands(const DemandsOptions& options);
/// Demand × piece of a job, as a table or as JSON. 1: something that is needed is not met or still to be made.
int completeness(const std::string& book, const std::string& job, bool json);
/// Labels of a job's pieces as a PDF: one a label, or many on A4.
int labels(const std::string& book, const std::string& job, const std::string& out, bool sheets);
/// A book into another place, file or server, with the same head.
int copy(const std::string& from, const std::string& to);
/// A PNG of so many pixels for a file manager.
int thumbnail(const std::string& book, const std::string& out, int size);
/// What this installation is made of and what stands in its way; with a book, what is wrong with that. 1: something is.
int doctor(const std::string& book);
/// Tables and roles of a book on a server.
int share(const std::string& address);
/// Holds a book against itself; with a head or a certificate also against those. 1: something is not as written.
int check(const std::string& book, const std::string& head, const std::string& certificate);
int backup(const std::string& book, const std::string& folder);
int bundle(const std::string& book, const std::string& job, const std::string& out);
int unbundle(const std::string& file, const std::string& book, const std::string& as);

/// The day plan of a book from a day on (as typed; now when empty); an iCalendar file when `ics` names one.
int plan(const std::string& book, const std::string& from, const std::string& ics, bool json);
enum class BookAnswer { count, list, export_records };
/// What a book holds: the number of its specimens, a line for each (job, series, specimen, method, verdict, parted by
/// tabs), or every record as files under `folder`/JOB/SERIES, which must not exist or be empty.
int book(const std::string& book, BookAnswer what, const std::string& folder);

struct ListenOptions {
  std::string where;       ///< "tcp:HOST:PORT", "serial:DEVICE", "file:PATH", "-"
  std::string format;      ///< a file of line/1; proposed from the lines when empty
  std::string record;      ///< folder for what came in
  std::string span;        ///< how long: "10s"; until it is ended when empty
  bool until_end = false;  ///< ends when the other end hangs up; else a broken wire is waited for
  bool json = false;
};
/// Readings of an instrument, a line each. 1: lines came, and none was a reading.
int listen(const ListenOptions& options);

/// Pads by characters, not bytes: symbols carry subscripts and Greek.
std::string padded(const std::string& s, size_t width, bool right = false);
/// A line on standard error that stops nothing.
void remark(const std::string& sentence);
/// Prints one line on standard error and returns 2.
int bad_input(const std::string& sentence);

}  // namespace fortitor::cli
