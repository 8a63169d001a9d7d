// The guide, shipped with the program: F1 opens the part that is about where one is.
#pragma once

#include <QTextBrowser>

#include "app/frame/desk.h"

class QListWidget;

namespace fortitor {

/// A heading of the guide and the page it stands on.
struct GuidePart {
  QString page;     ///< "user-guide.md", "methods/tension-metal.md"
  QString heading;  ///< its words; of a whole page, its title
  int level = 1;
};
/// Every heading of every page, in order.
const std::vector<GuidePart>& guide_parts();
/// Number of the part about a desk, or about a method when a piece is in hand.
size_t guide_for(const QString& desk, const Method* method);

class GuideDesk : public Desk {
  Q_OBJECT

 public:
  explicit GuideDesk(Workbench* bench, QWidget* parent = nullptr);
  QString name() const override { return "guide"; }
  QString title() const override { return "Guide"; }
  Docket::Place place() const override { return Docket::Place::today; }
  /// `detail`: number of the part.
  void open(Id what, int detail) override;

 private:
  void show_part(size_t part);
  class Pages;
  QListWidget* parts_;
  Pages* pages_;
};

}  // namespace fortitor
