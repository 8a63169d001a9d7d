#include "core/bench/kit.h"

#include <algorithm>

#include "core/methods/support/calibration.h"
#include "core/methods/support/equipment.h"
#include "core/methods/support/fields.h"
#include "core/quantity/format.h"
#include "core/record/json.h"
#include "core/record/rules.h"
#include "core/record/words.h"

namespace fortitor::kit {
namespace {

std::string json_id(const std::string& kind) {
  return "kit/" + kind;
}

// Fields of a slot that a method has and an item brings.
std::vector<std::string> paths_of(const EquipmentSlot& slot) {
  std::vector<std::string> out;
  for (const auto* fields : {&slot.fields, &slot.papers})
    for (const FieldSpec& f : *fields) out.push_back(f.path);
  return out;
}

// What a record holds of the item; its calibration's end is worked out once, here.
Fields brought(const Item& item) {
  Fields f = item.fields;
  if (const std::string due = item.due(); !due.empty()) f.set(item.path("due"), due);
  return f;
}

}  // namespace

std::string Item::name() const {
  return fields.text(is_bench() ? "settings.name" : path("id"));
}

std::string Item::due() const {
  const std::string typed = fields.text(path("due")), last = fields.text(path("calibrated"));
  const auto months = fields.number("settings.interval");
  if (!typed.empty() || last.empty() || !months) return typed;
  return months_after(last, int(std::clamp(*months, 0.0, 1200.0)));
}

bool Item::retired() const {
  return fields.flag("settings.retired");
}

void Item::set_retired(bool on) {
  if (on)
    fields.set("settings.retired", true);
  else
    fields.erase("settings.retired");
}

void Item::set_of_kind(const std::string& slot, const std::string& name) {
  const std::string at = "equipment." + slot + ".id";
  if (name.empty())
    fields.erase(at);
  else
    fields.set(at, name);
}

Item bench_of(const std::string& name) {
  Item b;
  b.kind = kBench;
  b.fields.set("settings.name", name);
  return b;
}

State state_on(const Item& item, const std::string& today) {
  if (item.retired()) return State::retired;
  if (!item.held().empty()) return State::held;
  const std::string due = item.due();
  if (due.empty()) return State::ready;
  const int left = days_between(today, due);
  return left < 0 ? State::overdue : left < 30 ? State::soon : State::ready;
}

std::string state_words(const Item& item, const std::string& today) {
  const std::string due = item.due();
  switch (state_on(item, today)) {
    case State::retired: return "retired";
    case State::held: return "held: " + item.held();
    case State::overdue: return "overdue since " + day_words(due, today);
    case State::soon: {
      const int left = days_between(today, due);
      return left == 0 ? "due today" : std::to_string(left) + (left == 1 ? " day left" : " days left");
    }
    case State::ready: break;
  }
  return due.empty() ? "no calibration date" : "due " + day_words(due, today);
}

const std::vector<EquipmentSlot>& kinds() {
  static const std::vector<EquipmentSlot> all = [] {
    std::vector<EquipmentSlot> out;
    for (const Method* m : methods::all())
      for (const EquipmentSlot& s : m->equipment)
        if (!s.papers.empty() && !s.from_kit &&
            std::none_of(out.begin(), out.end(), [&](const auto& k) { return k.id == s.id; }))
          out.push_back(s);
    for (EquipmentSlot& s : equipment::shelf()) out.push_back(std::move(s));
    return out;
  }();
  return all;
}

const EquipmentSlot* find_kind(const std::string& id) {
  for (const EquipmentSlot& s : kinds())
    if (s.id == id) return &s;
  return nullptr;
}

Schema schema(const std::string& kind) {
  using namespace fields;
  Schema s;
  s.id = json_id(kind);
  s.limit_dimension = [](const std::string&) { return std::nullopt; };
  auto add = [&](FieldSpec f) {
    f.stage = Stage::set_up;
    f.brought = false;
    s.fields.push_back(std::move(f));
  };
  const Words& words = Words::of("kit");
  const auto own = [&](FieldSpec f) {
    say(f, *words.field(f.path));
    add(std::move(f));
  };
  const Stage at = Stage::set_up;
  if (kind == kBench) {
    own(text("settings.name", at));
    own(text("settings.folder", at));
    for (const EquipmentSlot& slot : kinds()) add(text("equipment." + slot.id + ".id", at));
  } else if (const EquipmentSlot* slot = find_kind(kind)) {
    for (FieldSpec f : slot->fields) {
      if (f.path == "equipment." + kind + ".id") say(f, *words.field("item"));
      add(std::move(f));
    }
    for (const FieldSpec& f : slot->papers) {
      add(f);
      if (f.path.ends_with(".calibrated")) own(number("settings.interval", at));
    }
    own(text("settings.wire", at));
    own(choice("settings.takes", at, {"f8", "button"}, true));
    own(text("settings.line", at));
    own(text("settings.who", at));
  }
  own(text("settings.note", at));
  own(flag("settings.retired", at));
  return s;
}

std::string rating_words(const Item& item, UnitSet units) {
  const EquipmentSlot* slot = find_kind(item.kind);
  std::string out;
  auto add = [&](const std::string& words) { out += (out.empty() ? "" : " · ") + words; };
  if (slot == nullptr) {
    for (const EquipmentSlot& s : kinds())
      if (const std::string id = item.of_kind(s.id); !id.empty()) add(id);
    return out;
  }
  for (const FieldSpec& f : slot->fields) {
    if (f.path == item.path("id")) continue;
    if (f.kind == FieldKind::choice) {
      if (const std::string chosen = item.fields.text(f.path); !chosen.empty()) add("class " + chosen);
    } else if (f.kind == FieldKind::quantity) {
      // As typed where that is how the person reads it: 5 kN is not 5000 N.
      const Readings r = item.fields.readings(f.path);
      if (!r.empty() && r.front().value)
        add(units == UnitSet::si ? r.front().typed : format_value(*r.front().value, f.dimension, units, 3));
    } else if (const std::string words = item.fields.text(f.path); !words.empty()) {
      add(words);
    }
  }
  return out;
}

Outcome<Item> from_json(const std::string& kind, std::string_view json, bool stored) {
  const Schema s = schema(kind);
  auto read = (stored ? read_stored_record : read_record)(
      json, [&](const std::string& id) { return id == s.id ? &s : nullptr; });
  if (!read) return read.error();
  Item item;
  item.kind = kind;
  item.faults = std::move(read->faults);
  item.fields = std::move(read->fields);
  return item;
}

std::string to_json(const Item& item) {
  TestRecord r;
  r.method = json_id(item.kind);
  r.fields = item.fields;
  return write_record(r, schema(item.kind), -1);
}

Outcome<Done> check(const Item& item) {
  if (!item.is_bench() && find_kind(item.kind) == nullptr)
    return InputError{"There is no equipment of the kind “" + item.kind + "”.", {}};
  if (item.name().empty())
    return InputError{item.is_bench() ? "A bench needs a name, such as “Frame 100 kN, bars”."
                                      : "An item needs its name, as marked on it.",
                      {}};
  if (item.is_bench()) {
    if (rating_words(item, UnitSet::si).empty()) return InputError{"A bench needs at least one item.", {}};
    return Done{};
  }
  TestRecord whole;
  whole.method = json_id(item.kind);
  whole.fields = item.fields;
  if (const auto fault = new_fault(faults_of(whole, schema(item.kind)), item.faults))
    return InputError{fault->message + ". It is not kept.", {}};
  if (const auto months = item.fields.number("settings.interval"); months && !(*months >= 1 && *months <= 1200))
    return InputError{"An interval is from 1 to 1200 months.", {}};
  if (const std::string errors = item.fields.text(item.path("errors")); !errors.empty())
    if (const auto read = calibration::read(errors, calibration::dimension_of(item.kind)); !read) return read.error();
  const std::string last = item.fields.text(item.path("calibrated")), due = item.due();
  if (!last.empty() && !due.empty() && due < last)
    return InputError{"It would be due on " + day_words(due) + ", before it was calibrated on " + day_words(last) + ".",
                      {}};
  return Done{};
}

std::vector<std::string> names_in(const std::string& list) {
  std::vector<std::string> out;
  std::string word;
  for (size_t i = 0; i <= list.size(); ++i) {
    if (i < list.size() && list[i] != ',' && list[i] != ';') {
      word += list[i];
      continue;
    }
    while (!word.empty() && word.front() == ' ') word.erase(word.begin());
    while (!word.empty() && word.back() == ' ') word.pop_back();
    if (!word.empty()) out.push_back(word);
    word.clear();
  }
  return out;
}

std::vector<const Item*> that_carry(const std::vector<Item>& items, const EquipmentSlot& slot,
                                    const Expectation& expected, const std::string& today, double least, double most) {
  std::vector<const Item*> out;
  const auto rating = [&](const Item& i) { return i.fields.number(slot.rating).value_or(0); };
  for (const Item& i : items) {
    const State state = i.kind == slot.id ? state_on(i, today) : State::retired;
    if (state != State::ready && state != State::soon) continue;
    if (expected.high <= most * rating(i) && expected.low >= least * rating(i)) out.push_back(&i);
  }
  std::sort(out.begin(), out.end(), [&](const Item* a, const Item* b) {
    return std::pair(rating(*a), a->name()) < std::pair(rating(*b), b->name());
  });
  return out;
}

std::optional<std::string> not_for(const TestRecord& record, const Method& method, const std::vector<Item>& items,
                                   const std::string& person) {
  for (const EquipmentSlot& slot : method.equipment) {
    const Item* item = used_in(record, slot.id, items);
    if (item == nullptr) continue;
    const auto who = names_in(item->fields.text("settings.who"));
    if (who.empty() || std::find(who.begin(), who.end(), person) != who.end()) continue;
    std::string names;
    for (size_t i = 0; i < who.size(); ++i) names += (i == 0 ? "" : i + 1 == who.size() ? " and " : ", ") + who[i];
    return item->name() + " is for " + names + " alone" + (person.empty() ? "" : ", not for " + person) +
           ": choose another, or let the keeper of the Kit change who may use it.";
  }
  return std::nullopt;
}

bool fits(const Item& item, const Method& method) {
  if (!item.is_bench()) return method.slot(item.kind) != nullptr;
  return std::any_of(method.equipment.begin(), method.equipment.end(),
                     [&](const EquipmentSlot& s) { return !item.of_kind(s.id).empty(); });
}

void fill(TestRecord& record, const Method& method, const Item& item) {
  const EquipmentSlot* slot = method.slot(item.kind);
  if (slot == nullptr) return;
  const Fields from = brought(item);
  for (const std::string& path : paths_of(*slot)) {
    record.fields.erase(path);
    if (const FieldValue* v = from.find(path)) record.fields.set(path, *v);
  }
}

void fill(TestRecord& record, const Method& method, const Item& bench, const std::vector<Item>& items) {
  for (const EquipmentSlot& s : method.equipment) {
    const std::string wanted = bench.of_kind(s.id);
    for (const Item& item : items)
      if (!wanted.empty() && item.kind == s.id && item.name() == wanted && !item.retired()) fill(record, method, item);
  }
}

bool renew_papers(TestRecord& record, const Method& method, const std::vector<Item>& items) {
  const Fields was = record.fields;
  for (const EquipmentSlot& slot : method.equipment) {
    const Item* item = used_in(record, slot.id, items);
    if (item == nullptr) continue;
    const Fields from = brought(*item);
    for (const FieldSpec& f : slot.papers) {
      record.fields.erase(f.path);
      if (const FieldValue* v = from.find(f.path)) record.fields.set(f.path, *v);
    }
  }
  return record.fields != was;
}

const Item* used_in(const TestRecord& record, const std::string& kind, const std::vector<Item>& items) {
  const std::string id = record.fields.text("equipment." + kind + ".id");
  for (const Item& item : items)
    if (!id.empty() && item.kind == kind && item.name() == id) return &item;
  return nullptr;
}

bool agrees(const TestRecord& record, const Method& method, const Item& item) {
  const EquipmentSlot* slot = method.slot(item.kind);
  if (slot == nullptr) return false;
  const Fields from = brought(item);
  for (const std::string& path : paths_of(*slot)) {
    const FieldValue *is = record.fields.find(path), *wanted = from.find(path);
    if ((is == nullptr) != (wanted == nullptr) || (is != nullptr && !(*is == *wanted))) return false;
  }
  return true;
}

}  // namespace fortitor::kit
