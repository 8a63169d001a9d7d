// Groups against each other: which test speaks depends on how many they are and whether bounds are among them.
#include <cmath>

#include "core/methods/support/ledger.h"
#include "core/series/groups.h"
#include "core/statistics/groups.h"

namespace fortitor::series {
namespace {

using D = Dimension;
using ledger::raise;

struct Writer {
  Evaluation& e;
  const Numbers& numbers;
  const std::vector<Group>& groups;
  double like;  ///< differences stand in the unit of the means

  std::string shown(double v, int figures = 3) const { return series::shown(v, numbers.spec, figures, like); }
  void add(const char* key, const char* symbol, const char* name, double value, D d, int figures, Step step) const {
    if (!std::isfinite(value)) return;
    ResultValue r;
    r.spec = {key, symbol, name, d, RoundingClass::other, figures, false};
    r.value = value;
    r.like = d == numbers.spec.dimension && d != D::none ? like : 0;
    step.value = value;
    step.dimension = d;
    r.how = {std::move(step)};
    e.results.push_back(std::move(r));
  }
  std::string p(double value) const { return value < 1e-4 ? "p < 0.0001" : "p = " + significant(value, 2); }
};

void two(const Writer& w, const statistics::Groups& values, std::optional<double> margin) {
  const auto& groups = w.groups;
  const std::string names = groups[0].name + " against " + groups[1].name;
  const auto welch = statistics::welch(values[0], values[1]);
  if (welch) {
    const std::string with = std::to_string(values[0].size()) + " and " + std::to_string(values[1].size()) + " pieces";
    w.add("difference", "Δx̄", "difference of the two means", welch->difference, w.numbers.spec.dimension, 3,
          {"x̄₁ − x̄₂", with, 0, D::none, ""});
    w.add("difference_low", "Δ₋", "95 % interval of the difference, lower end", welch->of_difference.low,
          w.numbers.spec.dimension, 3, {"Δx̄ − t·√(s₁²/n₁ + s₂²/n₂)", with, 0, D::none, "Welch 1947"});
    w.add("difference_high", "Δ₊", "95 % interval of the difference, upper end", welch->of_difference.high,
          w.numbers.spec.dimension, 3, {"Δx̄ + t·√(s₁²/n₁ + s₂²/n₂)", with, 0, D::none, "Welch 1947"});
    w.add("welch_t", "t", "difference over its error", welch->t, D::none, 4,
          {"Δx̄/√(s₁²/n₁ + s₂²/n₂)", with, 0, D::none, "Welch 1947"});
    w.add("welch_dof", "ν", "degrees of freedom of t", welch->dof, D::none, 4,
          {"Satterthwaite", with, 0, D::none, "Welch 1947"});
    w.add("welch_p", "p_t", "two groups alike, by their means", welch->p, D::none, 2,
          {"P(|T| ≥ |t|)", with, 0, D::none, "Welch 1947"});
  }
  const auto ranks = statistics::mann_whitney(values[0], values[1]);
  if (ranks)
    w.add("mann_whitney_p", "p_U", "two groups alike, by ranks", ranks->p, D::none, 2,
          {"U = " + significant(ranks->u, 6), ranks->exact ? "all orders counted" : "normal, corrected for ties", 0,
           D::none, "Mann and Whitney 1947"});
  if (welch)
    raise(w.e, "groups", Severity::note,
          names + ": difference of the means " + w.shown(welch->difference, 4) + ", 95 % " +
              w.shown(welch->of_difference.low) + " to " + w.shown(welch->of_difference.high) + " (Welch, " +
              w.p(welch->p) + (ranks ? "; by ranks " + w.p(ranks->p) : std::string()) +
              "): " + (welch->p < 0.05 ? "they differ." : "these few do not tell them apart."),
          {{"difference", welch->difference}, {"p", welch->p}}, {}, "group_1");
  if (!margin) return;
  if (const auto e = statistics::equivalence(values[0], values[1], *margin)) {
    w.add("equivalence_p", "p_eq", "not equivalent within the margin", e->p, D::none, 2,
          {"two one-sided Welch tests", "margin ± " + w.shown(*margin), 0, D::none, "Schuirmann 1987"});
    raise(w.e, "equivalence", Severity::note,
          names + ": " + (e->equivalent ? "equivalent within ± " : "not shown to be equivalent within ± ") +
              w.shown(*margin) + "; the 90 % interval of the difference is " + w.shown(e->of_difference.low) + " to " +
              w.shown(e->of_difference.high) + " (two one-sided tests, " + w.p(e->p) + ").",
          {{"p", e->p}, {"margin", *margin}}, {}, "equivalence_p");
  }
}

void several(const Writer& w, const statistics::Groups& values) {
  const auto a = statistics::anova(values);
  if (!a) return;
  const std::string with =
      significant(a->dof_between, 4) + " and " + significant(a->dof_within, 5) + " degrees of freedom";
  w.add("anova_f", "F", "scatter between groups over scatter within", a->f, D::none, 4,
        {"MS between/MS within", with, 0, D::none, "one-way analysis of variance"});
  w.add("anova_p", "p_F", "all groups alike", a->p, D::none, 2,
        {"P(F ≥ f)", with, 0, D::none, "one-way analysis of variance"});
  const auto pairs = statistics::tukey_kramer(values);
  RowValue difference{"pairs", "difference", "difference of the means", w.numbers.spec.dimension, {}},
      low{"pairs", "low", "lower end", w.numbers.spec.dimension, {}},
      high{"pairs", "high", "upper end", w.numbers.spec.dimension, {}}, p{"pairs", "p", "p", D::none, {}},
      first{"pairs", "first", "group", D::none, {}}, second{"pairs", "second", "group", D::none, {}};
  std::string apart;
  for (const statistics::Pair& pair : pairs) {
    difference.values.push_back(pair.difference);
    low.values.push_back(pair.of_difference.low);
    high.values.push_back(pair.of_difference.high);
    p.values.push_back(pair.p);
    first.values.push_back(double(pair.first));
    second.values.push_back(double(pair.second));
    if (pair.p < 0.05)
      apart += (apart.empty() ? "" : "; ") + w.groups[pair.first].name + " and " + w.groups[pair.second].name + " by " +
               w.shown(std::abs(pair.difference)) + " (" + w.p(pair.p) + ")";
  }
  for (RowValue* r : {&first, &second, &difference, &low, &high, &p}) w.e.row_values.push_back(std::move(*r));
  raise(w.e, "groups", Severity::note,
        "Over the " + std::to_string(w.groups.size()) + " groups F(" + significant(a->dof_between, 4) + ", " +
            significant(a->dof_within, 5) + ") = " + significant(a->f, 3) + ", " + w.p(a->p) + ": " +
            (a->p < 0.05 ? "they are not all alike." : "these few do not tell them apart.") +
            (apart.empty() ? a->p < 0.05 ? " No single pair stands out (Tukey–Kramer)." : ""
                           : " Apart are " + apart + " (Tukey–Kramer, 5 % over all pairs)."),
        {{"f", a->f}, {"p", a->p}}, {}, "anova_p");
}

}  // namespace

void compare_groups(Evaluation& e, const Numbers& numbers, const std::vector<Group>& groups,
                    std::optional<double> margin) {
  if (groups.size() < 2) return;
  double like = 0;
  for (const Group& g : groups) like = std::max(like, std::abs(g.counted.mean));
  const Writer w{e, numbers, groups, like};
  statistics::Groups values(groups.size());
  std::vector<std::vector<statistics::Observation>> all(groups.size());
  size_t bounds = 0;
  for (size_t g = 0; g < groups.size(); ++g)
    for (size_t i : groups[g].pieces) {
      const Value& v = numbers.pieces[i];
      all[g].push_back({v.value, v.censored});
      if (v.censored)
        ++bounds;
      else
        values[g].push_back(v.value);
    }
  if (bounds > 0) {
    // A test of the measured values alone would take the strongest pieces out: only the likelihood is fair to bounds.
    const auto r = statistics::likelihood_ratio(all);
    if (!r) return;
    w.add("likelihood_chi2", "χ²", "likelihood of several means over that of one", r->chi2, D::none, 4,
          {"2·ln(L/L₀)", std::to_string(bounds) + " of the values are bounds", 0, D::none, "Cohen 1991"});
    w.add("likelihood_p", "p_L", "all groups alike, bounds taken as bounds", r->p, D::none, 2,
          {"χ²", "one deviation for all groups", 0, D::none, "Cohen 1991"});
    std::string means;
    size_t k = 0;
    for (size_t g = 0; g < groups.size(); ++g)
      if (!values[g].empty()) means += (means.empty() ? "" : ", ") + groups[g].name + " " + w.shown(r->means[k++], 4);
    raise(e, "groups", Severity::note,
          "Means by maximum likelihood, bounds taken as bounds: " + means + " (χ² = " + significant(r->chi2, 3) + ", " +
              w.p(r->p) + "): " + (r->p < 0.05 ? "they differ." : "these few do not tell them apart."),
          {{"chi2", r->chi2}, {"p", r->p}}, {}, "likelihood_p");
    return;
  }
  if (groups.size() == 2)
    two(w, values, margin);
  else
    several(w, values);
}

}  // namespace fortitor::series
