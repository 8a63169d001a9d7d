#include "app/frame/main_window.h"

#include <QCloseEvent>
#include <QFileDialog>
#include <QInputDialog>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QRegularExpression>
#include <QShortcut>
#include <QStackedWidget>
#include <QTimer>
#include <set>

#include "app/arrivals/arrivals_desk.h"
#include "app/docket/docket.h"
#include "app/figures/figure_view.h"
#include "app/frame/find_box.h"
#include "app/frame/specimen_desk.h"
#include "app/frame/task_strip.h"
#include "app/frame/top_bar.h"
#include "app/kit/kit_page.h"
#include "app/ledger/ledger.h"
#include "app/logbook/logbook_page.h"
#include "app/plan/plan_desk.h"
#include "app/practice/practice_desk.h"
#include "app/reference/reference_page.h"
#include "app/series/common_page.h"
#include "app/series/series_page.h"
#include "app/slate/slate_desk.h"
#include "app/spectrum/spectrum_desk.h"
#include "app/stages/run_stage.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "app/today/jobs_page.h"
#include "app/today/today_page.h"
#include "core/memory.h"

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
  build_lost_strip(desk_layout);
  desk_layout->addWidget(message_);
  desk_layout->addWidget(places_, 1);

  auto* tasks = new TaskStrip(&bench->tasks());
  desk_layout->addWidget(tasks);

  timers_ = new TimerBoard(bench, this);
  day_ = new DayBoard(bench, this);
  specimen_ = new SpecimenDesk(bench, timers_);
  series_ = new SeriesPage(bench);
  reference_ = new ReferencePage(bench);
  spectrum_ = new SpectrumDesk(bench);
  for (Desk* d : std::initializer_list<Desk*>{
           new TodayPage(bench, timers_, day_), new JobsPage(bench), specimen_, series_, reference_,
           new LogbookPage(bench), new KitPage(bench), new CommonPage(bench), spectrum_, new PlanDesk(bench, day_),
           slate_ = new SlateDesk(bench), new PracticeDesk(bench), arrivals_ = new ArrivalsDesk(bench)})
    add_desk(d);
  for (const FigureView* figure : findChildren<FigureView*>())
    connect(figure, &FigureView::said, this, &MainWindow::say);
  find_ = new FindBox(central);
  for (QWidget* part : std::initializer_list<QWidget*>{top_, docket_area_, message_, lost_, tasks, find_})
    theme::dress(part);
  build_shortcuts();
  setAcceptDrops(true);
  qApp->installEventFilter(this);
  auto* minute = new QTimer(this);
  connect(minute, &QTimer::timeout, this, give_back_memory);
  minute->start(60'000);

  connect(timers_, &TimerBoard::changed, this, [this] { top_->set_running(timers_->timers(), timers_->rigs().all()); });
  connect(top_, &TopBar::rig_wanted, this, [this](Id of) { show_specimen(of, int(Stage::run)); });
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
  connect(docket_, &Docket::row_wanted, this, [this](const QRect& row) {
    docket_area_->ensureVisible(row.center().x(), row.center().y(), 0, row.height() * 2);
  });
  connect(docket_, &Docket::desk_wanted, this, [this](const QString& name) { open(name); });
  connect(docket_, &Docket::specimen_wanted, this, [this](Id id) { show_specimen(id); });
  connect(docket_, &Docket::series_wanted, this, &MainWindow::show_series);
  connect(docket_, &Docket::spectrum_wanted, this, [this](Id id) { open("spectrum", id, -1); });
  connect(bench, &Workbench::message, this, &MainWindow::say);
  connect(bench, &Workbench::can_be_opened, this, [this](Id piece) {
    const Waiting w = waiting_;
    if (w.name != "specimen" || w.what != piece) return;
    say("");
    open(w.name, w.what, w.detail);
  });
  connect(bench, &Workbench::units_changed, this, [this] {
    show_units();
    specimen_->units_changed();
  });
}

void MainWindow::add_desk(Desk* desk) {
  desks_.push_back(desk);
  places_->addWidget(desk);
  desk->dress();
  connect(desk, &Desk::desk_wanted, this, &MainWindow::open);
}

Desk* MainWindow::now() const {
  return static_cast<Desk*>(places_->currentWidget());
}

void MainWindow::open(const QString& name, Id what, int detail) {
  const auto it = std::find_if(desks_.begin(), desks_.end(), [&](const Desk* d) { return d->name() == name; });
  if (it == desks_.end()) return say("There is no desk “" + name + "”.");
  Desk* desk = *it;
  waiting_ = {name, what, detail};
  if (const QString why = desk->obstacle(what); !why.isEmpty()) return say(why);
  if (now() != desk) now()->leave();
  places_->setCurrentWidget(desk);
  make_room();
  top_->set_operator(qs(bench_->book()->operator_name()));
  show_units();
  desk->open(what, detail);
  docket_->set_place(desk->place(),
                     desk->place() == Docket::Place::series || desk->place() == Docket::Place::spectrum ? what : 0);
  top_->set_place(desk->title());
  if (desk->place() == Docket::Place::today) docket_->setFocus();
}

