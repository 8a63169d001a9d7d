#include "core/methods/flatwise_tension/flatwise_tension.h"

#include <algorithm>
#include <cmath>

#include "core/methods/flatwise_tension/model.h"
#include "core/methods/support/figures.h"
#include "core/methods/support/skeleton.h"

namespace fortitor::flatwise {
namespace {

using D = Dimension;
using R = RoundingClass;
using ledger::get;
using ledger::put;
using ledger::raise;
using ledger::si;

constexpr double kSameSize = 0.02;  // of a size: two that differ by less are one measured twice
constexpr double kSumsUp = 0.005;   // of the whole

double share(const TestRecord& r, const char* path, double otherwise) {
  return r.fields.number(path).value_or(otherwise);
}

Pull pull_of(const TestRecord& r) {
  Pull p;
  p.loading = loading_of(r, {"displacement", "extension", "crosshead"});
  p.from = share(r, "settings.modulus.from", 0.25);
  p.to = share(r, "settings.modulus.to", 0.5);
  if (!p.loading.empty()) {
    p.peak = p.loading.peak_force();
    const auto& x = p.loading.s.crosshead;
    if (!x.empty()) {
      const auto& f = p.loading.s.force;
      const size_t a = first_reaching(f, p.loading.peak, p.from * p.peak),
                   b = first_reaching(f, p.loading.peak, p.to * p.peak);
      if (b > a + 2) p.line = fit_line(x, f, a, std::min(b + 1, x.size()));
      if (p.line && !(p.line->slope > 0)) p.line.reset();
    }
  }
  if (const auto keyed = r.fields.number("run.peak_force")) p.peak = *keyed;
  p.measured = p.peak > 0;
  return p;
}

double mode_share(const TestRecord& r, const char* mode) {
  return r.fields.number(std::string("specimen.failure.") + mode).value_or(0);
}

std::string main_mode(const TestRecord& r) {
  const char* best = nullptr;
  double most = 0;
  for (const auto& [id, label] : kModes)
    if (mode_share(r, id) > most) {
      most = mode_share(r, id);
      best = id;
    }
  return best != nullptr ? best : "";
}

Values compute(const TestRecord& r, const Pull& p, const Shifts& shifts) {
  Values v;
  const ledger::Sizes sizes = ledger::sizes_of(methods::flatwise_tension(), r);
  const double w = sizes.mean("specimen.width", shifts), d = sizes.mean("specimen.depth", shifts),
               t = sizes.mean("specimen.thickness", shifts);
  const double force = 1 + ledger::shift(shifts, "force"), travel = 1 + ledger::shift(shifts, "displacement");
  const double area = w * d;
  if (area > 0) put(v, key::area, area);
  if (p.measured) {
    const double top = p.peak * force * (1 + ledger::shift(shifts, "peak"));
    put(v, key::peak_force, top);
    if (area > 0) put(v, key::strength, top / area);
  }
  const auto& x = p.loading.s.crosshead;
  if (t > 0 && !x.empty() && p.loading.fracture && p.line) {
    // Slack of pins and chains is in front of the line, not in the panel.
    const double slack = -p.line->intercept / p.line->slope + ledger::shift(shifts, "foot");
    put(v, key::strain_break, (x[p.loading.fracture->last_loaded] - slack) * travel / t);
  }
  if (t > 0 && area > 0 && p.line)
    put(v, key::modulus, p.line->slope * force / travel * t / area * (1 + ledger::shift(shifts, "slope")));
  const auto stated = r.fields.number("specimen.cure.stated"), elapsed = r.fields.number("specimen.cure.elapsed");
  if (stated && elapsed && *stated > 0)
    put(v, key::cure_ratio, *elapsed / *stated * (1 + ledger::shift(shifts, "cured")));
  return v;
}

std::vector<ResultSpec> specs(const TestRecord&) {
  return {
      ledger::spec_of(key::strength, "σ_z", D::stress, R::other, 3, true),
      ledger::spec_of(key::failure_mode, "mode", D::none, R::other, 0, true),
      ledger::spec_of(key::modulus, "E_z", D::modulus, R::other, 3, true),
      ledger::spec_of(key::strain_break, "ε_z", D::elongation, R::other, 3, true),
      ledger::spec_of(key::cure_ratio, "t/t_cure", D::none, R::other, 3, true),
      ledger::spec_of(key::peak_force, "F_m", D::force, R::other, 4, false),
      ledger::spec_of(key::area, "A", D::area, R::other, 5, false, true),
  };
}

std::vector<Step> how(const std::string& key, const TestRecord& r, const Pull& p, const Values& v) {
  std::vector<Step> steps;
  const ledger::AddStep add{steps};
  const ledger::Sizes sizes = ledger::sizes_of(methods::flatwise_tension(), r);
  auto area = [&] {
    add("A = width·depth",
        si(sizes.mean("specimen.width"), D::length) + " · " + si(sizes.mean("specimen.depth"), D::length),
        get(v, key::area), D::area, "the plane normal to the load; means of the readings");
  };
  if (key == key::area) area();
  if (key == key::peak_force)
    add("F_m", p.loading.empty() ? "as read from the machine" : "largest force of the run", get(v, key), D::force);
  if (key == key::strength) {
    area();
    add("σ = F_m/A", si(get(v, key::peak_force), D::force) + " / " + si(get(v, key::area), D::area), get(v, key),
        D::stress, "ASTM C297");
  }
  if (key == key::modulus) {
    area();
    add("E = (ΔF/Δx)·t/A",
        significant(p.line->slope, 5) + " N/mm · " + si(sizes.mean("specimen.thickness"), D::length) + " / " +
            si(get(v, key::area), D::area),
        get(v, key), D::modulus,
        "least squares from " + ledger::percent(p.from) + " to " + ledger::percent(p.to) +
            " of F_m; gauge length is the thickness");
  }
  if (key == key::strain_break)
    add("ε = (x_b − x₀)/t",
        "displacement at the break, less the foot of the line, over " + si(sizes.mean("specimen.thickness"), D::length),
        get(v, key), D::elongation);
  if (key == key::cure_ratio)
    add("elapsed/stated",
        si(r.fields.number("specimen.cure.elapsed").value_or(0), D::time) + " / " +
            si(r.fields.number("specimen.cure.stated").value_or(0), D::time),
        get(v, key), D::none, "data sheet of the adhesive");
  return steps;
}

void add_findings(Evaluation& e, const TestRecord& r, const Pull& p, const Values& v) {
  ledger::size_findings(e, methods::flatwise_tension(), r);
  const ledger::Sizes sizes = ledger::sizes_of(methods::flatwise_tension(), r);
  const double w = sizes.mean("specimen.width"), d = sizes.mean("specimen.depth"), t = sizes.mean("specimen.thickness");
  // Depth that equals the thickness, while the width does not: the edge was measured, not the plane.
  auto same = [](double a, double b) { return a > 0 && b > 0 && std::abs(a - b) <= kSameSize * b; };
  if (same(d, t) != same(w, t) && w > 0 && d > 0)
    raise(e, "area-plane", Severity::check,
          std::string(same(d, t) ? "The depth" : "The width") + " (" + si(same(d, t) ? d : w, D::length) +
              ") is the thickness of the panel (" + si(t, D::length) +
              "): the area must be width × depth, the plane normal to the load.",
          {{"width", w}, {"depth", d}, {"thickness", t}}, {}, key::strength);
  // A panel is thinner than its blocks are wide: a width or depth below the thickness was taken in the other plane.
  else if (t > 0 && w > 0 && d > 0 && t > (1 + kSameSize) * std::min(w, d))
    raise(e, "area-plane", Severity::check,
          "The thickness (" + si(t, D::length) + ") is larger than the " + (w < d ? "width (" : "depth (") +
              si(std::min(w, d), D::length) +
              "): are the readings exchanged? The area must be width × depth, the plane normal to the load.",
          {{"width", w}, {"depth", d}, {"thickness", t}}, {}, key::strength);
  const double ratio = get(v, key::cure_ratio);
  if (ratio < 1)
    raise(e, "cure-short", Severity::check,
          "The adhesive cured for " + ledger::percent(ratio, 3) +
              " of its stated time. The blocks may let go before the panel does.",
          {{"cure_ratio", ratio}}, {{"accept", "Run it all the same", {}, true}}, key::cure_ratio);
  double sum = 0;
  bool any = false;
  for (const auto& [id, label] : kModes) {
    sum += mode_share(r, id);
    any = any || r.fields.has(std::string("specimen.failure.") + id);
  }
  if (any && std::abs(sum - 1) > kSumsUp)
    raise(e, "failure-sum", Severity::check,
          "The failure modes add up to " + ledger::percent(sum, 3) + " where 100 % are wanted.", {{"sum", sum}}, {},
          key::failure_mode);
  const double block = mode_share(r, "block");
  // As large a share as any other is the largest: half the area of adhesive is no test of the panel.
  double most = 0;
  for (const auto& [id, label] : kModes) most = std::max(most, mode_share(r, id));
  if (block > 0 && block >= most - 1e-9)
    raise(e, "block-bond", Severity::void_test,
          "The block bond failed over " + ledger::percent(block, 3) +
              ": the adhesive was tested, not the panel. The test is void; it is counted and listed apart.",
          {{"block", block}}, {}, key::strength);
  else if (block > 0)
    raise(e, "block-bond-part", Severity::check,
          "The block bond failed over " + ledger::percent(block, 3) +
              " of the area: the strength is a lower one than the panel's.",
          {{"block", block}}, {}, key::strength);
  if (p.loading.empty())
    cell_findings(e, r, "equipment.load_cell.capacity", p.peak, D::force, key::strength);
  else
    run_findings(e, r, facts_of(p.loading, get(v, key::area)), key::strength);
  const SamplesPtr samples = r.run.samples();
  const bool transducer =
      samples && (samples->find("displacement") != nullptr || samples->find("extension") != nullptr);
  if (v.count(key::modulus) && !transducer)
    raise(e, "modulus-from-crosshead", Severity::note,
          "The displacement is the crosshead's: the stretch of frame, chains and pins is in it. The modulus is no "
          "value of the panel.",
          {}, {}, key::modulus);
  if (!p.loading.empty() && !p.loading.fracture) censored_note(e, r, key::strength);
}

void add_inputs(const TestRecord& r, const Pull& p, std::vector<UncertainInput>& out) {
  ledger::size_inputs(ledger::sizes_of(methods::flatwise_tension(), r), r, out);
  // Somebody looks at the clock when the glue is mixed and when the pull begins.
  if (const Reading* cured = r.fields.reading("specimen.cure.elapsed");
      cured != nullptr && cured->value && *cured->value > 0)
    out.push_back({"cured", "time of the cure, to its digit", rectangular(cured->resolution / 2) / *cured->value});
  if (p.measured)
    ledger::class_input(r, "equipment.load_cell.class", "force", "force", out,
                        p.loading.empty() ? NAN : p.loading.peak_force());
  if (!p.loading.empty()) peak_input(p.loading.s.force, p.loading.peak, p.loading.end, out);
  if (!p.line) return;
  out.push_back({"displacement", "displacement, class 1 (assumed)", rectangular(kTravelTaken)});
  const LineFit& line = *p.line;
  if (!(line.slope_error > 0)) return;
  out.push_back({"slope", "fit of the modulus", line.slope_error / line.slope, UncertainInput::Shape::normal});
  const double middle = (0.5 * (p.from + p.to) * p.peak - line.intercept) / line.slope;
  out.push_back({"foot", "foot of the line",
                 std::hypot(line.residual_sd / std::sqrt(double(line.n)) / line.slope,
                            line.slope_error / line.slope * (middle + line.intercept / line.slope)),
                 UncertainInput::Shape::normal});
}

void add_words(Evaluation& e, const TestRecord& r, const Pull& p, const Values&) {
  std::string words, shares;
  for (const auto& [id, label] : kModes)
    if (mode_share(r, id) > 0)
      shares += (shares.empty() ? "" : ", ") + std::string(label) + " " + ledger::percent(mode_share(r, id), 3);
  for (const auto& [id, label] : kModes)
    if (main_mode(r) == id) words = label;
  ledger::add_text(e, specs(r), key::failure_mode, words,
                   {{"largest share", shares, 0, D::none, "seen on both halves"}});
  if (p.loading.empty() || p.loading.fracture) return;
  for (const char* key : {key::strength, key::peak_force})
    if (ResultValue* x = e.find(key)) x->censored = Censoring{true, 0, 0};
}

void add_figures(Evaluation& e, const TestRecord&, const Pull& p, const Values& v) {
  if (p.loading.empty() || !(get(v, key::area) > 0)) return;
  const auto& x = p.loading.s.crosshead;
  CurveSheet sheet;
  sheet.y_name = "stress";
  sheet.x_name = x.empty() ? "time" : "displacement";
  sheet.x_dimension = x.empty() ? D::time : D::length;
  sheet.x = x.empty() ? p.loading.s.time : x;
  for (double f : p.loading.s.force) sheet.y.push_back(f / get(v, key::area));
  sheet.break_index = p.loading.fracture ? p.loading.fracture->last_loaded : sheet.x.size();
  sheet.lens_x = 0.6 * sheet.x[p.loading.peak];
  using Kind = Construction::Kind;
  if (p.line) {
    const double f0 = p.from * p.peak, f1 = p.to * p.peak;
    auto at = [&](double f) { return Point{(f - p.line->intercept) / p.line->slope, f / get(v, key::area)}; };
    Construction window{Kind::window, key::modulus, "window", {at(f0), at(f1)}, {}};
    // The settings are shares of the largest force, the axis is the stress.
    window.handles = window_handles(
        {"settings.modulus.from", "settings.modulus.to", D::elongation, false, get(v, key::area) / p.peak}, at(f0),
        at(f1));
    sheet.constructions.push_back(std::move(window));
    sheet.constructions.push_back({Kind::line, key::modulus, "E", {at(0), at(1.3 * f1)}, {}});
  }
  sheet.constructions.push_back(
      {Kind::point, key::strength, "σz", {{sheet.x[p.loading.peak], sheet.y[p.loading.peak]}}, {}, true});
  e.figures.push_back(std::move(sheet).figure(e));
}

}  // namespace
}  // namespace fortitor::flatwise

namespace fortitor::methods {

const Method& flatwise_tension() {
  static const Method method = [] {
    Parts<flatwise::Pull> parts;
    parts.describe = flatwise::describe;
    parts.results = flatwise::specs;
    parts.look = flatwise::pull_of;
    parts.compute = flatwise::compute;
    parts.how = flatwise::how;
    parts.inputs = flatwise::add_inputs;
    parts.words = flatwise::add_words;
    parts.findings = flatwise::add_findings;
    parts.figures = flatwise::add_figures;
    parts.plan = flatwise::plan;
    return method_of("flatwise-tension", "ASTM C297", parts);
  }();
  return method;
}

}  // namespace fortitor::methods
