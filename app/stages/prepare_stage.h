// Prepare: what the piece is, what it must meet, what can hurt.
#pragma once

#include "app/model/timer_board.h"
#include "app/stages/reading_stage.h"
#include "app/stages/stage_page.h"
#include "app/theme/widgets.h"

namespace fortitor {

class PrepareStage : public StagePage {
  Q_OBJECT

 public:
  PrepareStage(Workbench* bench, TimerBoard* timers, QWidget* parent = nullptr);
  void rebuild() override;
  void refresh() override;

 private:
  TimerBoard* board_;
  QVBoxLayout* timer_rows_ = nullptr;
  struct LimitRow {
    std::string key;
    QLineEdit *min, *max;
  };
  QWidget* limits_sheet();
  QWidget* timers_sheet();
  void refresh_timers();
  void keep_limit(const LimitRow& row, bool min);

  FieldForm* form_ = nullptr;
  SketchPad* pad_ = nullptr;
  std::vector<LimitRow> limits_;
};

}  // namespace fortitor
