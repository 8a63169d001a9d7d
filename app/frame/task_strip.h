// The one place that shows what is going on and stops it: a strip under the desks, there only while something takes
// long.
#pragma once

#include <QElapsedTimer>
#include <QFrame>
#include <QTimer>

#include "app/model/task.h"

class QLabel;
class QProgressBar;
class QPushButton;

namespace fortitor {

class TaskStrip : public QFrame {
  Q_OBJECT

 public:
  explicit TaskStrip(TaskBoard* board, QWidget* parent = nullptr);

 private:
  void refresh();

  TaskBoard* board_;
  QLabel* words_;
  QProgressBar* bar_;
  QPushButton* cancel_;
  QTimer tick_, patience_;
  const Task* shown_ = nullptr;  ///< whose time is taken; only compared
  QElapsedTimer since_;
};

}  // namespace fortitor
