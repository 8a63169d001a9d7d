// The desk of one specimen: bar, stages, ledger, watch.
#pragma once

#include <array>
#include <bitset>

#include "app/frame/desk.h"
#include "app/model/timer_board.h"
#include "app/theme/widgets.h"

namespace fortitor {

class EvaluateStage;
class Ledger;
class PhotographStrip;
class RunStage;
class SignOffStage;
class StageBar;
class StagePage;
class Watch;

class SpecimenDesk : public Desk {
  Q_OBJECT

 public:
  SpecimenDesk(Workbench* bench, TimerBoard* timers, QWidget* parent = nullptr);
  QString name() const override { return "specimen"; }
  QString title() const override;
  Docket::Place place() const override { return Docket::Place::specimen; }
  QString obstacle(Id specimen) const override;
  void dress() override;
  /// `detail`: the stage, or −1 for the one that is next.
  void open(Id specimen, int detail) override;
  bool wants_room() const override { return true; }
  std::vector<Doable> doable() override;
  bool holds(Id what) const override { return what == bench_->specimen(); }
  QString busy() const override;
  /// Pictures are photographs of the piece; another file is a run of it.
  void take(const QStringList& paths) override;
  void paste() override;
  void units_changed() override;
  void listen_to(WireBoard* wires) override;
  bool take_reading() override;

  RunStage* run_stage() const { return run_; }
  EvaluateStage* evaluate_stage() const { return evaluate_; }
  SignOffStage* sign_off_stage() const { return sign_; }
  Ledger* ledger() const { return ledger_; }
  PhotographStrip* photographs() const { return photographs_; }
  StageBar* stage_bar() const { return bar_; }

 protected:
  void resizeEvent(QResizeEvent* event) override;

 private:
  void build_pages(TimerBoard* timers);
  void show_stage();
  void begin_at_the_top(Stage stage);
  void build(Stage stage);
  void make_room();

  Workbench* bench_;
  StageBar* bar_;
  Ledger* ledger_;
  PhotographStrip* photographs_;
  Watch* watch_;
  RunStage* run_ = nullptr;
  EvaluateStage* evaluate_ = nullptr;
  SignOffStage* sign_ = nullptr;
  QStackedWidget* stages_;
  std::vector<StagePage*> pages_;
  std::array<Id, kStageCount> seen_ = {};  ///< piece that each page was shown for last
  std::bitset<kStageCount> stale_;         ///< pages that still show another piece
};

}  // namespace fortitor
