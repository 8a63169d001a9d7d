// The page of a method and the method say the same: its results with their keys, and the findings that its own code
// raises, are written from the registry. FORTITOR_KEEP=1 writes them anew.
#include <gtest/gtest.h>

#include <cstdlib>
#include <filesystem>
#include <map>

#include "core/bench/records.h"
#include "core/methods/method.h"
#include "tests/core/methods/kept_text.h"
#include "tests/core/methods/made.h"
#include "tests/core/methods/source_text.h"

namespace fortitor::docs_test {
namespace {

namespace fs = std::filesystem;

// What comes only of what a person asks for; each is tested in the file of its method.
const std::set<std::string> kAsked = {"compression-solid/at_strain",
                                      "drop-impact/dent_relaxed",
                                      "fatigue-constant/n_coalescence",
                                      "hardness-brinell/converted",
                                      "hardness-brinell/hb_mpa",
                                      "hardness-knoop/converted",
                                      "hardness-rockwell/converted",
                                      "hardness-vickers/converted",
                                      "hardness-vickers/hv_mpa",
                                      "hardness-vickers/reader_bias",
                                      "hardness-vickers/reader_scatter",
                                      "impact-pendulum/bend_angle",
                                      "impact-pendulum/energy_third",
                                      "impact-pendulum/lateral_expansion",
                                      "impact-pendulum/shear_percent",
                                      "impact-pendulum/toughness_look",
                                      "proof-load/price_per_kn",
                                      "proof-load/snatch_mean",
                                      "proof-load/snatch_peak",
                                      "tension-metal/r_value",
                                      "tension-plastic/build",
                                      "tension-plastic/sigma_x",
                                      "torsion-bar/e_check"};

constexpr const char* kFrom = "<!-- from the registry -->";

std::set<std::string> codes_of(const Method& m) {
  std::string folder = m.id;
  for (char& c : folder) c = c == '-' ? '_' : c;
  std::set<std::string> out;
  for (const auto& file : fs::directory_iterator(fs::path(FORTITOR_SOURCE_DIR) / "core/methods" / folder))
    out.merge(raised_in(text_of(file.path())));
  return out;
}

std::string made_from(const Method& m) {
  standin::SimulateOptions o;
  o.method = m.id;
  TestRecord r = standin::find_bench(m.standin)->simulate(o);
  r.method = m.id;
  std::ostringstream out;
  out << kFrom << "\n\n## Results\n\n| key | symbol | what it is | unit |\n| --- | --- | --- | --- |\n";
  std::set<std::string> listed;
  const auto line = [&](const ResultSpec& s) {
    if (!listed.insert(s.key).second) return;
    const std::string unit(internal_symbol(s.dimension));
    out << "| `" << s.key << "` | " << s.symbol << " | " << s.name << " | " << unit << " |\n";
  };
  for (const ResultSpec& s : m.reported(r)) line(s);
  out << "\nFindings of this method:";
  for (const std::string& code : codes_of(m)) out << " `" << code << "`";
  out << "\n";
  return out.str();
}

TEST(Docs, EveryPageNamesWhatItsMethodGives) {
  for (const Method* m : methods::all()) {
    const fs::path path = fs::path(FORTITOR_SOURCE_DIR) / "docs/methods" / (m->id + ".md");
    const std::string page = text_of(path), made = made_from(*m);
    ASSERT_FALSE(page.empty()) << path;
    const size_t at = page.find(kFrom);
    if (std::getenv("FORTITOR_KEEP") != nullptr) {
      std::string kept = page.substr(0, at);
      while (!kept.empty() && kept.back() == '\n') kept.pop_back();
      std::ofstream(path) << kept << "\n\n" << made;
      continue;
    }
    ASSERT_NE(at, std::string::npos) << path << " has no part from the registry: FORTITOR_KEEP=1 writes it";
    EXPECT_EQ(page.substr(at), made) << path << " is not what the method gives: FORTITOR_KEEP=1 writes it anew";
  }
}

// One name a key, and every key comes out of some record: a slip of a letter in one of the places where a key stands
// would be a result that is never there.
TEST(Keys, EveryOneComesOutOfSomeRecordWithItsDerivation) {
  std::map<std::string, std::set<std::string>> made, derived;
  const auto take = [&](const TestRecord& r) {
    for (const ResultValue& v : methods::evaluate(r, {.uncertainty = false}).results) {
      made[r.method].insert(v.spec.key);
      if (!v.how.empty()) derived[r.method].insert(v.spec.key);
    }
  };
  for (const Method* m : methods::all()) {
    const standin::Bench& bench = *standin::find_bench(m->standin);
    for (size_t i = 0; i < std::max<size_t>(1, bench.pieces.size()); ++i)
      take(made_short(*m, bench.pieces.empty() ? "" : bench.pieces[i].value, 70 + i, "", 50));
  }
  std::vector<std::string> files = record_files();
  for (const auto& file : fs::directory_iterator(FORTITOR_TEST_DATA "/awkward"))
    if (file.path().extension() == ".json") files.push_back(file.path().string());
  for (const std::string& file : files)
    if (const auto r = load_record(file)) take(*r);
  for (const Method* m : methods::all()) {
    std::set<std::string> seen;
    for (const ResultSpec& s : m->reported({})) {
      EXPECT_TRUE(seen.insert(s.key).second) << m->id << ": " << s.key << " stands twice";
      EXPECT_FALSE(s.name.empty()) << m->id << ": " << s.key << " has no name";
      ASSERT_TRUE(m->result(s.key)) << m->id << ": " << s.key;
      EXPECT_EQ(m->result(s.key)->name, s.name) << m->id << ": " << s.key;
      if (kAsked.count(m->id + "/" + s.key) != 0) continue;
      EXPECT_EQ(made[m->id].count(s.key), 1u) << m->id << ": " << s.key << " came out of no record";
      EXPECT_EQ(derived[m->id].count(s.key), made[m->id].count(s.key))
          << m->id << ": " << s.key << " has no derivation";
    }
  }
}

}  // namespace
}  // namespace fortitor::docs_test
