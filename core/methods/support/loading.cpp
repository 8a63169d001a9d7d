#include "core/methods/support/loading.h"

#include <algorithm>
#include <cmath>

#include "core/methods/method.h"
#include "core/methods/support/ledger.h"
#include "core/quantity/plain.h"
#include "core/statistics/sample.h"

namespace fortitor {

namespace {

constexpr double kSmallLoad = 0.02, kSmallForce = 5.0;  // of the largest force, N: it hardly matters which it is
constexpr size_t kNoiseSide = 60;                       // samples on each side of the maximum
constexpr double kTopNoise = 3;                         // times the noise: how far a flat top reaches down
constexpr double kLeastPeakError = 1e-5;
constexpr double kHair = 1e-9;     // of a rating: its last digit in double
constexpr double kCellLow = 0.05;  // of the cell: its class is not assured below

}  // namespace

Offset offset_of(const TestRecord& record) {
  Offset now = Offset::unknown;
  std::vector<const Event*> events;
  for (const Event& e : record.events) events.push_back(&e);
  std::stable_sort(events.begin(), events.end(), [](const Event* a, const Event* b) { return a->at < b->at; });
  for (const Event* e : events) {
    if (e->kind == "force-zeroed") now = Offset::free;
    if ((e->kind == "top-grip-closed" || e->kind == "bottom-grip-closed") && now == Offset::free) now = Offset::grip;
  }
  return now;
}

bool keeps_zero(const TestRecord& record) {
  const std::string said = record.fields.text("settings.zero");
  return said == "keep" || (said != "shift" && offset_of(record) == Offset::grip);
}

Loading loading_of(const TestRecord& record, const std::vector<std::string>& travel) {
  Loading l;
  const SamplesPtr samples = record.run.samples();
  if (!samples) return l;
  std::string name = travel.empty() ? "crosshead" : travel.front();
  for (auto it = travel.rbegin(); it != travel.rend(); ++it)
    if (samples->find(*it) != nullptr) name = *it;
  l.s = clean(*samples, name);
  if (l.empty()) return l;
  l.zero = take_zero(l.s.force, {&l.s.crosshead}, keeps_zero(record));
  // Travel counts from where motion began.
  const double start = l.zero.quiet > 0 ? mean_of(l.s.crosshead, 0, std::min(l.zero.quiet, l.s.crosshead.size()))
                                        : (l.s.crosshead.empty() ? 0 : l.s.crosshead.front());
  if (std::isfinite(start))
    for (double& x : l.s.crosshead) x -= start;
  l.peak = size_t(std::max_element(l.s.force.begin(), l.s.force.end()) - l.s.force.begin());
  l.fracture = find_break(l.s.time, l.s.force, l.peak);
  l.end = l.fracture ? l.fracture->last_loaded + 1 : l.s.size();
  return l;
}

RunFacts facts_of(const Loading& l, double area) {
  return {l.zero,
          l.peak_force(),
          area,
          l.s.sorted_by_us,
          l.s.sign_flipped,
          l.s.clock_coarse,
          l.s.dropped + l.s.duplicates,
          {},
          {},
          l.s.faults};
}

// Force that froze for a fifth of a run, or stepped by 5 % when two files were joined, once moved strengths and
// energies by as much without a word.
void fault_findings(Evaluation& e, const TestRecord& record, const std::vector<ChannelFault>& faults) {
  const Method* m = methods::find(record.method);
  for (const ChannelFault& f : faults) {
    ChannelSpec spec{f.channel, f.channel};
    for (const ChannelSpec& c : m->channels)
      if (c.name == f.channel) spec = c;
    std::string name = spec.label;
    if (!name.empty() && (name.size() < 2 || plain::is_lower(name[1]))) name[0] = plain::lower(name[0]);
    const std::string when = ledger::si(f.from, Dimension::time, 3);
    if (f.kind == ChannelFault::Kind::frozen)
      ledger::raise(e, "channel-frozen", Severity::check,
                    "From " + when + " to " + ledger::si(f.to, Dimension::time, 3) + " the " + name + " stands at " +
                        ledger::si(f.value, spec.dimension) +
                        " to the last digit while the test goes on: it was cut off, or stood at a stop. What rests on "
                        "it there was not measured.",
                    {{"from", f.from}, {"to", f.to}});
    else if (f.kind == ChannelFault::Kind::dropped)
      ledger::raise(e, "load-drop", Severity::note,
                    "At " + when + " the " + name + " falls by " + ledger::si(-f.value, spec.dimension, 3) +
                        " from one reading to the next: something cracked, slipped or came off.",
                    {{"time", f.from}, {"step", f.value}});
    else if (f.kind == ChannelFault::Kind::noisy)
      ledger::raise(e, "noise-high", Severity::check,
                    "From reading to reading the " + name + " scatters by " + ledger::si(f.value, spec.dimension, 2) +
                        " (standard deviation), more than 0.7 % of all it goes through: maxima read too high, slopes "
                        "too low. Look for a loose plug, or filter at the machine.",
                    {{"sd", f.value}});
    else if (f.kind == ChannelFault::Kind::burst)
      ledger::raise(e, "noise-high", Severity::check,
                    "From " + when + " to " + ledger::si(f.to, Dimension::time, 3) + " the " + name + " scatters by " +
                        ledger::si(f.value, spec.dimension, 2) + " from reading to reading (standard deviation), " +
                        "elsewhere by " + ledger::si(f.elsewhere, spec.dimension, 2) +
                        ": a plug came loose, or the piece chatters. Maxima read too high there, and breaks where "
                        "none are.",
                    {{"sd", f.value}, {"from", f.from}, {"to", f.to}});
    else
      ledger::raise(e, "channel-jump", Severity::check,
                    "At " + when + " the " + name + " jumps by " + ledger::si(f.value, spec.dimension, 3) +
                        " from one reading to the next, and nothing else does: counts were lost, something slipped, or "
                        "two recordings were joined.",
                    {{"time", f.from}, {"step", f.value}});
  }
}

void run_findings(Evaluation& e, const TestRecord& record, const RunFacts& run, const std::string& key) {
  using D = Dimension;
  using ledger::raise;
  using ledger::si;
  const double top = run.peak_force;
  if (run.zero.beyond) {
    const bool kept = keeps_zero(record), said = record.fields.has("settings.zero");
    const Offset why = said || run.zero.after ? Offset::unknown : offset_of(record);
    raise(e, "not-zeroed", why == Offset::unknown ? Severity::check : Severity::note,
          "The load read " + si(run.zero.value, D::force, 3) +
              (run.zero.after ? " after the break, with nothing on it" : " before anything moved") +
              (run.area > 0 ? ", " + si(std::abs(run.zero.value) / run.area, D::stress, 2) + " on this piece"
                            : std::string()) +
              ". " +
              (why == Offset::grip ? "It came when the second grip closed, after the force was zeroed with one grip "
                                     "open: it is force on the piece and is kept."
               : why == Offset::free
                   ? "Nothing was gripped since the force was zeroed: the zero walked, and the curve is shifted by it."
               : kept ? "It is kept as a true preload."
                      : "The whole curve is shifted by it."),
          {{"offset", run.zero.value}, {"share", run.zero.value / std::max(top, 1e-9)}},
          {{"shift", "Take it off", {{"settings.zero", "shift"}}, false},
           {"keep", "Keep it as preload", {{"settings.zero", "keep"}}, true}},
          key);
  }
  if (run.zero.quiet == 0) {
    // What the load read at the start may be a load or an offset; when it is small it hardly matters which.
    const bool loaded = std::abs(run.zero.first) > std::max(kSmallLoad * top, kSmallForce);
    raise(e, "no-quiet-start", loaded ? Severity::check : Severity::note,
          "The recording starts while the piece is already moving or loaded (first reading " +
              si(run.zero.first, D::force, 3) + "): no zero could be read, and nothing was shifted.",
          {{"first", run.zero.first}}, {}, key);
  }
  if (run.clash)
    raise(e, "frame-stiffness", Severity::check,
          "A frame of " + si(run.clash->stiffness, D::stiffness, 3) + " would have given " +
              si(run.clash->force / run.clash->stiffness, D::length, 3) + " under " +
              si(run.clash->force, D::force, 3) + ", but the crosshead went only " +
              si(std::max(run.clash->travel, 0.0), D::length, 3) +
              ": the entered stiffness or its unit is wrong, or this is not the frame's travel. The stiffness is not "
              "used.",
          {{"stiffness", run.clash->stiffness}, {"travel", run.clash->travel}}, {}, key);
  fault_findings(e, record, run.faults);
  cell_findings(e, record, "equipment.load_cell.capacity", top, D::force, key);
  if (run.sorted) raise(e, "time-unsorted", Severity::note, "The samples were not in time order and were sorted.");
  if (run.clock_coarse)
    raise(e, "clock-coarse", Severity::note,
          "Several samples share one time stamp: the clock is coarse. All are kept, spread evenly over it.");
  if (run.dropped > 0)
    raise(e, "samples-dropped", Severity::note,
          std::to_string(run.dropped) + " samples without a time or force, or written twice, were left out.",
          {{"samples", double(run.dropped)}});
  if (run.sign_flipped)
    raise(e, "sign-flipped", Severity::note,
          "Force was logged negative; " +
              (run.direction.empty() ? std::string("its magnitude is used.") : "it is used as " + run.direction + "."));
}

// A brittle bar read ten times a second broke 5 % above its largest reading, beside a U of 0.7 %.
void peak_input(const std::vector<double>& force, size_t peak, size_t end, std::vector<UncertainInput>& out) {
  if (peak >= force.size() || peak < 2 || !(force[peak] > 0)) return;
  const size_t from = peak > kNoiseSide ? peak - kNoiseSide : 0, to = std::min({force.size(), end, peak + kNoiseSide});
  const double noise = noise_of_bent(force, from, to);
  const Stretch top = flat_top(force, peak, kTopNoise * noise, end);
  const double lift = statistics::lift_of_largest(double(top.last - top.first + 1));
  const double between = peak + 1 >= end ? std::max(0.0, force[peak] - force[peak - 1]) : 0;
  const double both = std::hypot(lift * noise, rectangular(between)) / force[peak];
  if (both > kLeastPeakError)
    out.push_back({"peak",
                   between > lift * noise ? "the largest force, which rose on for up to one reading"
                                          : "noise of the force at its maximum",
                   both, UncertainInput::Shape::normal});
}

void cell_findings(Evaluation& e, const TestRecord& record, const std::string& rating, double reached, Dimension d,
                   const std::string& key) {
  using ledger::raise;
  using ledger::si;
  const double capacity = record.fields.number(rating).value_or(0);
  if (!(capacity > 0) || !(reached > 0)) return;
  const std::string what(d == Dimension::torque ? "torque" : "force");
  if (reached > capacity * (1 + kHair))
    raise(e, "cell-over", Severity::void_test,
          "The " + what + " reached " + si(reached, d, 4) + ", above the cell's " + si(capacity, d, 3) +
              ": the run is void, and the cell wants a check before it is used again.",
          {{what, reached}, {"capacity", capacity}}, {}, key);
  else if (reached < kCellLow * capacity)
    raise(e, "cell-low", Severity::check,
          "The largest " + what + " was " + ledger::percent(reached / capacity) + " of the cell's " +
              si(capacity, d, 3) + "; below 5 % its class is not assured. Use a smaller cell.",
          {{what, reached}, {"capacity", capacity}}, {}, key);
}

void censored_note(Evaluation& e, const TestRecord& record, const std::string& key) {
  ledger::raise(e, "censored", Severity::note,
                "The run stopped before a break" +
                    (record.run.stopped.empty() ? std::string() : " (" + record.run.stopped + ")") +
                    ": values at the end are lower bounds, written with ≥.",
                {}, {}, key);
}

void conditioning_finding(Evaluation& e, const TestRecord& record, const std::string& key) {
  const auto stated = record.fields.number("conditions.stated"), hours = record.fields.number("conditions.hours");
  if (stated && hours && *hours < *stated)
    ledger::raise(e, "conditioning-short", Severity::check,
                  "The piece was conditioned for " + ledger::si(*hours, Dimension::time, 3) + " of the " +
                      ledger::si(*stated, Dimension::time, 3) + " wanted.",
                  {{"ratio", *hours / *stated}}, {}, key);
}

}  // namespace fortitor
