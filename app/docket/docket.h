// The docket: Today, all jobs, then the open jobs with their series and specimens.
#pragma once

#include <QWidget>

#include "app/model/workbench.h"

namespace fortitor {

class Docket : public QWidget {
  Q_OBJECT

 public:
  enum class Place { today, jobs, kit, specimen, series };
  explicit Docket(Workbench* bench, QWidget* parent = nullptr);
  void set_place(Place place, Id series = 0);
  /// Row of a specimen, for tests.
  QRect row_of(Id specimen) const;

 signals:
  void today_wanted();
  void jobs_wanted();
  void kit_wanted();
  void specimen_wanted(fortitor::Id specimen);
  void series_wanted(fortitor::Id series);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  enum class Kind { today, jobs, kit, job, series, specimen };
  struct Row {
    Kind kind;
    QString text, detail;
    SpecimenRow specimen;
    int top = 0, height = 0;
    Id series = 0;
  };
  void reload();
  void activate(const Row& row);
  int current() const;
  void drag_out(const Row& row);

  Workbench* bench_;
  std::vector<Row> rows_;
  Place place_ = Place::today;
  Id series_ = 0;  ///< of Place::series
  QPoint press_;
};

}  // namespace fortitor
