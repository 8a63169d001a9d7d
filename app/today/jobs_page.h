// All jobs, and where a new job, series or specimen is begun.
#pragma once

#include <QWidget>

#include "app/frame/desk.h"
#include "app/model/workbench.h"
#include "app/theme/widgets.h"
#include "store/bundle.h"

namespace fortitor {

class JobsPage : public Desk {
  Q_OBJECT

 public:
  explicit JobsPage(Workbench* bench, QWidget* parent = nullptr);
  QString name() const override { return "jobs"; }
  QString title() const override { return "All jobs"; }
  Docket::Place place() const override { return Docket::Place::jobs; }
  bool over_the_book() const override { return true; }
  std::vector<Doable> doable() override { return {opens("All jobs", ""), opens("New job", "Ctrl N", 0, 1)}; }
  /// `detail` 1: ready to type a new job.
  void open(Id what, int detail) override;
  void refresh();
  /// Writes a job with everything of it into one file to hand on, beside the window.
  void write_bundle_of(const std::string& code, const QString& path);
  /// Takes such a file into the book: all of it or nothing.
  void take_bundle(const QString& path);

 signals:
  /// A bundle was taken in, or refused.
  void bundle_taken();

 private:
  void took(const Outcome<Unpacked>& taken);
  void create();
  void add_record_file();
  Workbench* bench_;
  QVBoxLayout* list_;
  QLineEdit *filter_, *code_, *title_, *due_, *series_, *specimens_;
  QComboBox* method_;
  QLabel* error_;
};

}  // namespace fortitor
