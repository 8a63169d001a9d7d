// Instruments that write their letters as Windows and DOS did: a line is bytes for its sum, and letters for who reads.
#include <gtest/gtest.h>

#include "core/line/line.h"
#include "core/line/teach.h"
#include "core/record/encoding.h"

namespace fortitor::line::letters_test {
namespace {

std::vector<std::string> four(const std::string& before, const std::string& after) {
  std::vector<std::string> out;
  for (const char* number : {"12.034", "12.051", "12.060", "12.093"}) out.push_back(before + number + after);
  return out;
}

TEST(LineLetters, AMicrometreOfOneByteIsAMicrometre) {
  const auto f = propose(four("", " \xB5m"));
  ASSERT_TRUE(f) << f.error().message;
  const Reading r = read(*f, "12.500 \xB5m");
  ASSERT_TRUE(r.good()) << r.why;
  ASSERT_EQ(r.values.size(), 1u);
  EXPECT_EQ(r.values[0].unit, "µm");
  EXPECT_EQ(r.values[0].typed, "12.500 µm");
  EXPECT_EQ(r.text, "12.500 µm");
}

TEST(LineLetters, TheSumIsThatOfTheBytes) {
  std::vector<std::string> lines;
  for (const std::string& line : four("", " \xB5m")) lines.push_back(line + "*" + sum_of(line, Sum::exclusive_or));
  const auto f = propose(lines);
  ASSERT_TRUE(f) << f.error().message;
  EXPECT_EQ(f->sum, Sum::exclusive_or);
  for (const std::string& line : lines) EXPECT_TRUE(read(*f, line).good()) << read(*f, line).why;
  std::string other = lines[0];
  other[1] = '3';
  const Reading bad = read(*f, other);
  EXPECT_EQ(bad.state, State::bad);
  EXPECT_TRUE(is_utf8(bad.text)) << "what is shown and kept is text";
}

// A name out of a head went into the format as a byte that no record can hold, and came back as another.
TEST(LineLetters, ANameIsTheSameWhereItIsKept) {
  std::vector<std::string> lines = {"Zeit;L\xE4nge;Kraft"};
  for (const char* line : {"0.0;0.010;0.5", "0.5;0.020;1.1", "1.0;0.031;1.4", "1.5;0.040;2.2"}) lines.push_back(line);
  const auto f = propose(lines);
  ASSERT_TRUE(f) << f.error().message;
  ASSERT_EQ(f->fields.size(), 3u);
  EXPECT_EQ(f->fields[1].channel, "länge");
  const auto again = format_from_json(format_to_json(*f));
  ASSERT_TRUE(again);
  EXPECT_TRUE(*again == *f);
}

TEST(LineLetters, OfAnObjectAndOfWhatIsPointedAtToo) {
  const auto f = propose(four(R"({"L)"
                              "\xE4"
                              R"(nge": )",
                              "}"));
  ASSERT_TRUE(f) << f.error().message;
  const std::string line = R"({"L)"
                           "\xE4"
                           R"(nge": 3.5})";
  const Reading r = read(*f, line);
  ASSERT_TRUE(r.good()) << r.why;
  EXPECT_EQ(r.values.at(0).value, 3.5);
  const auto pieces = pieces_of(*f, line);
  ASSERT_EQ(pieces.size(), 1u);
  EXPECT_EQ(pieces[0].key, "Länge");
}

TEST(LineLetters, WhatLooksLikeUtf8AndIsNone) {
  // Longer than need be, half a pair, beyond the last letter (RFC 3629, 3).
  for (const char* none :
       {"\xC0\x80", "\xE0\x9F\xBF", "\xED\xA0\x80", "\xF0\x8F\xBF\xBF", "\xF4\x90\x80\x80", "\xB5", "a\xC3"})
    EXPECT_FALSE(is_utf8(none));
  for (const char* letters :
       {"", "a", "µ", "\xE0\xA0\x80", "\xED\x9F\xBF", "\xEE\x80\x80", "\xF0\x90\x80\x80", "\xF4\x8F\xBF\xBF"})
    EXPECT_TRUE(is_utf8(letters));
  for (int c = 1; c < 256; ++c) EXPECT_TRUE(is_utf8(as_utf8(std::string(1, char(c))))) << c;
}

}  // namespace
}  // namespace fortitor::line::letters_test
