// One reading of a list, typed where the drawing asks for it.
#pragma once

#include <QLineEdit>

#include "app/model/workbench.h"

namespace fortitor {

/// How a reading is shown in the present unit set; what was typed stays in its tooltip.
QString shown_reading(const Reading& reading, Dimension dimension, UnitSet set, bool with_unit = true);

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

}  // namespace fortitor
