#include <algorithm>
#include <cmath>

#include "core/methods/tension_metal/model.h"

namespace fortitor::tension {
namespace {

// Shares of the yield-region stress between which the modulus is taken where the record says nothing, and half of the
// stretch round the stress that a tangent is asked for at.
constexpr double kModulusFrom = 0.1, kModulusTo = 0.4, kHalfTangent = 0.05;
constexpr double kSettled = 0.002;  // of the yield-region stress: two rounds that differ by less are the same
constexpr int kRounds = 6;
constexpr size_t kNoiseSide = 400;  // samples on each side of the maximum that its noise is taken from

double noise_around(const StressCurve& c, const LoadingEnd& m) {
  return noise_of(c.stress, m.peak > kNoiseSide ? m.peak - kNoiseSide : 0, std::min(m.end, m.peak + kNoiseSide));
}

// Yield-region stress below which the elastic window is sought: R_eH, else R_p0.2, else R_m.
double yield_region(const StressCurve& c, const ElasticWindow& w, size_t end, double fallback) {
  if (const auto y = find_yielding(c.strain, c.stress, w, end)) return c.stress[y->upper];
  const double origin = -w.line.intercept / w.line.slope;
  if (const auto x = offset_crossing(c.strain, c.stress, w.line.slope, origin, kUsualOffset, w.last, end))
    return x->stress;
  return fallback;
}

// Window and yield-region stress depend on each other; a few rounds settle both.
std::optional<ElasticWindow> settle_window(const StressCurve& c, size_t peak, size_t end, double& yield) {
  yield = c.stress[peak];
  std::optional<ElasticWindow> window;
  for (int round = 0; round < kRounds; ++round) {
    const auto w = auto_window(c.strain, c.stress, peak, yield, true);
    if (!w) return window;
    window = w;
    const double next = yield_region(c, *w, end, c.stress[peak]);
    const bool settled = std::abs(next - yield) < kSettled * yield;
    yield = next;
    if (settled) break;
  }
  return window;
}

// Strain of the loading branch at a stress, steadied over the neighbouring samples.
std::optional<Point> point_at(const StressCurve& c, size_t peak, double stress) {
  const size_t i = first_reaching(c.stress, peak, stress);
  if (i > peak || i == 0) return std::nullopt;
  const size_t reach = std::min<size_t>({i, peak - i, 5});
  if (reach >= 2)
    if (const auto line = fit_line(c.stress, c.strain, i - reach, i + reach + 1))
      return Point{line->at(stress), stress};
  const double f = (stress - c.stress[i - 1]) / (c.stress[i] - c.stress[i - 1]);
  return Point{c.strain[i - 1] + f * (c.strain[i] - c.strain[i - 1]), stress};
}

std::optional<ElasticWindow> through(Point a, Point b, const StressCurve& c, size_t peak) {
  if (!(b.x > a.x)) return std::nullopt;
  ElasticWindow w;
  w.line.slope = (b.y - a.y) / (b.x - a.x);
  w.line.intercept = a.y - w.line.slope * a.x;
  w.first = std::min(first_reaching(c.stress, peak, a.y), peak);
  w.last = std::min(first_reaching(c.stress, peak, b.y), peak) + 1;
  if (!(w.line.slope > 0)) return std::nullopt;
  return w;
}

// The window as the chosen school wants it; empty when its points are not on the curve.
std::optional<ElasticWindow> by_school(const StressCurve& c, const TestRecord& record, size_t peak, double yield,
                                       const ElasticWindow& automatic, Landmarks& marks) {
  const auto get = [&](const char* path) { return record.fields.number(path); };
  const std::string school = record.fields.text("settings.modulus.school");
  const double from = get("settings.modulus.from").value_or(kModulusFrom * yield);
  const double to = get("settings.modulus.to").value_or(kModulusTo * yield);
  if (school == "line") {
    const auto e1 = get("settings.modulus.from_strain"), e2 = get("settings.modulus.to_strain");
    if (e1 && e2 && *e2 > *e1) {
      ElasticWindow w;
      w.first = first_reaching(c.strain, peak, *e1);
      w.last = std::min(first_reaching(c.strain, peak, *e2), peak) + 1;
      const auto line = w.last > w.first + 1 ? fit_line(c.strain, c.stress, w.first, w.last) : std::nullopt;
      if (!line || !(line->slope > 0)) return std::nullopt;
      w.line = *line;
      return w;
    }
    return window_between(c.strain, c.stress, peak, from, to);
  }
  marks.fitted = school == "tangent";
  if (school == "chord") {
    const auto a = point_at(c, peak, std::min(from, to)), b = point_at(c, peak, std::max(from, to));
    if (!a || !b) return std::nullopt;
    marks.modulus_points = {*a, *b};
    return through(*a, *b, c, peak);
  }
  const double at = get("settings.modulus.at").value_or(kModulusTo * yield);
  if (school == "secant") {
    const auto b = point_at(c, peak, at);
    if (!b) return std::nullopt;
    marks.modulus_points = {{0, 0}, *b};
    return through({0, 0}, *b, c, peak);
  }
  if (school == "tangent") {
    auto w = window_between(c.strain, c.stress, peak, at - kHalfTangent * yield, at + kHalfTangent * yield);
    if (w) marks.modulus_points = {{(at - w->line.intercept) / w->line.slope, at}};
    return w;
  }
  marks.fitted = true;
  return automatic;
}

// Where the first band starts beyond the blades they see the piece unload while the crosshead goes on. From the first
// maximum on the crosshead then tells the strain; a slip of a grip has no plateau, it climbs back at once.
void look_outside(Landmarks& m, const StressCurve& c, const TestRecord& record, const ElasticWindow& w) {
  constexpr double kLeastPlateau = 0.002;              // strain by the crosshead
  constexpr double kFallen = 0.995, kUnloads = 0.002;  // of the top; strain that the blades still see
  constexpr double kNearYield = 0.8;                   // of the yield: far below it nothing yields
  const double length = record.fields.number("specimen.parallel_length")
                            .value_or(record.fields.number("specimen.extensometer_length").value_or(0));
  const bool own = c.source == StrainSource::extensometer || c.source == StrainSource::gauge;
  if (!own || c.crosshead.empty() || !(length > 0)) return;
  size_t top = w.last - 1;
  for (size_t i = w.last; i < m.end; ++i) {
    if (c.stress[i] > c.stress[top]) {
      top = i;
      continue;
    }
    if (c.stress[i] >= kFallen * c.stress[top] || c.strain[i] > c.strain[top] + kUnloads) continue;
    if (c.stress[top] < kNearYield * m.yield_stress) continue;
    std::vector<double> strain = c.strain;
    for (size_t k = top + 1; k < m.end; ++k) strain[k] = c.strain[top] + (c.crosshead[k] - c.crosshead[top]) / length;
    const auto y = find_yielding(strain, c.stress, w, m.end);
    if (!y || strain[y->plateau_end] - strain[y->upper] < kLeastPlateau) return;
    m.yielding = y;
    m.outside = true;
    m.crosshead_ae = strain[y->plateau_end] - strain[y->upper] + (c.stress[y->upper] - y->plateau) / w.line.slope;
    return;
  }
}

}  // namespace

Landmarks landmarks_of(const StressCurve& c, const TestRecord& record) {
  Landmarks m;
  if (c.size() < 3) return m;
  static_cast<LoadingEnd&>(m) = end_of(c);
  m.top = {m.peak, m.peak};
  m.stress_noise = noise_around(c, m);
  if (c.source == StrainSource::none) return m;

  double yield = 0;
  const auto automatic = settle_window(c, m.peak, m.end, yield);
  if (!automatic) return m;
  m.yield_stress = yield;
  const std::string wish = record.fields.text("settings.modulus.school");
  m.school = wish.empty() ? "auto" : wish;
  m.elastic = by_school(c, record, m.peak, yield, *automatic, m);
  if (!m.elastic) {  // the asked window is not on the curve: say so by falling back and marking it poor
    m.school = "auto";
    m.fitted = true;
    m.modulus_points.clear();
    m.elastic = automatic;
    m.elastic->poor = true;
  }
  // Yielding is sought beyond the automatic window: a hand-drawn one may end anywhere.
  m.yielding = find_yielding(c.strain, c.stress, *automatic, m.end);
  if (!m.yielding) look_outside(m, c, record, *automatic);
  if (m.yielding && m.yielding->plateau_end + 1 < m.end) {
    m.peak = size_t(std::max_element(c.stress.begin() + long(m.yielding->plateau_end), c.stress.begin() + long(m.end)) -
                    c.stress.begin());
    m.stress_noise = noise_around(c, m);
  }
  const TopPlace place = top_place(c.strain, c.stress, m.peak, m.stress_noise, m.end);
  m.top = place.stretch;
  m.top_standard = place.standard;
  m.smooth = smooth_top(c.stress, m.yielding ? m.yielding->plateau_end : 0, m.end);
  return m;
}

}  // namespace fortitor::tension
