// A desk: what the window can hold in its middle. Desks are known by name; the window knows no other difference.
#pragma once

#include <QWidget>

#include <QStringList>
#include <vector>

#include "app/docket/docket.h"
#include "app/frame/doable.h"
#include "app/theme/theme.h"

namespace fortitor {

class WireBoard;

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

  /// What Find or do offers of it while nothing is typed.
  virtual std::vector<Doable> doable() { return {}; }
  /// What it has for what is typed or scanned.
  virtual std::vector<Doable> found(const QString& /*typed*/) { return {}; }
  /// It shows what is in the book: not to be opened while the server of a shared one does not answer, but for `what` it
  /// holds already.
  virtual bool of_the_book() const { return true; }
  virtual bool holds(Id /*what*/) const { return false; }
  /// It shows more of the book than one piece: looked at anew when another bench wrote.
  virtual bool over_the_book() const { return false; }
  /// Something goes on that the window must not be closed over ("A run is on").
  virtual QString busy() const { return {}; }
  /// Files that were dropped, or chosen; what the clipboard holds.
  virtual void take(const QStringList& /*paths*/) {}
  virtual void paste() {}
  virtual void units_changed() {}
  /// What speaks over a wire; and F8: whether it takes the reading into something of its own.
  virtual void listen_to(WireBoard* /*wires*/) {}
  virtual bool take_reading() { return false; }

 protected:
  /// The line of Find or do that opens this desk.
  Doable opens(const QString& line, const QString& detail, Id what = 0, int part = -1) {
    return {line, detail, [this, what, part] { emit desk_wanted(name(), what, part); }};
  }

 signals:
  void desk_wanted(const QString& name, fortitor::Id what, int detail);
};

}  // namespace fortitor
