#include "core/bench/kit_checks.h"

#include <cmath>

#include "core/json/json.h"
#include "core/quantity/format.h"
#include "core/quantity/parse.h"
#include "core/statistics/relation.h"

namespace fortitor::kit {
namespace {

struct Series {
  std::vector<double> values;
  std::vector<std::string> days;
  Dimension dimension = Dimension::none;
};

Dimension dimension_of(const Quantity& q) {
  return q.unit == nullptr ? Dimension::none : q.unit->dimension;
}

Series read(const std::vector<DailyCheck>& checks) {
  Series s;
  for (const DailyCheck& c : checks) {
    const auto q = parse_any_quantity(c.value);
    if (!q) continue;
    if (s.values.empty()) s.dimension = dimension_of(*q);
    if (dimension_of(*q) != s.dimension) continue;
    s.values.push_back(q->value);
    s.days.push_back(c.at.size() >= 10 ? c.at.substr(8, 2) + "." + c.at.substr(5, 2) + "." : c.at);
  }
  return s;
}

}  // namespace

std::optional<DailyCheck> check_in(const TestRecord& r, const std::string& kind) {
  if (r.tested_at.empty()) return std::nullopt;
  DailyCheck out{r.tested_at, "", r.operator_name, "read for " + r.specimen_id()};
  if (kind == "reference_block") {
    double sum = 0;
    size_t n = 0;
    for (const Reading& one : r.fields.readings("specimen.block.readings"))
      if (one.value) sum += *one.value, ++n;
    if (n == 0) return std::nullopt;
    out.value = significant(sum / double(n), 4);
  } else if (kind == "pendulum" || kind == "hammer") {
    const Readings swing = r.fields.readings("run.free_swing.beta");
    if (swing.empty() || !swing.front().value) return std::nullopt;
    out.value = typed_value(*swing.front().value, Dimension::angle, UnitSet::si, 4);
  } else {
    return std::nullopt;
  }
  return out;
}

Outcome<Done> fits(const DailyCheck& check, const std::vector<DailyCheck>& before) {
  const auto q = parse_any_quantity(check.value);
  if (!q) return q.error();
  const Series s = read(before);
  if (!s.values.empty() && s.dimension != dimension_of(*q))
    return InputError{
        "“" + check.value + "”: the checks before are in another unit, such as " + before.front().value + ".", {}};
  return Done{};
}

Figure figure_of(const std::vector<DailyCheck>& checks, const std::string& title) {
  Figure f;
  const Series s = read(checks);
  if (s.values.size() < 2) return f;
  f.id = "checks";
  f.title = title;
  Panel p;
  p.x = {"day", Dimension::none, Axis::Scale::category};
  p.x.categories = s.days;
  p.y = {"check", s.dimension};
  p.y.with_zero = false;
  Trace line, dots;
  for (size_t i = 0; i < s.values.size(); ++i) line.x.push_back(double(i)), line.y.push_back(s.values[i]);
  dots = line;
  dots.kind = Trace::Kind::points;
  line.weight = 1;
  const auto c = statistics::individuals(s.values);
  if (c)
    for (size_t i : c->beyond) dots.flags[i] = "beyond";
  p.traces = {line, dots};
  if (c && s.values.size() >= 4)
    for (const auto& [at, label, tone] : {std::tuple{c->mean, "mean", Mark::Tone::main},
                                          {c->low, "limit", Mark::Tone::limit},
                                          {c->high, "limit", Mark::Tone::limit}}) {
      Mark m;
      m.kind = Mark::Kind::level;
      m.points = {{0, at}};
      m.label = label;
      m.tone = tone;
      p.marks.push_back(std::move(m));
    }
  f.panels.push_back(std::move(p));
  return f;
}

std::string words_of(const std::vector<DailyCheck>& checks) {
  if (checks.empty()) return {};
  const Series s = read(checks);
  std::string out = checks.back().value;
  if (s.values.size() < 5) return out;
  // Held against those before it, so that a jump does not widen its own limits.
  const auto before = statistics::individuals({s.values.begin(), s.values.end() - 1});
  if (before && (s.values.back() < before->low || s.values.back() > before->high))
    return out + ", beyond the limits of the checks before";
  return out + ", as before";
}

Outcome<std::vector<DailyCheck>> checks_from_json(std::string_view text) {
  const auto j = Json::read(text);
  if (!j.is_array()) return InputError{"The daily checks cannot be read.", {}};
  std::vector<DailyCheck> out;
  for (const auto& c : j) {
    const auto word = [&](const char* key) {
      return c.is_object() && c.contains(key) && c[key].is_string() ? c[key].get<std::string>() : std::string();
    };
    if (!word("value").empty()) out.push_back({word("at"), word("value"), word("by"), word("note")});
  }
  return out;
}

std::string checks_to_json(const std::vector<DailyCheck>& checks) {
  Json j = Json::array();
  for (const DailyCheck& c : checks) j.push_back({{"at", c.at}, {"value", c.value}, {"by", c.by}, {"note", c.note}});
  return j.dump();
}

}  // namespace fortitor::kit
