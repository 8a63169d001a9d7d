// From the tables of a file to runs in the book, beside the window.
#include <QComboBox>
#include <QFileInfo>
#include <QPointer>
#include <algorithm>

#include "app/stages/import_panel.h"
#include "app/theme/parts.h"
#include "core/quantity/plain.h"

namespace fortitor {

using parts::qs;

void ImportPanel::convert(const std::vector<size_t>& blocks,
                          const std::function<void(const Outcome<std::vector<SamplesPtr>>&)>& then) {
  constexpr size_t kLong = 100000;  // rows that are turned within a few milliseconds
  const auto work = session_->conversion(blocks, bench_->method());
  if (session_->rows(blocks) <= kLong) return then(work());
  const auto came = std::make_shared<Outcome<std::vector<SamplesPtr>>>(InputError{"stopped", {}});
  bench_->tasks().run(
      "Reading the columns", this, [work, came](Task&) { *came = work(); }, [then, came] { then(*came); });
}

void ImportPanel::import() {
  if (!ready_) return;
  import_->setEnabled(false);
  const QPointer<ImportPanel> here(this);  // runs are kept beside the window, which may be closed meanwhile
  convert({session_->block()}, [this, here, name = QFileInfo(path_).fileName(), tested = said_of(session_->block()),
                                piece = bench_->specimen()](const Outcome<std::vector<SamplesPtr>>& samples) {
    if (!samples) {
      import_->setEnabled(ready_);
      return bench_->say(qs(samples.error().message));
    }
    const SamplesPtr run = samples->front();
    bench_->import_run(
        piece, run, events(), "file " + name,
        [this, here, name, run](const Outcome<Done>& done) {
          if (here.isNull()) return;
          if (!done) {
            import_->setEnabled(ready_);
            return bench_->say(qs(done.error().message));
          }
          bench_->say("Imported " + QString::number(run->size()) + " samples from " + name + "." + remember());
          ready_ = false;
          emit imported();
        },
        tested);
  });
}

// The day and the person that the file names for one of its tables.
Tested ImportPanel::said_of(size_t block) const {
  const FileSays says = session_->says(block);
  return {says.tested_at, says.operator_name};
}

// The specimen that is shown goes to this piece, the ones after it to the pieces after this one.
void ImportPanel::spread() {
  if (!ready_) return;
  const auto pieces = waiting();
  const size_t first = size_t(std::max(0, blocks_->currentIndex()));
  const size_t n = std::min(pieces.size(), session_->blocks() - first);
  std::vector<size_t> blocks;
  QStringList names;
  for (size_t i = 0; i < n; ++i) {
    blocks.push_back(first + i);
    names << blocks_->itemText(int(first + i));
  }
  convert(
      blocks, [this, pieces, names, name = QFileInfo(path_).fileName()](const Outcome<std::vector<SamplesPtr>>& runs) {
        if (!runs) {
          const int at = runs.error().choices.empty() ? 0 : int(plain::whole(runs.error().choices.front()).value_or(0));
          return bench_->say("Nothing is imported: " + names.value(at) + ": " + qs(runs.error().message));
        }
        spread_next(pieces, *runs, names, name, runs->size(), {});
      });
}

// One piece after the other, the one on the bench last: its page changes with it.
void ImportPanel::spread_next(const std::vector<SpecimenRow>& pieces, const std::vector<SamplesPtr>& runs,
                              const QStringList& names, const QString& file, size_t left, const QStringList& done) {
  if (left == 0) {
    bench_->say("Imported " + QString::number(runs.size()) + " runs from " + file + ": " + done.join(", ") + "." +
                remember());
    ready_ = false;
    import_->setEnabled(false);
    emit imported();
    return;
  }
  const size_t i = left - 1;
  bench_->import_run(
      pieces[i].id, runs[i], events(), "file " + file + ", " + names[int(i)].section(" · ", 0, 0),
      [=, this, here = QPointer<ImportPanel>(this)](const Outcome<Done>& kept) {
        if (here.isNull()) return;
        if (!kept)
          return bench_->say(done.join(", ") + (done.isEmpty() ? "" : " imported. ") + qs(kept.error().message));
        spread_next(pieces, runs, names, file, i, QStringList{qs(pieces[i].code)} + done);
      },
      said_of(size_t(std::max(0, blocks_->currentIndex())) + i));
}

}  // namespace fortitor
