// The end of the logbook's chain on every certificate, and the way back from the paper to the book.
#include <QProcess>

#include "report/certificate.h"
#include "tests/store/filled_book.h"

namespace fortitor::seals_test {
namespace {

class Seals : public testing::Test {
 protected:
  void SetUp() override {
    fill_book(book());
    auto b = Book::open_read_only(book());
    const auto certificates = certificates_of_job(**b, "TC-041", UnitSet::si);
    ASSERT_TRUE(certificates) << certificates.error().message;
    ASSERT_EQ(certificates->pages.size(), 3u);
    for (const char* name : {"c.pdf", "c.html"}) {
      const auto done = write_certificates(certificates->pages, path(name));
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

// A piece that was tampered with is not printed at all, and stops no other.
TEST_F(Seals, AHarmedPieceIsNotPrinted) {
  outside(book(), "UPDATE evaluation SET json = json || ' '");
  auto b = Book::open_read_only(book());
  const auto certificates = certificates_of_job(**b, "TC-041", UnitSet::si);
  ASSERT_TRUE(certificates);
  EXPECT_EQ(certificates->pages.size(), 2u);
  ASSERT_EQ(certificates->refused.size(), 1u);
  EXPECT_NE(certificates->refused[0].find("HB-01"), std::string::npos) << certificates->refused[0];
}

// What is printed is held against what is stored, word by word.
TEST_F(Seals, AnAlteredPageIsFound) {
  auto b = Book::open_read_only(book());
  QFile file(folder_.filePath("c.html"));
  ASSERT_TRUE(file.open(QIODevice::ReadOnly));
  const QByteArray whole = file.readAll();
  const ResultValue rm = *methods::evaluate(*(*b)->record(2)).find("rm");
  const std::string number = reported(rm, (*b)->record(2)->fields, UnitSet::si).number;
  const std::vector<std::pair<QByteArray, QByteArray>> forgeries = {
      {"<b>" + QByteArray::fromStdString(number) + "</b>", "<b>987</b>"},
      {"Signed by <b>R. Vale</b>", "Signed by <b>M. Orr</b>"},
      {"<b>Draft: not signed.</b>", "Signed by <b>R. Vale</b>."},
      {"Hanger bolts, line 2", "Hanger bolts, line 3"},
      {"HB-02", "HB-03"},
      {"draft;", "signed;"}};
  for (const auto& [from, to] : forgeries) {
    ASSERT_TRUE(whole.contains(from)) << from.toStdString();
    QByteArray forged = whole;
    forged.replace(forged.indexOf(from), from.size(), to);
    const QString name = folder_.filePath("forged.html");
    QFile out(name);
    ASSERT_TRUE(out.open(QIODevice::WriteOnly | QIODevice::Truncate));
    out.write(forged);
    out.close();
    EXPECT_FALSE(check_certificate(**b, name.toStdString())) << to.toStdString();
  }
}

TEST_F(Seals, AHeadAloneIsNoCertificate) {
  auto b = Book::open_read_only(book());
  const ChainHead head = (*b)->head();
  QFile file(folder_.filePath("head.html"));
  ASSERT_TRUE(file.open(QIODevice::WriteOnly));
  file.write(("<html>chain " + std::to_string(head.lines) + " " + head.hash + ";</html>").c_str());
  file.close();
  const auto same = check_certificate(**b, path("head.html"));
  ASSERT_FALSE(same);
  EXPECT_NE(same.error().message.find("no certificate"), std::string::npos) << same.error().message;
}

// The PDF of another piece under the seals of this one: what it shows is read, not what it says it is.
TEST_F(Seals, AnotherPdfUnderTheseSealsIsFound) {
  auto b = Book::open_read_only(book());
  auto pages = *certificates_of_job(**b, "TC-041", UnitSet::si);
  ASSERT_TRUE(certificate_pdf({pages.pages[1]}, path("one.pdf")));
  EXPECT_TRUE(check_certificate(**b, path("one.pdf")));
  Certificate other = pages.pages[1];
  for (ResultValue& r : other.evaluation.results) r.value *= 1.2;
  ASSERT_TRUE(certificate_pdf({other}, path("more.pdf")));
  const auto same = check_certificate(**b, path("more.pdf"));
  ASSERT_FALSE(same);
  EXPECT_NE(same.error().message.find("is printed where the book gives"), std::string::npos) << same.error().message;
}

TEST_F(Seals, ATitleThatWasChangedAfterSigningIsSaid) {
  outside(book(), "UPDATE job SET title = 'For another customer' WHERE id = 1");
  auto b = Book::open_read_only(book());
  EXPECT_FALSE(certificates_of_job(**b, "TC-041", UnitSet::si)) << "behind the book's back: not printed at all";
  const auto one = certificate_of_version(**b, 1, (*b)->record_version(1), true, UnitSet::si);
  ASSERT_TRUE(one);
  EXPECT_EQ(one->signed_title, "Hanger bolts, line 2");
  EXPECT_NE(certificate_html({*one}).find("the title was changed afterwards"), std::string::npos);
}

}  // namespace
}  // namespace fortitor::seals_test
