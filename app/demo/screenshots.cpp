#include "app/demo/screenshots.h"

#include <QApplication>
#include <QDir>
#include <QEventLoop>
#include <QTextStream>
#include <QTimer>

#include "app/frame/main_window.h"
#include "app/ledger/ledger.h"
#include "app/stages/run_stage.h"
#include "app/theme/theme.h"

namespace fortitor {
namespace {

// Waits for a signal, at most `ms`.
template <class Object, class Signal>
void wait_for(Object* object, Signal signal, int ms) {
  QEventLoop loop;
  QObject::connect(object, signal, &loop, &QEventLoop::quit);
  QTimer::singleShot(ms, &loop, &QEventLoop::quit);
  loop.exec();
}

class Camera {
 public:
  Camera(MainWindow& window, QString folder) : window_(window), folder_(std::move(folder)) {}

  void shoot(const QString& name) {
    for (int i = 0; i < 5; ++i) QApplication::processEvents();
    const QString path = folder_ + "/" + name + ".png";
    if (!window_.grab().save(path)) failed_ = true;
    QTextStream(stdout) << path << "\n";
  }
  bool failed() const { return failed_; }

 private:
  MainWindow& window_;
  QString folder_;
  bool failed_ = false;
};

Id find_specimen(const Book& book, const std::string& code) {
  for (const JobRow& j : book.jobs())
    for (const SeriesRow& s : book.series(j.id))
      for (const SpecimenRow& sp : book.specimens(s.id))
        if (sp.code == code) return sp.id;
  return 0;
}

}  // namespace

int write_screenshots(MainWindow& window, const QString& folder) {
  QDir().mkpath(folder);
  window.resize(1280, 800);
  Camera camera(window, folder);
  Workbench& bench = window.bench();
  auto go = [&](const char* code, Stage stage) {
    window.show_specimen(find_specimen(*bench.book(), code), int(stage));
    if (!bench.evaluation()) wait_for(&bench, &Workbench::evaluation_changed, 5000);
  };
  window.show_today();
  camera.shoot("today");
  window.show_jobs();
  camera.shoot("jobs");
  go("HB-05", Stage::prepare);
  camera.shoot("prepare");
  go("HB-03", Stage::measure);
  camera.shoot("measure");
  go("HB-03", Stage::set_up);
  camera.shoot("set-up");
  go("HB-03", Stage::run);
  camera.shoot("run");
  go("HB-03", Stage::after);
  camera.shoot("after");
  go("HB-03", Stage::evaluate);
  window.ledger()->list()->open_how("reh");
  camera.shoot("evaluate");
  go("HB-02", Stage::evaluate);
  camera.shoot("evaluate-not-zeroed");
  theme::set_dark(true);
  go("HB-04", Stage::evaluate);
  bench.set_units(bench.units());
  camera.shoot("evaluate-dark");
  theme::set_dark(false);
  go("HB-01", Stage::sign_off);
  camera.shoot("sign-off");
  return camera.failed() ? 1 : 0;
}

}  // namespace fortitor
