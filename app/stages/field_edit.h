// Editors for the fields of a record: one typed value, or one reading of a list.
#pragma once

#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <vector>

#include "app/model/workbench.h"

namespace fortitor {

/// How a reading is shown in the present unit set; what was typed stays in its tooltip.
QString shown_reading(const Reading& reading, Dimension dimension, UnitSet set, bool with_unit = true);

/// Value of a field as a form shows it; empty when there is none.
QString shown_field(const Fields& fields, const FieldSpec& field, UnitSet units);

/// A line for one reading. Enter keeps it and goes on, M says missed; an unreadable entry stays as
/// typed, framed, with its sentence given to the bench.
class ReadingEdit : public QLineEdit {
  Q_OBJECT

 public:
  ReadingEdit(Workbench* bench, const FieldSpec& field, int index, QWidget* parent);
  const FieldSpec& field() const { return field_; }
  int index() const { return index_; }
  void refresh();
  /// Keeps what is typed. False when it could not be read.
  bool commit();

 signals:
  void kept();
  void column_pasted(const QStringList& lines);

 protected:
  void keyPressEvent(QKeyEvent* event) override;
  void focusInEvent(QFocusEvent* event) override;
  void focusOutEvent(QFocusEvent* event) override;

 private:
  void store(const Reading& reading, const QString& what);
  /// In the language of the logbook.
  QString name() const;

  Workbench* bench_;
  FieldSpec field_;
  int index_;
};

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

  FieldHost* host_;
  FieldSpec field_;
  void refresh_mark();
  void offer_reference();

  QLineEdit* line_ = nullptr;
  QComboBox* choice_ = nullptr;
  QPushButton* picture_ = nullptr;
  QLabel* so_far_ = nullptr;         ///< words in their order, one a cycle
  std::vector<QPushButton*> words_;  ///< one a choice, where any of them may be chosen
  QLabel* mark_ = nullptr;           ///< what the series says, where the piece is other
};

}  // namespace fortitor
