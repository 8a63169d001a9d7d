#include "app/frame/specimen_desk.h"

#include <QApplication>
#include <QClipboard>
#include <QScrollBar>
#include <QStackedWidget>
#include <algorithm>

#include "app/frame/stage_bar.h"
#include "app/guide/guide_parts.h"
#include "app/ledger/ledger.h"
#include "app/photographs/photographs.h"
#include "app/stages/evaluate_stage.h"
#include "app/stages/prepare_stage.h"
#include "app/stages/run_stage.h"
#include "app/stages/setup_stage.h"
#include "app/stages/sign_off_stage.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "app/watch/watch.h"

namespace fortitor {

using parts::qs;

SpecimenDesk::SpecimenDesk(Workbench* bench, TimerBoard* timers, QWidget* parent) : Desk(parent), bench_(bench) {
  auto* layout = parts::column(this, 0, 8);
  bar_ = new StageBar(bench);
  layout->addWidget(bar_);
  auto* lower = new QHBoxLayout;
  lower->setSpacing(12);
  layout->addLayout(lower, 1);
  auto* centre = new QVBoxLayout;
  centre->setSpacing(10);
  stages_ = new QStackedWidget;
  centre->addWidget(stages_, 1);
  photographs_ = new PhotographStrip(bench);
  centre->addWidget(photographs_);
  watch_ = new Watch(bench);
  centre->addWidget(watch_);
  connect(watch_, &Watch::explained, this, [this](const QString& code) {
    if (const auto part = guide_for_finding(code)) emit desk_wanted("guide", 0, int(*part));
  });
  lower->addLayout(centre, 1);
  ledger_ = new Ledger(bench);
  ledger_->setFixedWidth(int(272 * std::min(1.3, theme::scale())));
  lower->addWidget(ledger_);
  build_pages(timers);
  connect(bench, &Workbench::photograph_wanted, photographs_, &PhotographStrip::ask);
  connect(ledger_, &Ledger::sign_off_wanted, bench, [bench] { bench->set_stage(Stage::sign_off); });
  connect(bench, &Workbench::stage_changed, this, &SpecimenDesk::show_stage);
  connect(bench, &Workbench::specimen_changed, this, [this] {
    if (!bench_->has_specimen()) return;
    // Pages are built when they are looked at; the machine at Run is there for the keys of every page.
    stale_.set();
    photographs_->reload();
    build(Stage::run);
  });
  connect(bench, &Workbench::record_changed, this, [this] {
    if (!bench_->has_specimen()) return;
    build(bench_->stage());
    pages_[size_t(bench_->stage())]->refresh();
  });
  connect(bench, &Workbench::evaluation_changed, this, [this] {
    if (!bench_->has_specimen()) return;
    build(bench_->stage());
    pages_[size_t(bench_->stage())]->evaluated();
    watch_->setVisible(pages_[size_t(bench_->stage())]->wants_watch());
  });
}

void SpecimenDesk::build_pages(TimerBoard* timers) {
  auto* prepare = new PrepareStage(bench_, timers);
  auto* measure = new ReadingStage(bench_, Stage::measure);
  auto* setup = new SetupStage(bench_);
  run_ = new RunStage(bench_, timers);
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

void SpecimenDesk::dress() {
  for (QWidget* part : std::initializer_list<QWidget*>{bar_, photographs_, watch_, ledger_}) theme::dress(part);
  for (int i = 0; i < stages_->count(); ++i) theme::dress(stages_->widget(i));
}

QString SpecimenDesk::title() const {
  if (!bench_->has_specimen()) return {};
  const JobRow job = bench_->book()->job_of(bench_->specimen());
  return qs(job.code + " " + job.title) + "  ›  " + qs(bench_->record().specimen_id());
}

QString SpecimenDesk::obstacle(Id specimen) const {
  if (run_->running() && specimen != bench_->specimen())
    return "A run is on: hold or stop it before another piece comes on the bench.";
  if (specimen > 0)
    if (const auto fine = bench_->can_select(specimen); !fine) return qs(fine.error().message);
  return Desk::obstacle(specimen);
}

QString SpecimenDesk::busy() const {
  return run_->running() ? QString("A run is on") : QString();
}

std::vector<Doable> SpecimenDesk::doable() {
  if (!bench_->has_specimen()) return {};
  const QString mark = qs(bench_->record().specimen_id());
  std::vector<Doable> all = {{"Photograph of the piece in hand…", "from files; Ctrl Shift V takes the clipboard",
                              [this] { bench_->ask_photograph(); }}};
  for (int i = 0; i < kStageCount; ++i)
    all.push_back(opens(qs(stage_name(Stage(i))) + " " + mark, "Alt " + QString::number(i + 1), bench_->specimen(), i));
  constexpr size_t kVersions = 12;
  const auto versions = bench_->book()->versions(bench_->specimen());
  for (size_t i = 1; i < std::min(versions.size(), kVersions); ++i)
    all.push_back({"Version " + QString::number(versions[i].version) + " of " + mark,
                   "saved " + qs(versions[i].saved_at).section('.', 0, 0).replace('T', ' ') + " UTC; go back to it",
                   [this, v = versions[i].version] { bench_->back_to(v); }});
  if (const auto e = bench_->evaluation())
    for (const ResultValue& r : e->results)
      all.push_back({"How: " + qs(r.spec.name), qs(plain_symbol(r.spec.symbol)), [this, key = qs(r.spec.key)] {
                       emit desk_wanted(name(), bench_->specimen(), int(Stage::evaluate));
                       if (ledger_->list()->open_key() != key) ledger_->list()->open_how(key);
                     }});
  return all;
}

void SpecimenDesk::take(const QStringList& paths) {
  QStringList pictures, files;
  for (const QString& path : paths) (PhotographStrip::is_picture(path) ? pictures : files) << path;
  if (!pictures.isEmpty()) photographs_->take_files(pictures);
  if (files.isEmpty()) return;
  run_->show_import(true);
  run_->import_panel()->open(files.front());
}

void SpecimenDesk::listen_to(WireBoard* wires) {
  run_->listen_to(wires);
}

bool SpecimenDesk::take_reading() {
  return run_->isVisible() && run_->call_out()->take_stop();
}

void SpecimenDesk::paste() {
  if (bench_->has_specimen()) photographs_->take_image(QApplication::clipboard()->image());
}

void SpecimenDesk::open(Id specimen, int stage) {
  if (specimen != bench_->specimen())
    bench_->select(specimen);
  else
    for (const Stage s : {Stage::measure, Stage::set_up}) stale_.set(size_t(s));  // the Kit may be another
  bench_->renew_papers();
  if (stage >= 0) bench_->set_stage(Stage(stage));
  show_stage();
}

void SpecimenDesk::units_changed() {
  if (!bench_->has_specimen()) return;
  pages_[size_t(bench_->stage())]->refresh();
  stale_.set(size_t(Stage::evaluate));
  if (bench_->stage() == Stage::evaluate) build(Stage::evaluate);
}

// On a small screen with large text the machine's panel needs the room of the ledger: what stops it is never cut.
void SpecimenDesk::make_room() {
  if (!bench_->has_specimen()) return;
  const Stage stage = bench_->stage();
  const int page = pages_[size_t(stage)]->minimumSizeHint().width();
  const bool crowded = stage == Stage::run && width() - ledger_->width() - 12 < page;
  ledger_->setVisible(pages_[size_t(stage)]->wants_ledger() && !crowded);
}

void SpecimenDesk::resizeEvent(QResizeEvent* event) {
  Desk::resizeEvent(event);
  make_room();
}

void SpecimenDesk::build(Stage stage) {
  if (!stale_.test(size_t(stage))) return;
  stale_.reset(size_t(stage));
  pages_[size_t(stage)]->rebuild();
}

// Another piece begins at the top of its page, wherever the one before was looked at; where that hides what stops the
// machine, as far down as that. Called when the page is laid out.
void SpecimenDesk::begin_at_the_top(Stage stage) {
  auto* area = qobject_cast<QScrollArea*>(stages_->widget(int(stage)));
  if (area == nullptr || stages_->currentWidget() != area) return;
  area->verticalScrollBar()->setValue(0);
  if (stage != Stage::run) return;
  for (auto* b : run_->findChildren<QPushButton*>())
    if (b->isVisible() && b->property("key") == "run-stop") area->ensureWidgetVisible(b, 0, 8);
}

void SpecimenDesk::show_stage() {
  if (!bench_->has_specimen()) return;
  const Stage stage = bench_->stage();
  build(stage);
  bench_->say("");
  stages_->setCurrentIndex(int(stage));
  watch_->setVisible(pages_[size_t(stage)]->wants_watch());
  make_room();
  pages_[size_t(stage)]->refresh();
  if (stage == Stage::run)
    run_->take_focus();
  else
    bar_->setFocus();
  if (Id& seen = seen_[size_t(stage)]; seen != bench_->specimen()) {
    seen = bench_->specimen();
    QMetaObject::invokeMethod(
        this, [this, stage] { begin_at_the_top(stage); }, Qt::QueuedConnection);
  }
  if (stage == Stage::measure || stage == Stage::after)
    if (auto* page = qobject_cast<ReadingStage*>(pages_[size_t(stage)])) page->pad()->focus_first_empty();
}

}  // namespace fortitor
