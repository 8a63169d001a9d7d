// How it is computed: every setting of the evaluation with what it is now and what the usual is, changed in place. With
// What-if it is changed beside the original.
#pragma once

#include <QFrame>
#include <vector>

#include "app/stages/field_edit.h"

namespace fortitor {

class HowPanel : public QFrame {
  Q_OBJECT

 public:
  explicit HowPanel(Workbench* bench, QWidget* parent = nullptr);
  void rebuild();
  void refresh();

 private:
  struct Row {
    const FieldSpec* field;
    FieldEdit* edit;
    QLabel* usual;
    QPushButton* back;
  };
  Workbench* bench_;
  QLabel* lead_;
  class QGridLayout* grid_;
  std::vector<Row> rows_;
};

}  // namespace fortitor
