// Density and moisture: closed forms, published water densities, findings.
#include "core/methods/density/density.h"

#include "core/uncertainty/budget.h"
#include "tests/core/methods/method_records.h"

namespace fortitor::density_test {
namespace {

TestRecord block() {
  TestRecord r = record_of("density", {{"specimen.section.shape", {"flat"}},
                                       {"specimen.section.width", {"40.02 mm", "39.98 mm", "40.00 mm"}},
                                       {"specimen.section.thickness", {"30.01 mm", "29.99 mm", "30.00 mm"}},
                                       {"specimen.length", {"60.05 mm", "59.95 mm", "60.00 mm"}}});
  for (const char* m : {"38.52 g", "38.51 g", "38.53 g"}) add_stop(r, {{"mass", m}});
  return r;
}

TestRecord in_water(const std::vector<std::pair<std::string, std::string>>& readings, const char* celsius = "20 °C") {
  TestRecord r = record_of("density", {{"specimen.immersed", {"true"}}, {"specimen.water_temperature", {celsius}}});
  for (const auto& [air, water] : readings) add_stop(r, {{"mass", air}, {"mass_immersed", water}});
  return r;
}

TEST(Density, WaterAsPublished) {
  // Tanaka et al. 2001, table 1.
  for (const auto& [t, rho] : {std::pair{0.0, 999.8428},
                               {3.983035, 999.97495},
                               {10.0, 999.7027},
                               {20.0, 998.2067},
                               {25.0, 997.0470},
                               {40.0, 992.2152}})
    EXPECT_NEAR(water_density(t), rho, 2e-4) << t;
}

TEST(Density, MassOverVolume) {
  const Evaluation e = methods::evaluate(block());
  EXPECT_NEAR(value_of(e, "volume"), 72.0, 1e-9);
  EXPECT_NEAR(value_of(e, "density"), 38.52e-3 / 72e-6, 1e-9);
  EXPECT_EQ(e.find("moisture"), nullptr) << "nothing was dried";
  EXPECT_TRUE(e.findings.empty());
}

TEST(Density, ByImmersionWithTheBuoyancyOfAir) {
  const Evaluation e = methods::evaluate(in_water({{"10.000 g", "1.000 g"}}));
  EXPECT_NEAR(value_of(e, "density"), 10.0 / 9.0 * (998.2067 - 1.2) + 1.2, 1e-3);
}

TEST(Density, AWaxCoatIsTakenOff) {
  TestRecord r = in_water({{"10.000 g", "-3.000 g"}});
  standin::type_into(r, "specimen.wax_mass", "0.900 g");
  const double all = (10.0 + 0.9 + 3.0) / (998.2067 - 1.2), bare = all - 0.9 / 900;
  EXPECT_NEAR(value_of(methods::evaluate(r), "density"), 10.0 / bare + 1.2, 1e-2);
}

TEST(Density, MoistureAndTheTwelvePerCentOfWood) {
  TestRecord r = block();
  standin::type_into(r, "specimen.species", "larch");
  standin::type_into(r, "specimen.family", "softwood");
  standin::type_into(r, "specimen.mass_dry", "33.50 g");
  const Evaluation e = methods::evaluate(r);
  const double u = (38.52 - 33.50) / 33.50, shrink = 0.14;
  EXPECT_NEAR(value_of(e, "moisture"), u, 1e-9);
  auto share = [&](double moisture) { return 1 - shrink * (1 - moisture / 0.30); };
  EXPECT_NEAR(value_of(e, "density_12"), 535 * 1.12 / (1 + u) * share(u) / share(0.12), 1e-6);
  // At 12 % it is the density itself.
  standin::type_into(r, "specimen.mass_dry", "34.392857 g");
  const Evaluation at = methods::evaluate(r);
  EXPECT_NEAR(value_of(at, "density_12"), value_of(at, "density"), 1e-3);
}

TEST(Density, AReadingMarkedDoubtfulIsOutAndSaid) {
  TestRecord r = block();
  retype(r, 1, "mass", "48.51 g");
  ASSERT_TRUE(mark_row(r, "run.readings.1.state", "doubtful"));
  const Evaluation e = methods::evaluate(r);
  EXPECT_NEAR(value_of(e, "density"), 38.525e-3 / 72e-6, 1e-9);
  EXPECT_NE(e.finding("doubtful-left-out"), nullptr);
}

TEST(Density, FindingsOfTheScale) {
  TestRecord drying = block();
  for (size_t i = 0; i < 3; ++i)
    retype(drying, i, "mass", std::vector<std::string>{"38.52 g", "38.47 g", "38.41 g"}[i]);
  ASSERT_NE(methods::evaluate(drying).finding("mass-drift"), nullptr);
  EXPECT_NE(methods::evaluate(drying).finding("mass-drift")->message.find("dries"), std::string::npos);
  EXPECT_NE(methods::evaluate(in_water({{"10.00 g", "1.00 g"}, {"10.00 g", "1.07 g"}, {"10.00 g", "0.98 g"}}))
                .finding("bubbles"),
            nullptr);
  EXPECT_EQ(methods::evaluate(in_water({{"10.00 g", "1.00 g"}, {"10.00 g", "1.02 g"}, {"10.00 g", "0.99 g"}}))
                .finding("bubbles"),
            nullptr);
  TestRecord steel = block();
  standin::type_into(steel, "specimen.family", "carbon steel");
  EXPECT_NE(methods::evaluate(steel).finding("density-unlikely"), nullptr);
  TestRecord uneven = block();
  standin::type_list(uneven, "specimen.length", {"60.0 mm", "61.2 mm", "60.3 mm"});
  EXPECT_NE(methods::evaluate(uneven).finding("dimension-spread"), nullptr);
  EXPECT_NE(methods::evaluate(in_water({{"1.00 g", "10.00 g"}})).finding("bubbles"), nullptr) << "columns exchanged";
}

TEST(Density, NothingWeighedIsNoCrash) {
  TestRecord r;
  r.method = "density";
  EXPECT_TRUE(methods::evaluate(r).results.empty());
  r = block();
  r.run = {};
  EXPECT_EQ(methods::evaluate(r).find("density"), nullptr);
  EXPECT_TRUE(methods::evaluate(in_water({{"10.00 g", ""}})).find("density") == nullptr);
  EXPECT_TRUE(methods::evaluate(in_water({{"", "1.00 g"}})).find("density") == nullptr);
}

TEST(Density, BudgetAgreesWithMonteCarlo) {
  TestRecord wood = block();
  standin::type_into(wood, "specimen.species", "larch");
  standin::type_into(wood, "specimen.mass_dry", "33.50 g");
  for (const TestRecord& r : {wood, in_water({{"10.01 g", "1.00 g"}, {"10.00 g", "1.01 g"}, {"10.00 g", "1.00 g"}})}) {
    const Evaluation e = methods::evaluate(r);
    const auto spread = monte_carlo(methods::find("density")->uncertainty(r), 10000, 7);
    for (const char* key : {"density", "moisture", "density_12"}) {
      if (e.find(key) == nullptr) continue;
      EXPECT_NEAR(e.find(key)->standard_uncertainty, spread.at(key), 0.1 * spread.at(key)) << key;
    }
  }
}

}  // namespace
}  // namespace fortitor::density_test
