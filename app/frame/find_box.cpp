#include "app/frame/find_box.h"

#include <QClipboard>
#include <QGuiApplication>
#include <QKeyEvent>
#include <QVBoxLayout>

#include "app/theme/spoken.h"
#include "core/quantity/parse.h"

namespace fortitor {
namespace {

// What a person reads before typing another letter.
constexpr int kMost = 60;

// "2 5/8 in to mm" → "66.675 mm"; empty when it is no such question.
QString conversion(const QString& typed) {
  const qsizetype at = typed.indexOf(" to ");
  if (at < 0) return {};
  const auto c = convert(typed.left(at).toStdString(), typed.mid(at + 4).trimmed().toStdString());
  if (!c) return {};
  return QString::number(c->value, 'g', 8) + " " +
         QString::fromUtf8(c->unit->symbol.data(), qsizetype(c->unit->symbol.size()));
}

}  // namespace

FindBox::FindBox(QWidget* parent) : QFrame(parent), line_(new QLineEdit), list_(new QListWidget) {
  setObjectName("sheet");
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(8, 8, 8, 8);
  layout->addWidget(line_);
  layout->addWidget(list_);
  line_->setPlaceholderText(spoken("A job, a specimen, an action, or “2 5/8 in to mm”"));
  line_->setAccessibleName(spoken("Find or do"));
  line_->setProperty("key", "find-line");
  line_->installEventFilter(this);
  connect(line_, &QLineEdit::textChanged, this, &FindBox::filter);
  connect(list_, &QListWidget::itemClicked, this, &FindBox::act);
  hide();
}

void FindBox::open(std::vector<Doable> all, Search search, const QRect& below) {
  all_ = std::move(all);
  for (Doable& d : all_) {
    d.title = spoken(d.title);
    d.detail = spoken(d.detail);
  }
  search_ = std::move(search);
  setGeometry(below);
  line_->clear();
  filter();
  show();
  raise();
  line_->setFocus();
}

void FindBox::show_row(const Doable& doable) {
  auto* item = new QListWidgetItem(doable.title + (doable.detail.isEmpty() ? "" : "     " + doable.detail), list_);
  item->setData(Qt::UserRole, int(shown_.size()));
  shown_.push_back(doable);
}

void FindBox::filter() {
  list_->clear();
  shown_.clear();
  const QStringList words = line_->text().toLower().split(' ', Qt::SkipEmptyParts);
  const QString converted = conversion(line_->text());
  if (!converted.isEmpty()) {
    auto* item = new QListWidgetItem(
        line_->text().section(" to ", 0, 0) + " = " + converted + "     " + spoken("Enter copies it"), list_);
    item->setData(Qt::UserRole, -1);
    item->setData(Qt::UserRole + 1, converted);
  }
  for (const Doable& d : all_) {
    const QString text = (d.title + " " + d.detail).toLower();
    if (std::all_of(words.begin(), words.end(), [&](const QString& w) { return text.contains(w); })) show_row(d);
  }
  if (search_)
    for (const Doable& d : search_(line_->text(), kMost)) show_row(d);
  if (list_->count() == 0) new QListWidgetItem(spoken("Nothing by that name."), list_);
  list_->setCurrentRow(0);
}

void FindBox::act() {
  const QListWidgetItem* item = list_->currentItem();
  if (item == nullptr || !item->data(Qt::UserRole).isValid()) return;
  const int i = item->data(Qt::UserRole).toInt();
  hide();
  if (i < 0) {
    QGuiApplication::clipboard()->setText(item->data(Qt::UserRole + 1).toString());
    return;
  }
  const auto act = shown_[size_t(i)].act;
  act();
}

bool FindBox::eventFilter(QObject* object, QEvent* event) {
  if (event->type() == QEvent::KeyPress) {
    auto* key = static_cast<QKeyEvent*>(event);
    const int n = list_->count();
    if (key->key() == Qt::Key_Down) return list_->setCurrentRow((list_->currentRow() + 1) % std::max(1, n)), true;
    if (key->key() == Qt::Key_Up) return list_->setCurrentRow((list_->currentRow() + n - 1) % std::max(1, n)), true;
    if (key->key() == Qt::Key_Return || key->key() == Qt::Key_Enter) return act(), true;
    if (key->key() == Qt::Key_Escape) return hide(), true;
  }
  if (event->type() == QEvent::FocusOut) hide();
  return QFrame::eventFilter(object, event);
}

}  // namespace fortitor
