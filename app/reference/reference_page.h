// Reference values of materials and species: looked up, and changed by the user. What the user enters lies in
// a file of their own, on top of the shipped values, and is marked as theirs wherever it is used.
#pragma once

#include <QWidget>

#include "app/frame/desk.h"
#include "app/model/workbench.h"
#include "app/reference/reference_ranges.h"
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
  bool wants_room() const override { return true; }
  bool of_the_book() const override { return false; }
  std::vector<Doable> doable() override { return {opens(title(), "materials and species")}; }
  void open(Id, int) override { refresh(); }
  void refresh();
  /// Values of the material in hand, to be typed over.
  QTableWidget* table() const { return table_; }
  ReferenceRanges* ranges() const { return ranges_; }

 private:
  void pick(const std::string& material);
  void show_material();
  const ReferenceMaterial* in_hand() const;
  void changed(QTableWidgetItem* item);
  void add_material();
  void back_to_shipped();
  /// Keeps the user's own materials in their file and uses them. False: refused, with a sentence said.
  bool keep(std::vector<ReferenceMaterial> own);
  ReferenceShelf shelf() const;
  std::vector<ReferenceMaterial> own() const;

  Workbench* bench_;
  QLineEdit* filter_;
  QTableWidget* table_;
  QPushButton* shipped_;
  ReferenceRanges* ranges_;
  QScrollArea* scroll_;
  QLabel *name_, *about_, *source_, *none_;
  std::vector<QPushButton*> groups_;
  std::string group_ = "metal", material_;
  std::vector<std::string> properties_;  ///< of the rows of the table
  bool filling_ = false;
};

}  // namespace fortitor
