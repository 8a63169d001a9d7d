// Instruments on wires in the window: what they show, and the keys that take it.
#include <QDialog>
#include <QDialogButtonBox>
#include <QKeySequenceEdit>
#include <QLineEdit>
#include <QPushButton>
#include <QShortcut>

#include "app/frame/desk.h"
#include "app/frame/main_window.h"
#include "app/frame/top_bar.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "app/wires/wire_board.h"
#include "store/own.h"

namespace fortitor {

using parts::qs;

// Instruments on wires: what they show stands in the top bar, F8 takes it into the field in hand.
void MainWindow::build_wires() {
  wires_ = new WireBoard(bench_, this);
  for (Desk* desk : desks_) desk->listen_to(wires_);
  connect(wires_, &WireBoard::said, this, &MainWindow::say);
  connect(top_, &TopBar::item_wanted, this, [this](Id item) { open("kit", item); });
  take_ = new QShortcut(QKeySequence(Qt::Key_F8), this);
  set_take_key(own::of(own::take_key));
  connect(take_, &QShortcut::activated, this, [this] {
    if (now()->take_reading()) return;
    wires_->take_into(qobject_cast<QLineEdit*>(QApplication::focusWidget()));
  });
  connect(wires_, &WireBoard::to_be_shown, this, [this] {
    std::vector<TopBar::Live> live;
    for (const LiveItem* i : wires_->items()) {
      if (!i->open && !i->was_open) continue;  // what is switched off all day is no news
      QString value = i->open ? QString("…") : QString("not there");
      if (const line::Value* v = i->leading(); i->open && v != nullptr) value = qs(v->typed);
      if (i->open && i->last && i->last->values.empty()) value = qs(line::state_word(i->last->state));
      live.push_back({qs(i->name), value, i->open && i->last && i->last->good(), i->item});
    }
    top_->set_live(live);
  });
  wires_->reload();
}

// A foot switch is a key like any other: beside F8, the one that it sends.
void MainWindow::set_take_key(const QString& key) {
  QList<QKeySequence> all = {QKeySequence(Qt::Key_F8)};
  const QKeySequence other = QKeySequence::fromString(key);
  if (!other.isEmpty() && other != all.front()) all << other;
  take_->setKeys(all);
}

void MainWindow::ask_take_key() {
  QDialog dialog(this);
  dialog.setWindowTitle(spoken("Key that takes a reading"));
  dialog.setMinimumWidth(theme::px(460));
  auto* layout = parts::column(&dialog, 16, 12);
  layout->addWidget(parts::label("Press the foot switch, or a key: it takes a reading as F8 does.", ""));
  auto* edit = new QKeySequenceEdit(QKeySequence::fromString(own::of(own::take_key)));
  edit->setProperty("key", "take-key");
  edit->setAccessibleName(spoken("Key"));
  layout->addWidget(edit);
  auto* buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel | QDialogButtonBox::Reset);
  connect(buttons, &QDialogButtonBox::accepted, &dialog, &QDialog::accept);
  connect(buttons, &QDialogButtonBox::rejected, &dialog, &QDialog::reject);
  connect(buttons->button(QDialogButtonBox::Reset), &QPushButton::clicked, edit, &QKeySequenceEdit::clear);
  layout->addWidget(buttons);
  if (dialog.exec() != QDialog::Accepted) return;
  // One stroke: the first of several.
  const QKeySequence key = edit->keySequence().isEmpty() ? QKeySequence() : QKeySequence(edit->keySequence()[0]);
  // A letter is typed where a field is in hand, and takes nothing there.
  const QString typed = key.toString(QKeySequence::PortableText);
  if (typed.size() == 1 || typed.startsWith("Shift+") || typed == "Space")
    return say("“" + key.toString(QKeySequence::NativeText) +
               "” is typed into fields: set the foot switch to a function key, such as F13.");
  own::keep(own::take_key, key.toString());
  set_take_key(key.toString());
  say(key.isEmpty() ? "F8 takes a reading." : "F8 and " + key.toString(QKeySequence::NativeText) + " take a reading.");
}

}  // namespace fortitor
