#include "app/kit/kit_page.h"

#include <QDateTime>
#include <QDesktopServices>
#include <QDir>
#include <QFileDialog>
#include <QInputDialog>
#include <QMenu>
#include <QSaveFile>
#include <QUrl>

#include "app/figures/figure_view.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "core/quantity/date.h"

namespace fortitor {

using parts::qs;

KitPage::KitPage(Workbench* bench, QWidget* parent) : Desk(parent), bench_(bench) {
  setObjectName("page");
  auto* outer = parts::column(this, 0, 10);
  auto* head = new QHBoxLayout;
  head->addWidget(parts::label("Kit", "heading"));
  const std::pair<const char*, KitLives::Order> orders[] = {
      {"lives", KitLives::Order::kind}, {"by bench", KitLives::Order::bench}, {"due next", KitLives::Order::due}};
  for (const auto& [words, order] : orders) {
    auto* b = parts::button(words, "kit-order:" + QString(words));
    b->setCheckable(true);
    b->setChecked(order == order_);
    connect(b, &QPushButton::clicked, this, [this, o = order] {
      order_ = o;
      reload();
    });
    orders_.push_back(b);
    head->addWidget(b);
  }
  head->addStretch();
  auto* fresh = parts::button("New item…", "kit-new");
  auto* menu = new QMenu(fresh);
  for (const EquipmentSlot& kind : kit::kinds())
    connect(menu->addAction(qs(kind.label)), &QAction::triggered, this, [this, id = kind.id] { begin(id); });
  fresh->setMenu(menu);
  head->addWidget(fresh);
  auto* fresh_bench = parts::button("New bench…", "kit-new-bench");
  connect(fresh_bench, &QPushButton::clicked, this, [this] { begin(std::string(kit::kBench)); });
  head->addWidget(fresh_bench);
  outer->addLayout(head);

  auto* row = new QHBoxLayout;
  row->setSpacing(12);
  auto* sheet = parts::sheet();
  auto* column = parts::column(sheet, 1, 0);
  lives_ = new KitLives;
  column->addWidget(parts::scroller(lives_));
  row->addWidget(sheet, 1);
  auto* card = parts::sheet();
  card_ = parts::column(card, 14, 8);
  auto* card_area = parts::scroller(card);
  card_area->setFixedWidth(int(290 * std::min(1.4, theme::scale())));
  row->addWidget(card_area);
  outer->addLayout(row, 1);
  connect(lives_, &KitLives::picked, this, &KitPage::pick);
  connect(bench, &Workbench::units_changed, this, [this] {
    if (isVisible()) reload();
  });
}

void KitPage::open(Id item, int) {
  lives_->select(item);
  reload();
}

void KitPage::leave() {
  writing_ = false;
}

const kit::Item* KitPage::find(long long id) const {
  for (const kit::Item& i : items_)
    if (i.id == id) return &i;
  return nullptr;
}

void KitPage::reload() {
  auto kit = bench_->book()->kit();
  if (!kit) say(qs(kit.error().message));
  items_ = kit ? std::move(*kit) : std::vector<kit::Item>();
  for (size_t i = 0; i < orders_.size(); ++i) orders_[i]->setChecked(int(i) == int(order_));
  lives_->show_items(items_, order_, today(), units());
  std::map<long long, QString> read;
  for (const kit::Item& i : items_) {
    const auto checks = i.is_bench() ? std::vector<kit::DailyCheck>{} : bench_->book()->daily_checks(i);
    if (!checks.empty() && QDateTime::fromString(qs(checks.back().at), Qt::ISODateWithMs).toLocalTime().date() == QDate::currentDate()) read[i.id] = "read " + qs(checks.back().value) + " today";
  }
  lives_->show_checks(std::move(read));
  if (writing_) return;
  const kit::Item* here = find(lives_->selected());
  // The eye goes first to what wants something.
  for (const kit::State state : {kit::State::overdue, kit::State::soon, kit::State::held, kit::State::ready})
    for (const kit::Item& i : items_)
      if (here == nullptr && !i.is_bench() && kit::state_on(i, today()) == state) here = &i;
  if (here == nullptr) return show_empty();
  lives_->select(here->id);
  show_item(*here);
}

void KitPage::pick(long long id) {
  writing_ = false;
  lives_->select(id);
  if (const kit::Item* item = find(id)) show_item(*item);
}

void KitPage::show_empty() {
  form_ = nullptr;
  parts::clear(card_);
  if (items_.empty()) {
    card_->addWidget(parts::label("Nothing is in the Kit yet", "title"));
    card_->addWidget(parts::label(
        "Enter the frame, its cells, grips, extensometers and calipers once, with their calibration. Set up then takes "
        "them by name, and a bench fills every slot in one act.",
        ""));
  } else {
    card_->addWidget(parts::label("Pick an item to see what is known of it.", "quiet"));
  }
  card_->addStretch();
}

void KitPage::show_item(const kit::Item& item) {
  form_ = nullptr;
  parts::clear(card_);
  const EquipmentSlot* kind = kit::find_kind(item.kind);
  card_->addWidget(parts::label(qs(item.name()), "heading"));
  const std::string rating = kit::rating_words(item, units());
  card_->addWidget(
      parts::label(qs((kind != nullptr ? kind->label : "Bench") + (rating.empty() ? "" : " · " + rating)), "quiet"));
  const std::string note = item.fields.text("settings.note");
  if (!item.is_bench()) {
    const kit::State state = kit::state_on(item, today());
    card_->addWidget(parts::label(qs(kit::state_words(item, today())),
                                  state == kit::State::overdue || state == kit::State::held ? "error"
                                  : state == kit::State::soon                               ? "caution"
                                                                                            : "title"));
    auto line = [&](const char* words, const std::string& value) {
      if (!value.empty()) card_->addWidget(parts::label(QString(words) + "  " + qs(value), ""));
    };
    line("Serial mark", item.fields.text(item.path("serial")));
    line("Calibrated", day_words(item.fields.text(item.path("calibrated"))));
    line("Certificate", item.fields.text(item.path("certificate")));
    line("Used by", item.fields.text("settings.who"));
  }
  if (!note.empty()) card_->addWidget(parts::label(qs(note), "hint"));
  if (item.is_bench()) {
    for (const kit::Item& i : items_)
      if (item.holds(i)) card_->addWidget(parts::label(qs(i.name() + "  " + kit::state_words(i, today())), ""));
  } else {
    add_uses(item);
    add_checks(item);
    add_benches(item);
  }
  add_actions(item);
  card_->addStretch();
}

void KitPage::add_uses(const kit::Item& item) {
  card_->addSpacing(6);
  card_->addWidget(parts::label("Records", "title"));
  const auto uses = bench_->book()->uses(item);
  const std::string since = item.fields.text(item.path("calibrated")), due = item.due();
  int after = 0, since_then = 0;
  for (const ItemUse& u : uses) {
    if (u.tested_at.empty()) continue;
    if (!since.empty() && u.tested_at.substr(0, 10) >= since) ++since_then;
    if (!due.empty() && u.tested_at.substr(0, 10) > due) ++after;
  }
  QString words =
      uses.empty()
          ? QString("No record names it yet.")
          : QString::number(uses.size()) + (uses.size() == 1 ? " record names it" : " records name it") +
                (since.empty() ? QString(".") : ", " + QString::number(since_then) + " tested since its calibration.");
  card_->addWidget(parts::label(words, "quiet"));
  if (after > 0)
    card_->addWidget(parts::label(
        QString::number(after) + (after == 1 ? " was tested" : " were tested") + " after its calibration had ended.",
        "error"));
  for (size_t i = 0; i < std::min<size_t>(uses.size(), 5); ++i) {
    auto* b = parts::button(qs(uses[i].code), "kit-use:" + QString::number(uses[i].specimen));
    connect(b, &QPushButton::clicked, this, [this, id = uses[i].specimen] { emit desk_wanted("specimen", id, -1); });
    card_->addWidget(b);
  }
  if (uses.size() > 5) card_->addWidget(parts::label(QString::number(uses.size() - 5) + " more; the logbook finds them by its mark.", "hint"));
  if (!uses.empty()) {
    auto* mark = parts::button("It was off: mark what it touched…", "kit-mark");
    connect(mark, &QPushButton::clicked, this, [this, item] { mark_records(item); });
    card_->addWidget(mark);
  }
}

// One act for everything an item touched when it turns out to be off.
void KitPage::mark_records(const kit::Item& item) {
  bool ok = false;
  const QString reason = QInputDialog::getText(this, "Mark the records of " + qs(item.name()), "What was wrong with it?", QLineEdit::Normal, {}, &ok).trimmed();
  if (!ok) return;
  const QString typed = QInputDialog::getText(this, "Mark the records of " + qs(item.name()), "Tested since which day? Empty: all of them.", QLineEdit::Normal, {}, &ok).trimmed();
  if (!ok) return;
  std::string since;
  if (!typed.isEmpty()) {
    const auto day = parse_day(typed.toStdString(), today(), DaySense::past);
    if (!day) return say(qs(day.error().message));
    since = *day;
  }
  const auto marked = bench_->book()->mark_uses(item, since, reason.toStdString());
  if (!marked) return say(qs(marked.error().message));
  if (bench_->has_specimen()) bench_->select(bench_->specimen());
  bench_->touch_docket();
  say(QString::number(*marked) + (*marked == 1 ? " record is" : " records are") + " marked and want" + (*marked == 1 ? "s" : "") + " a word before sign-off.");
  QMetaObject::invokeMethod(
      this, [this] { reload(); }, Qt::QueuedConnection);
}

void KitPage::add_checks(const kit::Item& item) {
  card_->addSpacing(6);
  card_->addWidget(parts::label("Daily checks", "title"));
  const std::vector<kit::DailyCheck> checks = bench_->book()->daily_checks(item);
  const std::string words = kit::words_of(checks);
  card_->addWidget(parts::label(words.empty() ? QString("A free swing, a reference block, a zero: noted here, drawn over time.") : qs(words), words.find("beyond") != std::string::npos ? "error" : "quiet"));
  if (const Figure f = kit::figure_of(checks, item.name()); !f.empty()) {
    auto* view = new FigureView;
    view->setProperty("key", "kit-check-figure");
    view->setFixedHeight(int(150 * theme::scale()));
    view->show_figure(f, units());
    card_->addWidget(view);
  }
  auto* row = new QHBoxLayout;
  auto* value = new QLineEdit;
  value->setProperty("key", "kit-check");
  value->setPlaceholderText("62.8, 0.4 J");
  value->setAccessibleName("Value of today's check");
  auto* note = new QLineEdit;
  note->setProperty("key", "kit-check-note");
  note->setPlaceholderText("a note");
  note->setAccessibleName("Note to the check");
  row->addWidget(value);
  row->addWidget(note);
  auto* keep = parts::button("Note it", "kit-check-keep");
  row->addWidget(keep);
  card_->addLayout(row);
  const auto add = [this, item, value, note] {
    const auto kept = bench_->book()->add_daily_check(item, {utc_now(), value->text().trimmed().toStdString(), bench_->book()->operator_name(), note->text().trimmed().toStdString()});
    if (!kept) return say(qs(kept.error().message));
    say("");
    QMetaObject::invokeMethod(
        this, [this] { reload(); }, Qt::QueuedConnection);
  };
  connect(keep, &QPushButton::clicked, this, add);
  connect(value, &QLineEdit::returnPressed, this, add);
  connect(note, &QLineEdit::returnPressed, this, add);
}

void KitPage::add_benches(const kit::Item& item) {
  QStringList on;
  for (const kit::Item& b : items_)
    if (b.holds(item)) on << qs(b.name());
  if (on.isEmpty()) return;
  card_->addSpacing(6);
  card_->addWidget(parts::label("Benches", "title"));
  card_->addWidget(parts::label(on.join(" · "), "quiet"));
}

void KitPage::add_actions(const kit::Item& item) {
  card_->addSpacing(8);
  const bool retired = item.retired(), held = !item.held().empty();
  auto add = [&](const QString& words, const QString& key, const char* role, auto act) {
    auto* b = parts::button(words, key, role);
    connect(b, &QPushButton::clicked, this, act);
    card_->addWidget(b);
  };
  add("Edit…", "kit-edit", "primary", [this, item] { show_form(item); });
  if (!item.is_bench()) {
    const auto paper = bench_->book()->attached_certificate(item);
    if (paper)
      add("Open " + qs(paper->first), "kit-paper-open", "", [this, paper] {
        // A copy to look at; what counts lies in the book.
        const QString path = QDir::temp().filePath(QFileInfo(qs(paper->first)).fileName());
        QSaveFile copy(path);
        if (!copy.open(QIODevice::WriteOnly) || copy.write(paper->second) != paper->second.size() || !copy.commit()) return say(path + " cannot be written: " + copy.errorString() + ".");
        QDesktopServices::openUrl(QUrl::fromLocalFile(path));
      });
    add(paper ? "Attach a newer certificate…" : "Attach its certificate…", "kit-paper", "", [this, item] {
      const QString path = QFileDialog::getOpenFileName(this, "Certificate of " + qs(item.name()), {}, "Certificates (*.pdf *.png *.jpg *.jpeg *.txt)");
      if (!path.isEmpty()) attach(item, path);
    });
  }
  if (!item.is_bench() && !retired) {
    add(held ? "Back in use" : "Hold…", "kit-hold", "", [this, item, held] {
      if (held)
        return change(item, "back in use: " + qs(item.name()), [](kit::Item& i) { i.fields.erase(i.path("held")); });
      bool ok = false;
      const QString why =
          QInputDialog::getText(this, "Hold " + qs(item.name()), "Why must it not be used?", QLineEdit::Normal, {}, &ok)
              .trimmed();
      if (!ok) return;
      if (why.isEmpty()) return say("An item is held for a reason: nothing was changed.");
      change(item, "held: " + qs(item.name()), [&](kit::Item& i) { i.fields.set(i.path("held"), why.toStdString()); });
    });
  }
  add(retired ? "Take into use again" : "Retire", "kit-retire", "", [this, item, retired] {
    change(item, (retired ? "in use again: " : "retired: ") + qs(item.name()),
           [&](kit::Item& i) { i.set_retired(!retired); });
  });
}

void KitPage::attach(const kit::Item& item, const QString& path) {
  QFile file(path);
  if (!file.open(QIODevice::ReadOnly)) return say(path + " cannot be opened: " + file.errorString() + ".");
  const auto kept = bench_->book()->attach_certificate(item, QFileInfo(path).fileName().toStdString(), file.read(32 * 1024 * 1024));
  if (!kept) return say(qs(kept.error().message));
  say("");
  QMetaObject::invokeMethod(
      this, [this] { reload(); }, Qt::QueuedConnection);
}

void KitPage::change(kit::Item item, const QString& what, const std::function<void(kit::Item&)>& with) {
  with(item);
  const auto done = bench_->book()->save_item(item, what.toStdString());
  if (!done) return say(qs(done.error().message));
  say("");
  // The button pressed goes with the card: built anew once the click is over.
  QMetaObject::invokeMethod(
      this, [this] { reload(); }, Qt::QueuedConnection);
}

void KitPage::begin(const std::string& kind) {
  kit::Item fresh;
  fresh.kind = kind;
  show_form(fresh);
}

void KitPage::edit(const QString&, const std::function<void(TestRecord&)>& with) {
  with(draft_);
  if (form_ != nullptr) form_->refresh();
}

void KitPage::show_form(const kit::Item& item) {
  writing_ = true;
  written_ = item;
  draft_ = TestRecord{};
  draft_.fields = item.fields;
  parts::clear(card_);
  const EquipmentSlot* kind = kit::find_kind(item.kind);
  const QString what = kind != nullptr ? qs(kind->label).toLower() : QString("bench");
  card_->addWidget(parts::label(item.id == 0 ? "New " + what : qs(item.name()), "heading"));
  const Schema schema = kit::schema(item.kind);
  std::vector<const FieldSpec*> shown;
  for (const FieldSpec& f : schema.fields)
    if (f.kind != FieldKind::flag && !(item.is_bench() && f.path.rfind("equipment.", 0) == 0) &&
        f.path != item.path("held"))
      shown.push_back(&f);
  form_ = new FieldForm(this);
  form_->show_fields(shown, 1);
  card_->addWidget(form_);
  if (item.is_bench()) add_bench_choices(item);
  auto* row = new QHBoxLayout;
  auto* keep_button = parts::button("Keep", "kit-keep", "primary");
  connect(keep_button, &QPushButton::clicked, this, &KitPage::keep);
  auto* drop = parts::button("Leave as it was", "kit-drop");
  connect(drop, &QPushButton::clicked, this, [this] {
    writing_ = false;
    QMetaObject::invokeMethod(
        this, [this] { reload(); }, Qt::QueuedConnection);
  });
  row->addWidget(keep_button);
  row->addWidget(drop);
  row->addStretch();
  card_->addLayout(row);
  card_->addStretch();
  if (auto* first = form_->findChild<QLineEdit*>()) first->setFocus();
}

// A bench takes an item of each kind, or none.
void KitPage::add_bench_choices(const kit::Item& item) {
  for (const EquipmentSlot& kind : kit::kinds()) {
    auto* box = new QComboBox;
    box->setProperty("key", "bench-item:" + qs(kind.id));
    box->setAccessibleName(qs(kind.label));
    box->addItem("none", "");
    for (const kit::Item& i : items_)
      if (i.kind == kind.id && !i.retired()) box->addItem(qs(i.name()), qs(i.name()));
    if (box->count() == 1) {
      delete box;
      continue;
    }
    box->setCurrentIndex(std::max(0, box->findData(qs(item.of_kind(kind.id)))));
    card_->addWidget(parts::label(qs(kind.label), "hint"));
    card_->addWidget(box);
    connect(box, &QComboBox::activated, this, [this, box, slot = kind.id] {
      kit::Item draft{written_.id, written_.kind, draft_.fields};
      draft.set_of_kind(slot, box->currentData().toString().toStdString());
      draft_.fields = draft.fields;
    });
  }
}

void KitPage::keep() {
  kit::Item item = written_;
  item.fields = draft_.fields;
  const auto kept =
      bench_->book()->save_item(item, (item.id == 0 ? "added to the Kit: " : "changed in the Kit: ") + item.name());
  if (!kept) return say(qs(kept.error().message));
  say("");
  writing_ = false;
  lives_->select(*kept);
  QMetaObject::invokeMethod(
      this, [this] { reload(); }, Qt::QueuedConnection);
}

}  // namespace fortitor
