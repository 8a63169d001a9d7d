// A file that a machine's own program wrote, offered at once: as the run of the piece that waits for it, or to be
// looked at.
#pragma once

#include <QFrame>
#include <QLabel>
#include <QPushButton>
#include <deque>

#include "app/model/folder_watch.h"
#include "app/theme/widgets.h"

namespace fortitor {

class OfferStrip : public QFrame {
  Q_OBJECT

 public:
  explicit OfferStrip(Workbench* bench, FolderWatch* watch, QWidget* parent = nullptr);

 signals:
  /// The file is wanted as the run of that piece.
  void run_wanted(fortitor::Id piece, const QString& path);
  /// The file is wanted among what came in.
  void look_wanted(const QString& path);

 private:
  struct Offer {
    QString bench, path;
    Id piece = 0;
    QString mark;
  };
  void show_next();
  void done();

  Workbench* bench_;
  std::deque<Offer> offers_;
  QLabel* words_;
  QPushButton *take_, *look_;
};

}  // namespace fortitor
