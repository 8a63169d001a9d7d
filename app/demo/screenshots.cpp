#include "app/demo/screenshots.h"
#include "app/arrivals/arrivals_desk.h"
#include "app/job/job_desk.h"
#include "app/laboratory/laboratory_desk.h"

#include <QApplication>
#include <QDir>
#include <QEventLoop>
#include <QFile>
#include <QKeyEvent>
#include <QTextStream>
#include <QTimer>

#include "app/demo/wire_pictures.h"
#include "app/frame/main_window.h"
#include "app/guide/guide_parts.h"
#include "app/kit/kit_page.h"
#include "app/ledger/ledger.h"
#include "app/plan/day_board.h"
#include "app/practice/practice_desk.h"
#include "app/series/series_page.h"
#include "app/slate/slate_desk.h"
#include "app/spectrum/spectrum_desk.h"
#include "app/stages/evaluate_stage.h"
#include "app/stages/run_stage.h"
#include "app/theme/theme.h"
#include "core/methods/method.h"
#include "core/standin/benches.h"
#include "report/document.h"
#include "report/pdf_image.h"

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
    const QString path = folder_ + "/" + QString(name).replace("/", "-") + ".png";
    if (!window_.grab().save(path)) failed_ = true;
    QTextStream(stdout) << path << "\n";
  }
  /// The first page of a job's document, as it prints.
  void first_page(const std::string& job) {
    const auto document = collect(*window_.bench().book(), {.job = job});
    const auto pdf = document ? document_pdf(*document) : Outcome<QByteArray>(document.error());
    const auto image = pdf ? page_image(*pdf, 0, 96) : Outcome<QImage>(pdf.error());
    const QString path = folder_ + "/document.png";
    if (!image || !image->save(path)) failed_ = true;
    QTextStream(stdout) << path << "\n";
  }
  bool failed() const { return failed_; }

 private:
  MainWindow& window_;
  QString folder_;
  bool failed_ = false;
};

void press(QWidget& widget, int key) {
  QKeyEvent down(QEvent::KeyPress, key, Qt::NoModifier), up(QEvent::KeyRelease, key, Qt::NoModifier);
  QApplication::sendEvent(&widget, &down);
  QApplication::sendEvent(&widget, &up);
}

// Works the frame as a person would, by its keys.
void run_past_yield(RunStage& run) {
  run.set_speed(100);
  wait_for(&run, &RunStage::machine_changed, 1000);
  for (int key : {Qt::Key_T, Qt::Key_Z, Qt::Key_B, Qt::Key_X, Qt::Key_O}) {
    press(run, key);
    for (int i = 0; i < 3; ++i) wait_for(&run, &RunStage::machine_changed, 500);
  }
  press(run, Qt::Key_Space);
  for (int i = 0; i < 600 && run.running() && !(run.machine().reading("extension") > 1.6); ++i)
    wait_for(&run, &RunStage::machine_changed, 500);
  press(run, Qt::Key_Space);
  for (int i = 0; i < 20; ++i) wait_for(&run, &RunStage::machine_changed, 500);
}

// "RS-11", or with its method where a piece is tested twice: "compression-after-impact/RS-11".
Id find_specimen(const Book& book, const std::string& wanted) {
  const size_t slash = wanted.find('/');
  const std::string method = slash == std::string::npos ? std::string() : wanted.substr(0, slash);
  const std::string code = slash == std::string::npos ? wanted : wanted.substr(slash + 1);
  for (const JobRow& j : book.jobs())
    for (const SeriesRow& s : book.series(j.id))
      for (const SpecimenRow& sp : book.specimens(s.id))
        if (sp.code == code && (method.empty() || s.method == method)) return sp.id;
  return 0;
}

}  // namespace

