// What the pendulum methods share: the swing, the blows of a set, what makes a blow count
// (docs/methods/impact-pendulum.md; ISO 148-1, ISO 148-2).
#pragma once

#include <cmath>
#include <optional>
#include <string>
#include <vector>

#include "core/methods/support/ledger.h"

namespace fortitor::blows {

inline const std::string kTable = "blows";
inline constexpr double kFromBath = 5;  ///< s from the bath to the blow (ISO 148-1)

/// Mass, length and free swing of the hammer. kg, mm, radians, J.
struct Swing {
  double mass = 0, length = 0;                                               ///< 0: not given
  std::optional<double> start, free_rise;                                    ///< α and β₀ of the free swing
  double moment() const { return mass * kStandardGravity * length * 1e-3; }  ///< m·g·L_p, J
  bool known() const { return mass > 0 && length > 0; }
};
Swing swing_of(const Fields& fields);

/// Energy that the piece took, J: m·g·L_p·(cos β − cos α) less friction and windage, which are those of the free swing
/// times (α + β)/(α + β₀). Without a free swing nothing is taken off.
double energy_of_swing(const Swing& swing, double start, double rise);
/// m·g·L_p·(cos β₀ − cos α), J; NaN without a free swing.
double free_loss(const Swing& swing);

inline constexpr double kTooMuch = 0.8, kTooLittle = 0.1;  ///< of the energy of the hammer (ISO 148-1)
inline constexpr double kLossAllowed = 0.005;              ///< of it, in a free swing (ISO 148-2)

struct Blow {
  size_t row = 0;
  std::string piece, look;             ///< look: C, H, P, N or empty
  double energy = NAN;                 ///< J
  double from_bath = NAN;              ///< s
  double ligament = NAN, width = NAN;  ///< mm; NaN: those of the set
  bool by_angles = false, jammed = false, unbroken = false;
  bool second = false;  ///< of the second set
  bool counts = false;
  std::string name() const { return piece.empty() ? std::to_string(row + 1) : piece; }
};

struct Set {
  Swing swing;
  std::vector<Blow> all;
  double available = NAN;  ///< J; NaN when it is neither entered nor computed
  double resolution = 0;   ///< of an energy as read, J; of angles: what their digit makes
  std::vector<const Blow*> counted() const;
  bool second() const;     ///< some blow that counts is of a second set
  bool by_angles() const;  ///< some blow that counts was read as an angle
};
/// Reads the table of blows; which of them count a method decides afterwards.
Set set_of(const TestRecord& record, const Shifts& shifts = {});

/// over-capacity, under-scale, jammed, friction, late-from-bath, temperature-missing.
void judge_common(Evaluation& e, const TestRecord& record, const Set& set, const std::string& key);
/// Standard uncertainty of one energy by its reading: the digit of the scale, or of the rise, J.
double reading_error(const Set& set);
/// Scale or angles, machine, scatter of the set.
void inputs_common(const TestRecord& record, const Set& set, std::vector<UncertainInput>& inputs);
/// Columns of the table, fields of the hammer, temperature, bath; marks and equipment.
void describe_common(Method& m);
/// Energy by blow about the mean `key`, each with the U of the `least`; `wanted`: what single blows must meet.
Figure figure_of(const Evaluation& e, const TestRecord& record, const Set& set, const std::string& key,
                 const std::string& least, const std::vector<std::pair<std::string, double>>& wanted = {});
RowValue energies(const Set& set);

}  // namespace fortitor::blows
