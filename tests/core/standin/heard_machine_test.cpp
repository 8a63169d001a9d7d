// A machine that is only heard: start, break, unloading, gaps and doubled lines are told by a model that knows them.
#include "core/standin/heard_machine.h"

#include <gtest/gtest.h>

#include <cmath>
#include <random>

#include "core/methods/method.h"
#include "core/quantity/format.h"

namespace fortitor::heard_machine_test {
namespace {

constexpr double kRate = 100;  // lines a second

line::Format columns() {
  std::vector<std::string> lines;
  for (int i = 0; i < 20; ++i)
    lines.push_back("time=" + fixed(i / kRate, 2) + " s; n=" + std::to_string(i) + "; force=" + fixed(i * 0.001, 3) +
                    " kN; ext=" + fixed(i * 0.0001, 4) + " mm");
  const auto f = line::propose(lines);
  EXPECT_TRUE(f) << f.error().message;
  return *f;
}

// A bar: 2 s at rest with an offset, up to the peak, and down at once or slowly.
struct Model {
  double offset = 0.35, peak = 40, noise = 0.004, rest = 2, up = 4;  // kN, s
  double down = 0.05;                                                // s
  std::mt19937 dice{7};
  std::normal_distribution<double> normal{0, 1};
  double at(double t) {
    const double pulled = t < rest               ? 0
                          : t < rest + up        ? peak * (t - rest) / up
                          : t < rest + up + down ? peak * (1 - (t - rest - up) / down)
                                                 : 0;
    return offset + pulled + noise * normal(dice);
  }
};

struct Heard {
  std::shared_ptr<LineBox> box = std::make_shared<LineBox>();
  std::unique_ptr<Machine> machine;
  MachineColumns samples;
  double now = 1000;  // arrival

