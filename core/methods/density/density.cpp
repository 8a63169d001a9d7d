#include "core/methods/density/density.h"

#include <algorithm>
#include <cmath>

#include "core/methods/density/model.h"
#include "core/methods/support/figures.h"
#include "core/methods/support/skeleton.h"
#include "core/reference/library.h"
#include "core/reference/materials.h"
#include "core/section/section.h"

namespace fortitor {

double water_density(double t) {
  // Tanaka, Girard, Davis, Peuto and Bignell 2001, eq. 1.
  const double a1 = -3.983035, a2 = 301.797, a3 = 522528.9, a4 = 69.34881, a5 = 999.974950;
  return a5 * (1 - (t + a1) * (t + a1) * (t + a2) / (a3 * (t + a4)));
}

namespace density {
namespace {

using D = Dimension;
using R = RoundingClass;
using ledger::get;
using ledger::put;
using ledger::raise;
using ledger::shift;
using ledger::si;

// Of what is known of a material: a species, a material, a family.
constexpr double kSpeciesOff = 0.3, kMaterialOff = 0.02, kFamilyOff = 0.1;

constexpr double kAir = 1.2;         // kg/m³, 20 °C and 1013 hPa
constexpr double kWax = 900;         // kg/m³
constexpr double kPerCubicMm = 1e9;  // mm³ in a m³
// Wood swells in a straight line from dry to the fibre saturation point (Wood Handbook, FPL-GTR-282, ch. 4).
constexpr double kSaturation = 0.30;

Dim column(const TestRecord& record, const std::string& name, const std::string& symbol, const std::string& label) {
  Readings list;
  for (const Row& row : record.run.rows(kReadings))
    if (const Reading* r = row.used() ? row.reading(name) : nullptr) list.push_back(*r);
  Fields one;
  one.set(name, list);
  return dimension_of(one, name, symbol, label);
}

double water_of(const TestRecord& record, const Shifts& shifts) {
  const auto t = record.fields.number("specimen.water_temperature");
  return t ? water_density(*t + shift(shifts, "water_temperature")) : NAN;
}

// Volumetric shrinkage of the species, green to dry; empty when it is not known.
std::optional<double> shrinkage(const TestRecord& record) {
  const auto species = usual_of(record, "specimen.species", "wood");
  if (!species || !species->values.count("volumetric_shrinkage")) return std::nullopt;
  return species->values.at("volumetric_shrinkage").mean;
}

// Volume at a moisture, as a share of the green volume.
double swollen(double shrink, double moisture) {
  return 1 - shrink * (1 - std::min(moisture, kSaturation) / kSaturation);
}

}  // namespace

Weighing weighing_of(const TestRecord& record) {
  Weighing w;
  w.in_water = record.fields.flag("specimen.immersed");
  w.mass = column(record, "mass", "m", "mass");
  w.immersed = column(record, "mass_immersed", "m_w", "mass in water");
  return w;
}

double volume_of(const TestRecord& record, const Weighing& w, const Shifts& shifts) {
  if (w.in_water) {
    if (!w.solid()) return NAN;
    const double wax = record.fields.number("specimen.wax_mass").value_or(0);
    const double lost = w.mass.mean + shift(shifts, "mass") + wax - w.immersed.mean - shift(shifts, "mass_immersed");
    const double all = lost / (water_of(record, shifts) - kAir);
    const double coat = wax / record.fields.number("specimen.wax_density").value_or(kWax);
    return all > coat ? (all - coat) * kPerCubicMm : NAN;
  }
  const Dim length = dimension_of(record.fields, "specimen.length", "l", "length");
  const double area = section_of(record.fields, shifts).area;
  return length.given() && area > 0 ? area * (length.mean + shift(shifts, "specimen.length")) : NAN;
}

Values compute(const TestRecord& record, const Weighing& w, const Shifts& shifts) {
  Values v;
  const double volume = volume_of(record, w, shifts);
  put(v, key::volume, volume / 1e3);
  if (!w.mass.given()) return v;
  const double mass = w.mass.mean + shift(shifts, "mass");
  put(v, key::mass, mass);
  // In air the scale shows the piece less the air it displaces.
  put(v, key::density, mass / volume * kPerCubicMm + (w.in_water ? kAir : 0));
  const auto dry = record.fields.number("specimen.mass_dry");
  if (!dry) return v;
  const double m0 = *dry + shift(shifts, "mass_dry");
  const double moisture = (mass - m0) / m0;
  put(v, key::moisture, moisture);
  if (const auto s = shrinkage(record); s && v.count(key::density) && moisture >= 0)
    put(v, key::density_12,
        v[key::density] * (1 + kUsualMoisture) / (1 + moisture) * swollen(*s, moisture) / swollen(*s, kUsualMoisture));
  return v;
}

void add_inputs(const TestRecord& record, const Weighing& w, std::vector<UncertainInput>& out) {
  const double step = record.fields.number("equipment.scale.resolution").value_or(0);
  auto grams = [](double kg) { return significant(kg * 1e3, 2) + " g"; };
  auto weighed = [&](const char* name, const Dim& d) {
    if (!d.given()) return;
    const double digit = std::max(step, d.finest_digit);
    out.push_back({name, d.label + ", " + std::to_string(d.values.size()) + " readings to " + grams(digit),
                   reading_uncertainty(d.values, digit / 2), UncertainInput::Shape::normal,
                   reading_dof(d.values, digit / 2)});
  };
  weighed("mass", w.mass);
  if (w.in_water) {
    weighed("mass_immersed", w.immersed);
    const Readings t = record.fields.readings("specimen.water_temperature");
    if (!t.empty() && t.front().value)
      out.push_back({"water_temperature", "water temperature, ± 0.5 °C (assumed)",
                     rectangular(std::max(0.5, t.front().resolution / 2))});
  } else {
    Section all = section_of(record.fields);
    all.dims.push_back(dimension_of(record.fields, "specimen.length", "l", "length"));
    section_inputs(all, record.fields.number("equipment.caliper.resolution").value_or(0), out);
  }
  const Readings dry = record.fields.readings("specimen.mass_dry");
  if (!dry.empty() && dry.front().value) {
    const double digit = std::max(step, dry.front().resolution);
    out.push_back({"mass_dry", "mass when dry, to " + grams(digit), rectangular(digit / 2)});
  }
}

std::vector<ResultSpec> specs(const TestRecord&) {
  return {ledger::spec_of(key::density, "ρ", D::density, R::other, 4, true),
          ledger::spec_of(key::moisture, "u", D::elongation, R::other, 3, true),
          ledger::spec_of(key::density_12, "ρ_12", D::density, R::other, 4, true),
          ledger::spec_of(key::volume, "V", D::none, R::other, 4, false),
          ledger::spec_of(key::mass, "m", D::mass, R::other, 5, false)};
}

std::vector<Step> how(const std::string& key, const TestRecord& record, const Weighing& w, const Values& v) {
  std::vector<Step> steps;
  const ledger::AddStep add{steps};
  auto volume = [&] {
    const double value = get(v, key::volume);
    if (w.in_water) {
      const double wax = record.fields.number("specimen.wax_mass").value_or(0);
      add(wax > 0 ? "V = (m + m_c − m_w)/(ρ_w − ρ_a) − m_c/ρ_c" : "V = (m − m_w)/(ρ_w − ρ_a)",
          "m = " + si(w.mass.mean, D::mass) + ", m_w = " + si(w.immersed.mean, D::mass) +
              ", ρ_w = " + significant(water_of(record, {}), 6) + " kg/m³, ρ_a = 1.2 kg/m³",
          value, D::none, "cm³; water by Tanaka et al. 2001");
      return;
    }
    const Section s = section_of(record.fields);
    for (const Step& step : s.how) steps.push_back(step);
    const Dim l = dimension_of(record.fields, "specimen.length", "l", "length");
    add("V = S₀·l", significant(s.area, 5) + " mm² · " + significant(l.mean, 5) + " mm", value, D::none,
        "cm³; means of the readings");
  };
  if (key == key::mass) add("m", "mean of " + std::to_string(w.mass.values.size()) + " readings", get(v, key), D::mass);
  if (key == key::volume) volume();
  if (key == key::density) {
    volume();
    add(w.in_water ? "ρ = m/V + ρ_a" : "ρ = m/V",
        si(w.mass.mean, D::mass) + " / " + significant(get(v, key::volume), 5) + " cm³", get(v, key), D::density,
        w.in_water ? "buoyancy in air put back" : "");
  }
  if (key == key::moisture || key == key::density_12)
    add("u = (m − m₀)/m₀",
        "(" + si(w.mass.mean, D::mass) + " − " + si(record.fields.number("specimen.mass_dry").value_or(0), D::mass) +
            ")/m₀",
        get(v, key::moisture), D::elongation);
  if (key == key::density_12)
    add("ρ_12 = ρ·1.12/(1 + u)·V(u)/V(12 %)",
        "volumetric shrinkage " + ledger::percent(shrinkage(record).value_or(0), 3) + ", straight to 30 % moisture",
        get(v, key), D::density, "Wood Handbook, FPL-GTR-282, chapter 4");
  return steps;
}

void add_findings(Evaluation& e, const TestRecord& record, const Weighing& w, const Values& v) {
  if (!w.in_water) {
    dimension_findings(section_of(record.fields).dims, e.findings);
    if (const Dim l = dimension_of(record.fields, "specimen.length", "l", "length"); l.given())
      dimension_findings({l}, e.findings);
  }
  for (const Dim* d : {&w.mass, &w.immersed}) {
    const std::vector<double>& m = d->values;
    if (m.size() < 3) continue;
    const bool rises = std::adjacent_find(m.begin(), m.end(), std::greater_equal<>()) == m.end();
    const bool falls = std::adjacent_find(m.begin(), m.end(), std::less_equal<>()) == m.end();
    if ((rises || falls) && std::abs(m.back() - m.front()) > (2 + 1e-9) * d->finest_digit)
      raise(e, "mass-drift", Severity::check,
            "The " + d->label + (rises ? " rises" : " falls") + " from reading to reading, " + si(m.front(), D::mass) +
                " to " + si(m.back(), D::mass) + ": the piece " + (rises ? "soaks" : "dries") +
                " while it is weighed, or the scale drifts.",
            {{"first", m.front()}, {"last", m.back()}}, {}, key::density);
  }
  if (w.in_water && w.immersed.values.size() > 1 && w.immersed.range > (5 + 1e-9) * w.immersed.finest_digit)
    raise(e, "bubbles", Severity::check,
          "The readings in water scatter over " + si(w.immersed.range, D::mass, 2) +
              ", more than five counts of the scale: bubbles cling to the piece, or it touches the vessel.",
          {{"range", w.immersed.range}}, {}, key::density);
  // 30.5 g typed as dry over 24 g as received gave −22 % in silence. A count of the scale is no moisture.
  const double moisture = get(v, key::moisture);
  if (moisture < 0 &&
      record.fields.number("specimen.mass_dry").value_or(0) - get(v, key::mass) > 2 * w.mass.finest_digit)
    raise(e, "dry-heavier", Severity::check,
          "Dried, the piece weighs " + si(record.fields.number("specimen.mass_dry").value_or(0), D::mass) +
              ", more than the " + si(get(v, key::mass), D::mass) +
              " it had before: one of the two is another piece's, or in another unit.",
          {{"moisture", moisture}}, {}, key::moisture);
  const double density = get(v, key::density);
  if (w.solid() && !std::isfinite(density) && w.in_water)
    raise(e, "bubbles", Severity::check,
          "The piece lost no mass in water: are the two columns exchanged, or was the holder not set to zero?", {}, {},
          key::density);
  if (!std::isfinite(density)) return;
  double low = 0, high = 0;
  std::string name;
  const auto species = usual_of(record, "specimen.species", "wood");
  const auto material = usual_of(record, "specimen.material");
  if (species && species->values.count("specific_gravity")) {
    // Specific gravity is dry mass over the volume at 12 %; at 12 % the piece carries its water.
    const double mean = species->values.at("specific_gravity").mean * 1120;
    low = (1 - kSpeciesOff) * mean;
    high = (1 + kSpeciesOff) * mean;
    name = species->name;
  } else if (material && material->values.count("density")) {
    low = (1 - kMaterialOff) * material->values.at("density").low;
    high = (1 + kMaterialOff) * material->values.at("density").high;
    name = material->name;
  } else if (const MaterialFamily* f = find_family(record.fields.text("specimen.family"));
             f != nullptr && f->density > 0) {
    low = (1 - kFamilyOff) * f->density;
    high = (1 + kFamilyOff) * f->density;
    name = f->name;
  }
  const double compared = species && v.count(key::density_12) ? get(v, key::density_12) : density;
  if (high > 0 && (compared < low || compared > high))
    raise(e, "density-unlikely", Severity::check,
          "The density is " + si(compared, D::density, 4) + "; " + name + " lies between " + si(low, D::density, 3) +
              " and " + si(high, D::density, 3) + ". Check sizes, the unit of the mass and voids.",
          {{"density", compared}}, {}, key::density);
}

void add_figures(Evaluation& e, const TestRecord& record, const Weighing& w, const Values& v) {
  const Rows& rows = record.run.rows(kReadings);
  if (!w.mass.given() || !v.count(key::density)) return;
  const double volume = volume_of(record, w, {});
  ReadingsSheet sheet{"readings", "density by reading", "reading", "density", Dimension::density};
  RowValue each{kReadings, key::density, "density", D::density, {}};
  for (size_t i = 0; i < rows.size(); ++i) {
    sheet.names.push_back(std::to_string(i + 1));
    const auto m = rows[i].number("mass");
    TestRecord one = record;  // this reading alone
    one.run.tables[kReadings] = {rows[i]};
    one.run.tables[kReadings].front().state = Row::State::used;
    const double value =
        w.in_water ? get(compute(one, weighing_of(one), {}), key::density) : (m ? *m / volume * kPerCubicMm : NAN);
    each.values.push_back(value);
    sheet.counts.push_back(rows[i].used());
  }
  sheet.values = each.values;
  sheet.key = key::density;
  sheet.mean_label = "ρ";
  // What the readings have in common, sizes and scale, is most of it.
  if (const ResultValue* r = e.find(key::density)) sheet.expanded = r->expanded();
  e.row_values.push_back(each);
  if (Figure f = sheet.figure(e, record); !f.empty()) e.figures.push_back(std::move(f));
}

}  // namespace density

namespace methods {

const Method& density() {
  static const Method method = [] {
    Parts<fortitor::density::Weighing> parts;
    parts.describe = fortitor::density::describe;
    parts.results = fortitor::density::specs;
    parts.look = fortitor::density::weighing_of;
    parts.compute = fortitor::density::compute;
    parts.how = fortitor::density::how;
    parts.inputs = fortitor::density::add_inputs;
    parts.findings = fortitor::density::add_findings;
    parts.figures = fortitor::density::add_figures;
    parts.doubted = {density::key::density};
    return method_of("density", "ISO 1183-1, ISO 13061-2", parts);
  }();
  return method;
}

}  // namespace methods
}  // namespace fortitor
