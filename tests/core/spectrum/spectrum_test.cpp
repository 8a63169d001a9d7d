// The whole chain against independently computed answers, and what a changed setting has to compute.
#include "core/spectrum/spectrum.h"

#include <unistd.h>

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <cstring>
#include <filesystem>
#include <fstream>
#include <nlohmann/json.hpp>

#include "core/spectrum/drive_file.h"
#include "core/standin/bridge.h"
#include "tests/c_text.h"
#include "tests/core/methods/made.h"

namespace fortitor::spectrum::spectrum_test {
namespace {

const std::string kData = std::string(FORTITOR_TEST_DATA) + "/spectrum/";

class SpectrumTest : public testing::Test {
 protected:
  void SetUp() override {
    folder_ = std::filesystem::temp_directory_path() / ("fortitor-spectrum-" + std::to_string(::getpid()));
    std::filesystem::create_directories(folder_);
  }
  void TearDown() override { std::filesystem::remove_all(folder_); }
  std::string file(const std::string& name, const std::string& text) {
    const std::string path = (folder_ / name).string();
    std::ofstream(path, std::ios::binary) << text;
    return path;
  }
  static Settings of(const std::vector<std::string>& files, double rate) {
    Settings s;
    for (const std::string& f : files) {
      fatigue::SignalSpec spec;
      spec.files = {f};
      spec.rate = rate;
      s.weeks.push_back(spec);
    }
    return s;
  }
  std::string bridge(uint64_t seed, double hours, double rate = 20) {
    standin::BridgeTraffic t;
    t.seed = seed;
    t.rate = rate;
    t.hours = hours;
    const std::string path =
        (folder_ / ("week-" + std::to_string(seed) + "-" + std::to_string(int(hours)) + ".f32")).string();
    if (std::filesystem::exists(path)) return path;
    EXPECT_TRUE(standin::write_bridge_history(t, path));
    return path;
  }
  std::filesystem::path folder_;
};

TEST_F(SpectrumTest, ProgressRunsFromNothingToTheWhole) {
  Spectrum s;
  std::vector<double> told;
  const auto done = compute(s, of({bridge(1, 2), bridge(2, 2)}, 20), {}, [&](double share) {
    told.push_back(share);
    return true;
  });
  ASSERT_TRUE(done);
  ASSERT_GE(told.size(), 4u);
  EXPECT_TRUE(std::is_sorted(told.begin(), told.end()));
  EXPECT_GT(told.front(), 0);
  EXPECT_LE(told.back(), 1);
  EXPECT_GT(told[told.size() - 2], 0.95) << "what is said before the end is near it";
}

TEST_F(SpectrumTest, TheReferenceHistories) {
  std::ifstream in(kData + "expected.json");
  const auto expected = nlohmann::json::parse(in);
  for (const char* name : {"strain.f32", "strain.csv"}) {
    Spectrum s;
    const auto done = compute(s, of({kData + name}, expected["rate"]), {.until = ChainStep::cut});
    ASSERT_TRUE(done) << done.error().message;
    const auto json = nlohmann::json::parse(to_json(s, {}));
    for (const auto& [key, wanted] : expected[name].items()) {
      bool found = false;
      for (const auto& r : json["results"]) {
        if (r["key"] != key) continue;
        found = true;
        const double v = r["value"], w = wanted;
        EXPECT_NEAR(v, w, 1e-6 * std::abs(w)) << name << " " << key;
      }
      EXPECT_TRUE(found) << key;
    }
    EXPECT_EQ(json["results"][2]["unit"], "µε");
  }
}

TEST_F(SpectrumTest, AChangedSettingIsComputedFromItsStepOn) {
  Settings s = of({bridge(1, 12), bridge(2, 12)}, 20);
  s.length = 2000;
  Spectrum now;
  ASSERT_TRUE(compute(now, s));
  EXPECT_EQ(now.from, int(ChainStep::raw));
  const auto from = [&](const Settings& changed) {
    EXPECT_TRUE(compute(now, changed));
    return now.from;
  };
  EXPECT_EQ(from(s), kSteps) << "nothing changed";
  const auto same_as_fresh = [&](const Settings& changed, ChainStep step) {
    EXPECT_EQ(from(changed), int(step));
    Spectrum fresh;
    EXPECT_TRUE(compute(fresh, changed));
    for (size_t w = 0; w < 2; ++w) {
      EXPECT_EQ(now.weeks[w].ranges, fresh.weeks[w].ranges);
      EXPECT_EQ(now.weeks[w].damage, fresh.weeks[w].damage);
      EXPECT_EQ(now.weeks[w].transitions.counts, fresh.weeks[w].transitions.counts);
    }
    EXPECT_EQ(now.drive.values, fresh.drive.values);
  };
  s.seed = 4;
  same_as_fresh(s, ChainStep::drive);
  s.levels = 32;
  same_as_fresh(s, ChainStep::chain);
  s.share = 0.2;
  same_as_fresh(s, ChainStep::cut);
  s.count = "three-point";
  same_as_fresh(s, ChainStep::count);
  s.gate = 1.5;
  same_as_fresh(s, ChainStep::turn);
  s.cut = 3;
  same_as_fresh(s, ChainStep::smooth);
  s.level = "none";
  same_as_fresh(s, ChainStep::level);
  s.block = 1800;
  same_as_fresh(s, ChainStep::raw);
  // What was not wanted before is done when it is.
  Spectrum late;
  ASSERT_TRUE(compute(late, s, {.until = ChainStep::cut}));
  EXPECT_TRUE(late.drive.values.empty());
  ASSERT_TRUE(compute(late, s));
  EXPECT_EQ(late.drive.values, now.drive.values);
}

TEST_F(SpectrumTest, WeeksTogetherAndBesideOneAnother) {
  Spectrum s;
  ASSERT_TRUE(compute(s, of({bridge(1, 24), bridge(2, 24), bridge(3, 24)}, 20)));
  double cycles = 0, damage = 0;
  for (const Week& w : s.weeks) {
    cycles += w.cycles;
    damage += w.damage;
    EXPECT_GE(w.range_max, w.range_p);
    EXPECT_EQ(w.omission_level, s.weeks[0].omission_level) << "one cut for all";
  }
  EXPECT_EQ(s.together.cycles, cycles);
  EXPECT_NEAR(s.together.damage, damage, 1e-12 * damage);
  const Evaluation e = evaluation_of(s, {});
  EXPECT_NEAR(value(e, "blocks_to_failure") * damage, 1, 1e-12);
  ASSERT_NE(e.finding("weeks"), nullptr);
  EXPECT_NE(e.finding("gaps"), nullptr);
  EXPECT_NE(e.finding("spikes"), nullptr);
  EXPECT_NE(e.finding("stuck"), nullptr);
  // The drive does what its source does.
  EXPECT_NEAR(s.drive.damage_per_transition / s.drive.source_per_transition, 1, 0.25);
  EXPECT_NEAR(s.drive.irregularity, s.drive.source_irregularity, 0.05);
}

TEST_F(SpectrumTest, TheLifeLineAndItsEnds) {
  const LifeLine line{71, 3};
  EXPECT_NEAR(1 / line.damage(71, true), 2e6, 1e-3);
  EXPECT_NEAR(line.knee(), 52.3, 0.05);
  EXPECT_NEAR(line.cut_off(), 28.7, 0.05);
  EXPECT_NEAR(1 / line.damage(line.knee() * 1.0000001, true), 5e6, 10);
  EXPECT_NEAR(1 / line.damage(line.knee() * 0.9999999, true), 5e6, 10);
  EXPECT_EQ(line.damage(line.cut_off(), true), 0);
  EXPECT_NEAR(1 / line.damage(line.cut_off(), false), 1e8, 1);
  EXPECT_EQ(line.damage(0, false), 0);
  EXPECT_EQ(line.damage(-1, false), 0);
  const fatigue::DetailLine detail{71};
  for (double r : {20.0, 30.0, 50.0, 60.0, 200.0}) {
    const double life = detail.life(r);
    EXPECT_NEAR(line.damage(r, true), std::isfinite(life) ? 1 / life : 0, 1e-15) << r;
  }
}

TEST_F(SpectrumTest, SteadyCyclesByHand) {
  // 1000 sines of 100 µε range: 21 MPa. Slow against the cut, so that nothing is lost.
  std::string text = "strain\n";
  for (int i = 0; i <= 100000; ++i) text += c_number(50 * std::sin(2 * M_PI * i / 100.0)) + "\n";
  Settings s = of({file("sine.csv", text)}, 50);
  s.level = "none";
  Spectrum now;
  ASSERT_TRUE(compute(now, s, {.until = ChainStep::cut}));
  const Week& w = now.together;
  EXPECT_NEAR(w.cycles, 1000, 1) << "the seam may add one of no size";
  EXPECT_NEAR(w.range_p, 100, 0.1);
  EXPECT_NEAR(w.range_equivalent, 21, 0.05);
  EXPECT_NEAR(w.irregularity, 1, 0.002);
  EXPECT_EQ(w.damage, 0) << "below the cut-off of 28.7 MPa";
  EXPECT_NEAR(w.damage_no_cutoff, 1000 * std::pow(21 / LifeLine{71, 3}.knee(), 5) / 5e6, 2e-3 * w.damage_no_cutoff);
  EXPECT_NE(evaluation_of(now, {}).finding("no-damage"), nullptr);
  s.modulus = 420000;
  ASSERT_TRUE(compute(now, s, {.until = ChainStep::cut}));
  EXPECT_NEAR(now.together.damage, 1000 * std::pow(42 / LifeLine{71, 3}.knee(), 5) / 5e6, 2e-3 * now.together.damage);
}

TEST_F(SpectrumTest, BadInputGetsASentence) {
  const auto why = [&](const Settings& s) {
    Spectrum now;
    const auto done = compute(now, s);
    EXPECT_FALSE(done);
    return done ? std::string() : done.error().message;
  };
  EXPECT_NE(why(of({(folder_ / "none.f32").string()}, 50)).find("cannot be opened"), std::string::npos);
  EXPECT_NE(why(of({file("a.f32", "abc")}, 50)).find("no whole number of samples"), std::string::npos);
  EXPECT_NE(why(of({file("b.f32", "")}, 50)).find("no whole number of samples"), std::string::npos);
  EXPECT_NE(why(of({file("c.csv", "x\n1\n2\n3\n")}, 0)).find("rate is not known"), std::string::npos);
  EXPECT_NE(why(of({file("d.csv", "x\n1\n2\nfoo\n4\n")}, 50)).find("not a number"), std::string::npos);
  EXPECT_NE(why(of({file("e.csv", "time,x\n0,1\n0.1,2\n0.05,3\n")}, 0)).find("runs backwards"), std::string::npos);
  Settings s = of({file("f.csv", "time,a,b\n0,1,5\n0.1,2,6\n0.2,3,7\n")}, 0);
  s.weeks[0].column = "c";
  EXPECT_NE(why(s).find("no column “c”; it has time, a, b"), std::string::npos);
  EXPECT_NE(why({}).find("at least one signal"), std::string::npos);
  std::string nan4(400, '\0');
  for (int i = 0; i < 100; ++i) nan4.replace(size_t(i) * 4, 4, std::string("\x00\x00\xc0\x7f", 4));
  EXPECT_NE(why(of({file("g.f32", nan4)}, 50)).find("no measured sample"), std::string::npos);
}

TEST_F(SpectrumTest, TimeThatIsMissingIsAGap) {
  std::string text = "Zeit;Dehnung\n";
  for (int i = 0; i < 3000; ++i)
    if (i < 1000 || i >= 1200)
      text += std::to_string(i / 20) + "," + std::to_string(i % 20 * 5 + 100).substr(1) + ";" +
              std::to_string(int(30 * std::sin(i / 9.0))) + "\n";
  Spectrum now;
  Settings s = of({file("gap.csv", text)}, 0);
  ASSERT_TRUE(compute(now, s, {.until = ChainStep::cut}));
  EXPECT_EQ(now.weeks[0].signal->rate(), 20);
  EXPECT_EQ(now.weeks[0].raw.samples, 3000u);
  EXPECT_EQ(now.weeks[0].raw.missing, 200u);
  EXPECT_EQ(now.weeks[0].raw.gaps[0].from, 1000u);
  // A sentinel is a gap too, and files of one week follow one another.
  std::string first = "x\n", second = "x\n";
  for (int i = 0; i < 500; ++i)
    (i < 250 ? first : second) += i == 100 ? "-9999\n" : c_number(30 * std::sin(i / 9.0)) + "\n";
  Settings two = of({file("one.csv", first)}, 20);
  two.weeks[0].files.push_back(file("two.csv", second));
  two.weeks[0].sentinel = -9999;
  Spectrum joined;
  ASSERT_TRUE(compute(joined, two, {.until = ChainStep::cut}));
  EXPECT_EQ(joined.weeks[0].raw.samples, 500u);
  EXPECT_EQ(joined.weeks[0].raw.missing, 1u);
  EXPECT_LT(joined.together.range_max, 70);
}

TEST_F(SpectrumTest, TheRecordKeepsWhatWasChosen) {
  TestRecord r;
  r.method = kMethod;
  r.fields.set("specimen.id", std::string("BW-A gauge 1"));
  r.fields.set("settings.cut", reading_of(parse_quantity("3 Hz", Dimension::frequency).value()));
  r.fields.set("settings.gate", reading_of(parse_quantity("0.8 µε", Dimension::microstrain).value()));
  r.fields.set("settings.level", std::string("quiet"));
  for (int i = 0; i < 3; ++i) {
    Row row;
    row.cells.set("file", "f" + std::to_string(i) + ".f32");
    const int week = i / 2 + 1;
    row.cells.set("week", double(week));
    r.run.tables["sources"].push_back(row);
  }
  const auto back = record_from_json(spectrum::record_to_json(r));
  ASSERT_TRUE(back) << back.error().message;
  const auto s = settings_of(*back);
  ASSERT_TRUE(s);
  EXPECT_EQ(s->cut, 3);
  EXPECT_NEAR(s->gate, 0.8, 1e-12);
  EXPECT_EQ(s->level, "quiet");
  ASSERT_EQ(s->weeks.size(), 2u);
  EXPECT_EQ(s->weeks[0].files.size(), 2u);
  for (const auto& [path, bad] : {std::pair{"settings.p", 0.0},
                                  {"settings.p", 1.0},
                                  {"settings.share", 1.0},
                                  {"settings.m", 0.5},
                                  {"settings.levels", 3.0},
                                  {"settings.length", 10.0}}) {
    TestRecord wrong = *back;
    wrong.fields.set(path, bad);
    EXPECT_FALSE(settings_of(wrong)) << path;
  }
}

TEST_F(SpectrumTest, DriveFilesAndTheirScale) {
  Spectrum s;
  Settings set = of({bridge(1, 24)}, 20);
  set.length = 500;
  ASSERT_TRUE(compute(s, set));
  ASSERT_EQ(s.drive.values.size(), 501u);
  const DriveScale scale{0.021 * 300, 40, 3};
  const std::vector<double> newton = drive_values(s.drive, scale);
  EXPECT_NEAR(newton.front(), s.drive.values.front() * 6.3, 1e-9);
  EXPECT_NEAR(newton.back(), newton.front(), 1e-6) << "blocks join";
  const std::string binary = drive_binary(s.drive, scale, 7);
  ASSERT_EQ(binary.size(), 32u + 501 * 8);
  EXPECT_EQ(binary.substr(0, 8), "FTDRIVE1");
  double third = 0;
  std::memcpy(&third, binary.data() + 32 + 16, 8);
  EXPECT_EQ(third, newton[2]);
  const std::string csv = drive_csv(s.drive, {}, 7);
  EXPECT_EQ(std::count(csv.begin(), csv.end(), '\n'), 502);
  // The rig's limits are checked.
  TestRecord r;
  auto set_typed = [&](const char* path, const char* typed) {
    r.fields.set(path, reading_of(parse_quantity(typed, schema().field(path)->dimension).value()));
  };
  set_typed("settings.area", "300 mm²");
  set_typed("settings.rig.force", "100 N");
  EXPECT_NE(evaluation_of(s, r).finding("rig-force"), nullptr);
  set_typed("settings.rig.force", "100 kN");
  set_typed("settings.rig.frequency", "10 Hz");
  set_typed("settings.rig.rate", "1 N/s");
  EXPECT_EQ(evaluation_of(s, r).finding("rig-force"), nullptr);
  EXPECT_NE(evaluation_of(s, r).finding("rig-rate"), nullptr);
}

TEST_F(SpectrumTest, BlocksOfEnoughLengthRepeatTheDamage) {
  Spectrum s;
  Settings set = of({bridge(1, 24)}, 20);
  ASSERT_TRUE(compute(s, set));
  const auto study = study_blocks(s, 100000);
  ASSERT_TRUE(study);
  ASSERT_EQ(study->size(), 5u);
  EXPECT_EQ(study->front().length, 1000u);
  EXPECT_EQ(study->back().length, 100000u);
  EXPECT_LT(study->back().largest - study->back().least, study->front().largest - study->front().least)
      << "longer blocks scatter less";
  EXPECT_NEAR(study->back().mean, 1, 0.1);
  EXPECT_EQ(shortest_block(
                {{1000, 1, 1, 1, 20, 20}, {3000, 1, 1, 1, 12, 20}, {10000, 1, 1, 1, 19, 20}, {30000, 1, 1, 1, 20, 20}}),
            10000u);
  EXPECT_EQ(shortest_block({{1000, 1, 1, 1, 18, 20}}), 0u);
}

TEST_F(SpectrumTest, TheSameSeedGivesTheSameHistory) {
  standin::BridgeTraffic t;
  t.rate = 20;
  t.hours = 3;
  auto all = [&] {
    std::vector<float> x;
    standin::bridge_history(t, [&](const std::vector<float>& piece) {
      x.insert(x.end(), piece.begin(), piece.end());
      return true;
    });
    return x;
  };
  const auto a = all(), b = all();
  ASSERT_EQ(a.size(), 3u * 3600 * 20);
  EXPECT_EQ(0, std::memcmp(a.data(), b.data(), a.size() * 4));
  t.seed = 2;
  EXPECT_NE(0, std::memcmp(a.data(), all().data(), a.size() * 4));
  const std::string path = bridge(1, 3);
  EXPECT_FALSE(standin::write_bridge_history(t, path)) << "nothing is written over";
  EXPECT_FALSE(standin::write_bridge_history(t, "/nowhere/at/all.f32"));
}

}  // namespace
}  // namespace fortitor::spectrum::spectrum_test
