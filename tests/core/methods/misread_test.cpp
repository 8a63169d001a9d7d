// One wrong reading among sound ones: it is named, and no sound one is named in its place.
#include <cmath>
#include <numbers>
#include <random>

#include "tests/c_text.h"
#include "tests/core/methods/method_records.h"

namespace fortitor::misread_test {
namespace {

std::string micro(double strain) {
  return std::to_string(int(std::lround(strain * 1e6))) + " µε";
}

// A steel bar that yields at stop `yield`, read every degree; strain and torque with a count of scatter.
TestRecord bar(uint32_t seed, int stops, int yield) {
  std::mt19937 random(seed);
  std::normal_distribution<double> n;
  TestRecord r = record_of("torsion-bar", {{"specimen.diameter", {"10.01 mm", "9.99 mm", "10.00 mm"}},
                                           {"specimen.length", {"200 mm"}},
                                           {"specimen.gauges", {"1"}}});
  const double degree = std::numbers::pi / 180, g = 80e3, j = std::numbers::pi * 1e4 / 32;
  for (int i = 0; i <= stops; ++i) {
    const double theta = i * degree, bent = std::max(0, i - yield) * degree;
    const double torque = (g * j / 200 * (theta - 0.75 * bent)) / 1000;
    char text[40];
    c_snprintf(text, sizeof text, "%.2f N·m", torque + 0.01 * n(random));
    add_stop(r, {{"angle", std::to_string(i) + " deg"},
                 {"torque", text},
                 {"strain_45", micro(0.5 * 5 * theta / 200 + 1e-6 * n(random))}});
  }
  return r;
}

std::vector<int> blamed(const Evaluation& e, const std::string& column = {}) {
  std::vector<int> out;
  for (const Finding& f : e.findings)
    if (f.code == "re-read" || f.code == "reading-off-line")
      if (column.empty() || f.result_key == column) out.push_back(int(f.evidence.at("station")));
  return out;
}

TEST(Misread, ACleanBarBlamesNothing) {
  for (uint32_t seed = 1; seed <= 20; ++seed) {
    const auto found = blamed(methods::evaluate(bar(seed, 24, 14), {.uncertainty = false}));
    EXPECT_TRUE(found.empty()) << "seed " << seed << " stop " << (found.empty() ? -1 : found[0]);
  }
}

TEST(Misread, AWrongTorqueIsNamedAndNoNeighbourInItsPlace) {
  int named = 0, tried = 0;
  for (uint32_t seed = 1; seed <= 4; ++seed)
    for (int at = 1; at <= 13; ++at)
      for (double off : {-0.3, -0.1, -0.05, 0.05, 0.1, 0.3, 0.9}) {
        TestRecord r = bar(seed, 24, 14);
        const double was = *r.run.tables["stations"][size_t(at)].number("torque") / 1000;
        char text[40];
        c_snprintf(text, sizeof text, "%.2f N·m", was * (1 + off));
        retype(r, size_t(at), "torque", text);
        const auto found = blamed(methods::evaluate(r, {.uncertainty = false}));
        ++tried;
        for (int stop : found) EXPECT_EQ(stop, at) << "seed " << seed << " torque off by " << off << " at " << at;
        named += found.empty() ? 0 : 1;
      }
  EXPECT_GT(named, tried * 8 / 10) << "of " << tried;
}

TEST(Misread, AWrongStrainIsNamedAndNoNeighbourInItsPlace) {
  int named = 0, tried = 0;
  for (uint32_t seed = 1; seed <= 4; ++seed)
    for (int at = 1; at <= 22; ++at)
      for (double off : {-0.4, -0.1, 0.1, 0.4}) {
        TestRecord r = bar(seed, 24, 14);
        retype(r, size_t(at), "strain_45",
               micro(*r.run.tables["stations"][size_t(at)].number("strain_45") * (1 + off)));
        const auto found = blamed(methods::evaluate(r, {.uncertainty = false}));
        ++tried;
        for (int stop : found) EXPECT_EQ(stop, at) << "seed " << seed << " off by " << off << " at " << at;
        named += found.empty() ? 0 : 1;
      }
  EXPECT_GT(named, tried * 8 / 10) << "of " << tried;
}

// A strip read at nine loads; every load and every kind of slip of the pen.
TestRecord strip(uint32_t seed) {
  std::mt19937 random(seed);
  std::normal_distribution<double> n;
  TestRecord r = record_of("poisson-gauge", {{"specimen.section.shape", {"flat"}},
                                             {"specimen.section.width", {"25.41 mm", "25.39 mm", "25.42 mm"}},
                                             {"specimen.section.thickness", {"3.21 mm", "3.19 mm", "3.20 mm"}}});
  for (int i = 0; i <= 8; ++i) {
    const double strain = 1000.0 * i / (81.3 * 114e3);
    add_stop(r, {{"force", std::to_string(1000 * i) + " N"},
                 {"strain_long", micro(strain + 4e-7 * n(random))},
                 {"strain_lat", micro(-0.33 * strain + 4e-7 * n(random))}});
  }
  return r;
}

TEST(Misread, AWrongLoadOrStrainOfAStripIsNamed) {
  for (uint32_t seed = 1; seed <= 6; ++seed)
    for (int at = 1; at <= 7; ++at) {
      TestRecord digit = strip(seed);
      retype(digit, size_t(at), "strain_long",
             micro(*digit.run.tables["stations"][size_t(at)].number("strain_long") + 100e-6));
      for (int stop : blamed(methods::evaluate(digit, {.uncertainty = false}))) EXPECT_EQ(stop, at);
      EXPECT_FALSE(blamed(methods::evaluate(digit, {.uncertainty = false})).empty()) << seed << " " << at;
      TestRecord load = strip(seed);  // the load was not what was written: both channels lie off together
      load.run.tables["stations"][size_t(at)].cells.set(
          "force", reading_of(parse_quantity(std::to_string(1000 * at + 300) + " N", Dimension::force).value()));
      const auto found = blamed(methods::evaluate(load, {.uncertainty = false}));
      EXPECT_FALSE(found.empty()) << seed << " " << at;
      for (int stop : found) EXPECT_EQ(stop, at) << "seed " << seed;
    }
}

TEST(Misread, AWrongLastStopIsSaidToRestOnItself) {
  for (double off : {0.1, -0.1}) {
    TestRecord r = strip(3);
    retype(r, 8, "strain_long", micro(*r.run.tables["stations"][8].number("strain_long") * (1 + off)));
    const Evaluation e = methods::evaluate(r);
    const Finding* f = e.finding("last-reading");
    ASSERT_NE(f, nullptr);
    EXPECT_EQ(f->severity, Severity::check);
    EXPECT_NE(f->message.find("rests on one reading"), std::string::npos) << f->message;
    EXPECT_EQ(e.finding("nonlinear"), nullptr) << "one reading is no curve";
    EXPECT_EQ(e.finding("re-read"), nullptr) << "and none of the sound ones is blamed";
    r.run.open = true;  // still loaded: the words are those of the call-out sheet
    EXPECT_NE(methods::evaluate(r).finding("re-read"), nullptr);
    EXPECT_EQ(methods::evaluate(r).finding("last-reading"), nullptr);
  }
  EXPECT_EQ(methods::evaluate(strip(3)).finding("last-reading"), nullptr);
}

TEST(Misread, ALastStopOfABeamIsANote) {
  TestRecord r = record_of("flexure-beam", {{"specimen.width", {"40.02 mm", "39.98 mm", "40.01 mm"}},
                                            {"specimen.depth", {"30.01 mm", "29.99 mm", "30.02 mm"}},
                                            {"specimen.span", {"700 mm"}}});
  for (int i = 0; i <= 8; ++i) {
    char text[40];
    c_snprintf(text, sizeof text, "%.2f mm", 1.62 * i + (i == 8 ? 1.5 : 0));
    add_stop(r, {{"force", std::to_string(250 * i) + " N"}, {"deflection", text}});
  }
  const Evaluation e = methods::evaluate(r);
  ASSERT_NE(e.finding("last-reading"), nullptr);
  EXPECT_EQ(e.finding("last-reading")->severity, Severity::note);
}

TEST(Misread, AGaugeFrozenButForItsLastDigitIsLost) {
  TestRecord r = bar(1, 24, 14);
  for (size_t i = 16; i <= 24; ++i) retype(r, i, "strain_45", i % 2 ? "6982 µε" : "6983 µε");
  const Evaluation e = methods::evaluate(r);
  ASSERT_NE(e.finding("gauge-lost"), nullptr);
  EXPECT_EQ(int(e.finding("gauge-lost")->evidence.at("station")), 17) << e.finding("gauge-lost")->message;
  EXPECT_EQ(methods::evaluate(bar(1, 24, 14)).finding("gauge-lost"), nullptr);
}

TEST(Misread, SmallStepsAreNoFrozenGauge) {
  // Three stops a hundredth of a degree apart: the gauge could not have moved by more than a digit.
  TestRecord r = record_of(
      "torsion-bar", {{"specimen.diameter", {"10.01 mm", "9.99 mm", "10.02 mm"}}, {"specimen.length", {"200 mm"}}});
  const double degree = std::numbers::pi / 180;
  for (double angle : {0.0, 1.0, 2.0, 3.0, 4.0, 5.0, 5.01, 5.02, 5.03}) {
    char turned[32], torque[32];
    c_snprintf(turned, sizeof turned, "%.2f deg", angle);
    c_snprintf(torque, sizeof torque, "%.2f N·m", 80e3 * 981.7 / 200 * angle * degree / 1000);
    add_stop(r, {{"angle", turned}, {"torque", torque}, {"strain_45", micro(0.5 * 5 * angle * degree / 200)}});
  }
  EXPECT_EQ(methods::evaluate(r).finding("gauge-lost"), nullptr);
}

}  // namespace
}  // namespace fortitor::misread_test
