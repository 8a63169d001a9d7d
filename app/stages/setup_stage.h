// Set up: load path, cell, speed, stops, checklist; Start says what is missing.
#pragma once

#include "app/stages/equipment_panel.h"
#include "app/stages/reading_stage.h"
#include "app/stages/series_strip.h"
#include "app/theme/widgets.h"

namespace fortitor {

class SetupStage : public StagePage {
  Q_OBJECT

 public:
  explicit SetupStage(Workbench* bench, QWidget* parent = nullptr);
  void rebuild() override;
  void refresh() override;
  void evaluated() override { refresh_missing(); }
  /// While something wants a word before the start.
  bool wants_watch() const override;

 signals:
  void start_wanted();

 private:
  void refresh_advice();
  /// Items of the Kit that carry what is expected, for an advice on a rating; nothing where the Kit has none of that
  /// kind.
  std::optional<std::vector<const kit::Item*>> carriers(const Advice& advice) const;
  /// Those, to be taken by name. Whether one of them is wanted still.
  bool advise_items(const Advice& advice, const std::vector<const kit::Item*>& fitting);
  void refresh_missing();
  bool in_use(const Advice& a) const;
  void use_all();

  Plan plan_;
  SketchPad* pad_ = nullptr;
  SeriesStrip* strip_ = nullptr;
  EquipmentPanel* equipment_ = nullptr;
  FieldForm* form_ = nullptr;
  QPushButton* use_all_ = nullptr;
  QVBoxLayout *advice_ = nullptr, *missing_ = nullptr;
  std::vector<std::pair<std::string, QCheckBox*>> checks_;
  QPushButton* start_ = nullptr;
};

}  // namespace fortitor
