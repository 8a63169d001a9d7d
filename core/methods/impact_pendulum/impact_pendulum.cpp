#include "core/methods/impact_pendulum/impact_pendulum.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>

#include "core/methods/impact_pendulum/model.h"
#include "core/methods/support/possible.h"
#include "core/methods/support/skeleton.h"
#include "core/statistics/sample.h"

namespace fortitor::pendulum {

using namespace ledger;
using blows::Blow;
using D = Dimension;

constexpr double kNotchOff = 1, kNotchShare = 0.1;  // mm, and of the ligament: what a notch may be off its depth

double depth_of(const std::string& notch) {
  static const std::map<std::string, double> depths = {{"V2", 2}, {"V2.54", 2.54}, {"U2", 2}, {"U3", 3},
                                                       {"U5", 5}, {"K5", 5},       {"H5", 5}};
  const auto it = depths.find(notch);
  return it == depths.end() ? 0 : it->second;
}

bool State::bounds() const {
  const auto counted = set.counted();
  return std::any_of(counted.begin(), counted.end(), [](const Blow* b) { return b->unbroken; });
}

double State::area_of(const Blow& b) const {
  const double l = std::isfinite(b.ligament) ? b.ligament : ligament, w = std::isfinite(b.width) ? b.width : breadth;
  return l * w;
}

State look_at(const TestRecord& record, const Shifts& shifts) {
  State s;
  const Fields& f = record.fields;
  s.set = blows::set_of(record, shifts);
  if (const std::string a = f.text("specimen.arrangement"); !a.empty()) s.arrangement = a;
  if (const std::string n = f.text("specimen.notch"); !n.empty()) s.notch = n;
  const Dim ligament = dimension_of(f, "specimen.ligament", "l", "ligament");
  const Dim width = dimension_of(f, "specimen.section.width", "b", "width");
  const Dim thickness = dimension_of(f, "specimen.section.thickness", "h", "thickness");
  const double b = width.mean + shift(shifts, width.path), h = thickness.mean + shift(shifts, thickness.path);
  if (ligament.given()) s.ligament = ligament.mean + shift(shifts, ligament.path);
  if (width.given() && thickness.given()) {
    // The height is what ligament and notch make up together; the breadth is the other side, whichever was typed first.
    const double height = s.ligament + depth_of(s.notch);
    const bool swapped = std::isfinite(height) && std::abs(b - height) + 0.1 < std::abs(h - height);
    s.breadth = swapped ? h : b;
    if (!ligament.given() && s.notch == "none") s.ligament = swapped ? b : h;
  } else if (width.given()) {
    s.breadth = b;
  }
  if (s.plastic()) {
    std::map<std::string, int> looks;
    for (const Blow& blow : s.set.all)
      if (blow.counts && !blow.unbroken) ++looks[blow.look];
    // Of as many the more complete break is taken: C before H before P.
    for (const char* look : {"C", "H", "P", ""})
      if (looks.count(look) != 0 && (s.commonest.empty() || looks[look] > looks[s.commonest])) s.commonest = look;
    // What throwing the free end took is no work of breaking (ASTM D256, toss correction); only a complete break
    // throws.
    const double toss = f.number("settings.toss").value_or(0);
    for (Blow& blow : s.set.all) {
      if (blow.unbroken || blow.look != s.commonest) blow.counts = false;
      if (blow.look == "C" && std::isfinite(blow.energy)) blow.energy = std::max(0.0, blow.energy - toss);
    }
  } else if (f.text("settings.unbroken") == "exclude") {
    for (Blow& blow : s.set.all)
      if (blow.unbroken) blow.counts = false;
  }
  return s;
}

std::string symbol_of(const TestRecord& record, const State& s) {
  const char letter = s.notch.empty() ? 'V' : s.notch[0];
  if (s.arrangement == "cantilever-metal") return "K";  // the designations of ISO 148-1 are those of a beam
  std::string text = s.notch == "none" ? "K" : std::string("K") + letter;
  if (const auto striker = record.fields.number("specimen.striker")) text += *striker < 5 ? "₂" : "₈";
  if (std::isfinite(s.set.available) && std::abs(s.set.available - 300) > 10)
    text += " " + significant(s.set.available, 3);
  if ((letter == 'U' || letter == 'K' || letter == 'H') && s.notch != "none" && depth_of(s.notch) != 2)
    text += "/" + plain_number(depth_of(s.notch), 3);
  return text;
}

namespace {

double mean_of(const std::vector<double>& v) {
  double sum = 0;
  for (double x : v) sum += x;
  return v.empty() ? NAN : sum / double(v.size());
}

// What is read on the halves: a result, its column, and to what it can be read.
struct Look {
  const char *key, *column, *words;
  double read;  // half-width
};
constexpr Look kLooks[] = {{"shear_percent", "shear", "shear, judged to 5 %", 0.05},
                           {key::lateral_expansion, "lateral_expansion", "expansion, read to 0.05 mm", 0.05},
                           {key::bend_angle, "bend_angle", "bend, read to 2°", 2 * std::numbers::pi / 180}};

// A column over the blows that count, where it was filled.
std::vector<double> cells(const TestRecord& record, const State& s, const char* column) {
  std::vector<double> v;
  for (const Blow* b : s.set.counted())
    if (const auto x = record.run.rows(blows::kTable)[b->row].number(column)) v.push_back(*x);
  return v;
}

std::vector<double> energies(const State& s) {
  std::vector<double> out;
  for (const Blow* b : s.set.counted()) out.push_back(b->energy);
  return out;
}

}  // namespace

Values compute(const TestRecord& record, const State&, const Shifts& shifts) {
  const State s = look_at(record, shifts);
  Values v;
  std::vector<double> k = energies(s), per_area, per_width;
  put(v, key::available, s.set.available);
  if (k.empty()) return v;
  const double scatter = 1 + shift(shifts, "scatter");
  for (const Blow* b : s.set.counted()) {
    per_area.push_back(b->energy / s.area_of(*b));
    const double w = std::isfinite(b->width) ? b->width : s.breadth;
    per_width.push_back(b->energy / w);
  }
  put(v, key::energy, mean_of(k) * scatter);
  std::sort(k.begin(), k.end());
  if (!s.plastic()) {
    put(v, key::energy_min, k[0]);
    if (k.size() > 1) put(v, key::energy_second, k[1]);
    if (k.size() > 2 && s.set.second()) put(v, key::energy_third, k[2]);
    put(v, key::kc, mean_of(per_area) * 100 * scatter);  // J/mm² as J/cm²
  } else {
    put(v, key::a_izod_j_per_m, mean_of(per_width) * 1e3 * scatter);
    put(v, key::a_izod_kj_per_m2, mean_of(per_area) * 1e3 * scatter);
  }
  if (k.size() > 1) {
    double sum = 0;
    for (double x : k) sum += (x - mean_of(k)) * (x - mean_of(k));
    put(v, key::energy_sd, std::sqrt(sum / double(k.size() - 1)) + shift(shifts, "sd"));
  }
  for (const Look& look : kLooks) put(v, look.key, mean_of(cells(record, s, look.column)) + shift(shifts, look.key));
  return v;
}

std::vector<ResultSpec> specs(const TestRecord& record) {
  const State s = look_at(record);
  std::vector<ResultSpec> out;
  auto add = [&](auto&&... of) { out.push_back(ledger::spec_of(of...)); };
  add(key::energy, s.plastic() ? "K" : symbol_of(record, s), D::energy, true, 3);
  add(key::energy_min, "K_min", D::energy, true, 3);
  add(key::energy_second, "K_2", D::energy, false, 3);
  add(key::energy_third, "K_3", D::energy, false, 3);
  add(key::a_izod_j_per_m, "a_w", D::impact_width, true, 3);
  add(key::a_izod_kj_per_m2, "a_iN", D::impact_strength, true, 3);
  add(key::kc, "KC", D::impact_area, false, 3);
  add(key::energy_sd, "s", D::energy, false, 2);
  add(key::available, "K_p", D::energy, false, 3);
  add(key::shear_percent, "SA", D::elongation, true, 3);
  add(key::lateral_expansion, "LE", D::length, true, 3);
  add(key::bend_angle, "α_b", D::angle, false, 3);
  add(key::toughness_look, "", D::none, false, 3);
  add(key::designation, "", D::none, true, 3, true);
  add(key::designation_old, "", D::none, false, 3);
  add(key::usual, "", D::none, false, 3);
  return out;
}

std::vector<Step> how(const std::string& key, const TestRecord& record, const State& s, const Values& values) {
  const double value = get(values, key);
  std::vector<Step> steps;
  const ledger::AddStep add{steps, value};
  const std::string n = std::to_string(s.set.counted().size());
  if (key == key::energy || key == key::energy_min || key == key::energy_second || key == key::energy_third) {
    if (key == key::energy)
      for (const Blow* b : s.set.counted()) {
        if (!b->by_angles || steps.size() > 4) continue;
        const Row& row = record.run.rows(blows::kTable)[b->row];
        const double start = row.number("alpha").value_or(s.set.swing.start.value_or(NAN));
        steps.push_back({"K = m·g·L_p·(cos β − cos α) − loss·(α + β)/(α + β₀)",
                         "m·g·L_p = " + significant(s.set.swing.moment(), 4) + " J, α = " + si(start, D::angle, 4) +
                             ", β = " + si(row.number("beta").value_or(NAN), D::angle, 4) + ", free swing's loss " +
                             significant(blows::free_loss(s.set.swing), 3) + " J",
                         b->energy, D::energy, "ISO 148-2"});
      }
    add(key == key::energy         ? "K = ΣK/n"
        : key == key::energy_min   ? "least of the set"
        : key == key::energy_third ? "third least of both sets"
                                   : "second least of the set",
        "n = " + n + " blows that count", D::energy);
  }
  if (key == key::kc)
    add("KC = K/A", "A = ligament · breadth, " + significant(s.ligament * s.breadth, 4) + " mm²", D::impact_area);
  if (key == key::a_izod_j_per_m) add("a = K/b", "of each piece; n = " + n, D::impact_width, "ASTM D256");
  if (key == key::a_izod_kj_per_m2) add("a = K/(b·l)", "of each piece; n = " + n, D::impact_strength, "ISO 180");
  if ((key == key::a_izod_j_per_m || key == key::a_izod_kj_per_m2) && record.fields.number("settings.toss"))
    steps.back().source +=
        "; " + si(*record.fields.number("settings.toss"), D::energy, 3) + " of toss taken off each complete break";
  if (key == key::energy_sd) add("s = √(Σ(K − K̄)²/(n − 1))", "n = " + n, D::energy);
  if (key == key::available)
    add(record.fields.has("specimen.available_energy") ? "as entered" : "m·g·L_p·(1 − cos α)", "", D::energy);
  if (key == key::shear_percent || key == key::lateral_expansion || key == key::bend_angle)
    add("mean of the blows", "",
        key == key::shear_percent ? D::elongation
        : key == key::bend_angle  ? D::angle
                                  : D::length);
  return steps;
}

void add_inputs(const TestRecord& record, const State& s, std::vector<UncertainInput>& inputs) {
  using Shape = UncertainInput::Shape;
  blows::inputs_common(record, s.set, inputs);
  const std::vector<double> k = energies(s);
  inputs.push_back(
      {"sd", "s out of " + std::to_string(k.size()) + " blows, and their reading",
       std::hypot(statistics::sd_error(statistics::summarize(k).sd, k.size()), blows::reading_error(s.set)),
       Shape::normal});
  for (const Look& look : kLooks)
    if (const std::vector<double> v = cells(record, s, look.column); !v.empty())
      inputs.push_back(
          {look.key, look.words, reading_uncertainty(v, look.read), Shape::normal, reading_dof(v, look.read)});
  Section sizes;
  for (const auto& [path, symbol] :
       {std::pair{"specimen.ligament", "l"}, {"specimen.section.width", "b"}, {"specimen.section.thickness", "h"}})
    if (const Dim d = dimension_of(record.fields, path, symbol, symbol); d.given()) sizes.dims.push_back(d);
  section_inputs(sizes, record.fields.number("equipment.caliper.resolution").value_or(0), inputs);
}

// The notch leaves its depth less than one side of the section. Both sides are tried: which one was typed first says
// nothing. A millimetre, or a tenth, covers what notches are off.
void judge_ligament(Evaluation& e, const TestRecord& record, const State& s) {
  const double depth = depth_of(s.notch);
  const double b = dimension_of(record.fields, "specimen.section.width", "w", "width").mean,
               h = dimension_of(record.fields, "specimen.section.thickness", "t", "thickness").mean;
  if (!(s.ligament > 0) || depth <= 0 || !(b > 0) || !(h > 0)) return;
  double off = HUGE_VAL;
  for (double side : {b, h}) off = std::min(off, std::abs(s.ligament - (side - depth)));
  if (off <= std::max(kNotchOff, kNotchShare * s.ligament)) return;
  possible::cannot_be(e,
                      "A notch of " + si(depth, D::length, 3) + " in a section of " + si(b, D::length, 4) + " × " +
                          si(h, D::length, 4) + " does not leave a ligament of " + si(s.ligament, D::length, 4) + ".",
                      s.plastic() ? key::a_izod_kj_per_m2 : key::kc);
}

void add_findings(Evaluation& e, const TestRecord& record, const State& s, const Values&) {
  blows::judge_common(e, record, s.set, key::energy);
  judge_set(e, record, s);
  judge_ligament(e, record, s);
  std::string unbroken;
  size_t pieces = 0;
  for (const Blow& b : s.set.all) {
    pieces += std::isfinite(b.energy) && !b.jammed;
    if (b.unbroken) unbroken += (unbroken.empty() ? "" : ", ") + b.name();
  }
  if (!unbroken.empty())
    raise(e, "not-broken", Severity::check,
          "Piece " + unbroken + " did not break: " +
              (s.plastic()  ? "its energy is none of a break and is left out."
               : s.bounds() ? "its energy is a lower bound, and so is the mean."
                            : "it is left out, as chosen."),
          {},
          s.plastic() ? std::vector<Remedy>{}
                      : std::vector<Remedy>{{"exclude", "Leave it out", {{"settings.unbroken", "exclude"}}},
                                            {"accept", "Keep it as a bound", {}, true}},
          key::energy);
  if (!s.plastic()) return;
  std::map<std::string, int> looks;
  for (const Blow& b : s.set.all)
    if (!b.look.empty() && !b.unbroken && !b.jammed) ++looks[b.look];
  if (looks.size() > 1) {
    std::string list;
    for (const auto& [look, n] : looks) list += (list.empty() ? "" : ", ") + std::to_string(n) + " " + look;
    raise(e, "break-types-mixed", Severity::check,
          "The breaks are mixed (" + list + "): only those of the commonest look, " + s.commonest + ", are averaged.",
          {}, {}, key::a_izod_j_per_m);
  }
  if (pieces > 0 && pieces < 5)
    raise(e, "few-pieces", Severity::check,
          std::to_string(pieces) + (pieces == 1 ? " piece was" : " pieces were") +
              " struck; plastics want at least five.",
          {{"pieces", double(pieces)}}, {}, key::a_izod_j_per_m);
}

void figures(Evaluation& e, const TestRecord& record, const State& s, const Values&) {
  e.row_values = {blows::energies(s.set)};
  std::vector<std::pair<std::string, double>> wanted;
  if (const auto single = least_single(record, s)) wanted.emplace_back("each ≥", *single);
  Figure f = blows::figure_of(e, record, s.set, key::energy, key::energy_min, wanted);
  if (!f.empty()) e.figures.push_back(std::move(f));
}

}  // namespace fortitor::pendulum

namespace fortitor::methods {

const Method& impact_pendulum() {
  static const Method method = [] {
    using namespace fortitor::pendulum;
    Parts<State> parts;
    parts.describe = describe;
    parts.results = specs;
    parts.look = [](const TestRecord& r) { return look_at(r); };
    parts.compute = compute;
    parts.how = how;
    parts.inputs = add_inputs;
    parts.words = words;
    parts.findings = add_findings;
    parts.figures = figures;
    parts.doubted = {pendulum::key::energy};
    return method_of("impact-pendulum", "ISO 148-1, ISO 180, ASTM E23, ASTM D256", parts);
  }();
  return method;
}

}  // namespace fortitor::methods
