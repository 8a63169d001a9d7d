// Prepare: what the piece is, what it must meet, what can hurt.
#pragma once

#include "app/stages/reading_stage.h"
#include "app/stages/stage_page.h"
#include "app/theme/widgets.h"

namespace fortitor {

class PrepareStage : public StagePage {
  Q_OBJECT

 public:
  explicit PrepareStage(Workbench* bench, QWidget* parent = nullptr);
  void rebuild() override;
  void refresh() override;

 private:
  struct LimitRow {
    std::string key;
    QLineEdit *min, *max;
  };
  QWidget* limits_sheet();
  void keep_limit(const LimitRow& row, bool min);

  FieldForm* form_ = nullptr;
  SketchPad* pad_ = nullptr;
  std::vector<LimitRow> limits_;
};

}  // namespace fortitor
