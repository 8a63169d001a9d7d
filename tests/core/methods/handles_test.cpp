// Whatever can be dragged on a figure: where it stands it changes nothing, and moved it says so in the setting and in
// the result.
#include "tests/core/methods/made.h"

namespace fortitor::handles_test {
namespace {

// As the window does it: the other settings of the gesture, then its own, typed.
TestRecord dragged(const TestRecord& piece, const Handle& h, double at) {
  const Method& m = *methods::find(piece.method);
  TestRecord r = piece;
  for (const auto& [path, typed] : h.with) standin::type_into(r, path, typed);
  EXPECT_NE(m.field(h.setting), nullptr) << h.setting;
  standin::type_into(r, h.setting,
                     plain_number(h.from + at * h.per, 6) + " " + std::string(internal_symbol(h.dimension)));
  return r;
}

double place(const Handle& h) {
  return h.along_x ? h.at.x : h.at.y;
}

std::vector<Handle> handles_of(const Evaluation& e) {
  std::vector<Handle> out;
  for (const Figure& f : e.figures)
    for (const Panel& p : f.panels)
      for (const Handle& h : p.handles)
        if (std::none_of(out.begin(), out.end(), [&](const Handle& o) { return o.setting == h.setting; }))
          out.push_back(h);
  return out;
}

class Handles : public testing::TestWithParam<const Method*> {};

TEST_P(Handles, WhereTheyStandNothingMoves) {
  const Method& m = *GetParam();
  TestRecord piece = made_short(m, "", 7, "", 20);
  if (m.id == "tension-plastic") standin::type_into(piece, "settings.at_strain", "2 %");
  if (m.id == "compression-solid") standin::type_into(piece, "settings.at_strain", "1.5 %");
  const Evaluation e = methods::evaluate(piece, {.uncertainty = false});
  for (const Handle& h : handles_of(e)) {
    // A place between two readings is typed to six figures, and looked for among the readings.
    const Evaluation same = methods::evaluate(dragged(piece, h, place(h)), {.uncertainty = false});
    for (const ResultValue& r : e.results) {
      if (r.is_text() || r.value == 0 || r.spec.name.find("R²") != std::string::npos ||
          r.spec.name.find("error") != std::string::npos)
        continue;
      // Of an automatic window the ends lie on readings, of a drawn one where it is drawn.
      if (r.spec.key == "modulus_from" || r.spec.key == "modulus_to" || r.spec.key == "toe_shift") continue;
      const ResultValue* now = same.find(r.spec.key);
      ASSERT_NE(now, nullptr) << h.setting << " takes " << r.spec.key << " away";
      EXPECT_NEAR(now->value, r.value, 0.02 * std::abs(r.value)) << h.setting << " " << r.spec.key;
    }
  }
}

TEST_P(Handles, MovedTheySayWhere) {
  const Method& m = *GetParam();
  const TestRecord piece = made_short(m, "", 7, "", 20);
  const Evaluation e = methods::evaluate(piece, {.uncertainty = false});
  for (const Handle& h : handles_of(e))
    for (const double factor : {0.7, 0.9, 1.1, 1e-6, 1e6}) {
      const TestRecord r = dragged(piece, h, place(h) * factor);
      const Evaluation moved = methods::evaluate(r, {.uncertainty = false});
      EXPECT_EQ(moved.finding("evaluation-failed"), nullptr) << h.setting << " at " << factor;
      EXPECT_EQ(moved.finding("entry-refused"), nullptr) << h.setting << " at " << factor;
      for (const ResultValue& x : moved.results) EXPECT_TRUE(x.is_text() || std::isfinite(x.value)) << x.spec.key;
    }
}

// A contact that is set where the plate carries a load already would leave out what came before: 25 J were absorbed
// then where 16.7 J were.
TEST(DropContact, CutsNoLoadOff) {
  const TestRecord piece = made_short(*methods::find("drop-impact"), "", 7, "", 20);
  const Evaluation found = methods::evaluate(piece, {.uncertainty = false});
  const double lasts = found.find("contact_time")->value;  // s
  int taken = 0, refused = 0;
  for (int i = -20; i <= 40; ++i) {
    TestRecord r = piece;
    standin::type_into(r, "settings.contact_later", plain_number(0.02 * i * lasts, 6) + " s");
    const Evaluation e = methods::evaluate(r, {.uncertainty = false});
    const double absorbed = e.find("energy_absorbed")->value, was = found.find("energy_absorbed")->value;
    if (e.finding("pick-outside") != nullptr) {
      ++refused;
      EXPECT_DOUBLE_EQ(absorbed, was) << i;
    } else {
      ++taken;
      EXPECT_NEAR(absorbed, was, 0.1 * was) << i;
    }
  }
  EXPECT_GT(taken, 0);
  EXPECT_GT(refused, 10);
}

INSTANTIATE_TEST_SUITE_P(OfEveryMethod, Handles, testing::ValuesIn(methods::all().begin(), methods::all().end()),
                         method_test_name);

// Every window and place that stands for a choice has one.
TEST(WhatCanBeDragged, InTheMethodsThatDrawAChoice) {
  const std::vector<std::pair<const char*, std::vector<const char*>>> wanted = {
      {"tension-metal", {"settings.modulus.from", "settings.modulus.to"}},
      {"tension-plastic", {"settings.modulus.from_strain", "settings.modulus.to_strain", "settings.at_strain"}},
      {"tension-composite", {"settings.modulus.from_strain", "settings.modulus.to_strain"}},
      {"flatwise-tension", {"settings.modulus.from", "settings.modulus.to"}},
      {"compression-solid", {"settings.at_strain"}},
      {"crush-shell", {"settings.first_peak", "settings.stroke_limit"}},
      {"flexure-beam", {"settings.proportional_limit.force"}},
      {"proof-load", {"settings.elastic_limit"}}};
  for (const auto& [id, settings] : wanted) {
    const Method& m = *methods::find(id);
    TestRecord piece = made_short(m, "", 7, "", 20);
    if (m.field("settings.at_strain") != nullptr) standin::type_into(piece, "settings.at_strain", "1.5 %");
    const auto handles = handles_of(methods::evaluate(piece, {.uncertainty = false}));
    for (const char* setting : settings)
      EXPECT_TRUE(std::any_of(handles.begin(), handles.end(), [&](const Handle& h) { return h.setting == setting; }))
          << id << " " << setting;
  }
}

TEST(CrushShell, AnotherPeakCanBePicked) {
  TestRecord r = record_of("crush-shell", {{"specimen.height", {"100 mm"}}, {"settings.stroke_limit", {"50 mm"}}});
  std::vector<double> t, f, x;
  for (int i = 0; i <= 6000; ++i) {
    const double s = 0.01 * i;
    t.push_back(0.1 * i);
    x.push_back(s);
    // A shoulder at 1 mm that falls by 8 %, then the peak at 3 mm.
    f.push_back(s < 1     ? 8000 * s
                : s < 1.2 ? 8000 - 3200 * (s - 1)
                : s < 3   ? 7360 + 1500 * (s - 1.2)
                          : std::max(4000.0, 10060 - 6000 * (s - 3)));
  }
  set_channels(r, {{"time", t}, {"force", f}, {"crosshead", x}});
  EXPECT_NEAR(value(methods::evaluate(r), "peak_force"), 10060, 1);
  standin::type_into(r, "settings.first_peak", "1 mm");
  const Evaluation picked = methods::evaluate(r);
  EXPECT_NEAR(value(picked, "peak_force"), 8000, 1);
  EXPECT_NEAR(value(picked, "max_force"), 10060, 1) << "the largest force stays what it is";
  EXPECT_EQ(picked.find("peak_force")->how.front().with, "the maximum picked at 1.00 mm");
  EXPECT_EQ(picked.finding("pick-outside"), nullptr);
  standin::type_into(r, "settings.first_peak", "1 m");
  const Evaluation outside = methods::evaluate(r);
  EXPECT_NEAR(value(outside, "peak_force"), 10060, 1);
  EXPECT_NE(outside.finding("pick-outside"), nullptr);
}

TEST(ProofLoad, TheLimitOfItsLineCanBePicked) {
  TestRecord r = made_short(*methods::find("proof-load"), "", 7, "", 20);
  const double by_rule = value(methods::evaluate(r), "elastic_limit_force");
  ASSERT_GT(by_rule, 0);
  standin::type_into(r, "settings.elastic_limit", plain_number(0.8 * by_rule, 6) + " N");
  const Evaluation picked = methods::evaluate(r);
  EXPECT_NEAR(value(picked, "elastic_limit_force"), 0.8 * by_rule, 1e-3 * by_rule);
  EXPECT_EQ(picked.find("elastic_limit_force")->how.front().with, "picked on the curve");
  // Beyond the largest force nothing was seen.
  EXPECT_EQ(picked.finding("pick-outside"), nullptr);
  standin::type_into(r, "settings.elastic_limit", "10 MN");
  const Evaluation outside = methods::evaluate(r);
  EXPECT_NEAR(value(outside, "elastic_limit_force"), by_rule, 1e-6 * by_rule);
  EXPECT_NE(outside.finding("pick-outside"), nullptr) << "what was asked for is not dropped in silence";
}

}  // namespace
}  // namespace fortitor::handles_test
