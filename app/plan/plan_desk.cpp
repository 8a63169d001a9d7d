#include "app/plan/plan_desk.h"

#include <QFileDialog>
#include <QLineEdit>
#include <QLocale>

#include "app/figures/take_along.h"
#include "app/frame/desk_frame.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "core/quantity/date.h"
#include "core/quantity/parse.h"
#include "report/export.h"
#include "report/page.h"

namespace fortitor {
namespace {

using parts::qs;

QString long_day(const std::string& day) {
  return QLocale(QLocale::English).toString(QDate::fromString(qs(day), Qt::ISODate), "dddd d MMMM");
}

}  // namespace

PlanDesk::PlanDesk(Workbench* bench, DayBoard* board, QWidget* parent) : Desk(parent), bench_(bench), board_(board) {
  const DeskFrame frame(this, "");
  auto* head = frame.head();
  day_label_ = frame.name();
  auto* back = parts::button("‹", "plan-back");
  auto* forth = parts::button("›", "plan-forth");
  back->setAccessibleName(spoken("Day before"));
  forth->setAccessibleName(spoken("Day after"));
  head->insertWidget(0, back);
  head->insertWidget(1, forth);
  head->setStretchFactor(day_label_, 1);
  auto* calendar = parts::button("Calendar file…", "plan-calendar");
  head->addWidget(calendar);
  connect(back, &QPushButton::clicked, this, [this] { turn(-1); });
  connect(forth, &QPushButton::clicked, this, [this] { turn(1); });
  connect(calendar, &QPushButton::clicked, this, [this] {
    const QString path = QFileDialog::getSaveFileName(this, spoken("Calendar file"), "plan-" + qs(day_) + ".ics",
                                                      parts::file_kinds("Calendar", "*.ics"), nullptr,
                                                      QFileDialog::DontConfirmOverwrite);
    if (path.isEmpty()) return;
    const auto done = write_calendar(path);
    bench_->say(done ? "Calendar file saved: " + path : qs(done.error().message));
  });

  auto* row = frame.row();
  auto* sheet = parts::sheet();
  auto* sheet_column = parts::column(sheet, 10, 4);
  lanes_ = new LanesView;
  new TakeAlong(lanes_, "Plan", [this] {
    std::string out = "piece,step,on,from,to\n";
    const AgendaPtr a = lanes_->agenda();
    if (a == nullptr) return out;
    for (const day::Bar& b : a->layout.bars) {
      std::string on;
      for (size_t r : b.resources) on += (on.empty() ? "" : "; ") + a->problem.resources[r].name;
      out += csv_cell(a->entries[b.task].code) + "," + csv_cell(a->problem.tasks[b.task].title) + "," + csv_cell(on) +
             "," + a->when(b.start) + "," + a->when(b.end) + "\n";
    }
    return out;
  });
  sheet_column->addWidget(parts::scroller(lanes_), 1);
  sheet_column->addWidget(parts::label(
      "Drag a bar, or Shift and arrows, to pin it: everything else moves. P lets it go, Enter opens the piece.",
      "hint"));
  row->addWidget(sheet, 1);
  auto* side = new QVBoxLayout;
  side->setSpacing(12);
  auto* chosen = parts::sheet();
  auto* chosen_column = parts::column(chosen, 14, 8);
  picked_ = parts::rich_label("", "");
  chosen_column->addWidget(picked_);
  auto* buttons = new QHBoxLayout;
  open_ = parts::button("Open the piece", "plan-open");
  pin_ = parts::button("Pin", "plan-pin");
  buttons->addWidget(open_);
  buttons->addWidget(pin_);
  buttons->addStretch();
  chosen_column->addLayout(buttons);
  auto* length = new QHBoxLayout;
  length->addWidget(parts::label("Takes", "quiet"));
  lasts_ = new QLineEdit;
  lasts_->setProperty("key", "plan-minutes");
  lasts_->setAccessibleName(spoken("How long the step takes"));
  lasts_->setToolTip(spoken("25, 25 min or 2 h; emptied, it is worked out again."));
  lasts_->setFixedWidth(int(76 * theme::scale()));
  length->addWidget(lasts_);
  length->addStretch();
  chosen_column->addLayout(length);
  connect(lasts_, &QLineEdit::editingFinished, this, &PlanDesk::keep_minutes);
  side->addWidget(chosen);
  auto* unmet = parts::sheet();
  auto* unmet_column = parts::column(unmet, 14, 6);
  unmet_column->addWidget(parts::label("What cannot be met", "title"));
  unmet_ = new QVBoxLayout;
  unmet_->setSpacing(6);
  unmet_column->addLayout(unmet_);
  unmet_column->addStretch();
  side->addWidget(parts::scroller(unmet), 1);
  auto* hours = parts::sheet();
  auto* hours_column = parts::column(hours, 14, 6);
  hours_column->addWidget(parts::label("Who is there", "title"));
  people_ = new QVBoxLayout;
  people_->setSpacing(4);
  hours_column->addLayout(people_);
  auto* more = parts::button("Add a person", "plan-person");
  hours_column->addWidget(more, 0, Qt::AlignLeft);
  auto* breaks = new QHBoxLayout;
  breaks->addWidget(parts::label("Breaks", "quiet"));
  breaks_ = new QLineEdit;
  breaks_->setProperty("key", "plan-breaks");
  breaks_->setAccessibleName(spoken("Breaks"));
  breaks_->setPlaceholderText(spoken("12:00–12:30"));
  breaks->addWidget(breaks_, 1);
  hours_column->addLayout(breaks);
  auto* week = new QHBoxLayout;
  week->setSpacing(3);
  const char* names[] = {"Mo", "Tu", "We", "Th", "Fr", "Sa", "Su"};
  for (size_t d = 0; d < 7; ++d) {
    days_[d] = parts::button(names[d], "plan-day-" + QString::number(d + 1));
    days_[d]->setCheckable(true);
    days_[d]->setMinimumWidth(0);
    days_[d]->setStyleSheet("padding:3px 4px");
    week->addWidget(days_[d], 1);
    connect(days_[d], &QPushButton::clicked, this, &PlanDesk::keep_hours);
  }
  hours_column->addLayout(week);
  hours_error_ = parts::label("", "error");
  hours_error_->hide();
  hours_column->addWidget(hours_error_);
  side->addWidget(hours);
  auto* side_box = new QWidget;
  side_box->setObjectName("plain");
  side_box->setLayout(side);
  side->setContentsMargins(0, 0, 0, 0);
  DeskFrame::side(side_box, 286);
  row->addWidget(side_box);

  connect(more, &QPushButton::clicked, this, [this] {
    agenda::Hours h = board_->input().hours;
    h.people.push_back({"person " + std::to_string(h.people.size() + 1)});
    if (const auto kept = board_->keep_hours(h); !kept) bench_->say(qs(kept.error().message));
  });
  connect(breaks_, &QLineEdit::editingFinished, this, [this] {
    if (breaks_->isModified()) keep_hours();
  });
  connect(board, &DayBoard::planned, this, [this] {
    if (isVisible()) show_plan();
  });
  connect(board, &DayBoard::minute, this, [this](const QString& now) { lanes_->set_now(now.toStdString()); });
  connect(bench, &Workbench::docket_changed, this, [this] {
    if (isVisible() && !bench_->away()) board_->ask();
  });
  connect(lanes_, &LanesView::picked, this, &PlanDesk::show_picked);
  connect(lanes_, &LanesView::moved, this, &PlanDesk::move);
  connect(lanes_, &LanesView::opened, this, &PlanDesk::open_task);
  connect(lanes_, &LanesView::pin_wanted, this, &PlanDesk::toggle_pin);
  connect(open_, &QPushButton::clicked, this, [this] {
    if (lanes_->selected()) open_task(*lanes_->selected());
  });
  connect(pin_, &QPushButton::clicked, this, [this] {
    if (lanes_->selected()) toggle_pin(*lanes_->selected());
  });
}

void PlanDesk::open(Id, int) {
  day_ = board_->now().date().toString(Qt::ISODate).toStdString();
  board_->ask();
  lanes_->setFocus();
}

void PlanDesk::turn(int days) {
  const AgendaPtr a = board_->agenda();
  if (a == nullptr) return;
  const int at = std::clamp(days_between(a->from, day_) + days, 0, 13);
  day_ = a->day_of(at * day::kDay);
  show_plan();
}

void PlanDesk::show_plan() {
  const AgendaPtr a = board_->agenda();
  if (a == nullptr) return;
  // An evening without work looks at the day that has some.
  if (day_ == a->from && !a->layout.bars.empty() && a->day_of(a->layout.bars.front().start) > day_ &&
      !lanes_->selected())
    day_ = a->day_of(a->layout.bars.front().start);
  day_label_->setText(spoken(long_day(day_)));
  lanes_->show_day(a, board_->input().hours, day_, board_->now().toString("yyyy-MM-dd'T'HH:mm").toStdString());
  parts::clear(unmet_);
  for (const day::Unmet& u : a->layout.unmet) unmet_->addWidget(parts::label(qs(u.why), "caution"));
  for (const agenda::ToMake& w : a->to_make) unmet_->addWidget(parts::label(qs(agenda::words_of(w)), "caution"));
  if (a->layout.unmet.empty() && a->to_make.empty())
    unmet_->addWidget(parts::label("Everything finds its place, nothing is late.", "quiet"));
  show_picked();
  show_hours();
}

void PlanDesk::show_picked() {
  const AgendaPtr a = lanes_->agenda();
  const auto task = lanes_->selected();
  const day::Bar* bar = a && task ? a->layout.of(*task) : nullptr;
  open_->setEnabled(bar != nullptr);
  pin_->setEnabled(bar != nullptr && a->entries[*task].step != "wait");
  lasts_->setEnabled(pin_->isEnabled());
  lasts_->setModified(false);
  if (bar == nullptr) {
    lasts_->clear();
    picked_->setText(spoken("Choose a bar to see what it is."));
    pin_->setText(spoken("Pin"));
    return;
  }
  const day::Task& t = a->problem.tasks[*task];
  QString where;
  for (size_t r : bar->resources) where += (where.isEmpty() ? "" : ", ") + qs(a->problem.resources[r].name);
  if (bar->person) where += (where.isEmpty() ? "" : " · ") + qs(a->problem.resources[*bar->person].name);
  const std::string from = a->when(bar->start), to = a->when(bar->end);
  const QString end = from.substr(0, 10) == to.substr(0, 10)
                          ? qs(to.substr(11))
                          : qs(day_words(to.substr(0, 10), a->from) + " " + to.substr(11));
  picked_->setText(spoken("<b>" + qs(t.title).toHtmlEscaped() + "</b><br>" + qs(from.substr(11)) + "–" + end + "<br>" +
                          where.toHtmlEscaped() + "<br>" + qs(a->entries[*task].lasts).toHtmlEscaped() +
                          (t.due ? "<br>due " + qs(day_words(a->entries[*task].due, a->from)) : QString())));
  pin_->setText(spoken(t.pinned == bar->start ? "Let it go" : "Pin here"));
  lasts_->setText(QString::number(t.minutes) + " min");
}

void PlanDesk::keep_minutes() {
  if (!lasts_->isModified()) return;
  lasts_->setModified(false);
  const AgendaPtr a = lanes_->agenda();
  const auto task = lanes_->selected();
  if (a == nullptr || !task) return;
  const QString typed = lasts_->text().trimmed();
  int minutes = 0;
  if (!typed.isEmpty()) {
    bool bare = false;
    typed.toInt(&bare);
    const auto read = parse_quantity((bare ? typed + " min" : typed).toStdString(), Dimension::time);
    if (!read) return bench_->say(qs(read.error().message));
    minutes = int(std::ceil(read->value / 60));
    if (minutes < 1 || minutes > agenda::kMostMinutes)
      return bench_->say("A step takes a minute at least, and 100 days at most.");
  }
  const auto kept = board_->set_minutes(a->entries[*task].specimen, a->entries[*task].step, minutes);
  if (!kept) bench_->say(qs(kept.error().message));
}

void PlanDesk::show_hours() {
  const agenda::Hours& h = board_->input().hours;
  if (isAncestorOf(focusWidget()) && qobject_cast<QLineEdit*>(focusWidget()) &&
      static_cast<QLineEdit*>(focusWidget())->isModified())
    return;  // somebody types there
  parts::clear(people_);
  rows_.clear();
  for (const agenda::Person& p : h.people) {
    auto* row = new QHBoxLayout;
    row->setSpacing(4);
    std::array<QLineEdit*, 3> edits{};
    const std::string words[] = {p.name, agenda::clock_words(p.from), agenda::clock_words(p.to)};
    const char* names[] = {"Name", "Comes at", "Leaves at"};
    for (size_t i = 0; i < 3; ++i) {
      edits[i] = new QLineEdit(qs(words[i]));
      edits[i]->setProperty("key", QString("plan-person-%1-%2").arg(rows_.size()).arg(i));
      edits[i]->setAccessibleName(spoken(names[i]));
      if (i > 0) edits[i]->setFixedWidth(int(58 * theme::scale()));
      row->addWidget(edits[i], i == 0 ? 1 : 0);
      connect(edits[i], &QLineEdit::editingFinished, this, [this, e = edits[i]] {
        if (e->isModified()) keep_hours();
      });
    }
    people_->addLayout(row);
    rows_.push_back(edits);
  }
  QString breaks;
  for (const day::Span& b : h.breaks)
    breaks += (breaks.isEmpty() ? "" : ", ") + qs(agenda::clock_words(b.from)) + "–" + qs(agenda::clock_words(b.to));
  breaks_->setText(breaks);
  for (size_t d = 0; d < 7; ++d) days_[d]->setChecked(h.days.find(char('1' + d)) != std::string::npos);
}

// An emptied name takes the person away.
void PlanDesk::keep_hours() {
  agenda::Hours h;
  h.breaks.clear();
  h.days.clear();
  QString why;
  auto clock = [&](const QString& typed) {
    const auto at = agenda::parse_clock(typed.toStdString());
    if (!at && why.isEmpty()) why = "“" + typed + "” is no time of day; such as 8:00.";
    return at.value_or(0);
  };
  for (const auto& [name, from, to] : rows_)
    if (!name->text().trimmed().isEmpty())
      h.people.push_back({name->text().trimmed().toStdString(), clock(from->text()), clock(to->text())});
  for (const QString& part : breaks_->text().split(',', Qt::SkipEmptyParts)) {
    const QStringList ends = QString(part).replace("–", "-").split('-');
    if (ends.size() == 2)
      h.breaks.push_back({clock(ends[0]), clock(ends[1])});
    else if (why.isEmpty())
      why = "“" + part.trimmed() + "” is no break; such as 12:00–12:30.";
  }
  for (size_t d = 0; d < 7; ++d)
    if (days_[d]->isChecked()) h.days += char('1' + d);
  if (why.isEmpty())
    if (const auto fine = agenda::check(h); !fine) why = qs(fine.error().message);
  hours_error_->setText(spoken(why));
  hours_error_->setVisible(!why.isEmpty());
  if (!why.isEmpty()) return;
  for (auto& edits : rows_)
    for (QLineEdit* e : edits) e->setModified(false);
  breaks_->setModified(false);
  if (const auto kept = board_->keep_hours(h); !kept) bench_->say(qs(kept.error().message));
}

void PlanDesk::move(size_t task, int minute) {
  const AgendaPtr a = lanes_->agenda();
  if (a == nullptr) return;
  const auto kept = board_->pin(a->entries[task].specimen, a->entries[task].step, a->when(minute));
  if (!kept) bench_->say(qs(kept.error().message));
}

void PlanDesk::toggle_pin(size_t task) {
  const AgendaPtr a = lanes_->agenda();
  const day::Bar* bar = a ? a->layout.of(task) : nullptr;
  if (bar == nullptr || a->entries[task].step == "wait") return;
  const bool pinned = a->problem.tasks[task].pinned == bar->start;
  const auto kept = board_->pin(a->entries[task].specimen, a->entries[task].step, pinned ? "" : a->when(bar->start));
  if (!kept) bench_->say(qs(kept.error().message));
}

void PlanDesk::open_task(size_t task) {
  const AgendaPtr a = lanes_->agenda();
  if (a != nullptr) emit desk_wanted("specimen", a->entries[task].specimen, int(a->entries[task].stage));
}

Outcome<Done> PlanDesk::write_calendar(const QString& path) {
  if (board_->agenda() == nullptr) return InputError{"The plan is not made yet.", {}};
  return page::write_new(
      agenda::to_ics(*board_->agenda(), board_->now().toUTC().toString("yyyyMMdd'T'HHmmss'Z'").toStdString()),
      path.toStdString());
}

}  // namespace fortitor
