// Plastics, composites, sandwich, compression and crush against curves whose answers are known.
#include "core/methods/support/pulled.h"

#include <set>

#include "tests/core/methods/method_records.h"

namespace fortitor::pulled_test {
namespace {

struct Curve {
  std::vector<double> time, force, extension, crosshead;
  void add(double strain, double stress, double area, double length) {
    time.push_back(0.02 * double(time.size()));
    force.push_back(stress * area);
    extension.push_back(strain * 50);
    crosshead.push_back(strain * length);
  }
  void fall() {
    for (int i = 0; i < 8; ++i) {
      time.push_back(time.back() + 0.02);
      force.push_back(0.5);
      extension.push_back(extension.back());
      crosshead.push_back(crosshead.back());
    }
  }
};

TestRecord dumbbell() {
  return record_of("tension-plastic", {{"specimen.section.shape", {"flat"}},
                                       {"specimen.section.width", {"10.01 mm", "9.99 mm", "10.00 mm"}},
                                       {"specimen.section.thickness", {"4.01 mm", "3.99 mm", "4.00 mm"}},
                                       {"specimen.grip_separation", {"115 mm"}},
                                       {"specimen.extensometer_length", {"50 mm"}}});
}

TEST(Pulled, TheTouchIsTheLastReadingBelowWhatIsFelt) {
  EXPECT_EQ(touch_of({}, 0), 0u);
  EXPECT_EQ(touch_of({0, 0, 0, 1, 50, 100, 200}, 6), 2u) << "half a per cent of the largest is felt";
  EXPECT_EQ(touch_of({0, 0, 0, 0.99, 50, 100, 200}, 6), 3u);
  EXPECT_EQ(touch_of({10, 20, 30, 40, 50}, 4), 0u) << "it begins loaded";
  EXPECT_EQ(touch_of({0, 0, 0, 0, 0}, 4), 0u);
}

TEST(TensionPlastic, YieldStrengthBreakAndModulus) {
  Curve c;
  for (int i = 0; i < 400; ++i) {  // 2 GPa, zero slope at 4 %, drawing at 30 MPa to 60 %, 35 MPa at the break
    const double e = 0.04 * i / 399;
    c.add(e, 40 * (1 - std::pow(1 - e / 0.04, 2)), 40, 115);
  }
  for (int i = 1; i <= 200; ++i) c.add(0.04 + 0.06 * i / 200, 40 - 10.0 * i / 200, 40, 115);
  for (int i = 1; i <= 400; ++i) c.add(0.1 + 0.3 * i / 400, 30 + 5.0 * i / 400, 40, 115);
  c.fall();
  TestRecord r = dumbbell();
  set_channels(r, {{"time", c.time}, {"force", c.force}, {"extension", c.extension}, {"crosshead", c.crosshead}});
  const Evaluation e = methods::evaluate(r);
  EXPECT_NEAR(value_of(e, "sigma_y"), 40, 0.01);
  EXPECT_NEAR(value_of(e, "eps_y"), 0.04, 2e-4);
  EXPECT_NEAR(value_of(e, "sigma_m"), 40, 0.01);
  EXPECT_NEAR(value_of(e, "sigma_b"), 35, 0.1);
  EXPECT_NEAR(value_of(e, "eps_b"), 0.4, 0.002);
  auto sigma = [](double x) { return 40 * (1 - std::pow(1 - x / 0.04, 2)); };
  EXPECT_NEAR(value_of(e, "e_modulus"), (sigma(0.0025) - sigma(0.0005)) / 0.002, 4);
  standin::type_into(r, "settings.at_strain", "20 %");
  EXPECT_NEAR(value_of(methods::evaluate(r), "sigma_x"), 30 + 5.0 / 3, 0.1);
}

// Slack to 0.06 %, a foot of a parabola over the next 0.1 %, then a line of 2 GPa that meets the axis at 0.11 %; broken
// at 4 %.
TEST(TensionPlastic, StrainBeginsAtTheFootOrAtThePrestress) {
  auto sigma = [](double e) {
    return e < 0.0006 ? 0.0 : e < 0.0016 ? 1e6 * (e - 0.0006) * (e - 0.0006) : 2000 * (e - 0.0011);
  };
  auto with = [&](const char* method, const char* school, const char* prestress) {
    Curve c;
    for (int i = 0; i < 20; ++i) c.add(0, 0, 40, 115);
    for (int i = 0; i <= 4000; ++i) {
      const double e = 0.04 * i / 4000;
      c.add(e, sigma(e), 40, 115);
    }
    c.fall();
    TestRecord r = dumbbell();
    r.method = method;
    set_channels(r, {{"time", c.time}, {"force", c.force}, {"extension", c.extension}});
    if (*school != 0) standin::type_into(r, "settings.toe", school);
    if (*prestress != 0) standin::type_into(r, "settings.prestress", prestress);
    return methods::evaluate(r);
  };
  const Evaluation foot = with("tension-plastic", "", "");
  EXPECT_NEAR(value_of(foot, "toe_shift"), 0.0011, 2e-6);
  EXPECT_NEAR(value_of(foot, "eps_b"), 0.0389, 2e-5);
  EXPECT_NE(foot.finding("toe-large"), nullptr);
  const Evaluation loaded = with("tension-plastic", "preload", "0.9 MPa");
  const double begins = 0.0006 + std::sqrt(0.9 / 1e6);
  EXPECT_NEAR(value_of(loaded, "toe_shift"), begins, 2e-6);
  EXPECT_NEAR(value_of(loaded, "eps_b"), 0.04 - begins, 2e-5);
  EXPECT_NEAR(value_of(loaded, "e_modulus"), 2000, 2);
  EXPECT_EQ(loaded.finding("toe-large"), nullptr) << "nothing is taken off";
  EXPECT_EQ(loaded.finding("prestress-large"), nullptr);
  EXPECT_NE(with("tension-plastic", "preload", "1.1 MPa").finding("prestress-large"), nullptr) << "E/2000 is 1 MPa";
  EXPECT_NEAR(value_of(with("tension-composite", "preload", "0.9 MPa"), "toe_shift"), begins, 2e-6);
}

TEST(TensionPlastic, NoYieldWithoutAZeroSlope) {
  Curve c;
  for (int i = 0; i < 500; ++i) c.add(0.03 * i / 499, 3000 * 0.03 * i / 499, 40, 115);
  c.fall();
  TestRecord r = dumbbell();
  set_channels(r, {{"time", c.time}, {"force", c.force}, {"extension", c.extension}, {"crosshead", c.crosshead}});
  const Evaluation e = methods::evaluate(r);
  EXPECT_EQ(e.find("sigma_y"), nullptr);
  EXPECT_NEAR(value_of(e, "e_modulus"), 3000, 1);
  EXPECT_NEAR(value_of(e, "sigma_b"), 90, 0.2);
}

TEST(TensionPlastic, AClipOnGaugeBeyondHalfIsSaid) {
  Curve c;
  for (int i = 0; i < 500; ++i) c.add(0.9 * i / 499, 30 * (1 - std::exp(-20.0 * i / 499)), 40, 115);
  c.fall();
  TestRecord r = dumbbell();
  set_channels(r, {{"time", c.time}, {"force", c.force}, {"extension", c.extension}, {"crosshead", c.crosshead}});
  EXPECT_NE(methods::evaluate(r).finding("extensometer-unsuited"), nullptr);
  r.events.push_back({c.time[20], "extensometer-removed", ""});
  EXPECT_EQ(methods::evaluate(r).finding("extensometer-unsuited"), nullptr) << "it came off in time";
}

TestRecord laminate() {
  return record_of("tension-composite", {{"specimen.section.shape", {"flat"}},
                                         {"specimen.section.width", {"25.01 mm", "24.99 mm", "25.00 mm"}},
                                         {"specimen.section.thickness", {"2.01 mm", "1.99 mm", "2.00 mm"}},
                                         {"specimen.grip_separation", {"150 mm"}}});
}

TEST(TensionComposite, ChordRatioTransitionAndBending) {
  TestRecord r = laminate();
  std::vector<double> t, f, strain, lateral, front, back;
  for (int i = 0; i <= 1000; ++i) {
    const double e = 0.012 * i / 1000;
    const double s = e < 0.005 ? 60000 * e : 300 + 45000 * (e - 0.005);
    t.push_back(0.05 * i);
    f.push_back(s * 50);
    front.push_back(e * 1.06);
    back.push_back(e * 0.94);
    lateral.push_back(-0.3 * e);
  }
  for (int i = 0; i < 6; ++i) {
    t.push_back(t.back() + 0.05);
    f.push_back(1);
    for (auto* v : {&front, &back, &lateral}) v->push_back(v->back());
  }
  set_channels(
      r, {{"time", t}, {"force", f}, {"strain_front", front}, {"strain_back", back}, {"strain_lateral", lateral}});
  standin::type_into(r, "specimen.after.failure.type", "L");
  standin::type_into(r, "specimen.after.failure.area", "A");
  standin::type_into(r, "specimen.after.failure.place", "T");
  const Evaluation e = methods::evaluate(r);
  EXPECT_NEAR(value_of(e, "e_chord"), 60000, 30);
  EXPECT_NEAR(value_of(e, "nu12"), 0.3, 1e-3);
  EXPECT_NEAR(value_of(e, "eps_m"), 0.012, 1e-5);
  EXPECT_NEAR(value_of(e, "sigma_m"), 300 + 45000 * 0.007, 0.1);
  EXPECT_NEAR(value_of(e, "transition_strain"), 0.005, 2e-4);
  EXPECT_NEAR(value_of(e, "bending_percent"), 0.06, 1e-3);
  EXPECT_EQ(e.finding("bending-high"), nullptr);
  EXPECT_EQ(e.find("failure_code")->text, "LAT");
  EXPECT_NE(e.finding("break-at-grip"), nullptr);
}

TEST(TensionComposite, BrittleStripUsesAShareOfItsStrain) {
  TestRecord r = laminate();
  std::vector<double> t, f, strain;
  for (int i = 0; i <= 800; ++i) {
    const double e = 0.004 * i / 800;
    t.push_back(0.05 * i);
    strain.push_back(e);
    f.push_back((140000 * e + 2e6 * e * e) * 50);
  }
  for (int i = 0; i < 6; ++i) {
    t.push_back(t.back() + 0.05);
    f.push_back(1);
    strain.push_back(0.004);
  }
  set_channels(r, {{"time", t}, {"force", f}, {"strain", strain}});
  const Evaluation e = methods::evaluate(r);
  // The line through the window meets zero stress at the toe; strains are read from there. Closed form for
  // σ = aε + bε² and a window from p to q: e₀ = p·q·b/(a + b(p + q)).
  const double toe = value_of(e, "toe_shift"), from = value_of(e, "chord_from"), to = value_of(e, "chord_to");
  EXPECT_NEAR(from, 0.25 * (0.004 - toe), 1e-6);
  EXPECT_NEAR(to, 0.5 * (0.004 - toe), 1e-6);
  const double p = from + toe, q = to + toe;
  EXPECT_NEAR(toe, p * q * 2e6 / (140000 + 2e6 * (p + q)), 2e-6);
  EXPECT_NEAR(value_of(e, "e_chord"), 140000 + 2e6 * (p + q), 60);
}

TestRecord sandwich(const std::string& depth = "49.9 mm") {
  return record_of("flatwise-tension", {{"specimen.width", {"50.2 mm", "50.0 mm", "50.1 mm"}},
                                        {"specimen.depth", {depth, depth, depth}},
                                        {"specimen.thickness", {"22.5 mm", "22.4 mm", "22.6 mm"}}});
}

TEST(FlatwiseTension, ModulusStrainAndVoid) {
  TestRecord r = sandwich();
  std::vector<double> t, f, x;
  for (int i = 0; i <= 500; ++i) {
    t.push_back(0.1 * i);
    x.push_back(0.3 + 0.002 * i);  // slack first
    f.push_back(i < 50 ? 0.2 * i : 10 + 20 * (i - 50));
  }
  for (int i = 0; i < 6; ++i) {
    t.push_back(t.back() + 0.1);
    x.push_back(x.back());
    f.push_back(0);
  }
  set_channels(r, {{"time", t}, {"force", f}, {"displacement", x}});
  standin::type_into(r, "specimen.failure.core", "100 %");
  Evaluation e = methods::evaluate(r);
  const double area = 50.1 * 49.9;
  EXPECT_NEAR(value_of(e, "strength"), 9010 / area, 1e-6);
  EXPECT_NEAR(value_of(e, "modulus"), 20 / 0.002 * 22.5 / area, 0.05);
  EXPECT_NEAR(value_of(e, "strain_break"), 9010 / (20 / 0.002) / 22.5, 1e-4);
  EXPECT_EQ(e.find("failure_mode")->text, "core");
  standin::type_into(r, "specimen.failure.core", "30 %");
  standin::type_into(r, "specimen.failure.block", "60 %");
  e = methods::evaluate(r);
  EXPECT_EQ(e.verdict, Verdict::void_test);
  EXPECT_NE(e.finding("failure-sum"), nullptr) << "30 and 60 are not 100";
}

TEST(FlatwiseTension, ThicknessTakenForDepthIsSeen) {
  TestRecord r = sandwich("22.5 mm");
  r.fields.set("run.peak_force", reading_of(parse_quantity("5 kN", Dimension::force).value()));
  EXPECT_NE(methods::evaluate(r).finding("area-plane"), nullptr);
}

TEST(CompressionSolid, EitherSignAndTheGapGiveTheSamePiece) {
  for (const double sign : {1.0, -1.0}) {
    TestRecord r = record_of("compression-solid", {{"specimen.section.shape", {"round"}},
                                                   {"specimen.section.diameter", {"20.01 mm", "19.99 mm", "20.00 mm"}},
                                                   {"specimen.height", {"30.01 mm", "29.99 mm", "30.00 mm"}}});
    const double area = 3.14159265358979 * 100;
    std::vector<double> t, f, x;
    for (int i = 0; i < 60; ++i) {  // the gap
      t.push_back(0.1 * i);
      x.push_back(sign * 0.02 * i);
      f.push_back(0);
    }
    const double x0 = 0.02 * 60;
    for (int i = 0; i <= 2000; ++i) {
      const double e = 0.06 * i / 2000, s = e < 0.02 ? 3000 * e : 60 + 200 * (e - 0.02);
      t.push_back(t.back() + 0.1);
      x.push_back(sign * (x0 + e * 30));
      f.push_back(sign * s * area);
    }
    set_channels(r, {{"time", t}, {"force", f}, {"crosshead", x}});
    const Evaluation e = methods::evaluate(r);
    EXPECT_NEAR(value_of(e, "e_modulus"), 3000, 20) << sign;
    EXPECT_NEAR(value_of(e, "rp02"), 60.4, 0.6) << sign;
    EXPECT_NEAR(value_of(e, "slenderness"), 1.5, 1e-3);
    EXPECT_LT(std::abs(value_of(e, "toe_shift")), 0.0015) << "the gap is no strain";
    EXPECT_TRUE(e.find("strength")->censored->above) << "force was still climbing";
    standin::type_into(r, "settings.at_strain", "4 %");
    EXPECT_NEAR(value_of(methods::evaluate(r), "strength"), 64, 0.3) << sign;
    standin::type_into(r, "settings.grain", "perpendicular");
    EXPECT_NEAR(value_of(methods::evaluate(r), "sigma_25"), 61, 0.3);
  }
}

TEST(CompressionSolid, TallPiecesMayBuckle) {
  TestRecord r = record_of("compression-solid", {{"specimen.section.shape", {"flat"}},
                                                 {"specimen.section.width", {"20 mm"}},
                                                 {"specimen.section.thickness", {"20 mm"}},
                                                 {"specimen.height", {"60 mm"}}});
  EXPECT_NE(methods::evaluate(r).finding("buckling-risk"), nullptr);
}

TEST(CrushShell, PeakMeanEnergyAndEfficiency) {
  TestRecord r = record_of("crush-shell", {{"specimen.height", {"100 mm"}}, {"settings.stroke_limit", {"50 mm"}}});
  std::vector<double> t, f, x;
  for (int i = 0; i <= 6000; ++i) {
    const double s = 0.01 * i;
    t.push_back(0.1 * i);
    x.push_back(s);
    f.push_back(s < 1 ? 10000 * s : s < 2 ? 10000 - 6000 * (s - 1) : 4000);
  }
  set_channels(r, {{"time", t}, {"force", f}, {"crosshead", x}});
  Evaluation e = methods::evaluate(r);
  EXPECT_NEAR(value_of(e, "peak_force"), 10000, 1);
  const double area = 0.5 * 1 * 10000 + 0.5 * (10000 + 4000) + 4000 * 48;
  EXPECT_NEAR(value_of(e, "crush_energy"), area / 1000, 0.3);
  EXPECT_NEAR(value_of(e, "mean_crush_force"), (7000 + 4000 * 48) / 49.0, 15);
  EXPECT_NEAR(value_of(e, "crush_efficiency"), (7000 + 4000 * 48) / 49.0 / 10000, 0.002);
  EXPECT_EQ(e.finding("stroke-short"), nullptr);
  standin::type_into(r, "settings.stroke_limit", "80 mm");
  EXPECT_NE(methods::evaluate(r).finding("stroke-short"), nullptr);
}

TEST(CrushShell, AShellThatNeverFoldedIsABound) {
  TestRecord r = record_of("crush-shell", {{"specimen.height", {"100 mm"}}});
  std::vector<double> t, f, x;
  for (int i = 0; i <= 500; ++i) {
    t.push_back(0.1 * i);
    x.push_back(0.01 * i);
    f.push_back(50.0 * i);
  }
  set_channels(r, {{"time", t}, {"force", f}, {"crosshead", x}});
  const Evaluation e = methods::evaluate(r);
  EXPECT_NE(e.finding("no-peak"), nullptr);
  EXPECT_TRUE(e.find("peak_force")->censored->above);
}

TEST(FlatwiseTension, BudgetAgreesWithMonteCarlo) {
  TestRecord r = sandwich();
  r.fields.set("run.peak_force", reading_of(parse_quantity("9 kN", Dimension::force).value()));
  const Evaluation e = methods::evaluate(r);
  const auto spread = monte_carlo(methods::find("flatwise-tension")->uncertainty(r), 10000, 7);
  for (const char* key : {"strength", "area"})
    EXPECT_NEAR(e.find(key)->standard_uncertainty, spread.at(key), 0.1 * spread.at(key)) << key;
}

// Every method lives through empty, single and broken input.
TEST(EveryMethod, AwkwardRunsDoNotCrash) {
  const double nan = NAN;
  const std::vector<std::vector<Channel>> runs = {
      {{"time", {0}}, {"force", {1}}, {"crosshead", {0}}},
      {{"time", {nan, nan}}, {"force", {nan, nan}}, {"crosshead", {nan, nan}}},
      {{"time", {0, 1, 2, 3}}, {"force", {5, 5, 5, 5}}, {"crosshead", {1, 1, 1, 1}}},
      {{"time", {3, 2, 1, 0, 0}}, {"force", {1, 2, 3, 4, 4}}, {"crosshead", {4, 3, 2, 1, 1}}},
      {{"force", {}}},
  };
  for (const Method* m : methods::all()) {
    for (const auto& channels : runs) {
      TestRecord r;
      r.method = m->id;
      set_channels(r, channels);
      const Evaluation e = methods::evaluate(r);
      for (const ResultValue& x : e.results)
        EXPECT_TRUE(x.is_text() || std::isfinite(x.value)) << m->id << " " << x.spec.key;
      EXPECT_NO_THROW(m->plan(r));
    }
    TestRecord empty;
    empty.method = m->id;
    EXPECT_TRUE(methods::evaluate(empty).figures.empty()) << m->id;
  }
}

TEST(EveryMethod, DescribesItself) {
  for (const Method* m : methods::all()) {
    EXPECT_FALSE(m->standard.empty()) << m->id;
    EXPECT_FALSE(m->guide(Stage::set_up).cautions.empty()) << m->id << ": cautions at set up";
    EXPECT_FALSE(m->guide(Stage::run).cautions.empty()) << m->id;
    bool safety = false;
    for (const CheckItem& c : m->guide(Stage::set_up).checklist) safety = safety || c.safety;
    EXPECT_TRUE(safety) << m->id;
    for (const std::string& key : m->limit_keys) EXPECT_TRUE(m->result(key)) << m->id << " " << key;
    EXPECT_TRUE(m->result(m->series.key)) << m->id;
    std::set<std::string> paths;
    for (const FieldSpec& f : m->fields)
      EXPECT_TRUE(paths.insert(f.path).second) << m->id << ": " << f.path << " twice";
    for (const School& s : m->schools) EXPECT_NE(m->field(s.setting), nullptr) << m->id << " " << s.setting;
    ASSERT_NE(standin::find_bench(m->standin), nullptr) << m->id;
  }
}

// Results that every simulated piece of a method must have, with a derivation each.
TEST(EveryMethod, SimulatesEvaluatesAndExplains) {
  for (const Method* m : methods::all()) {
    const standin::Bench& bench = *standin::find_bench(m->standin);
    for (const Choice& piece : bench.pieces) {
      standin::SimulateOptions o;
      o.method = m->id;
      o.piece = piece.value;
      o.seed = 11;
      o.sampling = 10;
      TestRecord r = bench.simulate(o);
      r.method = m->id;
      const std::string written = record_to_json(r);
      const auto again = record_from_json(written);
      ASSERT_TRUE(again) << m->id << " " << piece.value << ": " << again.error().message;
      EXPECT_TRUE(record_to_json(*again) == written) << m->id << ": written and read it is the same";
      const Evaluation e = methods::evaluate(r);
      EXPECT_GE(e.results.size(), 3u) << m->id << " " << piece.value;
      for (const ResultValue& x : e.results) EXPECT_FALSE(x.how.empty()) << m->id << " " << x.spec.key;
      TestRecord same = bench.simulate(o);
      same.method = m->id;
      EXPECT_EQ(record_to_json(same), written)
          << m->id << " " << piece.value << ": the same seed gives the same record";
    }
  }
}

}  // namespace
}  // namespace fortitor::pulled_test
