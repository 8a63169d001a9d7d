// What slips in the grips or at a blade of the extensometer is seen, wherever on the curve; a loop is no slip.
#include <gtest/gtest.h>

#include "core/standin/tension_bench.h"
#include "tests/core/methods/tension_curve.h"

namespace fortitor::tension_slips_test {
namespace {

using namespace testing_help;

TEST(Slips, AreSeen) {
  CurveShape s;
  TestRecord r = bar();
  give_curve(r, s);
  auto grip = std::make_shared<Samples>(*r.run.samples());
  for (size_t i = 1500; i < 1560; ++i) grip->column("force").values[i] -= 1500 * (1 - double(i - 1500) / 60);
  for (size_t i = 1500; i < 1560; ++i) grip->column("extension").values[i] = grip->column("extension").values[1499];
  r.run.set_samples(grip);
  EXPECT_NE(methods::evaluate(r).finding("slip"), nullptr);
  give_curve(r, s);
  auto blade = std::make_shared<Samples>(*r.run.samples());
  for (size_t i = 250; i < blade->size(); ++i) blade->column("extension").values[i] += 0.05;
  r.run.set_samples(blade);
  EXPECT_NE(methods::evaluate(r).finding("slip"), nullptr);
}

// A blade that slips on the plateau or in hardening, either way; the force shows nothing of it.
TEST(Slips, OfABladeAfterYieldAreSeen) {
  const TestRecord sound = standin::simulate_tension({.seed = 4});
  const Evaluation before = methods::evaluate(sound, {.uncertainty = false});
  ASSERT_EQ(before.finding("slip"), nullptr);
  const Samples& s = *sound.run.samples();
  const std::vector<double>&extension = s.find("extension")->values, &time = s.find("time")->values;
  for (double at : {0.4, 0.9, 2.5})  // mm of 50 mm: plateau, its end, hardening
    for (double slip : {-0.03, -0.1, 0.15}) {
      auto slipped = std::make_shared<Samples>(s);
      double when = 0;
      std::vector<double>& x = slipped->column("extension").values;
      for (size_t i = 0; i < x.size(); ++i)
        if (when > 0 || extension[i] > at) when = when > 0 ? when : time[i], x[i] += slip;
      TestRecord r = sound;
      r.run.set_samples(slipped);
      const Evaluation e = methods::evaluate(r, {.uncertainty = false});
      ASSERT_NE(e.finding("slip"), nullptr) << slip << " mm at " << at;
      EXPECT_NEAR(e.finding("slip")->evidence.at("time"), when, 0.1);
    }
  // Unloaded and loaded again after yield: the gauge goes back with its force, and nothing slipped.
  auto loop = std::make_shared<Samples>();
  const double modulus = before.find("e_modulus")->value, area = before.find("area")->value;
  size_t top = 0;
  while (!(extension[top] > 2)) ++top;
  double later = 0;
  for (const Channel& c : s.channels) {
    std::vector<double>& y = loop->channels.emplace_back(Channel{c.name, {}}).values;
    for (size_t i = 0; i < c.values.size(); ++i) {
      y.push_back(c.values[i] + (c.name == "time" && i > top ? later : 0));
      if (i != top) continue;
      for (int k = 1; k < 200; ++k) {
        const double force = -0.8 * s.find("force")->values[top] * (k <= 100 ? k : 200 - k) / 100;
        const double step = 0.02 * k;
        y.push_back(c.name == "time" ? time[top] + step
                                     : c.values[top] + (c.name == "force"       ? force
                                                        : c.name == "extension" ? force / area / modulus * 50
                                                                                : force / 45e3 * 1.2));
      }
      later = 4;
    }
    later = 0;
  }
  TestRecord r = sound;
  r.run.set_samples(loop);
  EXPECT_EQ(methods::evaluate(r, {.uncertainty = false}).finding("slip"), nullptr);
}

}  // namespace
}  // namespace fortitor::tension_slips_test
