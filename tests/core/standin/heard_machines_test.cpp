// Two devices that are heard at once stand on one clock, and one that falls silent is left out and said.
#include <gtest/gtest.h>

#include <cmath>

#include "core/methods/method.h"
#include "core/quantity/format.h"
#include "core/standin/heard_machine.h"

namespace fortitor::heard_machines_test {
namespace {

// A frame that says a force and an extensometer of its own, whichever stands first in the Kit.
std::unique_ptr<Machine> frame_and_extensometer(const std::shared_ptr<LineBox>& force,
                                                const std::shared_ptr<LineBox>& extension) {
  std::vector<std::string> force_lines, ext_lines;
  for (int i = 0; i < 20; ++i) {
    force_lines.push_back(fixed(1 + i * 0.01, 3) + " kN");
    ext_lines.push_back(fixed(0.1 + i * 0.001, 4) + " mm");
  }
  const auto f = line::propose(force_lines), x = line::propose(ext_lines);
  EXPECT_TRUE(f && x);
  return heard_machine({{"EX-1", *x, {{x->fields[0].channel, "extension"}}, extension},
                        {"FR-1", *f, {{f->fields[0].channel, "force"}}, force}},
                       *methods::find("tension-metal"));
}

TEST(HeardMachines, TwoDevicesStandOnOneClock) {
  const auto force = std::make_shared<LineBox>(), ext = std::make_shared<LineBox>();
  const auto machine = frame_and_extensometer(force, ext);
  ASSERT_NE(machine, nullptr);
  double now = 0;
  MachineColumns all;
  const auto line_of = [](double v, int digits, const char* unit) { return fixed(v, digits) + " " + unit; };
  for (int n = 0; n < 1000; ++n, now += 0.01) {
    const double pulled = n < 200 ? 0 : (n - 200) * 0.05;
    if (n == 100) {
      ASSERT_TRUE(machine->command(MachineCommand::start));
    }
    if (n % 5 == 0) ext->put(line_of(0.1 + pulled * 0.01, 4, "mm"), now);  // slower than the force
    force->put(line_of(pulled, 3, "kN"), now + 0.001);
    append(all, machine->advance(0.01));
  }
  ASSERT_EQ(all.size(), 3u);
  ASSERT_GT(all[0].size(), 700u);
  size_t checked = 0;
  for (size_t i = 0; i < all[0].size(); ++i) {
    if (!(all[1][i] > 100)) continue;
    // The extension is the nearest earlier one: at most five lines of force old.
    const double now_x = 0.1 + all[1][i] / 1000 * 0.01;
    EXPECT_LE(all[2][i], now_x + 1e-6);
    EXPECT_GE(all[2][i], now_x - 5 * 0.05 * 0.01 - 2e-4);
    ++checked;
  }
  EXPECT_GT(checked, 700u);
}

TEST(HeardMachines, AnotherDeviceThatFallsSilentIsSaidAndLeftOut) {
  const auto force = std::make_shared<LineBox>(), ext = std::make_shared<LineBox>();
  const auto machine = frame_and_extensometer(force, ext);
  ASSERT_NE(machine, nullptr);
  MachineColumns all;
  bool said = false;
  double now = 0;
  for (int n = 0; n < 1400; ++n, now += 0.01) {
    const double pulled = n < 200 ? 0 : (n - 200) * 0.05;
    if (n == 100) {
      ASSERT_TRUE(machine->command(MachineCommand::start));
    }
    const bool pulled_out = n >= 600 && n < 900;
    if (n % 7 == 0 && !pulled_out) ext->put(fixed(0.1 + pulled * 0.01, 4) + " mm", now);
    force->put(fixed(pulled, 3) + " kN", now + 0.001);
    append(all, machine->advance(0.01));
    if (n == 750) said = machine->status().message.find("EX-1 is silent") == 0;
    if (n == 1000) {
      EXPECT_EQ(machine->status().message, "");
    }
  }
  ASSERT_TRUE(machine->command(MachineCommand::hold));
  EXPECT_TRUE(said) << "within a second and a half";
  // By the force every sample knows when it was: n = 200 + F/50 N.
  size_t stale = 0, there = 0;
  for (size_t i = 0; i < all[0].size(); ++i) {
    const double n = 200 + all[1][i] / 50;
    if (n > 710 && n < 895) stale += std::isfinite(all[2][i]);
    if (n > 920 && n < 1390) there += std::isfinite(all[2][i]);
  }
  EXPECT_EQ(stale, 0u) << "what it said before it fell silent is not what it shows";
  EXPECT_GT(there, 450u);
  std::string words;
  for (const auto& e : machine->status().happened) words += e.kind + ": " + e.note + "\n";
  EXPECT_NE(words.find("gap: EX-1 is silent"), std::string::npos) << words;
  EXPECT_NE(words.find("gap: EX-1 speaks again"), std::string::npos) << words;
  EXPECT_NE(words.find("clock: EX-1: its values are up to 0.99 s"), std::string::npos) << words;
}

}  // namespace
}  // namespace fortitor::heard_machines_test
