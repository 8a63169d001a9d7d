#include "app/theme/heard_controls.h"

#include <QAbstractButton>
#include <QAccessibleWidget>
#include <QApplication>
#include <QComboBox>
#include <QKeyEvent>
#include <QLineEdit>
#include <QRadioButton>

namespace fortitor {
namespace {

// A choice: pressing opens its list, increase and decrease step through it.
class ChoiceInterface : public QAccessibleWidget {
 public:
  explicit ChoiceInterface(QComboBox* box) : QAccessibleWidget(box, QAccessible::ComboBox) {}
  QString text(QAccessible::Text what) const override {
    // The bridge passes names and descriptions on, values of numbers only.
    return what == QAccessible::Value || what == QAccessible::Description ? box()->currentText()
                                                                          : QAccessibleWidget::text(what);
  }
  QStringList actionNames() const override {
    return {pressAction(), increaseAction(), decreaseAction(), setFocusAction()};
  }
  void doAction(const QString& name) override {
    if (name == pressAction()) return box()->showPopup();
    if (name != increaseAction() && name != decreaseAction()) return QAccessibleWidget::doAction(name);
    const int next = box()->currentIndex() + (name == increaseAction() ? 1 : -1);
    if (next < 0 || next >= box()->count() || !box()->isEnabled()) return;
    box()->setCurrentIndex(next);
    emit box()->activated(next);  // as from a hand
  }

 private:
  QComboBox* box() const { return static_cast<QComboBox*>(widget()); }
};

// A box to tick: its toggle is a click, as from a hand (the toolkit's only sets it, and nobody who waits for a click
// hears of it).
class TickInterface : public QAccessibleWidget {
 public:
  explicit TickInterface(QAbstractButton* box)
      : QAccessibleWidget(
            box, qobject_cast<QRadioButton*>(box) != nullptr ? QAccessible::RadioButton : QAccessible::CheckBox) {}
  QString text(QAccessible::Text what) const override {
    const QString own = QAccessibleWidget::text(what);
    return what == QAccessible::Name && own.isEmpty() ? box()->text().remove('&') : own;
  }
  QAccessible::State state() const override {
    QAccessible::State s = QAccessibleWidget::state();
    s.checkable = true;
    s.checked = box()->isChecked();
    return s;
  }
  QStringList actionNames() const override {
    return box()->isEnabled() ? QStringList{toggleAction(), setFocusAction()} : QStringList{};
  }
  void doAction(const QString& name) override {
    if (name != toggleAction()) return QAccessibleWidget::doAction(name);
    box()->click();
  }

 private:
  QAbstractButton* box() const { return static_cast<QAbstractButton*>(widget()); }
};

// A line of text.
class LineInterface : public QAccessibleWidget,
                      public QAccessibleTextInterface,
                      public QAccessibleEditableTextInterface {
 public:
  explicit LineInterface(QLineEdit* line) : QAccessibleWidget(line, QAccessible::EditableText) {}
  QString text(QAccessible::Text what) const override {
    if (what == QAccessible::Value) return shown();
    const QString own = QAccessibleWidget::text(what);
    return what == QAccessible::Description && own.isEmpty() ? line()->placeholderText() : own;
  }
  void setText(QAccessible::Text what, const QString& text) override {
    if (what == QAccessible::Value) put(text);
  }
  QAccessible::State state() const override {
    QAccessible::State s = QAccessibleWidget::state();
    s.editable = !line()->isReadOnly();
    s.readOnly = line()->isReadOnly();
    s.passwordEdit = line()->echoMode() != QLineEdit::Normal;
    s.selectableText = true;
    return s;
  }
  void* interface_cast(QAccessible::InterfaceType type) override {
    if (type == QAccessible::TextInterface) return static_cast<QAccessibleTextInterface*>(this);
    if (type == QAccessible::EditableTextInterface) return static_cast<QAccessibleEditableTextInterface*>(this);
    return QAccessibleWidget::interface_cast(type);
  }
  QStringList actionNames() const override { return {pressAction(), setFocusAction()}; }
  void doAction(const QString& name) override {
    if (name != pressAction()) return QAccessibleWidget::doAction(name);
    for (const QEvent::Type type : {QEvent::KeyPress, QEvent::KeyRelease}) {
      QKeyEvent enter(type, Qt::Key_Return, Qt::NoModifier, "\r");
      QApplication::sendEvent(line(), &enter);
    }
  }
  // Text.
  void selection(int, int* from, int* to) const override {
    *from = std::max(0, line()->selectionStart());
    *to = *from + int(line()->selectedText().size());
  }
  int selectionCount() const override { return line()->hasSelectedText() ? 1 : 0; }
  void addSelection(int from, int to) override { setSelection(0, from, to); }
  void removeSelection(int) override { line()->deselect(); }
  void setSelection(int, int from, int to) override { line()->setSelection(from, to - from); }
  int cursorPosition() const override { return line()->cursorPosition(); }
  void setCursorPosition(int at) override { line()->setCursorPosition(at); }
  QString text(int from, int to) const override { return shown().mid(from, to - from); }
  int characterCount() const override { return int(shown().size()); }
  QRect characterRect(int) const override { return rect(); }
  int offsetAtPoint(const QPoint& at) const override { return line()->cursorPositionAt(line()->mapFromGlobal(at)); }
  void scrollToSubstring(int from, int to) override { line()->setSelection(from, to - from); }
  QString attributes(int, int* from, int* to) const override {
    *from = 0;
    *to = characterCount();
    return {};
  }
  // Editing.
  void deleteText(int from, int to) override { put(line()->text().remove(from, to - from)); }
  void insertText(int at, const QString& text) override { put(line()->text().insert(at, text)); }
  void replaceText(int from, int to, const QString& text) override {
    put(line()->text().replace(from, to - from, text));
  }

 private:
  QLineEdit* line() const { return static_cast<QLineEdit*>(widget()); }
  // What is not to be read by others is not read out either.
  QString shown() const { return line()->echoMode() == QLineEdit::Normal ? line()->text() : line()->displayText(); }
  void put(const QString& text) {
    if (line()->isReadOnly() || !line()->isEnabled()) return;
    line()->setText(text);
    line()->setModified(true);  // as typed
    emit line()->textEdited(text);
  }
};

}  // namespace

QAccessibleInterface* heard_control(QObject* object) {
  if (auto* box = qobject_cast<QComboBox*>(object)) return box->isEditable() ? nullptr : new ChoiceInterface(box);
  if (auto* button = qobject_cast<QAbstractButton*>(object); button != nullptr && button->isCheckable())
    return new TickInterface(button);
  auto* line = qobject_cast<QLineEdit*>(object);
  return line != nullptr ? new LineInterface(line) : nullptr;
}

}  // namespace fortitor
