#include "tests/core/methods/spoilt.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/quantity/format.h"
#include "tests/core/methods/made.h"

namespace fortitor {
namespace {

constexpr double kFactors[] = {0.1, 0.5, 0.8, 0.9, 0.95, 0.98, 0.99, 0.995, 1.005, 1.01, 1.02, 1.05, 1.1, 1.25, 2, 10};

Reading scaled(const Reading& r, double factor) {
  Reading out = times(r, factor);
  out.typed = "varied";
  return out;
}

}  // namespace

void spoil_field(TestRecord& r, const Method& m, Chance& chance) {
  const FieldSpec& f = chance.of(m.fields);
  if (f.path.rfind("equipment.standin", 0) == 0 || f.path == "specimen.id") return;
  const double factor = kFactors[chance.below(std::size(kFactors))];
  const FieldValue* now = r.fields.find(f.path);
  if (now != nullptr && chance.below(6) == 0) return r.fields.erase(f.path);
  switch (f.kind) {
    case FieldKind::choice:
      if (!f.choices.empty()) r.fields.set(f.path, chance.of(f.choices).value);
      return;
    case FieldKind::flag: return r.fields.set(f.path, chance.below(2) == 0);
    case FieldKind::number:
      if (now != nullptr)
        if (const auto v = r.fields.number(f.path)) r.fields.set(f.path, *v * factor);
      return;
    case FieldKind::quantity:
      if (now == nullptr || chance.below(4) == 0) {  // something round in its usual unit
        const Unit& unit = display_unit(f.dimension, UnitSet::si, 1);
        constexpr double kRound[] = {0.5, 1, 2, 5, 10, 20, 50, 100, 500};
        Reading typed;
        typed.typed = "varied";
        typed.value = kRound[chance.below(std::size(kRound))] * unit.factor + unit.offset;
        return r.fields.set(f.path, typed);
      }
      if (const auto* one = std::get_if<Reading>(now)) r.fields.set(f.path, scaled(*one, factor));
      return;
    case FieldKind::readings: {
      Readings all = r.fields.readings(f.path);
      if (all.empty()) return;
      const size_t at = chance.below(all.size());
      switch (chance.below(4)) {
        case 0: all[at] = Reading{}; break;                         // missed
        case 1: std::fill(all.begin(), all.end(), all[at]); break;  // one typed three times
        case 2: all[at] = scaled(all[at], 1 + (factor - 1) * 0.2); break;
        default: all.push_back(scaled(all[at], 1 + 0.01 * chance.normal()));
      }
      return r.fields.set(f.path, all);
    }
    default: return;
  }
}

void spoil_rows(TestRecord& r, Chance& chance) {
  for (auto& [id, rows] : r.run.tables) {
    if (rows.empty() || chance.below(2) == 0) continue;
    Row& row = rows[chance.below(rows.size())];
    const double factor = kFactors[chance.below(std::size(kFactors))];
    switch (chance.below(6)) {
      case 0: row.state = Row::State::doubtful; break;
      case 1: row.state = Row::State::set_aside; break;
      case 2: rows.pop_back(); break;
      case 3: rows.push_back(Row(row)); break;
      default: {
        std::vector<std::string> numbers;
        for (const auto& [path, value] : row.cells.all())
          if (std::holds_alternative<Reading>(value)) numbers.push_back(path);
        if (numbers.empty()) break;
        const std::string path = chance.of(numbers);
        row.cells.set(path, scaled(*row.reading(path), factor));
      }
    }
  }
}

void spoil_samples(TestRecord& r, Chance& chance) {
  for (Segment& segment : r.run.segments) {
    if (!segment.samples || segment.samples->size() < 10 || chance.below(3) == 0) continue;
    Samples s = *segment.samples;
    const size_t n = s.size();
    Channel& c = s.channels[1 + chance.below(s.channels.size() - 1)];
    double most = 0;
    for (double v : c.values)
      if (std::isfinite(v)) most = std::max(most, std::abs(v));
    const size_t at = chance.below(n);
    switch (chance.below(9)) {
      case 0:  // sampled slower
      case 1: {
        const size_t step = 2 + chance.below(30);
        for (Channel& every : s.channels) {
          std::vector<double> kept;
          for (size_t i = 0; i < n; i += step) kept.push_back(every.values[i]);
          every.values = std::move(kept);
        }
        break;
      }
      case 2: {  // noise
        const double sd = most * std::pow(10, -4 + 2.3 * chance.share());
        for (double& v : c.values) v += sd * chance.normal();
        break;
      }
      case 3:  // never zeroed
        for (double& v : c.values) v += most * 0.02 * chance.normal();
        break;
      case 4: {  // stopped
        const size_t kept = 10 + size_t((0.4 + 0.6 * chance.share()) * double(n - 10));
        for (Channel& every : s.channels) every.values.resize(kept);
        r.run.stopped = "Stopped by hand.";
        break;
      }
      case 5: {  // a step
        const double step = most * 0.03 * chance.normal();
        for (size_t i = at; i < n; ++i) c.values[i] += step;
        break;
      }
      case 6: {  // counts
        const double count = most * std::pow(10, -4 + 2 * chance.share());
        for (double& v : c.values) v = count * std::round(v / count);
        break;
      }
      case 7: {  // stands still
        for (size_t i = at; i < std::min(n, at + n / 5); ++i) c.values[i] = c.values[at];
        break;
      }
      default:
        if (s.channels.size() > 2) s.channels.erase(s.channels.begin() + 1 + long(chance.below(s.channels.size() - 1)));
    }
    segment.samples = std::make_shared<Samples>(std::move(s));
  }
}

// Limits around what was found: met, near, failed, the wrong way round.
void spoil_limits(TestRecord& r, const Evaluation& e, Chance& chance) {
  for (const ResultValue& v : e.results) {
    if (v.is_text() || !v.spec.headline || chance.below(3) != 0 || !std::isfinite(v.value)) continue;
    Reading at;
    at.value = v.value * (1 + 0.02 * chance.normal());
    at.typed = "varied";
    Limit limit;
    (chance.below(2) == 0 ? limit.min : limit.max) = at;
    r.limits[v.spec.key] = limit;
  }
}

// Every reading off by a share of itself, a few by much; counted as coarsely as some instruments do.
void shake_rows(TestRecord& r, Chance& chance) {
  for (auto& [id, rows] : r.run.tables) {
    const double noise = std::pow(10, -4 + 3 * chance.share());
    const bool coarse = chance.below(2) == 0;
    const size_t odd = chance.below(4), kept = rows.size() > 3 ? 3 + chance.below(rows.size() - 2) : rows.size();
    if (chance.below(3) == 0) rows.resize(std::min(rows.size(), kept));
    for (Row& row : rows) {
      const Fields cells = row.cells;
      for (const auto& [path, value] : cells.all())
        if (const auto* one = std::get_if<Reading>(&value)) {
          Reading off = scaled(*one, 1 + noise * chance.normal());
          if (coarse) off.resolution *= std::array{0.1, 1.0, 1.0, 2.0, 10.0}[chance.below(5)];
          row.cells.set(path, off);
        }
    }
    for (size_t i = 0; i < odd && !rows.empty(); ++i) {
      Row& row = rows[chance.below(rows.size())];
      const Fields cells = row.cells;
      const double factor = kFactors[chance.below(std::size(kFactors))];
      for (const auto& [path, value] : cells.all())
        if (const auto* one = std::get_if<Reading>(&value); one != nullptr && chance.below(2) == 0)
          row.cells.set(path, scaled(*one, factor));
    }
  }
}

}  // namespace fortitor
