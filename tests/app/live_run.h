// A run on the stand-in machine of a piece of the demo, begun in the real window by its keys: for the programs that are
// killed in the middle of one and that stay in one for hours.
#pragma once

#include <QKeyEvent>
#include <QTest>
#include <functional>

#include "app/frame/main_window.h"
#include "app/stages/run_stage.h"

namespace fortitor {

inline Id demo_piece(Book& book, const std::string& code) {
  for (const JobRow& j : book.jobs())
    for (const SeriesRow& s : book.series(j.id))
      for (const SpecimenRow& p : book.specimens(s.id))
        if (p.code == code) return p.id;
  return 0;
}

/// Grips, zeroes, mounts and starts. `speed`: seconds of the machine's time a second. False: no run came of it.
inline bool begin_run(MainWindow& window, Id piece, double speed) {
  window.show_specimen(piece, int(Stage::run));
  RunStage& run = *window.part<RunStage>();
  run.set_speed(speed);
  const auto wait = [](const std::function<bool()>& done) { return QTest::qWaitFor(done, 30000); };
  if (!wait([&] { return !run.machine().now.empty(); })) return false;
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
  return wait([&] { return run.running(); });
}

}  // namespace fortitor
