#include "app/stages/offer_list.h"
#include "app/theme/spoken.h"

#include <QKeyEvent>

namespace fortitor {

OfferList::OfferList(QLineEdit* line, QStringList names) : QListWidget(line), line_(line), names_(std::move(names)) {
  setObjectName("offer");
  setProperty("key", "offer:" + line->property("key").toString());
  setAccessibleName(spoken("Names that fit"));
  setFocusPolicy(Qt::NoFocus);
  hide();
  line->installEventFilter(this);
  connect(line, &QLineEdit::textEdited, this, &OfferList::offer);
  connect(this, &QListWidget::itemClicked, this, &OfferList::pick);
}

void OfferList::offer(const QString& typed) {
  constexpr int kMost = 8;
  clear();
  const QString wanted = typed.trimmed();
  for (const QString& name : names_)
    if (!wanted.isEmpty() && name.contains(wanted, Qt::CaseInsensitive) && count() < kMost) addItem(name);
  if (count() == 0 || (count() == 1 && item(0)->text().compare(wanted, Qt::CaseInsensitive) == 0)) return hide();
  setCurrentRow(-1);
  setParent(line_->window());  // over its neighbours, not cut by them
  const int height = std::min(count(), kMost) * (sizeHintForRow(0) + 1) + 2 * frameWidth() + 2;
  const QPoint below = line_->mapTo(line_->window(), QPoint(0, line_->height() + 2));
  setGeometry(below.x(), below.y(), std::max(line_->width(), 200), height);
  show();
  raise();
}

void OfferList::pick() {
  const QListWidgetItem* item = currentItem();
  hide();
  if (item != nullptr) emit picked(item->text());
}

bool OfferList::eventFilter(QObject* object, QEvent* event) {
  if (object == line_ && event->type() == QEvent::FocusOut) hide();
  if (object == line_ && event->type() == QEvent::KeyPress && isVisible()) {
    const int key = static_cast<QKeyEvent*>(event)->key();
    if (key == Qt::Key_Down || key == Qt::Key_Up) {
      setCurrentRow(
          (currentRow() + (key == Qt::Key_Down ? 1 : count() - 1) + (currentRow() < 0 && key == Qt::Key_Up ? 1 : 0)) %
          count());
      return true;
    }
    if (key == Qt::Key_Escape) return hide(), true;
    if (key == Qt::Key_Return || key == Qt::Key_Enter) {
      if (currentRow() >= 0) return pick(), true;
      hide();
    }
  }
  return QListWidget::eventFilter(object, event);
}

}  // namespace fortitor
