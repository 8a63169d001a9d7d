#include <cmath>

#include "core/methods/flexure_beam/model.h"
#include "core/reference/library.h"
#include "tests/c_text.h"
#include "tests/core/methods/method_records.h"

namespace fortitor::flexure_beam_test {
namespace {

TestRecord beam(double stiffness, double limit, int stops, double step, double bend = 0.5) {
  TestRecord r = record_of("flexure-beam", {{"specimen.width", {"40.02 mm", "39.98 mm", "40.00 mm"}},
                                            {"specimen.depth", {"30.01 mm", "29.99 mm", "30.00 mm"}},
                                            {"specimen.span", {"700 mm"}},
                                            {"specimen.species", {"ash"}},
                                            {"specimen.moisture", {"12 %"}}});
  for (int i = 0; i <= stops; ++i) {
    const double p = step * i, over = std::max(0.0, p - limit) / limit;
    char text[40];
    c_snprintf(text, sizeof text, "%.3f mm", p / stiffness * (1 + bend * over));
    add_stop(r, {{"force", std::to_string(int(p)) + " N"}, {"deflection", text}});
  }
  return r;
}

TEST(FlexureBeam, ThreePointClosedForm) {
  const Evaluation e = methods::evaluate(beam(154, 1e9, 8, 250));
  const double i = 40.0 * std::pow(30.0, 3) / 12;
  EXPECT_NEAR(value_of(e, "i_moment"), i, 1e-9 * i);
  EXPECT_NEAR(value_of(e, "stiffness"), 154, 0.01);
  EXPECT_NEAR(value_of(e, "moe"), 154 * std::pow(700.0, 3) / (48 * i), 2);
  EXPECT_NEAR(value_of(e, "moe_shear_free") / value_of(e, "moe"), 1 + 1.2 * 16 * std::pow(30.0 / 700, 2), 1e-9);
  EXPECT_TRUE(e.find("mor")->censored->above) << "nothing says that it broke";
  EXPECT_NEAR(value_of(e, "mor"), 2000 * 700.0 / 4 / (40 * 900.0 / 6), 1e-9);
}

TEST(FlexureBeam, FourPointCasesGiveTheSameModulus) {
  // A beam of E = 10 GPa deflected by each loading's own formula.
  const double inertia = 40.0 * 27000 / 12, modulus = 10000, span = 700;
  for (const auto& [loading, k, m] : {std::tuple{"three-point", 1.0 / 48, 0.25},
                                      {"third-point", 23.0 / 1296, 1.0 / 6},
                                      {"quarter-point", 11.0 / 768, 0.125}}) {
    TestRecord r = beam(1, 1e9, 0, 1);
    r.run.tables["stations"].clear();
    standin::type_into(r, "specimen.loading", loading);
    for (int i = 0; i <= 6; ++i) {
      char text[40];
      c_snprintf(text, sizeof text, "%.6f mm", k * 100 * i * std::pow(span, 3) / (modulus * inertia));
      add_stop(r, {{"force", std::to_string(100 * i) + " N"}, {"deflection", text}});
    }
    const Evaluation e = methods::evaluate(r);
    EXPECT_NEAR(value_of(e, "moe"), modulus, 0.5) << loading;
    EXPECT_NEAR(value_of(e, "pl_stress"), m * 600 * span / (40 * 900.0 / 6), 1e-6) << loading;
    EXPECT_NEAR(flexure::loading_case(loading).k, k, 1e-15);
  }
}

TEST(FlexureBeam, PointSchoolUsesOnePoint) {
  TestRecord r = beam(154, 1200, 10, 250);
  const double slope = value_of(methods::evaluate(r), "moe");
  standin::type_into(r, "settings.modulus.school", "point");
  const Evaluation e = methods::evaluate(r);
  const double i = 40.0 * 27000 / 12;
  EXPECT_NEAR(value_of(e, "moe"),
              value_of(e, "pl_force") / value_of(e, "pl_deflection") * std::pow(700.0, 3) / (48 * i), 1e-6);
  EXPECT_LT(value_of(e, "moe"), slope * 1.001);
}

TEST(FlexureBeam, AnIntervalIsOneWhereverItIsUsed) {
  TestRecord r = beam(154, 1200, 12, 250);
  standin::type_list(r, "specimen.after.broke_between", {"3000 N", "3250 N"});
  r.limits["mor"].min = reading_of(parse_quantity("90 MPa", Dimension::stress).value());
  const Evaluation e = methods::evaluate(r);
  const ResultValue* mor = e.find("mor");
  ASSERT_TRUE(mor->censored);
  EXPECT_FALSE(mor->censored->above);
  EXPECT_NEAR(mor->censored->from, 3000 * 700.0 / 4 / 6000, 1e-9);
  EXPECT_NEAR(mor->censored->to, 3250 * 700.0 / 4 / 6000, 1e-9);
  EXPECT_EQ(mor->verdict, Verdict::open) << "the limit lies inside the interval";
  EXPECT_EQ(reported(*mor, r.fields, UnitSet::si).text(), "87.5–94.8 MPa");
  EXPECT_TRUE(e.find("work_to_max")->censored->above);
  EXPECT_NE(e.finding("censored"), nullptr);
}

TEST(FlexureBeam, WhatIfShowsEveryStopAndKeepsWhatIsAsked) {
  TestRecord r = beam(154, 1200, 12, 250, 1.2);
  const Evaluation e = methods::evaluate(r);
  const Alternative* chosen = nullptr;
  for (const Alternative& a : e.alternatives)
    if (a.id == "1000 N") chosen = &a;
  ASSERT_NE(chosen, nullptr);
  EXPECT_NEAR(chosen->values.at("pl_force"), 1000, 1e-9);
  EXPECT_NEAR(chosen->values.at("pl_stress"), 1000 * 175.0 / 6000, 1e-9);
  // Taking it gives exactly what was shown.
  for (const auto& [path, typed] : chosen->settings) standin::type_into(r, path, typed);
  const Evaluation taken = methods::evaluate(r);
  EXPECT_NEAR(value_of(taken, "moe"), chosen->values.at("moe"), 1e-9);
  bool rule_kept = false;
  for (const Alternative& a : taken.alternatives) rule_kept = rule_kept || (a.id == "auto" && a.kept);
  EXPECT_TRUE(rule_kept) << "the rule's own limit stays beside a picked one";
  standin::type_list(r, "settings.proportional_limit.what_if", {"750 N"});
  int kept = 0;
  for (const Alternative& a : methods::evaluate(r).alternatives) kept += a.kept;
  EXPECT_EQ(kept, 2);
}

TEST(FlexureBeam, DoubtfulReadingsAreOutAndSaidSo) {
  TestRecord r = beam(154, 1e9, 9, 250);
  retype(r, 5, "deflection", "8.64 mm");
  Evaluation e = methods::evaluate(r);
  ASSERT_NE(e.finding("re-read"), nullptr);
  EXPECT_NEAR(e.finding("re-read")->evidence.at("station"), 5, 0);
  const Remedy* doubtful = nullptr;
  for (const Remedy& x : e.finding("re-read")->remedies)
    if (x.id == "doubtful") doubtful = &x;
  ASSERT_NE(doubtful, nullptr);
  for (const auto& [path, typed] : doubtful->settings) EXPECT_TRUE(mark_row(r, path, typed));
  e = methods::evaluate(r);
  EXPECT_EQ(e.finding("re-read"), nullptr);
  ASSERT_NE(e.finding("doubtful-left-out"), nullptr);
  EXPECT_NEAR(value_of(e, "moe"), 154 * std::pow(700.0, 3) / (48 * 90000), 5);
  EXPECT_NE(e.finding("doubtful-left-out")->evidence.at("moe"),
            e.finding("doubtful-left-out")->evidence.at("moe_with"));
}

TEST(FlexureBeam, MoistureMovesStrengthAlongTheSpeciesRule) {
  TestRecord r = beam(154, 1e9, 8, 250);
  const auto ash = find_reference({}, "ash", "wood");
  ASSERT_TRUE(ash);
  EXPECT_NEAR(value_of(methods::evaluate(r), "moe_12"), value_of(methods::evaluate(r), "moe"), 1e-9)
      << "at 12 % nothing changes";
  standin::type_into(r, "specimen.moisture", "16 %");
  const Evaluation e = methods::evaluate(r);
  const double p12 = ash->values.at("mor_12").mean, pg = ash->values.at("mor_green").mean;
  EXPECT_NEAR(value_of(e, "mor_12") / value_of(e, "mor"), std::pow(p12 / pg, 4.0 / 12.0), 1e-9)
      << "M_p of white ash is 24 %";
  standin::type_into(r, "specimen.species", "an unknown wood");
  EXPECT_NEAR(value_of(methods::evaluate(r), "mor_12") / value_of(methods::evaluate(r), "mor"), 1.16, 1e-9);
}

TEST(FlexureBeam, FindingsOfTheBeam) {
  TestRecord r = beam(154, 1e9, 3, 250);
  standin::type_into(r, "specimen.placed", "on-edge");
  r.events.push_back({12, "heard-cracking", "on the way to 2200 N"});
  Evaluation e = methods::evaluate(r);
  EXPECT_NE(e.finding("orientation"), nullptr);
  EXPECT_NE(e.finding("stations-few"), nullptr);
  EXPECT_NE(e.finding("heard-cracking"), nullptr);
  EXPECT_EQ(e.finding("span-depth-low"), nullptr);
  standin::type_into(r, "specimen.span", "400 mm");
  Rows& rows = r.run.tables["stations"];
  rows.erase(rows.begin());
  for (size_t i = 0; i < rows.size(); ++i)
    retype(r, i, "deflection", c_number(*rows[i].number("deflection") + 0.8) + " mm");
  add_stop(r, {{"force", "1000 N"}, {"deflection", "7.294 mm"}});
  e = methods::evaluate(r);
  EXPECT_NE(e.finding("span-depth-low"), nullptr);
  EXPECT_NE(e.finding("zero-point-missing"), nullptr);
}

TEST(FlexureBeam, ContinuousChannelsGiveTheSameNumbers) {
  TestRecord r = beam(1, 1e9, 0, 1);
  r.run.tables["stations"].clear();
  std::vector<double> t, f, d;
  for (int i = 0; i <= 4000; ++i) {
    const double x = 0.005 * i;
    t.push_back(0.05 * i);
    d.push_back(x);
    f.push_back(x < 16 ? 154 * x : 154 * (16 + 0.4 * (x - 16)));
  }
  for (int i = 0; i < 20; ++i) {
    t.push_back(t.back() + 0.05);
    d.push_back(20 + 0.01 * i);
    f.push_back(3);
  }
  set_channels(r, {{"time", t}, {"force", f}, {"deflection", d}});
  const Evaluation e = methods::evaluate(r);
  EXPECT_NEAR(value_of(e, "stiffness"), 154, 0.5);
  EXPECT_NEAR(value_of(e, "pl_force"), 154 * 16, 154 * 1.2);
  EXPECT_FALSE(e.find("mor")->censored) << "it broke in the run";
  EXPECT_NEAR(value_of(e, "max_force"), 154 * (16 + 0.4 * 4), 0.01);
}

TEST(FlexureBeam, NothingKeyedIsNoCrash) {
  TestRecord r = record_of("flexure-beam", {});
  const Evaluation e = methods::evaluate(r);
  EXPECT_TRUE(e.results.empty());
  add_stop(r, {{"force", "0 N"}, {"deflection", ""}});
  EXPECT_EQ(methods::evaluate(r).find("moe"), nullptr);
}

TEST(FlexureBeam, BudgetAgreesWithMonteCarlo) {
  const TestRecord r = beam(154, 1200, 10, 250);
  const Evaluation e = methods::evaluate(r);
  const auto spread = monte_carlo(methods::find("flexure-beam")->uncertainty(r), 10000, 7);
  for (const char* key : {"moe", "mor", "pl_stress", "i_moment", "stiffness"})
    EXPECT_NEAR(e.find(key)->standard_uncertainty, spread.at(key), 0.1 * spread.at(key)) << key;
}

}  // namespace
}  // namespace fortitor::flexure_beam_test
