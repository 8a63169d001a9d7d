// Find or do…: what can be done now, and what the book has for what is typed or scanned.
#include <QFileDialog>
#include <QRegularExpression>
#include <algorithm>
#include <set>

#include "app/frame/desk.h"
#include "app/frame/find_box.h"
#include "app/frame/main_window.h"
#include "app/frame/top_bar.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "core/bench/marks.h"

namespace fortitor {

using parts::qs;

void MainWindow::open_find() {
  std::vector<Doable> all;
  for (Desk* desk : desks_)
    for (Doable& line : desk->doable()) all.push_back(std::move(line));
  all.push_back({"Machine's files…", "pieces out of files; or drop them anywhere", [this] {
                   const QStringList files = QFileDialog::getOpenFileNames(this, spoken("Files of a testing machine"));
                   if (!files.isEmpty()) take_files(files);
                 }});
  all.push_back({"Units: SI, US customary, kgf", "Ctrl U", [this] { next_units(); }});
  all.push_back({"Light or dark", "Ctrl D", [] { theme::set_dark(!theme::dark()); }});
  all.push_back({theme::strong() ? "Usual contrast" : "Higher contrast", "words and lines seen from further off",
                 [] { theme::set_strong(!theme::strong()); }});
  all.push_back({theme::calm() ? "Usual motion" : "Less motion", "hands of dials stand where they end",
                 [] { theme::set_calm(!theme::calm()); }});
  all.push_back({"Tour", "three minutes on a stand-in machine", [this] { open("tour"); }});
  for (const Language l : kLanguages)
    if (l != tongue().language())
      all.push_back({qs(language_name(l)), "language of the window", [this, l] { emit language_chosen(l); }});
  all.push_back({"Larger text", "", [] { theme::set_scale(theme::scale() + 0.25); }});
  all.push_back({"Smaller text", "", [] { theme::set_scale(theme::scale() - 0.25); }});
  all.push_back({"Docket beside the bench", "Ctrl B", [this] {
                   docket_wanted_ = !docket_area_->isVisible();
                   make_room();
                 }});
  all.push_back({"Undo", "Ctrl Z", [this] { bench_->undo().undo(); }});
  all.push_back({"Redo", "Ctrl Shift Z", [this] { bench_->undo().redo(); }});
  all.push_back({"Back the book up…", "a checked copy in a folder", [this] { back_up(); }});
  all.push_back({"Save the book elsewhere…", "and go on there", [this] { save_elsewhere(); }});
  all.push_back({"Open a shared book…", "on a server, with other benches", [this] { ask_shared(); }});
  all.push_back({"Foot switch…", "the key that takes a reading, beside F8", [this] { ask_take_key(); }});
  all.push_back({"Operator", "who stands at the bench", [this] { ask_operator(); }});
  const QRect f = top_->find_area();
  find_->open(
      std::move(all), [this](const QString& typed, int most) { return found(typed, most); },
      QRect(std::max(8, f.left() - 120), top_->height() + 4, f.width() + 200, 380));
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
  for (Desk* desk : desks_)
    for (Doable& line : desk->found(plain)) groups.push_back(std::move(line));
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
  std::ranges::stable_sort(groups, {}, &Doable::rank);
  return groups;
}

}  // namespace fortitor
