// The Kit in the book: kept, changed, named once, sealed.
#include <QTemporaryDir>

#include "core/standin/benches.h"
#include "tests/store/filled_book.h"

namespace fortitor::book_kit_test {
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
  std::string path() const { return book_at(dir_.filePath("kit.fortitor").toStdString()); }
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

TEST_F(BookKit, WhatAnItemTouchedIsMarkedInOneAct) {
  kit::Item cell = item("load_cell", "LC-50");
  cell.id = *book_->save_item(cell, "added");
  const auto series = book_->add_series(*book_->add_job("J-1", ""), "Tension", "tension-metal");
  const Method& m = *methods::find("tension-metal");
  std::vector<Id> ids;
  for (int i = 0; i < 4; ++i) {
    standin::SimulateOptions options;
    options.seed = uint64_t(i + 1);
    TestRecord r = standin::universal_frame().simulate(options);
    r.method = m.id;
    r.tested_at = i == 3 ? "" : "2026-11-2" + std::to_string(i) + "T10:00:00";
    if (i != 1) kit::fill(r, m, cell);
    ids.push_back(*book_->add_specimen(*series, "B-" + std::to_string(i), r));
    ASSERT_TRUE(book_->store_run(ids.back(), *r.run.samples(), "x"));
    ASSERT_TRUE(book_->save_record(ids.back(), 0, r, {}, "run"));
  }
  EXPECT_FALSE(book_->mark_uses(cell, "", "")) << "for a reason only";
  const auto none = book_->mark_uses(cell, "2026-12-01", "reads high");
  ASSERT_TRUE(none);
  EXPECT_EQ(*none, 0);
  const auto marked = book_->mark_uses(cell, "2026-11-20", "reads 1 % high");
  ASSERT_TRUE(marked) << marked.error().message;
  EXPECT_EQ(*marked, 2) << "one has another cell, one was never run";
  for (int i = 0; i < 4; ++i) {
    const auto r = book_->record(ids[size_t(i)]);
    ASSERT_TRUE(r);
    const bool hit = i == 0 || i == 2;
    EXPECT_EQ(r->fields.text("equipment.load_cell.held"), hit ? "reads 1 % high" : "");
    EXPECT_EQ(methods::evaluate(*r).finding("calibration-expired") != nullptr, hit);
    EXPECT_NE(r->run.samples(), nullptr) << "the run is as it was";
    EXPECT_EQ(book_->specimen(ids[size_t(i)])->open_judgements, hit ? 1 : 0);
  }
  EXPECT_EQ(book_->logbook(1)[0].what, "marked: LC-50 was off");
  EXPECT_TRUE(book_->verify().empty());
}

TEST_F(BookKit, CertificatesLieInTheBook) {
  kit::Item cell = item("load_cell", "LC-50");
  cell.id = *book_->save_item(cell, "added");
  EXPECT_TRUE(book_->certificates(cell).empty());
  EXPECT_FALSE(book_->attach_certificate(cell, "empty.pdf", {}));
  EXPECT_FALSE(book_->attach_certificate(cell, "huge.pdf", QByteArray(17 * 1024 * 1024, 'x')));
  QByteArray bytes;
  for (int i = 0; i < 1000; ++i) bytes.append(char(i * 7));
  ASSERT_TRUE(book_->attach_certificate(cell, "LC-50 2026.pdf", bytes));
  open();
  ASSERT_TRUE(book_->attach_certificate(cell, "LC-50 2027.pdf", "newer"));
  EXPECT_EQ(book_->certificates(cell), (std::vector<std::string>{"LC-50 2026.pdf", "LC-50 2027.pdf"}));
  EXPECT_EQ(book_->certificate(cell, 0), bytes) << "a newer one writes over nothing";
  EXPECT_EQ(book_->certificate(cell, 1), "newer");
  EXPECT_TRUE(book_->certificate(cell, 2).isEmpty());
  EXPECT_EQ(book_->logbook(1)[0].what, "certificate of LC-50 attached");
  EXPECT_TRUE(book_->verify().empty());
  book_.reset();
  outside(path(), "UPDATE setting SET value = replace(value, 'A', 'B') WHERE key LIKE 'kit.certificate%'");
  auto b = Book::open(path(), "R. Vale");
  ASSERT_TRUE(b);
  EXPECT_FALSE((*b)->verify().empty()) << "it is sealed like every row";
}

TEST_F(BookKit, DailyChecksAreKeptInOrder) {
  kit::Item block = item("load_cell", "LC-50");
  block.id = *book_->save_item(block, "added");
  EXPECT_FALSE(book_->add_daily_check(block, {Clock().utc(), "nothing", "R. Vale", ""}));
  for (const char* v : {"62.8", "62.7", "62.9", "62.8", "62.7"})
    ASSERT_TRUE(book_->add_daily_check(block, {Clock().utc(), v, "R. Vale", ""}));
  EXPECT_FALSE(book_->add_daily_check(block, {Clock().utc(), "3 J", "R. Vale", ""})) << "another unit";
  EXPECT_EQ(kit::words_of(book_->daily_checks(block)), "62.7, as before");
  ASSERT_TRUE(book_->add_daily_check(block, {Clock().utc(), "64.5", "R. Vale", "after it fell"}));
  open();
  const auto checks = book_->daily_checks(block);
  ASSERT_EQ(checks.size(), 6u);
  EXPECT_EQ(checks.back().note, "after it fell");
  EXPECT_EQ(kit::words_of(checks), "64.5, beyond the limits of the checks before");
  const Figure f = kit::figure_of(checks, "LC-50");
  ASSERT_EQ(f.panels.size(), 1u);
  EXPECT_EQ(f.panels[0].traces[0].y.size(), 6u);
  EXPECT_EQ(f.panels[0].marks.size(), 3u);
  EXPECT_TRUE(kit::figure_of({checks[0]}, "x").empty());
  EXPECT_TRUE(kit::words_of({}).empty());
  EXPECT_FALSE(kit::checks_from_json("{"));
  EXPECT_TRUE(book_->verify().empty());
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
}  // namespace fortitor::book_kit_test
