// Folders of the benches into which the machines' own programs write: each file that came is told.
#pragma once

#include <QObject>
#include <QTimer>
#include <map>

#include "app/model/workbench.h"
#include "core/bench/watched.h"

namespace fortitor {

class FolderWatch : public QObject {
  Q_OBJECT

 public:
  explicit FolderWatch(Workbench* bench, QObject* parent = nullptr);
  /// Looks once, beside the window: a folder on a net may take its time. Called every second and a half.
  void look();

  /// The piece that a file of this bench belongs to: the one in hand when it waits for a run, else the first that
  /// waits and whose record names an item of the bench; 0: none.
  Id next_piece(const kit::Item& bench) const;

 signals:
  /// `bench`: number of the bench in the Kit.
  void came(fortitor::Id bench, const QString& path);
  /// The folders were looked through.
  void looked();

 private:
  Workbench* bench_;
  QTimer beat_;
  bool looking_ = false;
  std::map<std::pair<Id, std::string>, WatchedFolder> folders_;
  std::vector<std::string> missing_;  ///< folders that were said to be missing
};

}  // namespace fortitor
