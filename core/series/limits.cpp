#include "core/series/limits.h"

#include <algorithm>

#include "core/methods/support/ledger.h"
#include "core/series/series.h"

namespace fortitor {
namespace series {
namespace {

using D = Dimension;

constexpr const char* kLimited[] = {"mean", "least", "sd", "cv", "b_basis", "a_basis"};
constexpr const char* kWhole = "series";

}  // namespace

std::vector<ResultSpec> statistics_of(const ResultSpec& of) {
  auto line = [&](const char* key, const char* symbol, const char* name, D d, int figures, bool main = false) {
    return ResultSpec{key, symbol, name, d, RoundingClass::other, figures, main};
  };
  const D d = of.dimension;
  return {line("n", "n", "pieces that count", D::none, 6),
          line("mean", "x̄", "mean", d, 4, true),
          line("mean_low", "x̄₋", "95 % interval of the mean, lower end", d, 4),
          line("mean_high", "x̄₊", "95 % interval of the mean, upper end", d, 4),
          line("sd", "s", "standard deviation", d, 3, true),
          line("sd_low", "s₋", "95 % interval of s, lower end", d, 3),
          line("sd_high", "s₊", "95 % interval of s, upper end", d, 3),
          line("cv", "CV", "coefficient of variation", D::elongation, 3, true),
          line("median", "x̃", "median", d, 4),
          line("least", "min", "smallest", d, 4),
          line("most", "max", "largest", d, 4),
          line("a_basis", "A", "A-basis, 99 % lie above", d, 4),
          line("b_basis", "B", "B-basis, 90 % lie above", d, 4),
          line("normality_p", "p", "normality, Anderson–Darling", D::none, 2),
          line("weibull_shape", "β", "shape of the Weibull", D::none, 4),
          line("weibull_scale", "α", "scale of the Weibull", d, 4),
          line("weibull_p", "p_W", "Weibull, Anderson–Darling", D::none, 2),
          line("pieces_wanted", "n_w", "pieces for the interval wanted", D::none, 6),
          line("ml_mean", "μ", "mean with bounds, maximum likelihood", d, 4, true),
          line("ml_sd", "σ", "deviation with bounds, maximum likelihood", d, 3),
          line("void", "void", "void tests", D::none, 6),
          line("missing", "none", "pieces without this result", D::none, 6),
          line("left_out", "out", "pieces left out with a reason", D::none, 6),
          line("bounds", "≥", "pieces known as a bound", D::none, 6)};
}

Limited limited_in(const Method& m) {
  return {m.result, m.series.limit_keys, m.series.results};
}

std::optional<ResultSpec> limited(const Limited& by, const std::string& key) {
  const size_t dot = key.rfind('.');
  if (dot == std::string::npos || !by.result) return std::nullopt;
  const std::string statistic = key.substr(dot + 1), result = key.substr(0, dot);
  if (statistic == kWhole) {
    if (std::find(by.whole.begin(), by.whole.end(), result) == by.whole.end()) return std::nullopt;
    auto spec = ledger::find_spec(by.only, result);
    if (!spec) spec = by.result(result);
    if (!spec) return std::nullopt;
    spec->key = key;
    spec->name += " of the series";
    return spec;
  }
  const auto of = by.result(result);
  if (!of || of->symbol.empty() || std::find(std::begin(kLimited), std::end(kLimited), statistic) == std::end(kLimited))
    return std::nullopt;
  for (ResultSpec spec : statistics_of(*of))
    if (spec.key == statistic) {
      spec.key = key;
      spec.name += " of " + of->name;
      return spec;
    }
  return std::nullopt;
}

std::map<std::string, Limit> limits_of_whole(const Method& method, const TestRecord& settings) {
  std::map<std::string, Limit> out;
  for (const std::string& key : method.series.limit_keys)
    if (const auto it = settings.limits.find(key + "." + kWhole); it != settings.limits.end()) out[key] = it->second;
  return out;
}

std::map<std::string, Limit> limits_over(const TestRecord& settings, const std::string& result) {
  std::map<std::string, Limit> out;
  for (const char* key : kLimited)
    if (const auto it = settings.limits.find(result + "." + key); it != settings.limits.end()) out[key] = it->second;
  return out;
}

}  // namespace series

std::optional<ResultSpec> series_limit(const Method& method, const std::string& key) {
  return series::limited(series::limited_in(method), key);
}

std::string stand_words(const ResultValue& r, UnitSet set) {
  if (r.verdict == Verdict::none) return {};
  std::string limits;
  for (const auto& [bound, sign] : {std::pair{r.limit.min, "≥ "}, {r.limit.max, "≤ "}})
    if (bound && bound->value)
      limits +=
          (limits.empty() ? "" : ", ") + (sign + format_value(*bound->value, r.spec.dimension, set, r.spec.figures));
  return limits + ": " + std::string(verdict_word(r.verdict));
}

std::vector<std::string> series_limits_of(const Method& method, const std::string& result) {
  std::vector<std::string> out;
  for (const std::string& key : method.series.limit_keys) out.push_back(key + "." + series::kWhole);
  for (const char* key : series::kLimited) out.push_back(result + "." + key);
  return out;
}

}  // namespace fortitor
