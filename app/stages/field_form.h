// A form of labels over editors.
#pragma once

#include <QWidget>
#include <vector>

#include "app/stages/field_edit.h"

namespace fortitor {

/// Fields beside each other. Of two, one whose choices would be cut off has a row of its own; in a strip of more they
/// are read whole where they are opened.
class FieldForm : public QWidget {
  Q_OBJECT

 public:
  FieldForm(FieldHost* host, QWidget* parent = nullptr);
  /// Rebuilds for these fields, `columns` beside each other.
  void show_fields(const std::vector<const FieldSpec*>& fields, int columns = 1);
  void refresh();

 protected:
  void resizeEvent(QResizeEvent* event) override;
  void showEvent(QShowEvent* event) override;

 private:
  void arrange();

  FieldHost* host_;
  int columns_ = 1;
  std::vector<FieldEdit*> edits_;
  std::vector<bool> whole_;  ///< which of them have a row of their own
};

}  // namespace fortitor
