// The transition over the sets of a series: every blow of every set, the curve through them with its band, the
// temperatures that are asked for, where the next set belongs.
#include <algorithm>
#include <cmath>
#include <set>

#include "core/methods/impact_pendulum/model.h"
#include "core/statistics/transition.h"

namespace fortitor::pendulum {

using namespace ledger;
using D = Dimension;
using statistics::TransitionFit;

namespace {

constexpr double kNearPlateau = 0.1;  // of the height between the plateaus: a set that shows one

constexpr double kAbsoluteZero = -273.15;

struct Points {
  std::vector<double> t, k;
  size_t bounds = 0;  ///< blows that did not break: not fitted
  size_t temperatures = 0;
};

Points points_of(const std::vector<SeriesPiece>& pieces) {
  Points p;
  std::set<double> seen;
  for (const SeriesPiece& piece : pieces) {
    const auto t = piece.record->fields.number("specimen.temperature");
    if (!t || !piece.record->fields.text("settings.series.left_out").empty() ||
        piece.evaluation->verdict == Verdict::void_test)
      continue;
    for (const blows::Blow& b : blows::set_of(*piece.record).all) {
      if (!b.counts) continue;
      if (b.unbroken) {
        ++p.bounds;
        continue;
      }
      p.t.push_back(*t);
      p.k.push_back(b.energy);
      seen.insert(*t);
    }
  }
  p.temperatures = seen.size();
  return p;
}

// Energies that fall as the pieces get warmer: by Kendall's rank correlation over all pairs of sets.
void judge_direction(Evaluation& e, const Points& p) {
  constexpr double kFalls = -0.5;
  double pairs = 0, score = 0;
  for (size_t i = 0; i < p.t.size(); ++i)
    for (size_t j = 0; j < i; ++j) {
      if (p.t[i] == p.t[j]) continue;
      pairs += 1;
      const double way = (p.t[i] - p.t[j]) * (p.k[i] - p.k[j]);
      score += way > 0 ? 1 : way < 0 ? -1 : 0;
    }
  if (p.temperatures < 3 || !(pairs >= 6) || score / pairs > kFalls) return;
  raise(e, "falls-with-temperature", Severity::check,
        "The energies fall as the pieces get warmer, which no steel's do: signs of temperatures, or sets, were "
        "exchanged.",
        {{"tau", score / pairs}}, {}, key::energy);
}

// The set that lies farthest off the curve through the others, and what comes out without it. It stays in.
void judge_stray(Evaluation& e, const Points& p, const TransitionFit& with) {
  constexpr double kErrors = 4, kShare = 0.1;  // of its own error, and of the height of the curve
  double worst = 0, off = 0, at = NAN, without = NAN;
  for (double t : std::set<double>(p.t.begin(), p.t.end())) {
    std::vector<double> ts, ks;
    double mean = 0, n = 0;
    for (size_t i = 0; i < p.t.size(); ++i)
      if (p.t[i] == t)
        mean += p.k[i], n += 1;
      else
        ts.push_back(p.t[i]), ks.push_back(p.k[i]);
    if (std::set<double>(ts.begin(), ts.end()).size() < 6) return;
    const auto f = statistics::fit_transition(ts, ks);
    if (!f || f->n < 6) continue;
    const double d = mean / n - f->at(t), error = std::hypot(f->scatter / std::sqrt(n), f->error_at(t));
    if (!(std::abs(d) > kErrors * error) || std::abs(d) < kShare * (f->upper - f->lower)) continue;
    if (std::abs(d) / error <= worst) continue;
    worst = std::abs(d) / error;
    off = d, at = t, without = f->temperature_at(27);
  }
  if (!std::isfinite(at)) return;
  auto celsius = [](double t) { return std::isfinite(t) ? si(t, D::temperature, 3) : std::string("not reached"); };
  raise(e, "set-off", Severity::check,
        "The set at " + si(at, D::temperature, 3) + " lies " + significant(std::abs(off), 3) + " J " +
            (off > 0 ? "above" : "below") + " the curve through the others: look to its temperature and its marking. " +
            "T for 27 J is " + celsius(with.temperature_at(27)) + " with it, " + celsius(without) + " without.",
        {{"temperature", at}, {"off", off}}, {{"accept", "It stays in, with a reason", {}, true}}, key::t27j);
}

Figure figure_of(const TransitionFit& f, const Points& p) {
  Figure figure;
  figure.id = "transition";
  figure.title = "energy over temperature";
  Panel panel;
  panel.name = "Transition";
  panel.x = {"temperature", D::temperature};
  panel.x.with_zero = false;
  panel.y = {"energy", D::energy};
  const auto [cold, warm] = std::minmax_element(p.t.begin(), p.t.end());
  const double room = 0.1 * (*warm - *cold), from = *cold - room, to = *warm + room;
  Trace band, curve, blows;
  band.kind = Trace::Kind::area;
  band.tone = 6;
  band.pale = true;
  for (int i = 0; i <= 80; ++i) {
    const double t = from + (to - from) * i / 80, half = 2 * f.widening() * f.error_at(t);
    curve.x.push_back(t);
    curve.y.push_back(f.at(t));
    if (!std::isfinite(half)) continue;
    band.x.push_back(t);
    band.y.push_back(f.at(t) + half);
    band.base.push_back(std::max(0.0, f.at(t) - half));
  }
  blows.kind = Trace::Kind::points;
  blows.x = p.t;
  blows.y = p.k;
  panel.traces = {band, curve, blows};
  for (const auto& [key, energy] :
       {std::pair{key::t27j, 27.0}, {key::t41j, 41.0}, {key::t50, 0.5 * (f.upper + f.lower)}}) {
    const double t = f.temperature_at(energy);
    if (!std::isfinite(t)) continue;
    Mark m;
    m.kind = Mark::Kind::point;
    m.key = key;
    m.label = key == std::string(key::t50) ? "mid" : significant(energy, 2) + " J";
    m.points = {{t, energy}};
    m.drop_line = true;
    m.on_demand = key == std::string(key::t41j);
    panel.marks.push_back(m);
  }
  figure.panels.push_back(std::move(panel));
  return figure;
}

}  // namespace

std::vector<ResultSpec> transition_results() {
  std::vector<ResultSpec> out = {
      spec_of(key::t27j, "T_27J", D::temperature, true, 3),
      spec_of(key::t41j, "T_41J", D::temperature, true, 3),
      spec_of(key::t50, "T_mid", D::temperature, true, 3),
      spec_of(key::upper_shelf, "U", D::energy, true, 3),
      spec_of(key::lower_shelf, "L", D::energy, true, 3),
      spec_of(key::next_temperature, "T_next", D::temperature, true, 3),
  };
  for (ResultSpec& s : out) name_result(s, "impact-pendulum");
  return out;
}

Evaluation transition(const std::vector<SeriesPiece>& pieces, const TestRecord& settings) {
  Evaluation e;
  e.method = "impact-pendulum";
  e.specimen = settings.series;
  const Points p = points_of(pieces);
  if (p.t.size() < 2 || p.temperatures < 2) return e;  // sets at one temperature are no transition
  judge_direction(e, p);
  const auto fit = p.temperatures >= 6 ? statistics::fit_transition(p.t, p.k) : std::nullopt;
  if (!fit) {
    raise(e, "few-temperatures", Severity::note,
          "A transition wants blows at six temperatures or more; there are " + std::to_string(p.temperatures) + ".",
          {{"temperatures", double(p.temperatures)}}, {}, key::energy);
    return e;
  }
  const TransitionFit& f = *fit;
  const auto energies = std::minmax_element(p.k.begin(), p.k.end());
  const double* const least = &*energies.first;  // named: clang takes no structured binding into a lambda
  const double* const most = &*energies.second;
  const auto [cold_set, warm_set] = std::minmax_element(p.t.begin(), p.t.end());
  const double coldest = *cold_set, warmest = *warm_set;
  const double height = f.upper - f.lower;
  const bool foot = *least <= f.lower + kNearPlateau * height, top = *most >= f.upper - kNearPlateau * height;
  const std::string curve = "L = " + significant(f.lower, 4) + " J, U = " + significant(f.upper, 4) +
                            " J, T₀ = " + si(f.t0, D::temperature, 4) + ", C = " + significant(f.c, 4) + " K";
  const std::vector<ResultSpec> specs = transition_results();
  auto add = [&](const char* key, double value, double error, std::string expression,
                 std::optional<Censoring> bound = {}) {
    if (!std::isfinite(value)) return;
    ResultValue r;
    r.spec = *find_spec(specs, key);
    r.value = value;
    if (!bound && std::isfinite(error) && f.n > 4) {
      r.standard_uncertainty = error;
      r.dof = double(f.n) - 4;
    }
    r.censored = bound;
    r.how = {{std::move(expression), curve, value, r.spec.dimension,
              "tanh through " + std::to_string(f.n) + " blows, s = " + significant(f.scatter, 3) +
                  " J; Oldfield 1975, errors from the Jacobian"}};
    if (r.standard_uncertainty > 0) r.budget = {{"scatter of the blows about the curve", error, 1, error, r.dof}};
    e.results.push_back(std::move(r));
  };
  auto at = [&](const char* key, double energy) {
    const double t = f.temperature_at(energy);
    // Where no blow went as low (or as high), the temperature lies beyond the sets: that much is known of it.
    if (!foot && energy < *least)
      return add(key, coldest, NAN, "no blow took as little: it lies colder than the sets",
                 Censoring{false, kAbsoluteZero, coldest});
    if (!top && energy > *most)
      return add(key, warmest, NAN, "no blow took as much: it lies warmer than the sets", Censoring{true, 0, 0});
    add(key, t, f.error_of_temperature(energy), "K(T) = " + significant(energy, 3) + " J");
  };
  at(key::t27j, 27);
  at(key::t41j, 41);
  add(key::t50, f.t0, f.error_of(2), "K(T₀) = (U + L)/2");
  // A shelf nobody has reached lies beyond the last blow: that much is known of it.
  add(key::upper_shelf, top ? f.upper : *most, f.error_of(1), top ? "U of the curve" : "largest energy seen",
      top ? std::nullopt : std::optional(Censoring{true, 0, 0}));
  add(key::lower_shelf, foot ? f.lower : *least / 2, f.error_of(0),
      foot ? "L of the curve" : "below the least energy seen",
      foot ? std::nullopt : std::optional(Censoring{false, 0, *least}));
  if (!foot || !top)
    raise(e, "shelves-unseen", Severity::check,
          std::string("The blows do not reach within 10 % of the ") +
              (!foot && !top ? "shelves"
               : foot        ? "upper shelf"
                             : "lower shelf") +
              ": the curve guesses there. Strike further sets " +
              (foot  ? "warmer."
               : top ? "colder."
                     : "colder and warmer."),
          {{"least", *least}, {"most", *most}}, {}, foot ? key::upper_shelf : key::lower_shelf);
  // The next set belongs where the band is widest between the shelves, in steps of five.
  const auto [cold, warm] = std::minmax_element(p.t.begin(), p.t.end());
  double next = NAN, widest = 0;
  for (double t = 5 * std::floor((*cold - 20) / 5); t <= *warm + 20; t += 5) {
    const double width = f.error_at(t);
    if (std::isfinite(width) && width > widest) widest = width, next = t;
  }
  if (!foot) next = 5 * std::floor((*cold - 20) / 5);
  add(key::next_temperature, next, NAN, foot ? "where the band is widest" : "colder than any set: the foot is unseen");
  if (p.bounds > 0)
    raise(e, "not-broken", Severity::note,
          std::to_string(p.bounds) + (p.bounds == 1 ? " piece" : " pieces") + " did not break and are not fitted.",
          {{"bounds", double(p.bounds)}}, {}, key::upper_shelf);
  judge_stray(e, p, f);
  e.figures.push_back(figure_of(f, p));
  return e;
}

}  // namespace fortitor::pendulum