RunStage* MainWindow::run_stage() const {
  return specimen_->run_stage();
}

EvaluateStage* MainWindow::evaluate_stage() const {
  return specimen_->evaluate_stage();
}

SignOffStage* MainWindow::sign_off_stage() const {
  return specimen_->sign_off_stage();
}

Ledger* MainWindow::ledger() const {
  return specimen_->ledger();
}

StageBar* MainWindow::stage_bar() const {
  return specimen_->stage_bar();
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
  key(QKeySequence("Ctrl+N"), [this] { open("jobs", 0, 1); });
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

void MainWindow::open_find() {
  std::vector<Doable> all;
  all.push_back({"Today", "what is next", [this] { show_today(); }});
  all.push_back({"All jobs", "", [this] { show_jobs(); }});
  all.push_back({"Machine's files…", "pieces out of files; or drop them anywhere", [this] {
                   const QStringList files = QFileDialog::getOpenFileNames(this, "Files of a testing machine");
                   if (!files.isEmpty()) take_files(files);
                 }});
  all.push_back({"New job", "Ctrl N", [this] { open("jobs", 0, 1); }});
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
  all.push_back({"Plan", "who does what when", [this] { open("plan"); }});
  all.push_back({"Slate", "calculators and their tape", [this] { open("slate"); }});
  all.push_back({"Practice", "tasks with something hidden, and their debrief", [this] { open("practice"); }});
  if (bench_->has_specimen() && practice::is_practice(bench_->record()))
    all.push_back({"Debrief " + qs(bench_->record().specimen_id()), "practice against the truth",
                   [this] { open("practice", bench_->specimen()); }});
  all.push_back({"Kit", "equipment, calibration, benches", [this] { open("kit", 0, 0); }});
  for (const JobOutline& job : bench_->book()->outline()) {
    for (const SpectrumRow& s : job.spectra)
      all.push_back({"Spectrum: " + qs(s.title), qs(job.job.code), [this, id = s.id] { open("spectrum", id, -1); }});
    if (all.size() < 60)
      all.push_back({"New spectrum in " + qs(job.job.code + " " + job.job.title), "from weeks of strain",
                     [this, id = job.job.id] { new_spectrum(id); }});
  }
  all.push_back({"Logbook", "what happened, and its chain", [this] { open("logbook", 0, 0); }});
  all.push_back({"Back the book up…", "a checked copy in a folder", [this] { back_up(); }});
  all.push_back({"Save the book elsewhere…", "and go on there", [this] { save_elsewhere(); }});
  all.push_back({"Operator", "who stands at the bench", [this] { ask_operator(); }});
  if (bench_->has_specimen()) {
    all.push_back({"What holds for the series", "typed once for all pieces",
                   [this] { open("common", bench_->book()->series_of(bench_->specimen()).id); }});
    for (int i = 0; i < kStageCount; ++i)
      all.push_back({qs(stage_name(Stage(i))) + " " + qs(bench_->record().specimen_id()),
                     "Alt " + QString::number(i + 1), [this, i] { show_specimen(bench_->specimen(), i); }});
    const auto versions = bench_->book()->versions(bench_->specimen());
    for (size_t i = 1; i < std::min<size_t>(versions.size(), 12); ++i)
      all.push_back({"Version " + QString::number(versions[i].version) + " of " + qs(bench_->record().specimen_id()),
                     "saved " + qs(versions[i].saved_at).section('.', 0, 0).replace('T', ' ') + " UTC; go back to it",
                     [this, v = versions[i].version] { bench_->back_to(v); }});
    if (const auto e = bench_->evaluation())
      for (const ResultValue& r : e->results)
        all.push_back({"How: " + qs(r.spec.name), qs(plain_symbol(r.spec.symbol)), [this, key = qs(r.spec.key)] {
                         show_specimen(bench_->specimen(), int(Stage::evaluate));
                         if (ledger()->list()->open_key() != key) ledger()->list()->open_how(key);
                       }});
  }
  const QRect f = top_->find_area();
  find_->open(
      std::move(all), [this](const QString& typed, int most) { return found(typed, most); },
      QRect(std::max(8, f.left() - 120), top_->height() + 4, f.width() + 200, 380));
}

void MainWindow::new_spectrum(Id job) {
  const size_t n = bench_->book()->spectra(job).size();
  const auto id = bench_->book()->add_spectrum(job, "Spectrum " + std::to_string(n + 1));
  if (!id) return say(qs(id.error().message));
  bench_->touch_docket();
  open("spectrum", *id, int(spectrum::ChainStep::raw));
}

// Jobs and series first, as they are what many specimens share.
std::vector<Doable> MainWindow::found(const QString& typed, int most) {
  std::vector<Doable> groups, pieces;
  std::set<Id> jobs, series;
  // The word that stands before a series in the list is none of its name.
  const QString plain =
      QString(typed).remove(QRegularExpression("\\bseries:?(\\s|$)", QRegularExpression::CaseInsensitiveOption));
  const QStringList words = plain.split(' ', Qt::SkipEmptyParts);
  // A job or a series is offered when it is itself what was typed, not only one of its pieces.
  auto named = [&](const QString& text) {
    return std::all_of(words.begin(), words.end(),
                       [&](const QString& w) { return text.contains(w, Qt::CaseInsensitive); });
  };
  for (const FoundRow& r : bench_->book()->search(plain.toStdString(), most)) {
    if (jobs.insert(r.job).second && named(qs(r.job_code + " " + r.job_title)))
      groups.push_back({qs(r.job_code + " " + r.job_title), "job", [this] { show_jobs(); }});
    if (series.insert(r.series).second && named(qs(r.job_code + " " + r.job_title + " " + r.series_title)))
      groups.push_back({"Series: " + qs(r.series_title), qs(r.job_code), [this, id = r.series] { show_series(id); }});
    pieces.push_back(
        {qs(r.code), qs(r.job_code + " " + r.series_title), [this, id = r.specimen] { show_specimen(id); }});
  }
  groups.insert(groups.end(), pieces.begin(), pieces.end());
  // A line of the Slate is worked out while it is typed.
  if (const auto line = slate::read_line(typed.toStdString());
      line && line->calculator->id != "convert")  // the box converts units itself
    if (const auto answer = slate::work(*line->calculator, line->inputs, bench_->units()))
      groups.insert(groups.begin(),
                    {qs(slate::in_short(*answer, bench_->units())), qs(line->calculator->title), [this, typed] {
                       open("slate");
                       slate_->take(typed);
                     }});
  return groups;
}

void MainWindow::show_units() {
  const UnitSet set = bench_->units();
  top_->set_units(set == UnitSet::si ? "SI · MPa" : set == UnitSet::us ? "US · ksi" : "kgf/mm²");
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

void MainWindow::build_lost_strip(QVBoxLayout* into) {
  lost_ = parts::sheet();
  lost_->setAccessibleName("The book's file is gone");
  auto* row = new QHBoxLayout(lost_);
  row->setContentsMargins(12, 8, 8, 8);
  lost_words_ = parts::label("", "error");
  row->addWidget(lost_words_, 1);
  auto* elsewhere = parts::button("Save the book elsewhere…", "book-elsewhere", "primary");
  row->addWidget(elsewhere);
  lost_->hide();
  into->addWidget(lost_);
  connect(elsewhere, &QPushButton::clicked, this, &MainWindow::save_elsewhere);
  connect(bench_, &Workbench::book_lost, this, [this](const QString& sentence) {
    lost_words_->setText(sentence + " Nothing can be written there; everything measured is still here.");
    lost_->setVisible(!sentence.isEmpty());
  });
}

void MainWindow::say(const QString& sentence) {
  message_->setText(sentence);
  message_->setVisible(!sentence.isEmpty());
}

QString MainWindow::desk_in_hand() const {
  return now()->name();
}

QString MainWindow::message() const {
  return message_->text();
}

void MainWindow::resizeEvent(QResizeEvent* event) {
  QMainWindow::resizeEvent(event);
  make_room();
}

// A field takes Ctrl Z for itself only while something typed in it is not kept yet: what is kept is undone by the
// bench.
bool MainWindow::eventFilter(QObject* object, QEvent* event) {
  if (event->type() == QEvent::ShortcutOverride) {
    const auto* line = qobject_cast<QLineEdit*>(object);
    const auto* key = static_cast<QKeyEvent*>(event);
    if (line != nullptr && !line->isModified() &&
        (key->matches(QKeySequence::Undo) || key->matches(QKeySequence::Redo))) {
      event->ignore();
      return true;
    }
  }
  return QMainWindow::eventFilter(object, event);
}

// With large text or a narrow window the specimen takes the docket's place; Ctrl B brings it back.
void MainWindow::make_room() {
  const bool narrow = width() < 1100 * theme::scale();
  docket_area_->setVisible(docket_wanted_ || !narrow || !now()->wants_room());
}

void MainWindow::closeEvent(QCloseEvent* event) {
  if (const size_t waiting = bench_->unsaved(); waiting > 0 && !std::exchange(let_go_, true)) {
    say((waiting == 1 ? QString("The changes of a piece are") : QString("The changes of %1 pieces are").arg(waiting)) +
        " not written yet. Save the book elsewhere first, or close again to let them go.");
    return event->ignore();
  }
  if (!run_stage()->running()) return event->accept();
  say("A run is on: hold or stop it first. What was measured so far is in the book.");
  event->ignore();
}

}  // namespace fortitor
