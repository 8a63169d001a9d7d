#include "app/theme/parts.h"

namespace fortitor::parts {

QLabel* label(const QString& text, const char* role, QWidget* parent) {
  auto* l = new QLabel(parent);
  l->setTextFormat(Qt::PlainText);
  l->setText(text);
  l->setObjectName(role);
  l->setWordWrap(true);
  return l;
}

QLabel* rich_label(const QString& html, const char* role, QWidget* parent) {
  auto* l = label({}, role, parent);
  l->setTextFormat(Qt::RichText);
  l->setText(html);
  return l;
}

QFrame* sheet(QWidget* parent) {
  auto* f = new QFrame(parent);
  f->setObjectName("sheet");
  return f;
}

QVBoxLayout* column(QWidget* owner, int margin, int gap) {
  auto* l = new QVBoxLayout(owner);
  l->setContentsMargins(margin, margin, margin, margin);
  l->setSpacing(gap);
  return l;
}

QPushButton* button(const QString& text, const QString& name, const char* role, QWidget* parent) {
  auto* b = new QPushButton(text, parent);
  b->setObjectName(*role ? QString(role) : name);
  b->setProperty("key", name);
  b->setAccessibleName(text);
  b->setCursor(Qt::PointingHandCursor);
  return b;
}

QScrollArea* scroller(QWidget* content) {
  auto* area = new QScrollArea;
  area->setWidgetResizable(true);
  area->setFrameShape(QFrame::NoFrame);
  area->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  area->setWidget(content);
  return area;
}

void clear(QLayout* layout) {
  while (QLayoutItem* item = layout->takeAt(0)) {
    if (item->widget() != nullptr) {
      item->widget()->hide();
      item->widget()->deleteLater();
    }
    if (item->layout() != nullptr) clear(item->layout());
    delete item;
  }
}

}  // namespace fortitor::parts