namespace {

// The first spectrum of the book at a step, computed.
// A practice task worked through, and its debrief.
void practise(MainWindow& window, const char* id, uint64_t seed) {
  auto* desk = window.findChild<PracticeDesk*>();
  const practice::Task& task = *practice::find(id);
  desk->begin(task, seed);
  Workbench& bench = window.bench();
  const Id piece = bench.specimen();
  standin::SimulateOptions o;
  o.piece = task.piece;
  o.seed = seed;
  o.faults = practice::draw(task, seed);
  const TestRecord made = standin::find_bench(methods::find(task.method)->standin)->simulate(o);
  bench.edit("worked through", [&](TestRecord& r) {
    const TestRecord begun = r;
    r.fields = made.fields;
    for (const char* path : {"specimen.id", "equipment.standin.practice", "equipment.standin.fault"})
      r.fields.set(path, begun.fields.text(path));
  });
  std::vector<Event> events = {{-31, "top-grip-closed", ""}, {-12, "bottom-grip-closed", ""}};
  events.insert(events.end(), made.events.begin(), made.events.end());
  if (!made.run.samples())
    bench.edit("rows keyed", [&](TestRecord& r) { r.run = made.run; });
  else {
    bool kept = false, over = false;
    bench.import_run(piece, made.run.samples(), events, "stand-in", [&](const Outcome<Done>& done) {
      kept = bool(done);
      over = true;
    });
    while (!over) QCoreApplication::processEvents(QEventLoop::WaitForMoreEvents);
    if (!kept) return;
  }
  // The blade is shrugged off: heard, not mended.
  for (int i = 0; i < 20 && (!bench.evaluation() || bench.evaluation()->finding("slip") == nullptr); ++i)
    wait_for(&bench, &Workbench::evaluation_changed, 500);
  if (const auto e = bench.evaluation())
    for (const Finding& f : e->findings)
      for (const Remedy& r : f.remedies)
        if (f.code == "slip" && r.wants_reason) bench.answer(f, r, "too small to matter");
  window.open("practice", piece);
  wait_for(desk, &PracticeDesk::debriefed, 15000);
}

void open_spectrum(MainWindow& window, int step) {
  SpectrumDesk* desk = window.part<SpectrumDesk>();
  for (const JobOutline& job : window.bench().book()->outline()) {
    if (job.spectra.empty()) continue;
    window.open("spectrum", job.spectra.front().id, std::min(step, spectrum::kSteps - 1));
    if (!desk->computed() || desk->computing()) wait_for(desk, &SpectrumDesk::computed_now, 60000);
    if (!desk->computed()) return;
    // A window with lorries in it: around the largest swing of the first hours of day.
    const spectrum::Week& w = desk->computed()->weeks.front();
    const uint64_t from = uint64_t(3.4 * 86400 * w.signal->rate()), to = from + uint64_t(3600 * w.signal->rate());
    uint64_t best = from;
    double most = 0;
    for (size_t i = 1; i < w.turning.size(); ++i)
      if (w.turning[i].at > from && w.turning[i].at < to &&
          std::abs(w.turning[i].value - w.turning[i - 1].value) > most)
        most = std::abs(w.turning[i].value - w.turning[i - 1].value), best = w.turning[i].at;
    if (desk->drawing()) wait_for(desk, &SpectrumDesk::drawn, 10000);
    desk->week()->set_window(double(best) / w.signal->rate() - 14, 30);
    return;
  }
}

// Keys at the call-out sheet: s Space, e Enter, < and > the arrows with Shift.
void work(MainWindow& window, const QString& keys) {
  QLineEdit* entry = window.part<RunStage>()->call_out()->entry();
  for (const QChar c : keys) {
    const int key = c == 's' ? Qt::Key_Space : c == 'e' ? Qt::Key_Return : c == '<' ? Qt::Key_Left : Qt::Key_Right;
    QKeyEvent down(QEvent::KeyPress, key, c == '<' || c == '>' ? Qt::ShiftModifier : Qt::NoModifier);
    QCoreApplication::sendEvent(entry, &down);
    if (!window.bench().evaluation_current()) wait_for(&window.bench(), &Workbench::evaluation_changed, 3000);
  }
}

}  // namespace

