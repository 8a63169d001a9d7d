// A stage on the bench. Pages know fields and stages, never a method by name.
#pragma once

#include <QWidget>

#include "app/model/workbench.h"

namespace fortitor {

class StagePage : public QWidget {
  Q_OBJECT

 public:
  StagePage(Workbench* bench, Stage stage, QWidget* parent = nullptr) : QWidget(parent), bench_(bench), stage_(stage) {
    setObjectName("page");
  }
  /// Another specimen is on the bench: build anew.
  virtual void rebuild() = 0;
  /// The record or its units changed: show them.
  virtual void refresh() = 0;
  /// A new evaluation of the record is there.
  virtual void evaluated() {}
  Stage stage() const { return stage_; }
  /// Whether the ledger stands beside this page and the watch below it.
  virtual bool wants_ledger() const { return stage_ == Stage::evaluate || stage_ == Stage::after; }
  virtual bool wants_watch() const { return stage_ >= Stage::after; }

 protected:
  std::vector<const FieldSpec*> fields_of_stage() const;
  /// Those that say where the piece comes from.
  std::vector<const FieldSpec*> fields_of_item() const;
  /// Guidance and cautions of the stage as one sheet.
  QWidget* guide_sheet() const;

  Workbench* bench_;
  Stage stage_;
};

}  // namespace fortitor
