#include "core/practice/practice.h"

#include <algorithm>
#include <boost/random/mersenne_twister.hpp>
#include <boost/random/uniform_int_distribution.hpp>
#include <cmath>

#include "core/methods/method.h"
#include "core/standin/benches.h"

namespace fortitor::practice {
namespace {

constexpr const char* kMark = "equipment.standin.practice";

const standin::Bench& bench_of(const Task& t) {
  return *standin::find_bench(methods::find(t.method)->standin);
}

// A careful run of the piece with these faults and no others.
TestRecord careful(const Task& t, uint64_t seed, const std::set<std::string>& faults) {
  standin::SimulateOptions o;
  o.method = t.method;
  o.piece = t.piece;
  o.seed = seed;
  o.faults = faults;
  TestRecord r = bench_of(t).simulate(o);
  r.method = t.method;
  return r;
}

std::string words_of(const Task& t, const std::string& fault) {
  for (const Choice& c : bench_of(t).faults)
    if (c.value == fault) return c.label;
  return fault;
}

bool has(const Evaluation& e, const std::string& code) {
  return e.finding(code) != nullptr;
}

// The difference in the unit of the truth.
std::string difference(const ResultSpec& spec, double truth, double now) {
  const Unit& unit = display_unit(spec.dimension, UnitSet::si, truth);
  const double d = (now - truth) / unit.factor;
  return (d < 0 ? "−" : "+") + significant(std::abs(d), 2) + (unit.symbol.empty() ? "" : " ") +
         std::string(unit.symbol);
}

}  // namespace

const std::vector<Task>& tasks() {
  static const std::vector<Task> all = {
      {"steel-bar",
       "Steel bar",
       "tension-metal",
       "mild-steel",
       "Pull the bar to the break: yield, strength, modulus, elongation.",
       {"preload", "drift", "slip"}},
      {"polymer-bar",
       "Polymer bar",
       "tension-plastic",
       "",
       "Modulus and yield of a bar that draws.",
       {"preload", "drift"}},
      {"laminate-strip",
       "Laminate",
       "tension-composite",
       "",
       "Strength and modulus of a tabbed strip.",
       {"preload", "drift"}},
      {"wood-beam",
       "Wood beam",
       "flexure-beam",
       "",
       "Load the beam stop by stop until it breaks.",
       {"misread", "slack"}},
      {"gauged-strip",
       "Gauged bar",
       "poisson-gauge",
       "",
       "Poisson's ratio from two gauges.",
       {"misread", "drift", "open-channel", "swapped"}},
      {"drive-shaft", "Drive shaft", "torsion-bar", "", "Twist the bar: shear modulus and yield.", {"windup"}},
      {"press-block", "Press block", "compression-solid", "", "Compress the block between platens.", {"drift"}},
      {"crush-tube", "Crush tube", "crush-shell", "", "First peak and energy of a thin tube.", {"dent"}},
      {"hard-face", "Hard face", "hardness-rockwell", "", "Rockwell, with the block before the work.", {"block-off"}},
      {"ground-spot", "Ground spot", "hardness-brinell", "", "Three Brinell indents.", {"oval"}},
      {"case-depth", "Tooth case", "hardness-vickers", "", "A traverse from the edge inward.", {"scratch", "tilt"}},
      {"cold-bath", "Cold bath", "impact-pendulum", "", "Three blows out of the bath.", {"late", "jam", "friction"}},
      {"drop-plate",
       "Tower plate",
       "drop-impact",
       "",
       "One strike, caught; the damage drawn.",
       {"second-strike", "friction"}},
      {"old-clamp", "Rope clamp", "proof-load", "", "Proof cycles, then to destruction.", {"cracked"}},
      {"sandwich-block",
       "Sandwich",
       "flatwise-tension",
       "",
       "Pull the faces off a block that was bonded between plates.",
       {"short-cure", "preload", "drift"}},
      {"struck-plate",
       "Struck plate",
       "compression-after-impact",
       "",
       "What a plate still carries after its impact.",
       {"askew", "drift"}},
      {"axle-steel",
       "Axle steel",
       "fatigue-constant",
       "axle-steel",
       "Points of an S–N line: some pieces break, some run out.",
       {"unmarked"}},
      {"wet-plank", "Wet plank", "density", "", "Density in water.", {"drying"}},
  };
  return all;
}

const Task* find(const std::string& id) {
  for (const Task& t : tasks())
    if (t.id == id) return &t;
  return nullptr;
}

bool is_practice(const TestRecord& record) {
  return !record.fields.text(kMark).empty();
}

const Task* task_of(const TestRecord& record) {
  const std::string mark = record.fields.text(kMark);
  return find(mark.substr(0, mark.find(':')));
}

uint64_t seed_of(const TestRecord& record) {
  return standin::seed_of(record);
}

std::set<std::string> draw(const Task& task, uint64_t seed) {
  uint64_t name = 0;  // tasks hide different things under one seed
  for (char c : task.id) name = name * 31 + uint64_t(static_cast<unsigned char>(c));
  boost::random::mt19937_64 random(seed * 7919 + name % 1000);
  const auto any = [&](size_t n) { return boost::random::uniform_int_distribution<size_t>(0, n - 1)(random); };
  std::set<std::string> out;
  if (task.faults.empty() || any(5) == 0) return out;
  const size_t wanted = task.faults.size() > 1 && any(2) == 0 ? 2 : 1;
  while (out.size() < wanted) out.insert(task.faults[any(task.faults.size())]);
  return out;
}

TestRecord begin(const Task& task, uint64_t seed, const std::string& code) {
  TestRecord r;
  r.method = task.method;
  const standin::Bench& bench = bench_of(task);
  r.fields.set("specimen.id", code);
  r.fields.set("equipment.standin.piece", task.piece.empty() ? bench.pieces.front().value : task.piece);
  r.fields.set("equipment.standin.seed", double(seed));
  std::string faults;
  for (const std::string& f : draw(task, seed)) faults += (faults.empty() ? "" : ",") + f;
  if (!faults.empty()) r.fields.set("equipment.standin.fault", faults);
  r.fields.set(kMark, task.id + ":" + std::to_string(seed));
  if (bench.draft) bench.draft(r);
  r.fields.set("specimen.id", code);
  return r;
}

size_t Debrief::seen() const {
  return size_t(
      std::count_if(hidden.begin(), hidden.end(), [](const Hidden& h) { return h.seen == Hidden::Seen::seen; }));
}

size_t Debrief::off() const {
  return size_t(std::count_if(rows.begin(), rows.end(), [](const Row& r) { return r.off; }));
}

Debrief debrief(const TestRecord& record, const Evaluation& mine, const Worked& worked) {
  Debrief d;
  const Task* task = task_of(record);
  if (task == nullptr) return d;
  const uint64_t seed = seed_of(record);
  const TestRecord sound = careful(*task, seed, {});
  const Evaluation truth = methods::evaluate(sound);
  for (const ResultValue& t : truth.results) {
    if (t.is_text() || !t.spec.headline || t.censored || !std::isfinite(t.value)) continue;
    Row row{t.spec.key, t.spec.symbol, t.spec.name, NAN, t.value, t.spec.dimension, t.spec.figures, false, false};
    if (const ResultValue* y = mine.find(t.spec.key); y != nullptr && !y->is_text() && std::isfinite(y->value)) {
      row.there = true;
      row.yours = y->value;
      row.off = std::abs(y->value - t.value) > std::max(0.01 * std::abs(t.value), t.expanded());
    }
    d.rows.push_back(std::move(row));
  }
  for (const std::string& fault : draw(*task, seed)) {
    Hidden h;
    h.id = fault;
    h.words = words_of(*task, fault);
    const TestRecord faulty = careful(*task, seed, {fault});
    const Evaluation alone = methods::evaluate(faulty, {.uncertainty = false});
    h.when = departure(sound, faulty, record);
    d.moments.push_back({Moment::Lane::happened, Moment::Tone::bad, h.when, h.words});
    for (const Finding& f : alone.findings)
      if (!has(truth, f.code) && std::find(h.shows.begin(), h.shows.end(), f.code) == h.shows.end())
        h.shows.push_back(f.code);
    double largest = 0;
    for (const ResultValue& t : truth.results) {
      const ResultValue* a = alone.find(t.spec.key);
      if (t.is_text() || !t.spec.headline || a == nullptr || a->is_text() || !(std::abs(t.value) > 0) ||
          !std::isfinite(a->value))
        continue;
      const double share = std::abs(a->value / t.value - 1);
      if (share <= largest) continue;
      largest = share;
      h.cost = plain_symbol(t.spec.symbol) + " " + difference(t.spec, t.value, a->value);
    }
    if (largest < 1e-4) h.cost.clear();
    // A remedy taken, or a finding that was made to go: seen. Accepted in words: heard, not mended.
    bool there = false;
    for (const std::string& code : h.shows) {
      const Answer* said = record.answer(code);
      const Finding* f = mine.finding(code);
      there = there || f != nullptr;
      if (said != nullptr && said->remedy != "accept" && h.seen != Hidden::Seen::seen) {
        h.seen = Hidden::Seen::seen;
        h.how = "answered with “" + said->remedy + "”" + (said->reason.empty() ? "" : ": " + said->reason);
      } else if (said != nullptr && h.seen == Hidden::Seen::missed) {
        h.seen = Hidden::Seen::accepted;
        h.how = "accepted: “" + said->reason + "”";
      }
    }
    if (h.seen == Hidden::Seen::missed && !there && !h.shows.empty() && d.off() == 0 && record.has_run()) {
      h.seen = Hidden::Seen::seen;
      h.how = "handled before it could be called out";
    }
    if (h.how.empty())
      h.how = there             ? "called out, and left without a word"
              : h.shows.empty() ? "nothing calls it out: only a careful eye finds it"
                                : "never came to light";
    d.hidden.push_back(std::move(h));
  }
  for (std::vector<Moment> more : {when_seen(record, mine), what_was_done(record, worked)})
    d.moments.insert(d.moments.end(), more.begin(), more.end());
  if (Panel panel = panel_of(course_of(record, mine), course_of(sound, truth)); !panel.traces.empty()) {
    d.course.id = "course";
    d.course.title = "Along the run";
    d.course.panels = {std::move(panel)};
  }
  return d;
}

}  // namespace fortitor::practice
