#include "app/today/today_page.h"

#include <QDate>
#include <QLabel>
#include <QLocale>

#include "app/theme/parts.h"
#include "app/theme/theme.h"

namespace fortitor {
namespace {

using parts::qs;

// What a specimen waits for, in the order in which waiting costs most.
struct Waiting {
  int rank;
  QString when, title, why, action;
  Id specimen;
  Stage stage;
};

Waiting waiting_of(const SpecimenRow& s, const QString& series, const Method& method) {
  const Stage next = next_stage(s.stages);
  const QString name = qs(s.code) + "  " + series;
  if (s.open_judgements > 0)
    return {0,
            "now",
            name + ": " + QString::number(s.open_judgements) +
                (s.open_judgements == 1 ? " judgement waits" : " judgements wait"),
            "The curve is there. Sign-off waits for your word.",
            "Decide",
            s.id,
            Stage::evaluate};
  switch (next) {
    case Stage::after:
      return {1,    "now", name + ": " + qs(method.wording.to_measure), qs(method.wording.measure_why), "Go on",
              s.id, next};
    case Stage::evaluate:
    case Stage::sign_off:
      return {2,          "next", name + ": ready to sign", "Everything is answered. Verdict: " + qs(s.verdict) + ".",
              "Sign off", s.id,   Stage::sign_off};
    case Stage::run: return {3, "next", name + ": ready to run", "Measured and set up.", "Run", s.id, next};
    case Stage::set_up: return {4, "next", name + ": to set up", "Choose cell, speed and stops.", "Set up", s.id, next};
    case Stage::measure:
      return {5, "later", name + ": to measure", "Three readings a dimension.", "Measure", s.id, next};
    case Stage::prepare: break;
  }
  return {6, "later", name + ": to prepare", "Log lot, material and limits.", "Prepare", s.id, Stage::prepare};
}

}  // namespace

TodayPage::TodayPage(Workbench* bench, TimerBoard* timers, QWidget* parent)
    : Desk(parent), bench_(bench), timers_(timers) {
  connect(timers, &TimerBoard::changed, this, [this] {
    if (isVisible()) refresh();
  });
  setObjectName("page");
  auto* outer = parts::column(this, 0, 12);
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
  auto* jobs = parts::sheet();
  auto* jobs_layout = parts::column(jobs, 14, 10);
  jobs_layout->addWidget(parts::label("Jobs in hand", "heading"));
  jobs_ = new QHBoxLayout;
  jobs_->setSpacing(12);
  jobs_layout->addLayout(jobs_);
  outer->addWidget(jobs);
  connect(bench, &Workbench::docket_changed, this, [this] {
    if (isVisible()) refresh();
  });
}

void TodayPage::add_row(const QString& when, const QColor& colour, const QString& title, const QString& why,
                        const QString& action, Id specimen, Stage stage) {
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
  auto* b = parts::button(action, "today:" + QString::number(specimen));
  connect(b, &QPushButton::clicked, this,
          [this, specimen, stage] { emit desk_wanted("specimen", specimen, int(stage)); });
  line->addWidget(b);
  auto* hairline = new QFrame;
  hairline->setFixedHeight(1);
  hairline->setStyleSheet("background: " + theme::color(theme::Ink::hairline).name());
  rows_->addWidget(hairline);
  rows_->addWidget(row);
}

QString TodayPage::title() const {
  return "Today, " + QLocale(QLocale::English).toString(QDate::currentDate(), "dddd d MMMM");
}

void TodayPage::refresh() {
  parts::clear(rows_);
  parts::clear(jobs_);
  parts::clear(notices_);
  for (const auto& n : bench_->book()->notices()) notices_->addWidget(parts::label(qs(n), "caution"));
  std::vector<Waiting> list;
  for (const JobRow& job : bench_->book()->jobs()) {
    int total = 0, done = 0;
    for (const SeriesRow& series : bench_->book()->series(job.id)) {
      for (const SpecimenRow& s : bench_->book()->specimens(series.id)) {
        ++total;
        done += s.signed_off ? 1 : 0;
        if (!s.signed_off) list.push_back(waiting_of(s, qs(series.title), *methods::find(series.method)));
      }
    }
    auto* card = parts::sheet();
    card->setMinimumWidth(170);
    auto* layout = parts::column(card, 10, 2);
    layout->addWidget(parts::label(qs(job.code + " " + job.title), "title"));
    layout->addWidget(parts::label(QString::number(done) + " of " + QString::number(total) + " signed" +
                                       (job.due.empty() ? "" : " · due " + qs(day_words(job.due, fortitor::today()))),
                                   "hint"));
    jobs_->addWidget(card);
  }
  auto* fresh = parts::button("New job…", "today-new-job");
  connect(fresh, &QPushButton::clicked, this, [this] { emit desk_wanted("jobs", 0, 1); });
  jobs_->addWidget(fresh, 0, Qt::AlignVCenter);
  jobs_->addStretch();
  std::stable_sort(list.begin(), list.end(), [](const Waiting& a, const Waiting& b) { return a.rank < b.rank; });
  for (const RunningTimer& t : timers_->timers()) {
    const QDateTime end = QDateTime::fromString(qs(t.row.ends_at), Qt::ISODate).toLocalTime();
    const bool over = t.left <= 0;
    const bool today = end.date() == QDate::currentDate();
    add_row(over    ? "now"
            : today ? end.toString("hh:mm")
                    : end.toString("ddd"),
            theme::color(over ? theme::Ink::meets : theme::Ink::near),
            qs(t.row.code) + ": " + qs(t.row.label).toLower() + (over ? " is over" : " runs"),
            over ? "The piece can be run."
                 : "Ends " + end.toString("ddd d MMM, hh:mm") + ". A run before is refused until you say why.",
            over ? "Take over" : "Look", t.row.specimen, Stage::prepare);
  }
  for (const Waiting& w : list)
    add_row(w.when,
            w.rank < 2   ? theme::color(theme::Ink::fails)
            : w.rank < 5 ? theme::color(theme::Ink::near)
                         : theme::color(theme::Ink::action),
            w.title, w.why, w.action, w.specimen, w.stage);
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
