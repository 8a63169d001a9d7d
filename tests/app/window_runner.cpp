// The real window with a run on its stand-in machine, worked by its keys, saying on standard output what the book has
// confirmed, until somebody kills it.
//   window_runner BOOK
#include <QApplication>
#include <cstdio>

#include "app/theme/theme.h"
#include "tests/app/live_run.h"

int main(int argc, char** argv) {
  using namespace fortitor;
  QApplication app(argc, argv);
  theme::install(app, 1.0);
  Workbench bench;
  if (!bench.open(argv[1], "R. Vale")) return 2;
  MainWindow window(&bench);
  bench.touch_docket();
  window.show();
  const Id piece = demo_piece(*bench.book(), "HB-05");
  if (piece == 0) return 3;
  if (!begin_run(window, piece, 10)) return 4;
  RunStage& run = *window.part<RunStage>();
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
