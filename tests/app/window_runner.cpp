// The real window with a run on its stand-in machine, worked by its keys, saying on standard output what the book has
// confirmed, until somebody kills it.
//   window_runner BOOK
#include <QApplication>
#include <QKeyEvent>
#include <QTest>
#include <cstdio>

#include "app/frame/main_window.h"
#include "app/stages/run_stage.h"
#include "app/theme/theme.h"

int main(int argc, char** argv) {
  using namespace fortitor;
  QApplication app(argc, argv);
  theme::install(app, 1.0);
  Workbench bench;
  if (!bench.open(argv[1], "R. Vale")) return 2;
  MainWindow window(&bench);
  bench.touch_docket();
  window.show();
  Id piece = 0;
  for (const JobRow& j : bench.book()->jobs())
    for (const SeriesRow& s : bench.book()->series(j.id))
      for (const SpecimenRow& p : bench.book()->specimens(s.id))
        if (p.code == "HB-05") piece = p.id;
  if (piece == 0) return 3;
  window.show_specimen(piece, int(Stage::run));
  RunStage& run = *window.part<RunStage>();
  run.set_speed(10);
  auto wait = [&](const std::function<bool()>& done) { return QTest::qWaitFor(done, 30000); };
  if (!wait([&] { return !run.machine().now.empty(); })) return 4;
  for (int key : {Qt::Key_T, Qt::Key_Z, Qt::Key_B, Qt::Key_X, Qt::Key_O}) {
    QTest::keyClick(&run, Qt::Key(key));
    bool changed = false;
    const auto heard = QObject::connect(&run, &RunStage::machine_changed, [&] { changed = true; });
    for (int i = 0; i < 3; ++i) {
      changed = false;
      wait([&] { return changed; });
    }
    QObject::disconnect(heard);
  }
  QTest::keyClick(&run, Qt::Key_Space);
  if (!wait([&] { return run.running(); })) return 5;
  std::printf("running\n");
  std::fflush(stdout);
  int64_t told = -1;
  QObject::connect(&run, &RunStage::machine_changed, [&] {
    std::printf("time %.3f\n", run.machine().reading("time"));
    std::fflush(stdout);
    const auto runs = bench.book()->runs(piece);
    if (runs.empty() || runs.back().rows == told) return;
    told = runs.back().rows;
    std::printf("rows %lld\n", static_cast<long long>(told));
    std::fflush(stdout);
  });
  return QApplication::exec();
}
