// What a record answers when it is asked: fields of every kind, runs and their segments, schemas and their channels.
#include "core/record/record.h"

#include <gtest/gtest.h>

#include <cmath>

#include "core/methods/method.h"
#include "core/quantity/parse.h"

namespace fortitor::record_test {
namespace {

Reading length(const char* typed) {
  return reading_of(parse_quantity(typed, Dimension::length).value());
}

TEST(Fields, ANumberIsAReadingANumberOrTheOnlyOneOfAList) {
  Fields f;
  EXPECT_FALSE(f.number("a"));
  f.set("a", length("3 mm"));
  EXPECT_EQ(f.number("a"), 3);
  f.set("a", 4.5);
  EXPECT_EQ(f.number("a"), 4.5);
  f.set("a", std::string("seven"));
  EXPECT_FALSE(f.number("a"));
  f.set("a", true);
  EXPECT_FALSE(f.number("a"));
  f.set("a", Readings{length("5 mm")});
  EXPECT_EQ(f.number("a"), 5);
  f.set("a", Readings{length("5 mm"), length("6 mm")});
  EXPECT_FALSE(f.number("a")) << "of two, neither is the value";
  f.set("a", Readings{});
  EXPECT_FALSE(f.number("a"));
  f.set("a", Reading{});
  EXPECT_FALSE(f.number("a")) << "missed";
}

TEST(Words, AreKeptInOneTextAndComeBack) {
  EXPECT_EQ(kept_words({}), "");
  EXPECT_EQ(kept_words({"one"}), "one");
  EXPECT_EQ(kept_words({"one", "two", "three"}), "one;two;three");
  EXPECT_EQ(words_of("one;two;three"), (std::vector<std::string>{"one", "two", "three"}));
  EXPECT_EQ(words_of(";;one;;two;"), (std::vector<std::string>{"one", "two"}))
      << "nothing between two marks is no word";
  EXPECT_TRUE(words_of("").empty());
  EXPECT_TRUE(words_of(";").empty());
}

TEST(Units, ABareNumberIsInTheUnitOfItsFieldOrOfTheSet) {
  FieldSpec f;
  f.dimension = Dimension::length;
  EXPECT_EQ(bare_unit(f, UnitSet::si).symbol, "mm");
  EXPECT_EQ(bare_unit(f, UnitSet::us).symbol, "in");
  f.unit = "µm";
  EXPECT_EQ(bare_unit(f, UnitSet::us).symbol, "µm");
  f.unit = "N";  // no length
  EXPECT_EQ(bare_unit(f, UnitSet::si).symbol, "mm");
}

SamplesPtr samples(size_t n) {
  auto s = std::make_shared<Samples>();
  s->channels = {{"time", std::vector<double>(n, 1.0)}};
  return s;
}

TEST(Runs, SamplesStandInTheirSegmentsUntilTheyAreDropped) {
  fortitor::Run run;
  EXPECT_FALSE(run.has_samples());
  EXPECT_EQ(run.samples(), nullptr);
  run.set_samples(samples(3), "cycles");
  run.segments.push_back({"cycles", "b.csv", {{"force", {"F", "N"}}}, samples(5)});
  run.segments.push_back({"destruction", "", {}, nullptr});
  EXPECT_TRUE(run.has_samples());
  ASSERT_NE(run.samples("cycles"), nullptr);
  EXPECT_EQ(run.samples("cycles")->size(), 3u);
  ASSERT_NE(run.samples("cycles", 1), nullptr);
  EXPECT_EQ(run.samples("cycles", 1)->size(), 5u);
  EXPECT_EQ(run.samples("cycles", 2), nullptr);
  EXPECT_EQ(run.samples("destruction"), nullptr);
  EXPECT_EQ(run.samples(), nullptr) << "no segment without a name";
  EXPECT_EQ(run.find_segment("holding"), nullptr);
  run.drop_samples();
  EXPECT_FALSE(run.has_samples());
  ASSERT_EQ(run.segments.size(), 3u) << "files and mappings stay";
  EXPECT_EQ(run.segments[1].file, "b.csv");
  EXPECT_EQ(run.segments[1].mapping.at("force").unit, "N");
}

TEST(Runs, RowsAreCountedOverTheirTables) {
  fortitor::Run run;
  EXPECT_EQ(run.row_count(), 0u);
  EXPECT_TRUE(run.rows("stops").empty());
  run.tables["stops"].resize(3);
  run.tables["blows"].resize(2);
  EXPECT_EQ(run.row_count(), 5u);
  EXPECT_EQ(run.rows("blows").size(), 2u);
}

TEST(Samples, AColumnIsMadeAsLongAsTheOthers) {
  Samples s;
  s.channels = {{"time", {0, 1, 2}}};
  Channel& force = s.column("force");
  ASSERT_EQ(force.values.size(), 3u);
  for (double v : force.values) EXPECT_TRUE(std::isnan(v));
  EXPECT_EQ(&s.column("force"), &s.channels[1]) << "not a second one";
  EXPECT_EQ(s.channels.size(), 2u);
  EXPECT_EQ(s.find("strain"), nullptr);
}

TEST(Schemas, ChannelsAreFoundInTheRunAndInItsSegments) {
  const Schema& proof = *methods::find("proof-load");
  ASSERT_FALSE(proof.segments.empty());
  for (const SegmentSpec& s : proof.segments)
    for (const ChannelSpec& c : s.channels) {
      ASSERT_NE(proof.channel(c.name), nullptr) << c.name;
      EXPECT_EQ(proof.channel(c.name)->name, c.name);
    }
  const Schema& tension = *methods::find("tension-metal");
  ASSERT_NE(tension.channel("force"), nullptr);
  EXPECT_EQ(tension.channel("force")->dimension, Dimension::force);
  EXPECT_EQ(tension.channel("smell"), nullptr);
}

}  // namespace
}  // namespace fortitor::record_test
