#include "app/model/folder_watch.h"

#include <QPointer>
#include <QThreadPool>
#include <algorithm>
#include <filesystem>
#include <set>

namespace fortitor {
namespace {

struct Listing {
  Id bench = 0;
  std::string folder;
  bool there = false;
  std::vector<FileSeen> files;
};

}  // namespace

FolderWatch::FolderWatch(Workbench* bench, QObject* parent) : QObject(parent), bench_(bench) {
  beat_.setInterval(1500);
  connect(&beat_, &QTimer::timeout, this, &FolderWatch::look);
  beat_.start();
}

void FolderWatch::look() {
  if (looking_ || bench_->book() == nullptr) return;
  std::vector<Listing> wanted;
  if (const auto items = bench_->book()->kit())
    for (const kit::Item& i : *items)
      if (const std::string folder = i.fields.text("settings.folder"); i.is_bench() && !folder.empty())
        wanted.push_back({i.id, folder, false, {}});
  if (wanted.empty()) return emit looked();
  looking_ = true;
  const QPointer<FolderWatch> here(this);
  QThreadPool::globalInstance()->start([here, wanted]() mutable {
    for (Listing& l : wanted) {
      std::error_code fault;
      l.there = std::filesystem::is_directory(l.folder, fault);
      if (l.there) l.files = files_in(l.folder);
    }
    QMetaObject::invokeMethod(
        qApp,
        [here, wanted] {
          if (here.isNull()) return;
          here->looking_ = false;
          for (const Listing& l : wanted) {
            const bool said = std::find(here->missing_.begin(), here->missing_.end(), l.folder) != here->missing_.end();
            if (!l.there && !said) {
              here->missing_.push_back(l.folder);
              here->bench_->say("The folder that a bench watches is not there: " + QString::fromStdString(l.folder));
            }
            if (!l.there) continue;
            std::erase(here->missing_, l.folder);
            for (const std::string& path : here->folders_[{l.bench, l.folder}].look(l.files))
              emit here->came(l.bench, QString::fromStdString(path));
          }
          emit here->looked();
        },
        Qt::QueuedConnection);
  });
}

Id FolderWatch::next_piece(const kit::Item& bench) const {
  const Book& book = *bench_->book();
  const auto waits = [](const SpecimenRow& s) { return !s.signed_off && s.stages[size_t(Stage::run)] == '0'; };
  if (bench_->has_specimen() && !bench_->method().channels.empty())
    if (const auto here = book.specimen(bench_->specimen()); here && waits(*here)) return here->id;
  const auto items = book.kit();
  if (!items) return 0;
  std::set<Id> of_the_bench;
  for (const kit::Item& i : *items)
    if (bench.holds(i))
      for (const ItemUse& use : book.uses(i)) of_the_bench.insert(use.specimen);
  for (const JobOutline& job : book.outline())
    for (const auto& [series, pieces] : job.series) {
      const Method* m = methods::find(series.method);
      if (m == nullptr || m->channels.empty()) continue;
      for (const SpecimenRow& s : pieces)
        if (waits(s) && of_the_bench.count(s.id) != 0) return s.id;
    }
  return 0;
}

}  // namespace fortitor
