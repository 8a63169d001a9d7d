#include "app/theme/painted_parts.h"

#include <QAccessibleWidget>
#include <QPointer>
#include <QWidget>

#include "app/theme/heard_changes.h"
#include "app/theme/heard_controls.h"

namespace fortitor {
namespace {

// One part. It outlives neither its widget nor, silently, the part: what is gone has no name and no place.
class PartInterface : public QAccessibleInterface, public QAccessibleActionInterface {
 public:
  PartInterface(QWidget* owner, int index) : owner_(owner), index_(index) {}

  bool isValid() const override { return !owner_.isNull(); }
  QObject* object() const override { return nullptr; }
  QWindow* window() const override { return owner_ ? owner_->window()->windowHandle() : nullptr; }
  QAccessibleInterface* parent() const override { return QAccessible::queryAccessibleInterface(owner_); }
  QAccessibleInterface* child(int) const override { return nullptr; }
  QAccessibleInterface* childAt(int, int) const override { return nullptr; }
  int childCount() const override { return 0; }
  int indexOfChild(const QAccessibleInterface*) const override { return -1; }
  void setText(QAccessible::Text, const QString&) override {}
  QString text(QAccessible::Text what) const override {
    const PaintedPart p = part();
    return what == QAccessible::Name                                        ? p.name
           : what == QAccessible::Value || what == QAccessible::Description ? p.value
                                                                            : QString();
  }
  QRect rect() const override {
    const QRect r = part().where;
    return owner_ ? QRect(owner_->mapToGlobal(r.topLeft()), r.size()) : QRect();
  }
  QAccessible::Role role() const override { return part().role; }
  QAccessible::State state() const override {
    QAccessible::State s;
    const PaintedPart p = part();
    s.readOnly = !p.press;
    s.selectable = bool(p.press);
    s.selected = s.active = p.current;
    s.invisible = !owner_ || !owner_->isVisible() || p.name.isEmpty();
    s.offscreen = owner_ && !owner_->visibleRegion().intersects(p.where);
    return s;
  }
  void* interface_cast(QAccessible::InterfaceType type) override {
    return type == QAccessible::ActionInterface ? static_cast<QAccessibleActionInterface*>(this) : nullptr;
  }
  QStringList actionNames() const override { return part().press ? QStringList{pressAction()} : QStringList{}; }
  void doAction(const QString& name) override {
    if (const PaintedPart p = part(); name == pressAction() && p.press) p.press();
  }
  QStringList keyBindingsForAction(const QString&) const override { return {}; }
  int index() const { return index_; }
  const QWidget* owner() const { return owner_; }

 private:
  PaintedPart part() const {
    auto* parts = dynamic_cast<PaintedParts*>(owner_.data());
    if (parts == nullptr) return {};
    const std::vector<PaintedPart> all = parts->painted_parts();
    return size_t(index_) < all.size() ? all[size_t(index_)] : PaintedPart{};
  }
  QPointer<QWidget> owner_;
  int index_;
};

// The widget as a list: its own child widgets first, then what it paints.
class PaintedInterface : public QAccessibleWidget {
 public:
  explicit PaintedInterface(QWidget* w) : QAccessibleWidget(w, QAccessible::List) {}
  ~PaintedInterface() override {
    for (QAccessible::Id id : ids_)
      if (id != 0) QAccessible::deleteAccessibleInterface(id);
  }
  int childCount() const override { return QAccessibleWidget::childCount() + parts(); }
  QAccessibleInterface* child(int at) const override {
    const int own = QAccessibleWidget::childCount(), index = at - own;
    if (index < 0) return QAccessibleWidget::child(at);
    if (index >= parts()) return nullptr;
    if (size_t(index) >= ids_.size()) ids_.resize(size_t(index) + 1, 0);
    QAccessible::Id& id = ids_[size_t(index)];
    if (id == 0) id = QAccessible::registerAccessibleInterface(new PartInterface(widget(), index));
    return QAccessible::accessibleInterface(id);
  }
  int indexOfChild(const QAccessibleInterface* child) const override {
    const auto* part = dynamic_cast<const PartInterface*>(child);
    return part != nullptr && part->owner() == widget() ? QAccessibleWidget::childCount() + part->index()
                                                        : QAccessibleWidget::indexOfChild(child);
  }
  QAccessibleInterface* childAt(int x, int y) const override {
    const std::vector<PaintedPart> all = dynamic_cast<PaintedParts*>(widget())->painted_parts();
    const QPoint at = widget()->mapFromGlobal(QPoint(x, y));
    for (size_t i = 0; i < all.size(); ++i)
      if (all[i].where.contains(at)) return child(QAccessibleWidget::childCount() + int(i));
    return QAccessibleWidget::childAt(x, y);
  }

 private:
  int parts() const { return int(dynamic_cast<PaintedParts*>(widget())->painted_parts().size()); }
  mutable std::vector<QAccessible::Id> ids_;  // by index; 0: not asked for yet
};

QAccessibleInterface* made(const QString&, QObject* object) {
  if (QAccessibleInterface* control = heard_control(object)) return control;
  auto* widget = qobject_cast<QWidget*>(object);
  return widget != nullptr && dynamic_cast<PaintedParts*>(widget) != nullptr ? new PaintedInterface(widget) : nullptr;
}

}  // namespace

void hear_window() {
  static const bool once = [] {
    QAccessible::installFactory(made);
    tell_changes();
    return true;
  }();
  (void)once;
}

}  // namespace fortitor
