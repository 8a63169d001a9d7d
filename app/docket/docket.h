// The docket: Today, all jobs, the Kit, then the open jobs with their series and specimens. Jobs fold, letters typed
// filter, the piece in hand is always in sight.
#pragma once

#include <QWidget>
#include <set>

#include "app/model/workbench.h"
#include "app/theme/painted_parts.h"

namespace fortitor {

class Docket : public QWidget, public PaintedParts {
  Q_OBJECT

 public:
  std::vector<PaintedPart> painted_parts() override;
  enum class Place { today, jobs, job, plan, kit, laboratory, slate, practice, specimen, series, spectrum };
  explicit Docket(Workbench* bench, QWidget* parent = nullptr);
  /// `what`: the series, the spectrum or the job in hand.
  void set_place(Place place, Id what = 0);
  /// Row of a specimen, for tests.
  QRect row_of(Id specimen) const;
  const QString& filter() const { return filter_; }

 signals:
  void today_wanted();
  void jobs_wanted();
  /// A desk that is not a piece: "plan", "kit", "slate", "practice".
  void desk_wanted(const QString& name);
  /// The row of what is in hand: whoever scrolls brings it into sight.
  void row_wanted(const QRect& row);
  void specimen_wanted(fortitor::Id specimen);
  void series_wanted(fortitor::Id series);
  void spectrum_wanted(fortitor::Id spectrum);
  void job_wanted(fortitor::Id job);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  enum class Kind { today, jobs, desk, filter, job, series, specimen, spectrum };
  struct Row {
    Kind kind;
    QString text, detail;
    SpecimenRow specimen;
    int top = 0, height = 0;
    Id series = 0, job = 0, spectrum = 0;
    Place desk = Place::today;
    QString name;  ///< of a desk
  };
  void reload();
  void rebuild();
  void add_job(const JobOutline& job);
  void add(Kind kind, const QString& text, double height);
  bool open_job(const JobOutline& job) const;
  void paint_row(QPainter& p, const Row& row, bool here) const;
  void paint_mark(QPainter& p, const Row& row, const QRectF& mark) const;
  void paint_place(QPainter& p, const Row& row, const QRect& text, bool here) const;
  void paint_job(QPainter& p, const Row& row, const QRect& text) const;
  void paint_spectrum(QPainter& p, const Row& row, const QRect& text, bool here) const;
  void paint_piece(QPainter& p, const Row& row, const QRect& text, bool here) const;
  void show_current();
  void fold(Id job, bool on);
  void activate(const Row& row);
  int current() const;
  void drag_out(const Row& row);

  Workbench* bench_;
  std::vector<JobOutline> jobs_;
  std::set<Id> folded_;
  QString filter_;
  std::vector<Row> rows_;
  Place place_ = Place::today;
  Id series_ = 0, spectrum_ = 0, job_ = 0;        ///< of Place::series, Place::spectrum, Place::job
  std::map<std::string, std::string> customers_;  ///< by number of the job
  QPoint press_;
};

}  // namespace fortitor
