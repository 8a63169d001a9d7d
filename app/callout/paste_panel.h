// A table of readings in place of keying them one by one: pasted, dropped or out of a file; its columns are shown with
// what they are taken for, corrected by hand, remembered for the next table of the kind.
#pragma once

#include <QComboBox>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QWidget>

#include "app/model/workbench.h"
#include "app/theme/widgets.h"
#include "core/bench/pasted.h"

namespace fortitor {

class PastePanel : public QWidget {
  Q_OBJECT

 public:
  explicit PastePanel(Workbench* bench, QWidget* parent = nullptr);
  void rebuild();
  /// Takes text as it lies on the clipboard.
  void take(const QString& text);
  /// Reads a file beside the window; read() follows.
  void open(const QString& path);

 signals:
  void read();
  /// The rows stand in the record.
  void kept();

 protected:
  void keyPressEvent(QKeyEvent* event) override;
  void dragEnterEvent(QDragEnterEvent* event) override;
  void dropEvent(QDropEvent* event) override;

 private:
  struct Line {
    QComboBox* column;
    QLineEdit* unit;
  };
  void show_table(PastedTable table);
  /// Reads the rows as the columns are said now, and shows them or why not.
  void preview();
  std::vector<PastedUse> use() const;
  TableSpec table() const;
  void keep();

  Workbench* bench_;
  PastedTable pasted_;
  Rows rows_;
  std::vector<Line> lines_;
  QGridLayout* grid_;
  QLabel *status_, *problem_, *nothing_;
  class QTableWidget* shown_;
  QPushButton* keep_;
};

}  // namespace fortitor
