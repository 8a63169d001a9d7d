// Editors for the fields of a record that hold one value; readings of a list have their own (reading_edit.h).
#pragma once

#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <vector>

#include "app/model/workbench.h"

namespace fortitor {

/// Value of a field as a form shows it; empty when there is none.
QString shown_field(const Fields& fields, const FieldSpec& field, UnitSet units);

/// An editor for a field of any kind but readings: line, choice or tick.
class FieldEdit : public QWidget {
  Q_OBJECT

 public:
  FieldEdit(FieldHost* host, const FieldSpec& field, QWidget* parent = nullptr);
  void refresh();
  const FieldSpec& field() const { return field_; }
  /// Width in which every choice can be read whole, px; 0 for what is typed, which moves under the cursor.
  int wanted_width() const;
  /// Its choices are read whole where they are opened, however narrow it is.
  void open_wide();
  /// Takes a picture out of a file; one that cannot be read is said.
  void attach(const QString& path);

 private:
  void keep();
  void keep_words();
  void add_word(const std::string& word);

  void refresh_mark();
  void offer_reference();

  FieldHost* host_;
  FieldSpec field_;
  QLineEdit* line_ = nullptr;
  QComboBox* choice_ = nullptr;
  QPushButton* picture_ = nullptr;
  QLabel* so_far_ = nullptr;         ///< words in their order, one a cycle
  std::vector<QPushButton*> words_;  ///< one a choice, where any of them may be chosen
  QLabel* mark_ = nullptr;           ///< what the series says, where the piece is other
};

}  // namespace fortitor
