// Hardness from indents, conversion, which force suits, strength estimated.
#include <algorithm>
#include <cmath>

#include "core/methods/hardness_brinell/hardness_brinell.h"
#include "core/methods/hardness_knoop/hardness_knoop.h"
#include "core/methods/hardness_vickers/hardness_vickers.h"
#include "core/reference/hardness.h"
#include "core/slate/parts.h"

namespace fortitor::slate {

using D = Dimension;

void add_hardness(std::vector<Calculator>& all) {
  std::vector<std::string> scales = converted_scales();
  all.push_back({"hv",
                 "Vickers from the diagonal",
                 {"hv", "vickers"},
                 {{"force", "Force", D::force, "0.5 kgf", false, {}, "specimen.force"},
                  {"d", "Mean diagonal", D::length, "43.2 µm"}},
                 "hv 0.5kgf 43.2um",
                 "hardness-vickers",
                 [](const Inputs& in) -> Outcome<std::vector<Line>> {
                   const double f = in.number("force"), d = in.number("d"), hv = vickers::hv_of(f, d);
                   return std::vector<Line>{
                       line("HV", "0.1891·F/d²", "F = " + shown(f, D::force) + ", d = " + shown(d, D::length), hv,
                            D::none, "ISO 6507-1"),
                       line("depth of the indent", "d/7", shown(d, D::length), d / 7, D::length, "", 3),
                       line("least thickness", "1.5·d", shown(d, D::length), 1.5 * d, D::length, "ISO 6507-1", 3)};
                 }});
  all.push_back({"hk",
                 "Knoop from the long diagonal",
                 {"hk", "knoop"},
                 {{"force", "Force", D::force, "0.2 kgf", false, {}, "specimen.force"},
                  {"d", "Long diagonal", D::length, "80 µm"}},
                 "hk 0.2kgf 80um",
                 "hardness-knoop",
                 [](const Inputs& in) -> Outcome<std::vector<Line>> {
                   const double f = in.number("force"), d = in.number("d");
                   return std::vector<Line>{line("HK", "F/9.80665/(0.07028·d²)",
                                                 "F = " + shown(f, D::force) + ", d = " + shown(d, D::length),
                                                 knoop::hk_of(f, d), D::none, "ISO 4545-1")};
                 }});
  all.push_back(
      {"hb",
       "Brinell from the diameter",
       {"hb", "hbw", "brinell"},
       {{"force", "Force", D::force, "3000 kgf", false, {}, "specimen.force"},
        {"ball", "Ball", D::length, "10 mm", false, {}, "specimen.ball"},
        {"d", "Mean diameter", D::length, "4.2 mm"}},
       "hb 3000kgf 10mm 4.2mm",
       "hardness-brinell",
       [](const Inputs& in) -> Outcome<std::vector<Line>> {
         const double f = in.number("force"), b = in.number("ball"), d = in.number("d"), hb = brinell_hardness(f, b, d);
         if (!std::isfinite(hb)) return InputError{"Mean diameter: less than the ball is expected.", {}};
         std::vector<Line> out = {
             line("HBW", "0.102·2F/(π·D·(D − √(D² − d²)))",
                  "F = " + shown(f, D::force) + ", D = " + shown(b, D::length) + ", d = " + shown(d, D::length), hb,
                  D::none, "ISO 6506-1"),
             line("d/D", "wanted between 0.24 and 0.6", shown(d, D::length) + " / " + shown(b, D::length), d / b,
                  D::none, "ISO 6506-1", 3)};
         const double depth = (b - std::sqrt(b * b - d * d)) / 2;
         out.push_back(line("least thickness", "8·h", "h = " + shown(depth, D::length, 3), 8 * depth, D::length,
                            "ISO 6506-1", 3));
         return out;
       }});
  all.push_back(
      {"hb-force",
       "Brinell: which force suits",
       {"hb force", "brinell force"},
       {{"ball", "Ball", D::length, "10 mm"},
        {"hb", "Hardness expected", D::none, "150", true},
        {"family", "Metal", D::none, "", false, {"steel", "iron", "copper", "aluminium"}}},
       "hb force 10mm 150 steel",
       "",
       [](const Inputs& in) -> Outcome<std::vector<Line>> {
         static const std::map<std::string, std::string> families = {
             {"steel", "carbon steel"}, {"iron", "cast iron"}, {"copper", "copper"}, {"aluminium", "aluminium"}};
         const auto indices = brinell_indices(families.at(in.word("family")), in.has("hb") ? in.number("hb") : NAN);
         if (indices.empty()) return InputError{"No force–diameter index is known for this metal.", {}};
         std::vector<Line> out;
         for (double index : indices)
           out.push_back(line("force at index " + plain_number(index, 3), "F = index·D²/0.102",
                              "D = " + shown(in.number("ball"), D::length),
                              index * in.number("ball") * in.number("ball") / 0.102, D::force, "ISO 6506-1"));
         return out;
       }});
  all.push_back({"hardness",
                 "Hardness in another scale",
                 {"hardness", "convert hardness"},
                 {{"value", "Hardness", D::none, "45"},
                  {"from", "Scale", D::none, "", false, scales},
                  {"to", "in", D::none, "", false, scales}},
                 "45 HRC to HV",
                 "",
                 [](const Inputs& in) -> Outcome<std::vector<Line>> {
                   const auto v = convert_hardness(in.number("value"), in.word("from"), in.word("to"));
                   if (!v) return v.error();
                   Line note{"holds for", {}, 4, "unalloyed and low-alloy steel; a converted hardness is an estimate"};
                   return std::vector<Line>{
                       line(in.word("to"), "table of conversion, straight between its rows",
                            plain_number(in.number("value"), 4) + " " + in.word("from"), *v, D::none, "ISO 18265"),
                       note};
                 }});
  all.push_back({"scale",
                 "Rockwell: which scale suits",
                 {"scale", "rockwell scale"},
                 {{"hv", "Vickers expected", D::none, "450"}, {"thickness", "Thickness", D::length, "1.2 mm"}},
                 "scale 450 1.2mm",
                 "hardness-rockwell",
                 [](const Inputs& in) -> Outcome<std::vector<Line>> {
                   // The heaviest force that suits reads finest.
                   std::vector<const RockwellScale*> by_force;
                   for (const RockwellScale& s : rockwell_scales()) by_force.push_back(&s);
                   std::stable_sort(by_force.begin(), by_force.end(),
                                    [](const RockwellScale* a, const RockwellScale* b) { return a->total > b->total; });
                   std::vector<Line> out;
                   for (const RockwellScale* scale : by_force) {
                     const RockwellScale& s = *scale;
                     const auto hr = convert_hardness(in.number("hv"), "HV", s.symbol());
                     if (!hr || !s.bounded() || *hr < s.low || *hr > s.high) continue;
                     // Ten times the depth under a cone, fifteen under a ball (ISO 6508-1, annex on thickness).
                     const double depth = (s.n - *hr) * s.s, wanted = (s.diamond() ? 10 : 15) * depth;
                     Line l =
                         line(s.symbol(),
                              "h = (N − HR)·S; " + std::string(s.diamond() ? "10" : "15") + "·h of thickness wanted",
                              "h = " + shown(depth, D::length, 3) + ", wanted " + shown(wanted, D::length, 3), *hr,
                              D::none, "ISO 6508-1", 3);
                     l.text = significant(*hr, 3) + (in.number("thickness") >= wanted ? "  suits" : "  too thin");
                     out.push_back(std::move(l));
                   }
                   if (out.empty()) return InputError{"No Rockwell scale is trusted at this hardness.", {}};
                   std::stable_sort(out.begin(), out.end(), [](const Line& a, const Line& b) {
                     return a.text.ends_with("suits") > b.text.ends_with("suits");
                   });
                   return out;
                 }});
  all.push_back({"strength",
                 "Strength estimated from hardness",
                 {"strength"},
                 {{"value", "Hardness", D::none, "180"}, {"scale", "Scale", D::none, "", false, {"HB", "HV"}}},
                 "strength 180 HB",
                 "",
                 [](const Inputs& in) -> Outcome<std::vector<Line>> {
                   const bool vickers = in.word("scale") == "HV";
                   const double v = in.number("value");
                   Line note{"good to", {}, 4, "about ± 10 %, unalloyed and low-alloy steel only"};
                   return std::vector<Line>{
                       line("tensile strength", vickers ? "R_m ≈ HV·9.80665/3" : "R_m ≈ 3.45·HB",
                            plain_number(v, 5) + " " + in.word("scale"),
                            vickers ? strength_of_vickers(v) : strength_of_brinell(v), D::stress, "", 3),
                       note};
                 }});
}

}  // namespace fortitor::slate
