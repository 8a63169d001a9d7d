#include "core/curve/stations.h"

#include <algorithm>
#include <cmath>

#include "core/statistics/sample.h"

namespace fortitor {
namespace {

constexpr double kOffChance = 0.005;  // of one stop, on either side, that is called off the line of the others
constexpr double kCountsOff = 3;      // of the indicator: less is its last digit
constexpr double kHair = 1e-9, kRoundOff = 1e-12, kQuickRoundOff = 1e-6,
                 kNothing = 1e-20;  // of sums in double; of running sums; of a square that is constant
constexpr size_t kManyStops = 200;  // from here on running sums rule most ends out first
// Out of course: times what its neighbours differ by, and of the whole range.
constexpr double kOutOfNeighbours = 2, kOutOfRange = 0.05;

constexpr size_t kLeaveOneOutLimit = 400;  // beyond, nobody keyed the stops by hand

LoadingPath head(const LoadingPath& p, size_t n) {
  LoadingPath h = p;
  for (auto* v : {&h.load, &h.response, &h.count}) v->resize(n);
  h.station.resize(n);
  return h;
}

LoadingPath without(const LoadingPath& p, size_t i) {
  LoadingPath h = p;
  for (auto* v : {&h.load, &h.response, &h.count}) v->erase(v->begin() + long(i));
  h.station.erase(h.station.begin() + long(i));
  return h;
}

// Departure of (x, y) from the line through the points of `others`.
std::optional<Departure> departure_from(const LoadingPath& others, double x, double y, double count) {
  const size_t n = others.size() + 1;
  const auto line = n < 4 ? std::nullopt : fit_line(others.load, others.response);
  if (!line) return std::nullopt;
  double mean = 0, sxx = 0, sse = 0;
  for (double v : others.load) mean += v / double(others.size());
  for (size_t k = 0; k < others.size(); ++k) {
    sxx += (others.load[k] - mean) * (others.load[k] - mean);
    const double r = others.response[k] - line->at(others.load[k]);
    sse += r * r;
  }
  Departure d;
  d.residual = y - line->at(x);
  const double s2 = sse / double(n - 3);
  const double se = std::sqrt(s2 * (1 + 1 / double(others.size()) + (x - mean) * (x - mean) / sxx));
  d.studentized = se > 0 ? d.residual / se : d.residual == 0 ? 0 : std::copysign(HUGE_VAL, d.residual);
  d.allowed = statistics::t_quantile(1 - kOffChance / double(n), double(n - 3));
  d.off = std::abs(d.studentized) > d.allowed && std::abs(d.residual) > kCountsOff * count * (1 + kHair);
  return d;
}

size_t straight_count(const LoadingPath& p, std::optional<double> tolerance) {
  if (!tolerance) return p.size();
  const auto limit = straight_to(p, *tolerance);
  return limit ? limit->last + 1 : std::min<size_t>(p.size(), 3);
}

ProportionalLimit limit_at(const LoadingPath& p, size_t last, const LineFit& line) {
  return {last, line, p.load[last], p.response[last]};
}

}  // namespace

LoadingPath path_of(const Rows& rows, const std::string& load, const std::string& response, bool all) {
  LoadingPath p;
  for (size_t i = 0; i < rows.size(); ++i) {
    if (!rows[i].used() && !all) continue;
    const Reading *x = rows[i].reading(load), *y = rows[i].reading(response);
    if (x == nullptr || y == nullptr || x->missed() || y->missed()) continue;
    if (!std::isfinite(*x->value) || !std::isfinite(*y->value)) continue;
    p.load.push_back(*x->value);
    p.response.push_back(*y->value);
    p.count.push_back(y->resolution);
    p.station.push_back(i);
  }
  return p;
}

std::optional<Departure> departure_of(const LoadingPath& path, size_t i, size_t n) {
  if (n > path.size() || i >= n || n < 4) return std::nullopt;
  return departure_from(without(head(path, n), i), path.load[i], path.response[i], path.count[i]);
}

OffLine off_line(const LoadingPath& p, std::optional<double> tolerance) {
  OffLine out;
  const size_t n = p.size();
  if (n < 4 || n > kLeaveOneOutLimit) return out;
  for (size_t i = 1; i + 1 < n; ++i) {
    // The straight part as it would be without this reading: one wrong reading must not hide itself. A piece
    // that bends over gradually bows the end of that part and hides it too; a third of the tolerance gives
    // the shorter, straighter line.
    const LoadingPath others = without(p, i);
    for (const double share : {1.0, 1.0 / 3}) {
      const auto allowed = tolerance ? std::optional(*tolerance * share) : std::nullopt;
      const size_t straight = straight_count(others, allowed);
      if (straight < 3 || i >= straight) continue;  // its right-hand neighbour is not on the line
      const LoadingPath line_points = head(others, straight);
      const auto d = departure_from(line_points, p.load[i], p.response[i], p.count[i]);
      if (!d || !d->off) continue;
      // A second look at the same reading must not call twice as many sound ones wrong.
      if (share < 1 && std::abs(d->studentized) < 1.5 * d->allowed) continue;
      const bool left_off = departure_of(line_points, i - 1, straight).value_or(Departure{}).off;
      const bool right_off = departure_of(line_points, i, straight).value_or(Departure{}).off;
      if (left_off || right_off) continue;
      out.alone.push_back(i);
      out.departures.push_back(*d);
      break;
    }
  }
  const LoadingPath before = head(p, n - 1);
  const size_t straight = straight_count(before, tolerance);
  const auto newest =
      departure_from(head(p, std::min(straight, n - 1)), p.load[n - 1], p.response[n - 1], p.count[n - 1]);
  if (!newest || !newest->off) return out;
  if (straight < n - 1) {
    // What left the line earlier and is still off it is the piece, not the reading.
    const bool was_alone = straight == n - 2 && std::find(out.alone.begin(), out.alone.end(), n - 2) != out.alone.end();
    if (!was_alone) {
      out.lasting = straight;
      out.departures.push_back(*newest);
    }
    return out;
  }
  const LoadingPath earlier = head(p, n - 2);
  const auto last = departure_from(earlier, p.load[n - 2], p.response[n - 2], p.count[n - 2]);
  const auto now = departure_from(earlier, p.load[n - 1], p.response[n - 1], p.count[n - 1]);
  if (last && now && last->off && now->off && (last->residual > 0) == (now->residual > 0))
    out.lasting = n - 2;
  else
    out.newest = n - 1;
  out.departures.push_back(*newest);
  return out;
}

// How much the slope changes from stop to stop, in all.
static double roughness(const LoadingPath& p) {
  double sum = 0, before = 0;
  for (size_t i = 1; i < p.size(); ++i) {
    const double slope = (p.response[i] - p.response[i - 1]) / (p.load[i] - p.load[i - 1]);
    if (!std::isfinite(slope)) continue;
    if (i > 1) sum += std::abs(slope - before);
    before = slope;
  }
  return sum;
}

std::vector<size_t> out_of_course(const LoadingPath& p) {
  std::vector<size_t> out;
  const auto& y = p.response;
  if (y.size() < 5) return out;
  const auto [low, high] = std::minmax_element(y.begin(), y.end());
  for (size_t i = 1; i + 1 < y.size(); ++i) {
    if (!((p.load[i] - p.load[i - 1]) * (p.load[i + 1] - p.load[i]) > 0)) continue;
    const double outside = std::max(y[i] - std::max(y[i - 1], y[i + 1]), std::min(y[i - 1], y[i + 1]) - y[i]);
    if (!(outside > std::max({kOutOfNeighbours * std::abs(y[i + 1] - y[i - 1]), kCountsOff * p.count[i],
                              kOutOfRange * (*high - *low)})))
      continue;
    if (out.empty() || out.back() + 1 < i)
      out.push_back(i);
    else if (roughness(without(p, i)) < roughness(without(p, out.back())))  // of two in a row one is wrong
      out.back() = i;
  }
  return out;
}

std::optional<ProportionalLimit> straight_to(const LoadingPath& p, double tolerance) {
  // Running sums rule most ends out in a few steps; what passes is fitted again at full precision.
  const LineSums sums(p.load, p.response, 0, p.size());
  const bool many = p.size() > kManyStops;
  for (size_t k = p.size(); k-- > 3;) {
    const double allowed = tolerance * std::abs(p.response[k]) * (1 + kRoundOff);
    auto inside = [&](const LineFit& line, double room) {
      for (size_t i = k + 1; i-- > 0;)
        if (!(std::abs(p.response[i] - line.at(p.load[i])) <= room)) return false;
      return true;
    };
    if (many) {
      const auto quick = sums.fit(0, k + 1);
      if (!quick || !inside(*quick, allowed * (1 + kQuickRoundOff))) continue;
    }
    const auto line = fit_line(p.load, p.response, 0, k + 1);
    if (line && inside(*line, allowed)) return limit_at(p, k, *line);
  }
  return std::nullopt;
}

std::optional<ProportionalLimit> straight_to_load(const LoadingPath& p, double load) {
  if (p.size() < 2) return std::nullopt;
  size_t best = 1;
  for (size_t i = 1; i < p.size(); ++i)
    if (std::abs(p.load[i] - load) < std::abs(p.load[best] - load)) best = i;
  const auto line = fit_line(p.load, p.response, 0, best + 1);
  if (!line) return std::nullopt;
  return limit_at(p, best, *line);
}

std::optional<ProportionalLimit> straight_to_deviation(const LoadingPath& p, double share) {
  const size_t first = std::max<size_t>(4, p.size() > 40 ? p.size() / 5 : 4);
  if (p.size() < first) return std::nullopt;
  const auto initial = fit_line(p.load, p.response, 0, first);
  if (!initial) return std::nullopt;
  auto excess = [&](size_t i) {
    return std::abs(p.response[i] - initial->at(p.load[i])) - share * std::abs(initial->at(p.load[i]));
  };
  for (size_t i = first; i < p.size(); ++i) {
    if (excess(i) < 0) continue;
    const double a = excess(i - 1), b = excess(i), part = b > a ? std::clamp(-a / (b - a), 0.0, 1.0) : 1.0;
    ProportionalLimit limit = limit_at(p, i - 1, *initial);
    limit.load = p.load[i - 1] + part * (p.load[i] - p.load[i - 1]);
    limit.response = p.response[i - 1] + part * (p.response[i] - p.response[i - 1]);
    return limit;
  }
  return limit_at(p, p.size() - 1, *initial);
}

LoadingPath thinned(const LoadingPath& p, size_t wanted) {
  if (p.size() <= wanted || wanted < 2) return p;
  LoadingPath t;
  for (size_t b = 0; b < wanted; ++b) {
    const size_t from = b * p.size() / wanted, to = (b + 1) * p.size() / wanted;
    double x = 0, y = 0;
    for (size_t i = from; i < to; ++i) {
      x += p.load[i];
      y += p.response[i];
    }
    t.load.push_back(x / double(to - from));
    t.response.push_back(y / double(to - from));
    t.count.push_back(0);
    t.station.push_back(p.station[(from + to) / 2]);
  }
  return t;
}

std::optional<QuadraticTerm> quadratic_term(const std::vector<double>& x, const std::vector<double>& y) {
  const size_t n = x.size();
  if (n < 4) return std::nullopt;
  // Orthogonal polynomials about the mean (Forsythe 1957): the quadratic term stands by itself.
  const auto line = fit_line(x, y);
  if (!line) return std::nullopt;
  double mean = 0, range = 0;
  for (double v : x) mean += v / double(n);
  for (double v : x) range = std::max(range, std::abs(v - mean));
  if (!(range > 0)) return std::nullopt;
  std::vector<double> q(n), u(n);
  for (size_t i = 0; i < n; ++i) {
    u[i] = (x[i] - mean) / range;
    q[i] = u[i] * u[i];
  }
  const auto of_square = fit_line(u, q);
  if (!of_square) return std::nullopt;
  double qq = 0, qr = 0;
  for (size_t i = 0; i < n; ++i) {
    q[i] -= of_square->at(u[i]);
    qq += q[i] * q[i];
    qr += q[i] * (y[i] - line->at(x[i]));
  }
  if (!(qq > kNothing)) return std::nullopt;
  const double c = qr / qq;
  double sse = 0;
  for (size_t i = 0; i < n; ++i) {
    const double r = y[i] - line->at(x[i]) - c * q[i];
    sse += r * r;
  }
  QuadraticTerm t;
  t.coefficient = c / (range * range);
  const double se = std::sqrt(sse / double(n - 3) / qq);
  t.t = se > 0 ? c / se : (c == 0 ? 0 : HUGE_VAL);
  t.p = std::isfinite(t.t) ? statistics::t_two_sided(t.t, double(n - 3)) : 0;
  return t;
}

}  // namespace fortitor
