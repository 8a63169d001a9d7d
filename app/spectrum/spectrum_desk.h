// The spectrum desk: weeks of strain in, a drive for a rig out; every step with its picture, every choice made on it.
#pragma once

#include <QLabel>
#include <QVBoxLayout>
#include <memory>

#include "app/figures/figure_view.h"
#include "app/frame/desk.h"
#include "app/model/workbench.h"
#include "app/spectrum/step_strip.h"
#include "app/spectrum/week_view.h"
#include "app/stages/field_form.h"
#include "app/theme/widgets.h"

namespace fortitor {

using SpectrumPtr = std::shared_ptr<const spectrum::Spectrum>;

class SpectrumDesk : public Desk, public FieldHost {
  Q_OBJECT

 public:
  explicit SpectrumDesk(Workbench* bench, QWidget* parent = nullptr);
  QString name() const override { return "spectrum"; }
  QString title() const override;
  Docket::Place place() const override { return Docket::Place::spectrum; }
  bool wants_room() const override { return true; }
  std::vector<Doable> doable() override;
  /// Starts a spectrum in a job and opens it.
  void begin(Id job);
  QString obstacle(Id what) const override;
  void open(Id spectrum, int step) override;
  void leave() override;

  const TestRecord& record() const override { return record_; }
  UnitSet units() const override { return bench_->units(); }
  std::string today() const override { return bench_->today(); }
  void edit(const QString& what, const std::function<void(TestRecord&)>& change) override;
  void say(const QString& sentence) override { bench_->say(sentence); }

  Id spectrum() const { return id_; }
  /// What is computed; null before the first time.
  SpectrumPtr computed() const { return now_; }
  const Evaluation& evaluation() const { return evaluation_; }
  bool computing() const { return task_ != nullptr; }
  bool drawing() const { return drawing_ != nullptr; }
  /// Adds files, each a week of its own.
  void add_weeks(const QStringList& files);
  /// Writes three weeks of the stand-in bridge beside the book and takes them in.
  void make_weeks(double hours, double rate);
  void choose_step(int step);
  void study();
  Outcome<Done> write_drive(const QString& path) const;
  Outcome<Done> write_report(const QString& path) const;
  StepStrip* steps() const { return steps_; }
  WeekView* week() const { return week_; }
  FigureView* window_figure() const { return window_; }
  FigureView* step_figure() const { return picture_; }
  /// Puts a record in its place, as an edit did or undid; kept in the book.
  void take_back(Id spectrum, const TestRecord& record, const QString& what);

 signals:
  /// Everything that was asked for is computed.
  void computed_now();
  /// The picture of the step is there.
  void drawn();

 private:
  void build_left(QVBoxLayout* into);
  void build_right(QVBoxLayout* into);
  void rebuild_form();
  void show_empty();
  void show_week(int week);
  void show_window();
  void show_picture();
  void show_ledger();
  void show_findings();
  QString faults_html() const;
  /// "240 MPa; 1.9e6; ran out": a block test that was run on the rig.
  void add_block_test(const QString& typed);
  void compute(bool preview, bool with_study = false);
  void take(quint64 ticket, const SpectrumPtr& next, const std::string& wrong, bool preview);
  void drag(const Handle& handle, double value, bool keep);
  Outcome<TestRecord> dragged(const Handle& handle, double value) const;
  /// The record with its files found from the book's folder.
  TestRecord resolved(const TestRecord& record) const;
  void answer(const Finding& finding, const Remedy& remedy, const QString& reason);
  Outcome<Done> keep(const QString& what, const std::string& results);

  Workbench* bench_;
  Id id_ = 0;
  QString job_;
  TestRecord record_, shown_;  ///< kept; with the hand that drags
  SpectrumPtr now_;
  Evaluation evaluation_;
  TaskPtr task_, drawing_;
  quint64 ticket_ = 0;
  int step_ = int(spectrum::ChainStep::cut), week_at_ = 0;
  bool life_ = false;
  QString open_how_;
  std::vector<std::shared_ptr<const overview::Kept>> overviews_;

  QLabel *heading_ = nullptr, *sentence_ = nullptr, *ledger_ = nullptr, *used_ = nullptr, *faults_ = nullptr;
  StepStrip* steps_ = nullptr;
  WeekView* week_ = nullptr;
  FigureView *window_ = nullptr, *picture_ = nullptr;
  QLayout* weeks_ = nullptr;
  QVBoxLayout *form_place_ = nullptr, *findings_ = nullptr;
  FieldForm* form_ = nullptr;
  QWidget *full_ = nullptr, *empty_ = nullptr;
  QPushButton *study_ = nullptr, *drive_ = nullptr, *report_ = nullptr, *life_button_ = nullptr;
};

}  // namespace fortitor
