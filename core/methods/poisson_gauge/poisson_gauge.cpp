#include <algorithm>
#include <cmath>

#include "core/methods/poisson_gauge/model.h"
#include "core/methods/poisson_gauge/poisson_gauge.h"
#include "core/methods/support/figures.h"
#include "core/methods/support/skeleton.h"
#include "core/reference/materials.h"

namespace fortitor::poisson {
namespace {

using D = Dimension;
using R = RoundingClass;
using ledger::get;
using ledger::put;
using ledger::shift;
using ledger::si;

constexpr double kFactorTaken = 0.01;              // of a gauge factor, where no tolerance is entered
constexpr double kBent = 0.01, kBowCounts = 3;     // significance of a bend; counts that it bows the line by
constexpr double kModulusOff = 0.1;                // of the range of the family
constexpr double kDriftCounts = 3, kDrift = 0.02;  // counts; of the largest strain

constexpr double kGaugeNu = 0.285;  // of the beam on which makers calibrate gauge factors (ASTM E251)

constexpr double kSameStop = 1 + 1e-6;  // a load typed anew, in another unit, is that of its stop

std::string micro(double strain) {
  return si(strain, D::microstrain, 4);
}

}  // namespace

Gauges gauges_of(const TestRecord& record) {
  Gauges g;
  g.rows = stops_of(record.run, {"force", "strain_long", "strain_lat"});
  g.keyed = !record.run.rows(kStops).empty();
  const LoadingPath along = path_of(g.rows, "force", "strain_long");
  const LoadingPath across = path_of(g.rows, "force", "strain_lat");
  for (size_t i = 0; i < along.size(); ++i) {
    const auto it = std::find(across.station.begin(), across.station.end(), along.station[i]);
    if (it == across.station.end()) continue;
    const size_t j = size_t(it - across.station.begin());
    for (auto [from, k, to] : {std::tuple{&along, i, &g.along}, std::tuple{&across, j, &g.across}}) {
      to->load.push_back(from->load[k]);
      to->response.push_back(from->response[k]);
      to->count.push_back(from->count[k]);
      to->station.push_back(from->station[k]);
    }
  }
  const Readings kt = record.fields.readings("specimen.transverse_sensitivity");
  if (!kt.empty()) g.kt_long = kt.front().value.value_or(0);
  g.kt_lat = kt.size() > 1 ? kt[1].value.value_or(0) : g.kt_long;
  // Two gauges at right angles with transverse sensitivities K_l, K_t: the pair of equations solved for the
  // true strains; with K_l = K_t it is the formula of docs/methods/poisson-gauge.md.
  const double det = 1 - g.kt_long * g.kt_lat;
  const double a = 1 - kGaugeNu * g.kt_long, b = 1 - kGaugeNu * g.kt_lat;
  for (size_t i = 0; i < g.along.size(); ++i) {
    const double l = g.along.response[i], t = g.across.response[i];
    g.long_true.push_back((a * l - g.kt_long * b * t) / det);
    g.lat_true.push_back((b * t - g.kt_lat * a * l) / det);
  }
  std::vector<double> load, along_fit, across_fit;
  if (const auto to = record.fields.number("settings.slope_to")) {
    for (size_t i = 0; i < g.along.size(); ++i)
      if (std::abs(g.along.load[i]) <= *to * kSameStop) {
        load.push_back(g.along.load[i]);
        along_fit.push_back(g.long_true[i]);
        across_fit.push_back(g.lat_true[i]);
      }
    g.outside = load.size() < 3;
    if (!g.outside) g.slope_to = to;
  }
  g.line_long = g.slope_to ? fit_line(load, along_fit) : fit_line(g.along.load, g.long_true);
  g.line_lat = g.slope_to ? fit_line(load, across_fit) : fit_line(g.across.load, g.lat_true);
  return g;
}

Values compute(const TestRecord& record, const Gauges& g, const Shifts& shifts) {
  Values v;
  const double area = section_of(record.fields, shifts).area;
  if (area > 0) put(v, key::area, area);
  if (g.line_long && g.line_lat && g.along.size() >= 3) {
    const double l = g.line_long->slope * (1 + shift(shifts, "gauge_long")) + shift(shifts, "slope_long");
    const double t = g.line_lat->slope * (1 + shift(shifts, "gauge_lat")) + shift(shifts, "slope_lat");
    if (l != 0) {
      put(v, key::nu, -t / l);
      // For people: microstrain per kilonewton.
      const double shown = from_unit(1, "kN", D::force) / from_unit(1, "µε", D::microstrain);
      put(v, key::slope_long, l * shown / (1 + shift(shifts, "force")));
      put(v, key::slope_lat, t * shown / (1 + shift(shifts, "force")));
      if (area > 0) put(v, key::e_modulus, (1 + shift(shifts, "force")) / (area * l));
    }
    put(v, key::r2_long, g.line_long->r2 + shift(shifts, key::r2_long));
    put(v, key::r2_lat, g.line_lat->r2 + shift(shifts, key::r2_lat));
  }
  for (const auto& [channel, key] :
       {std::pair{"strain_long", key::zero_drift_long}, {"strain_lat", key::zero_drift_lat}}) {
    const auto end = record.fields.number(std::string("run.unload.") + channel);
    if (!end || !g.keyed) continue;
    // Zero before: the first stop, which carries no more than the balance preload.
    const auto start = g.rows.front().used() ? g.rows.front().number(channel) : std::nullopt;
    if (start) put(v, key, *end - *start + shift(shifts, key));
  }
  return v;
}

void add_inputs(const TestRecord& record, const Gauges& g, std::vector<UncertainInput>& inputs) {
  const Section section = section_of(record.fields);
  if (section.area > 0)
    section_inputs(section, record.fields.number("equipment.caliper.resolution").value_or(0), inputs);
  ledger::class_input(record, "equipment.load_cell.class", "force", "force", inputs);
  const auto factor = record.fields.number("equipment.gauge.tolerance");
  for (const auto& [name, which] : {std::pair{"gauge_long", "longitudinal"}, {"gauge_lat", "lateral"}})
    inputs.push_back({name,
                      std::string(which) + " gauge factor, ± " + (factor ? ledger::percent(*factor) : "1 % (assumed)"),
                      rectangular(factor.value_or(kFactorTaken))});
  if (g.line_long) ledger::straightness_inputs(*g.line_long, inputs, key::r2_long);
  if (g.line_lat) ledger::straightness_inputs(*g.line_lat, inputs, key::r2_lat);
  for (const auto& [channel, key] :
       {std::pair{"strain_long", key::zero_drift_long}, {"strain_lat", key::zero_drift_lat}})
    if (const Reading* end = record.fields.reading(std::string("run.unload.") + channel); end != nullptr && g.keyed)
      inputs.push_back({key, "two readings of the zero, each to its digit",
                        rectangular(end->resolution / 2) * std::sqrt(2.0), UncertainInput::Shape::normal});
  for (const auto& [name, line, which] :
       {std::tuple{key::slope_long, &g.line_long, "longitudinal"}, std::tuple{key::slope_lat, &g.line_lat, "lateral"}})
    if (*line && (*line)->slope_error > 0)
      inputs.push_back({name, std::string("fit of the ") + which + " slope, " + std::to_string((*line)->n) + " stops",
                        (*line)->slope_error, UncertainInput::Shape::normal, double((*line)->n) - 2});
}

std::vector<ResultSpec> specs(const TestRecord&) {
  static const std::vector<ResultSpec> table = {
      ledger::spec_of(key::nu, "ν", D::none, R::other, 3, true),
      ledger::spec_of(key::e_modulus, "E", D::modulus, R::other, 4, true),
      ledger::spec_of(key::nu_each, "ν_i", D::none, R::other, 0, false),
      ledger::spec_of(key::r2_long, "R²_l", D::none, R::other, 6, false),
      ledger::spec_of(key::r2_lat, "R²_t", D::none, R::other, 6, false),
      ledger::spec_of(key::slope_long, "dε_l/dF", D::none, R::other, 5, false),
      ledger::spec_of(key::slope_lat, "dε_t/dF", D::none, R::other, 5, false),
      ledger::spec_of(key::zero_drift_long, "Δ0_l", D::microstrain, R::other, 2, false),
      ledger::spec_of(key::zero_drift_lat, "Δ0_t", D::microstrain, R::other, 2, false),
      ledger::spec_of(key::area, "S_0", D::area, R::other, 4, false, true),
  };
  return table;
}

std::vector<Step> how(const std::string& key, const TestRecord& record, const Gauges& g, const Values& v) {
  std::vector<Step> steps;
  const ledger::AddStep add{steps};
  const Section section = section_of(record.fields);
  const std::string stops = std::to_string(g.along.size()) + " stops that have both readings";
  auto slope = [&](bool along) {
    add(along ? "dε_l/dF = Σ(F−F̄)(ε−ε̄)/Σ(F−F̄)²" : "dε_t/dF = Σ(F−F̄)(ε−ε̄)/Σ(F−F̄)²", stops,
        get(v, along ? key::slope_long : key::slope_lat), D::none,
        std::string("µε per kN, least squares with intercept") +
            (g.corrected() ? "; corrected for transverse sensitivity " + ledger::percent(along ? g.kt_long : g.kt_lat)
                           : ""));
  };
  if (key == key::nu) {
    slope(true);
    slope(false);
    add("ν = −(dε_t/dF)/(dε_l/dF)",
        "−(" + significant(get(v, key::slope_lat), 5) + ")/(" + significant(get(v, key::slope_long), 5) + ")",
        get(v, key), D::none);
  } else if (key == key::e_modulus) {
    steps = section.how;
    slope(true);
    add("E = 1/(S₀·dε_l/dF)",
        "1/(" + si(section.area, D::area) + " · " + significant(get(v, key::slope_long), 5) + " µε/kN)", get(v, key),
        D::modulus);
  } else if (key == key::area) {
    steps = section.how;
  } else if (key == key::slope_long || key == key::slope_lat) {
    slope(key == key::slope_long);
  } else if (key == key::r2_long || key == key::r2_lat) {
    add("R² = 1 − SS_res/SS_tot", stops, get(v, key), D::none);
  } else if (key == key::zero_drift_long || key == key::zero_drift_lat) {
    const std::string channel = key == key::zero_drift_long ? "strain_long" : "strain_lat";
    add("Δ0 = reading after unloading − first reading",
        micro(record.fields.number("run.unload." + channel).value_or(0)) + " − " +
            micro(g.rows.front().number(channel).value_or(0)),
        get(v, key), D::microstrain);
  }
  return steps;
}

void add_findings(Evaluation& e, const TestRecord& record, const Gauges& g, const Values& v) {
  using ledger::raise;
  if (section_of(record.fields).area > 0) dimension_findings(section_of(record.fields).dims, e.findings);
  // Each channel is watched by itself: a reading missed on one must not hide a wrong one on the other.
  for (const auto& [channel, line, which] : {std::tuple{"strain_long", &g.line_long, "the longitudinal channel"},
                                             std::tuple{"strain_lat", &g.line_lat, "the lateral channel"}}) {
    const LoadingPath path = path_of(g.rows, "force", channel);
    const auto raw = fit_line(path.load, path.response);
    if (!raw) continue;
    const OffLine off = g.keyed ? off_line(path, std::nullopt) : OffLine{};
    e.lines.push_back(row_line(g.rows, "force", channel, D::microstrain, *raw, path, off));
    if (g.keyed) off_line_findings(e, record.run, e.lines.back(), path, off, D::force, which, "re-read", true);
    // Whether the line is bent is asked of the readings that stand: one wrong reading is not a curve.
    LoadingPath sound = path;
    if (off.newest) {
      sound.load.pop_back();
      sound.response.pop_back();
    }
    for (auto it = off.alone.rbegin(); it != off.alone.rend(); ++it) {
      sound.load.erase(sound.load.begin() + long(*it));
      sound.response.erase(sound.response.begin() + long(*it));
    }
    // Above a knee that a person saw it may bend.
    for (size_t i = sound.load.size(); g.slope_to && i-- > 0;)
      if (std::abs(sound.load[i]) > *g.slope_to * kSameStop) {
        sound.load.erase(sound.load.begin() + long(i));
        sound.response.erase(sound.response.begin() + long(i));
      }
    const auto bend = quadratic_term(sound.load, sound.response);
    if (bend && bend->p < kBent && !record.run.open) {
      const auto [low, high] = std::minmax_element(sound.load.begin(), sound.load.end());
      const double bow = std::abs(bend->coefficient) * (*high - *low) * (*high - *low) / 4;
      const double count = path.count.empty() ? 0 : path.count.front();
      // Significance alone calls every hundredth straight line bent: the bow must also be one that the indicator shows.
      if (bow > kBowCounts * count)
        raise(e, "nonlinear", Severity::check,
              std::string("The line of ") + which +
                  " is bent: its quadratic term is significant (p = " + significant(bend->p, 2) + ") and bows it by " +
                  micro(bow) + ". Yielding, a slipping grip or a gauge coming off would do that.",
              {{"p", bend->p}, {"bow", bow}}, {}, channel == std::string("strain_long") ? key::e_modulus : key::nu);
    }
  }
  double top_force = 0;
  for (const Row& row : g.rows) top_force = std::max(top_force, std::abs(row.number("force").value_or(0)));
  cell_findings(e, record, "equipment.load_cell.capacity", top_force, D::force, key::e_modulus);
  const double l = get(v, key::slope_long), t = get(v, key::slope_lat), nu = get(v, key::nu);
  if (record.run.open || !std::isfinite(nu)) return;
  if (std::abs(t) > std::abs(l))
    raise(e, "channels-swapped", Severity::check,
          "The lateral strain is larger than the longitudinal one (" + significant(std::abs(t), 3) + " against " +
              significant(std::abs(l), 3) + " µε per kN): are the two channels exchanged?",
          {{"slope_long", l}, {"slope_lat", t}}, {}, key::nu);
  if ((l > 0) == (t > 0) && l != 0 && t != 0)
    raise(e, "sign-odd", Severity::check,
          "Both strains grow with the same sign. Lateral strain runs against longitudinal strain: check the wiring of "
          "the bridge.",
          {{"slope_long", l}, {"slope_lat", t}}, {}, key::nu);
  const std::string family = record.fields.text("specimen.family");
  const bool oriented = family.find("composite") != std::string::npos || family.find("laminate") != std::string::npos ||
                        family.find("wood") != std::string::npos;
  if (!oriented && (nu < 0 || nu > 0.5))
    raise(e, "nu-unlikely", Severity::check,
          "ν is " + significant(nu, 3) + "; an isotropic metal lies between 0 and 0.5.", {{"nu", nu}}, {}, key::nu);
  if (const MaterialFamily* f = find_family(family); f != nullptr && v.count(key::e_modulus)) {
    const double modulus = get(v, key::e_modulus);
    if (modulus < (1 - kModulusOff) * f->e_low || modulus > (1 + kModulusOff) * f->e_high)
      raise(e, "modulus-unlikely", Severity::check,
            "E is " + si(modulus, D::modulus, 4) + "; " + std::string(f->name) + " lies between " +
                si(f->e_low, D::modulus, 3) + " and " + si(f->e_high, D::modulus, 3) +
                ". Check area, gauge factor and units.",
            {{"e_modulus", modulus}}, {}, key::e_modulus);
  }
  for (const auto& [key, channel, path] : {std::tuple{key::zero_drift_long, "longitudinal", &g.along},
                                           std::tuple{key::zero_drift_lat, "lateral", &g.across}}) {
    if (!v.count(key) || path->size() == 0) continue;
    double top = 0;
    for (double r : path->response) top = std::max(top, std::abs(r));
    const double drift = get(v, key);
    if (std::abs(drift) > std::max(kDriftCounts * path->count.front(), kDrift * top))
      raise(e, "drift", Severity::check,
            std::string("The ") + channel + " channel came back to " + micro(drift) + " off its zero, " +
                ledger::percent(std::abs(drift) / top) +
                " of its largest strain: drift, a yielding piece or a loose gauge.",
            {{"drift", drift}}, {}, key::nu);
  }
  if (g.outside)
    raise(e, "pick-outside", Severity::check,
          "The load up to which the slopes are taken leaves no three stops: all of them enter.",
          {{"load", record.fields.number("settings.slope_to").value_or(0)}}, {}, key::nu);
  if (g.keyed && !record.fields.any_under("run.unload"))
    raise(e, "zero-not-read", Severity::note, "The zeros were not read again after unloading: drift is not known.");
}

void add_figures(Evaluation& e, const TestRecord&, const Gauges& g, const Values&) {
  StopSheet sheet;
  sheet.x_name = "strain";
  sheet.y_name = sheet.control_name = "load";
  sheet.reading_name = "strain";
  sheet.x_dimension = sheet.reading_dimension = D::microstrain;
  sheet.y_dimension = D::force;
  double top = 0;
  for (const auto& [column, label] : {std::pair{"strain_long", "longitudinal"}, {"strain_lat", "lateral"}}) {
    const LoadingPath shown = path_of(g.rows, "force", column, true);
    if (shown.size() < 2) continue;
    StopSeries series;
    series.label = label;
    series.x = shown.response;
    series.y = shown.load;
    series.row = shown.station;
    series.control = "force";
    for (const RowLine& line : e.lines)
      if (line.column == column) series.line = &line;
    top = std::max(top, *std::max_element(shown.load.begin(), shown.load.end()) * 1.05);
    sheet.series.push_back(std::move(series));
  }
  if (sheet.series.empty()) return;
  double largest = 0;
  for (double load : g.along.load) largest = std::max(largest, std::abs(load));
  const double to = g.slope_to.value_or(largest);
  for (const RowLine& line : e.lines) {
    const bool axial = line.column == "strain_long";
    Construction drawn{Construction::Kind::line,
                       axial ? key::e_modulus : key::nu,
                       "",
                       {{line.at(0), 0}, {line.at(top), top}},
                       {},
                       true};
    // Where the piece left its line: what lies above does not enter the slopes.
    if (axial) drawn.handles = {place_handle("settings.slope_to", {line.at(to), to}, D::force, "slopes up to", false)};
    sheet.constructions.push_back(std::move(drawn));
  }
  e.figures.push_back(sheet.figure(e, g.rows));
}

static void add_words(Evaluation& e, const TestRecord& record, const Gauges& g, const Values&) {
  if (!g.keyed) return;  // hundreds of blocks say nothing one by one
  std::string each;
  std::vector<Step> each_how;
  for (size_t i = 1; i < g.long_true.size(); ++i) {
    const double dl = g.long_true[i] - g.long_true[0], dt = g.lat_true[i] - g.lat_true[0];
    if (dl == 0) continue;
    each += (each.empty() ? "" : " · ") + significant(-dt / dl, 3);
    each_how.push_back({"ν at " + si(g.along.load[i], D::force, 4),
                        micro(dt) + " over " + micro(dl) + ", from the first stop", -dt / dl, D::none,
                        "shown, not averaged into the result"});
  }
  ledger::add_text(e, specs(record), key::nu_each, each, each_how);
}

}  // namespace fortitor::poisson

namespace fortitor::methods {

const Method& poisson_gauge() {
  static const Method method = [] {
    Parts<poisson::Gauges> parts;
    parts.describe = poisson::describe;
    parts.results = poisson::specs;
    parts.look = poisson::gauges_of;
    parts.compute = poisson::compute;
    parts.how = poisson::how;
    parts.inputs = poisson::add_inputs;
    parts.words = poisson::add_words;
    parts.findings = poisson::add_findings;
    parts.figures = poisson::add_figures;
    parts.doubted = {poisson::key::nu, poisson::key::e_modulus};
    return method_of("poisson-gauge", "ASTM E132", parts);
  }();
  return method;
}

}  // namespace fortitor::methods
