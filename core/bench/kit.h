// The Kit: frames, cells, extensometers, calipers … each with what is to be known of it, and benches: sets of them
// that work together. An item holds the very fields that a record has for its slot, so that filling in is copying.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/methods/method.h"
#include "core/outcome.h"

namespace fortitor::kit {

/// Kind of a bench; every other kind is the id of an equipment slot.
inline constexpr std::string_view kBench = "bench";

struct Item {
  long long id = 0;  ///< in the book; 0: not kept yet
  std::string kind;
  /// "equipment.<kind>.…" as in a record; "settings.interval" (months), "settings.who", "settings.note",
  /// "settings.retired". Of a bench: "settings.name" and "equipment.<kind>.id" of each of its items.
  Fields fields;
  std::vector<RecordFault> faults = {};  ///< of what was stored

  bool is_bench() const { return kind == kBench; }
  std::string path(std::string_view field) const { return "equipment." + kind + "." + std::string(field); }
  /// What it is called by: its mark, "LC-50".
  std::string name() const;
  /// Day on which its calibration ends: as typed, else the interval after the last one; empty when neither is known.
  std::string due() const;
  bool retired() const;
  void set_retired(bool on);
  /// Why it must not be used now; empty when it may.
  std::string held() const { return fields.text(path("held")); }
  /// Of a bench: name of its item of that kind, empty for none.
  std::string of_kind(const std::string& slot) const { return fields.text("equipment." + slot + ".id"); }
  void set_of_kind(const std::string& slot, const std::string& name);
  /// Whether a bench holds that item.
  bool holds(const Item& item) const { return is_bench() && !item.is_bench() && of_kind(item.kind) == item.name(); }
};
/// A new bench of that name, without items.
Item bench_of(const std::string& name);

enum class State { ready, soon, overdue, held, retired };
/// State on a day; `soon`: less than 30 days are left.
State state_on(const Item& item, const std::string& today);
/// "due 28 Nov", "overdue since 3 Oct", "held: dropped", "retired", "no calibration date".
std::string state_words(const Item& item, const std::string& today);

/// Slots of all methods that an item of the Kit can fill, each once.
const std::vector<EquipmentSlot>& kinds();
const EquipmentSlot* find_kind(const std::string& id);
/// What can be entered for an item of a kind (or a bench).
Schema schema(const std::string& kind);

/// What it can do: "50 kN · class 1".
std::string rating_words(const Item& item, UnitSet units);

/// `stored`: out of a book (read_stored_record()).
Outcome<Item> from_json(const std::string& kind, std::string_view json, bool stored = false);
std::string to_json(const Item& item);
/// A sentence when the item cannot be kept: no name, no such kind, calibrated after it is due.
Outcome<Done> check(const Item& item);

/// Whether the item, or any of a bench's, has a slot in the method.
bool fits(const Item& item, const Method& method);
/// Puts the item into the record's slot in place of what was there; without a slot of its kind nothing happens.
void fill(TestRecord& record, const Method& method, const Item& item);
/// Puts every item of a bench into its slot. Slots the bench says nothing of keep what they have.
void fill(TestRecord& record, const Method& method, const Item& bench, const std::vector<Item>& items);
/// Brings the papers of every item the record names up to what the Kit says now: calibrated anew, held since. What was
/// typed of its ratings stays. False when nothing changed. For pieces not run yet: a run keeps the papers of its day.
bool renew_papers(TestRecord& record, const Method& method, const std::vector<Item>& items);
/// Items of a slot whose rating carries what is expected, within `least` to `most` of it, smallest first; none that is
/// held, retired or out of calibration on that day. `expected` in the quantity of the rating.
std::vector<const Item*> that_carry(const std::vector<Item>& items, const EquipmentSlot& slot,
                                    const Expectation& expected, const std::string& today, double least = 0.1,
                                    double most = 0.9);

/// Names in a list parted by commas or semicolons.
std::vector<std::string> names_in(const std::string& list);
/// A sentence when an item that the record names is not for that person ("settings.who"); nothing when all are.
std::optional<std::string> not_for(const TestRecord& record, const Method& method, const std::vector<Item>& items,
                                   const std::string& person);
/// Item that the record names in a slot; null when it is none of these.
const Item* used_in(const TestRecord& record, const std::string& kind, const std::vector<Item>& items);
/// Whether the record still says of the slot what the item says (typed over: false).
bool agrees(const TestRecord& record, const Method& method, const Item& item);

}  // namespace fortitor::kit
