#include "app/series/series_view.h"

#include <algorithm>

#include "app/theme/parts.h"
#include "core/practice/practice.h"

namespace fortitor {

using parts::qs;

std::shared_ptr<SeriesView> series_by_name(const Book& book, Id series) {
  for (const JobRow& job : book.jobs())
    for (const SeriesRow& s : book.series(job.id)) {
      if (s.id != series || methods::find(s.method) == nullptr) continue;
      auto view = std::make_shared<SeriesView>();
      view->series = series;
      view->method = methods::find(s.method);
      view->title = s.title;
      view->job = job.code + " " + job.title;
      view->job_id = job.id;
      view->shelf = book.shelf();
      return view;
    }
  return nullptr;
}

void read_series(SeriesView& view, const std::string& path, const std::string& wanted, Task& task) {
  const auto book = Book::open_read_only(path, view.shelf);
  if (!book) return view.unread.push_back(book.error().message);
  auto settings = (*book)->series_record(view.series);
  if (!settings) return view.unread.push_back(settings.error().message);
  view.settings = std::move(*settings);
  for (const RecordFault& f : view.settings.faults)
    view.unread.push_back(f.message + ". It was stored all the same: choose again.");
  if (!wanted.empty()) view.settings.fields.set("settings.result", wanted);
  view.key = series_key(*view.method, view.settings);
  for (const SpecimenRow& s : (*book)->specimens(view.series)) {
    if (task.stopped()) return;
    auto r = (*book)->record(s.id);
    if (!r) {
      view.unread.push_back(s.code + ": " + r.error().message);
      continue;
    }
    view.specimens.push_back(s.id);
    view.records.push_back(std::move(*r));
  }
  for (const SeriesRow& other : (*book)->series(view.job_id)) {
    if (other.id == view.series || methods::find(other.method) != view.method || view.method->series.evaluate) continue;
    for (const SpecimenRow& s : (*book)->specimens(other.id))
      if (auto r = (*book)->record(s.id); r && !task.stopped()) {
        view.beside.push_back(std::move(*r));
        view.beside_titles.push_back(other.title);
      }
  }
  view.of_job = view.beside.size();
  if (view.settings.fields.text("settings.over") == "book") view.book = path;
}

namespace {

// What other jobs have of the material, by the same method; practice is no test.
void read_material(SeriesView& view, Task& task) {
  const auto reader = Book::open_read_only(view.book, view.shelf);
  if (!reader) return;
  for (const JobRow& job : (*reader)->jobs()) {
    if (job.code == practice::kJob) continue;
    const std::vector<SeriesRow> all = (*reader)->series(job.id);
    if (std::any_of(all.begin(), all.end(), [&](const SeriesRow& s) { return s.id == view.series; })) continue;
    for (const SeriesRow& s : all) {
      if (methods::find(s.method) != view.method) continue;
      for (const SpecimenRow& piece : (*reader)->specimens(s.id)) {
        if (task.stopped()) return;
        auto r = (*reader)->record(piece.id);
        if (!r || !r->has_run()) continue;
        view.beside.push_back(std::move(*r));
        view.beside_titles.push_back(job.code + ", " + s.title);
      }
    }
  }
}

}  // namespace

void judge_series(SeriesView& view, Task& task) {
  for (size_t i = 0; i < view.records.size() && !task.stopped(); ++i) {
    task.set_progress(double(i) / double(view.records.size()));
    TestRecord& r = view.records[i];
    view.evaluations.push_back(methods::evaluate(r, {.uncertainty = false}));
    keep_curve(view.evaluations.back());
    r.run.drop_samples();  // numbers are wanted, not a million samples
  }
  if (task.stopped()) return;
  std::vector<SeriesPiece> pieces;
  for (size_t i = 0; i < view.records.size(); ++i) pieces.push_back({&view.records[i], &view.evaluations[i]});
  view.key = series_key(*view.method, view.settings, pieces);
  if (!view.book.empty()) read_material(view, task);
  std::vector<Evaluation> beside;
  if (view.settings.fields.text("settings.group_by") == "series" || !view.book.empty())
    for (TestRecord& r : view.beside) {
      if (task.stopped()) return;
      beside.push_back(methods::evaluate(r, {.uncertainty = false}));
      beside.back().figures.clear();
      r.run.drop_samples();
    }
  beside.resize(view.beside.size());
  for (size_t i = 0; i < view.beside.size(); ++i)
    pieces.push_back({&view.beside[i], &beside[i], view.beside_titles[i],
                      i < view.of_job ? SeriesPiece::For::groups : SeriesPiece::For::time});
  view.groupings = series_groupings(*view.method, pieces);
  view.judged = series_evaluate(*view.method, pieces, view.settings);
  for (Evaluation& e : view.evaluations) e.figures.clear();  // they are in the picture of the series now
}

void SeriesJudge::ask() {
  if (!bench_->has_specimen() || !bench_->method().series.evaluate || !bench_->method().series.beside_run) {
    view_.reset();
    return;
  }
  Id series = 0;
  if (const auto row = bench_->book()->specimen(bench_->specimen())) series = row->series;
  if (view_ && view_->series != series) view_.reset();
  const auto view = series_by_name(*bench_->book(), series);
  if (!view) return;
  if (task_) bench_->tasks().cancel(task_);
  task_ = bench_->tasks().run(
      "Judging the series", this,
      [view, path = bench_->book()->path()](Task& task) {
        read_series(*view, path, {}, task);
        if (!task.stopped()) judge_series(*view, task);
      },
      [this, view] {
        view_ = view;
        emit judged();
      });
}

const Figure* SeriesJudge::figure() const {
  return view_ && !view_->judged.figures.empty() ? &view_->judged.figures.front() : nullptr;
}

QString SeriesJudge::words() const {
  if (!view_) return {};
  for (const Severity wanted : {Severity::check, Severity::note})
    for (const Finding& f : view_->judged.findings)
      if (f.severity == wanted) return qs(f.message);
  return {};
}

}  // namespace fortitor
