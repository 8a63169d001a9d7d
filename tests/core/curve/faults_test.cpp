// Channels that stand still or jump, and the many that only look as if.
#include "core/curve/faults.h"

#include <gtest/gtest.h>

#include <cmath>
#include <functional>
#include <random>

#include "tests/core/methods/method_records.h"

namespace fortitor::faults_test {
namespace {

using Kind = ChannelFault::Kind;

// A pull of 600 samples at 10 a second: force up to 6 kN, crosshead 0.01 mm a sample.
Samples pull(
    const std::function<double(size_t)>& force = [](size_t i) { return 10.0 * double(i); }, double force_noise = 0.3) {
  std::mt19937_64 random(7);
  std::normal_distribution<double> n;
  Samples s;
  s.channels = {{"time", {}}, {"force", {}}, {"crosshead", {}}, {"extension", {}}};
  for (size_t i = 0; i < 600; ++i) {
    s.channels[0].values.push_back(0.1 * double(i));
    s.channels[1].values.push_back(force(i) + force_noise * n(random));
    s.channels[2].values.push_back(0.01 * double(i));
    s.channels[3].values.push_back(0.004 * double(i) + 1e-5 * n(random));
  }
  return s;
}

TEST(ChannelFaults, ASoundPullHasNone) {
  EXPECT_TRUE(channel_faults(pull()).empty());
  EXPECT_TRUE(channel_faults({}).empty());
  Samples s = pull();
  s.channels.erase(s.channels.begin());
  EXPECT_TRUE(channel_faults(s).empty()) << "without a clock nothing is said";
}

TEST(ChannelFaults, AFrozenChannelIsFound) {
  for (const char* name : {"force", "extension", "crosshead"}) {
    Samples s = pull();
    std::vector<double>& v = s.column(name).values;
    for (size_t i = 300; i < 360; ++i) v[i] = v[299];
    const auto f = channel_faults(s);
    ASSERT_GE(f.size(), 1u) << name;
    EXPECT_EQ(f[0].kind, Kind::frozen) << name;
    EXPECT_EQ(f[0].channel, name);
    EXPECT_NEAR(f[0].from, 29.9, 1e-9);
    EXPECT_NEAR(f[0].to, 35.9, 1e-9);
    EXPECT_EQ(f[0].value, v[299]);
  }
  // To the end of the run: nothing to leave by.
  Samples s = pull();
  for (size_t i = 500; i < 600; ++i) s.column("extension").values[i] = s.column("extension").values[499];
  ASSERT_EQ(channel_faults(s).size(), 1u);
  for (double& v : s.column("extension").values) v = 0.002 * std::round(v / 0.002);
  EXPECT_TRUE(channel_faults(s).empty()) << "in counts it may have come to rest";
  // Seven are too few to say so.
  s = pull();
  for (size_t i = 300; i < 306; ++i) s.column("extension").values[i] = s.column("extension").values[299];
  EXPECT_TRUE(channel_faults(s).empty());
}

TEST(ChannelFaults, APlateauInCountsIsNotFrozen) {
  // A polymer draws: force in counts of 2 N over a level stretch.
  Samples s = pull([](size_t i) { return i < 200 ? 10.0 * double(i) : 2000 + 0.01 * double(i - 200); }, 0);
  for (double& v : s.column("force").values) v = 2 * std::round(v / 2);
  EXPECT_TRUE(channel_faults(s).empty());
  // Every channel in coarse counts.
  s = pull();
  for (double& v : s.column("crosshead").values) v = 0.1 * std::round(v / 0.1);
  for (double& v : s.column("extension").values) v = 0.05 * std::round(v / 0.05);
  EXPECT_TRUE(channel_faults(s).empty());
}

TEST(ChannelFaults, AHoldIsNotFrozen) {
  Samples s = pull();
  for (size_t i = 300; i < 400; ++i) {
    s.column("crosshead").values[i] = 3;
    s.column("extension").values[i] = 1.2;
    s.column("force").values[i] = 3000 - 0.5 * double(i - 300);
  }
  for (size_t i = 400; i < 600; ++i) {
    s.column("crosshead").values[i] -= 1;
    s.column("extension").values[i] -= 0.4;
    s.column("force").values[i] -= 1000;
  }
  for (const ChannelFault& f : channel_faults(s)) EXPECT_NE(f.kind, Kind::frozen) << f.channel;
}

TEST(ChannelFaults, JumpsThatNothingElseSharesAreFound) {
  for (const auto& [name, step, found] : {std::tuple{"force", 120.0, true},
                                          {"force", -120.0, true},
                                          {"extension", 0.05, true},
                                          {"extension", -0.05, true},
                                          {"crosshead", 0.3, true},
                                          {"crosshead", -0.3, true},
                                          {"crosshead", 0.02, false},
                                          {"force", 10.0, false}}) {
    Samples s = pull();
    std::vector<double>& v = s.column(name).values;
    for (size_t i = 300; i < 600; ++i) v[i] += step;
    const auto f = channel_faults(s);
    ASSERT_EQ(f.size(), found ? 1u : 0u) << name << " " << step;
    if (!found) continue;
    EXPECT_EQ(f[0].kind, std::string(name) == "force" && step < 0 ? Kind::dropped : Kind::jumped);
    EXPECT_NEAR(f[0].from, 30, 1e-9);
    EXPECT_NEAR(f[0].value, step, 0.15 * std::abs(step)) << name;
  }
  // Two within ten samples of each other are not alone; from the eleventh on the first of them is.
  for (const auto& [first, found] : {std::pair{290u, 0u}, {289u, 1u}}) {
    Samples s = pull();
    std::vector<double>& v = s.column("extension").values;
    for (size_t i = first; i < 600; ++i) v[i] += i < 300 ? 0.05 : 0.1;
    ASSERT_EQ(channel_faults(s).size(), found) << first;
    if (found == 1u) {
      EXPECT_NEAR(channel_faults(s)[0].from, 28.9, 1e-9);
    }
  }
  {  // To and fro by a count it moves all the same.
    Samples s = pull();
    std::vector<double>& v = s.column("extension").values;
    for (size_t i = 0; i < 600; ++i) v[i] = 0.004 * double(i % 2) + (i < 300 ? 0.0 : 0.1);
    ASSERT_EQ(channel_faults(s).size(), 1u);
    EXPECT_EQ(channel_faults(s)[0].kind, Kind::jumped);
    for (size_t i = 0; i < 600; ++i) v[i] = 0.004 * double(i % 40 == 0) + (i < 300 ? 0.0 : 0.1);
    EXPECT_TRUE(channel_faults(s).empty()) << "it stands still and switches";
  }
  // A crack: force falls and strain jumps together. A pause of the clock: everything has gone on.
  Samples s = pull();
  for (size_t i = 300; i < 600; ++i) s.column("force").values[i] -= 300, s.column("extension").values[i] += 0.1;
  ASSERT_EQ(channel_faults(s).size(), 1u);
  EXPECT_EQ(channel_faults(s)[0].kind, Kind::dropped);
  s = pull();
  for (size_t i = 300; i < 600; ++i)
    s.column("force").values[i] += 500, s.column("crosshead").values[i] += 0.5, s.column("time").values[i] += 5;
  EXPECT_TRUE(channel_faults(s).empty());
}

TEST(ChannelFaults, TheyAreSaidOfEveryRun) {
  for (const auto& [bench, method, channel] : {std::tuple{&standin::universal_frame(), "tension-metal", "force"},
                                               {&standin::polymer_frame(), "tension-plastic", "crosshead"},
                                               {&standin::press(), "compression-solid", "force"},
                                               {&standin::sandwich_frame(), "flatwise-tension", "crosshead"},
                                               {&standin::plate_press(), "compression-after-impact", "strain_front_1"},
                                               {&standin::shell_press(), "crush-shell", "crosshead"}}) {
    standin::SimulateOptions o;
    o.method = method;
    o.seed = 5;
    TestRecord r = bench->simulate(o);
    r.method = method;
    const Evaluation sound = methods::evaluate(r, {.uncertainty = false});
    EXPECT_EQ(sound.finding("channel-frozen"), nullptr) << method;
    EXPECT_EQ(sound.finding("channel-jump"), nullptr) << method;
    const Samples whole = *r.run.samples();
    const std::vector<double>& force = whole.find("force")->values;
    const size_t peak = size_t(std::max_element(force.begin(), force.end()) - force.begin()),
                 at = size_t(std::find_if(force.begin(), force.end(), [&](double v) { return v > 0.4 * force[peak]; }) -
                             force.begin());
    const size_t long_enough = std::max<size_t>(40, (peak - at) / 2);
    Samples frozen = whole, jumped = whole;
    std::vector<double>&f = frozen.column(channel).values, &j = jumped.column(channel).values;
    double most = 0;
    for (double v : j)
      if (std::isfinite(v)) most = std::max(most, std::abs(v));
    for (size_t i = at; i < at + long_enough; ++i) f[i] = f[at];
    for (size_t i = at; i < j.size(); ++i) j[i] += 0.06 * (j[at] < 0 ? -most : most);
    r.run.set_samples(std::make_shared<const Samples>(frozen));
    const Evaluation stood = methods::evaluate(r, {.uncertainty = false});
    ASSERT_NE(stood.finding("channel-frozen"), nullptr) << method;
    EXPECT_EQ(stood.finding("channel-frozen")->severity, Severity::check);
    r.run.set_samples(std::make_shared<const Samples>(jumped));
    ASSERT_NE(methods::evaluate(r, {.uncertainty = false}).finding("channel-jump"), nullptr) << method;
  }
}

TEST(ChannelFaults, NoiseIsKnownByItsSigns) {
  const auto noisy = [](const std::function<double(size_t)>& force, double noise) {
    for (const ChannelFault& f : channel_faults(pull(force, noise)))
      if (f.kind == Kind::noisy && f.channel == "force") return f.value;
    return 0.0;
  };
  const auto line = [](size_t i) { return 10.0 * double(i); };
  EXPECT_EQ(noisy(line, 0.005 * 6000), 0) << "half a per cent is everyday";
  EXPECT_NEAR(noisy(line, 0.01 * 6000), 60, 8);
  // Folds of a tube, six samples a fold: bent from reading to reading, and no noise.
  EXPECT_EQ(
      noisy([](size_t i) { return 3000 + 1500 * std::sin(double(i)) + 2000.0 * (i < 20 ? double(i) / 20 - 1 : 0); }, 0),
      0);
}

// The force stands still on the last quarter of its way up.
SamplesPtr frozen_before_its_peak(const Samples& whole) {
  Samples s = whole;
  std::vector<double>& force = s.column("force").values;
  const size_t peak = size_t(std::max_element(force.begin(), force.end()) - force.begin()),
               n = std::max<size_t>(30, peak / 4);
  for (size_t i = peak - n; i < peak; ++i) force[i] = force[peak - n];
  return std::make_shared<const Samples>(std::move(s));
}

TEST(ChannelFaults, EveryPartOfAProofTestIsLookedAt) {
  standin::SimulateOptions o;
  o.method = "proof-load";
  o.seed = 5;
  TestRecord r = standin::proof_bench().simulate(o);
  r.method = o.method;
  EXPECT_EQ(methods::evaluate(r, {.uncertainty = false}).finding("channel-frozen"), nullptr);
  for (Segment& part : r.run.segments) {
    const SamplesPtr whole = part.samples;
    part.samples = frozen_before_its_peak(*whole);
    EXPECT_NE(methods::evaluate(r, {.uncertainty = false}).finding("channel-frozen"), nullptr) << part.name;
    part.samples = whole;
  }
  // Cycles alone, never pulled to destruction, as well.
  std::erase_if(r.run.segments, [](const Segment& part) { return part.name == "destruction"; });
  ASSERT_FALSE(r.run.segments.empty());
  r.run.segments.front().samples = frozen_before_its_peak(*r.run.segments.front().samples);
  EXPECT_NE(methods::evaluate(r, {.uncertainty = false}).finding("channel-frozen"), nullptr);
}

TEST(ChannelFaults, ADropIsANoteAndNoiseAQuestion) {
  standin::SimulateOptions o;
  o.method = "flatwise-tension";
  o.seed = 5;
  TestRecord r = standin::sandwich_frame().simulate(o);
  r.method = o.method;
  const Samples whole = *r.run.samples();
  const std::vector<double>& force = whole.find("force")->values;
  const double top = *std::max_element(force.begin(), force.end());
  Samples cracked = whole, rough = whole;
  bool fell = false;
  for (double& v : cracked.column("force").values) fell = fell || v > 0.5 * top, v -= fell ? 0.04 * top : 0;
  std::mt19937_64 random(3);
  std::normal_distribution<double> n;
  for (double& v : rough.column("force").values) v += 0.02 * top * n(random);
  r.run.set_samples(std::make_shared<const Samples>(cracked));
  const Evaluation a = methods::evaluate(r, {.uncertainty = false});
  ASSERT_NE(a.finding("load-drop"), nullptr);
  EXPECT_EQ(a.finding("load-drop")->severity, Severity::note);
  r.run.set_samples(std::make_shared<const Samples>(rough));
  const Evaluation b = methods::evaluate(r, {.uncertainty = false});
  ASSERT_NE(b.finding("noise-high"), nullptr);
  EXPECT_EQ(b.finding("noise-high")->severity, Severity::check);
}

// Its plug came loose on the way, early or late, or it shook for a moment: neither half of the run nor its median told.
TEST(ChannelFaults, ABurstOfNoiseIsFoundWhereItIs) {
  for (const char* id : {"tension-metal", "tension-plastic", "compression-solid", "flatwise-tension"})
    for (const auto& [begin, end] : {std::pair{0.45, 1.0}, {0.8, 1.0}, {0.3, 0.5}, {0.6, 0.65}}) {
      const Method& m = *methods::find(id);
      standin::SimulateOptions o;
      o.method = id;
      o.seed = 3;
      const TestRecord r = standin::find_bench(m.standin)->simulate(o);
      Samples s = *r.run.samples();
      const std::vector<double>& time = s.find("time")->values;
      std::vector<double>& force = s.column("force").values;
      const double top = *std::max_element(force.begin(), force.end());
      const size_t from = size_t(begin * double(force.size())), to = size_t(end * double(force.size()));
      ASSERT_GT(to - from, 48u) << id;  // two blocks for certain
      std::mt19937_64 random(7);
      std::normal_distribution<double> n;
      for (size_t i = from; i < to; ++i) force[i] = 0.5 * top + 0.1 * top * n(random);
      const std::vector<ChannelFault> faults = channel_faults(s);
      const auto burst = std::find_if(faults.begin(), faults.end(), [](const ChannelFault& f) {
        return f.channel == "force" && f.kind == Kind::burst;
      });
      ASSERT_NE(burst, faults.end()) << id << " from " << begin << " to " << end;
      EXPECT_NEAR(burst->value, 0.1 * top, 0.04 * top) << id;
      EXPECT_LT(burst->elsewhere, 0.01 * top);
      EXPECT_GE(burst->from, time[from - std::min<size_t>(from, 16)]) << id << " from " << begin;
      EXPECT_LE(burst->to, time[std::min(to + 16, time.size() - 1)]) << id << " to " << end;
    }
}

// A coarse force that stands between two counts and flickers is no burst.
TEST(ChannelFaults, FlickerOfACoarseReadingIsNoBurst) {
  std::mt19937_64 random(11);
  const double counted = 80;  // N: 25 counts in all
  Samples s = pull([&](size_t i) { return counted * std::floor(std::min(20.0 * double(i), 2000.0) / counted); }, 0);
  std::vector<double>& force = s.column("force").values;
  for (size_t i = 450; i < force.size(); ++i) force[i] += random() % 2 != 0 ? counted : 0;
  for (const ChannelFault& f : channel_faults(s)) EXPECT_NE(f.kind, Kind::burst) << f.channel;
}

// Whole runs of every machine that writes channels, as they are and in coarser counts, have none.
TEST(ChannelFaults, CleanRunsHaveNone) {
  for (const Method* m : methods::all()) {
    if (m->channels.empty() || m->id == "drop-impact") continue;
    const standin::Bench& bench = *standin::find_bench(m->standin);
    for (size_t p = 0; p < bench.pieces.size(); ++p)
      for (uint64_t seed : {1u, 2u, 3u}) {
        standin::SimulateOptions o;
        o.method = m->id;
        o.piece = bench.pieces[p].value;
        o.seed = seed;
        o.sampling = seed == 1 ? 50 : seed == 2 ? 10 : 5;
        const TestRecord r = bench.simulate(o);
        for (const Segment& segment : r.run.segments) {
          if (!segment.samples) continue;
          for (double counts : {0.0, 2000.0, 200.0}) {
            Samples s = *segment.samples;
            for (Channel& c : s.channels) {
              double most = 0;
              for (double v : c.values)
                if (std::isfinite(v)) most = std::max(most, std::abs(v));
              for (double& v : c.values)
                if (counts > 0 && c.name != "time") v = std::round(v / most * counts) * most / counts;
            }
            for (const ChannelFault& f : channel_faults(s))
              if (f.kind != Kind::dropped || m->id != "tension-metal")
                ADD_FAILURE() << m->id << " " << o.piece << " seed " << seed << " in " << counts
                              << " counts: " << f.channel << (f.kind == Kind::frozen ? " frozen" : " jumps") << " at "
                              << f.from << " by " << f.value;
          }
        }
      }
  }
}

}  // namespace
}  // namespace fortitor::faults_test
