#include <algorithm>
#include <cmath>

#include "core/methods/support/figures.h"
#include "core/methods/tension_metal/model.h"

namespace fortitor::tension {
namespace {

std::string typed(double mpa) {
  return significant(mpa, 5) + " MPa";
}

}  // namespace

void add_figures(Evaluation& evaluation, const TestRecord&, const Test& test, const Values& values) {
  const StressCurve& curve = test.curve;
  const Landmarks& marks = test.marks;
  const Inputs& in = test.in;
  if (curve.size() < 3) return;
  auto get = [&](const std::string& key) {
    const auto it = values.find(key);
    return it == values.end() ? NAN : it->second;
  };
  const double origin = marks.elastic ? get(key::toe_shift) : 0.0;
  CurveSheet sheet;
  sheet.x_name = "strain";
  sheet.y_name = "stress";
  if (curve.source == StrainSource::none) {
    sheet.x_name = "time";
    sheet.x_dimension = Dimension::time;
    sheet.x = curve.time;
  } else {
    sheet.x.resize(curve.size());
    for (size_t i = 0; i < curve.size(); ++i) sheet.x[i] = curve.strain[i] - origin;
    sheet.caption = "strain from " + curve.source_text;
  }
  sheet.y = curve.stress;
  sheet.break_index = marks.fracture ? marks.fracture->last_loaded : sheet.x.size();
  auto at = [&](size_t i) { return Point{sheet.x[i], sheet.y[i]}; };
  using Kind = Construction::Kind;
  auto& out = sheet.constructions;

  if (marks.elastic) {
    const double slope = get(key::e_modulus);
    const double from = get(key::modulus_from), to = get(key::modulus_to);
    sheet.lens_caption = "window " + significant(from, 3) + "–" + significant(to, 3) + " MPa · R² " +
                         fixed(std::floor(get(key::modulus_r2) * 1e5) / 1e5, 5);
    if (std::isfinite(get(key::modulus_slope_error)))
      sheet.lens_caption += " · ±" + significant(100 * get(key::modulus_slope_error), 2) + " %";
    sheet.lens_x = std::max(2.2 * marks.yield_stress / slope, 0.0045);
    Construction window{Kind::window, key::e_modulus, "modulus window", {{from / slope, from}, {to / slope, to}}, {}};
    if (marks.school == "tangent" || marks.school == "secant") {
      const Point p = marks.modulus_points.back();
      window.handles = {{"settings.modulus.at", false, {p.x - origin, p.y}, Dimension::stress, "at", {}}};
    } else {
      // Dragging an end of the automatic window turns it into a hand-drawn one.
      const std::string school = marks.school == "chord" ? "chord" : "line";
      window.handles = {{"settings.modulus.from",
                         false,
                         {from / slope, from},
                         Dimension::stress,
                         "from",
                         {{"settings.modulus.school", school}, {"settings.modulus.to", typed(to)}}},
                        {"settings.modulus.to",
                         false,
                         {to / slope, to},
                         Dimension::stress,
                         "to",
                         {{"settings.modulus.school", school}, {"settings.modulus.from", typed(from)}}}};
    }
    out.push_back(window);
    const double line_top = std::min(1.15 * marks.yield_stress, get(key::rm));
    out.push_back({Kind::line, key::e_modulus, "E", {{0, 0}, {line_top / slope, line_top}}, {}});
    for (double offset : in.offsets) {
      const std::string key = offset_key(offset);
      const double r = get(key);
      if (!std::isfinite(r)) continue;
      const std::string percent = result_spec(key)->symbol.substr(3) + " % offset";
      out.push_back({Kind::line, key, percent, {{offset, 0}, {offset + 1.06 * r / slope, 1.06 * r}}, {}});
      out.push_back({Kind::point, key, plain_symbol(result_spec(key)->symbol), {{offset + r / slope, r}}, {}});
    }
  }
  if (marks.yielding) {
    const Yielding& y = *marks.yielding;
    out.push_back({Kind::point, key::reh, "ReH", {at(y.upper)}, {}});
    out.push_back({Kind::point, key::rel, "ReL", {at(y.lower)}, {}});
    out.back().minor = true;
    const double ae = get(key::ae), slope = get(key::e_modulus);
    const double start = sheet.x[y.upper] - (sheet.y[y.upper] - y.plateau) / slope;
    out.push_back({Kind::band, key::ae, "Ae", {{start, y.plateau}, {start + ae, y.plateau}}, {}});
  }
  if (marks.elastic && std::isfinite(get(key::rt05)))
    out.push_back({Kind::point, key::rt05, "Rt0.5", {{0.005, get(key::rt05)}}, {}, false, true});
  if (std::isfinite(sheet.x[marks.peak])) {
    const double agt = get(key::agt);
    out.push_back({Kind::point,
                   key::rm,
                   "Rm",
                   {{std::isfinite(agt) ? agt : sheet.x[marks.peak], sheet.y[marks.peak]}},
                   {},
                   true});
    if (std::isfinite(agt) && marks.elastic) {
      const double ag = get(key::ag);
      out.push_back({Kind::line, key::ag, "Ag", {{ag, 0}, {agt, get(key::rm)}}, {}, true});
    }
  }
  if (marks.fracture && std::isfinite(sheet.x[marks.fracture->last_loaded]))
    out.push_back({Kind::marker, key::at, "break", {at(marks.fracture->last_loaded)}, {}});
  if (curve.removed_index < curve.size())
    out.push_back({Kind::marker, "removal", "extensometer off", {at(curve.removed_index)}, {}});
  evaluation.figures.push_back(std::move(sheet).figure(evaluation));
}

}  // namespace fortitor::tension
