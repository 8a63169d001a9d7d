// A series as it is looked at: its pieces read from the book, evaluated and judged beside the window.
#pragma once

#include <QObject>
#include <memory>
#include <string>
#include <vector>

#include "app/model/task.h"
#include "app/model/workbench.h"
#include "core/series/series.h"

namespace fortitor {

struct SeriesView {
  Id series = 0;
  const Method* method = nullptr;
  std::string key, job, title;
  Id job_id = 0;
  std::vector<Id> specimens;
  std::vector<TestRecord> records;
  std::vector<Evaluation> evaluations;     ///< of the pieces
  std::vector<TestRecord> beside;          ///< pieces of the other series of the job by the same method: for groups
  std::vector<std::string> beside_titles;  ///< the series each comes from
  size_t of_job = 0;                       ///< how many of those lie in the same job: groups may be made of them
  ReferenceShelf shelf;                    ///< usual values of the window
  std::string book;  ///< file the rest of the material is read from for the chart over time; empty: not asked for
  std::vector<Choice> groupings;    ///< what the pieces can be grouped by
  TestRecord settings;              ///< of the series
  Evaluation judged;                ///< over the series
  std::vector<std::string> unread;  ///< a sentence for each piece that could not be read
};

/// A series by its name, nothing of it read yet; null when the book has no such series.
std::shared_ptr<SeriesView> series_by_name(const Book& book, Id series);
/// Reads settings and pieces out of the book of that path; what could not be read stands in `unread`. Safe on another
/// thread.
void read_series(SeriesView& view, const std::string& book, const std::string& wanted_key, Task& task);
/// Evaluates the pieces and judges over them; samples are let go. Reads what other jobs have of the material, where the
/// chart over time is wanted over the whole book. Safe on another thread.
void judge_series(SeriesView& view, Task& task);

/// The judgement over the series of the piece in hand, made anew when it is asked for.
class SeriesJudge : public QObject {
  Q_OBJECT

 public:
  explicit SeriesJudge(Workbench* bench, QObject* parent = nullptr) : QObject(parent), bench_(bench) {}
  /// Judges again when the method judges series by itself; the newest question wins.
  void ask();
  /// Figure over the series; null while there is none.
  const Figure* figure() const;
  /// What it says in a line: the first check or note.
  QString words() const;

 signals:
  void judged();

 private:
  Workbench* bench_;
  TaskPtr task_;
  std::shared_ptr<SeriesView> view_;
};

}  // namespace fortitor
