// A desk: what the window can hold in its middle. Desks are known by name; the window knows no other difference.
#pragma once

#include <QWidget>

#include "app/docket/docket.h"
#include "app/theme/theme.h"

namespace fortitor {

class Desk : public QWidget {
  Q_OBJECT

 public:
  using QWidget::QWidget;
  /// "today", "specimen": how the rest of the program asks for it.
  virtual QString name() const = 0;
  /// Where one is, for the top bar.
  virtual QString title() const = 0;
  /// What of the docket belongs to it.
  virtual Docket::Place place() const = 0;
  /// A sentence when `what` cannot be opened now; empty when nothing stands in the way.
  virtual QString obstacle(Id what) const { return what < 0 ? QString("There is nothing of that name.") : QString(); }
  /// Shows `what` (a specimen, a series; 0 where there is only one thing), `detail` as the desk understands it.
  virtual void open(Id what, int detail) = 0;
  virtual void leave() {}
  /// Hangs the style sheet on it, or on the parts of a large one (theme::dress()).
  virtual void dress() { theme::dress(this); }
  /// A narrow window gives it the room of the docket.
  virtual bool wants_room() const { return false; }

 signals:
  void desk_wanted(const QString& name, fortitor::Id what, int detail);
};

}  // namespace fortitor
