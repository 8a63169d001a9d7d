// All jobs, and where a new job, series or specimen is begun.
#pragma once

#include <QWidget>

#include "app/frame/desk.h"
#include "app/model/workbench.h"
#include "app/theme/widgets.h"

namespace fortitor {

class JobsPage : public Desk {
  Q_OBJECT

 public:
  explicit JobsPage(Workbench* bench, QWidget* parent = nullptr);
  QString name() const override { return "jobs"; }
  QString title() const override { return "All jobs"; }
  Docket::Place place() const override { return Docket::Place::jobs; }
  /// `detail` 1: ready to type a new job.
  void open(Id what, int detail) override;
  void refresh();

 private:
  void create();
  void add_record_file();
  Workbench* bench_;
  QVBoxLayout* list_;
  QLineEdit *code_, *title_, *due_, *series_, *specimens_;
  QComboBox* method_;
  QLabel* error_;
};

}  // namespace fortitor
