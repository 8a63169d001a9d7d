// All jobs, and where a new job, series or specimen is begun.
#pragma once

#include <QWidget>

#include "app/model/workbench.h"

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
  class QVBoxLayout* list_;
  class QLineEdit *code_, *title_, *due_, *series_, *specimens_;
  class QComboBox* method_;
  class QLabel* error_;
};

}  // namespace fortitor
