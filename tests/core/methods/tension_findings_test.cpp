// Each finding where it begins, and silence on the other side of its limit.
#include <gtest/gtest.h>

#include "core/methods/tension_metal/model.h"
#include "tests/core/methods/tension_curve.h"

namespace fortitor::tension_findings_test {
namespace {

using namespace testing_help;

Evaluation of(
    const CurveShape& s, const std::function<void(TestRecord&)>& also = [](TestRecord&) {}) {
  TestRecord r = bar();
  give_curve(r, s);
  also(r);
  return methods::evaluate(r);
}

bool has(const Evaluation& e, const char* code) {
  return e.finding(code) != nullptr;
}

TEST(Findings, TooFewPointsBelowYield) {
  CurveShape s;
  s.samples = 240;  // about 40 samples up to R_p0.2
  EXPECT_TRUE(has(of(s), "too-few-points"));
  s.samples = 1200;
  EXPECT_FALSE(has(of(s), "too-few-points"));
}

TEST(Findings, AfterMeasureIsAskedForWhenALimitWantsIt) {
  const Evaluation plain = of({});
  ASSERT_TRUE(has(plain, "no-after-measure"));
  EXPECT_EQ(plain.finding("no-after-measure")->severity, Severity::note);
  const Evaluation wanted = of(
      {}, [](TestRecord& r) { r.limits["a"].min = reading_of(parse_quantity("20 %", Dimension::elongation).value()); });
  EXPECT_EQ(wanted.finding("no-after-measure")->severity, Severity::check);
  EXPECT_EQ(wanted.verdict, Verdict::open);
  const Evaluation done =
      of({}, [](TestRecord& r) { put(r, "specimen.after.gauge_length", "59.8 mm", Dimension::length); });
  EXPECT_FALSE(has(done, "no-after-measure"));
}

TEST(Findings, BreakInTheMiddleThirdIsQuiet) {
  auto at = [](const char* x) {
    return of({}, [&](TestRecord& r) {
      put(r, "specimen.after.gauge_length", "59.8 mm", Dimension::length);
      put(r, "specimen.after.break_to_mark", x, Dimension::length);
    });
  };
  EXPECT_TRUE(has(at("16.6 mm"), "break-outside-middle"));
  EXPECT_FALSE(has(at("16.7 mm"), "break-outside-middle"));
  // The ratio method is what the finding asks for: chosen, it is answered.
  const Evaluation ratio = of({}, [](TestRecord& r) {
    put(r, "specimen.after.break_to_mark", "5 mm", Dimension::length);
    r.fields.set("settings.elongation.method", std::string("ratio"));
  });
  EXPECT_FALSE(has(ratio, "break-outside-middle"));
}

TEST(Findings, StrainThatCannotBeReadIsSaid) {
  const Evaluation e = of({}, [](TestRecord& r) {
    auto s = std::make_shared<Samples>(*r.run.samples());
    std::erase_if(s->channels, [](const Channel& c) { return c.name == "extension" || c.name == "crosshead"; });
    r.run.set_samples(s);
  });
  EXPECT_TRUE(has(e, "no-strain"));
  EXPECT_TRUE(std::isfinite(value(e, "rm")));
  EXPECT_EQ(e.find("e_modulus"), nullptr);
  ASSERT_FALSE(e.figures.empty());
  EXPECT_EQ(e.figures.front().panels.front().x.name, "time");
}

TEST(Findings, NothingWithoutACrossSection) {
  const Evaluation e = of({}, [](TestRecord& r) {
    r.fields.erase("specimen.section.width");
    r.fields.erase("specimen.section.thickness");
  });
  EXPECT_TRUE(has(e, "no-section"));
  EXPECT_TRUE(e.results.empty());
}

TEST(Findings, UnlikelyAreaByWhatItMakesOfTheStrength) {
  const Evaluation e = of({}, [](TestRecord& r) {  // 5 mm typed as 0.5 mm
    r.fields.set("specimen.section.thickness",
                 Readings{reading_of(parse_quantity("0.501 mm", Dimension::length).value()),
                          reading_of(parse_quantity("0.500 mm", Dimension::length).value()),
                          reading_of(parse_quantity("0.499 mm", Dimension::length).value())});
  });
  EXPECT_TRUE(has(e, "area-unlikely"));
  EXPECT_FALSE(has(of({}), "area-unlikely"));
}

TEST(Findings, HardeningNeedsAUniformRange) {
  CurveShape s;
  s.fracture_strain = 0.015;
  EXPECT_TRUE(has(of(s), "n-refused"));
  EXPECT_FALSE(has(of({}), "n-refused"));
  EXPECT_TRUE(std::isfinite(value(of({}), "n_value")));
}

TEST(Findings, SortingAndDroppingAreSaid) {
  const Evaluation e = of({}, [](TestRecord& r) {
    auto s = std::make_shared<Samples>(*r.run.samples());
    std::swap(s->column("time").values[500], s->column("time").values[900]);
    s->column("force").values[700] = NAN;
    r.run.set_samples(s);
  });
  EXPECT_TRUE(has(e, "time-unsorted"));
  EXPECT_TRUE(has(e, "samples-dropped"));
  EXPECT_DOUBLE_EQ(e.finding("samples-dropped")->evidence.at("samples"), 1);
}

TEST(Findings, EveryRemedyWritesASettingOfTheMethodOrWantsAReason) {
  CurveShape s;
  s.zero = 2500;
  s.toe = 0.001;
  const Evaluation e = of(s, [](TestRecord& r) {
    put(r, "specimen.after.gauge_length", "51 mm", Dimension::length);
    put(r, "specimen.after.break_to_mark", "5 mm", Dimension::length);
    put(r, "equipment.load_cell.capacity", "2 MN", Dimension::force);
    r.fields.set("settings.rate_plan", std::string("A2"));
  });
  const Method& m = *methods::find("tension-metal");
  int seen = 0;
  for (const Finding& f : e.findings) {
    EXPECT_FALSE(f.message.empty());
    EXPECT_EQ(f.message.find('!'), std::string::npos);
    if (f.severity == Severity::check) {
      EXPECT_FALSE(f.remedies.empty()) << f.code;
    }
    for (const Remedy& r : f.remedies) {
      ++seen;
      EXPECT_TRUE(!r.settings.empty() || r.wants_reason) << f.code << " " << r.id;
      for (const auto& [path, typed] : r.settings) {
        const FieldSpec* field = m.field(path);
        ASSERT_NE(field, nullptr) << path;
        EXPECT_TRUE(std::any_of(field->choices.begin(), field->choices.end(), [t = typed](const Choice& c) {
          return c.value == t;
        })) << path;
      }
    }
  }
  EXPECT_GT(seen, 6);
}

TEST(Findings, MarksNameResultsThatExist) {
  const Evaluation e = of({});
  const Method& m = *methods::find("tension-metal");
  ASSERT_EQ(e.figures.front().panels.size(), 2u) << "the whole curve and the lens";
  size_t marks = 0, handles = 0;
  for (const Panel& panel : e.figures.front().panels) {
    for (const Mark& mark : panel.marks) {
      ++marks;
      for (const Point& p : mark.points) EXPECT_TRUE(std::isfinite(p.x) && std::isfinite(p.y)) << mark.key;
      if (!mark.key.empty() && mark.key != "removal") {
        EXPECT_TRUE(m.result(mark.key)) << mark.key;
      }
    }
    for (const Handle& h : panel.handles) {
      ++handles;
      ASSERT_NE(m.field(h.setting), nullptr) << h.setting;
      for (const auto& [path, typed] : h.with) EXPECT_NE(m.field(path), nullptr) << path;
    }
  }
  EXPECT_GT(marks, 5u);
  EXPECT_GE(handles, 2u);
}

TEST(Lateral, PlasticStrainRatioOfAnIsotropicSheet) {
  const Evaluation e = of({}, [](TestRecord& r) {
    auto s = std::make_shared<Samples>(*r.run.samples());
    Channel lateral{"strain_lateral", {}};
    // ε_w = −ε_l/2 in true strain: r = 1.
    for (double x : s->find("extension")->values) lateral.values.push_back(std::expm1(-0.5 * std::log1p(x / 50)));
    s->channels.push_back(lateral);
    r.run.set_samples(s);
  });
  EXPECT_NEAR(value(e, "r_value"), 1, 0.01);
}

TEST(Thinned, KeepsTheNumbersOfTheWholeCurve) {
  TestRecord r = bar();
  CurveShape s;
  s.samples = 60000;
  give_curve(r, s);
  tension::Test whole;
  whole.in = tension::inputs_of(r, {});
  whole.section = section_of(r.fields);
  whole.curve = stress_curve(r, whole.in);
  whole.marks = tension::landmarks_of(whole.curve, r);
  tension::Test small = whole;
  small.curve = thinned(whole.curve, 4000);
  small.marks = tension::landmarks_of(small.curve, r);
  EXPECT_LT(small.curve.size(), 5000u);
  EXPECT_GT(small.curve.size(), 3000u);
  const auto a = tension::compute(r, whole, {}), b = tension::compute(r, small, {});
  for (const char* key : {"e_modulus", "rp02", "rm", "at", "toughness", "n_value"})
    EXPECT_NEAR(b.at(key) / a.at(key), 1, 0.002) << key;
}

// ISO 6892-1: the zero, once set, is not changed during the test.
TEST(TensionFindings, WhatHappenedDecidesOfAnOffset) {
  CurveShape s;
  s.zero = 900;
  auto of_events = [&](std::vector<Event> events, const char* said = "") {
    TestRecord r = bar();
    give_curve(r, s);
    r.events = std::move(events);
    if (*said != 0) r.fields.set("settings.zero", std::string(said));
    return methods::evaluate(r, {.uncertainty = false});
  };
  const Event top{-30, "top-grip-closed", ""}, zero{-20, "force-zeroed", ""}, bottom{-10, "bottom-grip-closed", ""};
  const double shifted = value(of_events({}), "rm"), kept = shifted + 9;  // 900 N on 100 mm²
  struct Case {
    std::vector<Event> events;
    const char* said;
    double rm;
    Severity severity;
  };
  for (const Case& c : std::vector<Case>{
           {{}, "", shifted, Severity::check},
           {{top, zero, bottom}, "", kept, Severity::note},
           {{bottom, top, zero}, "", kept, Severity::note},
           {{top, zero}, "", shifted, Severity::note},
           {{top, bottom}, "", shifted, Severity::check},
           {{top, {-20, "bottom-grip-closed", ""}, {-10, "force-zeroed", ""}}, "", shifted, Severity::note},
           {{top, zero, bottom}, "shift", shifted, Severity::check},
           {{}, "keep", kept, Severity::check}}) {
    const Evaluation e = of_events(c.events, c.said);
    EXPECT_NEAR(value(e, "rm"), c.rm, 1e-9) << c.events.size() << c.said;
    ASSERT_NE(e.finding("not-zeroed"), nullptr) << c.events.size() << c.said;
    EXPECT_EQ(e.finding("not-zeroed")->severity, c.severity) << c.events.size() << c.said;
  }
}

}  // namespace
}  // namespace fortitor::tension_findings_test
