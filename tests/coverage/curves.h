// Closed-form curves of the coverage study, and the recording of them.
#pragma once

#include "tests/coverage/lab.h"

namespace fortitor::coverage {

/// Engineering curve told by its plastic strain: straight to the yield point, a plateau when there is one, hardening
/// R = R_m − (R_m − R_0)(1 − u)^power that is level at uniform strain, then a neck that falls as a parabola to the
/// break.
struct Metal {
  double modulus = 200e3, yield = 400, strength = 520, power = 3, uniform = 0.12, broken = 0.2, fall = 0.2;
  double upper = 0, plateau_end = 0;  ///< of a yield point: R_eH above `yield` = R_eL, A_e
  double stress(double plastic) const;
  /// Total strain at a plastic strain.
  double strain(double plastic) const { return plastic + stress(plastic) / modulus; }
  /// Plastic strain at a total strain beyond yield.
  double plastic_at(double strain) const;
  /// Whole course at `rate` (1/s) to 2 % (or `change_at`) and `rate_after` from there, `hertz` samples a second, a
  /// second of rest first.
  Trace run(double rate, double rate_after, double hertz, double change_at = 0.02) const;
  /// Area under the curve to a plastic strain, by fine trapezia.
  double work_to(double plastic) const;
};

/// A record's channels of a trace: force, and strain as an extensometer of `length` or as a strain channel, crosshead.
struct Recorded {
  std::vector<double> time, force, extension, crosshead;
  double force_scale = 1, strain_scale = 1;  ///< the instruments' errors of this run
};
Recorded record_trace(const Trace& trace, double area, double length, double parallel, double stiffness,
                      const Recorder& how, Draw& draw);

/// Fields typed one by one: {"specimen.gauge_length", "50.0 mm"}.
TestRecord piece_of(const std::string& method, const std::vector<std::pair<std::string, std::string>>& fields);
void give(TestRecord& r, const std::vector<std::pair<std::string, std::vector<double>>>& channels);
/// Appends a stop of typed readings to the keyed table.
void stop(TestRecord& r, const std::vector<std::pair<std::string, std::string>>& readings);

}  // namespace fortitor::coverage
