#include "app/stages/compare.h"

#include <algorithm>

#include "app/theme/parts.h"
#include "core/bench/marks.h"
#include "core/figure/beneath.h"

namespace fortitor {

using parts::qs;

Compare::Compare(Workbench* bench, QObject* parent) : QObject(parent), bench_(bench) {
  connect(bench, &Workbench::specimen_changed, this, &Compare::clear);
}

void Compare::clear() {
  if (pieces_.empty()) return;
  pieces_.clear();
  emit changed();
}

std::vector<SpecimenRow> Compare::tested() const {
  std::vector<SpecimenRow> out;
  if (!bench_->has_specimen()) return out;
  for (const SpecimenRow& s : bench_->book()->specimens(bench_->book()->series_of(bench_->specimen()).id))
    if (s.id != bench_->specimen() && s.stages[size_t(Stage::run)] != '0') out.push_back(s);
  return out;
}

void Compare::toggle(Id piece) {
  if (pieces_.erase(piece) > 0) return emit changed();
  take(piece);
}

void Compare::take_series() {
  for (const SpecimenRow& s : tested())
    if (pieces_.size() < kMost && pieces_.count(s.id) == 0) take(s.id);
}

bool Compare::take_mark(const QString& typed) {
  const ScannedMark label = read_label(typed.toStdString());
  if (!label.mark.empty())
    for (const FoundRow& r : bench_->book()->search(label.mark, 50)) {
      if (!same_mark(r.code, label.mark) || (!label.job.empty() && !same_mark(r.job_code, label.job))) continue;
      if (r.specimen == bench_->specimen() || bench_->book()->series_of(r.specimen).method != bench_->method().id)
        continue;
      if (pieces_.count(r.specimen) == 0) take(r.specimen);
      return true;
    }
  bench_->say("No other piece of this method has the mark “" + typed.trimmed() + "”.");
  return false;
}

void Compare::take(Id piece) {
  if (pieces_.size() >= kMost) return bench_->say("At most " + QString::number(kMost) + " curves lie beneath.");
  const auto row = bench_->book()->specimen(piece);
  if (!row) return;
  pieces_[piece].mark = qs(row->code);
  const auto came = std::make_shared<EvaluationPtr>();
  const auto why = std::make_shared<QString>();
  const Id hand = bench_->specimen();
  bench_->tasks().run(
      "Reading the piece " + qs(row->code), this,
      [=, pass = bench_->book()->pass(), day = bench_->today()](Task&) {
        auto book = Book::open(pass);
        const auto record = book ? (*book)->record(piece) : Outcome<TestRecord>(book.error());
        if (!record) {
          *why = qs(record.error().message);
          return;
        }
        *came = std::make_shared<const Evaluation>(methods::evaluate(*record, {.uncertainty = false, .today = day}));
      },
      [=, this] {
        const auto at = pieces_.find(piece);
        if (at == pieces_.end() || hand != bench_->specimen()) return;
        if (*came == nullptr) {
          pieces_.erase(at);
          return bench_->say(*why);
        }
        at->second.evaluation = *came;
        emit changed();
      });
}

void Compare::lay(Figure& figure) const {
  int tone = 0;
  for (const auto& [id, beside] : pieces_) {
    const int own = tone++ % 5;  // the sixth is that of the piece in hand
    if (beside.evaluation == nullptr) continue;
    for (const Figure& f : beside.evaluation->figures)
      if (f.id == figure.id) figure::lay_beneath(figure, f, beside.mark.toStdString(), own);
  }
}

void Compare::fill(QMenu& menu) {
  menu.clear();
  const auto series = tested();
  for (size_t i = 0; i < std::min<size_t>(series.size(), 30); ++i) {
    QAction* a = menu.addAction(spoken(qs(series[i].code).replace("&", "&&")));
    a->setCheckable(true);
    a->setChecked(pieces_.count(series[i].id) != 0);
    connect(a, &QAction::triggered, this, [this, id = series[i].id] { toggle(id); });
  }
  if (series.empty()) menu.addAction(spoken("No other piece of the series was tested yet"))->setEnabled(false);
  menu.addSeparator();
  if (series.size() > 1)
    connect(menu.addAction(spoken("The whole series")), &QAction::triggered, this, &Compare::take_series);
  connect(menu.addAction(spoken("Another piece…")), &QAction::triggered, this, &Compare::mark_wanted);
  if (!pieces_.empty()) connect(menu.addAction(spoken("None")), &QAction::triggered, this, &Compare::clear);
}

}  // namespace fortitor
