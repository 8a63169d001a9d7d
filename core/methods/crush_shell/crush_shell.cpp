#include "core/methods/crush_shell/crush_shell.h"

#include <algorithm>
#include <cmath>

#include "core/methods/crush_shell/model.h"
#include "core/methods/support/pulled.h"
#include "core/methods/support/skeleton.h"
#include "core/statistics/sample.h"

namespace fortitor::crush {

namespace {

using D = Dimension;
using R = RoundingClass;
using ledger::get;
using ledger::put;
using ledger::raise;
using ledger::si;

// The first peak: the force falls by a tenth and by times its noise; it lies above a share of the largest force and
// above times the noise at the touch.
constexpr double kFallen = 0.9, kFallenNoise = 8, kFloor = 0.02, kFloorNoise = 10;

struct Fold {
  Loading loading;
  std::optional<size_t> first;   ///< first peak followed by a drop of at least 10 %
  size_t end = 0;                ///< index of the stroke limit, or the end of the run
  double stroke = 0;             ///< mm, asked; 0: whole run
  bool whole_stroke = true;      ///< the run reached it
  bool pick_outside = false;     ///< … and that the shell was not pressed to
  std::optional<double> picked;  ///< mm of travel at which somebody saw the first peak
};

// First maximum of `floor` or more after which force falls by 10 %, and by more than noise does, before it rises above
// it again.
std::optional<size_t> first_peak(const std::vector<double>& f, double floor, double noise) {
  std::optional<size_t> top;
  for (size_t i = 0; i < f.size(); ++i) {
    if (f[i] >= floor && (!top || f[i] > f[*top])) top = i;
    if (top && f[*top] > 0 && f[i] <= kFallen * f[*top] && f[*top] - f[i] > kFallenNoise * noise) return top;
  }
  return std::nullopt;
}

// A row without travel tells neither way nor work: one that was missing at the touch made the energy nothing, and the
// stroke no number. It is left out and counted; a channel that ended stays ended, one that says nothing is none.
void leave_out_gaps(Loading& l) {
  std::vector<double>& x = l.s.crosshead;
  size_t last = x.size();
  while (last > 0 && !std::isfinite(x[last - 1])) --last;
  if (last == 0) return x.clear();
  std::vector<size_t> kept;
  for (size_t i = 0; i < x.size(); ++i)
    if (i >= last || std::isfinite(x[i])) kept.push_back(i);
  if (kept.size() == x.size()) return;
  l.s.dropped += x.size() - kept.size();
  for (std::vector<double>* v : {&l.s.time, &l.s.force, &x}) {
    for (size_t k = 0; k < kept.size(); ++k) (*v)[k] = (*v)[kept[k]];
    v->resize(kept.size());
  }
  l.peak = size_t(std::max_element(l.s.force.begin(), l.s.force.end()) - l.s.force.begin());
  l.fracture = find_break(l.s.time, l.s.force, l.peak);
  l.end = l.fracture ? l.fracture->last_loaded + 1 : l.s.size();
}

// The maximum that somebody sees at a travel: from the reading there up to the top of the hill that it stands on. A
// step looks a two-hundredth of the stroke to both sides, over the noise.
std::optional<size_t> peak_near(const Signals& s, double travel) {
  constexpr double kBeside = 0.005;
  const std::vector<double>& x = s.crosshead;
  if (x.empty()) return std::nullopt;
  const auto [least, most] = std::minmax_element(x.begin(), x.end());
  if (travel < *least || travel > *most) return std::nullopt;
  const double beside = kBeside * (*most - *least);
  size_t best = 0;
  for (size_t i = 1; i < x.size(); ++i)
    if (std::abs(x[i] - travel) < std::abs(x[best] - travel)) best = i;
  for (size_t from = SIZE_MAX; from != best;) {
    from = best;
    for (size_t i = from; i-- > 0 && std::abs(x[i] - x[from]) <= beside;)
      if (s.force[i] > s.force[best]) best = i;
    for (size_t i = from + 1; i < x.size() && std::abs(x[i] - x[from]) <= beside; ++i)
      if (s.force[i] > s.force[best]) best = i;
  }
  return best;
}

Fold fold_of(const TestRecord& r) {
  Fold c;
  c.loading = loading_of(r, {"crosshead", "displacement", "extension"});
  Loading& l = c.loading;
  leave_out_gaps(l);
  if (l.empty()) return c;
  if (!l.s.crosshead.empty()) {  // travel counts from the touch: the gap before it is no crushing
    const double start = l.s.crosshead[touch_of(l.s.force, l.peak)];
    for (double& x : l.s.crosshead) x -= start;
  }
  // Noise at the touch must not pass for a peak: what lies below 2 % of the largest force, or ten times the noise, does
  // not count.
  const double noise = noise_of_bent(l.s.force, 0, l.peak);
  c.first = first_peak(l.s.force, std::max(kFloor * l.peak_force(), kFloorNoise * noise), noise);
  c.picked = r.fields.number("settings.first_peak");
  if (c.picked) {
    const auto seen = peak_near(l.s, *c.picked);
    if (seen) c.first = seen;
    c.pick_outside = !seen;
  }
  c.stroke = r.fields.number("settings.stroke_limit").value_or(0);
  c.end = l.s.size() - 1;
  const auto& x = l.s.crosshead;
  if (c.stroke > 0 && !x.empty()) {
    c.whole_stroke = false;
    for (size_t i = 0; i < x.size(); ++i)
      if (x[i] >= c.stroke) {
        c.end = i;
        c.whole_stroke = true;
        break;
      }
  }
  // After the stroke the platens open again: the way back is no crushing.
  if (!x.empty()) {
    const size_t farthest = size_t(std::max_element(x.begin(), x.begin() + long(c.end) + 1) - x.begin());
    c.end = std::min(c.end, farthest);
  }
  return c;
}

double peak_noise(const Fold& c) {
  const Loading& l = c.loading;
  const size_t peak = c.first.value_or(l.peak);
  return noise_of_bent(l.s.force, peak > 60 ? peak - 60 : 0, std::min(l.s.size(), peak + 60));
}

// The first peak is round and its samples noisy: where it lies is read from the middle of its top.
TopPlace place_of(const Fold& c) {
  return top_place(c.loading.s.crosshead, c.loading.s.force, c.first.value_or(c.loading.peak), peak_noise(c),
                   c.end + 1);
}

// How far the touch may lie from where the force truly began: as far again as force took to be felt twice as much.
double touch_error(const Fold& c) {
  const Loading& l = c.loading;
  const size_t touch = touch_of(l.s.force, l.peak);
  const double felt = l.s.force[std::min(touch + 1, l.peak)];
  const size_t twice = first_reaching(l.s.force, l.peak, 2 * felt);
  if (twice > l.peak) return 0;
  return rectangular(std::abs(l.s.crosshead[twice] - l.s.crosshead[touch]));
}

Values compute(const TestRecord& r, const Fold& c, const Shifts& shifts) {
  Values v;
  const Loading& l = c.loading;
  const double force = 1 + ledger::shift(shifts, "force"), travel = 1 + ledger::shift(shifts, "travel");
  if (l.empty()) {
    if (const auto keyed = r.fields.number("run.peak_force")) put(v, key::peak_force, *keyed * force);
    return v;
  }
  const size_t peak = c.first.value_or(l.peak);
  const double top = 1 + ledger::shift(shifts, "peak");
  put(v, key::peak_force, l.s.force[peak] * force * top);
  put(v, key::max_force, l.peak_force() * force * top);
  const auto& x = l.s.crosshead;
  if (x.empty()) return v;
  put(v, key::peak_travel,
      middle_of(x, place_of(c).stretch) * travel + ledger::shift(shifts, "peak_place") +
          ledger::shift(shifts, "touch"));
  const double way = x[c.end] - x[peak];
  if (c.first && way > 0 && c.end > peak) {
    const double mean = work_under(x, l.s.force, peak, c.end) / way;
    put(v, key::mean_crush_force, mean * force);
    put(v, key::crush_efficiency, mean / (l.s.force[peak] * top));
  }
  put(v, key::crush_energy,
      work_under(x, l.s.force, touch_of(l.s.force, l.peak), c.end) * force * travel * kJoulePerNewtonMillimetre);
  put(v, key::crush_stroke, x[c.end] * travel);
  if (height_of(r) > 0)
    put(v, key::crush_ratio, x[c.end] * travel / (height_of(r) + ledger::shift(shifts, "specimen.height")));
  return v;
}

std::vector<ResultSpec> specs(const TestRecord&) {
  return {
      ledger::spec_of(key::peak_force, "F_p", D::force, R::other, 4, true),
      ledger::spec_of(key::mean_crush_force, "F_c", D::force, R::other, 4, true),
      ledger::spec_of(key::crush_energy, "W", D::energy, R::other, 3, true),
      ledger::spec_of(key::crush_efficiency, "η_c", D::none, R::other, 3, true),
      ledger::spec_of(key::max_force, "F_max", D::force, R::other, 4, false),
      ledger::spec_of(key::peak_travel, "s_p", D::length, R::other, 3, false),
      ledger::spec_of(key::crush_stroke, "s", D::length, R::other, 3, false),
      ledger::spec_of(key::crush_ratio, "s/H", D::elongation, R::other, 3, false),
  };
}

std::vector<Step> how(const std::string& key, const TestRecord& r, const Fold& c, const Values& v) {
  std::vector<Step> steps;
  const ledger::AddStep add{steps};
  const std::string stroke = "from the first peak to " + si(get(v, key::crush_stroke), D::length, 4);
  if (key == key::peak_force)
    add("F_p",
        c.loading.empty()             ? "as read from the machine"
        : c.picked && !c.pick_outside ? "the maximum picked at " + si(*c.picked, D::length, 3)
                                      : "first maximum followed by a drop of 10 % or more",
        get(v, key), D::force);
  if (key == key::mean_crush_force)
    add("F_c = ∫F ds/Δs", stroke, get(v, key), D::force, c.stroke > 0 ? "stroke limit" : "whole run");
  if (key == key::crush_energy)
    add("W = ∫F ds", "from the touch to " + si(get(v, key::crush_stroke), D::length, 4) + ", trapezoidal rule",
        get(v, key), D::energy);
  if (key == key::crush_efficiency)
    add("F_c/F_p", si(get(v, key::mean_crush_force), D::force) + " / " + si(get(v, key::peak_force), D::force),
        get(v, key), D::none);
  if (key == key::max_force) add("F_max", "largest force", get(v, key), D::force);
  if (key == key::peak_travel) add("s_p", "travel at the first peak", get(v, key), D::length);
  if (key == key::crush_stroke)
    add("s", c.stroke > 0 ? "stroke limit, or the end of the run" : "end of the run", get(v, key), D::length);
  if (key == key::crush_ratio)
    add("s/H", si(get(v, key::crush_stroke), D::length) + " / " + si(height_of(r), D::length), get(v, key),
        D::elongation);
  return steps;
}

void add_inputs(const TestRecord& r, const Fold& c, std::vector<UncertainInput>& out) {
  ledger::class_input(r, "equipment.load_cell.class", "force", "force", out,
                      c.loading.empty() ? NAN : c.loading.peak_force());
  if (!c.loading.s.crosshead.empty()) out.push_back({"travel", "crosshead travel, 0.5 % taken", rectangular(0.005)});
  ledger::length_input(r, "specimen.height", "height", 0.5, out);
  const Loading& l = c.loading;
  if (l.empty()) return;
  if (!l.s.crosshead.empty()) {
    if (const double place = place_of(c).standard; place > 0)
      out.push_back({"peak_place", "place of the first peak on its round top", place});
    if (const double touch = touch_error(c); touch > 0)
      out.push_back({"touch", "where the force was first felt", touch});
  }
  // Noise lifts the largest of many samples; where the peak is read matters by that much.
  const size_t peak = c.first.value_or(l.peak);
  const double noise = peak_noise(c);
  if (noise > 0) {
    const Stretch top = flat_top(l.s.force, peak, 3 * noise, l.s.size());
    const double lift = statistics::lift_of_largest(double(top.last - top.first + 1));
    out.push_back(
        {"peak", "noise of the force at the peak", lift * noise / l.s.force[peak], UncertainInput::Shape::normal});
  }
}

void add_words(Evaluation& e, const TestRecord&, const Fold& c, const Values&) {
  if (c.loading.empty() || c.first) return;
  if (ResultValue* x = e.find(key::peak_force)) x->censored = Censoring{true, 0, 0};
}

void add_findings(Evaluation& e, const TestRecord& r, const Fold& c, const Values& v) {
  const Loading& l = c.loading;
  if (!l.empty() && !c.first)
    raise(e, "no-peak", Severity::check,
          "Force never fell by 10 %: the shell had not folded when the run ended, and the peak is a lower bound.", {},
          {}, key::peak_force);
  if (!l.empty() && l.s.crosshead.empty())
    raise(e, "no-travel", Severity::check,
          "The run carries no travel that can be read: stroke, energy and mean force are left out.", {}, {},
          key::crush_energy);
  if (c.pick_outside)
    raise(e, "pick-outside", Severity::check,
          "The travel of " + si(*c.picked, D::length, 4) +
              " picked for the first peak is none of this run: the first maximum before a drop of 10 % is taken.",
          {{"travel", *c.picked}}, {}, key::peak_force);
  if (!c.whole_stroke)
    raise(e, "stroke-short", Severity::check,
          "The run ended at " + si(get(v, key::crush_stroke), D::length, 4) + ", before the stroke limit of " +
              si(c.stroke, D::length, 4) + ": energy and mean force are those of the shorter stroke.",
          {{"stroke", get(v, key::crush_stroke)}}, {}, key::crush_energy);
  std::string ticked;
  for (const char* id : kSuspects)
    if (const FieldSpec& f = *methods::crush_shell().field(kSuspectsPath + id); r.fields.flag(f.path))
      ticked += (ticked.empty() ? "" : ", ") + f.label;
  if (!ticked.empty())
    raise(e, "suspects", Severity::note, "Noted on this piece: " + ticked + ". The series tests whether it matters.",
          {}, {}, key::peak_force);
  if (l.empty())
    cell_findings(e, r, "equipment.load_cell.capacity", get(v, key::peak_force), D::force, key::peak_force);
  else
    run_findings(e, r, facts_of(l, 0), key::peak_force);
  if (const double travel = get(v, key::peak_travel); travel < 0)
    raise(
        e, "travel-backwards", Severity::check,
        "At the peak the travel reads " + si(-travel, D::length, 3) +
            " behind the place where the force began: it jumped, or runs the other way. Stroke and energy rest on it.",
        {{"travel", travel}}, {}, key::crush_stroke);
}

void add_figures(Evaluation& e, const TestRecord&, const Fold& c, const Values& v) {
  const Loading& l = c.loading;
  if (l.empty()) return;
  CurveSheet sheet;
  const auto& x = l.s.crosshead;
  sheet.x_name = x.empty() ? "time" : "travel";
  sheet.y_name = "force";
  sheet.x_dimension = x.empty() ? D::time : D::length;
  sheet.y_dimension = D::force;
  sheet.x = x.empty() ? l.s.time : x;
  sheet.y = l.s.force;
  const size_t peak = c.first.value_or(l.peak);
  sheet.lens_x = 3 * sheet.x[peak];
  using Kind = Construction::Kind;
  Construction first{Kind::point, key::peak_force, "Fp", {{sheet.x[peak], sheet.y[peak]}}, {}, true};
  if (!x.empty()) first.handles = {place_handle("settings.first_peak", first.points[0], D::length, "first peak")};
  sheet.constructions.push_back(std::move(first));
  if (!x.empty()) {
    Construction stroke{Kind::marker, "stroke", "stroke", {{sheet.x[c.end], sheet.y[c.end]}}, {}, true};
    stroke.handles = {place_handle("settings.stroke_limit", stroke.points[0], D::length, "stroke limit")};
    sheet.constructions.push_back(std::move(stroke));
  }
  if (v.count(key::mean_crush_force))
    sheet.constructions.push_back(
        {Kind::line,
         key::mean_crush_force,
         "Fc",
         {{sheet.x[peak], get(v, key::mean_crush_force)}, {sheet.x[c.end], get(v, key::mean_crush_force)}},
         {},
         true});
  e.figures.push_back(std::move(sheet).figure(e));
}

}  // namespace
}  // namespace fortitor::crush

namespace fortitor::methods {

const Method& crush_shell() {
  static const Method method = [] {
    Parts<crush::Fold> parts;
    parts.describe = crush::describe;
    parts.results = crush::specs;
    parts.look = crush::fold_of;
    parts.compute = crush::compute;
    parts.how = crush::how;
    parts.inputs = crush::add_inputs;
    parts.words = crush::add_words;
    parts.findings = crush::add_findings;
    parts.figures = crush::add_figures;
    parts.plan = crush::plan;
    return method_of("crush-shell", "in-house; first peak and mean force", parts);
  }();
  return method;
}

}  // namespace fortitor::methods
