// Set up: load path, cell, speed, stops, checklist; Start says what is missing.
#pragma once

#include "app/stages/reading_stage.h"
#include "app/theme/widgets.h"

namespace fortitor {

class SetupStage : public StagePage {
  Q_OBJECT

 public:
  explicit SetupStage(Workbench* bench, QWidget* parent = nullptr);
  void rebuild() override;
  void refresh() override;

 signals:
  void start_wanted();

 private:
  void refresh_advice();

  Plan plan_;
  SketchPad* pad_ = nullptr;
  std::vector<FieldForm*> forms_;
  QVBoxLayout *advice_ = nullptr, *missing_ = nullptr;
  std::vector<std::pair<std::string, QCheckBox*>> checks_;
  QPushButton* start_ = nullptr;
};

}  // namespace fortitor
