// Rows in the book's settings: what is kept comes back, what somebody wrote by hand harms nothing.
#include "store/book_setting.h"

#include <gtest/gtest.h>

#include <QTemporaryDir>
#include <limits>

namespace fortitor::book_setting_test {
namespace {

struct Thing {
  std::string name = "usual";
  double size = 1.5;
  int count = 3;
  int64_t id = 4;
  uint64_t seed = 5;
  bool on = true;
  bool operator==(const Thing&) const = default;
};

const SettingRows<Thing>& things() {
  static const SettingRows<Thing> all("things", {{"name", &Thing::name},
                                                 {"size", &Thing::size},
                                                 {"count", &Thing::count},
                                                 {"id", &Thing::id},
                                                 {"seed", &Thing::seed},
                                                 {"on", &Thing::on}});
  return all;
}

class BookSetting : public testing::Test {
 protected:
  void SetUp() override {
    auto made = Book::open(folder_.filePath("b.fortitor").toStdString(), "R. Vale");
    ASSERT_TRUE(made) << made.error().message;
    book_ = std::move(*made);
  }
  QTemporaryDir folder_;
  std::unique_ptr<Book> book_;
};

TEST_F(BookSetting, WhatIsKeptComesBack) {
  EXPECT_TRUE(things().of(*book_).empty());
  const std::vector<Thing> kept = {{"Häkchen “ß”\n\"", -0.1, std::numeric_limits<int>::min(),
                                    std::numeric_limits<int64_t>::max(), std::numeric_limits<uint64_t>::max(), false},
                                   {},
                                   {"", 1e300, 0, -1, 0, true}};
  ASSERT_TRUE(things().keep(*book_, kept));
  EXPECT_EQ(things().of(*book_), kept);
}

TEST_F(BookSetting, WhatSomebodyWroteByHandHarmsNothing) {
  for (const char* text : {"", "[", "{}", "7", "null", "[null, 3, \"x\", []]"}) {
    ASSERT_TRUE(book_->set_setting("things", text));
    EXPECT_TRUE(things().of(*book_).empty()) << text;
  }
  ASSERT_TRUE(book_->set_setting(
      "things", R"([{"name": 3, "size": "x", "count": 1e300, "id": [], "seed": {}, "on": "yes", "other": 1},
                    {"size": 2, "count": 99999999999}])"));
  const auto read = things().of(*book_);
  ASSERT_EQ(read.size(), 2u);
  EXPECT_EQ(read[0], Thing{}) << "cells of another kind are what a new row has";
  EXPECT_EQ(read[1].size, 2);
  EXPECT_EQ(read[1].count, 3) << "no int";
}

TEST_F(BookSetting, BytesThatAreNoTextAreKeptAsSigns) {
  ASSERT_TRUE(things().keep(*book_, {{"a\xff z", 1, 1, 1, 1, true}}));
  EXPECT_EQ(things().of(*book_).at(0).name, "a\xEF\xBF\xBD z");
}

}  // namespace
}  // namespace fortitor::book_setting_test
