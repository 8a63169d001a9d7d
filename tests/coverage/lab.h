// A laboratory in numbers: pieces with a known truth, measured by instruments that carry exactly the errors their
// budget states. What the coverage study and its short test draw from.
#pragma once

#include <cstdint>
#include <functional>
#include <map>
#include <random>
#include <string>
#include <vector>

#include "core/evaluation/evaluation.h"
#include "core/record/record.h"

namespace fortitor::coverage {

/// Seeded errors, each of a known distribution.
class Draw {
 public:
  explicit Draw(uint64_t seed) : random_(seed * 0x9E3779B97F4A7C15ULL + 1) {}
  double normal(double sd) { return sd * normal_(random_); }
  /// Rectangular of that half width: an instrument of that class, a count of that size.
  double within(double half) { return half * (2 * unit_(random_) - 1); }
  double between(double low, double high) { return low + (high - low) * unit_(random_); }

 private:
  std::mt19937_64 random_;
  std::normal_distribution<double> normal_;
  std::uniform_real_distribution<double> unit_;
};

/// A record as it was measured, and what each of its results truly is.
struct Piece {
  TestRecord record;
  std::map<std::string, double> truth;
};

/// True course of a test, before any instrument looks at it. Strain as a ratio, stress in MPa, time in s.
struct Trace {
  std::vector<double> time, strain, stress;
  double rate = 0;  ///< strain per second in the elastic part
};

/// How a trace is recorded.
struct Recorder {
  double force_class = 1, strain_class = 0.5;  ///< %, rectangular, one draw for the whole run
  double force_noise = 0;                      ///< standard deviation, N
  double strain_noise = 0;                     ///< standard deviation, strain
  double travel_noise = 1e-3;                  ///< mm
};

/// "12.47 mm": the number rounded to the instrument's count and typed with its digits.
std::string typed(double value, double count, const char* unit);
/// Three readings of a size: the caliper is off by up to one count, the piece varies by `spread`.
void measure(TestRecord& r, const std::string& path, double truth, double spread, Draw& draw, double count = 0.01,
             int readings = 3);
/// Rounds to whole counts, as an indicator shows.
double counted(double value, double count);

/// One piece of a study by its seed.
using Maker = Piece (*)(uint64_t seed);
struct Study {
  const char* name;
  Maker make;
  std::vector<std::string> may_lack = {};  ///< keys that awkward pieces do not allow: a likelihood without a maximum
};
/// All studies: every method, some with several kinds of pieces.
const std::vector<Study>& studies();
const Study* find_study(const std::string& name);

/// How often value ± U held the truth of a key.
struct Held {
  int of = 0, held = 0;
  int absent = 0;     ///< not reported though the truth is known
  int bare = 0;       ///< reported without an uncertainty
  double error2 = 0;  ///< sum of squared errors, relative to U
  double share() const { return of > 0 ? double(held) / of : 0; }
};
struct Outcomes {
  std::map<std::string, Held> keys;
  std::map<std::string, int> unknown;   ///< numbers reported whose truth the study does not know
  std::map<std::string, int> findings;  ///< checks that were raised
};
/// Evaluates `pieces` pieces from `first_seed` on, on all cores.
Outcomes run(const Study& study, int pieces, uint64_t first_seed = 1);

/// Shares of samples whose A- and B-basis lay below the quantile: normal and Weibull by their own model, three batches
/// by the analysis of variance; 6 to 30 values.
struct BasisHeld {
  const char* population;
  size_t n = 0;
  double a = 0, b = 0;
};
std::vector<BasisHeld> basis_held(int samples);

// Parts of the list, one function a file.
Piece metal_continuous(uint64_t seed);
Piece metal_plateau(uint64_t seed);
Piece metal_spliced(uint64_t seed);
Piece plastic(uint64_t seed);
Piece plastic_drawn(uint64_t seed);
Piece composite(uint64_t seed);
Piece compression(uint64_t seed);
Piece wood_across(uint64_t seed);
Piece shell(uint64_t seed);
Piece sandwich(uint64_t seed);
Piece gauges(uint64_t seed);
Piece beam_dial(uint64_t seed);
Piece beam_recorded(uint64_t seed);
Piece torsion(uint64_t seed);
Piece block(uint64_t seed);
Piece in_water(uint64_t seed);
Piece rockwell(uint64_t seed);
Piece brinell(uint64_t seed);
Piece vickers(uint64_t seed);
Piece case_hardened(uint64_t seed);
Piece knoop(uint64_t seed);
Piece charpy(uint64_t seed);
Piece izod(uint64_t seed);
Piece pulled_apart(uint64_t seed);
Piece dropped(uint64_t seed);
Piece proof(uint64_t seed);
Piece after_impact(uint64_t seed);
Piece sn_failed(uint64_t seed);
Piece sn_runouts(uint64_t seed);
Piece staircase(uint64_t seed);
Piece toe_gauges(uint64_t seed);

}  // namespace fortitor::coverage
