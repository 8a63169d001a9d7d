// Today: what is next at the bench, plainly.
#pragma once

#include <QWidget>

#include "app/model/workbench.h"
#include "app/theme/widgets.h"

namespace fortitor {

class TodayPage : public QWidget {
  Q_OBJECT

 public:
  explicit TodayPage(Workbench* bench, QWidget* parent = nullptr);
  void refresh();

 signals:
  void specimen_wanted(fortitor::Id specimen, int stage);
  void new_job_wanted();

 private:
  void add_row(const QString& when, const QColor& colour, const QString& title, const QString& why,
               const QString& action, Id specimen, Stage stage);
  Workbench* bench_;
  QVBoxLayout *rows_, *notices_;
  QHBoxLayout* jobs_;
};

}  // namespace fortitor
