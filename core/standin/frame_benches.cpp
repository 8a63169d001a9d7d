// Stand-ins that pull on the universal frame: polymers that yield and draw, brittle laminates, sandwich blocks.
#include <algorithm>
#include <cmath>

#include "core/section/section.h"
#include "core/standin/frame_model.h"
#include "core/standin/instruments.h"

namespace fortitor::standin {
namespace {

// ---- polymers -------------------------------------------------------------------------------------

struct Polymer {
  const char *id, *material;
  double modulus, yield, yield_strain;  ///< MPa, MPa, ratio; yield 0: brittle
  double draw, break_stress, break_strain;
};
constexpr Polymer kPolymers[] = {{"polyamide", "PA 6, conditioned", 1250, 46, 0.22, 40, 52, 1.9},
                                 {"polyamide-dry", "PA 6, dry", 2900, 82, 0.042, 58, 60, 0.55},
                                 {"polyethylene", "PE-HD", 1050, 26, 0.10, 18, 30, 4.2},
                                 {"polycarbonate", "PC", 2350, 62, 0.06, 50, 66, 1.05},
                                 {"acrylic", "PMMA", 3100, 0, 0, 0, 70, 0.034}};

double grip_length(const TestRecord& r) {
  return r.fields.number("specimen.grip_separation").value_or(115);
}

std::unique_ptr<Workpiece> polymer_piece(const TestRecord& r) {
  const Polymer& p = find_in(kPolymers, r);
  const uint64_t seed = seed_of(r);
  const double area = section_of(r.fields).area > 0 ? section_of(r.fields).area : 40, length = grip_length(r);
  const double modulus = p.modulus * scatter(seed, 1, 0.02), level = scatter(seed, 2, 0.015);
  const double end = p.break_strain * scatter(seed, 3, 0.12);
  Nodes nodes;
  auto add = [&](double strain, double stress) { nodes.push_back({strain * length, stress * area}); };
  add(0, 0);
  if (p.yield == 0) {
    // Bends over a little, then breaks: σ = E·ε/(1 + c·ε) through the break point.
    const double c = (modulus * end / (p.break_stress * level) - 1) / end;
    for (int i = 1; i <= 60; ++i) add(end * i / 60, modulus * end * i / 60 / (1 + std::max(0.0, c) * end * i / 60));
    return std::make_unique<EnvelopePiece>(nodes, length, true);
  }
  // Rounded rise to the yield point with zero slope there, fall to the draw stress, drawing, hardening.
  const double sy = p.yield * level, ey = std::max(p.yield_strain, 1.3 * sy / modulus), n = modulus * ey / sy;
  for (int i = 1; i <= 80; ++i) {
    const double x = i / 80.0;
    add(ey * x, sy * (1 - std::pow(1 - x, n)));
  }
  const double drop = 0.12 + ey;
  for (int i = 1; i <= 20; ++i) {
    const double x = i / 20.0;
    add(ey + drop * x, sy - (sy - p.draw * level) * x * x * (3 - 2 * x));
  }
  const double start = ey + drop, stretch = std::max(0.2, end - start);
  for (int i = 1; i <= 40; ++i) {
    const double x = i / 40.0, over = std::max(0.0, x - 0.45) / 0.55;
    add(start + stretch * x, level * (p.draw + (p.break_stress - p.draw) * over * over));
  }
  return std::make_unique<EnvelopePiece>(nodes, length, true);
}

std::vector<std::string> strip_readings(const TestRecord& r, const std::string& path, int wanted, double width,
                                        double thickness) {
  const uint64_t seed = seed_of(r);
  if (path == "specimen.section.width")
    return caliper(width * scatter(seed, 8, 0.002), 0.02, 0.01, wanted, seed * 3 + 1);
  if (path == "specimen.section.thickness")
    return caliper(thickness * scatter(seed, 9, 0.004), 0.006, 0.01, wanted, seed * 3 + 2);
  return {};
}

const FrameModel& polymers() {
  static const FrameModel m = [] {
    FrameModel x{"polymer-frame",
                 "stand-in universal frame",
                 "tension-plastic",
                 {},
                 false,
                 polymer_piece,
                 grip_length,
                 [](const TestRecord& r, const std::string& path, int wanted) -> std::vector<std::string> {
                   if (path == "specimen.grip_separation") return {"115 mm"};
                   if (path == "specimen.extensometer_length") return {"50 mm"};
                   return strip_readings(r, path, wanted, 10, 4);
                 },
                 [](const TestRecord& r) -> std::map<std::string, std::string> {
                   if (!ran(r)) return {};
                   const Polymer& p = find_in(kPolymers, r);
                   return {{"specimen.after.fracture", p.yield == 0           ? "brittle"
                                                       : p.break_strain > 0.8 ? "yielded"
                                                                              : "whitened"}};
                 },
                 [](TestRecord& r) {
                   type_into(r, "specimen.material", find_in(kPolymers, r).material);
                   type_into(r, "specimen.family", "polymer");
                   type_into(r, "specimen.section.shape", "flat");
                   type_into(r, "equipment.load_cell.capacity", "5 kN");
                   type_into(r, "equipment.load_cell.class", "0.5");
                   type_into(r, "settings.speed.plastic", "50 mm/min");
                   type_into(r, "settings.removal_strain", "0.6 %");
                   type_into(r, "equipment.extensometer.class", "0.5");
                   type_into(r, "conditions.temperature", "23 °C");
                   type_into(r, "conditions.humidity", "50 %");
                   type_into(r, "conditions.hours", "96 h");
                 },
                 {}};
    for (const Polymer& p : kPolymers) x.pieces.push_back({p.id, p.material});
    return x;
  }();
  return m;
}

// ---- laminates ------------------------------------------------------------------------------------

struct Laminate {
  const char *id, *material;
  double modulus, strength, knee, second;  ///< MPa, MPa, strain of a knee (0: none), slope beyond it
  const char *type, *area;
};
constexpr Laminate kLaminates[] = {{"carbon-fabric", "CFRP fabric, balanced", 62000, 690, 0, 0, "L", "G"},
                                   {"carbon-quasi", "CFRP quasi-isotropic", 50000, 610, 0, 0, "A", "G"},
                                   {"glass-fabric", "GFRP fabric", 23500, 330, 0.0028, 18500, "S", "G"},
                                   {"carbon-at-grip", "CFRP fabric, balanced", 62000, 520, 0, 0, "L", "A"}};

std::unique_ptr<Workpiece> laminate_piece(const TestRecord& r) {
  const Laminate& l = find_in(kLaminates, r);
  const uint64_t seed = seed_of(r);
  const double area = section_of(r.fields).area > 0 ? section_of(r.fields).area : 50, length = grip_length(r);
  const double modulus = l.modulus * scatter(seed, 1, 0.015), strength = l.strength * scatter(seed, 2, 0.055);
  Nodes nodes{{0, 0}};
  auto add = [&](double strain, double stress) { nodes.push_back({strain * length, stress * area}); };
  double strain = strength / modulus;
  if (l.knee > 0) {
    add(l.knee, modulus * l.knee);
    strain = l.knee + (strength - modulus * l.knee) / (l.second * scatter(seed, 3, 0.02));
  }
  // Single fibres crack on the way: small teeth near the end.
  for (double x : {0.86, 0.93}) {
    const double e = strain * x, s = l.knee > 0 ? modulus * l.knee + (e - l.knee) * l.second : modulus * e;
    add(e, s);
    add(e * 1.0005, s * 0.996);
  }
  add(strain, strength);
  return std::make_unique<EnvelopePiece>(nodes, length, true);
}

const FrameModel& laminates() {
  static const FrameModel m = [] {
    FrameModel x{"laminate-frame",
                 "stand-in universal frame",
                 "tension-composite",
                 {},
                 false,
                 laminate_piece,
                 grip_length,
                 [](const TestRecord& r, const std::string& path, int wanted) -> std::vector<std::string> {
                   if (path == "specimen.grip_separation") return {"150 mm"};
                   if (path == "specimen.extensometer_length") return {"50 mm"};
                   return strip_readings(r, path, wanted, 25, 2.1);
                 },
                 [](const TestRecord& r) -> std::map<std::string, std::string> {
                   if (!ran(r)) return {};
                   const Laminate& l = find_in(kLaminates, r);
                   const char* places[] = {"T", "M", "B"};
                   return {{"specimen.after.failure.type", l.type},
                           {"specimen.after.failure.area", l.area},
                           {"specimen.after.failure.place", std::string(l.area) == "A" ? "T" : places[seed_of(r) % 3]}};
                 },
                 [](TestRecord& r) {
                   type_into(r, "specimen.material", find_in(kLaminates, r).material);
                   type_into(r, "specimen.family", "laminate");
                   type_into(r, "specimen.section.shape", "flat");
                   type_into(r, "specimen.tabs", "glass epoxy, bevelled");
                   type_into(r, "equipment.load_cell.capacity", "100 kN");
                   type_into(r, "equipment.load_cell.class", "1");
                   type_into(r, "equipment.extensometer.class", "0.5");
                   type_into(r, "equipment.frame.stiffness", "45 kN/mm");
                 },
                 {}};
    for (const Laminate& l : kLaminates)
      x.pieces.push_back(
          {l.id, std::string(l.material) + (std::string(l.id) == "carbon-at-grip" ? ", weak at a tab" : "")});
    return x;
  }();
  return m;
}

// ---- sandwich -------------------------------------------------------------------------------------

struct Sandwich {
  const char *id, *label;
  double modulus, strength;  ///< MPa
  int core, bond, face, block;
};
constexpr Sandwich kSandwiches[] = {{"foam-core", "foam core, glass faces", 95, 3.6, 90, 10, 0, 0},
                                    {"honeycomb", "honeycomb core, carbon faces", 210, 5.2, 25, 75, 0, 0},
                                    {"block-bond", "foam core, blocks badly bonded", 95, 2.1, 10, 0, 0, 90}};

double panel_thickness(const TestRecord& r) {
  return mean_of(r, "specimen.thickness", 22.5);
}

std::unique_ptr<Workpiece> sandwich_piece(const TestRecord& r) {
  const Sandwich& s = find_in(kSandwiches, r);
  const uint64_t seed = seed_of(r);
  const double area = mean_of(r, "specimen.width", 50) * mean_of(r, "specimen.depth", 50), t = panel_thickness(r);
  const double modulus = s.modulus * scatter(seed, 1, 0.03), cured = has_fault(r, "short-cure") ? 0.55 : 1;
  const double strength = cured * s.strength * scatter(seed, 2, 0.07);
  Nodes nodes{{0, 0}};
  for (double x : {0.7, 0.85, 0.95, 1.0}) {
    const double bend = x > 0.7 ? 1 + 0.25 * (x - 0.7) : 1.0;
    nodes.push_back({strength * x / modulus * bend * t, strength * x * area});
  }
  return std::make_unique<EnvelopePiece>(nodes, t, true);
}

const FrameModel& sandwiches() {
  static const FrameModel m = [] {
    FrameModel x{"sandwich-frame",
                 "stand-in universal frame",
                 "flatwise-tension",
                 {},
                 false,
                 sandwich_piece,
                 panel_thickness,
                 [](const TestRecord& r, const std::string& path, int wanted) -> std::vector<std::string> {
                   const uint64_t seed = seed_of(r);
                   if (path == "specimen.width")
                     return caliper(50.0 * scatter(seed, 8, 0.002), 0.05, 0.01, wanted, seed * 3 + 1);
                   if (path == "specimen.depth")
                     return caliper(50.1 * scatter(seed, 9, 0.002), 0.05, 0.01, wanted, seed * 3 + 2);
                   if (path == "specimen.thickness")
                     return caliper(22.5 * scatter(seed, 7, 0.004), 0.08, 0.01, wanted, seed * 3 + 3);
                   if (path.compare(0, 17, "specimen.failure.") != 0 || !ran(r)) return {};
                   const Sandwich& s = find_in(kSandwiches, r);
                   const int share = path == "specimen.failure.core"   ? s.core
                                     : path == "specimen.failure.bond" ? s.bond
                                     : path == "specimen.failure.face" ? s.face
                                                                       : s.block;
                   return {std::to_string(share) + " %"};
                 },
                 [](const TestRecord&) { return std::map<std::string, std::string>{}; },
                 [](TestRecord& r) {
                   type_into(r, "specimen.material", find_in(kSandwiches, r).label);
                   type_into(r, "specimen.family", "sandwich");
                   type_into(r, "equipment.load_cell.capacity", "50 kN");
                   type_into(r, "equipment.load_cell.class", "1");
                   type_into(r, "specimen.cure.adhesive", "two-part epoxy");
                   type_into(r, "specimen.cure.stated", "24 h");
                   type_into(r, "specimen.cure.elapsed", has_fault(r, "short-cure") ? "7 h" : "25 h");
                 },
                 {{"short-cure", "a bond that had no time to cure"}}};
    for (const Sandwich& s : kSandwiches) x.pieces.push_back({s.id, s.label});
    return x;
  }();
  return m;
}

}  // namespace

const Bench& polymer_frame() {
  static const Bench bench = bench_of(polymers(), polymer_frame);
  return bench;
}

const Bench& laminate_frame() {
  static const Bench bench = bench_of(laminates(), laminate_frame);
  return bench;
}

const Bench& sandwich_frame() {
  static const Bench bench = bench_of(sandwiches(), sandwich_frame);
  return bench;
}

}  // namespace fortitor::standin
