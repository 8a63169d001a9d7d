// Energies of a pendulum and a falling mass, and the force of a jerk.
#include <cmath>

#include "core/methods/drop_impact/drop_impact.h"
#include "core/methods/proof_load/proof_load.h"
#include "core/methods/support/blows.h"
#include "core/slate/parts.h"

namespace fortitor::slate {
namespace {

using D = Dimension;
constexpr double kGravity = drop::kGravity * 1e-3;  // m/s²

}  // namespace

void add_impact(std::vector<Calculator>& all) {
  all.push_back({"drop",
                 "Falling mass",
                 {"drop", "fall"},
                 {{"mass", "Mass", D::mass, "5.5 kg", false, {}, "specimen.mass"},
                  {"height", "Height", D::length, "1 m", true},
                  {"energy", "or energy", D::energy, "30 J", true, {}, "specimen.target_energy"}},
                 "drop 5.5 kg 30 J",
                 "drop-impact",
                 [](const Inputs& in) -> Outcome<std::vector<Line>> {
                   const double m = in.number("mass");
                   if (in.has("energy")) {
                     const double e = in.number("energy"), h = e / (m * kGravity) * 1e3;
                     return std::vector<Line>{
                         line("height", "h = E/(m·g)", shown(e, D::energy) + ", " + shown(m, D::mass), h, D::length),
                         line("speed", "v = √(2·g·h)", "h = " + shown(h, D::length),
                              std::sqrt(2 * kGravity * h / 1e3) * 1e3, D::speed)};
                   }
                   if (!in.has("height")) return InputError{"A height or an energy is wanted.", {}};
                   const double h = in.number("height");
                   return std::vector<Line>{line("energy", "E = m·g·h", shown(m, D::mass) + ", " + shown(h, D::length),
                                                 m * kGravity * h / 1e3, D::energy),
                                            line("speed", "v = √(2·g·h)", "h = " + shown(h, D::length),
                                                 std::sqrt(2 * kGravity * h / 1e3) * 1e3, D::speed)};
                 },
                 "Nobody under the mass; guards shut before it is lifted."});
  all.push_back({"pendulum",
                 "Energy of a pendulum's swing",
                 {"pendulum", "swing"},
                 {{"mass", "Mass", D::mass, "20 kg"},
                  {"length", "Length of the pendulum, L_p", D::length, "750 mm"},
                  {"alpha", "Fall", D::angle, "150°"},
                  {"beta", "Rise", D::angle, "80°", false, {}, {}, true},
                  {"free", "Rise of a free swing", D::angle, "148°", true}},
                 "pendulum 20 kg 750 mm 150° 80°",
                 "",
                 [](const Inputs& in) -> Outcome<std::vector<Line>> {
                   const double m = in.number("mass"), l = in.number("length"), a = in.number("alpha"),
                                b = in.number("beta");
                   blows::Swing swing{m, l, a, {}};
                   if (in.has("free")) swing.free_rise = in.number("free");
                   const double e = blows::energy_of_swing(swing, a, b);
                   if (in.has("free") && (in.number("free") > a || in.number("free") < b))
                     return InputError{"Rise of a free swing: between rise and fall is expected.", {}};
                   if (b > a) return InputError{"Rise: no more than the fall is expected.", {}};
                   return std::vector<Line>{
                       line("energy taken",
                            in.has("free") ? "E = m·g·L_p·(cos β − cos α) − loss·(α + β)/(α + β₀)"
                                           : "E = m·g·L_p·(cos β − cos α)",
                            shown(m, D::mass) + ", " + shown(l, D::length) + ", α = " + shown(a, D::angle) +
                                ", β = " + shown(b, D::angle),
                            e, D::energy),
                       line("energy at the lowest point", "m·g·L_p·(1 − cos α)", "α = " + shown(a, D::angle),
                            m * kGravity * l / 1e3 * (1 - std::cos(a)), D::energy),
                       line("speed at the strike", "v = √(2·g·L_p·(1 − cos α))", "L_p = " + shown(l, D::length),
                            std::sqrt(2 * kGravity * l / 1e3 * (1 - std::cos(a))) * 1e3, D::speed)};
                 },
                 "Stand clear of the swing, before and after the blow."});
  all.push_back(
      {"snatch",
       "Force of a jerk",
       {"snatch", "jerk"},
       {{"mass", "Mass", D::mass, "2000 kg", false, {}, "specimen.snatch.mass"},
        {"speed", "Closing speed", D::speed, "1.2 m/s", false, {}, "specimen.snatch.speed"},
        {"distance", "Stopped within", D::length, "20 mm", true, {}, "specimen.snatch.distance"},
        {"stiffness", "or stiffness", D::stiffness, "3 kN/mm", true, {}, "specimen.snatch.stiffness"}},
       "snatch 2000 kg 1.2 m/s 20 mm",
       "proof-load",
       [](const Inputs& in) -> Outcome<std::vector<Line>> {
         const double m = in.number("mass"), v = in.number("speed");
         if (!in.has("distance") && !in.has("stiffness")) return InputError{"A distance or a stiffness is wanted.", {}};
         const proof::Snatch s = proof::snatch_of(m, v, in.number("distance"), in.number("stiffness"));
         const double energy = 0.5 * m * v * v / 1e6;
         std::vector<Line> out;
         if (in.has("distance")) {
           out.push_back(line(
               "mean force", "F = m·v²/(2·s)",
               shown(m, D::mass) + "·(" + shown(v, D::speed) + ")²/(2·" + shown(in.number("distance"), D::length) + ")",
               s.mean, D::force, "", 3));
         }
         if (std::isfinite(s.peak))
           out.push_back(
               in.has("stiffness")
                   ? line("peak", "v·√(k·m)", "k = " + shown(in.number("stiffness"), D::stiffness), s.peak, D::force,
                          "linear spring", 3)
                   : line("peak", "2·F", "mean " + shown(s.mean, D::force), s.peak, D::force, "linear spring", 3));
         out.push_back(line("energy", "m·v²/2", shown(m, D::mass) + ", " + shown(v, D::speed), energy, D::energy));
         return out;
       },
       "A number for thought, no rating: lifting gear is chosen by its maker's data and local codes."});
}

}  // namespace fortitor::slate
