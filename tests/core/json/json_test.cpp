// The house's JSON beside nlohmann's own values: the same documents, the same texts.
#include "core/json/json.h"

#include <gtest/gtest.h>

#include <cmath>
#include <limits>
#include <nlohmann/json.hpp>
#include <random>

namespace fortitor::json_test {
namespace {

using Other = nlohmann::ordered_json;
constexpr auto kReplace = Other::error_handler_t::replace;

// Any document: keys that come twice or hold anything, numbers of every kind, lists and objects inside each other.
std::string any(std::mt19937_64& random, int depth) {
  const auto below = [&](unsigned n) { return unsigned(random() % n); };
  const auto text = [&] {
    static const char* const some[] = {"a", "b", "key", "µε", "\\u0001", "\\\"", "\\\\n", "ω\\n", "", "𝛼", "a.b"};
    return std::string("\"") + some[below(11)] + some[below(11)] + "\"";
  };
  switch (depth > 4 ? below(7) : below(10)) {
    case 0: return "null";
    case 1: return below(2) ? "true" : "false";
    case 2: return std::to_string(int64_t(random()));
    case 3: return std::to_string(random());
    case 4: return Other(std::ldexp(double(int64_t(random())), int(below(200)) - 100)).dump();
    case 5: return std::to_string(below(20)) + "." + std::to_string(below(1000)) + (below(2) ? "e-5" : "");
    case 6: return text();
    case 7: {
      std::string out = "[";
      for (unsigned n = below(5), i = 0; i < n; ++i) out += (i ? ", " : "") + any(random, depth + 1);
      return out + "]";
    }
    default: {
      std::string out = "{";
      for (unsigned n = below(6), i = 0; i < n; ++i) out += (i ? "," : "") + text() + ": " + any(random, depth + 1);
      return out + "}";
    }
  }
}

TEST(JsonValue, ReadsAndWritesWhatTheOtherDoes) {
  std::mt19937_64 random(20261201);
  for (int i = 0; i < 3000; ++i) {
    const std::string text = any(random, 0);
    const Json mine = Json::parse(text);
    const Other other = Other::parse(text);
    ASSERT_EQ(mine.dump(), other.dump(-1, ' ', false, kReplace)) << text;
    ASSERT_EQ(mine.dump(2), other.dump(2, ' ', false, kReplace)) << text;
    Json sorted = mine;
    sorted.sort_keys();
    ASSERT_EQ(sorted.dump(),
              nlohmann::json::parse(text).dump(-1, ' ', false, nlohmann::json::error_handler_t::replace));
    ASSERT_TRUE(sorted == mine) << "their order means nothing";
    ASSERT_EQ(mine.size(), other.size());
    Json moved = std::move(sorted), again = mine;
    sorted = again;
    again = Json::parse("[1]");
    ASSERT_TRUE(moved == mine && sorted == mine);
  }
}

TEST(JsonValue, IsMadeOfWhatStandsInTheCode) {
  const std::vector<std::string> words = {"x", "y"};
  Json mine = {
      {"fortitor", "record/1"}, {"none", nullptr}, {"pair", {1, 2.5}}, {"words", words}, {"in", {{"a", true}}}};
  mine["list"].push_back({{"b", "c"}});
  mine["list"].push_back(Json::object());
  mine["deep"]["er"] = -3;
  Other other = {
      {"fortitor", "record/1"}, {"none", nullptr}, {"pair", {1, 2.5}}, {"words", words}, {"in", {{"a", true}}}};
  other["list"].push_back({{"b", "c"}});
  other["list"].push_back(Other::object());
  other["deep"]["er"] = -3;
  EXPECT_EQ(mine.dump(1), other.dump(1));
  EXPECT_EQ(Json({{"value", NAN}, {"more", HUGE_VAL}}).dump(), R"({"value":null,"more":null})");
  EXPECT_EQ(Json("a\xff").dump(), Other("a\xff").dump(-1, ' ', false, kReplace)) << "bytes that are no text";
  EXPECT_EQ(Json(12.0).dump(), "12.0");
  EXPECT_EQ(Json(std::numeric_limits<uint64_t>::max()).dump(), "18446744073709551615");
  EXPECT_TRUE(mine["fortitor"] == "record/1");
  EXPECT_FALSE(mine["in"] == "record/1");
  EXPECT_TRUE(Json(1) == Json(1.0));
}

TEST(JsonValue, AValueOfAnotherKindIsRefused) {
  const Json j = Json::parse(R"({"text": "x", "number": 1.5, "list": [1]})");
  EXPECT_THROW((void)j.at("nothing"), Json::Error);
  EXPECT_THROW((void)j["nothing"], Json::Error);
  EXPECT_THROW((void)j["text"].get<double>(), Json::Error);
  EXPECT_THROW((void)j["number"].get<std::string>(), Json::Error);
  EXPECT_THROW((void)j.value("number", ""), Json::Error);
  EXPECT_THROW((void)j["list"][7], Json::Error);
  EXPECT_THROW((void)j["list"]["x"], Json::Error);
  EXPECT_THROW((void)Json(1e30).get<int64_t>(), Json::Error);
  EXPECT_THROW((void)Json(NAN).get<int64_t>(), Json::Error);
  EXPECT_EQ(j.value("absent", 7), 7);
  EXPECT_EQ(j.value("number", 0.0), 1.5);
  EXPECT_EQ(j["number"].get<size_t>(), 1u);
  size_t values = 0;
  for (const Json& v : j["text"]) values += v.size();
  EXPECT_EQ(values + j["list"].items().size(), 0u) << "no list, no object";
  Json text = "x";
  EXPECT_THROW(text.push_back(1), Json::Error);
  EXPECT_THROW(text["key"] = 1, Json::Error);
}

TEST(JsonValue, WhatIsNoJsonSaysWhere) {
  const auto at = [](const std::string& text) {
    try {
      (void)Json::parse(text);
    } catch (const Json::ParseError& e) {
      return e.syntax ? int(e.byte) : -1;
    }
    return 0;
  };
  EXPECT_EQ(at("{\"a\": 1"), 8);
  EXPECT_EQ(at("[1, x]"), 5);
  EXPECT_GT(at(""), 0);
  EXPECT_GT(at("\"\xff\""), 0);
  EXPECT_EQ(at("[1e999]"), -1) << "JSON, and no number of this machine";
  EXPECT_EQ(at(std::string(100000, '[')), -1) << "too deep";
  EXPECT_EQ(at(std::string(200, '[') + std::string(200, ']')), 0);
  EXPECT_TRUE(Json::read("[1, x]").is_discarded());
}

// A million keys are a second's work and not a day's; of one that stands twice the last counts.
TEST(JsonValue, ManyKeysAndTheSameKeyTwice) {
  std::string text = "{";
  for (int i = 0; i < 200000; ++i) text += "\"k" + std::to_string(i % 150000) + "\": " + std::to_string(i) + ", ";
  const Json j = Json::parse(text + "\"last\": 0}");
  EXPECT_EQ(j.size(), 150001u);
  EXPECT_EQ(j.items().front().first, "k0");
  EXPECT_EQ(j.items().front().second.get<int>(), 150000);
  EXPECT_EQ(j["k149999"].get<int>(), 149999);
}

TEST(JsonValue, OneOverAnother) {
  Json mine = Json::parse(R"({"a": {"b": 1, "c": 2}, "d": [1], "e": 5})");
  nlohmann::json other = nlohmann::json::parse(mine.dump());
  const char* const patch = R"({"a": {"b": null, "x": {"y": null, "z": 3}}, "d": {"k": 1}, "f": 6})";
  mine.merge_patch(Json::parse(patch));
  other.merge_patch(nlohmann::json::parse(patch));
  EXPECT_TRUE(mine == Json::parse(other.dump())) << mine.dump() << " " << other.dump();
  mine.update(Json::parse(R"({"a": 1, "g": 2})"));
  EXPECT_EQ(mine["a"].get<int>() + mine["g"].get<int>(), 3);
  mine.erase("a");
  EXPECT_FALSE(mine.contains("a"));
}

}  // namespace
}  // namespace fortitor::json_test
