// What is stored can be read: the book refuses what its reader refuses, and shows what slipped into it before.
#include "core/bench/records.h"
#include "report/certificate.h"
#include "store/bundle.h"
#include "tests/store/filled_book.h"

namespace fortitor::stored_slips_test {
namespace {

class StoredSlips : public testing::Test {
 protected:
  void SetUp() override { fill_book(book()); }
  std::string path(const char* name) const { return book_at(folder_.filePath(name).toStdString()); }
  std::string book() const { return path("a.fortitor"); }
  static Limit contradiction() {
    return {reading_of(parse_quantity("490 MPa", Dimension::stress).value()),
            reading_of(parse_quantity("63 MPa", Dimension::stress).value())};
  }
  QTemporaryDir folder_;
};

TEST_F(StoredSlips, TheBookKeepsNothingThatItCouldNotRead) {
  auto b = Book::open(book(), "R. Vale");
  ASSERT_TRUE(b);
  TestRecord r = *(*b)->record(2);
  const Id before = (*b)->record_version(2);
  r.limits["rm"] = contradiction();
  const auto saved = (*b)->save_record(2, before, r, {}, "at most 63");
  ASSERT_FALSE(saved);
  EXPECT_NE(saved.error().message.find("limits.rm"), std::string::npos) << saved.error().message;
  EXPECT_EQ((*b)->record_version(2), before);
  r = *(*b)->record(2);
  r.fields.set("specimen.gauge_length", reading_of(parse_quantity("0 mm", Dimension::length).value()));
  EXPECT_FALSE((*b)->save_record(2, before, r, {}, "no length"));
  EXPECT_FALSE((*b)->add_specimen(1, "HB-11", r));
  kit::Item cell;
  cell.kind = "load_cell";
  cell.fields.set("equipment.load_cell.id", std::string("LC-1"));
  cell.fields.set("equipment.load_cell.capacity", reading_of(parse_quantity("-5 kN", Dimension::force).value()));
  EXPECT_FALSE((*b)->save_item(cell, "a cell below nothing"));
  EXPECT_TRUE((*b)->verify().empty());
}

TEST_F(StoredSlips, WhatSlippedInIsOpenedShownAndMended) {
  {
    auto b = Book::open(book(), "R. Vale");
    TestRecord r = *(*b)->record(2);
    r.limits["rm"] = contradiction();
    r.faults = {
        {"limits.rm: the lower limit 490 MPa lies above the upper limit 63 MPa", true}};  // as if it had come so
    ASSERT_TRUE((*b)->save_record(2, 0, r, {}, "as an older program kept it"));
  }
  auto b = Book::open(book(), "R. Vale");
  EXPECT_TRUE((*b)->verify().empty()) << "a slip is no damage";
  auto opened = (*b)->record(2);
  ASSERT_TRUE(opened) << opened.error().message;
  ASSERT_EQ(opened->faults.size(), 1u);
  EXPECT_NE(methods::evaluate(*opened).finding("entry-refused"), nullptr);
  // Something else may be changed while it stands there; it may not be joined by another.
  opened->fields.set("specimen.note", std::string("looked at"));
  ASSERT_TRUE((*b)->save_record(2, 0, *opened, {}, "a note"));
  TestRecord worse = *(*b)->record(2);
  worse.fields.set("specimen.gauge_length", reading_of(parse_quantity("0 mm", Dimension::length).value()));
  EXPECT_FALSE((*b)->save_record(2, 0, worse, {}, "one more"));
  // It stops nobody else.
  const auto pages = certificates_of_job(**b, "TC-041", UnitSet::si);
  ASSERT_TRUE(pages) << pages.error().message;
  EXPECT_EQ(pages->pages.size(), 3u);
  const auto bundled = write_bundle(**b, "TC-041", folder_.filePath("j.bundle").toStdString());
  ASSERT_TRUE(bundled) << bundled.error().message;
  EXPECT_TRUE(bundled->empty());
  auto other = Book::open(path("b.fortitor"), "N. Ext");
  const auto taken = read_bundle(**other, folder_.filePath("j.bundle").toStdString());
  ASSERT_TRUE(taken) << taken.error().message;
  EXPECT_EQ(taken->specimens, 3);
  TestRecord mended = *(*b)->record(2);
  mended.limits["rm"].max = reading_of(parse_quantity("630 MPa", Dimension::stress).value());
  ASSERT_TRUE((*b)->save_record(2, 0, mended, {}, "put right"));
  EXPECT_TRUE((*b)->record(2)->faults.empty());
  EXPECT_TRUE((*b)->verify().empty());
}

TEST_F(StoredSlips, OneHarmedPieceNeverStopsTheOthers) {
  outside(book(), "UPDATE record SET json = '{}' WHERE specimen_id = 2");
  auto b = Book::open_read_only(book());
  ASSERT_TRUE(b);
  const auto pages = certificates_of_job(**b, "TC-041", UnitSet::si);
  ASSERT_TRUE(pages) << pages.error().message;
  EXPECT_EQ(pages->pages.size(), 2u);
  ASSERT_EQ(pages->refused.size(), 1u);
  EXPECT_NE(pages->refused[0].find("HB-02"), std::string::npos);
  const auto bundled = write_bundle(**b, "TC-041", folder_.filePath("j.bundle").toStdString());
  ASSERT_TRUE(bundled) << bundled.error().message;
  ASSERT_FALSE(bundled->empty());
  EXPECT_NE(bundled->front().find("HB-02"), std::string::npos);
}

TEST_F(StoredSlips, ARecordsIdIsItsPiecesMark) {
  auto b = Book::open(book(), "R. Vale");
  TestRecord r = *(*b)->record(3);
  const auto id = (*b)->add_specimen(1, "HB-07", r);
  ASSERT_TRUE(id) << id.error().message;
  EXPECT_EQ((*b)->record(*id)->specimen_id(), "HB-07");
  r = *(*b)->record(*id);
  r.fields.set("specimen.id", std::string("HB-01"));
  ASSERT_TRUE((*b)->save_record(*id, 0, r, {}, "with the id of another"));
  EXPECT_EQ((*b)->record(*id)->specimen_id(), "HB-07") << "it stays its own";
  ASSERT_TRUE((*b)->mark(*id, "HB-08"));
  ASSERT_TRUE((*b)->save_record(*id, 0, r, {}, "marked anew"));
  EXPECT_EQ((*b)->record(*id)->specimen_id(), "HB-08");
  EXPECT_FALSE((*b)->mark(*id, "HB-01")) << "that is taken";
  EXPECT_FALSE((*b)->mark(*id, ""));
  EXPECT_TRUE((*b)->verify().empty());
}

TEST_F(StoredSlips, NamesAreNames) {
  auto b = Book::open(book(), "R. Vale");
  for (const std::string& name : {std::string(201, 'y'), std::string("a\nb"), std::string("a\tb")}) {
    EXPECT_FALSE((*b)->add_job("TC-9", name));
    EXPECT_FALSE((*b)->add_job(name, "title"));
    EXPECT_FALSE((*b)->add_series(1, name, "tension-metal"));
    EXPECT_FALSE((*b)->add_specimen(1, name, *(*b)->record(3)));
  }
  EXPECT_TRUE((*b)->add_job("TC-9", "<img src=\"/dev/zero\"> & Søn")) << "marks are letters";
}

}  // namespace
}  // namespace fortitor::stored_slips_test
