#include "core/methods/support/loading.h"

#include <algorithm>
#include <cmath>

#include "core/methods/support/ledger.h"

namespace fortitor {

Loading loading_of(const TestRecord& record, const std::vector<std::string>& travel) {
  Loading l;
  if (!record.run.samples) return l;
  std::string name = travel.empty() ? "crosshead" : travel.front();
  for (auto it = travel.rbegin(); it != travel.rend(); ++it)
    if (record.run.samples->find(*it) != nullptr) name = *it;
  l.s = clean(*record.run.samples, name);
  if (l.empty()) return l;
  const auto finite = [](const std::vector<double>& v) {
    return std::any_of(v.begin(), v.end(), [](double x) { return std::isfinite(x); });
  };
  l.zero = take_zero(l.s.force, finite(l.s.crosshead) ? l.s.crosshead : l.s.force,
                     record.fields.text("settings.zero") == "keep");
  // Travel counts from where motion began.
  const double start = l.zero.quiet > 0 ? mean_of(l.s.crosshead, 0, std::min(l.zero.quiet, l.s.crosshead.size()))
                                   : (l.s.crosshead.empty() ? 0 : l.s.crosshead.front());
  if (std::isfinite(start))
    for (double& x : l.s.crosshead) x -= start;
  // Travel may be counted downwards; the piece moves with the force.
  l.peak = size_t(std::max_element(l.s.force.begin(), l.s.force.end()) - l.s.force.begin());
  if (!l.s.crosshead.empty() && l.s.crosshead[l.peak] < 0)
    for (double& x : l.s.crosshead) x = -x;
  l.fracture = find_break(l.s.time, l.s.force, l.peak);
  l.end = l.fracture ? l.fracture->last_loaded + 1 : l.s.size();
  return l;
}

void loading_findings(Evaluation& e, const TestRecord& record, const Loading& l, double area, const std::string& key) {
  using D = Dimension;
  using ledger::percent;
  using ledger::raise;
  using ledger::si;
  if (l.empty()) return;
  const double top = l.peak_force();
  if (l.zero.beyond) {
    const bool kept = record.fields.text("settings.zero") == "keep";
    raise(e, "not-zeroed", Severity::check,
          "The load read " + si(l.zero.value, D::force, 3) + " before anything moved" +
              (area > 0 ? ", " + si(std::abs(l.zero.value) / area, D::stress, 2) + " on this piece" : std::string()) + ". " +
              (kept ? "It is kept as a true preload." : "The whole curve is shifted by it."),
          {{"offset", l.zero.value}, {"share", l.zero.value / std::max(top, 1e-9)}},
          {{"shift", "Take it off", {{"settings.zero", "shift"}}, false},
           {"keep", "Keep it as preload", {{"settings.zero", "keep"}}, true}},
          key);
  }
  const double capacity = record.fields.number("equipment.load_cell.capacity").value_or(0);
  if (capacity > 0 && top > capacity * 1.0001)
    raise(e, "cell-over", Severity::void_test,
          "The force reached " + si(top, D::force, 4) + ", above the cell's " + si(capacity, D::force, 3) +
              ": the run is void, and the cell wants a check before it is used again.",
          {{"force", top}, {"capacity", capacity}}, {}, key);
  else if (capacity > 0 && top > 0 && top < 0.05 * capacity)
    raise(e, "cell-low", Severity::check,
          "The largest force was " + percent(top / capacity) + " of the cell's " + si(capacity, D::force, 3) +
              "; below 5 % its class is not assured. Use a smaller cell.",
          {{"force", top}, {"capacity", capacity}}, {}, key);
  if (l.s.sorted_by_us)
    raise(e, "time-unsorted", Severity::note, "The samples were not in time order and were sorted.");
  if (l.s.dropped + l.s.duplicates > 0)
    raise(e, "samples-dropped", Severity::note,
          std::to_string(l.s.dropped + l.s.duplicates) +
              " samples without a time or force, or with a time seen before, were left out.",
          {{"samples", double(l.s.dropped + l.s.duplicates)}});
  if (l.s.sign_flipped) raise(e, "sign-flipped", Severity::note, "Force was logged negative; its magnitude is used.");
}

}  // namespace fortitor
