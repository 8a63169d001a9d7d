// Cells and letters of machines' files.
#include "core/record/cell.h"

#include <gtest/gtest.h>

#include <cmath>

#include "core/record/encoding.h"

namespace fortitor::cell_test {
namespace {

TEST(Cells, NumbersAsPeopleWriteThem) {
  auto value = [](const char* text, char decimal) {
    const Cell c = read_cell(text, decimal);
    return c.kind == Cell::Kind::number ? c.value : NAN;
  };
  for (const auto& [text, decimal, want] : {std::tuple{"1,234.5", '.', 1234.5},
                                            {"1.234,5", ',', 1234.5},
                                            {"1'234.5", '.', 1234.5},
                                            {"1 234,5", ',', 1234.5},
                                            {"1\u00A0234,5", ',', 1234.5},
                                            {"1,234,567", '.', 1234567.0},
                                            {" \"12.5\" ", '.', 12.5},
                                            {"+3.5", '.', 3.5},
                                            {"−3.5", '.', -3.5},
                                            {"-1.5E-3", '.', -1.5e-3},
                                            {"2e3", '.', 2000.0},
                                            {".5", '.', 0.5},
                                            {",5", ',', 0.5},
                                            {"5.", '.', 5.0},
                                            {"0.125", '.', 0.125}})
    EXPECT_DOUBLE_EQ(value(text, decimal), want) << text;
  for (const char* text : {"1,23,4.5", "12,3456", "0,125", "1,234'567", "1.2.3", "1e", "12 N", "abc", "24.11.2026"})
    EXPECT_EQ(read_cell(text, '.').kind, Cell::Kind::text) << text;
  for (const char* text : {"", "  ", "\"\"", "-", "---", "n/a", "NaN", "#N/A"})
    EXPECT_EQ(read_cell(text, '.').kind, Cell::Kind::empty) << text;
  EXPECT_TRUE(read_cell("1,234.5", '.').grouped);
  EXPECT_FALSE(read_cell("1234.5", '.').grouped);
}

TEST(Cells, TimesOfTheClock) {
  for (const auto& [text, want] : {std::pair{"0:00:01.5", 1.5},
                                   {"12:31:05,2", 45065.2},
                                   {"1:05.25", 65.25},
                                   {"2026-11-24 00:00:10", 10.0},
                                   {"24.11.2026 01:00:00,5", 3600.5},
                                   {"2026-11-24T00:01:00", 60.0},
                                   {"12:00:01 AM", 1.0},
                                   {"1:00:00 PM", 46800.0},
                                   {"25:00:00", 90000.0}}) {
    const Cell c = read_cell(text, '.');
    EXPECT_EQ(c.kind, Cell::Kind::clock) << text;
    EXPECT_NEAR(c.value, want, 1e-9) << text;
  }
  for (const char* text : {"1:2:3:4", "12:60:00", "12:00:75", "a:b", "12:", ":30", "24.11.2026", "1:00:00 XM"})
    EXPECT_NE(read_cell(text, '.').kind, Cell::Kind::clock) << text;
}

TEST(Encodings, AreToldByTheirBytes) {
  EXPECT_EQ(decode_text("Zeit")->encoding, "utf-8");
  EXPECT_EQ(decode_text("\xEF\xBB\xBFKraft")->text, "Kraft");
  EXPECT_EQ(decode_text("Pr\xFC"
                        "flast")
                ->text,
            "Prüflast");
  EXPECT_EQ(decode_text("Pr\xFC"
                        "flast")
                ->encoding,
            "latin-1");
  EXPECT_EQ(decode_text("\x80 \x96")->text, "€ –") << "the signs of Windows";
  EXPECT_EQ(decode_text(std::string("\xFF\xFE"
                                    "F\0(\0\xB5\0)\0",
                                    10))
                ->text,
            "F(µ)");
  EXPECT_EQ(decode_text(std::string("\xFE\xFF"
                                    "\0F\0=",
                                    6))
                ->text,
            "F=");
  EXPECT_EQ(decode_text(std::string("\xFF\xFE"
                                    "F\0=",
                                    5))
                ->text,
            "F")
      << "half a letter at the end is none";
  EXPECT_EQ(decode_text(std::string("T\0i\0m\0e\0", 8))->encoding, "utf-16") << "without a mark";
  EXPECT_FALSE(decode_text(std::string("PNG\0\0\1\2", 7)));
  EXPECT_EQ(decode_text(std::string("\xFF\xFE\x3D\xD8\x00\xDE", 6))->text, "\xF0\x9F\x98\x80") << "a pair";
}

std::string from_units(const std::vector<unsigned>& units, bool big = false) {
  std::string s = big ? "\xFE\xFF" : "\xFF\xFE";
  for (unsigned u : units) {
    const char high = char(u >> 8), low = char(u & 0xFF);
    s += big ? high : low;
    s += big ? low : high;
  }
  const auto text = decode_text(s);
  return text ? text->text : text.error().message;
}

TEST(Encodings, PairsAreJoinedAndHalvesOfThemAreSaid) {
  const std::string gone = "\xEF\xBF\xBD";
  for (bool big : {false, true}) {
    EXPECT_EQ(from_units({0xD800, 0xDC00}, big), "\xF0\x90\x80\x80") << "the first of all";
    EXPECT_EQ(from_units({0xDBFF, 0xDFFF}, big), "\xF4\x8F\xBF\xBF") << "the last";
    EXPECT_EQ(from_units({0xD7FF, 'a', 0xE000}, big),
              "\xED\x9F\xBF"
              "a\xEE\x80\x80")
        << "beside them";
    EXPECT_EQ(from_units({0xDC00, 0xDC00, 'a'}, big), gone + gone + "a") << "two second halves";
    EXPECT_EQ(from_units({0xD800, 'a'}, big), gone + "a");
    EXPECT_EQ(from_units({0xD800, 0xE000}, big), gone + "\xEE\x80\x80");
    EXPECT_EQ(from_units({0xD800, 0xD800, 0xDC00}, big), gone + "\xF0\x90\x80\x80");
    EXPECT_EQ(from_units({'a', 0xD800}, big), "a" + gone) << "cut off";
    EXPECT_EQ(from_units({0x7F, 0x80, 0x7FF, 0x800}, big), "\x7F\xC2\x80\xDF\xBF\xE0\xA0\x80");
  }
}

TEST(Encodings, EveryByteOfWindowsIsItsSign) {
  std::string bytes = "x";
  for (int c = 0x80; c <= 0xFF; ++c) bytes += char(c);
  EXPECT_EQ(decode_text(bytes)->text,
            "x€\xEF\xBF\xBD‚ƒ„…†‡ˆ‰Š‹Œ\xEF\xBF\xBDŽ\xEF\xBF\xBD\xEF\xBF\xBD‘’“”•–—˜™š›œ\xEF\xBF\xBDžŸ\xC2\xA0¡¢£¤¥¦§¨©ª"
            "«¬\xC2\xAD®¯°±²³´µ¶·¸¹º»¼½¾¿"
            "ÀÁÂÃÄÅÆÇÈÉÊËÌÍÎÏÐÑÒÓÔÕÖ×ØÙÚÛÜÝÞßàáâãäåæçèéêëìíîïðñòóôõö÷øùúûüýþÿ");
}

}  // namespace
}  // namespace fortitor::cell_test
