#include <algorithm>
#include <cmath>

#include "core/methods/tension_metal/model.h"

namespace fortitor::tension {
namespace {

std::string typed(double mpa) {
  return significant(mpa, 5) + " MPa";
}

}  // namespace

void add_constructions(Evaluation& evaluation, const Curve& curve, const Landmarks& marks, const Inputs& in,
                       const Values& values) {
  if (curve.size() < 3) return;
  auto get = [&](const std::string& key) {
    const auto it = values.find(key);
    return it == values.end() ? NAN : it->second;
  };
  const double origin = marks.elastic ? get("toe_shift") : 0.0;
  auto data = std::make_shared<CurveData>();
  data->x_name = "strain";
  data->y_name = "stress";
  data->x_origin = origin;
  if (curve.source == StrainSource::none) {
    data->x_name = "time";
    data->x_dimension = Dimension::time;
    data->x = curve.time;
  } else {
    data->x.resize(curve.size());
    for (size_t i = 0; i < curve.size(); ++i) data->x[i] = curve.strain[i] - origin;
  }
  data->y = curve.stress;
  data->break_index = marks.fracture ? marks.fracture->last_loaded : data->x.size();
  evaluation.curve = data;
  if (curve.source != StrainSource::none) data->caption = "strain from " + curve.source_text;
  auto at = [&](size_t i) { return Point{data->x[i], data->y[i]}; };
  using Kind = Construction::Kind;
  auto& out = evaluation.constructions;

  if (marks.elastic) {
    const double slope = get("e_modulus");
    const double from = get("modulus_from"), to = get("modulus_to");
    data->lens_caption = "window " + significant(from, 3) + "–" + significant(to, 3) + " MPa · R² " +
                         fixed(std::floor(get("modulus_r2") * 1e5) / 1e5, 5);
    if (std::isfinite(get("modulus_slope_error")))
      data->lens_caption += " · ±" + significant(100 * get("modulus_slope_error"), 2) + " %";
    data->lens_x = std::max(2.2 * marks.yield_stress / slope, 0.0045);
    Construction window{Kind::window, "e_modulus", "modulus window", {{from / slope, from}, {to / slope, to}}, {}};
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
    const double line_top = std::min(1.15 * marks.yield_stress, get("rm"));
    out.push_back({Kind::line, "e_modulus", "E", {{0, 0}, {line_top / slope, line_top}}, {}});
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
    out.push_back({Kind::point, "reh", "ReH", {at(y.upper)}, {}});
    out.push_back({Kind::point, "rel", "ReL", {at(y.lower)}, {}});
    out.back().minor = true;
    const double ae = get("ae"), slope = get("e_modulus");
    const double start = data->x[y.upper] - (data->y[y.upper] - y.plateau) / slope;
    out.push_back({Kind::band, "ae", "Ae", {{start, y.plateau}, {start + ae, y.plateau}}, {}});
  }
  if (marks.elastic && std::isfinite(get("rt05")))
    out.push_back({Kind::point, "rt05", "Rt0.5", {{0.005, get("rt05")}}, {}, false, true});
  if (std::isfinite(data->x[marks.peak])) {
    const double agt = get("agt");
    out.push_back(
        {Kind::point, "rm", "Rm", {{std::isfinite(agt) ? agt : data->x[marks.peak], data->y[marks.peak]}}, {}, true});
    if (std::isfinite(agt) && marks.elastic) {
      const double ag = get("ag");
      out.push_back({Kind::line, "ag", "Ag", {{ag, 0}, {agt, get("rm")}}, {}, true});
    }
  }
  if (marks.fracture && std::isfinite(data->x[marks.fracture->last_loaded]))
    out.push_back({Kind::marker, "at", "break", {at(marks.fracture->last_loaded)}, {}});
  if (curve.removed_index < curve.size())
    out.push_back({Kind::marker, "removal", "extensometer off", {at(curve.removed_index)}, {}});
}

}  // namespace fortitor::tension
