// Find or do…: what can be done now, and what the book has for what is typed or scanned.
#include <QFileDialog>
#include <QRegularExpression>
#include <algorithm>
#include <set>

#include "app/frame/find_box.h"
#include "app/frame/main_window.h"
#include "app/frame/top_bar.h"
#include "app/guide/guide_desk.h"
#include "app/ledger/ledger.h"
#include "app/slate/slate_desk.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "core/bench/marks.h"
#include "core/practice/practice.h"
#include "core/slate/slate.h"
#include "core/spectrum/chain.h"
#include "store/papers.h"

namespace fortitor {

using parts::qs;

void MainWindow::open_find() {
  std::vector<Doable> all;
  all.push_back({"Today", "what is next", [this] { show_today(); }});
  all.push_back({"All jobs", "", [this] { show_jobs(); }});
  all.push_back({"Machine's files…", "pieces out of files; or drop them anywhere", [this] {
                   const QStringList files = QFileDialog::getOpenFileNames(this, "Files of a testing machine");
                   if (!files.isEmpty()) take_files(files);
                 }});
  all.push_back({"New job", "Ctrl N", [this] { open("jobs", 0, 1); }});
  all.push_back({"Units: SI, US customary, kgf", "Ctrl U", [this] { next_units(); }});
  all.push_back({"Light or dark", "Ctrl D", [] { theme::set_dark(!theme::dark()); }});
  all.push_back({"Larger text", "", [] { theme::set_scale(theme::scale() + 0.25); }});
  all.push_back({"Smaller text", "", [] { theme::set_scale(theme::scale() - 0.25); }});
  all.push_back({"Docket beside the bench", "Ctrl B", [this] {
                   docket_wanted_ = !docket_area_->isVisible();
                   make_room();
                 }});
  all.push_back({"Undo", "Ctrl Z", [this] { bench_->undo().undo(); }});
  all.push_back({"Redo", "Ctrl Shift Z", [this] { bench_->undo().redo(); }});
  all.push_back({"Reference values", "materials and species", [this] { show_reference(); }});
  all.push_back({"Plan", "who does what when", [this] { open("plan"); }});
  all.push_back({"Slate", "calculators and their tape", [this] { open("slate"); }});
  all.push_back({"Practice", "tasks with something hidden, and their debrief", [this] { open("practice"); }});
  if (bench_->has_specimen() && practice::is_practice(bench_->record()))
    all.push_back({"Debrief " + qs(bench_->record().specimen_id()), "practice against the truth",
                   [this] { open("practice", bench_->specimen()); }});
  all.push_back({"Kit", "equipment, calibration, benches", [this] { open("kit", 0, 0); }});
  for (const auto& [words, detail, part] : {std::tuple("Laboratory", "its letterhead", 0),
                                            {"Customers", "typed once", 1},
                                            {"People", "rights and keys", 2},
                                            {"Templates", "what documents hold", 3},
                                            {"Demand sheets", "what must be met", 4},
                                            {"Register", "documents issued", 5}})
    all.push_back({words, detail, [this, p = part] { open("laboratory", 0, p); }});
  if (bench_->has_specimen()) {
    all.push_back({"Photograph of the piece in hand…", "from files; Ctrl Shift V takes the clipboard",
                   [this] { bench_->ask_photograph(); }});
  }
  if (bench_->has_specimen())
    all.push_back({"Job " + qs(bench_->record().job), "customer, demands, documents",
                   [this] { open("job", bench_->book()->job_of(bench_->specimen()).id); }});
  for (const JobOutline& job : bench_->book()->outline()) {
    for (const SpectrumRow& s : job.spectra)
      all.push_back({"Spectrum: " + qs(s.title), qs(job.job.code), [this, id = s.id] { open("spectrum", id, -1); }});
    if (all.size() < 60)
      all.push_back({"New spectrum in " + qs(job.job.code + " " + job.job.title), "from weeks of strain",
                     [this, id = job.job.id] { new_spectrum(id); }});
  }
  all.push_back({"Logbook", "what happened, and its chain", [this] { open("logbook", 0, 0); }});
  all.push_back({"Back the book up…", "a checked copy in a folder", [this] { back_up(); }});
  all.push_back({"Save the book elsewhere…", "and go on there", [this] { save_elsewhere(); }});
  all.push_back({"Open a shared book…", "on a server, with other benches", [this] { ask_shared(); }});
  if (bench_->book()->shared())
    all.push_back({"Shared book", "who is here, roles, size, last backup", [this] { open("shared"); }});
  all.push_back({"Foot switch…", "the key that takes a reading, beside F8", [this] { ask_take_key(); }});
  all.push_back({"Guide", "F1 opens the part about where you are", [this] { open("guide", 0, 0); }});
  all.push_back({"Operator", "who stands at the bench", [this] { ask_operator(); }});
  if (bench_->has_specimen()) {
    all.push_back({"What holds for the series", "typed once for all pieces",
                   [this] { open("common", bench_->book()->series_of(bench_->specimen()).id); }});
    for (int i = 0; i < kStageCount; ++i)
      all.push_back({qs(stage_name(Stage(i))) + " " + qs(bench_->record().specimen_id()),
                     "Alt " + QString::number(i + 1), [this, i] { show_specimen(bench_->specimen(), i); }});
    const auto versions = bench_->book()->versions(bench_->specimen());
    for (size_t i = 1; i < std::min<size_t>(versions.size(), 12); ++i)
      all.push_back({"Version " + QString::number(versions[i].version) + " of " + qs(bench_->record().specimen_id()),
                     "saved " + qs(versions[i].saved_at).section('.', 0, 0).replace('T', ' ') + " UTC; go back to it",
                     [this, v = versions[i].version] { bench_->back_to(v); }});
    if (const auto e = bench_->evaluation())
      for (const ResultValue& r : e->results)
        all.push_back({"How: " + qs(r.spec.name), qs(plain_symbol(r.spec.symbol)), [this, key = qs(r.spec.key)] {
                         show_specimen(bench_->specimen(), int(Stage::evaluate));
                         if (ledger()->list()->open_key() != key) ledger()->list()->open_how(key);
                       }});
  }
  const QRect f = top_->find_area();
  find_->open(
      std::move(all), [this](const QString& typed, int most) { return found(typed, most); },
      QRect(std::max(8, f.left() - 120), top_->height() + 4, f.width() + 200, 380));
}

void MainWindow::new_spectrum(Id job) {
  const size_t n = bench_->book()->spectra(job).size();
  const auto id = bench_->book()->add_spectrum(job, "Spectrum " + std::to_string(n + 1));
  if (!id) return say(qs(id.error().message));
  bench_->touch_docket();
  open("spectrum", *id, int(spectrum::ChainStep::raw));
}

// Customers with their jobs, and documents by their number.
void MainWindow::add_papers(const QString& typed, const QStringList& words, std::vector<Doable>& into) {
  const Papers papers(static_cast<const Book&>(*bench_->book()));
  for (const OrderRow& row : words.isEmpty() ? std::vector<OrderRow>() : papers.orders()) {
    const QString text = qs(row.customer + " " + row.order + " " + row.project);
    if (!std::all_of(words.begin(), words.end(),
                     [&](const QString& w) { return text.contains(w, Qt::CaseInsensitive); }))
      continue;
    if (const auto job = bench_->book()->job_by_code(row.job))
      into.push_back({qs(row.customer) + ": " + qs(job->code + " " + job->title), qs(row.order),
                      [this, id = job->id] { open("job", id); }});
    if (into.size() > 60) break;
  }
  if (const auto d = papers.document(typed.trimmed().toStdString()))
    into.push_back(
        {"Document " + qs(d->number), qs(d->covers + ", " + d->state), [this, id = d->job] { open("job", id); }});
}

// "How do I type a number": the parts of the guide whose headings have what was typed, questions left out.
void MainWindow::add_guide(const QString& typed, std::vector<Doable>& into) {
  static const QSet<QString> asks = {"how", "do", "i", "to", "the", "a", "an", "what", "is", "are", "can", "where"};
  QStringList wanted;
  for (const QString& word : typed.toLower().split(' ', Qt::SkipEmptyParts))
    if (!asks.contains(word)) wanted << word;
  if (wanted.isEmpty()) return;
  const auto& all = guide_parts();
  for (size_t i = 0; i < all.size(); ++i)
    if (std::all_of(wanted.begin(), wanted.end(),
                    [&](const QString& w) { return all[i].heading.contains(w, Qt::CaseInsensitive); }))
      into.push_back({all[i].heading, "guide, F1", [this, part = int(i)] { open("guide", 0, part); }});
}

// Jobs and series first, as they are what many specimens share.
std::vector<Doable> MainWindow::found(const QString& typed, int most) {
  std::vector<Doable> groups, pieces;
  std::set<Id> jobs, series;
  // The word that stands before a series in the list is none of its name.
  const QString plain =
      QString(typed).remove(QRegularExpression("\\bseries:?(\\s|$)", QRegularExpression::CaseInsensitiveOption));
  const QStringList words = plain.split(' ', Qt::SkipEmptyParts);
  // A job or a series is offered when it is itself what was typed, not only one of its pieces.
  auto named = [&](const QString& text) {
    return std::all_of(words.begin(), words.end(),
                       [&](const QString& w) { return text.contains(w, Qt::CaseInsensitive); });
  };
  add_papers(typed, words, groups);
  // A label that was scanned, or its mark typed whole, is that piece before anything else.
  const ScannedMark label = read_label(typed.toStdString());
  std::set<Id> scanned;
  if (!label.mark.empty())
    for (const FoundRow& r : bench_->book()->search(label.mark, most)) {
      if (!same_mark(r.code, label.mark) || (!label.job.empty() && !same_mark(r.job_code, label.job))) continue;
      scanned.insert(r.specimen);
      groups.push_back(
          {qs(r.code), qs(r.job_code + " " + r.series_title), [this, id = r.specimen] { show_specimen(id); }});
    }
  for (const FoundRow& r : bench_->book()->search(plain.toStdString(), most)) {
    if (jobs.insert(r.job).second && named(qs(r.job_code + " " + r.job_title)))
      groups.push_back({qs(r.job_code + " " + r.job_title), "job", [this, id = r.job] { open("job", id); }});
    if (series.insert(r.series).second && named(qs(r.job_code + " " + r.job_title + " " + r.series_title)))
      groups.push_back({"Series: " + qs(r.series_title), qs(r.job_code), [this, id = r.series] { show_series(id); }});
    if (scanned.count(r.specimen) != 0) continue;
    pieces.push_back(
        {qs(r.code), qs(r.job_code + " " + r.series_title), [this, id = r.specimen] { show_specimen(id); }});
  }
  groups.insert(groups.end(), pieces.begin(), pieces.end());
  add_guide(plain, groups);
  // A line of the Slate is worked out while it is typed.
  if (const auto line = slate::read_line(typed.toStdString());
      line && line->calculator->id != "convert")  // the box converts units itself
    if (const auto answer = slate::work(*line->calculator, line->inputs, bench_->units()))
      groups.insert(groups.begin(),
                    {qs(slate::in_short(*answer, bench_->units())), qs(line->calculator->title), [this, typed] {
                       open("slate");
                       slate_->take(typed);
                     }});
  return groups;
}

}  // namespace fortitor
