#include "core/section/section.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/record/words.h"

namespace fortitor {
namespace {

constexpr const char* kSection = "specimen.section.";

std::string mm(double v) {
  return significant(v, 5);
}

double shifted(const Dim& d, const Shifts& shifts) {
  const auto it = shifts.find(d.path);
  return d.mean + (it == shifts.end() ? 0.0 : it->second);
}

Dim section_dim(const Fields& f, const char* name, const char* symbol, const char* label) {
  return dimension_of(f, kSection + std::string(name), symbol, label);
}

}  // namespace

Dim dimension_of(const Fields& fields, const std::string& path, const std::string& symbol, const std::string& label) {
  Dim d{path, symbol, label, {}, 0, 0, 0, HUGE_VAL, 0, true};
  for (const Reading& r : fields.readings(path)) {
    if (r.missed()) {
      ++d.missed;
      continue;
    }
    d.values.push_back(*r.value);
    const bool inches = r.typed.find("in") != std::string::npos || r.typed.find('"') != std::string::npos;
    const double step = inches ? kInch / 16 : 1, steps = *r.value / step;
    d.round_sizes = d.round_sizes && std::abs(steps - std::round(steps)) < 1e-9 * std::max(1.0, std::abs(steps));
    if (r.resolution > 0) d.finest_digit = std::min(d.finest_digit, r.resolution);
    d.brought = std::max(d.brought, r.standard);
  }
  if (!std::isfinite(d.finest_digit)) d.finest_digit = 0;
  if (d.values.empty()) return d;
  for (double v : d.values) d.mean += v / double(d.values.size());
  const auto [low, high] = std::minmax_element(d.values.begin(), d.values.end());
  d.range = *high - *low;
  return d;
}

Section section_of(const Fields& fields, const Shifts& shifts) {
  Section s;
  s.shape = fields.text("specimen.section.shape");
  // Not chosen: the readings tell.
  if (s.shape.empty())
    s.shape = fields.has("specimen.section.width")   ? "flat"
              : fields.has("specimen.section.outer") ? "tube"
              : fields.has("specimen.section.mass")  ? "by-mass"
                                                     : "round";
  using std::numbers::pi;
  auto need = [&](const Dim& d) {
    if (s.missing.empty() && (!d.given() || !(d.mean > 0))) s.missing = "The " + d.label + " is not measured yet.";
    return d.given() && d.mean > 0;
  };
  auto step = [&](const std::string& expression, const std::string& with) {
    s.how.push_back({expression, with, s.area, Dimension::area, "mean of the readings at Measure"});
  };
  if (s.shape == "round") {
    s.dims = {section_dim(fields, "diameter", "d", "diameter")};
    if (need(s.dims[0])) {
      const double d = shifted(s.dims[0], shifts);
      s.area = pi * d * d / 4;
      step("S₀ = π·d²/4", "π·(" + mm(d) + " mm)²/4");
    }
  } else if (s.shape == "flat") {
    s.dims = {section_dim(fields, "width", "w", "width"), section_dim(fields, "thickness", "t", "thickness")};
    if (need(s.dims[0]) && need(s.dims[1])) {
      const double w = shifted(s.dims[0], shifts), t = shifted(s.dims[1], shifts);
      s.area = w * t;
      step("S₀ = w·t", mm(w) + " mm · " + mm(t) + " mm");
    }
  } else if (s.shape == "tube") {
    s.dims = {section_dim(fields, "outer", "D", "outer diameter")};
    const Dim wall = section_dim(fields, "wall", "a", "wall");
    const Dim inner = section_dim(fields, "inner", "d", "inner diameter");
    const bool by_wall = wall.given();
    s.dims.push_back(by_wall ? wall : inner);
    if (need(s.dims[0]) && need(s.dims[1])) {
      const double outer = shifted(s.dims[0], shifts), second = shifted(s.dims[1], shifts);
      const double bore = by_wall ? outer - 2 * second : second;
      if (bore < 0 || bore >= outer) {
        s.missing = "The tube's inside is not smaller than its outside: check the readings.";
      } else {
        s.area = pi * (outer * outer - bore * bore) / 4;
        step(by_wall ? "S₀ = π·a·(D − a)" : "S₀ = π·(D² − d²)/4",
             by_wall ? "π·" + mm(second) + " mm·(" + mm(outer) + " − " + mm(second) + ") mm"
                     : "π·((" + mm(outer) + " mm)² − (" + mm(bore) + " mm)²)/4");
      }
    }
  } else {  // by-mass: kg, mm and kg/m³ give mm²
    s.dims = {section_dim(fields, "mass", "m", "mass"), section_dim(fields, "length", "l", "length"),
              section_dim(fields, "density", "ρ", "density")};
    if (need(s.dims[0]) && need(s.dims[1]) && need(s.dims[2])) {
      const double m = shifted(s.dims[0], shifts), l = shifted(s.dims[1], shifts), rho = shifted(s.dims[2], shifts);
      s.area = m * 1e9 / (rho * l);
      step("S₀ = m/(ρ·l)", significant(m * 1000, 5) + " g/(" + mm(rho) + " kg/m³ · " + mm(l) + " mm)");
    }
  }
  return s;
}

double area_after(const Fields& fields, const std::string& shape, const Shifts& shifts, std::vector<Step>* how) {
  double area = 0;
  std::string expression, with;
  if (shape == "flat") {
    const Dim w = dimension_of(fields, "specimen.after.width", "w_u", "final width");
    const Dim t = dimension_of(fields, "specimen.after.thickness", "t_u", "final thickness");
    if (!w.given() || !t.given()) return 0;
    area = shifted(w, shifts) * shifted(t, shifts);
    expression = "S_u = w_u·t_u";
    with = mm(w.mean) + " mm · " + mm(t.mean) + " mm";
  } else if (shape == "round") {
    const Dim d = dimension_of(fields, "specimen.after.diameter", "d_u", "smallest diameter");
    if (!d.given()) return 0;
    const double v = shifted(d, shifts);
    area = std::numbers::pi * v * v / 4;
    expression = "S_u = π·d_u²/4";
    with = "π·(" + mm(v) + " mm)²/4";
  } else {
    return 0;
  }
  if (how != nullptr) how->push_back({expression, with, area, Dimension::area, "readings at After"});
  return area;
}

void dimension_findings(const std::vector<Dim>& dims, std::vector<Finding>& out, double spread_limit, size_t wanted) {
  for (const Dim& d : dims) {
    if (!d.given()) continue;
    const double ratio = d.mean != 0 ? d.range / std::abs(d.mean) : 0;
    if (ratio > spread_limit * (1 + 1e-9)) {
      Finding f;
      f.code = "dimension-spread";
      f.severity = Severity::check;
      f.message = "The readings of the " + d.label + " differ by " + significant(d.range, 3) + " mm, " +
                  significant(100 * ratio, 2) + " % of their mean; up to " + significant(100 * spread_limit, 2) +
                  " % is usual. Measure again, or say why the piece is uneven.";
      f.evidence = {{"range", d.range}, {"mean", d.mean}, {"ratio", ratio}};
      f.remedies = {{"accept", "The piece is uneven", {}, true}};
      out.push_back(f);
    }
    const bool alone = d.values.size() == 1 && wanted >= 2;
    // Readings that agree to the last digit on a size of the drawing were not read off the piece, however many zeros
    // were typed behind it: no caliper shows 12.00 three times running on a piece that was cut.
    const bool identical = d.values.size() >= 2 && d.range == 0 && d.round_sizes;
    if (alone || identical) {
      Finding f;
      f.code = "dimension-nominal";
      f.severity = Severity::check;
      f.message = alone
                      ? "The " + d.label + " rests on a single reading where " + std::to_string(wanted) + " are wanted."
                      : "All " + std::to_string(d.values.size()) + " readings of the " + d.label + " are exactly " +
                            significant(d.mean, 5) + " mm: this looks like the nominal size, not a measurement.";
      f.evidence = {{"mean", d.mean}, {"readings", double(d.values.size())}};
      f.remedies = {{"accept", "It was measured so", {}, true}};
      out.push_back(f);
    }
  }
}

void section_inputs(const Section& section, double resolution, std::vector<UncertainInput>& out) {
  for (const Dim& d : section.dims) {
    if (!d.given()) continue;
    const bool length = d.path.find("mass") == std::string::npos && d.path.find("density") == std::string::npos;
    const bool entered = resolution > 0 && length;
    // Without an instrument the finest typed digit stands in, at most 0.1 mm: whole numbers are
    // typed for convenience and say nothing about the caliper.
    double half = entered ? resolution : d.finest_digit;
    if (length && !entered) half = std::min(half, 0.1);
    const std::string rests = entered ? "resolution and spread of " : "typed digits and spread of ";
    out.push_back(
        {d.path,
         d.label + ": " + rests + std::to_string(d.values.size()) + (d.values.size() == 1 ? " reading" : " readings"),
         reading_uncertainty(d.values, half), UncertainInput::Shape::normal, reading_dof(d.values, half)});
    // The scale of a photograph is common to all that is read on it: no mean makes it smaller.
    if (d.brought > 0) out.push_back({d.path, d.label + ": read on a photograph", d.brought});
  }
}

std::vector<FieldSpec> section_fields(const std::vector<std::string>& shapes, Stage stage) {
  const auto named = [](FieldSpec& f) { say(f, *Words::shared().field(f.path)); };
  std::vector<FieldSpec> fields;
  FieldSpec shape;
  shape.path = "specimen.section.shape";
  shape.kind = FieldKind::choice;
  shape.stage = stage;
  shape.first_is_usual = true;
  for (const auto& s : shapes) shape.choices.push_back({s, s});
  named(shape);
  fields.push_back(shape);
  auto add = [&](const char* when, const char* name, const char* symbol, Dimension d = Dimension::length,
                 int wanted = 3) {
    if (std::find(shapes.begin(), shapes.end(), when) == shapes.end()) return;
    FieldSpec f;
    f.path = kSection + std::string(name);
    f.kind = FieldKind::readings;
    f.dimension = d;
    f.stage = stage;
    f.wanted = wanted;
    f.required = std::string(name) != "inner" && std::string(name) != "wall";
    f.symbol = symbol;
    f.when_path = "specimen.section.shape";
    f.when_value = when;
    f.spread_limit = std::string(when) == "round" ? 0.005 : 0.01;
    named(f);
    fields.push_back(f);
  };
  add("round", "diameter", "d");
  add("flat", "width", "w");
  add("flat", "thickness", "t");
  add("tube", "outer", "D");
  add("tube", "inner", "d");
  add("tube", "wall", "a");
  add("by-mass", "mass", "m", Dimension::mass, 1);
  add("by-mass", "length", "l", Dimension::length, 1);
  add("by-mass", "density", "ρ", Dimension::density, 1);
  return fields;
}

}  // namespace fortitor
