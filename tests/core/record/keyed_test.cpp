#include "core/record/keyed.h"

#include <gtest/gtest.h>

#include "core/methods/method.h"

namespace fortitor::keyed_test {
namespace {

const FieldSpec& diagonal() {
  return *methods::find("hardness-vickers")->table("indents")->column("d1");
}

TEST(Keyed, ABareNumberCountsDivisionsAndALengthStaysALength) {
  const auto count = read_keyed("292.5", diagonal());
  ASSERT_TRUE(count);
  EXPECT_TRUE(count->counted);
  EXPECT_DOUBLE_EQ(*count->value, 292.5);
  const auto length = read_keyed("43.6 µm", diagonal());
  ASSERT_TRUE(length);
  EXPECT_FALSE(length->counted);
  EXPECT_NEAR(*length->value, 0.0436, 1e-12);
}

TEST(Keyed, TheDrumIsReadInMarksAndDivisions) {
  const auto r = read_keyed("5:42.5", diagonal());
  ASSERT_TRUE(r);
  EXPECT_DOUBLE_EQ(*r->value, 292.5);
  EXPECT_EQ(r->typed, "5:42.5");
  EXPECT_NEAR(r->resolution, 0.1, 1e-12);
}

TEST(Keyed, WhatADrumCannotShowIsRefusedInASentence) {
  for (const char* text : {"5:50", "5:-1", "2.5:10", ":3", "5:", "-1:3", "-4", "5:4:3", "five"}) {
    const auto r = read_keyed(text, diagonal());
    EXPECT_FALSE(r) << text;
    if (!r) {
      EXPECT_FALSE(r.error().message.empty());
    }
  }
}

TEST(Keyed, ACellIsCompleteWithTwoEdgesOrOneLength) {
  Row row;
  const FieldSpec& f = diagonal();
  EXPECT_FALSE(cell_complete(row, f));
  row.cells.set("d1", Readings{*read_keyed("118", f)});
  EXPECT_FALSE(cell_complete(row, f));
  row.cells.set("d1", Readings{*read_keyed("118", f), *read_keyed("292.5", f)});
  EXPECT_TRUE(cell_complete(row, f));
  row.cells.set("d1", Readings{*read_keyed("43.6 µm", f)});
  EXPECT_TRUE(cell_complete(row, f));
  row.cells.set("d1", Readings{Reading{}});
  EXPECT_TRUE(cell_complete(row, f)) << "missed is an answer";
}

TEST(Keyed, TheValueIsTheDistanceOfTheEdgesInLengthsOfADivision) {
  const FieldSpec& f = diagonal();
  TestRecord record;
  record.method = "hardness-vickers";
  Row row;
  row.cells.set("d1", Readings{*read_keyed("292.5", f), *read_keyed("118", f)});
  EXPECT_FALSE(cell_value(row, f, record)) << "the length of a division is not known";
  record.fields.set("specimen.division", reading_of(parse_quantity("0.25 µm", Dimension::length).value()));
  EXPECT_NEAR(*cell_value(row, f, record), 0.043625, 1e-12);
  row.cells.set("d1", Readings{*read_keyed("292.5", f), *read_keyed("40 µm", f)});
  EXPECT_FALSE(cell_value(row, f, record)) << "a count and a length make nothing";
  row.cells.set("d1", Readings{*read_keyed("292.5", f), Reading{}});
  EXPECT_FALSE(cell_value(row, f, record));
}

}  // namespace
}  // namespace fortitor::keyed_test
