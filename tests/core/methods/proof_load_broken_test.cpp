// Components pulled in parts, from a model: a spring with a yield point that is loaded, held, unloaded, stopped or
// broken. Whatever the sampling and however long the break takes, a piece that broke has broken and one that did not
// has not.
#include <gtest/gtest.h>

#include <cmath>

#include "tests/core/methods/chance.h"
#include "tests/core/methods/made.h"

namespace fortitor::proof_load_broken_test {
namespace {

enum class End { unloaded, broken, stopped };

struct Part {
  double hertz = 20, stiffness = 8000, top = 20e3, start = 0, preload = 0, hold = 1, offset = 0, noise = 0;
  End end = End::unloaded;
  double break_seconds = 0.03;
};

SamplesPtr run_of(const Part& p, Chance& chance) {
  auto s = std::make_shared<Samples>();
  s->channels = {{"time", {}}, {"force", {}}, {"displacement", {}}};
  const double dt = 1 / p.hertz, rate = p.top / 5;
  double t = 0;
  const auto read = [&](double force, double travel) {
    s->channels[0].values.push_back(t);
    s->channels[1].values.push_back(force + p.offset + p.noise * chance.normal());
    s->channels[2].values.push_back(travel + 1e-3 * chance.normal());
    t += dt;
  };
  for (double f = p.preload; f < p.top; f += rate * dt) read(f, p.start + f / p.stiffness);
  const double far = p.start + p.top / p.stiffness, set = 0.02 * p.top / p.stiffness;
  read(p.top, far);
  if (p.end == End::broken) {
    const int n = std::max(1, int(p.break_seconds * p.hertz));
    for (int i = 1; i <= n; ++i) read(p.top * (1 - double(i) / n), far + 0.3 * i / n);
    for (int i = 0; i < 3; ++i) read(0, far + 0.35 + 0.05 * i);
    return s;
  }
  for (double h = 0; h < p.hold; h += dt) read(p.top * (1 - 0.01 * std::min(1.0, h)), far);
  const double held = p.hold > 0 ? 0.99 * p.top : p.top;
  for (double f = held; f > p.preload; f -= 2 * rate * dt)
    read(f, far - (held - f) / p.stiffness + set * (held - f) / held);
  read(p.preload, far - (held - p.preload) / p.stiffness + set);
  return s;
}

TestRecord record_of_parts(const std::vector<Part>& cycles, const std::optional<Part>& destruction, uint64_t seed) {
  Chance chance(seed);
  TestRecord r = record_of(
      "proof-load", {{"specimen.rated", {"10 kN"}}, {"specimen.proof", {"20 kN"}}, {"specimen.rule.text", {"proof"}}});
  for (const Part& p : cycles) {
    Segment s;
    s.name = "cycles";
    s.samples = run_of(p, chance);
    r.run.segments.push_back(s);
  }
  if (destruction) {
    Segment s;
    s.name = "destruction";
    s.samples = run_of(*destruction, chance);
    r.run.segments.push_back(s);
  }
  return r;
}

TEST(ProofBroken, InACycleItBrokeHoweverFastItIsRead) {
  uint64_t seed = 1;
  for (double hertz : {5.0, 20.0, 200.0, 1000.0})
    for (double seconds : {0.002, 0.01, 0.03, 0.08})
      for (double noise : {0.0, 20.0})
        for (double top : {9e3, 15e3, 19.9e3}) {
          const Part whole{.hertz = hertz, .noise = noise},
              broken{.hertz = hertz, .top = top, .noise = noise, .end = End::broken, .break_seconds = seconds};
          const Evaluation e = methods::evaluate(record_of_parts({whole, broken}, {}, seed++), {.uncertainty = false});
          ASSERT_NE(e.finding("broke-in-cycle"), nullptr) << hertz << " Hz, " << seconds << " s, " << top;
          EXPECT_NEAR(value(e, "force_max"), top, 4 * noise + 1);
          EXPECT_FALSE(e.find("force_max")->censored);
          EXPECT_EQ(e.find("meets_rule")->text, "fails");
        }
}

TEST(ProofBroken, StoppedAndUnloadedItIsABound) {
  uint64_t seed = 100;
  for (double hertz : {5.0, 20.0, 200.0, 1000.0})
    for (double top : {25e3, 60e3})
      for (const End end : {End::unloaded, End::broken}) {
        const Part whole{.hertz = hertz};
        const Evaluation e =
            methods::evaluate(record_of_parts({whole, whole}, Part{.hertz = hertz, .top = top, .end = end}, seed++),
                              {.uncertainty = false});
        EXPECT_EQ(e.find("force_max")->censored.has_value(), end == End::unloaded) << hertz << " Hz to " << top;
        EXPECT_NEAR(value(e, "force_max"), top, 1);
        EXPECT_EQ(e.finding("broke-in-cycle"), nullptr);
      }
}

// A transducer that stuck: the force fell and the travel did not go back, but the next part carried more.
TEST(ProofBroken, ATravelThatWasLostIsNoBreak) {
  TestRecord r = record_of_parts({Part{}, Part{}}, Part{.top = 40e3, .end = End::broken}, 200);
  auto stuck = std::make_shared<Samples>(*r.run.segments[0].samples);
  std::vector<double>& x = stuck->channels[2].values;
  const size_t top = size_t(std::max_element(x.begin(), x.end()) - x.begin());
  for (size_t i = top; i < x.size(); ++i) x[i] = x[top];
  r.run.segments[0].samples = stuck;
  const Evaluation e = methods::evaluate(r, {.uncertainty = false});
  EXPECT_EQ(e.finding("broke-in-cycle"), nullptr);
  EXPECT_NE(e.finding("travel-lost"), nullptr);
  EXPECT_NEAR(value(e, "force_max"), 40e3, 1);
  EXPECT_EQ(e.find("stiffness_1"), nullptr);
}

TEST(ProofBroken, TheHoldEndsAtItsCornerAndWithoutOneAtTheTop) {
  uint64_t seed = 300;
  for (double hertz : {10.0, 200.0, 1000.0})
    for (double noise : {0.0, 20.0})
      for (double hold : {0.0, 1.0, 5.0}) {
        const Evaluation e = methods::evaluate(
            record_of_parts({Part{.hertz = hertz, .hold = hold, .noise = noise}}, {}, seed++), {.uncertainty = false});
        EXPECT_NEAR(value(e, "held_1"), hold > 0 ? 19.8e3 : 20e3, 200 + 5 * noise) << hertz << " Hz, " << hold << " s";
      }
}

TEST(ProofBroken, AnOffsetIsTakenOffOrSaid) {
  uint64_t seed = 400;
  for (double offset : {-600.0, 1500.0, 3000.0})
    for (const bool broken : {true, false}) {
      const Part whole{.offset = offset, .noise = 5};
      const std::optional<Part> end =
          broken ? std::optional(Part{.top = 50e3, .offset = offset, .noise = 5, .end = End::broken}) : std::nullopt;
      TestRecord r = record_of_parts({whole, whole}, end, seed++);
      const Evaluation e = methods::evaluate(r, {.uncertainty = false});
      if (!broken) {
        EXPECT_NE(e.finding("no-quiet-start"), nullptr) << offset;
        continue;
      }
      EXPECT_NE(e.finding("not-zeroed"), nullptr) << offset;
      EXPECT_NEAR(value(e, "force_max"), 50e3, 30);
      r.fields.set("settings.zero", std::string("keep"));
      EXPECT_NEAR(value(methods::evaluate(r, {.uncertainty = false}), "force_max"), 50e3 + offset, 30)
          << "kept by choice";
    }
}

}  // namespace
}  // namespace fortitor::proof_load_broken_test
