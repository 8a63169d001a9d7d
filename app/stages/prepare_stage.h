// Prepare: what the piece is, what it must meet, what can hurt.
#pragma once

#include "app/model/timer_board.h"
#include "app/stages/limits_form.h"
#include "app/stages/reading_stage.h"
#include "app/stages/series_strip.h"
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
  QWidget* item_sheet();
  QWidget* limits_sheet();
  QWidget* timers_sheet();
  void refresh_timers();

  FieldForm* form_ = nullptr;
  FieldForm* item_ = nullptr;            ///< where the piece comes from
  std::vector<const FieldSpec*> asked_;  ///< fields of the form
  SketchPad* pad_ = nullptr;
  LimitsForm* limits_ = nullptr;
  SeriesStrip* strip_ = nullptr;
  QLabel* usual_ = nullptr;
};

}  // namespace fortitor
