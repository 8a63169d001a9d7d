#include "core/bench/wired_stop.h"

#include <algorithm>
#include <cmath>

#include "core/quantity/format.h"
#include "core/quantity/parse.h"
#include "core/record/keyed.h"

namespace fortitor {
namespace {

using Phase = CallOut::Phase;

constexpr double kOfStop = 0.01;       // of the stop: as near as a hand brings a machine
constexpr double kOfStep = 0.25;       // of the step: the next stop is never taken for this one
constexpr double kLeastOfStep = 0.05;  // of the step: near enough also at no force, where 1 % is nothing
constexpr double kCounts = 3;          // of the last digit: what stands still says so much
constexpr double kOfReading = 0.003;   // of a gauge: creep within the settling time

// What one unit of a value comes to in internal units, of that dimension; 0 where it is of another.
double factor_of(const line::Value& v, Dimension dimension) {
  const Unit* unit = find_unit(v.unit, base_dimension(dimension));
  return unit != nullptr ? unit->factor : 0;
}

bool asked_for(const FieldSpec& c) {
  return !c.planned && c.kind == FieldKind::quantity;
}

// The value that is of that column: by its name, else the only one of its dimension that no name gives to another.
std::optional<size_t> reader_of(const FieldSpec& column, const CallOut& now, const std::vector<WiredValue>& values,
                                std::string& why) {
  std::vector<size_t> named, fitting;
  for (size_t i = 0; i < values.size(); ++i) {
    const WiredValue& v = values[i];
    if (factor_of(v.value, column.dimension) == 0) continue;
    if (v.channel == column.path) named.push_back(i);
    const bool others = v.channel != column.path && (now.table.column(v.channel) != nullptr ||
                                                     (now.table.control && v.channel == now.table.control->path));
    if (!others) fitting.push_back(i);
  }
  const std::vector<size_t>& from = named.empty() ? fitting : named;
  if (from.size() == 1) return from.front();
  why = from.empty() ? "No instrument on a wire says the " + column.label + "."
                     : "Two instruments on wires could say the " + column.label + " (" + values[from[0]].item + ", " +
                           values[from[1]].item + "): name the channels in their formats.";
  return std::nullopt;
}

}  // namespace

WiredStop wired_stop(const CallOut& now, const std::vector<WiredValue>& values, std::optional<double> stop) {
  WiredStop out;
  const TableSpec& t = now.table;
  if (!t.control || now.phase == Phase::ended || values.empty()) return out;
  out.control = reader_of(*t.control, now, values, out.words);
  if (!out.control) return out;
  out.reads.resize(t.columns.size());
  for (size_t c = 0; c < t.columns.size(); ++c) {
    if (!asked_for(t.columns[c])) continue;
    out.reads[c] = reader_of(t.columns[c], now, values, out.words);
    if (!out.reads[c]) return out;
    if (*out.reads[c] == *out.control) {
      out.words = values[*out.control].item + " is both the machine and the " + t.columns[c].label + ".";
      return out;
    }
  }
  if (std::none_of(out.reads.begin(), out.reads.end(), [](const auto& r) { return r.has_value(); })) {
    out.words = "This table is read one by one.";
    return out;
  }
  const WiredValue& machine = values[*out.control];
  const double factor = factor_of(machine.value, t.control->dimension), at = machine.value.value * factor;
  const double wanted = now.phase == Phase::unloading ? 0 : stop.value_or(now.control);
  const double count = machine.value.resolution * factor;
  // At a piece that is unloaded again a quarter of the step is unloaded.
  const double of_step = std::max(0.0, now.step) * (now.phase == Phase::unloading ? kOfStep : kLeastOfStep);
  double near = std::max(kOfStop * std::abs(wanted), of_step);
  if (now.step > 0) near = std::min(near, kOfStep * now.step);
  near = std::max(near, kCounts * count);
  out.state = WiredStop::State::away;
  if (!machine.good) {
    out.words = machine.item + " says no reading now.";
    return out;
  }
  const auto shown = [&](double v) { return format_value(std::abs(v), t.control->dimension, UnitSet::si, 3); };
  if (std::abs(at - wanted) > near) {
    const bool beyond = wanted != 0 ? (at - wanted) * wanted > 0 : true;
    out.words = shown(at - wanted) + (beyond ? " beyond the stop." : " to go.");
    return out;
  }
  out.state = WiredStop::State::moves;
  if (!machine.known || std::abs(machine.low * factor - wanted) > near ||
      std::abs(machine.high * factor - wanted) > near) {
    out.words = "At the stop; it has to stand for " + format_value(kSettling, Dimension::time, UnitSet::si, 2) + ".";
    return out;
  }
  for (size_t c = 0; c < t.columns.size(); ++c) {
    if (!out.reads[c]) continue;
    const WiredValue& v = values[*out.reads[c]];
    if (!v.good) {
      out.words = v.item + " says no reading now (" + t.columns[c].label + ").";
      return out;
    }
    const double still = std::max(kCounts * v.value.resolution, kOfReading * std::abs(v.value.value));
    if (!v.known || v.high - v.low > still * (1 + 1e-9)) {
      out.words = "The machine stands; the " + t.columns[c].label + " still moves.";
      return out;
    }
  }
  out.state = WiredStop::State::stands;
  out.words = "Everything stands.";
  return out;
}

namespace call_out {

void keep_all(const Method& method, TestRecord& record, const std::map<std::string, Reading>& by_column,
              const std::optional<Reading>& at) {
  const CallOut first = call_out_of(method, record, nullptr);
  for (size_t n = 0; n < first.table.columns.size(); ++n) {
    const CallOut now = call_out_of(method, record, nullptr);
    const bool same = now.row == first.row && (now.phase == first.phase || first.phase == Phase::not_begun);
    if (!same || now.column >= now.table.columns.size()) return;
    const auto reading = by_column.find(now.table.columns[now.column].path);
    if (reading == by_column.end()) return;
    keep(record, now, reading->second, at);
  }
}

}  // namespace call_out
}  // namespace fortitor
