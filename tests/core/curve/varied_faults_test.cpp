// Runs with channels that freeze, jump, drop out or scatter, drawn at random from small faults to large ones: what is found,
// and what is not, is kept as text, so that every limit of it is seen from both sides.
#include <cmath>
#include <sstream>

#include "core/curve/faults.h"
#include "tests/core/methods/chance.h"
#include "tests/core/methods/kept_text.h"

namespace fortitor::varied_faults_test {
namespace {

// A pull of a few or many samples: up, often over a knee, sometimes down again, in counts or not.
Samples pull(Chance& chance) {
  const size_t n = chance.below(3) == 0 ? 8 + chance.below(40) : 40 + chance.below(900);
  const double knee = chance.below(2) == 0 ? 1 : 0.3 + 0.7 * chance.share(), noise = std::pow(10, -6 + 4 * chance.share()), rate = 1 + 20 * chance.share();
  const bool back = chance.below(5) == 0;
  Samples s;
  s.channels = {{"time", {}}, {"force", {}}, {"crosshead", {}}, {"extension", {}}};
  for (size_t i = 0; i < n; ++i) {
    const double at = double(i) / double(n), u = back && at > 0.7 ? 1.4 - at : at;
    s.channels[0].values.push_back(double(i) / rate);
    s.channels[1].values.push_back(6000 * (u < knee ? u : knee + 0.1 * (u - knee)) + 6000 * noise * chance.normal());
    s.channels[2].values.push_back(5 * at + 5e-4 * chance.normal());
    s.channels[3].values.push_back(u + noise * chance.normal());
  }
  return s;
}

void spoil(Samples& s, Chance& chance) {
  Channel& c = s.channels[1 + chance.below(3)];
  std::vector<double>& v = c.values;
  double most = 0;
  for (double x : v) most = std::max(most, std::abs(x));
  const size_t n = v.size(), at = chance.below(n);
  switch (chance.below(7)) {
    case 0:
      for (size_t i = at; i < std::min(n, at + 2 + chance.below(40)); ++i) v[i] = v[at];
      break;
    case 1:
      for (size_t i = at; i < n; ++i) v[i] = v[at];
      break;
    case 2: {
      const double step = most * std::pow(10, -3 + 2.5 * chance.share()) * (chance.below(2) == 0 ? 1 : -1);
      for (size_t i = at; i < n; ++i) v[i] += step;
      break;
    }
    case 3: {
      const double sd = most * std::pow(10, -3 + 1.6 * chance.share());
      for (double& x : v) x += sd * chance.normal();
      break;
    }
    case 4: {
      const double count = most * std::pow(10, -4 + 2.5 * chance.share());
      for (double& x : v) x = count * std::round(x / count);
      break;
    }
    case 5:
      for (size_t i = at; i < std::min(n, at + 1 + chance.below(30)); ++i) v[i] = NAN;
      break;
    default:
      for (size_t i = at; i < n; ++i) s.channels[0].values[i] += 3 * chance.share();
  }
}

TEST(KeptNumbersVariedCurves, FaultsOfChannels) {
  std::ostringstream out;
  for (uint64_t seed = 1; seed <= 3000; ++seed) {
    Chance chance(seed);
    Samples s = pull(chance);
    for (size_t i = chance.below(4); i > 0; --i) spoil(s, chance);
    if (chance.below(30) == 0) s.channels.erase(s.channels.begin() + long(chance.below(4)));
    out << seed;
    for (const ChannelFault& f : channel_faults(s)) out << " " << int(f.kind) << " " << f.channel << " " << num(f.from) << " " << num(f.to) << " " << num(f.value);
    out << "\n";
  }
  hold_kept("varied-faults", out.str());
}

}  // namespace
}  // namespace fortitor::varied_faults_test
