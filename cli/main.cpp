// fortitorctl: evaluation, stand-ins, reports and checks without a display.
#include <CLI/CLI.hpp>
#include <functional>

#include "cli/commands.h"
#include "core/memory.h"
#include "core/reference/library.h"

int main(int argc, char** argv) {
  using namespace fortitor;
  keep_memory();
  CLI::App app{"Fortitor without a display: evaluate, simulate, convert, report, check.", "fortitorctl"};
  app.set_version_flag("--version", std::string("fortitorctl " FORTITOR_VERSION));
  app.require_subcommand(1);
  std::function<int()> run;

  std::vector<std::string> records, marks;
  bool json = false;
  auto* evaluate = app.add_subcommand("evaluate", "Evaluate records and print their ledgers");
  evaluate
      ->add_option("RECORD.json", records,
                   "Record files, their CSV beside them; or a book: a file or postgresql://server/name")
      ->required();
  evaluate->add_option("--piece", marks,
                       "Of a book: marking of a piece, such as HB-01 or TC-031/HB-01; else all tested");
  evaluate->add_flag("--json", json, "One JSON document instead of a table; an array for several records");
  evaluate->callback([&] { run = [&] { return cli::evaluate(records, marks, json); }; });

  cli::SeriesOptions pieces;
  auto* series = app.add_subcommand("series", "Statistics of several records under one result");
  series->add_option("RECORD.json", pieces.records, "Record files of one method")->required();
  series->add_option("--key", pieces.key, "Result key, such as rm; the method's first when left out");
  series->add_option("--by", pieces.by, "Groups by a field (specimen.lot), by operator, or by series");
  series->add_option("--against", pieces.against, "Another result key, for a straight relation");
  series->add_option("--margin", pieces.margin, "Groups are equivalent within it, such as \"20 MPa\" or \"5 %\"");
  series->add_option("--interval", pieces.interval, "Wanted ± interval of the mean, for the number of pieces");
  series->add_option("--over", pieces.over,
                     "Further records of the method: those of the same material enter the chart over time");
  series->add_flag("--json", pieces.json, "One JSON document instead of a table");
  series->callback([&] { run = [&] { return cli::series(pieces); }; });

  cli::SpectrumOptions weeks;
  auto* spectrum = app.add_subcommand(
      "spectrum", "From measured strain to cycles, damage and a drive; several signals are several weeks");
  spectrum->add_option("SIGNAL", weeks.files, "Signal files, one a week: CSV, or 4- or 8-byte numbers")->required();
  spectrum->add_option("--rate", weeks.rate, "Samples a second, such as 300");
  spectrum->add_option("--format", weeks.format, "csv, f32 or f64; by the file's name when left out");
  spectrum->add_option("--column", weeks.column, "Column of a CSV, by name or number");
  spectrum->add_option("--scale", weeks.scale, "Microstrain for one unit of the file");
  spectrum->add_option("--sentinel", weeks.sentinel, "Value that stands for nothing measured");
  spectrum->add_option("--level", weeks.level, "squares, quiet or none");
  spectrum->add_option("--block", weeks.block, "Block of the level, such as 1h");
  spectrum->add_option("--cut", weeks.cut, "Low-pass, such as 2Hz; 0 does not smooth");
  spectrum->add_option("--gate", weeks.gate, "Reversals count beyond it, µε");
  spectrum->add_option("--count", weeks.count, "four-point or three-point");
  spectrum->add_option("--p", weeks.p, "Share of the cycles that exceed the range, such as 0.002");
  spectrum->add_option("--share", weeks.share, "Of that range: what is cut");
  spectrum->add_option("--modulus", weeks.modulus, "Such as 210GPa");
  spectrum->add_option("--detail", weeks.detail, "Detail category, such as 71MPa");
  spectrum->add_option("--m", weeks.m, "Slope of the life line");
  spectrum->add_option("--levels", weeks.levels, "Levels of the chain");
  spectrum->add_option("--synth", weeks.synth, "Write a drive there: .csv, else binary");
  spectrum->add_option("--length", weeks.length, "Transitions of the drive");
  spectrum->add_option("--seed", weeks.seed, "The same seed gives the same drive");
  spectrum->add_option("--area", weeks.area, "Section, so that the drive is force");
  spectrum->add_option("--frequency", weeks.frequency, "Of the rig");
  spectrum->add_flag("--leave-out", weeks.leave_out, "Spikes and stuck stretches are gaps");
  spectrum->add_flag("--study", weeks.study, "Which block length repeats the damage");
  spectrum->add_flag("--json", weeks.json, "One JSON document instead of a table");
  spectrum->callback([&] { run = [&] { return cli::spectrum(weeks); }; });

  std::string quantity, unit;
  auto* convert = app.add_subcommand("convert", "Convert a typed quantity: convert \"2 5/8 in\" mm");
  convert->add_option("QUANTITY", quantity)->required();
  convert->add_option("UNIT", unit)->required();
  convert->callback([&] { run = [&] { return cli::convert(quantity, unit); }; });

  std::string hardness_value, from_scale, to_scale;
  auto* hardness =
      app.add_subcommand("hardness", "Convert a hardness: hardness 45 HRC HV; all scales without the last");
  hardness->add_option("VALUE", hardness_value)->required();
  hardness->add_option("FROM", from_scale, "HRC, HRB, HV, HBW, HRA, HK, HR15N, HR30N, HR45N")->required();
  hardness->add_option("TO", to_scale);
  hardness->callback([&] { run = [&] { return cli::hardness(hardness_value, from_scale, to_scale); }; });

  std::string machine_file, import_method;
  bool import_json = false;
  auto* import = app.add_subcommand("import", "Say what the importer makes of a machine's file");
  import->add_option("FILE", machine_file, "Text in any spelling, or a workbook (.xlsx)")->required();
  import->add_option("--method", import_method, "Whose channels are looked for; the best fitting when left out");
  import->add_flag("--json", import_json, "One JSON document instead of a table");
  import->callback([&] { run = [&] { return cli::import_file(machine_file, import_method, import_json);
};
});

cli::SimulateOptions options;
auto* simulate = app.add_subcommand("simulate", "Write a record and its data from a stand-in machine");
simulate->add_option("METHOD", options.method, "Such as tension-metal")->required();
simulate->add_option("--seed", options.seed, "The same seed gives the same record")->required();
simulate->add_option("--out", options.out, "Folder to write into")->required();
simulate->add_option("--material", options.material, "Which stand-in piece");
simulate->add_option("--rate", options.rate, "Samples per second, 1 to 5000");
simulate->add_option("--hours", options.hours, "Length of a strain history (fatigue-spectrum), a week when left out");
simulate->add_option("--stop-force", options.stop_force, "Stop the run there, such as \"30 kN\"");
simulate->add_option("--fault", options.faults, "Something that goes wrong, such as misread; may be repeated");
bool forget_zero = false, leave_extensometer = false;
simulate->add_flag("--forget-zero", forget_zero, "Short for --fault forget-zero");
simulate->add_flag("--leave-extensometer", leave_extensometer, "Short for --fault leave-extensometer");
simulate->callback([&] {
  if (forget_zero) options.faults.insert("forget-zero");
  if (leave_extensometer) options.faults.insert("leave-extensometer");
  run = [&] { return cli::simulate(options); };
});

std::string book, job, out;
cli::ReportOptions paper;
auto* report = app.add_subcommand("report", "Write a document or the certificates of a job");
report->add_option("BOOK", paper.book, "Job book (*.fortitor)")->required();
report->add_option("--job", paper.job, "Such as TC-031")->required();
report->add_option("--document", paper.document, "job, series or pieces; certificates of the pieces when left out")
    ->check(CLI::IsMember({"job", "series", "pieces"}));
report->add_option("--series", paper.series, "Which series, by its title");
report->add_option("--language", paper.language, "en, de, it, fr or es")
    ->check(CLI::IsMember({"en", "de", "it", "fr", "es"}));
report->add_option("--template", paper.layout, "Name of a template of the book");
report->add_flag("--issue", paper.issue, "Issue it under the next number of the register");
report->add_option("--replaces", paper.replaces, "Number of the document that it takes the place of");
report->add_option("--because", paper.because, "Why");
report->add_option("--out", paper.out, "FILE.pdf or FILE.html; a document also FILE.csv or FILE.json")->required();
report->callback([&] { run = [&] { return cli::report(paper); }; });

cli::RegisterOptions papers;
auto* documents = app.add_subcommand("documents", "The register of documents that were issued");
documents->add_option("BOOK", papers.book)->required();
documents->add_option("--open", papers.open, "Write the document of that number, as it was issued");
documents->add_option("--out", papers.out, "The file for it");
documents->add_option("--withdraw", papers.withdraw, "Number of a document that holds no longer");
documents->add_option("--because", papers.because, "Why");
documents->add_flag("--json", papers.json, "One JSON document instead of a table");
documents->callback([&] { run = [&] { return cli::documents(papers); }; });

cli::DemandsOptions wanted;
auto* demands = app.add_subcommand("demands", "Demand sheets of a book, and those that come with the program");
demands->add_option("BOOK", wanted.book)->required();
demands->add_flag("--list", wanted.list, "A line a sheet");
demands->add_option("--import", wanted.import, "Take sheets in: .json (demands/1) or .csv");
demands->add_option("--export", wanted.export_to, "Write all sheets: .json or .csv");
demands->add_flag("--json", wanted.json, "The list as one JSON document");
demands->callback([&] { run = [&] { return cli::demands(wanted); }; });

bool complete_json = false;
auto* completeness = app.add_subcommand("completeness", "What is demanded of a job, and how far it is");
completeness->add_option("BOOK", book)->required();
completeness->add_option("--job", job, "Such as TC-031")->required();
completeness->add_flag("--json", complete_json, "One JSON document instead of a table");
completeness->callback([&] { run = [&] { return cli::completeness(book, job, complete_json); }; });

cli::ListenOptions wire;
auto* listen = app.add_subcommand("listen", "Readings of an instrument or a machine, as its lines come in");
listen->add_option("WHERE", wire.where, "tcp:HOST:PORT, serial:DEVICE, file:PATH or - for standard input")->required();
listen->add_option("--format", wire.format, "A line format (line/1); proposed from the first lines when left out");
listen->add_option("--for", wire.span, "How long, such as 10s");
listen->add_flag("--until-end", wire.until_end, "Ends when the other end hangs up, instead of waiting for it");
listen->add_option("--record", wire.record, "Keep what comes in, in a folder");
listen->add_flag("--json", wire.json, "A JSON line a reading");
listen->callback([&] { run = [&] { return cli::listen(wire); }; });

bool label_sheets = false;
auto* labels = app.add_subcommand("labels", "Labels with QR codes for the pieces of a job, 62 x 29 mm");
labels->add_option("BOOK", book)->required();
labels->add_option("--job", job, "Such as TC-031")->required();
labels->add_option("--out", out, "FILE.pdf")->required();
labels->add_flag("--sheets", label_sheets, "Many on A4 instead of one a page");
labels->callback([&] { run = [&] { return cli::labels(book, job, out, label_sheets); }; });

std::string head, certificate;
auto* check = app.add_subcommand("check", "Verify a job book: schema, logbook chain, every row, every run");
check->add_option("BOOK", book)->required();
check->add_option("--head", head, "A head of the chain noted earlier: the book must have had it");
check->add_option("--certificate", certificate, "A certificate (PDF or HTML): the book must hold what it prints");
check->callback([&] { run = [&] { return cli::check(book, head, certificate); }; });

std::string from, ics;
bool plan_json = false;
auto* plan = app.add_subcommand("plan", "The day plan: who does what when, on which machine");
plan->add_option("BOOK", book)->required();
plan->add_option("--from", from, "First day, such as 2026-11-26 or Mon; now when left out");
plan->add_option("--ics", ics, "Write an iCalendar file");
plan->add_flag("--json", plan_json, "One JSON document instead of a table");
plan->callback([&] { run = [&] { return cli::plan(book, from, ics, plan_json); }; });

bool count = false, list = false;
std::string folder;
auto* holds = app.add_subcommand("book", "Say what a job book holds; all of its records as files");
holds->add_option("BOOK", book)->required();
auto* how = holds->add_option_group("one of");
how->add_flag("--count", count, "Number of specimens");
how->add_flag("--list", list, "A line a specimen: job, series, specimen, method, verdict");
how->add_option("--export", folder, "Write every record with its samples into a new folder");
how->require_option(1);
holds->callback([&] {
  run = [&] {
    const auto what = count ? cli::BookAnswer::count : list ? cli::BookAnswer::list : cli::BookAnswer::export_records;
    return cli::book(book, what, folder);
  };
});

auto* backup = app.add_subcommand("backup", "Put a checked copy of a job book into a folder");
backup->add_option("BOOK", book)->required();
backup->add_option("DIR", folder)->required();
backup->callback([&] { run = [&] { return cli::backup(book, folder); }; });

std::string to;
auto* copy = app.add_subcommand("copy", "Copy a job book between file and server: every version, run and line");
copy->add_option("FROM", book, "File or postgresql://server/name")->required();
copy->add_option("TO", to, "New file or empty database")->required();
copy->callback([&] { run = [&] { return cli::copy(book, to); }; });

auto* doctor = app.add_subcommand("doctor", "Say what this installation is made of and what stands in its way");
doctor->add_option("BOOK", book, "Looked into as well");
doctor->callback([&] { run = [&] { return cli::doctor(book); }; });

int size = 256;
auto* thumbnail = app.add_subcommand("thumbnail", "Draw a small picture of a job book, for file managers");
thumbnail->add_option("BOOK", book)->required();
thumbnail->add_option("OUT", out, "FILE.png")->required();
thumbnail->add_option("SIZE", size, "Pixels")->check(CLI::Range(16, 2048));
thumbnail->callback([&] { run = [&] { return cli::thumbnail(book, out, size); }; });

auto* share = app.add_subcommand("share", "Make the tables and roles of a shared book in an empty database");
share->add_option("ADDRESS", book, "postgresql://server/name")->required();
share->callback([&] { run = [&] { return cli::share(book); }; });

auto* bundle = app.add_subcommand("bundle", "Write a job with all of its records and runs as one file");
bundle->add_option("BOOK", book)->required();
bundle->add_option("--job", job, "Such as TC-031")->required();
bundle->add_option("--out", out, "FILE.fortitor-bundle")->required();
bundle->callback([&] { run = [&] { return cli::bundle(book, job, out); }; });

std::string file, as;
auto* unbundle = app.add_subcommand("unbundle", "Take a bundle into a job book: all of it or nothing");
unbundle->add_option("FILE", file)->required();
unbundle->add_option("BOOK", book, "Made when it does not exist")->required();
unbundle->add_option("--as", as, "Another number for the job");
unbundle->callback([&] { run = [&] { return cli::unbundle(file, book, as); }; });

try {
  app.parse(argc, argv);
} catch (const CLI::ParseError& e) {
  if (e.get_exit_code() == 0) return app.exit(e);  // --help, --version
  return cli::bad_input(std::string(e.what()) + "; see fortitorctl --help");
}
const auto own = load_own_reference(own_reference_path());
if (!own) cli::remark(own.error().message + " The shipped values are used.");
if (own) cli::use_shelf(*own);
return run();
}