  Heard() {
    const line::Format f = columns();
    machine = heard_machine({{"FR-1", f, heard_channels(f, *methods::find("tension-metal")), box}},
                            *methods::find("tension-metal"));
    EXPECT_NE(machine, nullptr);
    box->set_open(true, "");
  }
  void say(double t, int n, double force) {
    box->put("time=" + fixed(t, 2) + " s; n=" + std::to_string(n) + "; force=" + fixed(force, 3) +
                 " kN; ext=" + fixed(force * 0.001, 4) + " mm",
             now);
  }
  void pass(double seconds) {
    now += seconds;
    append(samples, machine->advance(seconds));
  }
  size_t column(const char* name) const {
    const auto all = machine->channels();
    for (size_t i = 0; i < all.size(); ++i)
      if (all[i].name == name) return i;
    ADD_FAILURE() << name;
    return 0;
  }
  // The whole course of a model from its time `from` to `to`; `skip`: lines that never come.
  void run(Model& m, double from, double to, const std::function<bool(int)>& skip = {}) {
    for (int n = int(std::lround(from * kRate)); n < int(std::lround(to * kRate)); ++n) {
      if (!skip || !skip(n)) say(n / kRate, n, m.at(n / kRate));
      pass(1 / kRate);
    }
  }
};

TEST(HeardMachine, StartAndBreakAreFoundFromTheData) {
  Model m;
  Heard h;
  h.run(m, 0, 1);
  EXPECT_EQ(h.machine->status().state, MachineState::idle);
  EXPECT_NEAR(h.machine->status().reading("force"), 350, 30);
  ASSERT_TRUE(h.machine->command(MachineCommand::start));
  EXPECT_EQ(h.machine->status().message, "Waits for the force to move.");
  h.run(m, 1, 1.9);
  EXPECT_TRUE(h.samples.empty() || h.samples[0].empty()) << "nothing has moved";
  h.run(m, 1.9, 9);
  const MachineStatus s = h.machine->status();
  EXPECT_EQ(s.state, MachineState::idle);
  EXPECT_TRUE(s.broken);
  EXPECT_TRUE(s.happened.empty()) << s.happened.front().note;
  const auto& t = h.samples[0];
  const auto& f = h.samples[h.column("force")];
  ASSERT_FALSE(t.empty());
  EXPECT_EQ(t.front(), 0);
  // Up to two seconds from before the movement, half a second after the break, every line between.
  EXPECT_NEAR(t.back(), 2 + 4 + 0.05 + 0.5, 0.15);
  EXPECT_NEAR(double(t.size()), t.back() * kRate + 1, 1);
  EXPECT_NEAR(*std::max_element(f.begin(), f.end()), 40350, 120);
  EXPECT_NEAR(f.front(), 350, 20) << "the standing force is in it";
  // Nothing is driven.
  for (const MachineCommand c : {MachineCommand::emergency_stop, MachineCommand::jog_up, MachineCommand::zero_force,
                                 MachineCommand::open_grips, MachineCommand::resume})
    EXPECT_FALSE(h.machine->command(c));
}

TEST(HeardMachine, UnloadingEndsARunAndAHandDoes) {
  Model slow;
  slow.down = 3;
  Heard h;
  h.run(slow, 0, 1);
  ASSERT_TRUE(h.machine->command(MachineCommand::start));
  h.run(slow, 1, 20);
  EXPECT_FALSE(h.machine->status().broken);
  EXPECT_EQ(h.machine->status().state, MachineState::idle);
  EXPECT_EQ(h.machine->status().message, "unloaded");
  Model again;
  Heard by_hand;
  by_hand.run(again, 0, 1);
  ASSERT_TRUE(by_hand.machine->command(MachineCommand::start));
  by_hand.run(again, 1, 4);
  ASSERT_TRUE(by_hand.machine->command(MachineCommand::hold));
  EXPECT_EQ(by_hand.machine->status().message, "ended by hand");
  EXPECT_FALSE(by_hand.samples[0].empty());
}

TEST(HeardMachine, NoiseAloneStartsNothing) {
  for (unsigned seed = 1; seed <= 40; ++seed) {
    Model still;
    still.dice.seed(seed);
    still.rest = 1e9;
    still.noise = seed % 4 == 0 ? 0 : 0.02;
    Heard h;
    h.run(still, 0, 1);
    ASSERT_TRUE(h.machine->command(MachineCommand::start));
    h.run(still, 1, 30);
    EXPECT_TRUE(h.samples.empty() || h.samples[0].empty()) << seed;
  }
}

// Somebody presses Listen when the force moves already, or has hardly stood still.
// A display that holds its nought: no noise is seen before the force moves, and then there is plenty.
TEST(HeardMachine, ANoughtThatIsHeldHidesNoNoise) {
  for (unsigned seed = 1; seed <= 40; ++seed) {
    Heard h;
    std::mt19937 dice(seed);
    std::normal_distribution<double> normal(0, 0.02 + 0.002 * seed);  // kN
    const double peak = 3 + seed, rest = 3, slack = 0.5 + 0.05 * seed, up = 4 + 0.2 * seed;
    const auto force = [&](double t) {
      if (t < rest) return 0.0;
      if (t < rest + slack) return std::abs(normal(dice)) + 0.01;  // touches, and shakes
      const double spike = dice() % 50 == 0 ? 0.5 : 0;             // single samples that stand out
      if (t < rest + slack + up) return peak * (t - rest - slack) / up + normal(dice) + spike;
      return normal(dice);
    };
    int n = 0;
    const auto say = [&](double until) {
      for (; n < int(until * kRate); ++n) {
        h.say(n / kRate, n, force(n / kRate));
        h.pass(1 / kRate);
      }
    };
    say(1);
    ASSERT_TRUE(h.machine->command(MachineCommand::start));
    say(rest + slack + up + 3);
    EXPECT_TRUE(h.machine->status().broken) << seed;
    const auto& f = h.samples[h.column("force")];
    ASSERT_FALSE(f.empty()) << seed;
    EXPECT_NEAR(*std::max_element(f.begin(), f.end()), peak * 1000, 0.05 * peak * 1000 + 200)
        << seed << ": what shakes is no break";
  }
}

TEST(HeardMachine, AGapRightBeforeTheForceMovesIsMarked) {
  Heard h;
  Model m;
  h.run(m, 0, 0.5);
  ASSERT_TRUE(h.machine->command(MachineCommand::start));
  h.run(m, 0.5, 7, [](int n) { return n > 170 && n <= 175; });  // the force moves at 200
  ASSERT_EQ(h.machine->status().happened.size(), 1u);
  EXPECT_EQ(h.machine->status().happened[0].note, "5 lines lost");
}

TEST(HeardMachine, AForceThatMovesAlreadyIsARun) {
  for (const double armed : {1.95, 2.0, 2.4, 3.0}) {
    Model m;
    Heard h;
    h.run(m, armed - 0.05, armed);
    ASSERT_TRUE(h.machine->command(MachineCommand::start));
    h.run(m, armed, 9);
    EXPECT_TRUE(h.machine->status().broken) << armed;
    ASSERT_FALSE(h.samples.empty());
    const auto& f = h.samples[h.column("force")];
    ASSERT_FALSE(f.empty()) << armed;
    EXPECT_NEAR(*std::max_element(f.begin(), f.end()), 40350, 120);
    EXPECT_NEAR(double(f.size()), (2 + 4 + 0.05 + 0.5 - armed + 0.05) * kRate, 5) << "nothing of it is left out";
  }
}

// Two lines a second, pulling from the first on: slow devices have few lines in two seconds.
TEST(HeardMachine, ASlowDeviceIsHeardToo) {
  for (const double step : {0.5, 0.04, 0.001}) {
    Heard h;
    h.now = 0;
    for (int n = 0; n < 200; ++n) {
      if (n == 2) {
        ASSERT_TRUE(h.machine->command(MachineCommand::start));
      }
      h.box->put("time=" + fixed(n * step, 4) + " s; n=" + std::to_string(n) + "; force=" + fixed(0.35 + 0.02 * n, 3) +
                     " kN; ext=0.0100 mm",
                 h.now);
      h.pass(step);
    }
    ASSERT_FALSE(h.samples.empty());
    EXPECT_GE(h.samples[0].size(), 198u) << step;
  }
}

// A device without a clock, heard in bursts: lines that came in one breath are all of the run, in their order.
TEST(HeardMachine, WithoutAClockABurstIsNoDoubling) {
  std::vector<std::string> lines;
  for (int i = 0; i < 20; ++i) lines.push_back(fixed(0.35 + 0.001 * (i * 7 % 5), 3) + " kN");
  const auto f = line::propose(lines);
  ASSERT_TRUE(f);
  auto box = std::make_shared<LineBox>();
  EXPECT_TRUE(heard_channels(*f, *methods::find("tension-metal")).empty()) << "its unit stands in its lines alone";
  const line::Reading last = line::read(*f, lines.back());
  auto machine = heard_machine({{"FR-2", *f, heard_channels(*f, *methods::find("tension-metal"), &last), box}},
                               *methods::find("tension-metal"));
  ASSERT_NE(machine, nullptr);
  MachineColumns all;
  double now = 0;
  for (int burst = 0; burst < 60; ++burst, now += 0.1) {
    if (burst == 5) {
      ASSERT_TRUE(machine->command(MachineCommand::start));
    }
    for (int k = 0; k < 10; ++k) {
      const int n = burst * 10 + k;
      box->put(fixed(0.35 + 0.001 * (n * 7 % 5) + (n < 100 ? 0 : 0.1 * (n - 100)), 3) + " kN", now);
    }
    append(all, machine->advance(0.1));
  }
  ASSERT_FALSE(all.empty());
  EXPECT_GE(all[0].size(), 500u) << "every line since it moved";
  for (size_t i = 1; i < all[0].size(); ++i) ASSERT_GT(all[0][i], all[0][i - 1]) << i;
  EXPECT_TRUE(machine->status().happened.empty());
}

TEST(HeardMachine, TheNextMachineIsThereBeforeTheLastHasGone) {
  Heard h;
  const line::Format f = columns();
  auto next = heard_machine({{"FR-1", f, heard_channels(f, *methods::find("tension-metal")), h.box}},
                            *methods::find("tension-metal"));
  h.machine.reset();
  h.box->put("time=0.00 s; n=0; force=0.350 kN; ext=0.0000 mm", 1);
  next->advance(0.03);
  EXPECT_NEAR(next->status().reading("force"), 350, 1e-9);
}

TEST(HeardMachine, LostAndDoubledLinesAndAPulledWireAreMarked) {
  Model m;
  Heard h;
  h.run(m, 0, 1);
  ASSERT_TRUE(h.machine->command(MachineCommand::start));
  h.run(m, 1, 9, [](int n) { return n >= 350 && n < 357; });  // 7 lines in the pull
  ASSERT_EQ(h.machine->status().happened.size(), 1u);
  EXPECT_EQ(h.machine->status().happened[0].kind, "gap");
  EXPECT_EQ(h.machine->status().happened[0].note, "7 lines lost");

  Heard twice;
  twice.run(m, 0, 1);
  ASSERT_TRUE(twice.machine->command(MachineCommand::start));
  twice.run(m, 1, 3);
  const size_t before = twice.samples[0].size();
  for (int k = 0; k < 5; ++k) twice.say(2.99, 299, 10);
  twice.pass(0.01);
  EXPECT_EQ(twice.samples[0].size(), before);

  // The wire is pulled for three seconds; the device goes on counting.
  Heard pulled;
  pulled.run(m, 0, 1);
  ASSERT_TRUE(pulled.machine->command(MachineCommand::start));
  pulled.run(m, 1, 3.5);
  pulled.box->set_open(false, "connection refused");
  for (int i = 0; i < 90; ++i) pulled.pass(0.01);
  EXPECT_EQ(pulled.machine->status().state, MachineState::running) << "not a second yet";
  for (int i = 0; i < 100; ++i) pulled.pass(0.01);
  EXPECT_EQ(pulled.machine->status().state, MachineState::holding);
  EXPECT_NE(pulled.machine->status().message.find("not to be heard (connection refused)"), std::string::npos);
  EXPECT_TRUE(std::isnan(pulled.machine->status().reading("force"))) << "an old reading is none";
  for (int i = 0; i < 10; ++i) pulled.pass(0.01);
  pulled.box->set_open(true, "");
  pulled.run(m, 5.5, 9);
  EXPECT_TRUE(pulled.machine->status().broken);
  ASSERT_EQ(pulled.machine->status().happened.size(), 1u);
  EXPECT_EQ(pulled.machine->status().happened[0].note, "200 lines lost");
  const auto& t = pulled.samples[0];
  for (size_t i = 1; i < t.size(); ++i) EXPECT_GT(t[i], t[i - 1]);
}

TEST(HeardMachine, AClockThatBeginsAnewGoesOnByArrival) {
  Model m;
  Heard h;
  h.run(m, 0, 1);
  ASSERT_TRUE(h.machine->command(MachineCommand::start));
  h.run(m, 1, 4);
  h.pass(0.5);
  for (int n = 400; n < 900; ++n) {  // the device was switched off and on: time and counter from 0
    h.say((n - 400) / kRate, n - 400, m.at(n / kRate));
    h.pass(1 / kRate);
  }
  ASSERT_FALSE(h.machine->status().happened.empty());
  const auto& t = h.samples[0];
  for (size_t i = 1; i < t.size(); ++i) ASSERT_GT(t[i], t[i - 1]) << i;
  EXPECT_NEAR(t.back(), 2 + 4 + 0.55 + 0.5, 0.3);
  EXPECT_TRUE(h.machine->status().broken);
}

TEST(HeardMachine, GarbageAndOverloadMakeNoNumber) {
  Model m;
  Heard h;
  std::mt19937 dice(3);
  h.run(m, 0, 1);
  ASSERT_TRUE(h.machine->command(MachineCommand::start));
  for (int n = 100; n < 900; ++n) {
    h.say(n / kRate, n, m.at(n / kRate));
    std::string junk;
    for (int k = 0; k < int(dice() % 40); ++k) junk += char(' ' + dice() % 90);
    h.box->put(junk, h.now);
    h.box->put("force=", h.now);
    h.pass(1 / kRate);
  }
  const auto& f = h.samples[h.column("force")];
  for (double v : f) EXPECT_LT(std::abs(v), 41000);
  EXPECT_TRUE(h.machine->status().broken);
  EXPECT_TRUE(h.machine->status().happened.empty());
}

TEST(HeardMachine, WithoutAForceThereIsNoRun) {
  EXPECT_EQ(heard_machine({}, *methods::find("tension-metal")), nullptr);
  std::vector<std::string> lines;
  for (int i = 0; i < 10; ++i) lines.push_back(fixed(0.1 + i * 0.001, 4) + " mm");
  const auto x = line::propose(lines);
  EXPECT_EQ(
      heard_machine({{"C-1", *x, heard_channels(*x, *methods::find("tension-metal")), std::make_shared<LineBox>()}},
                    *methods::find("tension-metal")),
      nullptr);
}

}  // namespace
}  // namespace fortitor::heard_machine_test
