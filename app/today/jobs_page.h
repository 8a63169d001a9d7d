// All jobs, and where a new job, series or specimen is begun.
#pragma once

#include <QWidget>

#include "app/model/workbench.h"
#include "app/theme/widgets.h"

namespace fortitor {

class JobsPage : public QWidget {
  Q_OBJECT

 public:
  explicit JobsPage(Workbench* bench, QWidget* parent = nullptr);
  void refresh();
  void focus_new();

 signals:
  void specimen_wanted(fortitor::Id specimen, int stage);

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
