#include "app/practice/practice_desk.h"

#include <QDateTime>
#include <QGridLayout>

#include "app/frame/desk_frame.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "core/methods/method.h"

namespace fortitor {
namespace {

using parts::qs;

QString faults_words(size_t n) {
  return n == 0 ? "nothing was hidden" : n == 1 ? "one thing was hidden" : QString::number(n) + " things were hidden";
}

}  // namespace

PracticeDesk::PracticeDesk(Workbench* bench, QWidget* parent) : Desk(parent), bench_(bench) {
  const DeskFrame frame(this, "Practice");
  auto* outer = frame.whole();
  auto* head = frame.head();
  head_ = frame.name();
  sub_ = parts::label("", "quiet");
  head->addWidget(sub_, 1);
  auto* tag = parts::label("practice, not a test", "practiceTag");
  tag->setWordWrap(false);
  head->addWidget(tag);
  begin_ = parts::button("Begin", "practice-begin", "primary");
  go_on_ = parts::button("Go on", "practice-go-on");
  look_ = parts::button("Debrief", "practice-debrief");
  for (QPushButton* b : {go_on_, look_, begin_}) head->addWidget(b);
  connect(begin_, &QPushButton::clicked, this, [this] {
    if (task_) begin(*task_);
  });
  connect(go_on_, &QPushButton::clicked, this, [this] { emit desk_wanted("specimen", specimen_, -1); });
  connect(look_, &QPushButton::clicked, this, [this] { ask_debrief(specimen_); });

  auto* row = frame.row();
  auto* left = parts::sheet();
  auto* left_column = parts::column(left, 14, 8);
  course_ = new CourseView;
  left_column->addWidget(parts::scroller(course_), 1);
  row->addWidget(left, 1);
  auto* right = new QVBoxLayout;
  right->setSpacing(12);
  const auto sheet = [&](const char* title, QVBoxLayout*& into, int stretch) {
    auto* s = parts::sheet();
    auto* column = parts::column(s, 14, 8);
    column->addWidget(parts::label(title, "title"));
    into = new QVBoxLayout;
    into->setSpacing(7);
    column->addLayout(into);
    column->addStretch();
    right->addWidget(parts::scroller(s), stretch);
  };
  sheet("Yours against the truth", table_, 4);
  sheet("What it cost", cost_, 3);
  auto* right_box = new QWidget;
  right_box->setObjectName("plain");
  right_box->setLayout(right);
  right->setContentsMargins(0, 0, 0, 0);
  DeskFrame::side(right_box, 330);
  row->addWidget(right_box);

  auto* tasks = parts::sheet();
  auto* tasks_column = parts::column(tasks, 14, 8);
  said_ = parts::label("", "title");
  tasks_column->addWidget(said_);
  cards_ = new QGridLayout;
  cards_->setSpacing(8);
  tasks_column->addLayout(cards_);
  outer->addWidget(tasks);
}

const SettingRows<PracticeDesk::Result>& PracticeDesk::results_of_book() {
  static const SettingRows<Result> results("practice.results", {{"person", &Result::person},
                                                                {"task", &Result::task},
                                                                {"at", &Result::at},
                                                                {"seed", &Result::seed},
                                                                {"specimen", &Result::specimen},
                                                                {"seen", &Result::seen},
                                                                {"of", &Result::of},
                                                                {"off", &Result::off}});
  return results;
}

std::vector<PracticeDesk::Result> PracticeDesk::results() const {
  return results_of_book().of(*bench_->book());
}

void PracticeDesk::keep(const std::vector<Result>& all) {
  if (const auto kept = results_of_book().keep(*bench_->book(), all); !kept) bench_->say(qs(kept.error().message));
}

// The person's newest go at a task.
PracticeDesk::Result* PracticeDesk::newest(std::vector<Result>& all, const std::string& task) const {
  Result* out = nullptr;
  for (Result& r : all)
    if (r.task == task && r.person == bench_->book()->operator_name()) out = &r;
  return out;
}

void PracticeDesk::open(Id piece, int) {
  if (piece != 0) {
    if (const auto r = bench_->book()->typed_record(piece); r && practice::task_of(*r)) {
      choose(*practice::task_of(*r));
      ask_debrief(piece);
      return;
    }
  }
  choose(task_ ? *task_ : practice::tasks().front());
}

void PracticeDesk::choose(const practice::Task& task) {
  task_ = &task;
  specimen_ = 0;
  std::vector<Result> all = results();
  const Result* last = newest(all, task.id);
  bool run = false;
  if (last != nullptr && bench_->book()->specimen(last->specimen)) {
    specimen_ = last->specimen;
    if (const auto r = bench_->book()->typed_record(specimen_)) run = r->has_run() || r->run.tables.size() > 0;
  }
  head_->setText(spoken("Practice: " + qs(task.title).toLower()));
  sub_->setText(spoken(qs(methods::find(task.method)->name) + ". " + qs(task.words) + " Something may go wrong."));
  begin_->setText(spoken(last == nullptr ? "Begin" : "Again, other faults"));
  go_on_->setVisible(specimen_ != 0 && last->seen < 0);
  look_->setVisible(specimen_ != 0);
  look_->setEnabled(run);
  clear_debrief(
      specimen_ == 0
          ? "Begin the task: the piece is worked on as any other, to the Evaluate stage. Then its debrief stands here."
      : run ? "The debrief holds your run against the piece as it is."
            : "The piece waits for its run.");
  show_cards();
}

void PracticeDesk::clear_debrief(const QString& words) {
  debrief_.reset();
  course_->show_nothing(words);
  for (QVBoxLayout* l : {table_, cost_}) parts::clear(l);
}

void PracticeDesk::begin(const practice::Task& task, uint64_t seed) {
  if (seed == 0) seed = uint64_t(bench_->clock().now().toMSecsSinceEpoch() / 7 % 9000) + 1;
  Id specimen = 0;
  const auto done = bench_->book()->together([&]() -> Outcome<Done> {
    Id job = 0, series = 0;
    if (const auto known = bench_->book()->job_by_code(practice::kJob))
      job = known->id;
    else if (const auto made = bench_->book()->add_job(practice::kJob, "practice, not a test"))
      job = *made;
    else
      return made.error();
    size_t pieces = 0;
    for (const SeriesRow& s : bench_->book()->series(job)) {
      pieces += bench_->book()->specimens(s.id).size();
      if (s.title == task.title && s.method == task.method) series = s.id;
    }
    if (series == 0) {
      const auto made = bench_->book()->add_series(job, task.title, task.method);
      if (!made) return made.error();
      series = *made;
    }
    const std::string code = "P-" + std::to_string(pieces + 1);
    TestRecord r = practice::begin(task, seed, code);
    r.job = practice::kJob;
    r.series = task.title;
    const auto made = bench_->book()->add_specimen(series, code, r);
    if (!made) return made.error();
    specimen = *made;
    return Done{};
  });
  if (!done) return bench_->say(qs(done.error().message));
  std::vector<Result> all = results();
  all.push_back({bench_->book()->operator_name(), task.id, bench_->clock().utc(), seed, specimen, -1, 0, 0});
  keep(std::move(all));
  bench_->touch_docket();
  emit desk_wanted("specimen", specimen, int(Stage::prepare));
}

void PracticeDesk::ask_debrief(Id specimen) {
  auto record = bench_->book()->record(specimen);
  if (!record) return bench_->say(qs(record.error().message));
  specimen_ = specimen;
  if (task_running_) bench_->tasks().cancel(task_running_);
  auto made = std::make_shared<practice::Debrief>();
  auto whole = std::make_shared<TestRecord>(std::move(*record));
  task_running_ = bench_->tasks().run(
      "Holding the run against the truth", this,
      [made, whole, work = worked(specimen)](Task&) {
        *made = practice::debrief(*whole, methods::evaluate(*whole), work);
      },
      [this, made, specimen] {
        debrief_ = std::move(*made);
        std::vector<Result> all = results();
        for (Result& r : all)
          if (r.specimen == specimen)
            r.seen = int(debrief_->seen()), r.of = int(debrief_->hidden.size()), r.off = int(debrief_->off());
        keep(std::move(all));
        show_debrief();
        show_cards();
        emit debriefed();
      });
}

// What the book knows of the work on a piece: its run by the clock, its lines of the logbook.
practice::Worked PracticeDesk::worked(Id specimen) const {
  practice::Worked out;
  const auto row = bench_->book()->specimen(specimen);
  if (!row) return out;
  LogQuery mine;
  mine.job = practice::kJob;
  std::vector<LogEntry> log = bench_->book()->logbook(mine, 4000);
  std::reverse(log.begin(), log.end());
  for (const LogEntry& l : log) {
    if (l.specimen != row->code || l.what.rfind("answered ", 0) == 0) continue;  // answers stand in the record
    out.deeds.push_back({l.at, l.what + (l.detail.empty() ? "" : " (" + l.detail + ")")});
  }
  if (const std::vector<RunRow> runs = bench_->book()->runs(specimen); !runs.empty()) {
    out.began = runs.front().started_at;
    out.ended = runs.back().closed_at;
  }
  return out;
}

void PracticeDesk::show_debrief() {
  const practice::Debrief& d = *debrief_;
  uint64_t seed = 0;
  for (const Result& r : results())
    if (r.specimen == specimen_) seed = r.seed;
  head_->setText(spoken("Debrief: " + qs(task_->title).toLower()));
  sub_->setText(spoken("seed " + QString::number(seed) + ", " + faults_words(d.hidden.size())));
  go_on_->setVisible(false);
  begin_->setText(spoken("Again, other faults"));
  course_->show_debrief(d, bench_->units());
  for (QVBoxLayout* l : {table_, cost_}) parts::clear(l);
  const auto line = [&](QVBoxLayout* into, const QString& glyph, theme::Ink ink, const QString& words) {
    auto* row = new QHBoxLayout;
    auto* mark = parts::label(glyph);
    mark->setWordWrap(false);
    mark->setFixedWidth(int(18 * theme::scale()));
    mark->setStyleSheet("font-weight:700;color:" + theme::color(ink).name());
    row->addWidget(mark, 0, Qt::AlignTop);
    row->addWidget(parts::label(words), 1);
    into->addLayout(row);
  };
  auto* grid = new QGridLayout;
  grid->setHorizontalSpacing(12);
  grid->setVerticalSpacing(7);
  int at = 0;
  for (const char* h : {"", "yours", "truth"}) grid->addWidget(parts::label(h, "quiet"), 0, at++, Qt::AlignRight);
  at = 1;
  for (const practice::Row& r : d.rows) {
    auto* name = parts::label(qs(plain_symbol(r.symbol)), "mono");
    name->setToolTip(spoken(qs(r.name)));
    grid->addWidget(name, at, 0);
    auto* yours =
        parts::label(r.there ? qs(format_value(r.yours, r.dimension, bench_->units(), r.figures)) : "none", "mono");
    yours->setWordWrap(false);
    yours->setStyleSheet("font-family:'JetBrains Mono';font-weight:700;color:" +
                         theme::color(!r.there ? theme::Ink::quiet
                                      : r.off  ? theme::Ink::fails
                                               : theme::Ink::meets)
                             .name());
    grid->addWidget(yours, at, 1, Qt::AlignRight);
    auto* truth = parts::label(qs(format_value(r.truth, r.dimension, bench_->units(), r.figures)), "mono");
    truth->setWordWrap(false);
    grid->addWidget(truth, at++, 2, Qt::AlignRight);
  }
  grid->setColumnStretch(0, 1);
  table_->addLayout(grid);

  for (const practice::Hidden& h : d.hidden) {
    using S = practice::Hidden::Seen;
    line(cost_,
         h.seen == S::seen       ? "✓"
         : h.seen == S::accepted ? "◐"
                                 : "✕",
         h.seen == S::seen       ? theme::Ink::meets
         : h.seen == S::accepted ? theme::Ink::near
                                 : theme::Ink::fails,
         qs(h.words) + ": " + qs(h.how) + (h.cost.empty() ? "." : ". By itself it makes " + qs(h.cost) + "."));
  }
  if (d.off() > 0)
    line(cost_, "✕", theme::Ink::fails,
         QString::number(d.off()) + (d.off() == 1 ? " result is" : " results are") +
             " off by more than the uncertainty it would carry.");
  if (d.off() == 0 && !d.rows.empty()) line(cost_, "✓", theme::Ink::meets, "Every result lies where the piece is.");
}

void PracticeDesk::show_cards() {
  parts::clear(cards_);
  std::vector<Result> all = results();
  int done = 0, at = 0;
  const int columns = std::max(3, int(9 / theme::scale()));
  for (const practice::Task& t : practice::tasks()) {
    const Result* r = newest(all, t.id);
    done += r != nullptr && r->seen >= 0;
    const QString words = r == nullptr  ? "not yet"
                          : r->seen < 0 ? "begun"
                          : r->of == 0  ? (r->off == 0 ? "✓ nothing hidden" : "✕ off, nothing hidden")
                          : r->seen == r->of
                              ? "✓ " + QString::number(r->of) + " of " + QString::number(r->of) + " seen"
                              : "✕ " + QString::number(r->seen) + " of " + QString::number(r->of) + " seen";
    auto* card = parts::button(qs(t.title) + "\n" + words, "practice-task-" + qs(t.id), "row");
    card->setCheckable(true);
    card->setChecked(task_ == &t);
    card->setToolTip(spoken(qs(t.words)));
    connect(card, &QPushButton::clicked, this, [this, &t] { choose(t); });
    cards_->addWidget(card, at / columns, at % columns);
    ++at;
  }
  for (int c = 0; c < columns; ++c) cards_->setColumnStretch(c, 1);
  said_->setText(spoken(qs(bench_->book()->operator_name()) + ", " + QString::number(done) + " of " +
                        QString::number(practice::tasks().size()) + " tasks"));
}

std::vector<Doable> PracticeDesk::doable() {
  std::vector<Doable> all = {opens("Practice", "tasks with something hidden, and their debrief")};
  if (bench_->has_specimen() && practice::is_practice(bench_->record()))
    all.push_back(opens("Debrief " + parts::qs(bench_->record().specimen_id()), "practice against the truth",
                        bench_->specimen()));
  return all;
}

}  // namespace fortitor
