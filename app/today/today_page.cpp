#include "app/today/today_page.h"

#include <QGridLayout>
#include <QLabel>
#include <QLocale>

#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "core/practice/practice.h"
#include "store/papers.h"

namespace fortitor {
namespace {

using parts::qs;

constexpr size_t kJobs = 7, kKit = 8;
constexpr int kJobColumns = 4;

}  // namespace

TodayPage::TodayPage(Workbench* bench, TimerBoard* timers, DayBoard* day, QWidget* parent)
    : Desk(parent), bench_(bench), timers_(timers), day_(day) {
  later_.setSingleShot(true);
  later_.setInterval(60);
  connect(&later_, &QTimer::timeout, day, &DayBoard::ask);
  setObjectName("page");
  auto* whole = parts::column(this, 0, 0);
  welcome_ = new Welcome;
  whole->addWidget(welcome_);
  day_page_ = parts::scroller(build_day());
  whole->addWidget(day_page_);
  connect(welcome_, &Welcome::files_wanted, this, [this] { emit desk_wanted("arrivals", 0, 1); });
  connect(welcome_, &Welcome::job_wanted, this, [this] { emit desk_wanted("jobs", 0, 1); });
  connect(welcome_, &Welcome::practice_wanted, this, [this] { emit desk_wanted("practice", 0, 0); });
  connect(welcome_, &Welcome::tour_wanted, this, [this] { emit desk_wanted("tour", 0, -1); });
  connect(day, &DayBoard::minute, this, [this](const QString& now) { lanes_->set_now(now.toStdString()); });
  const auto again = [this] {
    if (isVisible()) refresh();
  };
  connect(day, &DayBoard::planned, this, again);
  connect(timers, &TimerBoard::changed, this, again);
  connect(bench, &Workbench::docket_changed, this, [this] {
    if (!isVisible() || bench_->away()) return;
    refresh();
    later_.start();
  });
}

// One page that scrolls as a whole: what is next, the day, what can be used, the jobs.
QWidget* TodayPage::build_day() {
  auto* page = new QWidget;
  page->setObjectName("page");
  auto* outer = parts::column(page, 0, 12);
  auto* sheet = parts::sheet();
  auto* layout = parts::column(sheet, 1, 0);
  auto* head = parts::label("Next at the bench", "heading");
  head->setContentsMargins(14, 12, 14, 10);
  layout->addWidget(head);
  notices_ = new QVBoxLayout;
  notices_->setContentsMargins(14, 0, 14, 0);
  layout->addLayout(notices_);
  rows_ = new QVBoxLayout;
  rows_->setSpacing(0);
  layout->addLayout(rows_);
  outer->addWidget(sheet);
  auto* middle = new QHBoxLayout;
  middle->setSpacing(12);
  auto* lanes = parts::sheet();
  auto* lanes_layout = parts::column(lanes, 6, 0);
  lanes_ = new LanesView;
  lanes_->set_small(true);
  lanes_layout->addWidget(lanes_);
  lanes_layout->addStretch();
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
  ready->setFixedWidth(int(264 * std::min(1.3, theme::scale())));
  middle->addWidget(ready);
  outer->addLayout(middle);
  auto* jobs = parts::sheet();
  auto* jobs_layout = parts::column(jobs, 14, 10);
  jobs_layout->addWidget(parts::label("Jobs in hand", "heading"));
  jobs_ = new QGridLayout;
  jobs_->setSpacing(8);
  for (int c = 0; c < kJobColumns; ++c) jobs_->setColumnStretch(c, 1);
  jobs_layout->addLayout(jobs_);
  outer->addWidget(jobs);
  outer->addStretch();
  return page;
}

void TodayPage::add_row(const TodayRow& r) {
  auto* row = new QWidget;
  row->setObjectName("plain");
  auto* line = new QHBoxLayout(row);
  line->setContentsMargins(14, 8, 14, 8);
  const char* role = r.due == TodayRow::Due::now     ? "whenNow"
                     : r.due == TodayRow::Due::today ? "whenToday"
                     : r.due == TodayRow::Due::soon  ? "whenSoon"
                                                     : "whenLater";
  auto* time = parts::label(r.when, role);
  time->setWordWrap(false);
  time->setFixedWidth(int(62 * theme::scale()));
  line->addWidget(time);
  auto* texts = new QVBoxLayout;
  texts->setSpacing(2);
  texts->addWidget(parts::line(r.title, "title"));
  texts->addWidget(parts::label(r.why, "hint"));
  line->addLayout(texts, 1);
  auto* b = parts::button(r.action, r.key);
  connect(b, &QPushButton::clicked, this, [this, r] { emit desk_wanted(r.desk, r.id, r.part); });
  line->addWidget(b);
  auto* hairline = new QFrame;
  hairline->setObjectName("hairline");
  hairline->setFixedHeight(1);
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
  const size_t n = order.size() > kKit + 1 ? kKit : order.size();
  for (size_t i = 0; i < n; ++i) {
    const auto& [rank, item] = order[i];
    auto* row = new QHBoxLayout;
    row->addWidget(parts::label(qs(item->name())), 1);
    row->addWidget(parts::label((rank == 0   ? "✕ "
                                 : rank == 1 ? "◐ "
                                             : "✓ ") +
                                    qs(kit::state_words(*item, today)),
                                rank == 0   ? "wordFails"
                                : rank == 1 ? "wordNear"
                                            : "wordMeets"));
    ready_->addLayout(row);
  }
  if (order.size() > n) ready_->addWidget(parts::label(QString::number(order.size() - n) + " more in the Kit", "hint"));
  if (order.empty()) ready_->addWidget(parts::label("The Kit is empty.", "quiet"));
}

void TodayPage::show_rows(const std::vector<JobOutline>& outline) {
  const auto rows = today_rows(outline, timers_->timers(), *day_, bench_->today());
  // At first no more of what waits now than leaves the hours of the day in sight.
  size_t shown = 0, now = 0, held_back = 0;
  for (const TodayRow& r : rows) {
    const bool pressing = r.due == TodayRow::Due::now;
    if (shown == shown_ || (shown_ == kFirst && pressing && now == kNow)) {
      held_back += pressing;
      continue;
    }
    ++shown;
    now += pressing;
    add_row(r);
  }
  if (rows.size() > shown) {
    auto* foot = new QHBoxLayout;
    foot->setContentsMargins(14, 6, 14, 8);
    const QString pressing = held_back > 0 ? ", " + QString::number(held_back) + " of them now" : QString();
    auto* more =
        parts::button(QString::number(rows.size() - shown) + " more wait" + pressing + "…", "today-more", "flat");
    connect(more, &QPushButton::clicked, this, [this] {
      shown_ += kMore;
      refresh();
    });
    foot->addWidget(more);
    foot->addStretch();
    rows_->addLayout(foot);
  }
  if (rows.empty()) {
    auto* nothing = parts::label(
        "Nothing waits. Open a job to begin: its number, a series with its method, and the marking of each specimen.",
        "quiet");
    nothing->setContentsMargins(14, 8, 14, 8);
    rows_->addWidget(nothing);
  }
}

void TodayPage::show_jobs(const std::vector<JobOutline>& outline) {
  const auto customers = customers_of(*bench_->book());
  size_t open_jobs = 0;
  for (const auto& [job, all_series, spectra] : outline) {
    if (job.code == practice::kJob) continue;
    int total = 0, done = 0;
    for (const auto& [series, specimens] : all_series)
      for (const SpecimenRow& s : specimens) {
        ++total;
        done += s.signed_off ? 1 : 0;
      }
    if (total > 0 && done == total) continue;
    if (++open_jobs > kJobs) continue;
    auto* card = parts::sheet();
    auto* layout = parts::column(card, 10, 2);
    layout->addWidget(parts::label(qs(job.code + " " + job.title), "title"));
    if (const auto asked = customers.find(job.code); asked != customers.end())
      layout->addWidget(parts::line(qs(asked->second), "quiet"));
    layout->addWidget(parts::label(QString::number(done) + " of " + QString::number(total) + " signed" +
                                       (job.due.empty() ? "" : " · due " + qs(day_words(job.due, bench_->today()))),
                                   "hint"));
    jobs_->addWidget(card, int(open_jobs - 1) / kJobColumns, int(open_jobs - 1) % kJobColumns);
  }
  auto* fresh = parts::button("New job…", "today-new-job");
  connect(fresh, &QPushButton::clicked, this, [this] { emit desk_wanted("jobs", 0, 1); });
  const size_t shown = std::min(open_jobs, kJobs);
  auto* cell = new QVBoxLayout;
  cell->setSpacing(2);
  cell->addStretch();
  cell->addWidget(fresh);
  if (open_jobs > kJobs)
    cell->addWidget(parts::label(QString::number(open_jobs - kJobs) + " more under All jobs", "hint"));
  cell->addStretch();
  jobs_->addLayout(cell, int(shown) / kJobColumns, int(shown) % kJobColumns);
}

void TodayPage::refresh() {
  parts::clear(rows_);
  parts::clear(jobs_);
  parts::clear(notices_);
  show_day();
  show_kit();
  for (const auto& n : bench_->book()->notices()) notices_->addWidget(parts::label(qs(n), "caution"));
  std::vector<JobOutline> outline = bench_->book()->outline();
  welcome_->setVisible(outline.empty());
  day_page_->setVisible(!outline.empty());
  // Due first; jobs without a day after them.
  std::stable_sort(outline.begin(), outline.end(), [](const JobOutline& a, const JobOutline& b) {
    return std::pair(!is_day(a.job.due), a.job.due) < std::pair(!is_day(b.job.due), b.job.due);
  });
  show_rows(outline);
  show_jobs(outline);
}

}  // namespace fortitor
