// When the piece was tested and by whom, and a hand to correct it with a reason.
#pragma once

#include <QWidget>

#include "app/model/workbench.h"
#include "app/theme/widgets.h"

namespace fortitor {

class TestedStrip : public QWidget {
  Q_OBJECT

 public:
  explicit TestedStrip(Workbench* bench, QWidget* parent = nullptr);
  void refresh();

 private:
  void open(bool on);
  void keep();

  Workbench* bench_;
  QLabel* words_;
  QPushButton* correct_;
  QWidget* form_;
  QLineEdit *day_, *by_, *reason_;
};

}  // namespace fortitor
