// Stress, strain, sections, expected forces, gauge lengths, bending and torsion.
#include <cmath>

#include "core/methods/flexure_beam/flexure_beam.h"
#include "core/plan/plan.h"
#include "core/section/section.h"
#include "core/slate/parts.h"

namespace fortitor::slate {
namespace {

using D = Dimension;

// By the very function that the methods measure with.
double area_of(const std::string& shape, std::initializer_list<std::pair<const char*, double>> sizes) {
  Fields f;
  f.set("specimen.section.shape", shape);
  for (const auto& [path, mm] : sizes) {
    Reading r;
    r.value = mm;
    f.set(std::string("specimen.section.") + path, std::vector<Reading>{r});
  }
  return section_of(f).area;
}

}  // namespace

void add_strength(std::vector<Calculator>& all) {
  all.push_back(
      {"stress",
       "Stress",
       {"stress", "sigma"},
       {{"force", "Force", D::force, "28.9 kN"},
        {"area", "Section", D::area, "78.5 mm²", true},
        {"d", "or diameter", D::length, "10 mm", true}},
       "stress 28.9 kN 10 mm",
       "",
       [](const Inputs& in) -> Outcome<std::vector<Line>> {
         std::vector<Line> out;
         double area = in.number("area");
         if (in.has("d")) {
           area = area_of("round", {{"diameter", in.number("d")}});
           out.push_back(line("section", "S = π·d²/4", "d = " + shown(in.number("d"), D::length), area, D::area));
         }
         if (!(area > 0)) return InputError{"A section or a diameter is wanted.", {}};
         out.insert(out.begin(),
                    line("stress", "σ = F/S", shown(in.number("force"), D::force) + " / " + shown(area, D::area),
                         in.number("force") / area, D::stress));
         return out;
       }});
  all.push_back({"strain",
                 "Strain",
                 {"strain", "epsilon"},
                 {{"change", "Change of length", D::length, "0.05 mm", false, {}, {}, true, true},
                  {"length", "Gauge length", D::length, "50 mm"}},
                 "strain 0.05 mm 50 mm",
                 "",
                 [](const Inputs& in) -> Outcome<std::vector<Line>> {
                   const double e = in.number("change") / in.number("length");
                   return std::vector<Line>{
                       line("strain", "ε = ΔL/L₀",
                            shown(in.number("change"), D::length) + " / " + shown(in.number("length"), D::length), e,
                            D::elongation),
                       line("in microstrain", "ε·10⁶", shown(e, D::elongation), e, D::microstrain)};
                 }});
  all.push_back(
      {"round",
       "Round section",
       {"round", "circle"},
       {{"d", "Diameter", D::length, "12 mm"}, {"bore", "Bore", D::length, "8 mm", true}},
       "round 12 mm",
       "",
       [](const Inputs& in) -> Outcome<std::vector<Line>> {
         const double d = in.number("d"), b = in.has("bore") ? in.number("bore") : 0;
         if (b >= d) return InputError{"Bore: less than the diameter is expected.", {}};
         const std::string with = "d = " + shown(d, D::length) + (b > 0 ? ", bore " + shown(b, D::length) : "");
         const double q = std::pow(d, 4) - std::pow(b, 4);
         return std::vector<Line>{
             line("area", b > 0 ? "π·(d² − b²)/4" : "π·d²/4", with,
                  b > 0 ? M_PI * (d * d - b * b) / 4 : area_of("round", {{"diameter", d}}), D::area),
             line("second moment", b > 0 ? "I = π·(d⁴ − b⁴)/64" : "I = π·d⁴/64", with, M_PI * q / 64, D::second_moment),
             line("section modulus", "W = 2·I/d", with, M_PI * q / 32 / d, D::section_modulus),
             line("polar second moment", "J = 2·I", with, M_PI * q / 32, D::second_moment)};
       }});
  all.push_back({"flat",
                 "Flat section",
                 {"flat", "rectangle"},
                 {{"b", "Width", D::length, "20 mm"}, {"h", "Depth", D::length, "5 mm"}},
                 "flat 20 mm 5 mm",
                 "",
                 [](const Inputs& in) -> Outcome<std::vector<Line>> {
                   const double b = in.number("b"), h = in.number("h");
                   const std::string with = "b = " + shown(b, D::length) + ", h = " + shown(h, D::length);
                   return std::vector<Line>{
                       line("area", "b·h", with, area_of("flat", {{"width", b}, {"thickness", h}}), D::area),
                       line("second moment", "I = b·h³/12", with, b * h * h * h / 12, D::second_moment),
                       line("section modulus", "W = b·h²/6", with, b * h * h / 6, D::section_modulus)};
                 }});
  all.push_back(
      {"force",
       "Force expected, and the cell",
       {"force", "cell"},
       {{"strength", "Strength", D::stress, "560 MPa"},
        {"area", "Section", D::area, "78.5 mm²", true},
        {"d", "or diameter", D::length, "10 mm", true}},
       "force 560 MPa 10 mm",
       "",
       [](const Inputs& in) -> Outcome<std::vector<Line>> {
         const double area = in.has("d") ? area_of("round", {{"diameter", in.number("d")}}) : in.number("area");
         if (!(area > 0)) return InputError{"A section or a diameter is wanted.", {}};
         const double f = in.number("strength") * area;
         return std::vector<Line>{
             line("force", "F = R_m·S₀", shown(in.number("strength"), D::stress) + " · " + shown(area, D::area), f,
                  D::force),
             line("cell", "smallest step of 1, 2, 5 with 0.85·F to 1.15·F within 10 to 90 % of it", shown(f, D::force),
                  advised_cell(0.85 * f, 1.15 * f), D::force, "", 3)};
       }});
  all.push_back(
      {"gauge-length",
       "Proportional gauge length",
       {"gauge length", "gauge", "l0"},
       {{"area", "Section", D::area, "78.5 mm²", true}, {"d", "or diameter", D::length, "10 mm", true}},
       "gauge length 10 mm",
       "",
       [](const Inputs& in) -> Outcome<std::vector<Line>> {
         const double area = in.has("d") ? area_of("round", {{"diameter", in.number("d")}}) : in.number("area");
         if (!(area > 0)) return InputError{"A section or a diameter is wanted.", {}};
         const std::string with = "S₀ = " + shown(area, D::area);
         return std::vector<Line>{line("short", "L₀ = 5.65·√S₀", with, 5.65 * std::sqrt(area), D::length, "ISO 6892-1"),
                                  line("long", "L₀ = 11.3·√S₀", with, 11.3 * std::sqrt(area), D::length, "ISO 6892-1")};
       }});
  all.push_back(
      {"elongation",
       "Elongation on another gauge length",
       {"elongation"},
       {{"a", "Elongation", D::elongation, "25 %"},
        {"from", "on a gauge length of", D::length, "50 mm"},
        {"to", "wanted on", D::length, "80 mm"},
        {"steel", "Steel", D::none, "", false, {"carbon", "austenitic"}}},
       "elongation 25 % 50 mm 80 mm",
       "",
       [](const Inputs& in) -> Outcome<std::vector<Line>> {
         const bool austenitic = in.word("steel") == "austenitic";
         const double n = austenitic ? 0.127 : 0.4;
         std::vector<Line> out = {line("elongation there", "A·(L₀/L₀′)^n, n = " + plain_number(n, 3),
                                       shown(in.number("a"), D::elongation) + "·(" +
                                           shown(in.number("from"), D::length) + "/" +
                                           shown(in.number("to"), D::length) + ")^" + plain_number(n, 3),
                                       in.number("a") * std::pow(in.number("from") / in.number("to"), n), D::elongation,
                                       austenitic ? "ISO 2566-2, same section" : "ISO 2566-1, same section", 3)};
         Line only{
             "holds for",
             {},
             4,
             austenitic
                 ? "solution-treated austenitic steels of 450 to 750 MPa"
                 : "hot-rolled, normalised or annealed steels of 300 to 700 MPa; not for cold-worked or quenched ones"};
         out.push_back(std::move(only));
         return out;
       }});
  all.push_back({"beam",
                 "Beam in three- or four-point bending",
                 {"beam", "bending"},
                 {{"force", "Load", D::force, "2 kN"},
                  {"span", "Span", D::length, "700 mm"},
                  {"b", "Width", D::length, "40 mm"},
                  {"h", "Depth", D::length, "50 mm"},
                  {"e", "Modulus", D::modulus, "12 GPa", true},
                  {"loading", "Loading", D::none, "", false, {"three-point", "third-point", "quarter-point"}}},
                 "beam 2 kN 700 mm 40 mm 50 mm 12 GPa",
                 "",
                 [](const Inputs& in) -> Outcome<std::vector<Line>> {
                   const double f = in.number("force"), l = in.number("span"), b = in.number("b"), h = in.number("h"),
                                i = b * h * h * h / 12;
                   const flexure::LoadingCase& loads = flexure::loading_case(in.word("loading"));
                   const double m = loads.m, k = loads.k;
                   const double moment = m * f * l;
                   std::vector<Line> out = {
                       line("stress", "σ = M/W",
                            "M = " + shown(moment, D::torque) + ", W = " + shown(b * h * h / 6, D::section_modulus),
                            moment / (b * h * h / 6), D::stress),
                       line("moment", "M = " + plain_number(m, 4) + "·F·L",
                            shown(f, D::force) + ", " + shown(l, D::length), moment, D::torque)};
                   if (in.has("e"))
                     out.push_back(
                         line("deflection", "δ = " + plain_number(k, 4) + "·F·L³/(E·I)",
                              "E = " + shown(in.number("e"), D::modulus) + ", I = " + shown(i, D::second_moment),
                              k * f * l * l * l / (in.number("e") * i), D::length));
                   return out;
                 }});
  all.push_back({"torsion",
                 "Round bar in torsion",
                 {"torsion", "twist"},
                 {{"torque", "Torque", D::torque, "120 N·m"},
                  {"d", "Diameter", D::length, "25 mm"},
                  {"length", "Length", D::length, "300 mm", true},
                  {"g", "Shear modulus", D::modulus, "80 GPa", true}},
                 "torsion 120 N·m 25 mm 300 mm 80 GPa",
                 "",
                 [](const Inputs& in) -> Outcome<std::vector<Line>> {
                   const double t = in.number("torque"), d = in.number("d"), j = M_PI * std::pow(d, 4) / 32;
                   std::vector<Line> out = {line(
                       "shear stress", "τ = T·r/J",
                       shown(t, D::torque) + ", r = " + shown(d / 2, D::length) + ", J = " + shown(j, D::second_moment),
                       t * d / 2 / j, D::stress)};
                   if (in.has("length") && in.has("g"))
                     out.push_back(line(
                         "twist", "φ = T·L/(G·J)",
                         "L = " + shown(in.number("length"), D::length) + ", G = " + shown(in.number("g"), D::modulus),
                         t * in.number("length") / (in.number("g") * j), D::angle));
                   return out;
                 }});
}

}  // namespace fortitor::slate
