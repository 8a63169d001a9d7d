// What a template says of a document, photographs in it, how it is found again, and labels for the pieces.
#include <QBuffer>
#include <QImage>
#include <nlohmann/json.hpp>

#include "report/label.h"
#include "tests/report/documents.h"

namespace fortitor::document_parts_test {
namespace {

class DocumentParts : public documents::Documents {};
using documents::all_words;
using documents::pages_of;

TEST_F(DocumentParts, ATemplateSaysWhichResultsAndParts) {
  papers_of_the_laboratory();
  add("tension-metal", 1, 3);
  lab::Entry t = lab::entry_of(lab::kTemplate, "short");
  t.fields.set("settings.results", std::string("rm; a"));
  t.fields.set("settings.parts", std::string(""));
  t.fields.set("settings.language", std::string("de"));
  ASSERT_TRUE(papers().save(t));
  EXPECT_FALSE(document({.job = "TC-061", .layout = "nowhere"}));
  const auto d = document({.job = "TC-061", .layout = "short"});
  ASSERT_TRUE(d);
  EXPECT_EQ(d->language, Language::german);
  EXPECT_EQ(d->series[0].keys, (std::vector<std::string>{"rm", "a"}));
  const auto j = nlohmann::json::parse(document_json(*d));
  EXPECT_EQ(j["series"][0]["pieces"][0]["results"].size(), 2u);
  const auto r = book_->record(d->series[0].pieces[0].row.id);
  EXPECT_DOUBLE_EQ(j["series"][0]["pieces"][0]["results"][0]["value"].get<double>(),
                   methods::evaluate(*r).find("rm")->value);
  EXPECT_TRUE(QString::fromStdString(document_csv(*d)).contains("rm [MPa]"));
}

TEST_F(DocumentParts, ATemplateSaysTheOrderOfPartsAndWhichFigures) {
  papers_of_the_laboratory();
  add("tension-metal", 3, 3);
  lab::Entry t = lab::entry_of(lab::kTemplate, "turned");
  t.fields.set("settings.parts", std::string("equipment;pieces;series;pieces"));
  t.fields.set("settings.figures", std::string("none"));
  const auto saved = papers().save(t);
  ASSERT_TRUE(saved) << saved.error().message;
  const auto d = document({.job = "TC-061", .layout = "turned"});
  ASSERT_TRUE(d) << d.error().message;
  EXPECT_EQ(d->parts(), (std::vector<std::string>{"equipment", "pieces", "series"}));
  ASSERT_TRUE(d->series[0].report);
  const Evaluation& e = d->series[0].pieces[0].certificate.evaluation;
  ASSERT_FALSE(e.figures.empty());
  EXPECT_TRUE(d->figures_of(e).empty());
  // First page, a page a piece, the series last (no equipment is named); no figure but those of the series.
  const auto parts = document_parts(*d);
  std::vector<size_t> figures;
  for (const page::Part& p : parts) figures.push_back(p.sheet.figures.size());
  ASSERT_EQ(parts.size(), 5u);
  EXPECT_EQ(figures[1] + figures[2] + figures[3], 0u);
  EXPECT_GT(figures[4], 0u);
  t.fields.set("settings.figures", " " + e.figures.front().id + " ; nowhere");
  Document named = *d;
  named.layout = t;
  ASSERT_EQ(named.figures_of(e).size(), 1u);
  EXPECT_EQ(named.figures_of(e).front(), &e.figures.front());
}

TEST_F(DocumentParts, PhotographsStandWithTheirPieceAndCaption) {
  papers_of_the_laboratory();
  add("tension-metal", 1, 3);
  QImage image(2400, 1800, QImage::Format_RGB32);
  image.fill(Qt::darkGray);
  QByteArray bytes;
  QBuffer buffer(&bytes);
  buffer.open(QIODevice::WriteOnly);
  image.save(&buffer, "JPEG");
  PhotographRow p;
  p.specimen = book_->specimens(book_->series(job_)[0].id)[0].id;
  p.name = "f.jpg";
  p.caption = "cup and cone, seen from the side";
  p.small = "x";
  ASSERT_TRUE(papers().add(p, bytes));
  const auto pdf = document_pdf(*document({.job = "TC-061"}));
  ASSERT_TRUE(pdf);
  EXPECT_TRUE(all_words(*pdf).contains("cup and cone, seen from the side"));
  EXPECT_LT(pdf->size(), 1'500'000);
}

TEST_F(DocumentParts, PiecesStandEachOnItsOwnAndFracturesSideBySide) {
  papers_of_the_laboratory();
  add("tension-metal", 2, 3);
  const auto pieces = document_pdf(*document({.job = "TC-061", .covers = DocumentRequest::Covers::pieces}));
  ASSERT_TRUE(pieces);
  EXPECT_EQ(all_words(*pieces).count("Statement of conformity"), 2);
  QImage image(400, 300, QImage::Format_RGB32);
  image.fill(Qt::darkGray);
  QByteArray bytes;
  QBuffer buffer(&bytes);
  buffer.open(QIODevice::WriteOnly);
  image.save(&buffer, "PNG");
  for (const SpecimenRow& row : book_->specimens(book_->series(job_)[0].id)) {
    PhotographRow p;
    p.specimen = row.id;
    p.name = "f.png";
    p.small = "x";
    p.stage = int(Stage::after);
    p.pixels_per_mm = 10;
    ASSERT_TRUE(papers().add(p, bytes));
  }
  EXPECT_TRUE(all_words(*document_pdf(*document({.job = "TC-061"}))).contains("After the test:"));
}

TEST_F(DocumentParts, WhatWasIssuedIsFoundByItsBytesAndNothingElseIs) {
  papers_of_the_laboratory();
  add("tension-metal", 1, 3);
  const auto issued = issue_document(*book_, {.job = "TC-061"});
  ASSERT_TRUE(issued);
  const auto write = [&](const char* name, const QByteArray& bytes) {
    QFile f(folder_.filePath(name));
    EXPECT_TRUE(f.open(QIODevice::WriteOnly));
    f.write(bytes);
    return f.fileName().toStdString();
  };
  const QByteArray bytes = *papers().bytes(*issued);
  EXPECT_TRUE(check_certificate(*book_, write("a.pdf", bytes)));
  QByteArray other = bytes;
  other[other.size() / 2] = char(other[other.size() / 2] ^ 1);
  EXPECT_FALSE(check_certificate(*book_, write("b.pdf", other)));
  const auto draft = check_certificate(*book_, write("c.pdf", *document_pdf(*document({.job = "TC-061"}))));
  ASSERT_FALSE(draft);
  EXPECT_NE(draft.error().message.find("it is a draft"), std::string::npos) << draft.error().message;
  ASSERT_TRUE(papers().withdraw(issued->number, "mixed up"));
  const auto gone = check_certificate(*book_, folder_.filePath("a.pdf").toStdString());
  ASSERT_FALSE(gone);
  EXPECT_NE(gone.error().message.find("is withdrawn now"), std::string::npos) << gone.error().message;
}

TEST_F(DocumentParts, LabelsHoldTheAddressOfThePiece) {
  add("tension-metal", 2, 3);
  const auto labels = labels_of(*book_, "TC-061");
  ASSERT_TRUE(labels);
  ASSERT_EQ(labels->size(), 2u);
  EXPECT_EQ(labels->front().address, "fortitor:TC-061/Te-1");
  const auto squares = qr_squares(labels->front().address);
  ASSERT_GE(squares.size(), 21u);
  for (const auto& line : squares) EXPECT_EQ(line.size(), squares.size());
  // The three eyes of a code: dark, a light ring, dark again (ISO/IEC 18004, 6.3.3).
  for (size_t y : {size_t(0), squares.size() - 7})
    for (size_t x : {size_t(0), squares.size() - 7}) {
      if (y != 0 && x != 0) continue;
      EXPECT_TRUE(squares[y][x]);
      EXPECT_FALSE(squares[y + 1][x + 1]);
      EXPECT_TRUE(squares[y + 3][x + 3]);
    }
  EXPECT_TRUE(qr_squares(std::string(5000, 'x')).empty());
  for (LabelPaper paper : {LabelPaper::roll, LabelPaper::sheet}) {
    const std::string out = folder_.filePath(paper == LabelPaper::roll ? "r.pdf" : "s.pdf").toStdString();
    ASSERT_TRUE(write_labels(*labels, paper, out));
    EXPECT_FALSE(write_labels(*labels, paper, out)) << "never over a file";
    QFile f(QString::fromStdString(out));
    ASSERT_TRUE(f.open(QIODevice::ReadOnly));
    EXPECT_EQ(pages_of(f.readAll()).size(), paper == LabelPaper::roll ? 2u : 1u);
  }
}

}  // namespace
}  // namespace fortitor::document_parts_test