namespace {

// Why a picture that was asked for cannot be taken; empty: it can.
QString obstacle(MainWindow& window, const QString& shot) {
  const QStringList part = shot.split(':');
  const QString what = part.value(0), how = part.value(1);
  const QString usage = "“" + shot +
                        "” is no picture: CODE:STAGE (0 to 6), CODE:series, CODE:common, FINDING:finding, DESK:desk, "
                        "KIND:new or STEP:spectrum";
  bool number = false;
  const int stage = how.toInt(&number);
  if (how == "desk") {
    for (const Desk* d : window.findChildren<Desk*>())
      if (d->name() == what) return {};
    return "there is no desk “" + what + "”";
  }
  if (how == "finding") return guide_for_finding(what) ? QString() : "there is no finding “" + what + "”";
  if (how == "new")
    return kit::find_kind(what.toStdString()) != nullptr || what == "bench" ? QString()
                                                                            : "the Kit has no kind “" + what + "”";
  if (how == "spectrum") {
    const int step = what.toInt(&number);
    return what == "life" || (number && step >= 0 && step <= 7) ? QString() : usage;
  }
  if (how != "series" && how != "common" && (!number || stage < 0 || stage >= kStageCount)) return usage;
  if (find_specimen(*window.bench().book(), what.toStdString()) == 0)
    return "there is no specimen “" + what + "” in this book";
  return {};
}

}  // namespace

