// The logbook on sight: what happened, who did it, and the end of its chain.
#pragma once

#include "app/frame/desk.h"
#include "app/model/workbench.h"
#include "app/theme/widgets.h"

namespace fortitor {

class LogView;

class LogbookPage : public Desk {
  Q_OBJECT

 public:
  explicit LogbookPage(Workbench* bench, QWidget* parent = nullptr);
  QString name() const override { return "logbook"; }
  QString title() const override { return "Logbook"; }
  Docket::Place place() const override { return Docket::Place::series; }
  void open(Id, int) override { refresh(); }
  void refresh();
  LogView* view() const { return view_; }
  QString head() const;

 private:
  Workbench* bench_;
  QLabel *count_, *head_;
  QLineEdit* filter_;
  LogView* view_;
};

}  // namespace fortitor
