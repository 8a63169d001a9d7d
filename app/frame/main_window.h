// The window: top bar, docket, bar, bench, ledger, watch. Joins parts; computes nothing.
#pragma once

#include <QMainWindow>

#include "app/model/workbench.h"
#include "app/theme/widgets.h"

namespace fortitor {

class Docket;
class EvaluateStage;
class FindBox;
class JobsPage;
class Ledger;
class ReferencePage;
class RunStage;
class SeriesPage;
class SignOffStage;
class StageBar;
class StagePage;
class TodayPage;
class TimerBoard;
class TopBar;
class Watch;

class MainWindow : public QMainWindow {
  Q_OBJECT

 public:
  explicit MainWindow(Workbench* bench, QWidget* parent = nullptr);

  void show_today();
  void show_jobs();
  void show_series(Id series);
  void show_reference();
  void show_specimen(Id specimen, int stage = -1);
  Workbench& bench() { return *bench_; }
  TimerBoard& timers();
  RunStage* run_stage() const { return run_; }
  EvaluateStage* evaluate_stage() const { return evaluate_; }
  SignOffStage* sign_off_stage() const { return sign_; }
  Ledger* ledger() const { return ledger_; }
  Docket* docket() const { return docket_; }
  StageBar* stage_bar() const { return bar_; }
  SeriesPage* series_page() const { return series_; }
  ReferencePage* reference_page() const { return reference_; }
  FindBox* find_box() const { return find_; }
  QString message() const;

 protected:
  void closeEvent(QCloseEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;

 private:
  void build_pages();
  void make_room();
  void build_shortcuts();
  void show_stage();
  void open_find();
  void next_units();
  void ask_operator();
  void say(const QString& sentence);

  Workbench* bench_;
  TimerBoard* timers_ = nullptr;
  TopBar* top_;
  Docket* docket_;
  StageBar* bar_;
  Ledger* ledger_;
  Watch* watch_;
  FindBox* find_;
  TodayPage* today_;
  JobsPage* jobs_;
  SeriesPage* series_;
  ReferencePage* reference_;
  RunStage* run_ = nullptr;
  EvaluateStage* evaluate_ = nullptr;
  SignOffStage* sign_ = nullptr;
  QStackedWidget *places_, *stages_;
  QLabel* message_;
  QScrollArea* docket_area_ = nullptr;
  bool docket_wanted_ = false;
  std::vector<StagePage*> pages_;
};

}  // namespace fortitor