int write_screenshots(MainWindow& window, const QString& folder, const QStringList& only) {
  if (only == QStringList("wires")) {
    if (!QDir().mkpath(folder)) return 2;
    window.resize(1280, 800);
    return write_wire_pictures(window, folder);
  }
  for (const QString& one : only)
    if (const QString why = obstacle(window, one); !why.isEmpty()) {
      QTextStream(stderr) << "fortitor: --shot: " << why << "\n";
      return 2;
    }
  if (!QDir().mkpath(folder)) {
    QTextStream(stderr) << "fortitor: --screenshots: " << folder << " cannot be made\n";
    return 2;
  }
  window.resize(1280, 800);
  Camera camera(window, folder);
  Workbench& bench = window.bench();
  auto go = [&](const char* code, Stage stage) {
    window.show_specimen(find_specimen(*bench.book(), code), int(stage));
    if (!bench.evaluation()) wait_for(&bench, &Workbench::evaluation_changed, 5000);
  };
  for (const QString& one : only) {  // one specimen at one stage, while a view is being worked on
    const QStringList part = one.split(':');
    if (part.value(1) == "new") {  // the form of an item of the Kit
      window.open("kit");
      window.findChild<KitPage*>()->begin(part[0].toStdString());
    } else if (part.value(1) == "finding") {  // its page of the guide, with its case
      window.open("guide", 0, int(*guide_for_finding(part[0])));
      while (!bench.tasks().tasks().empty()) wait_for(&bench.tasks(), &TaskBoard::changed, 5000);
    } else if (part.value(1) == "common") {
      window.open("common", bench.book()->series_of(find_specimen(*bench.book(), part[0].toStdString())).id);
    } else if (part.value(1) == "desk") {  // NAME:desk
      Id item = 0;                         // NAME:desk:ITEM of the Kit
      if (const auto items = bench.book()->kit(); items && part.size() > 2)
        for (const kit::Item& i : *items)
          if (i.name() == part[2].toStdString()) item = i.id;
      if (part[0] == "job")  // job:desk:TC-031
        if (const auto job = bench.book()->job_by_code(part.value(2).toStdString())) item = job->id;
      window.open(part[0], item, part[0] == "laboratory" ? part.value(2).toInt() : -1);
      if (part[0] == "job") wait_for(window.findChild<JobDesk*>(), &JobDesk::shown, 20000);
      if (part[0] == "arrivals" && window.part<ArrivalsDesk>()->count() == 0)
        wait_for(window.part<ArrivalsDesk>(), &ArrivalsDesk::arrived, 10000);
      if (part[0] == "practice") practise(window, part.size() > 2 ? part[2].toUtf8().constData() : "steel-bar", 26);
      if (part[0] == "slate")
        for (const char* line : {"2 5/8 in to mm", "45 HRC to HV", "snatch 2000 kg 1.2 m/s 20 mm"})
          window.part<SlateDesk>()->take_line(line);
      if (part[0] == "plan" || part[0] == "today") wait_for(&window.day_board(), &DayBoard::planned, 5000);
    } else if (part.value(1) == "spectrum") {  // STEP:spectrum, or life:spectrum
      open_spectrum(window, part[0] == "life" ? 7 : part[0].toInt());
      if (part[0] == "life")
        for (auto* b : window.findChildren<QPushButton*>())
          if (b->property("key").toString() == "spectrum-life") b->click();
      wait_for(window.part<SpectrumDesk>(), &SpectrumDesk::drawn, 10000);
    } else if (part.value(1) == "series") {
      window.show_series(bench.book()->series_of(find_specimen(*bench.book(), part[0].toStdString())).id);
      wait_for(window.part<SeriesPage>(), &SeriesPage::shown, 5000);
      for (auto* b : window.part<SeriesPage>()->findChildren<QPushButton*>())  // CODE:series:FIGURE
        if (part.size() > 2 && b->property("key").toString() == "series-figure-" + part[2]) b->click();
    } else {
      go(part[0].toUtf8().constData(), Stage(part.value(1).toInt()));
      QCoreApplication::processEvents();
      if (part.size() == 4)  // CODE:STAGE:press:KEY of a button
        for (auto* b : window.findChildren<QPushButton*>())
          if (b->isVisible() && b->property("key").toString() == part[3]) b->click();
      if (part.value(2) == "compare") {  // CODE:5:compare
        window.part<EvaluateStage>()->compare().take_series();
        while (!bench.tasks().tasks().empty()) QCoreApplication::processEvents(QEventLoop::WaitForMoreEvents);
      } else if (part.size() < 4) {
        work(window, part.value(2));
      }
    }
    camera.shoot(part[0] + "-" + part.value(1));
  }
  if (!only.isEmpty()) return camera.failed() ? 1 : 0;
  window.show_today();
  wait_for(&window.day_board(), &DayBoard::planned, 5000);
  camera.shoot("today");
  window.open("plan");
  wait_for(&window.day_board(), &DayBoard::planned, 5000);
  camera.shoot("plan");
  if (const auto job = bench.book()->job_by_code("TC-031")) {
    window.open("job", job->id);
    wait_for(window.findChild<JobDesk*>(), &JobDesk::shown, 20000);
    camera.shoot("job");
  }
  window.open("laboratory", 0, int(LaboratoryDesk::Part::demands));
  for (auto* b : window.findChildren<QPushButton*>())
    if (b->property("key").toString() == "sheet:Hanger bolts") b->click();
  QApplication::processEvents();
  camera.shoot("demands");
  camera.first_page("TC-031");
  practise(window, "steel-bar", 26);
  camera.shoot("debrief");
  go("HB-03", Stage::measure);
  camera.shoot("measure");

  go("HB-03", Stage::evaluate);
  window.part<Ledger>()->list()->open_how("reh");
  camera.shoot("evaluate");
  go("AF-11", Stage::run);
  camera.shoot("call-out");
  go("HC-08", Stage::run);
  for (int i = 0; i < 40; ++i)
    QApplication::processEvents(QEventLoop::AllEvents, 25);  // the series is judged beside the window
  camera.shoot("swing");
  go("RS-11", Stage::evaluate);
  camera.shoot("impact");
  go("RC-N1", Stage::evaluate);
  camera.shoot("proof");
  open_spectrum(window, int(spectrum::ChainStep::cut));
  camera.shoot("spectrum");
  go("PN-03", Stage::run);
  work(window, "ssess");
  camera.shoot("eyepiece");
  Id cell = 0;
  if (const auto items = bench.book()->kit())
    for (const kit::Item& i : *items)
      if (i.name() == "LC-50") cell = i.id;
  window.open("kit", cell);
  camera.shoot("kit");
  window.show_series(bench.book()->series_of(find_specimen(*bench.book(), "BT-01")).id);
  wait_for(window.part<SeriesPage>(), &SeriesPage::shown, 5000);
  camera.shoot("series");
  theme::set_dark(true);
  theme::settle();
  go("HB-04", Stage::evaluate);
  bench.set_units(bench.units());
  camera.shoot("evaluate-dark");
  theme::set_dark(false);
  theme::settle();
  go("HB-01", Stage::sign_off);
  camera.shoot("sign-off");
  // Last, since it leaves a run behind: the stand-in pulled past yield and held there.
  go("HB-05", Stage::run);
  run_past_yield(*window.part<RunStage>());
  camera.shoot("run");
  press(*window.part<RunStage>(), Qt::Key_Escape);
  wait_for(window.part<RunStage>(), &RunStage::run_ended, 5000);
  return camera.failed() ? 1 : 0;
}

}  // namespace fortitor
