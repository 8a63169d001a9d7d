#include "app/today/today_page.h"

#include <QDate>
#include <QGridLayout>
#include <QLabel>
#include <QLocale>

#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "core/practice/practice.h"

namespace fortitor {
namespace {

using parts::qs;

// Waiting in the order in which it costs most.
enum Rank { judgement, halves, signature, run, set_up, measure, prepare };

Rank rank_of(const SpecimenRow& s) {
  if (s.open_judgements > 0) return judgement;
  switch (next_stage(s.stages)) {
    case Stage::after: return halves;
    case Stage::evaluate:
    case Stage::sign_off: return signature;
    case Stage::run: return run;
    case Stage::set_up: return set_up;
    case Stage::measure: return measure;
    case Stage::prepare: break;
  }
  return prepare;
}

// What a specimen waits for, in words.
struct Waiting {
  QString when, title, why, action;
  Stage stage;
};

Waiting waiting_of(const SpecimenRow& s, Rank rank, const QString& series, const Method& method) {
  const QString name = qs(s.code) + "  " + series;
  const int n = s.open_judgements;
  switch (rank) {
    case judgement:
      return {"now", name + ": " + QString::number(n) + (n == 1 ? " judgement waits" : " judgements wait"),
              "The numbers are there. Sign-off waits for your word.", "Decide", Stage::evaluate};
    case halves:
      return {"now", name + ": " + qs(method.wording.to_measure), qs(method.wording.measure_why), "Go on",
              Stage::after};
    case signature:
      return {"next", name + ": ready to sign", "Everything is answered. Verdict: " + qs(s.verdict) + ".", "Sign off",
              Stage::sign_off};
    case run: return {"next", name + ": ready to run", "Measured and set up.", "Run", Stage::run};
    case set_up: return {"next", name + ": to set up", "Choose cell, speed and stops.", "Set up", Stage::set_up};
    case measure: return {"later", name + ": to measure", "Three readings a dimension.", "Measure", Stage::measure};
    case prepare: break;
  }
  return {"later", name + ": to prepare", "Log lot, material and limits.", "Prepare", Stage::prepare};
}

// A specimen that wants something, before words are made of it.
struct Open {
  Rank rank;
  const SpecimenRow* specimen;
  const SeriesRow* series;
};

// More than a person does in a day; what is beyond is counted.
constexpr size_t kRows = 40, kJobs = 7;
constexpr int kJobColumns = 4;

}  // namespace

TodayPage::TodayPage(Workbench* bench, TimerBoard* timers, DayBoard* day, QWidget* parent)
    : Desk(parent), bench_(bench), timers_(timers), day_(day) {
  later_.setSingleShot(true);
  later_.setInterval(60);
  connect(&later_, &QTimer::timeout, day, &DayBoard::ask);
  connect(day, &DayBoard::minute, this, [this](const QString& now) { lanes_->set_now(now.toStdString()); });
  connect(day, &DayBoard::planned, this, [this] {
    if (isVisible()) refresh();
  });
  connect(timers, &TimerBoard::changed, this, [this] {
    if (isVisible()) refresh();
  });
  setObjectName("page");
  auto* whole = parts::column(this, 0, 0);
  welcome_ = new Welcome;
  whole->addWidget(welcome_);
  day_page_ = new QWidget;
  day_page_->setObjectName("plain");
  whole->addWidget(day_page_);
  connect(welcome_, &Welcome::files_wanted, this, [this] { emit desk_wanted("arrivals", 0, 1); });
  connect(welcome_, &Welcome::job_wanted, this, [this] { emit desk_wanted("jobs", 0, 1); });
  connect(welcome_, &Welcome::practice_wanted, this, [this] { emit desk_wanted("practice", 0, 0); });
  auto* outer = parts::column(day_page_, 0, 12);
  auto* sheet = parts::sheet();
  auto* layout = parts::column(sheet, 1, 0);
  auto* head = parts::label("Next at the bench", "heading");
  head->setContentsMargins(14, 12, 14, 10);
  layout->addWidget(head);
  notices_ = new QVBoxLayout;
  notices_->setContentsMargins(14, 0, 14, 0);
  layout->addLayout(notices_);
  auto* content = new QWidget;
  content->setObjectName("plain");
  rows_ = parts::column(content, 0, 0);
  layout->addWidget(parts::scroller(content), 1);
  outer->addWidget(sheet, 1);
  auto* middle = new QHBoxLayout;
  middle->setSpacing(12);
  auto* lanes = parts::sheet();
  auto* lanes_layout = parts::column(lanes, 6, 0);
  lanes_ = new LanesView;
  lanes_->set_small(true);
  lanes_layout->addWidget(parts::scroller(lanes_));
  lanes->setFixedHeight(int(172 * theme::scale()));
  middle->addWidget(lanes, 1);
  connect(lanes_, &LanesView::opened, this, [this](size_t task) {
    if (const AgendaPtr a = lanes_->agenda())
      emit desk_wanted("specimen", a->entries[task].specimen, int(a->entries[task].stage));
  });
  auto* ready = parts::sheet();
  auto* ready_layout = parts::column(ready, 12, 4);
  auto* ready_head = new QHBoxLayout;
  ready_head->addWidget(parts::label("Ready to use", "title"), 1);
  auto* plan = parts::button("Plan…", "today-plan");
  ready_head->addWidget(plan);
  connect(plan, &QPushButton::clicked, this, [this] { emit desk_wanted("plan", 0, -1); });
  ready_layout->addLayout(ready_head);
  ready_ = new QVBoxLayout;
  ready_->setSpacing(4);
  ready_layout->addLayout(ready_);
  ready_layout->addStretch();
  auto* ready_area = parts::scroller(ready);
  ready_area->setFixedSize(int(264 * std::min(1.3, theme::scale())), int(172 * theme::scale()));
  middle->addWidget(ready_area);
  outer->addLayout(middle);
  auto* jobs = parts::sheet();
  auto* jobs_layout = parts::column(jobs, 14, 10);
  jobs_layout->addWidget(parts::label("Jobs in hand", "heading"));
  jobs_ = new QGridLayout;
  jobs_->setSpacing(8);
  jobs_layout->addLayout(jobs_);
  outer->addWidget(jobs);
  connect(bench, &Workbench::docket_changed, this, [this] {
    if (!isVisible()) return;
    refresh();
    later_.start();
  });
}

void TodayPage::add_row(const QString& when, const QColor& colour, const QString& title, const QString& why,
                        const QString& action, const QString& key, const std::function<void()>& act) {
  auto* row = new QWidget;
  row->setObjectName("plain");
  auto* line = new QHBoxLayout(row);
  line->setContentsMargins(14, 10, 14, 10);
  auto* time = parts::label(when);
  time->setFont(theme::numbers(13, QFont::Bold));
  time->setStyleSheet("font-family:'JetBrains Mono';font-weight:700;color:" + colour.name());
  time->setFixedWidth(int(62 * theme::scale()));
  line->addWidget(time);
  auto* texts = new QVBoxLayout;
  texts->setSpacing(2);
  texts->addWidget(parts::label(title, "title"));
  texts->addWidget(parts::label(why, "hint"));
  line->addLayout(texts, 1);
  auto* b = parts::button(action, key);
  connect(b, &QPushButton::clicked, this, act);
  line->addWidget(b);
  auto* hairline = new QFrame;
  hairline->setFixedHeight(1);
  hairline->setStyleSheet("background: " + theme::color(theme::Ink::hairline).name());
  rows_->addWidget(hairline);
  rows_->addWidget(row);
}

QString TodayPage::title() const {
  return "Today, " + QLocale(QLocale::English).toString(bench_->clock().now().date(), "dddd d MMMM");
}

void TodayPage::show_day() {
  const AgendaPtr a = day_->agenda();
  if (a == nullptr) return;
  const std::string now = day_->now().toString("yyyy-MM-dd'T'HH:mm").toStdString();
  lanes_->show_day(a, day_->input().hours, now.substr(0, 10), now);
}

QString TodayPage::planned_at(Id specimen) const {
  const AgendaPtr a = day_->agenda();
  if (a == nullptr) return {};
  for (const day::Bar& b : a->layout.bars)
    if (a->entries[b.task].specimen == specimen && a->entries[b.task].step != "wait")
      return a->day_of(b.start) == a->from ? qs(a->when(b.start).substr(11)) : QString();
  return {};
}

// A calibration that ends within the week, with the planned runs that would miss it.
void TodayPage::remind_of_kit() {
  const std::string today = bench_->today();
  for (const kit::Item& item : day_->input().items) {
    const std::string due = item.due();
    if (item.is_bench() || item.retired() || due.empty() || due < today || days_between(today, due) > 7) continue;
    size_t lost = 0;
    if (const AgendaPtr a = day_->agenda())
      for (const agenda::Piece& p : day_->input().pieces) {
        if (p.record.fields.text(item.path("id")) != item.name()) continue;
        bool before = false;
        for (const day::Bar& b : a->layout.bars)
          before = before || (a->entries[b.task].specimen == p.specimen && a->entries[b.task].step == "run");
        lost += !before && p.stages[size_t(Stage::run)] != '2';
      }
    add_row(QLocale(QLocale::English).toString(QDate::fromString(qs(due), Qt::ISODate), "ddd"),
            theme::color(theme::Ink::quiet), qs(item.name()) + ": calibration ends " + qs(day_words(due, today)),
            lost > 0
                ? QString::number(lost) + (lost == 1 ? " planned run falls after it." : " planned runs fall after it.")
                : "Every planned run comes before it.",
            "Kit", "today-kit:" + qs(item.name()), [this, id = item.id] { emit desk_wanted("kit", id, -1); });
  }
}

// What the Kit says of today: held and overdue first, then what is due within a month, then the rest.
void TodayPage::show_kit() {
  parts::clear(ready_);
  if (day_->agenda() == nullptr) return;
  const std::string today = bench_->today();
  std::vector<std::pair<int, const kit::Item*>> order;
  for (const kit::Item& i : day_->input().items) {
    const kit::State state = kit::state_on(i, today);
    if (i.is_bench() || state == kit::State::retired) continue;
    order.push_back({state == kit::State::held || state == kit::State::overdue ? 0
                     : state == kit::State::soon                               ? 1
                                                                               : 2,
                     &i});
  }
  std::stable_sort(order.begin(), order.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
  for (const auto& [rank, item] : order) {
    auto* row = new QHBoxLayout;
    row->addWidget(parts::label(qs(item->name())), 1);
    auto* words = parts::label((rank == 0 ? "✕ " : rank == 1 ? "◐ " : "✓ ") + qs(kit::state_words(*item, today)));
    words->setStyleSheet("color:" + theme::color(rank == 0   ? theme::Ink::fails
                                                 : rank == 1 ? theme::Ink::near
                                                             : theme::Ink::meets)
                                        .name());
    row->addWidget(words);
    ready_->addLayout(row);
  }
  if (order.empty()) ready_->addWidget(parts::label("The Kit is empty.", "quiet"));
}

void TodayPage::refresh() {
  parts::clear(rows_);
  parts::clear(jobs_);
  parts::clear(notices_);
  show_day();
  show_kit();
  for (const auto& n : bench_->book()->notices()) notices_->addWidget(parts::label(qs(n), "caution"));
  std::vector<Open> list;
  std::vector<JobOutline> outline = bench_->book()->outline();
  welcome_->setVisible(outline.empty());
  day_page_->setVisible(!outline.empty());
  // Due first; jobs without a day after them.
  std::stable_sort(outline.begin(), outline.end(), [](const JobOutline& a, const JobOutline& b) {
    return std::pair(!is_day(a.job.due), a.job.due) < std::pair(!is_day(b.job.due), b.job.due);
  });
  size_t open_jobs = 0;
  for (const auto& [job, all_series, spectra] : outline) {
    if (job.code == practice::kJob) continue;
    int total = 0, done = 0;
    for (const auto& [series, specimens] : all_series) {
      for (const SpecimenRow& s : specimens) {
        ++total;
        done += s.signed_off ? 1 : 0;
        if (!s.signed_off) list.push_back({rank_of(s), &s, &series});
      }
    }
    if (total > 0 && done == total) continue;
    if (++open_jobs > kJobs) continue;
    auto* card = parts::sheet();
    auto* layout = parts::column(card, 10, 2);
    layout->addWidget(parts::label(qs(job.code + " " + job.title), "title"));
    layout->addWidget(parts::label(QString::number(done) + " of " + QString::number(total) + " signed" +
                                       (job.due.empty() ? "" : " · due " + qs(day_words(job.due, bench_->today()))),
                                   "hint"));
    jobs_->addWidget(card, int(open_jobs - 1) / kJobColumns, int(open_jobs - 1) % kJobColumns);
  }
  auto* fresh = parts::button("New job…", "today-new-job");
  connect(fresh, &QPushButton::clicked, this, [this] { emit desk_wanted("jobs", 0, 1); });
  const size_t shown = std::min(open_jobs, kJobs);
  if (open_jobs > kJobs) fresh->setText("New job…  (" + QString::number(open_jobs - kJobs) + " more under All jobs)");
  jobs_->addWidget(fresh, int(shown) / kJobColumns, int(shown) % kJobColumns, Qt::AlignVCenter);
  for (int c = 0; c < kJobColumns; ++c) jobs_->setColumnStretch(c, 1);
  std::stable_sort(list.begin(), list.end(), [](const Open& a, const Open& b) { return a.rank < b.rank; });
  const auto opens = [this](Id specimen, Stage stage) {
    return [this, specimen, stage] { emit desk_wanted("specimen", specimen, int(stage)); };
  };
  for (const RunningTimer& t : timers_->timers()) {
    const QDateTime end = QDateTime::fromString(qs(t.row.ends_at), Qt::ISODate).toLocalTime();
    const bool over = t.left <= 0;
    const bool today = end.date() == bench_->clock().now().date();
    add_row(over    ? "now"
            : today ? end.toString("hh:mm")
                    : end.toString("ddd"),
            theme::color(over ? theme::Ink::meets : theme::Ink::near),
            qs(t.row.code) + ": " + qs(t.row.label).toLower() + (over ? " is over" : " runs"),
            over ? "The piece can be run."
                 : "Ends " + end.toString("ddd d MMM, hh:mm") + ". A run before is refused until you say why.",
            over ? "Take over" : "Look", "today:" + QString::number(t.row.specimen),
            opens(t.row.specimen, Stage::prepare));
  }
  remind_of_kit();
  for (size_t i = 0; i < std::min(list.size(), kRows); ++i) {
    const auto& [rank, specimen, series] = list[i];
    const Waiting w = waiting_of(*specimen, rank, qs(series->title), *methods::find(series->method));
    const QString planned = planned_at(specimen->id);
    add_row(rank <= halves || planned.isEmpty() ? w.when : planned,
            rank <= halves   ? theme::color(theme::Ink::fails)
            : rank <= set_up ? theme::color(theme::Ink::near)
                             : theme::color(theme::Ink::action),
            w.title, w.why, w.action, "today:" + QString::number(specimen->id), opens(specimen->id, w.stage));
  }
  if (list.size() > kRows) {
    auto* more = parts::label(QString::number(list.size() - kRows) + " more wait after these.", "quiet");
    more->setContentsMargins(14, 8, 14, 8);
    rows_->addWidget(more);
  }
  if (list.empty()) {
    auto* nothing = parts::label(
        "Nothing waits. Open a job to begin: its number, a series with its method, and the marking of each specimen.",
        "quiet");
    nothing->setContentsMargins(14, 8, 14, 8);
    rows_->addWidget(nothing);
  }
  rows_->addStretch();
}

}  // namespace fortitor
