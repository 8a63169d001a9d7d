// The end of the logbook's chain on every certificate, and the way back from the paper to the book.
#include <QProcess>

#include "report/certificate.h"
#include "tests/store/filled_book.h"

namespace fortitor {
namespace {

class Seals : public testing::Test {
 protected:
  void SetUp() override {
    fill_book(book());
    auto b = Book::open_read_only(book());
    const auto certificates = certificates_of_job(**b, "TC-041", UnitSet::si);
    ASSERT_TRUE(certificates) << certificates.error().message;
    ASSERT_EQ(certificates->size(), 3u);
    for (const char* name : {"c.pdf", "c.html"}) {
      const auto done = write_certificates(*certificates, path(name));
      ASSERT_TRUE(done) << done.error().message;
    }
  }
  std::string path(const char* name) const { return folder_.filePath(name).toStdString(); }
  std::string book() const { return path("a.fortitor"); }
  QTemporaryDir folder_;
};

TEST_F(Seals, TheHeadStandsOnThePaper) {
  const ChainHead head = (*Book::open_read_only(book()))->head();
  QProcess p;
  p.start("pdftotext", {"-layout", QString::fromStdString(path("c.pdf")), "-"});
  ASSERT_TRUE(p.waitForFinished());
  const QString text = QString::fromUtf8(p.readAllStandardOutput()).simplified();
  EXPECT_TRUE(text.contains(QString::number(head.lines) + " lines, head " + QString::fromStdString(head.hash)))
      << text.right(900).toStdString();
}

TEST_F(Seals, BothKindsOfFileAreHeldAgainstTheBook) {
  auto b = Book::open_read_only(book());
  for (const char* name : {"c.pdf", "c.html"}) {
    const auto same = check_certificate(**b, path(name));
    EXPECT_TRUE(same) << name << ": " << (same ? "" : same.error().message);
  }
}

TEST_F(Seals, TheyHoldWhenTheBookGoesOn) {
  {
    auto b = Book::open(book(), "M. Orr");
    ASSERT_TRUE((*b)->note("another day", ""));
    TestRecord r = *(*b)->record(1);
    r.fields.set("specimen.note", std::string("looked at again"));
    ASSERT_TRUE((*b)->save_record(1, 0, r, {}, "a note"));
  }
  auto b = Book::open_read_only(book());
  EXPECT_TRUE(check_certificate(**b, path("c.pdf"))) << "what was signed then is still there";
}

TEST_F(Seals, AnotherBookIsToldFromThisOne) {
  const std::string other = path("other.fortitor");
  fill_book(other);
  auto b = Book::open_read_only(other);
  for (const char* name : {"c.pdf", "c.html"}) {
    const auto same = check_certificate(**b, path(name));
    ASSERT_FALSE(same) << name;
    EXPECT_NE(same.error().message.find("never had the head"), std::string::npos) << same.error().message;
  }
}

TEST_F(Seals, ATakenAwaySignatureIsMissed) {
  outside(book(), "DELETE FROM signature");
  auto b = Book::open_read_only(book());
  const auto same = check_certificate(**b, path("c.html"));
  ASSERT_FALSE(same);
  EXPECT_NE(same.error().message.find("signature"), std::string::npos) << same.error().message;
}

TEST_F(Seals, WhatIsNoCertificateSaysSo) {
  auto b = Book::open_read_only(book());
  QFile text(folder_.filePath("t.html"));
  ASSERT_TRUE(text.open(QIODevice::WriteOnly));
  text.write("<html>chain of hotels</html>");
  text.close();
  for (const std::string& name : {path("t.html"), path("none.pdf")}) {
    const auto same = check_certificate(**b, name);
    ASSERT_FALSE(same);
    EXPECT_NE(same.error().message.find(name), std::string::npos);
  }
}

TEST_F(Seals, ADraftWithoutABookCarriesNone) {
  Certificate c;
  c.record = standin::simulate_tension({.seed = 2});
  c.evaluation = methods::evaluate(c.record);
  EXPECT_TRUE(seals_of({c}).empty());
  EXPECT_TRUE(seals_of({}).empty());
  EXPECT_EQ(certificate_html({c}).find("fortitor-seals"), std::string::npos);
}

// A piece that was tampered with is not printed at all.
TEST_F(Seals, AHarmedPieceStopsTheReport) {
  outside(book(), "UPDATE evaluation SET json = json || ' '");
  auto b = Book::open_read_only(book());
  const auto certificates = certificates_of_job(**b, "TC-041", UnitSet::si);
  ASSERT_FALSE(certificates);
  EXPECT_NE(certificates.error().message.find("HB-01"), std::string::npos) << certificates.error().message;
}

}  // namespace
}  // namespace fortitor
