#include "app/kit/kit_page.h"

#include <QDateTime>
#include <QFile>
#include <QFileInfo>
#include <QMenu>
#include <QPointer>

#include "app/figures/take_along.h"
#include "app/frame/desk_frame.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "core/quantity/date.h"
#include "report/export.h"

namespace fortitor {

using parts::qs;

KitPage::KitPage(Workbench* bench, QWidget* parent) : Desk(parent), bench_(bench) {
  const DeskFrame frame(this, "Kit");
  auto* head = frame.head();
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
    connect(menu->addAction(spoken(qs(kind.label))), &QAction::triggered, this, [this, id = kind.id] { begin(id); });
  fresh->setMenu(menu);
  head->addWidget(fresh);
  auto* fresh_bench = parts::button("New bench…", "kit-new-bench");
  connect(fresh_bench, &QPushButton::clicked, this, [this] { begin(std::string(kit::kBench)); });
  head->addWidget(fresh_bench);

  auto* row = frame.row();
  auto* sheet = parts::sheet();
  auto* column = parts::column(sheet, 1, 0);
  lives_ = new KitLives;
  new TakeAlong(lives_, "Kit", [this] {
    std::string out = "name,kind,calibrated,due,state\n";
    for (const kit::Item& i : lives_->items()) {
      const EquipmentSlot* kind = kit::find_kind(i.kind);
      out += csv_cell(i.name()) + "," + csv_cell(kind != nullptr ? kind->label : "bench") + "," +
             i.fields.text(i.path("calibrated")) + "," + i.due() + "," +
             csv_cell(kit::state_words(i, bench_->today())) + "\n";
    }
    return out;
  });
  column->addWidget(parts::scroller(lives_));
  row->addWidget(sheet, 1);
  auto* card = parts::sheet();
  card_ = parts::column(card, 14, 8);
  auto* card_area = parts::scroller(card);
  DeskFrame::side(card_area, 290);
  row->addWidget(card_area);
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
    if (!checks.empty() && QDateTime::fromString(qs(checks.back().at), Qt::ISODateWithMs).toLocalTime().date() ==
                               bench_->clock().now().date())
      read[i.id] = "read " + qs(checks.back().value) + " today";
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

void KitPage::listen_to(WireBoard* wires) {
  connect(this, &KitPage::kit_changed, wires, &WireBoard::reload);
  wires_ = wires;
  connect(wires, &WireBoard::to_be_shown, this, [this] {
    if (isVisible() && teach_ != nullptr) teach_->refresh();
  });
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

void KitPage::attach(const kit::Item& item, const QString& path) {
  QFile file(path);
  if (!file.open(QIODevice::ReadOnly)) return say(path + " cannot be opened: " + file.errorString() + ".");
  const auto kept =
      bench_->book()->attach_certificate(item, QFileInfo(path).fileName().toStdString(), file.read(32 * 1024 * 1024));
  if (!kept) return say(qs(kept.error().message));
  say("");
  QMetaObject::invokeMethod(
      this, [this] { reload(); }, Qt::QueuedConnection);
}

void KitPage::change(kit::Item item, const QString& what, const std::function<void(kit::Item&)>& with) {
  if (!may_change()) return;
  with(item);
  if (const auto done = keep_item(item, what.toStdString()); !done) return say(qs(done.error().message));
  say("");
  emit kit_changed();
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
    if (f.kind != FieldKind::flag && f.path != "settings.line" &&
        !(item.is_bench() && f.path.rfind("equipment.", 0) == 0) && f.path != item.path("held"))
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
    box->setAccessibleName(spoken(qs(kind.label)));
    box->addItem(spoken("none"), "");
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

// The Kit is kept by those who keep the book.
bool KitPage::may_change() {
  const auto allowed = may(Papers(*bench_->book()), bench_->book()->operator_name(), "keeps");
  if (!allowed) say(qs(allowed.error().message));
  return bool(allowed);
}

void KitPage::keep() {
  if (!may_change()) return;
  kit::Item item = written_;
  item.fields = draft_.fields;
  const auto kept = keep_item(item, (item.id == 0 ? "added to the Kit: " : "changed in the Kit: ") + item.name());
  if (!kept) return say(qs(kept.error().message));
  say("");
  emit kit_changed();
  writing_ = false;
  lives_->select(*kept);
  QMetaObject::invokeMethod(
      this, [this] { reload(); }, Qt::QueuedConnection);
}

// Keeps an item as it is now, as a step that can be taken back. A new one cannot be taken out of the book again: taken
// back, it is retired.
Outcome<Id> KitPage::keep_item(const kit::Item& item, const std::string& what) {
  const kit::Item* there = find(item.id);
  const std::optional<kit::Item> before = there != nullptr ? std::optional(*there) : std::nullopt;
  const auto kept = bench_->book()->save_item(item, what);
  if (!kept) return kept;
  kit::Item after = item, was = before.value_or(item);
  after.id = was.id = *kept;
  if (!before) was.set_retired(true);
  bench_->push_step(
      qs(what),
      [bench = bench_, page = QPointer<KitPage>(this), was, after](bool back, const QString& words) -> Outcome<Done> {
        const auto items = bench->book()->kit();
        if (!items) return items.error();
        const kit::Item &is = back ? after : was, &wanted = back ? was : after;
        for (const kit::Item& i : *items) {
          if (i.id != is.id) continue;
          if (i.fields != is.fields)
            return InputError{i.name() + " was changed since in another way: nothing was undone.", {}};
          const auto done = bench->book()->save_item(wanted, words.toStdString());
          if (!done) return done.error();
          if (!page.isNull()) {
            emit page->kit_changed();
            if (page->isVisible()) page->reload();
          }
          return Done{};
        }
        return InputError{is.name() + " is not in the Kit: nothing was undone.", {}};
      });
  return kept;
}

}  // namespace fortitor
