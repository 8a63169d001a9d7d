// Import of a machine's file: columns and units guessed, shown on a preview curve, corrected by hand,
// remembered for next time.
#pragma once

#include <QWidget>

#include "app/figures/figure_view.h"
#include "app/model/workbench.h"
#include "app/theme/widgets.h"
#include "core/record/csv.h"

namespace fortitor {

class ImportPanel : public QWidget {
  Q_OBJECT

 public:
  explicit ImportPanel(Workbench* bench, QWidget* parent = nullptr);
  ~ImportPanel() override;
  void rebuild();
  void refresh();
  /// Reads the file in a thread; read() is emitted when it is shown or refused.
  void open(const QString& path);
  bool ready() const { return ready_; }

 signals:
  void read();
  void imported();

 protected:
  void dragEnterEvent(QDragEnterEvent* event) override;
  void dropEvent(QDropEvent* event) override;

 private:
  void show_table();
  void preview();
  void draw(quint64 ticket, const EvaluationPtr& evaluation);
  void import();
  std::map<std::string, ChannelSource> mapping() const;

  Workbench* bench_;
  Evaluator evaluator_;  ///< of the preview
  quint64 drawing_ = 0;
  QString path_;
  std::shared_ptr<const CsvTable> table_;
  bool ready_ = false;
  TaskPtr reading_;
  QLabel *title_, *status_;
  QGridLayout* grid_;
  QLineEdit* removed_;
  QPushButton* import_;
  FigureView* figure_;
  struct ColumnRow {
    QComboBox* channel;
    QLineEdit* unit;
  };
  std::vector<ColumnRow> rows_;
};

}  // namespace fortitor
