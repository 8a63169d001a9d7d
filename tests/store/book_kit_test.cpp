// The Kit in the book: kept, changed, named once, sealed.
#include <QTemporaryDir>

#include "core/standin/benches.h"
#include "tests/store/filled_book.h"

namespace fortitor {
namespace {

class BookKit : public testing::Test {
 protected:
  void SetUp() override { open(); }
  void open() {
    book_.reset();
    auto b = Book::open(path(), "R. Vale");
    ASSERT_TRUE(b);
    book_ = std::move(*b);
  }
  std::string path() const { return dir_.filePath("kit.fortitor").toStdString(); }
  static kit::Item item(const std::string& kind, const std::string& name) {
    kit::Item i;
    i.kind = kind;
    i.fields.set(i.path("id"), name);
    return i;
  }
  std::vector<kit::Item> all() {
    auto kit = book_->kit();
    EXPECT_TRUE(kit) << (kit ? "" : kit.error().message);
    return kit ? *kit : std::vector<kit::Item>();
  }
  QTemporaryDir dir_;
  std::unique_ptr<Book> book_;
};

TEST_F(BookKit, ItemsAndBenchesAreKeptAndRead) {
  kit::Item cell = item("load_cell", "LC-50");
  cell.fields.set(cell.path("due"), std::string("2026-11-28"));
  const auto id = book_->save_item(cell, "added");
  ASSERT_TRUE(id);
  kit::Item bench = kit::bench_of("Frame 50 kN");
  bench.set_of_kind("load_cell", "LC-50");
  ASSERT_TRUE(book_->save_item(bench, "added"));
  open();
  ASSERT_EQ(all().size(), 2u);
  EXPECT_EQ(all()[0].id, *id);
  EXPECT_EQ(all()[0].due(), "2026-11-28");
  EXPECT_TRUE(all()[1].holds(all()[0]));
  EXPECT_TRUE(book_->verify().empty());
}

TEST_F(BookKit, AChangeSaysWhatWasAndWhatIs) {
  kit::Item cell = item("load_cell", "LC-50");
  cell.id = *book_->save_item(cell, "added");
  cell.fields.set(cell.path("class"), std::string("1"));
  ASSERT_TRUE(book_->save_item(cell, "changed"));
  cell.fields.set(cell.path("class"), std::string("0.5"));
  ASSERT_TRUE(book_->save_item(cell, "changed"));
  EXPECT_EQ(all().size(), 1u);
  EXPECT_EQ(book_->logbook(1)[0].detail, "Cell class: 1 → 0.5");
}

TEST_F(BookKit, ANameIsTakenOnceAKind) {
  ASSERT_TRUE(book_->save_item(item("load_cell", "7"), "added"));
  EXPECT_FALSE(book_->save_item(item("load_cell", "7"), "added"));
  EXPECT_FALSE(book_->save_item(item("load_cell", ""), "added"));
  EXPECT_TRUE(book_->save_item(item("grips", "7"), "added")) << "grips may be called so too";
  kit::Item lost = item("grips", "8");
  lost.id = 99;
  EXPECT_FALSE(book_->save_item(lost, "changed")) << "what is not there is not changed";
  EXPECT_EQ(all().size(), 2u);
}

TEST_F(BookKit, BenchesGoWithANewName) {
  kit::Item cell = item("load_cell", "LC-50");
  cell.id = *book_->save_item(cell, "added");
  kit::Item bench = kit::bench_of("B");
  bench.set_of_kind("load_cell", "LC-50");
  ASSERT_TRUE(book_->save_item(bench, "added"));
  cell.fields.set(cell.path("id"), std::string("LC-50b"));
  ASSERT_TRUE(book_->save_item(cell, "renamed"));
  EXPECT_EQ(all()[1].of_kind("load_cell"), "LC-50b");
  EXPECT_TRUE(book_->verify().empty());
}

TEST_F(BookKit, KnowsTheRecordsThatNameAnItem) {
  const kit::Item cell = item("load_cell", "LC \"50\" %_'");
  ASSERT_TRUE(book_->save_item(cell, "added"));
  const auto series = book_->add_series(*book_->add_job("J-1", ""), "Tension", "tension-metal");
  const Method& m = *methods::find("tension-metal");
  for (int i = 0; i < 3; ++i) {
    TestRecord r;
    r.method = m.id;
    r.tested_at = "2026-11-2" + std::to_string(i) + "T10:00:00";
    if (i < 2) kit::fill(r, m, cell);
    const auto id = book_->add_specimen(*series, "B-" + std::to_string(i), r);
    if (i != 1) continue;
    kit::fill(r, m, item("load_cell", "another"));  // the newest record counts
    ASSERT_TRUE(book_->save_record(*id, 0, r, {}, "other cell"));
  }
  const auto uses = book_->uses(cell);
  ASSERT_EQ(uses.size(), 1u);
  EXPECT_EQ(uses[0].code, "B-0");
  EXPECT_TRUE(book_->uses(kit::bench_of("B")).empty());
}

TEST_F(BookKit, AnItemChangedBehindTheBookIsNotUsed) {
  ASSERT_TRUE(book_->save_item(item("load_cell", "LC-50"), "added"));
  book_.reset();
  outside(path(), "UPDATE equipment SET json = replace(json, 'LC-50', 'LC-51'), name = 'LC-51'");
  auto b = Book::open(path(), "R. Vale");
  ASSERT_TRUE(b);
  EXPECT_FALSE((*b)->kit());
  EXPECT_FALSE((*b)->verify().empty());
}

}  // namespace
}  // namespace fortitor
