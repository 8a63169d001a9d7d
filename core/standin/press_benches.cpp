// Stand-ins between the platens of the frame: solid blocks that barrel or crush, thin shells that fold.
#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/section/section.h"
#include "core/standin/frame_model.h"
#include "core/standin/instruments.h"

namespace fortitor::standin {
namespace {

double height_of(const TestRecord& r, double otherwise) {
  return mean_of(r, "specimen.height", otherwise);
}

// ---- blocks ---------------------------------------------------------------------------------------

struct Block {
  const char *id, *label, *family, *species, *grain;
  double modulus, yield, harden;  ///< MPa; stress grows by `harden` per unit plastic strain
  double soften_at, soften_to;    ///< strain of the maximum and share of it left after (0: none)
  const char* look;
  double width, height;
};
constexpr Block kBlocks[] = {
    {"larch-along", "larch, along the grain", "softwood", "larch", "parallel", 11500, 47, 120, 0.008, 0.72, "crushed",
     20, 39},
    {"larch-across", "larch, across the grain", "softwood", "larch", "perpendicular", 420, 4.6, 9, 0, 0, "crushed", 50,
     50},
    {"steel", "S355J2", "carbon steel", "", "parallel", 205000, 372, 900, 0, 0, "barrelled", 20, 30},
    {"sheave-polyamide", "PA 6, conditioned", "polymer", "", "parallel", 1250, 48, 70, 0, 0, "barrelled", 20, 30},
    {"cast-iron", "EN-GJL-250", "cast iron", "", "parallel", 112000, 520, 9000, 0.035, 0.0, "shear", 20, 30}};

double block_height(const TestRecord& r) {
  return height_of(r, find_in(kBlocks, r).height);
}

std::unique_ptr<Workpiece> block_piece(const TestRecord& r) {
  const Block& b = find_in(kBlocks, r);
  const uint64_t seed = seed_of(r);
  const double area = section_of(r.fields).area > 0 ? section_of(r.fields).area : b.width * b.width,
               height = block_height(r);
  const double modulus = b.modulus * scatter(seed, 1, 0.03), yield = b.yield * scatter(seed, 2, 0.05);
  Nodes nodes{{0, 0}};
  // Elastic line that rounds into flow: σ = E·ε/(1 + (E·ε/σ_f)⁸)^⅛ with a flow stress that hardens.
  const double end = b.soften_at > 0 ? b.soften_at : 0.55;
  auto stress = [&](double e) {
    const double flow = yield + b.harden * std::max(0.0, e - yield / modulus) * (1 + 2.5 * e);
    const double x = modulus * e / flow;
    return modulus * e / std::pow(1 + std::pow(x, 8), 0.125);
  };
  for (int i = 1; i <= 240; ++i) {
    const double x = i / 240.0, e = end * x * x;  // closer where it is steep
    nodes.push_back({e * height, stress(e) * area});
  }
  const bool breaks = b.soften_at > 0 && b.soften_to == 0;
  if (b.soften_at > 0 && b.soften_to > 0)
    for (int i = 1; i <= 40; ++i) {
      const double x = i / 40.0;
      nodes.push_back({(end + 0.25 * x) * height, stress(end) * area * (1 - (1 - b.soften_to) * std::min(1.0, 3 * x))});
    }
  return std::make_unique<EnvelopePiece>(nodes, height, breaks);
}

const FrameModel& blocks() {
  static const FrameModel m = [] {
    FrameModel x{"press",
                 "stand-in press",
                 "compression-solid",
                 {},
                 true,
                 block_piece,
                 block_height,
                 [](const TestRecord& r, const std::string& path, int wanted) -> std::vector<std::string> {
                   const Block& b = find_in(kBlocks, r);
                   const uint64_t seed = seed_of(r);
                   if (path == "specimen.section.diameter")
                     return caliper(b.width * scatter(seed, 8, 0.001), 0.01, 0.01, wanted, seed * 3 + 1);
                   if (path == "specimen.section.width" || path == "specimen.section.thickness")
                     return caliper(b.width * scatter(seed, path.back() == 'h' ? 8 : 9, 0.002), 0.02, 0.01, wanted,
                                    seed * 3 + path.size());
                   if (path == "specimen.height")
                     return caliper(b.height * scatter(seed, 7, 0.002), 0.02, 0.01, wanted, seed * 3 + 3);
                   if (path == "specimen.after.diameter" && ran(r) && std::string(b.look) == "barrelled")
                     return {shown(b.width * 1.21, 0.01, "mm")};
                   return {};
                 },
                 [](const TestRecord& r) -> std::map<std::string, std::string> {
                   if (!ran(r)) return {};
                   return {{"specimen.after.fracture", find_in(kBlocks, r).look}};
                 },
                 [](TestRecord& r) {
                   const Block& b = find_in(kBlocks, r);
                   type_into(r, "specimen.material", b.label);
                   type_into(r, "specimen.family", b.family);
                   if (*b.species != 0) type_into(r, "specimen.species", b.species);
                   type_into(r, "specimen.section.shape", *b.species != 0 ? "flat" : "round");
                   type_into(r, "settings.grain", b.grain);
                   type_into(r, "equipment.load_cell.capacity", b.yield > 100 ? "500 kN" : "100 kN");
                   type_into(r, "equipment.load_cell.class", "1");
                   type_into(r, "equipment.frame.stiffness", "150 kN/mm");
                   type_into(r, "equipment.frame.capacity", "500 kN");
                 },
                 {}};
    for (const Block& b : kBlocks) x.pieces.push_back({b.id, b.label});
    return x;
  }();
  return m;
}

// ---- shells ---------------------------------------------------------------------------------------

struct Shell {
  const char *id, *label, *family;
  double yield, diameter, wall, height;  ///< MPa, mm
  const char* look;
};
constexpr Shell kShells[] = {{"buffer-tube", "EN AW-6060-T6 tube", "aluminium alloy", 190, 50, 1.5, 90, "rings"},
                             {"thin-can", "tinplate can", "carbon steel", 320, 66, 0.22, 110, "diamonds"},
                             {"carton", "folding carton", "paper", 9, 60, 0.6, 120, "diamonds"}};

double shell_height(const TestRecord& r) {
  return r.fields.number("specimen.height").value_or(find_in(kShells, r).height);
}

bool flaw(const TestRecord& r, const char* id) {
  return r.fields.flag(std::string("specimen.suspects.") + id);
}

std::unique_ptr<Workpiece> shell_piece(const TestRecord& r) {
  const Shell& s = find_in(kShells, r);
  const uint64_t seed = seed_of(r);
  const double height = shell_height(r), d = s.diameter, t = s.wall * scatter(seed, 6, 0.015);
  // Folding by plastic hinges: mean force 8.91·σ·t²·√(d/t) of ring folds (Abramowicz and Jones 1984), half
  // fold 1.76·√(d·t/2); the first peak is the squash load, lowered by imperfection.
  const double sigma = s.yield * scatter(seed, 1, 0.02);
  const double mean = 8.91 * sigma * t * t * std::sqrt(d / t) / 2.9;
  double peak = std::min(std::numbers::pi * d * t * sigma, 2.4 * mean) * scatter(seed, 2, 0.035);
  if (has_fault(r, "dent") || flaw(r, "dent")) peak *= 0.80 * scatter(seed, 3, 0.04);
  if (flaw(r, "off_centre")) peak *= 0.96;
  const double fold = 2 * 1.76 * std::sqrt(d * t / 2);
  const double rise = 0.008 * height;
  Nodes nodes{
      {0, 0}, {rise * 0.8, 0.92 * peak}, {rise, peak}, {rise * 1.5, 0.72 * peak}, {rise + 0.35 * fold, 0.62 * mean}};
  for (double x = rise + 0.4 * fold; x < 0.72 * height; x += fold / 24) {
    const double phase = 2 * std::numbers::pi * (x - rise) / fold;
    nodes.push_back({x, mean * (1 + 0.32 * std::cos(phase))});
  }
  // The folds lock: force climbs steeply.
  const double from = nodes.back().travel;
  nodes.push_back({from + 0.1 * height, 3 * peak});
  return std::make_unique<EnvelopePiece>(nodes, height, false);
}

const FrameModel& shells() {
  static const FrameModel m = [] {
    FrameModel x{"shell-press",
                 "stand-in press",
                 "crush-shell",
                 {},
                 true,
                 shell_piece,
                 shell_height,
                 [](const TestRecord& r, const std::string& path, int wanted) -> std::vector<std::string> {
                   const Shell& s = find_in(kShells, r);
                   const uint64_t seed = seed_of(r);
                   if (path == "specimen.section.outer") return caliper(s.diameter, 0.05, 0.01, wanted, seed * 3 + 1);
                   if (path == "specimen.section.wall")
                     return caliper(s.wall * scatter(seed, 6, 0.015), 0.008, 0.01, wanted, seed * 3 + 2);
                   if (path == "specimen.height") return caliper(s.height, 0.1, 0.1, 1, seed * 3 + 3);
                   return {};
                 },
                 [](const TestRecord& r) -> std::map<std::string, std::string> {
                   if (!ran(r)) return {};
                   return {{"specimen.after.fracture", find_in(kShells, r).look}};
                 },
                 [](TestRecord& r) {
                   const Shell& s = find_in(kShells, r);
                   type_into(r, "specimen.material", s.label);
                   type_into(r, "specimen.family", s.family);
                   type_into(r, "specimen.section.shape", "tube");
                   if (has_fault(r, "dent")) r.fields.set("specimen.suspects.dent", true);
                   type_into(r, "equipment.load_cell.capacity", s.yield < 20 ? "5 kN" : "100 kN");
                   type_into(r, "equipment.load_cell.class", "1");
                 },
                 {{"dent", "a dent"}}};
    for (const Shell& s : kShells) x.pieces.push_back({s.id, s.label});
    return x;
  }();
  return m;
}

}  // namespace

const Bench& press() {
  static const Bench bench = bench_of(blocks(), press);
  return bench;
}

const Bench& shell_press() {
  static const Bench bench = bench_of(shells(), shell_press);
  return bench;
}

}  // namespace fortitor::standin
