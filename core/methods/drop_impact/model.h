// The inner working of drop-impact. Shared by its files, its drawings and tests only.
#pragma once

#include <cmath>
#include <optional>
#include <string>
#include <vector>

#include "core/methods/drop_impact/drop_impact.h"
#include "core/methods/support/ledger.h"
#include "core/methods/support/loading.h"

namespace fortitor::drop {

/// What the method reports, by key: specs, values, How and figures speak of a result by these (names: words.json).
namespace key {
inline constexpr auto energy_impact = "energy_impact", energy_absorbed = "energy_absorbed", force_peak = "force_peak",
                      force_damage = "force_damage", defl_peak = "defl_peak", dent = "dent",
                      dent_relaxed = "dent_relaxed", length_front = "length_front", width_front = "width_front",
                      length_back = "length_back", width_back = "width_back", damage_kinds = "damage_kinds",
                      energy_error = "energy_error", contact_time = "contact_time", v_impact = "v_impact",
                      v_rebound = "v_rebound", target_energy = "target_energy", drop_height = "drop_height";
}  // namespace key

/// What is known of the mass's speed at contact, mm/s.
struct Arrival {
  enum class From { none, entered, flag, height } from = From::none;
  double speed = 0;
  double relative_error = 0;  ///< standard, of the speed
};

/// The contact boiled down to nodes, at which the running integrals are those of all samples.
struct Contact {
  bool ended = false;  ///< the record goes on beyond it
  double rate = 0;     ///< samples per second
  double foot = 0;     ///< s from the touch to where the force passes 1 % of its peak: the contact is timed from there
  double touch_error = 0;                        ///< standard error that noise gives the moment of the touch, s
  std::vector<double> time;                      ///< s from the touch
  std::vector<double> force;                     ///< N
  std::vector<double> impulse;                   ///< ∫F dt, N·s
  std::vector<double> drive;                     ///< ∫∫F dt dt, N·s²
  double peak = 0, peak_at = 0, peak_error = 0;  ///< N; s; standard error that noise gives the peak, N
  std::optional<double> damage;                  ///< N
  double damage_at = 0;                          ///< s
  double damage_step = 0;                        ///< N by which the force rises from one node to the next before it
  bool ringing = false;  ///< striker or cell ring on the force: no fall of it is told from a damage
  double noise = 0;      ///< of the samples, N
  double later = 0;      ///< s by which a person had it begin later than it was found
  bool outside = false;  ///< … which lies before the record or where the plate carries a load
  bool late = false;     ///< the record begins after the contact did
  double second = 0;     ///< largest force after the contact, N: above a tenth of the peak the mass fell again
  double duration() const { return time.empty() ? 0 : time.back() - foot; }
  bool empty() const { return time.size() < 3; }
};
/// Of forces in N (magnitudes, zero taken off) over rising times in s. `later`: by how much the contact begins later
/// than it is found, s; negative: earlier.
Contact contact_of(const std::vector<double>& time, const std::vector<double>& force, double later = 0);

/// The first local maximum above 10 % of the peak after which the force falls by 5 % of the peak before it is exceeded;
/// the peak itself only where the force breaks down there at once. `noise`: standard deviation of the forces.
struct Damage {
  size_t at = 0;     ///< index into the nodes
  double force = 0;  ///< N, noise averaged out
};
std::optional<Damage> damage_of(const std::vector<double>& at, const std::vector<double>& force, double noise);
/// Whether the force rings: five falls or more of 3 % of its peak before it, most of them at equal distances. Damage
/// comes at no beat.
bool rings(const std::vector<double>& at, const std::vector<double>& force);

/// A dent pressed in slowly, as nodes.
struct Press {
  std::vector<double> force, deflection, work;  ///< N, mm, J up to there
  size_t top = 0;                               ///< of the largest deflection
  double peak = 0;
  std::optional<double> damage;
  bool empty() const { return force.size() < 3; }
};

struct State {
  bool pressed = false;  ///< quasi-static indentation
  Dim thickness;
  double mass = 0;    ///< kg
  double target = 0;  ///< J; 0: none asked
  Arrival arrival;
  Contact contact;
  Press press;
  RunFacts facts;
  double height() const { return mass > 0 ? target * 1e6 / (mass * kGravity) : 0; }  ///< mm
};
State look(const TestRecord& record);
Arrival arrival_of(const Fields& fields, double target, double mass, const Shifts& shifts = {});

/// Speed, travel and energy at the nodes of a contact.
struct Motion {
  std::vector<double> speed, deflection, energy;  ///< mm/s, mm, J
};
Motion motion_of(const Contact& contact, double mass, double speed, double force_scale, double force_zero);

std::vector<ResultSpec> specs(const TestRecord& record);
Values compute(const TestRecord& record, const State& state, const Shifts& shifts);
std::vector<Step> how(const std::string& key, const TestRecord& record, const State& state, const Values& values);
void findings(Evaluation& e, const TestRecord& record, const State& state, const Values& values);
void figures(Evaluation& e, const TestRecord& record, const State& state, const Values& values);
Plan plan(const TestRecord& record);
void describe(Method& method);

}  // namespace fortitor::drop
