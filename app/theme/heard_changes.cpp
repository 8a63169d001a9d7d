#include "app/theme/heard_changes.h"

#include <QApplication>
#include <QEvent>
#include <QHash>
#include <QPointer>
#include <QSet>
#include <QTimer>
#include <QWidget>

namespace fortitor {
namespace {

constexpr size_t kMostTold = 24;  ///< more at once is another page, not a change

int in_hand(const std::vector<PaintedPart>& parts) {
  for (size_t i = 0; i < parts.size(); ++i)
    if (parts[i].current) return int(i);
  return -1;
}

// Watches the drawing of painted widgets. A widget is asked once the drawing is over, and once for several drawings.
class Teller : public QObject {
 public:
  using QObject::QObject;

 protected:
  bool eventFilter(QObject* object, QEvent* event) override {
    if (event->type() != QEvent::Paint || !QAccessible::isActive()) return false;
    auto* widget = qobject_cast<QWidget*>(object);
    if (widget == nullptr || waiting_.contains(widget) || dynamic_cast<PaintedParts*>(widget) == nullptr) return false;
    waiting_.insert(widget);
    QTimer::singleShot(0, this, [this, key = widget, alive = QPointer<QWidget>(widget)] {
      waiting_.remove(key);
      if (alive) tell(alive);
    });
    return false;
  }

 private:
  void tell(QWidget* widget) {
    if (!told_.contains(widget)) connect(widget, &QObject::destroyed, this, [this, widget] { told_.remove(widget); });
    std::vector<PaintedPart> is = dynamic_cast<PaintedParts*>(widget)->painted_parts();
    for (PaintedPart& p : is) p.press = {};  // what it would do may hold what is gone
    const bool first = !told_.contains(widget);
    const std::vector<HeardChange> changes =
        first ? std::vector<HeardChange>{} : heard_changes(told_.value(widget), is);
    told_[widget] = std::move(is);
    QAccessibleInterface* list = QAccessible::queryAccessibleInterface(widget);
    if (list == nullptr) return;
    const int before = list->childCount() - int(told_[widget].size());  // its own child widgets stand first
    for (const HeardChange& c : changes) {
      if (c.what == QAccessible::Focus && !widget->hasFocus()) continue;
      QAccessibleEvent event(widget, c.what);
      if (c.part >= 0) event.setChild(before + c.part);
      QAccessible::updateAccessibility(&event);
    }
  }

  QSet<QWidget*> waiting_;
  QHash<QWidget*, std::vector<PaintedPart>> told_;
};

}  // namespace

std::vector<HeardChange> heard_changes(const std::vector<PaintedPart>& was, const std::vector<PaintedPart>& is) {
  std::vector<HeardChange> out;
  const size_t both = std::min(was.size(), is.size());
  for (size_t i = 0; i < both; ++i) {
    if (was[i].name != is[i].name) out.push_back({QAccessible::NameChanged, int(i)});
    if (was[i].value != is[i].value) out.push_back({QAccessible::DescriptionChanged, int(i)});
  }
  for (size_t i = both; i < is.size(); ++i) out.push_back({QAccessible::ObjectCreated, int(i)});
  if (out.size() > kMostTold)
    out = {{QAccessible::ObjectReorder, -1}};
  else if (was.size() > both)
    out.push_back({QAccessible::ObjectReorder, -1});
  if (const int now = in_hand(is); now >= 0 && now != in_hand(was)) {
    out.push_back({QAccessible::Selection, now});
    out.push_back({QAccessible::Focus, now});
  }
  return out;
}

void tell_changes() {
  qApp->installEventFilter(new Teller(qApp));
}

}  // namespace fortitor
