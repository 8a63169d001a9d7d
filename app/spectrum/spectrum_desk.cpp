#include "app/spectrum/spectrum_desk.h"

#include <QFileDialog>
#include <QFileInfo>
#include <QInputDialog>
#include <QPushButton>
#include <QUndoCommand>
#include <cmath>

#include "app/figures/take_along.h"
#include "app/frame/desk_frame.h"
#include "app/theme/flow.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "core/spectrum/chain.h"

namespace fortitor {

using parts::qs;
using spectrum::ChainStep;

namespace {

// A change of a spectrum that can be taken back, whatever is in hand by then.
class SpectrumEdit : public QUndoCommand {
 public:
  SpectrumEdit(SpectrumDesk* desk, Id id, QString what, TestRecord before, TestRecord after)
      : QUndoCommand(what), desk_(desk), id_(id), before_(std::move(before)), after_(std::move(after)) {}
  void redo() override {
    if (desk_) desk_->take_back(id_, after_, text());
  }
  void undo() override {
    if (desk_) desk_->take_back(id_, before_, "undo: " + text());
  }

 private:
  QPointer<SpectrumDesk> desk_;
  Id id_;
  TestRecord before_, after_;
};

}  // namespace

SpectrumDesk::SpectrumDesk(Workbench* bench, QWidget* parent) : Desk(parent), bench_(bench) {
  setObjectName("page");
  auto* outer = parts::column(this, 0, 8);
  steps_ = new StepStrip;
  outer->addWidget(steps_);
  connect(steps_, &StepStrip::step_wanted, this, &SpectrumDesk::choose_step);
  full_ = new QWidget;
  auto* row = new QHBoxLayout(full_);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(12);
  auto* left = new QWidget;
  auto* left_column = parts::column(left, 0, 8);
  build_left(left_column);
  row->addWidget(left, 1);
  auto* right = new QWidget;
  DeskFrame::side(right, 300);
  auto* right_column = parts::column(right, 0, 8);
  build_right(right_column);
  row->addWidget(right);
  outer->addWidget(full_, 1);
  empty_ = new QWidget;
  auto* empty = parts::column(empty_, 0, 10);
  auto* sheet = parts::sheet();
  auto* sheet_column = parts::column(sheet, 24, 10);
  sheet_column->addStretch();
  sentence_ = parts::label("", "title");
  sentence_->setAlignment(Qt::AlignCenter);
  sheet_column->addWidget(sentence_);
  auto* hint = parts::label(
      "Samples of 4 or 8 bytes, or a CSV: one file a week. Give the rate first; the files stay where they are.",
      "quiet");
  hint->setAlignment(Qt::AlignCenter);
  sheet_column->addWidget(hint);
  auto* buttons = new QHBoxLayout;
  buttons->addStretch();
  auto* add = parts::button("Add weeks…", "spectrum-add", "primary");
  auto* made = parts::button("Make three weeks on the stand-in bridge", "spectrum-make");
  buttons->addWidget(add);
  buttons->addWidget(made);
  buttons->addStretch();
  sheet_column->addLayout(buttons);
  sheet_column->addStretch();
  empty->addWidget(sheet, 1);
  outer->addWidget(empty_, 1);
  connect(add, &QPushButton::clicked, this, [this] {
    add_weeks(QFileDialog::getOpenFileNames(
        this, spoken("Weeks of strain"), {},
        parts::file_kinds("Signals", "*.f32 *.f64 *.csv *.txt") + ";;" + parts::file_kinds("All files", "*")));
  });
  connect(made, &QPushButton::clicked, this, [this] { make_weeks(168, 20); });
  connect(bench, &Workbench::units_changed, this, [this] {
    if (!isVisible() || !now_) return;
    show_picture();
    show_ledger();
  });
}

QString SpectrumDesk::title() const {
  return job_ + (job_.isEmpty() ? "" : "  ›  ") + "Spectrum";
}

QString SpectrumDesk::obstacle(Id what) const {
  return what > 0 && bench_->book()->spectrum(what) ? QString() : QString("The book has no such spectrum.");
}

void SpectrumDesk::open(Id id, int step) {
  if (step >= 0 && step < spectrum::kSteps) step_ = step;
  const bool other = id != id_;
  id_ = id;
  const auto row = bench_->book()->spectrum(id);
  job_.clear();
  for (const JobRow& j : bench_->book()->jobs())
    if (row && j.id == row->job) job_ = qs(j.code + " " + j.title);
  const auto record = bench_->book()->spectrum_record(id);
  if (!record) return bench_->say(qs(record.error().message));
  if (other) {
    now_.reset();
    evaluation_ = {};
    week_at_ = 0;
    overviews_.clear();
    open_how_.clear();
  }
  record_ = shown_ = *record;
  steps_->choose(step_);
  rebuild_form();
  show_empty();
  // What was drawn before is there at once; the numbers come when the weeks are read.
  if (const auto settings = spectrum::settings_of(resolved(record_)); settings && overviews_.empty())
    for (const fatigue::SignalSpec& w : settings->weeks) {
      const auto kept = overview::find(qs(bench_->book()->path()), w);
      overviews_.push_back(kept ? std::make_shared<const overview::Kept>(*kept) : nullptr);
    }
  show_week(week_at_);
  show_picture();
  show_ledger();
  if (!record_.run.rows("sources").empty()) compute(false);
}

void SpectrumDesk::leave() {
  if (!task_) return;
  bench_->tasks().cancel(task_);  // it is computed again when the desk is opened again
  task_.reset();
}

void SpectrumDesk::show_empty() {
  const bool none = record_.run.rows("sources").empty();
  empty_->setVisible(none);
  full_->setVisible(!none);
  heading_->setText(qs(record_.specimen_id()));
  sentence_->setText(spoken("“" + qs(record_.specimen_id()) + "” has no weeks yet"));
}

void SpectrumDesk::choose_step(int step) {
  step_ = std::clamp(step, 0, spectrum::kSteps - 1);
  life_button_->setChecked(false);
  steps_->choose(step_);
  rebuild_form();
  show_picture();
}

void SpectrumDesk::add_weeks(const QStringList& files) {
  if (files.isEmpty()) return;
  if (!record_.fields.number("settings.rate"))
    for (const QString& f : files)
      if (!f.endsWith(".csv", Qt::CaseInsensitive)) {
        bool ok = false;
        const double rate =
            QInputDialog::getDouble(this, "Rate", "Samples a second of these files", 300, 0.01, 1e5, 2, &ok);
        if (!ok) return;
        record_.fields.set(
            "settings.rate",
            reading_of(
                parse_quantity(QString::number(rate, 'g', 10).toStdString() + " Hz", Dimension::frequency).value()));
        break;
      }
  edit(QString::number(files.size()) + (files.size() == 1 ? " week added" : " weeks added"), [&](TestRecord& r) {
    if (const FieldValue* rate = record_.fields.find("settings.rate")) r.fields.set("settings.rate", *rate);
    Rows& rows = r.run.tables["sources"];
    double week = 0;
    for (const Row& row : rows) week = std::max(week, row.number("week").value_or(0));
    for (const QString& f : files) {
      Row row;
      row.cells.set("file", f.toStdString());
      row.cells.set("week", ++week);
      row.cells.set("name", "week " + std::to_string(int(week)));
      rows.push_back(row);
    }
  });
}

void SpectrumDesk::study() {
  if (!now_) return;
  choose_step(int(ChainStep::drive));
  compute(false, true);
}

void SpectrumDesk::edit(const QString& what, const std::function<void(TestRecord&)>& change) {
  TestRecord after = record_;
  change(after);
  if (bench_->book()->read_only()) return bench_->say("The book is read only: nothing of the spectrum can be changed.");
  bench_->undo().push(new SpectrumEdit(this, id_, what, record_, after));
}

void SpectrumDesk::take_back(Id id, const TestRecord& record, const QString& what) {
  const auto saved = bench_->book()->save_spectrum(id, record, {}, ("spectrum: " + what).toStdString());
  if (!saved) return bench_->say(qs(saved.error().message));
  bench_->say("");
  if (id != id_) return;
  record_ = shown_ = record;
  if (form_ != nullptr) form_->refresh();
  show_empty();
  compute(false);
}

void SpectrumDesk::answer(const Finding& finding, const Remedy& remedy, const QString& reason) {
  edit("answered " + qs(finding.code), [&](TestRecord& r) {
    for (const auto& [path, typed] : remedy.settings) r.fields.set(path, typed);
    std::erase_if(r.answers, [&](const Answer& a) { return a.code == finding.code; });
    if (remedy.settings.empty())
      r.answers.push_back(
          {finding.code, remedy.id, reason.toStdString(), bench_->book()->operator_name(), bench_->clock().utc()});
  });
}

std::vector<Doable> SpectrumDesk::doable() {
  constexpr size_t kMost = 40;  // jobs in which another is offered: further ones are found by their page
  std::vector<Doable> all;
  size_t jobs = 0;
  for (const JobOutline& job : bench_->book()->outline()) {
    for (const SpectrumRow& s : job.spectra)
      all.push_back(opens("Spectrum: " + parts::qs(s.title), parts::qs(job.job.code), s.id));
    if (jobs++ < kMost)
      all.push_back({"New spectrum in " + parts::qs(job.job.code + " " + job.job.title), "from weeks of strain",
                     [this, id = job.job.id] { begin(id); }});
  }
  return all;
}

void SpectrumDesk::begin(Id job) {
  const size_t n = bench_->book()->spectra(job).size();
  const auto id = bench_->book()->add_spectrum(job, "Spectrum " + std::to_string(n + 1));
  if (!id) return say(parts::qs(id.error().message));
  bench_->touch_docket();
  emit desk_wanted(name(), *id, int(spectrum::ChainStep::raw));
}

}  // namespace fortitor
