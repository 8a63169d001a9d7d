#include "core/methods/compression_after_impact/compression_after_impact.h"

#include <algorithm>
#include <cmath>

#include "core/curve/fit.h"
#include "core/methods/compression_after_impact/model.h"
#include "core/methods/support/pulled.h"
#include "core/methods/support/skeleton.h"

namespace fortitor::cai {

using namespace ledger;
using D = Dimension;

namespace {

constexpr double kDivided = 0.03;   // of the largest force: strains below are too small to be divided
constexpr double kBendingAt = 0.9;  // of the largest force (ASTM D7137)
constexpr double kUndamagedKnown = 0.02, kFactorKnown = 0.01;  // of the undamaged strength; of a gauge factor

constexpr const char* kScales[2][2] = {{"front_1", "back_1"}, {"front_2", "back_2"}};

// Force at which the mean strain passes a value, averaged over the samples around.
double force_at(const State& s, double strain) {
  const size_t half = std::min<size_t>(5, s.run.end / 200);
  return value_at(s.mean, s.run.s.force, strain, 0, s.run.peak + 1, half).value_or(NAN);
}

double chord(const State& s) {
  return s.strained() ? (force_at(s, kChordTo) - force_at(s, kChordFrom)) / (kChordTo - kChordFrom) : NAN;
}

// The course of a pair's bending from the seating on; NaN while the strains are too small to be divided.
std::vector<double> course_of(const State& s, size_t k) {
  std::vector<double> out;
  const Pair& p = s.pairs[k];
  for (size_t i = 0; p.there() && i <= s.run.peak; ++i)
    out.push_back(s.run.s.force[i] > std::max(s.seating, kDivided * s.run.peak_force())
                      ? std::abs(bending_of(p.front[i], p.back[i]))
                      : NAN);
  return out;
}

}  // namespace

Values compute(const TestRecord& record, const State& s, const Shifts& shifts) {
  Values v;
  const double width = s.width.mean + shift(shifts, s.width.path),
               thickness = s.thickness.mean + shift(shifts, s.thickness.path);
  const double area = width * thickness, force = 1 + shift(shifts, "force");
  if (s.area > 0) put(v, key::area, area);
  if (s.run.empty()) return v;
  const double top = s.run.peak_force(), most = top * force * (1 + shift(shifts, "peak"));
  put(v, key::fm, most);
  if (s.area > 0) {
    put(v, key::cai_strength, most / area);
    if (const auto undamaged = record.fields.number("specimen.undamaged"))
      put(v, key::retention, most / area / *undamaged * (1 + shift(shifts, "undamaged")));
  }
  // What one gauge reads wrong goes into the mean with its share.
  double scale = 1;
  size_t gauges = 0;
  for (size_t k = 0; k < 2; ++k)
    for (size_t side = 0; side < 2; ++side) gauges += !(side == 0 ? s.pairs[k].front : s.pairs[k].back).empty();
  for (size_t k = 0; k < 2; ++k)
    for (size_t side = 0; side < 2; ++side)
      if (!(side == 0 ? s.pairs[k].front : s.pairs[k].back).empty())
        scale += shift(shifts, kScales[k][side]) / double(gauges);
  if (s.area > 0) put(v, key::cai_modulus, chord(s) * force / area / scale * (1 + shift(shifts, "chord")));
  double worst = NAN, seating = NAN;
  auto larger = [](double a, double b) { return std::isnan(a) || std::abs(b) > a ? std::abs(b) : a; };
  for (size_t k = 0; k < 2; ++k) {
    const double f = 1 + shift(shifts, kScales[k][0]), b = 1 + shift(shifts, kScales[k][1]);
    const double at = bending_at(s, k, kBendingAt * top, f, b), seat = bending_seated(s, k);
    if (std::isfinite(at)) worst = larger(worst, at + shift(shifts, "bending"));
    if (std::isfinite(seat)) seating = larger(seating, seat + shift(shifts, "seat"));
    put(v, k == 0 ? key::bending_left : key::bending_right, at + shift(shifts, "bending"));
  }
  put(v, key::bending_percent, worst);
  put(v, key::bending_seating, seating);
  if (s.strained()) put(v, key::eps_m, s.mean[s.run.peak] * scale);
  return v;
}

std::vector<ResultSpec> specs(const TestRecord&) {
  std::vector<ResultSpec> out;
  auto add = [&](auto&&... of) { out.push_back(spec_of(of...)); };
  add(key::cai_strength, "F_CAI", D::stress, true);
  add(key::cai_modulus, "E_CAI", D::modulus, true);
  add(key::retention, "R_CAI", D::elongation, true, 3);
  add(key::bending_percent, "B_y", D::percent, true, 3);
  add(key::bending_seating, "B_450", D::percent, true, 2);
  add(key::failure_mode, "", D::none, true);
  add(key::eps_m, "ε_m", D::microstrain, false);
  add(key::bending_left, "B_1", D::percent, false, 3);
  add(key::bending_right, "B_2", D::percent, false, 3);
  add(key::fm, "F_m", D::force, false, 4, true);
  add(key::area, "A", D::area, false, 4, true);
  return out;
}

namespace {

std::vector<Step> how(const std::string& key, const TestRecord& record, const State& s, const Values& v) {
  std::vector<Step> steps;
  const ledger::AddStep add{steps};
  const double value = get(v, key);
  if (key == key::area || key == key::cai_strength)
    add("A = w·t", si(s.width.mean, D::length) + " · " + si(s.thickness.mean, D::length), s.area, D::area,
        "mean of the readings");
  if (key == key::fm) add("F_m", "largest force", value, D::force);
  if (key == key::cai_strength)
    add("F_CAI = F_m/A", si(get(v, key::fm), D::force) + " / " + si(s.area, D::area), value, D::stress, "ASTM D7137");
  if (key == key::cai_modulus)
    add("E = ΔF/(A·Δε)",
        "(" + si(force_at(s, kChordTo), D::force) + " − " + si(force_at(s, kChordFrom), D::force) + ") / (" +
            si(s.area, D::area) + " · 2000 µε)",
        value, D::modulus, "chord of the mean of all gauges between 1000 and 3000 µε, ASTM D7137");
  if (key == key::retention)
    add("F_CAI/F_0",
        si(get(v, key::cai_strength), D::stress) + " / " +
            si(record.fields.number("specimen.undamaged").value_or(NAN), D::stress),
        value, D::elongation, "undamaged strength as entered");
  if (key == key::bending_percent || key == key::bending_seating)
    add("larger of the pairs",
        "B = 100·|ε_front − ε_back|/|ε_front + ε_back|" +
            std::string(key == key::bending_percent ? " at 0.9·F_m"
                                                    : " at the end of the seating at " + si(s.seating, D::force, 3)),
        value, D::percent, "limit 10 %, ASTM D7137");
  if (key == key::bending_left || key == key::bending_right)
    add("B = 100·(ε_front − ε_back)/(ε_front + ε_back)", "above zero: the front is shortened more", value, D::percent,
        "at 0.9·F_m");
  if (key == key::eps_m) add("mean of the gauges", "at the largest force", value, D::microstrain);
  return steps;
}

void add_inputs(const TestRecord& record, const State& s, std::vector<UncertainInput>& inputs) {
  using Shape = UncertainInput::Shape;
  Section sizes;
  for (const Dim& d : {s.width, s.thickness})
    if (d.given()) sizes.dims.push_back(d);
  section_inputs(sizes, record.fields.number("equipment.caliper.resolution").value_or(0), inputs);
  class_input(record, "equipment.load_cell.class", "force", "force", inputs);
  if (!s.run.empty()) peak_input(s.run.s.force, s.run.peak, s.run.end, inputs);
  if (const auto u = record.fields.number("specimen.undamaged"); u && *u > 0)
    inputs.push_back({"undamaged", "undamaged strength, 2 % taken", rectangular(kUndamagedKnown)});
  if (s.run.empty() || !s.strained()) return;
  const double tolerance = record.fields.number("equipment.gauge.tolerance").value_or(kFactorKnown);
  for (size_t k = 0; k < 2; ++k)
    for (size_t side = 0; side < 2; ++side)
      if (!(side == 0 ? s.pairs[k].front : s.pairs[k].back).empty())
        inputs.push_back({kScales[k][side],
                          std::string("gauge factor, ") + (side == 0 ? "front " : "back ") + pair_name(k),
                          rectangular(tolerance)});
  const double half = double(std::min<size_t>(5, s.run.end / 200)), n = 2 * half + 1;
  const double noise = noise_of_bent(s.mean, 0, s.run.peak + 1), top = s.run.peak_force();
  const double force_noise = noise_of_bent(s.run.s.force, 0, s.run.peak + 1);
  if (const double slope = chord(s); slope > 0) {
    // Both ends of the chord carry the noise of force and of strain.
    const double end = std::hypot(noise * slope, force_noise) / std::sqrt(n) * std::sqrt(2.0);
    if (end > 0)
      inputs.push_back(
          {"chord", "noise at both ends of the chord", end / (slope * (kChordTo - kChordFrom)), Shape::normal});
  }
  const double single = noise * 2;  // a gauge is noisier than the mean of four
  for (const auto& [name, label, force] :
       {std::tuple{"bending", "noise of a pair at 0.9·F_m", 0.9 * top},
        {"seat", "noise of a pair at the seating load", std::min(s.seating, 0.5 * top)}}) {
    const double size = value_at(s.run.s.force, s.mean, force, 0, s.run.peak + 1, size_t(half)).value_or(NAN);
    if (single > 0 && size > 0) inputs.push_back({name, label, 100 * single / std::sqrt(2 * n) / size, Shape::normal});
  }
}

void words(Evaluation& e, const TestRecord& record, const State& s, const Values&) {
  if (const std::string mode = record.fields.text("specimen.failure"); !mode.empty()) {
    std::string label = mode;
    for (const Choice& c : methods::compression_after_impact().field("specimen.failure")->choices)
      if (c.value == mode) label = c.label;
    add_text(e, specs(record), key::failure_mode, label, {{"seen at After", label, 0, D::none, "ASTM D7137"}});
  }
  if (s.run.empty() || s.run.fracture) return;
  for (const char* key : {key::cai_strength, key::fm, key::retention, key::eps_m})
    if (ResultValue* r = e.find(key)) r->censored = Censoring{true, 0, 0};
}

}  // namespace

void figures(Evaluation& e, const TestRecord&, const State& s, const Values& v) {
  if (s.run.empty()) return;
  Figure f;
  f.id = "cai";
  f.title = "strains and bending over the compression";
  auto trace = [](const char* label, std::vector<double> x, std::vector<double> y, int tone, Dash dash) {
    Trace t;
    t.label = label;
    t.x = std::move(x);
    t.y = std::move(y);
    t.tone = tone;
    t.dash = dash;
    return t;
  };
  const size_t n = std::min(s.run.s.size(), std::max(s.run.end, s.run.peak + 1));
  auto cut = [&](const std::vector<double>& all, size_t to) {
    return std::vector<double>(all.begin(), all.begin() + long(std::min(to, all.size())));
  };
  Panel strains;
  strains.name = "Strains";
  strains.x = {"strain", D::microstrain};
  strains.y = {"force", D::force};
  strains.caption = "compression counted positive";
  constexpr int kTones[2] = {5, 2};
  bool any = false;
  for (size_t k = 0; k < 2; ++k)
    for (const bool front : {true, false}) {
      const auto& strain = front ? s.pairs[k].front : s.pairs[k].back;
      if (strain.empty()) continue;
      any = true;
      const std::string label = pair_name(k) + (front ? " front" : " back");
      strains.traces.push_back(
          trace(label.c_str(), cut(strain, n), cut(s.run.s.force, n), kTones[k], front ? Dash::solid : Dash::dashed));
    }
  if (!any) {
    strains.x = {"travel", D::length};
    std::vector<double> x = any_finite(s.run.s.crosshead) ? s.run.s.crosshead : s.run.s.time;
    if (!any_finite(s.run.s.crosshead)) strains.x = {"time", D::time};
    strains.caption.clear();
    strains.traces.push_back(trace("", cut(x, n), cut(s.run.s.force, n), 5, Dash::solid));
  }
  if (s.buckling) {
    const Pair& p = s.pairs[s.buckling->pair];
    Mark m;
    m.key = "buckling";
    m.label = "turns back: buckling";
    m.points = {{(s.buckling->front ? p.front : p.back)[s.buckling->at], s.run.s.force[s.buckling->at]}};
    strains.marks.push_back(m);
  }
  if (v.count(key::cai_strength)) {
    Mark m;
    m.kind = Mark::Kind::level;
    m.key = key::cai_strength;
    m.label = "largest";
    m.points = {{0, s.run.peak_force()}};
    m.value = get(v, key::fm);
    m.dimension = D::force;
    m.tone = Mark::Tone::main;
    strains.marks.push_back(m);
  }
  f.panels.push_back(std::move(strains));
  Panel bending;
  bending.name = "Bending";
  bending.x = {"force", D::force};
  bending.y = {"bending", D::percent};
  bending.y.from = 0;
  double most = 0;
  for (size_t k = 0; k < 2; ++k) {
    if (!s.pairs[k].there()) continue;
    std::vector<double> course = course_of(s, k);
    for (size_t i = 0; i < course.size(); ++i)
      if (s.run.s.force[i] > 0.1 * s.run.peak_force() && std::isfinite(course[i])) most = std::max(most, course[i]);
    std::vector<double> force = cut(s.run.s.force, course.size());
    bending.traces.push_back(trace((pair_name(k) + " pair").c_str(), std::move(force), std::move(course), kTones[k],
                                   k == 0 ? Dash::solid : Dash::dashed));
  }
  if (!bending.traces.empty()) {
    bending.y.to = std::clamp(1.25 * std::max(most, kBendingLimit), 15.0, 120.0);
    Mark limit;
    limit.kind = Mark::Kind::level;
    limit.key = key::bending_percent;
    limit.label = "limit";
    limit.points = {{0, kBendingLimit}};
    limit.value = kBendingLimit;
    limit.dimension = D::percent;
    limit.tone = Mark::Tone::limit;
    bending.marks.push_back(limit);
    if (v.count(key::bending_percent)) {
      Mark at;
      at.key = key::bending_percent;
      at.label = "at 90 %";
      at.points = {{kBendingAt * s.run.peak_force(), get(v, key::bending_percent)}};
      bending.marks.push_back(at);
    }
    Mark aligned;
    aligned.kind = Mark::Kind::level;
    aligned.along_x = true;
    aligned.key = key::bending_seating;
    aligned.label = "aligned at";
    aligned.points = {{s.seating, 0}};
    aligned.tone = Mark::Tone::quiet;
    bending.marks.push_back(aligned);
    bending.handles.push_back(
        place_handle("settings.seating", {s.seating, get(v, key::bending_seating)}, D::force, "aligned at"));
    f.panels.push_back(std::move(bending));
  }
  e.figures.push_back(std::move(f));
}

}  // namespace fortitor::cai

namespace fortitor::methods {

const Method& compression_after_impact() {
  static const Method method = [] {
    Parts<cai::State> parts;
    parts.describe = cai::describe;
    parts.results = cai::specs;
    parts.look = cai::look;
    parts.compute = cai::compute;
    parts.how = cai::how;
    parts.inputs = cai::add_inputs;
    parts.words = cai::words;
    parts.findings = cai::findings;
    parts.figures = cai::figures;
    parts.plan = cai::plan;
    return method_of("compression-after-impact", "ASTM D7137", parts);
  }();
  return method;
}

}  // namespace fortitor::methods
