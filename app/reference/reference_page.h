// Reference values of materials and species: looked up, and changed by the user. What the user enters lies in
// a file of their own, on top of the shipped values, and is marked as theirs wherever it is used.
#pragma once

#include <QWidget>

#include "app/frame/desk.h"
#include "app/model/workbench.h"
#include "app/theme/widgets.h"
#include "core/reference/library.h"

class QTableWidget;
class QTableWidgetItem;

namespace fortitor {

class ReferencePage : public Desk {
  Q_OBJECT

 public:
  explicit ReferencePage(Workbench* bench, QWidget* parent = nullptr);
  QString name() const override { return "reference"; }
  QString title() const override { return "Reference values"; }
  Docket::Place place() const override { return Docket::Place::series; }
  void open(Id, int) override { refresh(); }
  void refresh();
  QTableWidget* table() const { return table_; }

 private:
  struct Row {
    std::string material, property;
    bool own;
  };
  void changed(QTableWidgetItem* item);
  void add_material();
  void back_to_shipped();
  /// Keeps the user's own materials in their file and uses them. False: refused, with a sentence said.
  bool keep(std::vector<ReferenceMaterial> own);
  std::vector<ReferenceMaterial> own() const;

  Workbench* bench_;
  QLineEdit* filter_;
  QTableWidget* table_;
  QPushButton* shipped_;
  std::vector<Row> rows_;
  bool filling_ = false;
};

}  // namespace fortitor
