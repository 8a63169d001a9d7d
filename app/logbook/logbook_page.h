// The logbook on sight: what happened, who did it, and the end of its chain.
#pragma once

#include "app/frame/desk.h"
#include "app/model/workbench.h"
#include "app/theme/widgets.h"

class QTableWidget;

namespace fortitor {

class LogbookPage : public Desk {
  Q_OBJECT

 public:
  explicit LogbookPage(Workbench* bench, QWidget* parent = nullptr);
  QString name() const override { return "logbook"; }
  QString title() const override { return "Logbook"; }
  Docket::Place place() const override { return Docket::Place::series; }
  void open(Id, int) override { refresh(); }
  void refresh();
  QTableWidget* table() const { return table_; }
  QString head() const;

 private:
  Workbench* bench_;
  QLabel* head_;
  QLineEdit* filter_;
  QTableWidget* table_;
};

}  // namespace fortitor
