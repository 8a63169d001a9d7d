#include "app/frame/main_window.h"

#include <QCloseEvent>
#include <QInputDialog>
#include <QLabel>
#include <QLocale>
#include <QShortcut>
#include <QStackedWidget>

#include "app/docket/docket.h"
#include "app/frame/find_box.h"
#include "app/frame/stage_bar.h"
#include "app/frame/top_bar.h"
#include "app/ledger/ledger.h"
#include "app/reference/reference_page.h"
#include "app/series/series_page.h"
#include "app/stages/evaluate_stage.h"
#include "app/stages/prepare_stage.h"
#include "app/stages/run_stage.h"
#include "app/stages/setup_stage.h"
#include "app/stages/sign_off_stage.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "app/today/jobs_page.h"
#include "app/today/today_page.h"
#include "app/watch/watch.h"

namespace fortitor {

using parts::qs;

MainWindow::MainWindow(Workbench* bench, QWidget* parent) : QMainWindow(parent), bench_(bench) {
  setWindowTitle("Fortitor");
  setMinimumSize(1024, 700);
  resize(1280, 800);
  auto* central = new QWidget;
  central->setObjectName("bench");
  setCentralWidget(central);
  auto* outer = parts::column(central, 0, 0);
  top_ = new TopBar;
  outer->addWidget(top_);
  auto* body = new QHBoxLayout;
  body->setContentsMargins(0, 0, 0, 0);
  body->setSpacing(0);
  outer->addLayout(body, 1);

  docket_ = new Docket(bench);
  docket_area_ = parts::scroller(docket_);
  docket_area_->setObjectName("docket");
  docket_area_->setFixedWidth(int(216 * std::min(1.4, theme::scale())));
  body->addWidget(docket_area_);

  auto* desk = new QWidget;
  desk->setObjectName("bench");
  auto* desk_layout = parts::column(desk, 20, 10);
  desk_layout->setContentsMargins(20, 14, 20, 18);
  body->addWidget(desk, 1);
  places_ = new QStackedWidget;
  message_ = parts::label("", "error");
  message_->setAccessibleName("Message");
  message_->hide();
  desk_layout->addWidget(message_);
  desk_layout->addWidget(places_, 1);

  timers_ = new TimerBoard(bench, this);
  today_ = new TodayPage(bench, timers_);
  jobs_ = new JobsPage(bench);
  places_->addWidget(today_);
  places_->addWidget(jobs_);
  auto* specimen = new QWidget;
  places_->addWidget(specimen);
  series_ = new SeriesPage(bench);
  places_->addWidget(series_);
  reference_ = new ReferencePage(bench);
  places_->addWidget(reference_);
  auto* specimen_layout = parts::column(specimen, 0, 8);
  bar_ = new StageBar(bench);
  specimen_layout->addWidget(bar_);
  auto* lower = new QHBoxLayout;
  lower->setSpacing(12);
  specimen_layout->addLayout(lower, 1);
  auto* centre = new QVBoxLayout;
  centre->setSpacing(10);
  stages_ = new QStackedWidget;
  centre->addWidget(stages_, 1);
  watch_ = new Watch(bench);
  centre->addWidget(watch_);
  lower->addLayout(centre, 1);
  ledger_ = new Ledger(bench);
  ledger_->setFixedWidth(int(272 * std::min(1.3, theme::scale())));
  lower->addWidget(ledger_);
  find_ = new FindBox(central);
  build_pages();
  build_shortcuts();

  connect(timers_, &TimerBoard::changed, this, [this] { top_->set_timers(timers_->timers()); });
  connect(timers_, &TimerBoard::ended, this, &MainWindow::say);
  connect(top_, &TopBar::timer_wanted, this, [this](Id of, Id timer) {
    show_specimen(of, int(Stage::prepare));
    for (const RunningTimer& t : timers_->timers())
      if (t.row.id == timer && t.left <= 0) return timers_->acknowledge(timer);
  });
  connect(top_, &TopBar::find_wanted, this, &MainWindow::open_find);
  connect(top_, &TopBar::units_wanted, this, &MainWindow::next_units);
  connect(top_, &TopBar::operator_wanted, this, &MainWindow::ask_operator);
  connect(docket_, &Docket::today_wanted, this, &MainWindow::show_today);
  connect(docket_, &Docket::jobs_wanted, this, &MainWindow::show_jobs);
  connect(docket_, &Docket::specimen_wanted, this, [this](Id id) { show_specimen(id); });
  connect(docket_, &Docket::series_wanted, this, &MainWindow::show_series);
  connect(series_, &SeriesPage::specimen_wanted, this, &MainWindow::show_specimen);
  connect(today_, &TodayPage::specimen_wanted, this, &MainWindow::show_specimen);
  connect(today_, &TodayPage::new_job_wanted, this, [this] {
    show_jobs();
    jobs_->focus_new();
  });
  connect(jobs_, &JobsPage::specimen_wanted, this, &MainWindow::show_specimen);
  connect(ledger_, &Ledger::sign_off_wanted, bench, [bench] { bench->set_stage(Stage::sign_off); });
  connect(bench, &Workbench::message, this, &MainWindow::say);
  connect(bench, &Workbench::stage_changed, this, &MainWindow::show_stage);
  connect(bench, &Workbench::specimen_changed, this, [this] {
    if (!bench_->has_specimen()) return;
    for (StagePage* p : pages_) p->rebuild();
  });
  connect(bench, &Workbench::record_changed, this, [this] {
    if (!bench_->has_specimen()) return;
    pages_[size_t(bench_->stage())]->refresh();
  });
  connect(bench, &Workbench::evaluation_changed, this, [this] {
    if (bench_->has_specimen()) pages_[size_t(bench_->stage())]->evaluated();
  });
  connect(bench, &Workbench::units_changed, this, [this] {
    top_->set_units(bench_->units() == UnitSet::si   ? "SI · MPa"
                    : bench_->units() == UnitSet::us ? "US · ksi"
                                                     : "kgf/mm²");
    if (bench_->has_specimen()) {
      pages_[size_t(bench_->stage())]->refresh();
      evaluate_->rebuild();
    }
  });
}

void MainWindow::build_pages() {
  auto* prepare = new PrepareStage(bench_, timers_);
  auto* measure = new ReadingStage(bench_, Stage::measure);
  auto* setup = new SetupStage(bench_);
  run_ = new RunStage(bench_, timers_);
  auto* after = new ReadingStage(bench_, Stage::after);
  evaluate_ = new EvaluateStage(bench_);
  sign_ = new SignOffStage(bench_);
  pages_ = {prepare, measure, setup, run_, after, evaluate_, sign_};
  for (StagePage* p : pages_) {
    // Large text on a small screen: the page scrolls rather than lose its edges.
    auto* area = parts::scroller(p);
    area->setHorizontalScrollBarPolicy(Qt::ScrollBarAsNeeded);
    stages_->addWidget(area);
  }
  connect(setup, &SetupStage::start_wanted, bench_, [this] { bench_->set_stage(Stage::run); });
  connect(run_->import_panel(), &ImportPanel::imported, bench_, [this] { bench_->set_stage(Stage::after); });
  connect(evaluate_, &EvaluateStage::result_picked, this,
          [this](const QString& key) { ledger_->list()->open_how(key); });
}

void MainWindow::build_shortcuts() {
  auto key = [&](const QKeySequence& k, const std::function<void()>& act) {
    auto* s = new QShortcut(k, this);
    connect(s, &QShortcut::activated, this, act);
  };
  key(QKeySequence("Ctrl+K"), [this] { open_find(); });
  key(QKeySequence("Ctrl+Z"), [this] { bench_->undo().undo(); });
  key(QKeySequence("Ctrl+Shift+Z"), [this] { bench_->undo().redo(); });
  key(QKeySequence("Ctrl+U"), [this] { next_units(); });
  key(QKeySequence("Ctrl+B"), [this] {
    docket_wanted_ = !docket_area_->isVisible();
    make_room();
  });
  key(QKeySequence("Ctrl+N"), [this] {
    show_jobs();
    jobs_->focus_new();
  });
  key(QKeySequence("Ctrl+D"), [] { theme::set_dark(!theme::dark()); });
  key(QKeySequence("Ctrl+Home"), [this] { show_today(); });
  for (int i = 0; i < kStageCount; ++i)
    key(QKeySequence("Alt+" + QString::number(i + 1)), [this, i] {
      if (bench_->has_specimen()) bench_->set_stage(Stage(i));
    });
}

TimerBoard& MainWindow::timers() {
  return *timers_;
}

void MainWindow::show_today() {
  places_->setCurrentIndex(0);
  docket_->set_place(Docket::Place::today);
  make_room();
  top_->set_place("Today, " + QLocale(QLocale::English).toString(QDate::currentDate(), "dddd d MMMM"));
  top_->set_operator(qs(bench_->book()->operator_name()));
  top_->set_units(bench_->units() == UnitSet::si   ? "SI · MPa"
                  : bench_->units() == UnitSet::us ? "US · ksi"
                                                   : "kgf/mm²");
  today_->refresh();
  docket_->setFocus();
}

void MainWindow::show_jobs() {
  places_->setCurrentIndex(1);
  docket_->set_place(Docket::Place::jobs);
  make_room();
  top_->set_place("All jobs");
  jobs_->refresh();
}

void MainWindow::show_series(Id series) {
  places_->setCurrentIndex(3);
  docket_->set_place(Docket::Place::series, series);
  make_room();
  top_->set_place("Series");
  series_->show_series(series);
}

void MainWindow::show_reference() {
  places_->setCurrentIndex(4);
  docket_->set_place(Docket::Place::series);
  make_room();
  top_->set_place("Reference values");
  reference_->refresh();
}

void MainWindow::show_specimen(Id specimen, int stage) {
  if (run_->running() && specimen != bench_->specimen())
    return say("A run is on: hold or stop it before another piece comes on the bench.");
  if (specimen != bench_->specimen()) bench_->select(specimen);
  if (stage >= 0) bench_->set_stage(Stage(stage));
  places_->setCurrentIndex(2);
  docket_->set_place(Docket::Place::specimen);
  make_room();
  const JobRow job = bench_->book()->job_of(specimen);
  top_->set_place(qs(job.code + " " + job.title) + "  ›  " + qs(bench_->record().specimen_id()));
  show_stage();
}

void MainWindow::show_stage() {
  if (!bench_->has_specimen()) return;
  const Stage stage = bench_->stage();
  say("");
  stages_->setCurrentIndex(int(stage));
  watch_->setVisible(pages_[size_t(stage)]->wants_watch());
  ledger_->setVisible(pages_[size_t(stage)]->wants_ledger());
  pages_[size_t(stage)]->refresh();
  if (stage == Stage::run)
    run_->take_focus();
  else
    bar_->setFocus();
  if (stage == Stage::measure || stage == Stage::after)
    if (auto* page = qobject_cast<ReadingStage*>(pages_[size_t(stage)])) page->pad()->focus_first_empty();
}

void MainWindow::open_find() {
  std::vector<Doable> all;
  all.push_back({"Today", "what is next", [this] { show_today(); }});
  all.push_back({"All jobs", "", [this] { show_jobs(); }});
  all.push_back({"New job", "Ctrl N", [this] {
                   show_jobs();
                   jobs_->focus_new();
                 }});
  all.push_back({"Units: SI, US customary, kgf", "Ctrl U", [this] { next_units(); }});
  all.push_back({"Light or dark", "Ctrl D", [] { theme::set_dark(!theme::dark()); }});
  all.push_back({"Larger text", "", [] { theme::set_scale(theme::scale() + 0.25); }});
  all.push_back({"Smaller text", "", [] { theme::set_scale(theme::scale() - 0.25); }});
  all.push_back({"Docket beside the bench", "Ctrl B", [this] {
                   docket_wanted_ = !docket_area_->isVisible();
                   make_room();
                 }});
  all.push_back({"Undo", "Ctrl Z", [this] { bench_->undo().undo(); }});
  all.push_back({"Redo", "Ctrl Shift Z", [this] { bench_->undo().redo(); }});
  all.push_back({"Reference values", "materials and species", [this] { show_reference(); }});
  all.push_back({"Operator", "who stands at the bench", [this] { ask_operator(); }});
  if (bench_->has_specimen()) {
    for (int i = 0; i < kStageCount; ++i)
      all.push_back({qs(stage_name(Stage(i))) + " " + qs(bench_->record().specimen_id()),
                     "Alt " + QString::number(i + 1), [this, i] { show_specimen(bench_->specimen(), i); }});
    if (const auto e = bench_->evaluation())
      for (const ResultValue& r : e->results)
        all.push_back({"How: " + qs(r.spec.name), qs(plain_symbol(r.spec.symbol)), [this, key = qs(r.spec.key)] {
                         show_specimen(bench_->specimen(), int(Stage::evaluate));
                         if (ledger_->list()->open_key() != key) ledger_->list()->open_how(key);
                       }});
  }
  for (const JobRow& job : bench_->book()->jobs()) {
    all.push_back({qs(job.code + " " + job.title), "job", [this] { show_jobs(); }});
    for (const SeriesRow& s : bench_->book()->series(job.id)) {
      all.push_back({"Series: " + qs(s.title), qs(job.code), [this, id = s.id] { show_series(id); }});
      for (const SpecimenRow& sp : bench_->book()->specimens(s.id))
        all.push_back({qs(sp.code), qs(job.code + " " + s.title), [this, id = sp.id] { show_specimen(id); }});
    }
  }
  const QRect f = top_->find_area();
  find_->open(std::move(all), QRect(std::max(8, f.left() - 120), top_->height() + 4, f.width() + 200, 380));
}

void MainWindow::next_units() {
  const UnitSet now = bench_->units();
  bench_->set_units(now == UnitSet::si ? UnitSet::us : now == UnitSet::us ? UnitSet::kgf : UnitSet::si);
}

void MainWindow::ask_operator() {
  bool ok = false;
  const QString name = QInputDialog::getText(this, "Operator", "Who stands at the bench?", QLineEdit::Normal,
                                             qs(bench_->book()->operator_name()), &ok)
                           .trimmed();
  if (!ok || name.isEmpty()) return;
  bench_->book()->set_operator(name.toStdString());
  if (const auto kept = bench_->book()->set_setting("operator", name.toStdString()); !kept)
    say(qs(kept.error().message));
  top_->set_operator(name);
}

void MainWindow::say(const QString& sentence) {
  message_->setText(sentence);
  message_->setVisible(!sentence.isEmpty());
}

QString MainWindow::message() const {
  return message_->text();
}

void MainWindow::resizeEvent(QResizeEvent* event) {
  QMainWindow::resizeEvent(event);
  make_room();
}

// With large text or a narrow window the specimen takes the docket's place; Ctrl B brings it back.
void MainWindow::make_room() {
  const bool narrow = width() < 1100 * theme::scale();
  docket_area_->setVisible(docket_wanted_ || !narrow || places_->currentIndex() != 2);
}

void MainWindow::closeEvent(QCloseEvent* event) {
  if (!run_->running()) return event->accept();
  say("A run is on: hold or stop it first. What was measured so far is in the book.");
  event->ignore();
}

}  // namespace fortitor
