// Where the window stands still: acts on a large book, and the longest time that the interface thread did not answer.
// Wanted: no more than 100 ms in any of them, with nothing else running.
//   window_bench [PIECES] [ROWS]     1000 pieces, a file of 1,000,000 rows
//   window_bench PIECES 0 BOOK       only writes the book, for measuring commands on it
#include <QApplication>
#include <QFile>
#include <QLabel>
#include <QSignalSpy>
#include <QTemporaryDir>
#include <QTest>
#include <QTextStream>
#include <algorithm>
#include <random>

#include "app/frame/main_window.h"
#include "app/series/common_page.h"
#include "app/series/series_page.h"
#include "app/stages/import_panel.h"
#include "app/stages/run_stage.h"
#include "app/theme/theme.h"
#include "core/bench/common.h"
#include "core/standin/tension_bench.h"
#include "tests/app/stall_watch.h"

namespace fortitor {
namespace {

Id fill(Book& book, int pieces) {
  Id series = 0;
  const auto done = book.together([&]() -> Outcome<Done> {
    series = *book.add_series(*book.add_job("BIG", "A thousand bars"), "Bars", "tension-metal");
    const TestRecord made = standin::simulate_tension({.seed = 3});
    TestRecord waiting = made;
    waiting.run = {};
    for (int i = 0; i < pieces; ++i) {
      const bool last = i + 2 >= pieces;  // wait for their runs
      const Id id = *book.add_specimen(series, "P-" + std::to_string(i + 1), last ? waiting : made);
      if (last) continue;
      if (const auto run = book.store_run(id, *made.run.samples(), "bench"); !run) return run.error();
      if (const auto saved = book.save_record(id, 0, made, {"2222200", "meets", 0}, "made"); !saved)
        return saved.error();
    }
    return Done{};
  });
  if (!done) qFatal("%s", done.error().message.c_str());
  return series;
}

void write_file(const QString& path, int rows, bool noise) {
  QFile file(path);
  if (!file.open(QIODevice::WriteOnly)) qFatal("%s cannot be written", qPrintable(path));
  std::mt19937_64 random(1);
  std::normal_distribution<double> air(0.5, 0.2);
  file.write("time;force;extension;crosshead\ns;kN;mm;mm\n");
  for (int i = 0; i < rows; ++i)
    file.write(QByteArray::number(0.001 * i) + ";" + QByteArray::number(40.0 * i / rows) + ";" +
               QByteArray::number(noise ? air(random) : 1.0 * i / rows) + ";" + QByteArray::number(2.0 * i / rows) +
               "\n");
}

int measure(int pieces, int rows, const QString& keep) {
  QTemporaryDir folder;
  Workbench bench;
  if (!bench.open(folder.filePath("b.fortitor"), "bench")) return 2;
  const Id series = fill(*bench.book(), pieces);
  if (!keep.isEmpty()) return QFile::copy(folder.filePath("b.fortitor"), keep) ? 0 : 2;
  MainWindow window(&bench);
  bench.touch_docket();
  window.show_today();
  window.show();
  QTest::qWait(1000);
  std::vector<SpecimenRow> all = bench.book()->specimens(series);
  // Those without a run last.
  std::stable_partition(all.begin(), all.end(), [](const SpecimenRow& s) { return s.stages[4] != '0'; });
  StallWatch watch(100);
  QTextStream out(stdout);
  const auto act = [&](const QString& words, const std::function<void()>& begin, const std::function<bool()>& over) {
    QTest::qWait(300);
    watch.forget();
    QElapsedTimer since;
    since.start();
    begin();
    if (!QTest::qWaitFor(over, 120000)) {
      out << "never over: ";
      for (const auto* l : window.findChildren<QLabel*>())
        if (l->isVisible()) out << "  [" << l->text() << "]\n";
    }
    QTest::qWait(300);
    out << words.leftJustified(44) << " longest " << QString::number(watch.longest()).rightJustified(6)
        << " ms, in all " << since.elapsed() - 300 << " ms\n";
    out.flush();
  };
  const auto idle = [&] { return bench.tasks().tasks().empty(); };
  act(
      "a piece opened", [&] { window.show_specimen(all[3].id, int(Stage::evaluate)); },
      [&] { return idle() && bench.evaluation_current(); });
  act(
      "dark", [] { theme::set_dark(true); }, idle);
  act(
      "light", [] { theme::set_dark(false); }, idle);
  act(
      "larger text", [] { theme::set_scale(1.25); }, idle);
  act(
      "smaller text", [] { theme::set_scale(1.0); }, idle);
  QSignalSpy shown(window.part<SeriesPage>(), &SeriesPage::shown);
  act(
      "the page of the series", [&] { window.show_series(series); }, [&] { return shown.count() > 0 && idle(); });
  window.open("common", series);
  auto* common = window.findChild<CommonPage*>();
  QSignalSpy kept(common, &CommonPage::kept);
  act(
      "a field held for the series",
      [&] { common->edit("lot", [](TestRecord& r) { r.fields.set("specimen.lot", std::string("L-1")); }); },
      [&] { return kept.count() > 0 && idle(); });
  act(
      "all jobs", [&] { window.show_jobs(); }, idle);
  act(
      "today", [&] { window.show_today(); }, idle);
  act(
      "the plan", [&] { window.open("plan"); }, idle);
  act(
      "the logbook", [&] { window.open("logbook"); }, idle);
  ImportPanel* panel = window.part<RunStage>()->import_panel();
  QSignalSpy read(panel, &ImportPanel::read), imported(panel, &ImportPanel::imported);
  // Its extensometer follows, or hangs in the air.
  for (const bool noise : {false, true}) {
    const Id piece = all[all.size() - (noise ? 1 : 2)].id;
    const QString which = noise ? " of noise" : "";
    const QString path = folder.filePath(noise ? "noise.csv" : "run.csv");
    write_file(path, rows, noise);
    read.clear();
    imported.clear();
    window.show_specimen(piece, int(Stage::run));
    act(
        "a file read" + which,
        [&] {
          window.part<RunStage>()->show_import(true);
          panel->open(path);
        },
        [&] { return read.count() > 0 && idle() && panel->ready(); });
    act(
        "its run kept",
        [&] {
          for (auto* b : panel->findChildren<QPushButton*>())
            if (b->property("key") == "import-keep") b->click();
        },
        [&] { return imported.count() > 0 && idle(); });
    act(
        "another piece", [&] { window.show_specimen(all[3].id, int(Stage::evaluate)); },
        [&] { return idle() && bench.specimen() == all[3].id; });
    act(
        "the piece of the long run" + which, [&] { window.show_specimen(piece, int(Stage::evaluate)); },
        [&] { return idle() && bench.specimen() == piece && bench.evaluation_current(); });
  }
  return 0;
}

}  // namespace
}  // namespace fortitor

int main(int argc, char** argv) {
  if (!qEnvironmentVariableIsSet("DISPLAY")) qputenv("QT_QPA_PLATFORM", "offscreen");
  QApplication app(argc, argv);
  fortitor::theme::install(app, 1.0);
  return fortitor::measure(argc > 1 ? QByteArray(argv[1]).toInt() : 1000,
                           argc > 2 ? QByteArray(argv[2]).toInt() : 1000000, argc > 3 ? argv[3] : "");
}
