#include "app/stages/equipment_panel.h"

#include <QStyle>

#include "app/theme/parts.h"

namespace fortitor {

using parts::qs;

EquipmentPanel::EquipmentPanel(Workbench* bench, FieldHost* host, QWidget* parent)
    : QWidget(parent), bench_(bench), host_(host) {
  setObjectName("plain");
  parts::column(this, 0, 6);
}

void EquipmentPanel::show_slots(const Method& method, std::optional<Stage> stage,
                                const std::function<bool(const std::string&)>& elsewhere) {
  auto* outer = static_cast<QVBoxLayout*>(layout());
  parts::clear(outer);
  slots_.clear();
  benches_ = nullptr;
  method_ = &method;
  stage_ = stage;
  elsewhere_ = elsewhere;
  items_.clear();
  if (auto kit = bench_->book()->kit())
    items_ = std::move(*kit);
  else
    host_->say(qs(kit.error().message));
  if (!stage || *stage == Stage::set_up) build_bench(outer);
  for (const EquipmentSlot& slot : method.equipment)
    if (!stage || slot.stage == *stage) build_slot(outer, slot);
  refresh();
}

void EquipmentPanel::build_bench(QVBoxLayout* into) {
  std::vector<const kit::Item*> fitting;
  for (const kit::Item& i : items_)
    if (i.is_bench() && !i.retired() && kit::fits(i, *method_)) fitting.push_back(&i);
  if (fitting.empty()) return;
  into->addWidget(parts::label("Bench", "heading"));
  benches_ = new QComboBox;
  benches_->setProperty("key", "bench");
  benches_->setAccessibleName(spoken("Bench: fills every slot"));
  benches_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  benches_->setMinimumContentsLength(10);
  benches_->addItem(spoken("each by itself"), 0);
  for (const kit::Item* b : fitting) benches_->addItem(qs(b->name()), QVariant::fromValue(b->id));
  connect(benches_, &QComboBox::activated, this, &EquipmentPanel::choose_bench);
  into->addWidget(benches_);
}

void EquipmentPanel::build_slot(QVBoxLayout* into, const EquipmentSlot& slot) {
  Slot s{&slot};
  std::vector<FieldSpec> fields;
  for (const FieldSpec& f : slot.fields)
    if (!slot.from_kit && !(elsewhere_ && elsewhere_(f.path)) &&
        field_applies(*method_->field(f.path), host_->record()))
      fields.push_back(*method_->field(f.path));
  std::vector<const kit::Item*> own;
  for (const kit::Item& i : items_)
    if (i.kind == slot.id && !i.retired()) own.push_back(&i);
  if (fields.empty() && own.empty()) return;
  into->addSpacing(4);
  into->addWidget(parts::label(qs(slot.label), "title"));
  if (!own.empty()) {
    s.choice = new QComboBox;
    s.choice->setProperty("key", "kit:" + qs(slot.id));
    s.choice->setAccessibleName(spoken(qs(slot.label) + " from the Kit"));
    s.choice->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    s.choice->setMinimumContentsLength(10);
    s.choice->addItem(spoken(slot.from_kit ? "none" : "typed here"), 0);
    for (const kit::Item* i : own) {
      const std::string rating = kit::rating_words(*i, host_->units());
      s.choice->addItem(qs(i->name()) + (rating.empty() ? QString() : "  " + spoken(qs(rating))),
                        QVariant::fromValue(i->id));
    }
    into->addWidget(s.choice);
    s.words = parts::label("", "hint");
    into->addWidget(s.words);
  }
  for (FieldSpec& f : fields)
    if (f.label == slot.label) f.label = "Which one";  // its heading names it already
  std::vector<const FieldSpec*> shown;
  for (const FieldSpec& f : fields) shown.push_back(&f);
  s.form = new FieldForm(host_);
  s.form->show_fields(shown, 2);
  into->addWidget(s.form);
  if (!slot.papers.empty() && !slot.from_kit) {
    s.keep = parts::button("Keep in the Kit", "kit-keep:" + qs(slot.id));
    s.keep->setToolTip(spoken("Next time it is chosen, not typed. Its calibration is entered in the Kit."));
    auto* row = new QHBoxLayout;
    row->addWidget(s.keep);
    row->addStretch();
    into->addLayout(row);
  }
  slots_.push_back(s);
  if (s.choice != nullptr) connect(s.choice, &QComboBox::activated, this, [this, s] { choose_item(s); });
  if (s.keep != nullptr) connect(s.keep, &QPushButton::clicked, this, [this, s] { keep_item(s); });
}

void EquipmentPanel::choose_bench(int index) {
  const auto id = benches_->itemData(index).toLongLong();
  for (const kit::Item& b : items_)
    if (b.is_bench() && b.id == id)
      host_->edit("bench: " + qs(b.name()), [&](TestRecord& r) { kit::fill(r, *method_, b, items_); });
  refresh();
}

void EquipmentPanel::choose_item(const Slot& s) {
  const auto id = s.choice->currentData().toLongLong();
  if (id == 0)
    host_->edit(qs(s.slot->label) + (s.slot->from_kit ? ": none" : " typed here"), [&](TestRecord& r) {
      r.fields.erase("equipment." + s.slot->id + ".id");
      for (const FieldSpec& f : s.slot->fields)
        if (f.brought) r.fields.erase(f.path);
      for (const FieldSpec& f : s.slot->papers) r.fields.erase(f.path);  // they are those of the item
    });
  for (const kit::Item& i : items_)
    if (i.id == id && !i.is_bench())
      host_->edit(qs(s.slot->label + ": " + i.name()), [&](TestRecord& r) { kit::fill(r, *method_, i); });
  refresh();
}

void EquipmentPanel::keep_item(const Slot& s) {
  kit::Item item;
  item.kind = s.slot->id;
  for (const FieldSpec& f : s.slot->fields)
    if (const FieldValue* v = host_->record().fields.find(f.path)) item.fields.set(f.path, *v);
  const auto kept = bench_->book()->save_item(item, "added to the Kit: " + item.name());
  if (!kept) return host_->say(qs(kept.error().message));
  host_->say(qs(item.name()) + " is in the Kit.");
  // The list of the slot now has one more: built anew once the click is over.
  QMetaObject::invokeMethod(
      this, [this] { show_slots(*method_, stage_, elsewhere_); }, Qt::QueuedConnection);
}

void EquipmentPanel::refresh() {
  for (const Slot& s : slots_) refresh_slot(s);
  if (benches_ == nullptr) return;
  // The bench shown is the one whose items are all in their slots, as the Kit has them.
  int at = 0;
  for (const kit::Item& b : items_) {
    if (!b.is_bench() || !kit::fits(b, *method_)) continue;
    TestRecord filled = host_->record();
    kit::fill(filled, *method_, b, items_);
    if (at == 0 && filled.fields == host_->record().fields)
      at = std::max(0, benches_->findData(QVariant::fromValue(b.id)));
  }
  benches_->setCurrentIndex(at);
}

void EquipmentPanel::refresh_slot(const Slot& s) {
  const kit::Item* item = kit::used_in(host_->record(), s.slot->id, items_);
  const bool from_kit = item != nullptr && kit::agrees(host_->record(), *method_, *item);
  if (s.choice != nullptr) {
    s.choice->setCurrentIndex(from_kit ? std::max(0, s.choice->findData(QVariant::fromValue(item->id))) : 0);
    const kit::State state = from_kit ? kit::state_on(*item, host_->today()) : kit::State::ready;
    const std::string serial = from_kit ? item->fields.text(item->path("serial")) : std::string();
    s.words->setText(spoken(
        from_kit ? qs((serial.empty() ? "" : "serial " + serial + " · ") + kit::state_words(*item, host_->today()))
        : item != nullptr ? qs(item->name() + " is otherwise in the Kit.")
                          : QString()));
    s.words->setVisible(!s.words->text().isEmpty());
    const bool bad = state == kit::State::overdue || state == kit::State::held || (item != nullptr && !from_kit);
    s.words->setObjectName(bad ? "error" : state == kit::State::soon ? "caution" : "hint");
    s.words->style()->unpolish(s.words);
    s.words->style()->polish(s.words);
  }
  s.form->setVisible(!from_kit);
  s.form->refresh();
  if (s.keep != nullptr)
    s.keep->setVisible(item == nullptr && !host_->record().fields.text("equipment." + s.slot->id + ".id").empty());
}

}  // namespace fortitor
