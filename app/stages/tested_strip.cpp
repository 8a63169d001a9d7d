#include "app/stages/tested_strip.h"

#include <QHBoxLayout>
#include <QLineEdit>
#include <QRegularExpression>

#include "app/theme/parts.h"
#include "core/quantity/date.h"

namespace fortitor {

using parts::qs;

TestedStrip::TestedStrip(Workbench* bench, QWidget* parent) : QWidget(parent), bench_(bench) {
  auto* column = parts::column(this, 0, 4);
  auto* line = new QHBoxLayout;
  line->setSpacing(8);
  words_ = parts::label("", "hint");
  words_->setWordWrap(false);
  line->addWidget(words_);
  correct_ = parts::button("Correct…", "tested-correct", "flat");
  correct_->setToolTip(spoken("Another day or another person: with a reason, which stays in the logbook."));
  line->addWidget(correct_);
  line->addStretch();
  column->addLayout(line);
  form_ = new QWidget;
  auto* row = new QHBoxLayout(form_);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(6);
  const auto edit = [&](const char* key, const char* name, int stretch) {
    auto* e = new QLineEdit;
    e->setProperty("key", key);
    e->setAccessibleName(spoken(name));
    e->setPlaceholderText(spoken(name));
    row->addWidget(e, stretch);
    connect(e, &QLineEdit::returnPressed, this, &TestedStrip::keep);
    return e;
  };
  day_ = edit("tested-day", "Day, 24.11. or yesterday", 2);
  by_ = edit("tested-by", "Tested by", 2);
  reason_ = edit("tested-reason", "Why it is corrected", 4);
  auto* keep = parts::button("Keep", "tested-keep", "primary");
  auto* drop = parts::button("Leave it", "tested-drop");
  row->addWidget(keep);
  row->addWidget(drop);
  column->addWidget(form_);
  connect(correct_, &QPushButton::clicked, this, [this] { open(true); });
  connect(keep, &QPushButton::clicked, this, &TestedStrip::keep);
  connect(drop, &QPushButton::clicked, this, [this] { open(false); });
  open(false);
}

void TestedStrip::open(bool on) {
  form_->setVisible(on);
  correct_->setVisible(!on);
  if (!on) return;
  day_->setText(qs(bench_->record().tested_at.substr(0, 16)).replace('T', ' '));
  by_->setText(qs(bench_->record().operator_name));
  reason_->clear();
  day_->setFocus();
  day_->selectAll();
}

// A day as it may be typed anywhere, with an hour behind it or without: "24.11. 14:30".
void TestedStrip::keep() {
  static const QRegularExpression hour("[ T]([0-2]?\\d):([0-5]\\d)$");
  QString typed = day_->text().trimmed();
  const auto clock = hour.match(typed);
  if (clock.hasMatch()) typed.truncate(clock.capturedStart());
  const auto day = parse_day(typed.trimmed().toStdString(), bench_->today(), DaySense::past);
  if (!day) return bench_->say("Day of the test: " + qs(day.error().message));
  if (clock.hasMatch() && clock.captured(1).toInt() > 23) return bench_->say("Day of the test: a day has 24 hours.");
  if (*day > bench_->today()) return bench_->say("Day of the test: " + qs(day_words(*day)) + " is still to come.");
  const QString by = by_->text().simplified(), reason = reason_->text().simplified();
  if (by.isEmpty()) return bench_->say("Tested by whom? A name is wanted.");
  std::string at = *day;
  if (clock.hasMatch())
    at += ("T" + clock.captured(1).rightJustified(2, '0') + ":" + clock.captured(2) + ":00").toStdString();
  if (at.size() > 10 && at > bench_->clock().local().substr(0, at.size()))
    return bench_->say("Day of the test: that hour is still to come.");
  const TestRecord& r = bench_->record();
  // Whoever corrects the person alone keeps the time, to the second.
  if (r.tested_at.starts_with(at.substr(0, 16))) at = r.tested_at;
  if (at == r.tested_at.substr(0, at.size()) && by.toStdString() == r.operator_name) return open(false);
  if (reason.isEmpty()) return bench_->say("A reason is wanted: it stays in the logbook.");
  const auto said = [](const std::string& when, const std::string& who) {
    return (when.empty() ? QString("no day") : qs(when)) + " by " + (who.empty() ? QString("nobody") : qs(who));
  };
  bench_->edit(
      "test corrected from " + said(r.tested_at, r.operator_name) + " to " + said(at, by.toStdString()) + ": " + reason,
      [&](TestRecord& record) {
        record.tested_at = at;
        record.operator_name = by.toStdString();
      });
  bench_->say("");
  open(false);
}

void TestedStrip::refresh() {
  const bool tested = bench_->has_specimen() && bench_->record().has_run();
  setVisible(tested);
  if (!tested) return open(false);
  const TestRecord& r = bench_->record();
  words_->setText(spoken(
      "Tested " + (r.tested_at.empty() ? QString("on an unrecorded day") : qs(day_words(r.tested_at.substr(0, 10)))) +
      (r.tested_at.size() >= 16 ? ", " + qs(r.tested_at.substr(11, 5)) : QString()) + " by " +
      (r.operator_name.empty() ? QString("an unrecorded person") : qs(r.operator_name))));
}

}  // namespace fortitor
