// Import of a machine's file: columns and units guessed, shown on a preview curve, corrected by hand,
// remembered for next time.
#pragma once

#include <QWidget>

#include "app/figures/figure_view.h"
#include "app/model/workbench.h"
#include "app/theme/widgets.h"
#include "core/bench/import_session.h"

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
  void show_file();
  void choose(size_t block);
  void show_table();
  void preview();
  void preview_of(TestRecord record, const SamplesPtr& samples);
  void draw(quint64 ticket, const EvaluationPtr& evaluation);
  void import();
  void spread();
  void spread_next(const std::vector<SpecimenRow>& pieces, const std::vector<SamplesPtr>& runs,
                   const QStringList& names, const QString& file, size_t left, const QStringList& done);
  /// Turns blocks into samples, beside the window when they are long, and hands on what came of it.
  void convert(const std::vector<size_t>& blocks,
               const std::function<void(const Outcome<std::vector<SamplesPtr>>&)>& then);
  std::vector<Event> events() const;
  Tested said_of(size_t block) const;
  std::vector<SpecimenRow> waiting() const;
  QString remember();

  Workbench* bench_;
  Evaluator evaluator_;  ///< of the preview
  quint64 drawing_ = 0;
  QString path_;
  std::shared_ptr<ImportSession> session_;  ///< the file in hand; null while there is none
  bool ready_ = false;
  TaskPtr reading_;
  QLabel *title_, *status_, *removed_label_;
  QGridLayout* grid_;
  QLineEdit* removed_;
  QWidget* block_bar_;
  QComboBox* blocks_;
  QPushButton *import_, *spread_;
  FigureView* figure_;
};

}  // namespace fortitor
