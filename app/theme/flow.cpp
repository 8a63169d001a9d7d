#include "app/theme/flow.h"

#include <algorithm>

namespace fortitor {

FlowLayout::FlowLayout(int gap, QWidget* parent) : QLayout(parent), gap_(gap), next_gap_(gap) {
  setContentsMargins(0, 0, 0, 0);
}

FlowLayout::~FlowLayout() {
  for (const Item& i : items_) delete i.item;
}

void FlowLayout::addItem(QLayoutItem* item) {
  items_.push_back({item, next_gap_, group_begins_});
  next_gap_ = gap_;
  group_begins_ = false;
}

void FlowLayout::begin_group(int gap) {
  next_gap_ = gap;
  group_begins_ = true;
}

QLayoutItem* FlowLayout::itemAt(int index) const {
  return index >= 0 && index < count() ? items_[size_t(index)].item : nullptr;
}

QLayoutItem* FlowLayout::takeAt(int index) {
  if (index < 0 || index >= count()) return nullptr;
  QLayoutItem* item = items_[size_t(index)].item;
  items_.erase(items_.begin() + index);
  return item;
}

void FlowLayout::setGeometry(const QRect& rect) {
  QLayout::setGeometry(rect);
  lay(rect, true);
}

QSize FlowLayout::minimumSize() const {
  QSize size;
  for (const Item& i : items_)
    if (!i.item->isEmpty()) size = size.expandedTo(i.item->minimumSize());
  return size;
}

int FlowLayout::width_of_group(size_t first) const {
  int width = 0;
  for (size_t i = first; i < items_.size() && (i == first || !items_[i].begins_group); ++i)
    if (!items_[i].item->isEmpty()) width += (width > 0 ? items_[i].gap : 0) + items_[i].item->sizeHint().width();
  return width;
}

int FlowLayout::lay(const QRect& rect, bool move) const {
  int x = rect.left(), y = rect.top(), line = 0;
  const Item* group = nullptr;  // one that begins: with its first item that is shown
  for (size_t at = 0; at < items_.size(); ++at) {
    const Item& i = items_[at];
    if (i.begins_group) group = &i;
    if (i.item->isEmpty()) continue;  // hidden
    const QSize wanted = i.item->sizeHint();
    const int width = std::min(wanted.width(), std::max(1, rect.width()));
    const int gap = group != nullptr ? group->gap : i.gap, together = group != nullptr ? width_of_group(at) : width;
    group = nullptr;
    if (x > rect.left() && x + gap + together > rect.left() + rect.width()) {
      x = rect.left();
      y += line + gap_;
      line = 0;
    } else if (x > rect.left()) {
      x += gap;
    }
    if (move) i.item->setGeometry({x, y, width, wanted.height()});
    x += width;
    line = std::max(line, wanted.height());
  }
  return y + line - rect.top();
}

}  // namespace fortitor
