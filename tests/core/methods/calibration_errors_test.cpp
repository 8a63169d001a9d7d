// Errors of a calibration certificate in the budget: read, interpolated, and what falls back on the class.
#include <gtest/gtest.h>

#include "core/methods/method.h"
#include "core/methods/support/calibration.h"
#include "core/standin/tension_bench.h"

namespace fortitor::calibration_errors_test {
namespace {

constexpr const char* kTable = "10 kN: 0.12 ± 0.20 %; 50 kN: −0.28 ± 0.40 %; 20 kN: 0.02 ± 0.24 %";

TEST(CalibrationErrors, StandOnStraightLinesBetweenTheirPoints) {
  const auto points = calibration::read(kTable, Dimension::force);
  ASSERT_TRUE(points) << points.error().message;
  ASSERT_EQ(points->size(), 3u);
  EXPECT_EQ((*points)[0].at, 10e3);
  EXPECT_EQ((*points)[2].at, 50e3);
  const auto mid = calibration::at(*points, 35e3);  // half way from 20 to 50 kN
  ASSERT_TRUE(mid);
  EXPECT_NEAR(mid->error, -0.0013, 1e-12);
  EXPECT_NEAR(mid->expanded, 0.0032, 1e-12);
  // U/2 = 0.16 %, error 0.13 %/√3 = 0.0751 %.
  EXPECT_NEAR(calibration::standard(*mid), 0.0017673, 1e-7);
  EXPECT_NEAR(calibration::at(*points, 9.5e3)->expanded, 0.0020, 1e-12) << "just outside: its end";
  EXPECT_FALSE(calibration::at(*points, 5e3));
  EXPECT_FALSE(calibration::at(*points, 80e3));
  EXPECT_FALSE(calibration::at(*points, NAN));
  EXPECT_NEAR(calibration::at(*calibration::read("10 kN: 0 ± 0.2 %", Dimension::force), 10e3)->expanded, 0.002, 1e-12);
}

TEST(CalibrationErrors, WhatCannotBeReadIsSaid) {
  for (const char* wrong :
       {"10 kN 0.12 ± 0.20 %", "10 kN: 0.12 %", "10 mm: 0.1 ± 0.2 %", "0 N: 0.1 ± 0.2 %", "10 kN: 0.1 ± 0 %",
        "10 kN: 0.1 ± −0.2 %", "10 kN: 0.1 ± 0.2 %; 10000 N: 0.3 ± 0.2 %", "10 kN: 120 ± 200 %", "10 kN: ± 0.2 %", "x"})
    EXPECT_FALSE(calibration::read(wrong, Dimension::force)) << wrong;
  EXPECT_TRUE(calibration::read("", Dimension::force)->empty());
}

double force_term(TestRecord r, const std::string& errors) {
  if (!errors.empty()) r.fields.set("equipment.load_cell.errors", errors);
  const Evaluation e = methods::evaluate(r, {});
  const ResultValue* fm = e.find("rm");
  EXPECT_NE(fm, nullptr);
  if (fm != nullptr)
    for (const BudgetTerm& t : fm->budget)
      if (t.input.starts_with("force")) return t.standard;
  ADD_FAILURE() << "no force in the budget";
  return NAN;
}

TEST(CalibrationErrors, TakeThePlaceOfTheClass) {
  const TestRecord r = standin::simulate_tension({.seed = 3});
  const double by_class = force_term(r, "");
  const double top = methods::evaluate(r, {}).find("fm")->value;
  ASSERT_GT(top, 20e3);
  EXPECT_NEAR(force_term(r, "5 kN: 0 ± 0.10 %; 100 kN: 0 ± 0.10 %"), 0.0005, 1e-9);
  EXPECT_NEAR(force_term(r, "1 kN: 0 ± 0.10 %; 2 kN: 0 ± 0.10 %"), by_class, 1e-12) << "does not reach it";
  EXPECT_NEAR(force_term(r, "nonsense"), by_class, 1e-12);
}

}  // namespace
}  // namespace fortitor::calibration_errors_test
