#include "app/theme/parts.h"

#include <QHash>
#include <QPainter>
#include <QStyle>
#include <tuple>

#include "app/theme/theme.h"

namespace fortitor::parts {
namespace {

class Line : public QLabel {
 public:
  using QLabel::QLabel;
  QSize minimumSizeHint() const override { return {fontMetrics().averageCharWidth() * 8, QLabel::sizeHint().height()}; }

 protected:
  void paintEvent(QPaintEvent*) override {
    QPainter p(this);
    const QString shown = fontMetrics().elidedText(text(), Qt::ElideRight, width());
    setToolTip(shown == text() ? QString() : theme::plain_tip(text()));
    style()->drawItemText(&p, rect(), Qt::AlignLeft | Qt::AlignVCenter, palette(), isEnabled(), shown,
                          foregroundRole());
  }
};

// A label that knows how high it was at a width. A layout asks every label several times a pass, and the toolkit lays
// the words out anew each time: a third of what a window does.
class Words : public QLabel {
 public:
  using QLabel::QLabel;
  int heightForWidth(int width) const override {
    const Key key{text(), font(), textFormat(), size() - contentsRect().size(), margin(), indent(), wordWrap()};
    if (key != key_ || heights_.size() > 30) {
      heights_.clear();
      key_ = key;
    }
    const auto known = heights_.constFind(width);
    return known != heights_.constEnd() ? *known : *heights_.insert(width, QLabel::heightForWidth(width));
  }

 private:
  using Key = std::tuple<QString, QFont, Qt::TextFormat, QSize, int, int, bool>;
  mutable Key key_;  // what a height hangs on beside the width
  mutable QHash<int, int> heights_;
};

}  // namespace

QLabel* line(const QString& text, const char* role, QWidget* parent) {
  auto* l = new Line(parent);
  l->setTextFormat(Qt::PlainText);
  l->setText(spoken(text));
  l->setObjectName(role);
  return l;
}

QString file_kinds(const char* name, const char* patterns) {
  return spoken(name) + " (" + patterns + ")";
}

QLabel* label(const QString& text, const char* role, QWidget* parent) {
  auto* l = new Words(parent);
  l->setTextFormat(Qt::PlainText);
  l->setText(spoken(text));
  l->setObjectName(role);
  l->setWordWrap(true);
  return l;
}

QLabel* rich_label(const QString& html, const char* role, QWidget* parent) {
  auto* l = label({}, role, parent);
  l->setTextFormat(Qt::RichText);
  l->setText(spoken(html));
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
  auto* b = new QPushButton(spoken(text), parent);
  b->setObjectName(*role ? QString(role) : name);
  b->setProperty("key", name);
  b->setAccessibleName(spoken(text));
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

void mark_bad(QWidget* field, bool bad) {
  field->setProperty("bad", bad);
  field->style()->unpolish(field);
  field->style()->polish(field);
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
