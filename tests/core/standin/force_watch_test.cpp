// What ends a run that is only heard, against bars and frames made at random whose end is known: fast and slow devices,
// noise, spikes, displays that hold their nought, serrations, drops that recover, breaks and unloadings.
#include "core/standin/force_watch.h"

#include <gtest/gtest.h>

#include <cmath>
#include <random>

namespace fortitor {
namespace {

struct Bar {
  double rate, rest, up, peak, noise, resolution, spikes;
  bool holds_nought, breaks, drops, serrated, ductile;
  double down;  // s: of a break the fall, of an unloading the way back
  double end() const { return rest + up; }
};

Bar bar(std::mt19937& random) {
  const auto uniform = [&](double a, double b) { return std::uniform_real_distribution<double>(a, b)(random); };
  const auto one_in = [&](unsigned n) { return random() % n == 0; };
  const double rates[] = {10, 20, 50, 50, 100, 100, 200, 2000};
  Bar b = {};
  b.rate = rates[random() % 8];
  b.rest = uniform(2, 5);
  b.up = std::max(uniform(1, b.rate > 1000 ? 4 : 30), 40 / b.rate);  // forty readings at least
  b.peak = std::pow(10, uniform(2, 5.3));
  b.noise = b.peak * std::pow(10, uniform(-4, -2.2));
  b.resolution = std::pow(10, std::floor(std::log10(b.noise)) - double(random() % 2));
  b.spikes = one_in(3) ? uniform(0.05, 0.5) * b.peak : 0;
  b.holds_nought = one_in(2);
  b.breaks = !one_in(3);
  b.drops = one_in(4);
  b.serrated = one_in(4);
  b.ductile = one_in(2);
  b.down = b.breaks ? uniform(0.001, 0.06) : uniform(2, 10);
  return b;
}

double true_force(const Bar& b, double t) {
  if (t < b.rest) return 0;
  if (t < b.end()) {
    const double x = (t - b.rest) / b.up;
    double f = b.ductile && x > 0.4 ? b.peak * (0.8 + 0.2 * std::sin((x - 0.4) / 0.6 * M_PI / 2)) : b.peak * x;
    if (b.ductile && x <= 0.4) f = b.peak * 0.8 * x / 0.4;
    if (b.serrated && x > 0.5) f *= 1 - 0.04 * std::fmod(x * 40, 1.0);
    if (b.drops && x > 0.6 && x < 0.63) f *= 0.55;  // a grip that slips, a first ply
    return f;
  }
  const double since = t - b.end();
  return since < b.down ? b.peak * (1 - since / b.down) : 0;
}

TEST(ForceWatch, ABreakIsABreakAndNothingElseIs) {
  int broke = 0, unloaded = 0;
  for (unsigned seed = 1; seed <= 700; ++seed) {
    std::mt19937 random(seed);
    const Bar b = bar(random);
    std::normal_distribution<double> normal(0, b.noise);
    SCOPED_TRACE(testing::Message() << "seed " << seed << " rate " << b.rate << " up " << b.up << " peak " << b.peak
                                    << " noise " << b.noise << " spikes " << b.spikes << " breaks " << b.breaks
                                    << " drops " << b.drops << " nought " << b.holds_nought << " digit "
                                    << b.resolution);
    std::vector<double> before;
    std::optional<EndWatch> watch;
    std::optional<double> began, broken, over;
    EndWatch::Says last = EndWatch::Says::goes_on;
    double last_spike = -1;
    for (long n = 0; !over && double(n) / b.rate < b.end() + b.down + 12; ++n) {
      const double t = double(n) / b.rate, truth = true_force(b, t);
      double said = 13 + truth + normal(random);
      if (b.holds_nought && t < b.rest) said = 13;
      // Single readings that stand out, with others between them.
      if (b.spikes > 0 && random() % 60 == 0 && double(n) - last_spike > 5) {
        said += random() % 2 == 0 ? b.spikes : -b.spikes;
        last_spike = double(n);
      }
      said = std::round(said / b.resolution) * b.resolution;
      if (!watch) {
        before.push_back(said);
        const size_t kept = std::max<size_t>(32, size_t(2 * b.rate));
        if (before.size() > kept) before.erase(before.begin());
        if (n % std::max(1L, long(b.rate / 100)) != 0) continue;
        if (const auto standing = movement(before, b.resolution)) {
          EXPECT_NEAR(standing->zero, 13, 3 * b.noise + 2 * b.resolution) << "what it stands at";
          EXPECT_GT(t, b.rest - 1 / b.rate) << "rest is no movement";
          watch = EndWatch(*standing);
          began = t;
        }
        continue;
      }
      last = watch->look(t, said);
      if (last == EndWatch::Says::broke) broken = t;
      if (last == EndWatch::Says::over_broken || last == EndWatch::Says::over_unloaded) over = t;
    }
    ASSERT_TRUE(began) << "it moves";
    EXPECT_LT(*began, b.rest + 0.5 * b.up + 5 / b.rate);
    ASSERT_TRUE(over) << "it ends by itself";
    if (b.breaks) {
      ++broke;
      ASSERT_TRUE(broken) << "the break is seen";
      EXPECT_GE(*broken, b.end() - 1 / b.rate) << "not before it broke";
      EXPECT_LE(*broken, b.end() + b.down + 3.5 / b.rate);
    } else {
      ++unloaded;
      EXPECT_FALSE(broken) << "brought back by hand, at " << (broken ? *broken - b.end() : 0) << " s after the peak";
      EXPECT_GT(*over, b.end());
    }
  }
  EXPECT_GT(broke, 300);
  EXPECT_GT(unloaded, 150);
}

TEST(ForceWatch, RestAloneIsNoMovement) {
  for (unsigned seed = 1; seed <= 300; ++seed) {
    std::mt19937 random(seed);
    std::normal_distribution<double> normal(0, 1);
    const double digit = std::pow(10, -int(random() % 3));
    std::vector<double> before;
    for (int i = 0; i < 600; ++i) {
      before.push_back(std::round((5 + (seed % 3 == 0 ? 0 : normal(random))) / digit) * digit);
      if (before.size() > 100) before.erase(before.begin());
      ASSERT_FALSE(movement(before, digit)) << seed << " " << i;
    }
  }
  EXPECT_FALSE(movement({}, 1));
  EXPECT_FALSE(movement({1, 2, 3}, 1));
  EXPECT_FALSE(movement(std::vector<double>(50, NAN), 1));
}

}  // namespace
}  // namespace fortitor
