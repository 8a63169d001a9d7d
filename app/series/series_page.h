// A series: every piece under one result, its statistics, and the suspects for the scatter ticked per piece
// and tested against the data.
#pragma once

#include <QWidget>
#include <memory>

#include "app/figures/figure_view.h"
#include "app/frame/desk.h"
#include "app/model/task.h"
#include "app/model/workbench.h"
#include "app/series/series_head.h"
#include "app/series/series_view.h"
#include "app/theme/widgets.h"

class QTableWidget;
class QTableWidgetItem;

namespace fortitor {

class SeriesPage : public Desk {
  Q_OBJECT

 public:
  explicit SeriesPage(Workbench* bench, QWidget* parent = nullptr);
  QString name() const override { return "series"; }
  QString title() const override { return "Series"; }
  Docket::Place place() const override { return Docket::Place::series; }
  bool wants_room() const override { return true; }
  bool over_the_book() const override { return true; }
  void open(Id series, int) override { show_series(series); }
  /// Shows a series by its first result, or the one asked for.
  void show_series(Id series, const std::string& key = {});
  const SeriesView& view() const { return view_; }
  /// Writes the report of the series shown as .pdf or .html; refuses to write over a file that is there.
  Outcome<Done> write_report(const QString& path);
  QTableWidget* table() const { return table_; }

 signals:
  /// The numbers of the series shown are there.
  void shown();

 private:
  void take(quint64 ticket, const std::shared_ptr<SeriesView>& view);
  void fill_table();
  void fill_numbers();
  void fill_words();
  void changed(QTableWidgetItem* item);
  void copy() const;
  void save_report();
  void choose(const QString& path, const QString& value);
  void keep(const TestRecord& was, const std::string& what);
  void show_figure();
  void answer_outlier(const Finding& finding);

  Workbench* bench_;
  SeriesView view_;
  quint64 ticket_ = 0;
  TaskPtr task_;
  bool filling_ = false;
  QLabel* title_;
  SeriesHead* head_;
  FigureTabs* tabs_;
  QVBoxLayout* numbers_;
  QVBoxLayout* words_;
  FigureView* figure_;
  QTableWidget* table_;
};

}  // namespace fortitor
