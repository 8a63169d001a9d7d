#include "core/series/groups.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "core/methods/support/ledger.h"

namespace fortitor::series {
namespace {

using D = Dimension;

constexpr size_t kMostGroups = 12;

// What a field of a piece says, as the name of its group.
std::string word_of(const Method& method, const SeriesPiece& piece, const std::string& by, const std::string& own) {
  if (by == kBySeries) return piece.beside.empty() ? own : piece.beside;
  if (by == "operator") return piece.record->operator_name.empty() ? "nobody named" : piece.record->operator_name;
  const FieldSpec* f = method.field(by);
  if (f == nullptr) return {};
  const Fields& fields = piece.record->fields;
  switch (f->kind) {
    case FieldKind::flag: return fields.flag(by) ? f->label : "not: " + f->label;
    case FieldKind::choice: {
      const std::string is = fields.text(by);
      for (const Choice& c : f->choices)
        if (c.value == is || (is.empty() && f->first_is_usual && &c == &f->choices.front())) return c.label;
      return f->label + ": not said";
    }
    case FieldKind::quantity:
    case FieldKind::number: {
      const auto v = fields.number(by);
      return v ? f->label + " " + format_value(*v, f->dimension, UnitSet::si, 4) : "no " + f->label;
    }
    default: {
      const std::string is = fields.text(by);
      return is.empty() ? f->label + ": not said" : is;
    }
  }
}

bool can_part(const FieldSpec& f) {
  if (f.path == "specimen.id" || f.path == "specimen.note" || f.path.rfind("settings.", 0) == 0) return false;
  return f.kind == FieldKind::flag || f.kind == FieldKind::choice || f.kind == FieldKind::text ||
         f.kind == FieldKind::quantity;
}

}  // namespace

namespace {

// Whether a quantity was held as closely as a laboratory holds one: −19.8 and −20.1 °C are one temperature.
bool near(const Method& method, const std::vector<SeriesPiece>& pieces, const std::string& path) {
  constexpr double kDegrees = 4, kShare = 0.02;  // ± 2 °C (ISO 148-1); ± 1 %
  const FieldSpec* f = method.field(path);
  if (f == nullptr || f->kind != FieldKind::quantity) return false;
  double low = HUGE_VAL, high = -HUGE_VAL;
  for (const SeriesPiece& p : pieces) {
    if (!p.beside.empty()) continue;
    const auto v = p.record->fields.number(path);
    if (!v) return false;
    low = std::min(low, *v);
    high = std::max(high, *v);
  }
  return high - low <= (base_dimension(f->dimension) == D::temperature ? kDegrees : kShare * std::abs(high)) + 1e-9;
}

}  // namespace

Unlike unlike_in(const Method& method, const std::vector<SeriesPiece>& pieces) {
  for (const std::string& path : method.series.alike) {
    std::map<std::string, size_t> words;
    for (const SeriesPiece& p : pieces)
      if (p.beside.empty()) ++words[word_of(method, p, path, {})];
    if (words.size() < 2 || near(method, pieces, path)) continue;
    Unlike u{path, {}};
    for (const auto& [word, n] : words)
      u.words += (u.words.empty() ? "" : ", ") + word + " (" + std::to_string(n) + ")";
    return u;
  }
  return {};
}

std::vector<Group> groups_of(const Method& method, const Numbers& numbers, const std::vector<SeriesPiece>& pieces,
                             const std::string& by, const std::string& own) {
  std::vector<Group> groups;
  std::vector<std::vector<double>> values, prices;
  std::vector<std::vector<statistics::Observation>> observed;
  for (size_t i = 0; i < std::min(pieces.size(), numbers.pieces.size()); ++i) {
    const Value& v = numbers.pieces[i];
    if (!v.there || v.void_test || !v.left_out.empty()) continue;
    const std::string name = word_of(method, pieces[i], by, own);
    if (name.empty()) continue;
    size_t g = 0;
    while (g < groups.size() && groups[g].name != name) ++g;
    if (g == groups.size()) {
      groups.push_back({name, {}, {}, 0, HUGE_VAL});
      values.emplace_back();
      observed.emplace_back();
      prices.emplace_back();
    }
    groups[g].pieces.push_back(i);
    if (v.censored)
      ++groups[g].bounds;
    else
      values[g].push_back(v.value);
    observed[g].push_back({v.value, v.censored});
    const double low = v.censored && !v.censored->above ? v.censored->from : v.value;
    if (low < groups[g].lowest) {
      groups[g].lowest = low;
      groups[g].lowest_bound = v.censored.has_value();
    }
    const double price = pieces[i].record->fields.number(method.series.price_path).value_or(0);
    if (price > 0) prices[g].push_back(price);
  }
  for (size_t g = 0; g < groups.size(); ++g) {
    groups[g].counted = statistics::summarize(values[g]);
    if (groups[g].bounds > 0) groups[g].likelihood = statistics::censored_normal(observed[g]);
    if (!prices[g].empty()) groups[g].price = statistics::summarize(prices[g]).mean;
  }
  return groups;
}

std::vector<SeriesGroup> parted(const Method& method, const std::vector<SeriesPiece>& pieces, const std::string& by,
                                const std::string& own) {
  std::vector<SeriesGroup> groups;
  for (const SeriesPiece& p : pieces) {
    const std::string name = word_of(method, p, by, own);
    if (name.empty()) continue;
    const auto g = std::find_if(groups.begin(), groups.end(), [&](const SeriesGroup& one) { return one.name == name; });
    if (g == groups.end())
      groups.push_back({name, {p}});
    else
      g->pieces.push_back(p);
  }
  return groups;
}

std::vector<Choice> groupings(const Method& method, const std::vector<SeriesPiece>& pieces) {
  std::vector<Choice> out;
  auto parts = [&](const std::string& by) {
    std::set<std::string> names;
    for (const SeriesPiece& p : pieces) names.insert(word_of(method, p, by, "this series"));
    return names.size() >= 2 && names.size() <= std::min(kMostGroups, pieces.size() - 1);
  };
  if (pieces.size() < 3) return out;
  if (parts(kBySeries)) out.push_back({kBySeries, "series of the job"});
  if (parts("operator")) out.push_back({"operator", "operator"});
  for (const FieldSpec& f : method.fields)
    if (can_part(f) && parts(f.path)) out.push_back({f.path, f.label});
  return out;
}

void add_groups(Evaluation& e, const Numbers& numbers, const std::vector<Group>& groups) {
  const ResultSpec& of = numbers.spec;
  // Scatter and differences stand in the unit of the means.
  double largest = 0;
  for (const Group& group : groups)
    largest = std::max(largest, std::isfinite(group.mean()) ? std::abs(group.mean()) : 0);
  auto shown = [&](double v, int figures = 4) {
    const Unit& unit = display_unit(of.dimension, UnitSet::si, largest);
    return significant((v - unit.offset) / unit.factor, figures) + (unit.symbol.empty() ? "" : " ") +
           std::string(unit.symbol);
  };
  for (size_t g = 0; g < groups.size(); ++g) {
    const Group& group = groups[g];
    const std::string key = "group_" + std::to_string(g + 1);
    auto add = [&](const char* what, const std::string& name, double value, D d, int figures, bool bound = false) {
      ResultValue r;
      if (bound) r.censored = Censoring{true, 0, 0};
      r.spec = {key + what, "", group.name + ", " + name, d, RoundingClass::other, figures, false};
      r.value = value;
      r.like = e.find("mean") != nullptr && d == of.dimension ? e.find("mean")->value : 0;
      e.results.push_back(std::move(r));
    };
    const statistics::Summary& s = group.counted;
    add("_n", "pieces", double(s.n + group.bounds), D::none, 6);
    std::string words = std::to_string(s.n + group.bounds) + (s.n + group.bounds == 1 ? " piece" : " pieces");
    if (std::isfinite(group.mean())) {
      add("_mean", "mean", group.mean(), of.dimension, 4);
      words += ", mean " + shown(group.mean()) + (group.bounds > 0 ? " by likelihood" : "");
    }
    if (std::isfinite(group.lowest)) {
      add("_least", "lowest", group.lowest, of.dimension, 4, group.lowest_bound);
      words += ", lowest " + std::string(group.lowest_bound ? "≥ " : "") + shown(group.lowest);
    }
    if (std::isfinite(group.sd())) {
      add("_sd", "standard deviation", group.sd(), of.dimension, 3);
      words += ", s " + shown(group.sd(), 3);
    }
    if (group.bounds > 0) {
      add("_bounds", "known as a bound", double(group.bounds), D::none, 6);
      words += s.n == 0 ? ", all known only as a bound" : ", " + std::to_string(group.bounds) + " known as a bound";
    }
    if (group.price > 0 && of.dimension == D::force && group.mean() > 0) {
      const double per_kn = group.price / (group.mean() / 1e3);
      add("_price_per_kn", "price for every kN", per_kn, D::none, 3);
      words += "; " + significant(per_kn, 3) + " for every kN of the mean";
    }
    ResultValue text;
    text.spec = {key, "", group.name, D::none, RoundingClass::other, 4, true};
    text.text = words;
    e.results.push_back(std::move(text));
  }
  if (groups.size() < 2) return;
  Panel panel;
  panel.name = "Groups";
  panel.x = {"group", D::none, Axis::Scale::category};
  panel.y = {of.name, of.dimension};
  panel.y.with_zero = false;
  panel.weight = 12;
  Trace points, means;
  points.kind = means.kind = Trace::Kind::points;
  means.marker = Marker::diamond;
  means.label = "mean ± s";
  means.tone = 2;
  for (size_t g = 0; g < groups.size(); ++g) {
    panel.x.categories.push_back(groups[g].name);
    const size_t n = groups[g].pieces.size();
    for (size_t k = 0; k < n; ++k) {
      const Value& v = numbers.pieces[groups[g].pieces[k]];
      // Side by side, so that like values do not hide each other.
      points.x.push_back(double(g) - 0.1 + (n > 1 ? 0.16 * (double(k) / double(n - 1) - 0.5) : 0));
      const bool interval = v.censored && !v.censored->above;
      points.y.push_back(interval ? 0.5 * (v.censored->from + v.censored->to) : v.value);
      points.error.push_back(interval ? 0.5 * (v.censored->to - v.censored->from) : 0);
      points.bound.push_back(v.censored && v.censored->above ? 1 : 0);
    }
    if (!std::isfinite(groups[g].mean())) continue;
    means.x.push_back(double(g) + 0.15);
    means.y.push_back(groups[g].mean());
    means.error.push_back(std::isfinite(groups[g].sd()) ? groups[g].sd() : 0);
  }
  panel.traces = {points, means};
  Figure figure;
  figure.id = "groups";
  figure.title = of.name + " by groups";
  figure.printed = true;
  figure.panels.push_back(std::move(panel));
  e.figures.push_back(std::move(figure));
}

}  // namespace fortitor::series
