// Documents over printed pages: what ISO/IEC 17025 wants is found on them, they are laid out like print, archives take
// them, and in Italian nothing English is left.
#include <QGuiApplication>
#include <QProcess>
#include <nlohmann/json.hpp>
#include <random>

#include "report/archive.h"
#include "store/keys.h"
#include "tests/core/methods/source_text.h"
#include "tests/report/documents.h"

namespace fortitor::document_test {
namespace {

using namespace documents;

TEST_F(Documents, AnIssuedPageHasAllThatIso17025Lists) {
  papers_of_the_laboratory();
  const auto limits = [](TestRecord& r) {
    r.limits["rm"].min = reading_of(*parse_quantity("400 MPa", Dimension::stress));
    r.fields.set("specimen.lot", std::string("LG-417"));
  };
  add("tension-metal", 2, 3, limits);
  const auto issued = issue_document(*book_, {.job = "TC-061"});
  ASSERT_TRUE(issued) << issued.error().message;
  const auto bytes = papers().bytes(*issued);
  const std::vector<QString> pages = pages_of(*bytes);
  ASSERT_GE(pages.size(), 2u);
  const QString words = all_words(*bytes);
  for (const char* wanted : {"Test report",
                             "Tarnfell Laboratory",
                             "Lower Station 2, Tarnfell",
                             "TF 0042",
                             "Pylon 3",
                             "Upper Station Works",
                             "Summit Road 1",
                             "M. Orr",
                             "US-4711",
                             "ISO 6892-1:2019",
                             "two pieces instead of three",
                             "Te-1",
                             "Material",
                             "LG-417",
                             "20 Nov 2026, cable car",
                             "sound",
                             "18 Nov 2026, B. Tarn",
                             "24 Nov 2026 to 25 Nov 2026",
                             "issued 26 Nov 2026",
                             "The results hold for the items tested alone",
                             "MPa",
                             "21.0 °C",
                             "k = 2",
                             "Statement of conformity",
                             "of 2 results with a limit",
                             "Decision rule: Simple acceptance",
                             "Opinion, not a result: the lot is good",
                             "Authorised by R. Vale",
                             "From elsewhere: spectrometry: Valley Laboratory",
                             "not to be copied in part",
                             "End of document 2026-0001"})
    EXPECT_TRUE(words.contains(wanted)) << wanted << "\n" << words.left(3000).toStdString();
  for (size_t i = 0; i < pages.size(); ++i) {
    EXPECT_TRUE(pages[i].contains("2026-0001")) << "number on page " << i + 1;
    EXPECT_TRUE(pages[i].contains(QString("page %1 of %2").arg(i + 1).arg(pages.size()))) << i + 1;
  }
}

TEST_F(Documents, AmendmentsCarryTheirReasonAndTheFirstStaysAsItWas) {
  papers_of_the_laboratory();
  add("tension-metal", 1, 3);
  const auto first = issue_document(*book_, {.job = "TC-061"});
  ASSERT_TRUE(first) << first.error().message;
  const QByteArray was = *papers().bytes(*first);
  const auto second = issue_document(*book_, {.job = "TC-061"}, {}, first->number, "the order number was wrong");
  ASSERT_TRUE(second) << second.error().message;
  EXPECT_TRUE(all_words(*papers().bytes(*second))
                  .contains("This document replaces 2026-0001, because: the order number was wrong"));
  EXPECT_EQ(*papers().bytes(*papers().document(first->number)), was);
  EXPECT_EQ(papers().document(first->number)->state, "replaced");
}

TEST_F(Documents, NothingUnsignedIsIssuedAndADraftSaysSo) {
  papers_of_the_laboratory();
  add("tension-metal", 1, 3);
  const auto draft = document({.job = "TC-061"});
  ASSERT_TRUE(draft);
  const QString words = all_words(*document_pdf(*draft));
  EXPECT_TRUE(words.contains("Draft, not issued"));
  EXPECT_TRUE(words.contains("Draft: not authorised."));
  EXPECT_FALSE(words.contains("2026-0001"));
  // A change after the signature wants another one.
  const Id piece = book_->specimens(book_->series(job_)[0].id)[0].id;
  auto r = *book_->typed_record(piece);
  r.fields.set("specimen.note", std::string("seen again"));
  ASSERT_TRUE(book_->save_record(piece, 0, r, {}, "note"));
  const auto refused = issue_document(*book_, {.job = "TC-061"});
  ASSERT_FALSE(refused);
  EXPECT_NE(refused.error().message.find("is tested and not signed"), std::string::npos) << refused.error().message;
  EXPECT_TRUE(papers().documents().empty());
}

TEST_F(Documents, TwoSignaturesWhereTheJobWantsThem) {
  papers_of_the_laboratory();
  lab::Entry job = *papers().job("TC-061");
  job.fields.set("settings.released", true);
  ASSERT_TRUE(papers().save(job));
  add("tension-metal", 1, 3);
  const auto refused = issue_document(*book_, {.job = "TC-061"});
  ASSERT_FALSE(refused);
  EXPECT_NE(refused.error().message.find("not released"), std::string::npos) << refused.error().message;
  const std::string keys = folder_.filePath("keys").toStdString();
  Papers all = papers();
  lab::Entry other = lab::entry_of(lab::kPerson, "M. Orr");
  other.fields.set("settings.roles", std::string("signs"));
  ASSERT_TRUE(all.save(other));
  ASSERT_TRUE(keys::give(all, *all.entry(lab::kPerson, "M. Orr"), keys, "a long enough phrase", clock_));
  const Hand hand{"M. Orr", *keys::read(keys::path_of(keys, "M. Orr")), "a long enough phrase"};
  ASSERT_TRUE(release_results(*book_, book_->specimens(book_->series(job_)[0].id)[0].id, hand));
  const auto wrong = issue_document(*book_, {.job = "TC-061"}, Hand{hand.person, hand.pem, "wrong passphrase"});
  ASSERT_FALSE(wrong);
  EXPECT_TRUE(papers().documents().empty()) << "a wrong passphrase gives no number out";
  const auto issued = issue_document(*book_, {.job = "TC-061"}, hand);
  ASSERT_TRUE(issued) << issued.error().message;
  EXPECT_EQ(issued->issued_by, "M. Orr");
  const QString words = all_words(*papers().bytes(*issued));
  EXPECT_TRUE(words.contains("released by M. Orr")) << words.toStdString();
  EXPECT_EQ(papers().key_signatures("document/" + std::to_string(issued->id)).size(), 1u);
  EXPECT_TRUE(book_->verify().empty());
}

TEST_F(Documents, ArchivesTakeThemWithTheirDataInside) {
  papers_of_the_laboratory();
  add("tension-metal", 3, 3);
  const auto made = document_pdf(*document({.job = "TC-061"}));
  ASSERT_TRUE(made);
  const auto faults = faults_of_archive(*made);
  ASSERT_TRUE(faults);
  for (const std::string& f : *faults) ADD_FAILURE() << f;
  const auto within = attachments_of(*made);
  ASSERT_TRUE(within);
  EXPECT_EQ(within->size(), 7u);
  for (const Attachment& a : *within) {
    const auto j = nlohmann::json::parse(a.bytes.toStdString());
    EXPECT_TRUE(j.contains("fortitor")) << a.name;
    if (j["fortitor"] == "record/1") {
      const auto r = record_from_json(a.bytes.toStdString());
      ASSERT_TRUE(r) << a.name << ": " << r.error().message;
    }
  }
  // A checker that finds nothing in anything is none.
  EXPECT_FALSE(faults_of_archive(*page::flow_pdf(document_parts(*document({.job = "TC-061"})), {}, "plain"))->empty());
  EXPECT_FALSE(faults_of_archive("no PDF"));
}

// No page under a third full but the last; every page but the last of a long document is.
TEST_F(Documents, PagesAreFilledLikePrint) {
  papers_of_the_laboratory();
  add("tension-metal", 4, 3);
  add("hardness-vickers", 3, 9);
  add("impact-pendulum", 3, 9);
  for (const auto covers : {DocumentRequest::Covers::job, DocumentRequest::Covers::series}) {
    const auto d = document({.job = "TC-061", .covers = covers, .what = book_->series(job_)[0].id});
    ASSERT_TRUE(d);
    page::Filled filled;
    ASSERT_TRUE(page::flow_pdf(document_parts(*d), document_surround(*d), "t", filled));
    for (size_t i = 0; i + 1 < filled.pages.size(); ++i) EXPECT_GE(filled.pages[i], 1.0 / 3) << "page " << i + 1;
    for (double share : filled.pages) EXPECT_LE(share, 1.0001);
  }
}

// Random parts of headings, paragraphs and tables with rows of two lines: rows stay whole, a heading is never last.
TEST(Flow, RowsStayWholeAndHeadingsWithWhatFollows) {
  std::mt19937 random(11);
  for (int round = 0; round < 12; ++round) {
    std::vector<page::Part> parts;
    int row = 0, head = 0;
    for (int p = 0; p < 3; ++p) {
      page::Part part;
      part.fresh = random() % 2 == 0;
      std::string& m = part.sheet.markup;
      for (int b = 0; b < 6; ++b) {
        m += "<h3>HEAD" + std::to_string(head++) + "</h3>";
        if (random() % 3 == 0) {
          m += "<p>after the heading comes a line</p>";
          continue;
        }
        m += "<table width=\"100%\"><thead><tr><td>TOP</td></tr></thead>";
        for (unsigned n = 0, all = 1 + random() % 40; n < all; ++n, ++row)
          m += "<tr><td>A" + std::to_string(row) + "X<br/>B" + std::to_string(row) + "X</td></tr>";
        m += "</table>";
      }
      parts.push_back(part);
    }
    page::Filled filled;
    page::Surround surround;
    surround.end = "END";
    const auto pdf = page::flow_pdf(parts, surround, "t", filled);
    ASSERT_TRUE(pdf);
    const auto pages = pages_of(*pdf);
    for (int r = 0; r < row; ++r) {
      int on_a = 0, on_b = 0, times = 0;
      for (size_t i = 0; i < pages.size(); ++i) {
        if (pages[i].contains("A" + QString::number(r) + "X")) on_a = int(i) + 1, ++times;
        if (pages[i].contains("B" + QString::number(r) + "X")) on_b = int(i) + 1;
      }
      EXPECT_EQ(on_a, on_b) << "row " << r;
      EXPECT_EQ(times, 1) << "row " << r;
    }
    for (const QString& page : pages) {
      const QStringList lines = page.split('\n', Qt::SkipEmptyParts);
      ASSERT_GE(lines.size(), 2);
      QString last = lines.back().contains("page ") ? lines[lines.size() - 2] : lines.back();
      EXPECT_FALSE(last.startsWith("HEAD")) << page.toStdString();
    }
    for (size_t i = 0; i + 1 < filled.pages.size(); ++i) EXPECT_GE(filled.pages[i], 1.0 / 3);
  }
}

// Every name that a method can print has its words in every language.
TEST(Catalogues, KnowEveryNameThatPaperCanPrint) {
  std::set<std::string> wanted;
  for (const Method* m : methods::all()) {
    for (const std::string& name : {m->name, m->short_name, m->standard}) wanted.insert(name);
    TestRecord r;
    r.method = m->id;
    for (const ResultSpec& s : m->reported(r)) wanted.insert(s.name);
    for (const FieldSpec& f : m->fields) {
      // Ticks before the run, suspects of a series and what a stand-in holds are not printed.
      if (f.kind == FieldKind::picture || f.path.rfind("settings.checks.", 0) == 0 ||
          f.path.rfind("settings.series.", 0) == 0 || f.path.rfind("equipment.standin", 0) == 0)
        continue;
      wanted.insert(f.label);
      for (const Choice& c : f.choices) wanted.insert(c.label);
    }
    for (const TableSpec& t : m->tables) {
      wanted.insert(t.label);
      wanted.insert(t.row);
      for (const FieldSpec& c : t.columns) wanted.insert(c.label);
      if (t.control) wanted.insert(t.control->label);
    }
    for (const EquipmentSlot& s : m->equipment) wanted.insert(s.label);
  }
  for (const auto& file : std::filesystem::recursive_directory_iterator(FORTITOR_SOURCE_DIR "/core"))
    if (file.path().extension() == ".cpp")
      for (const std::string& code : raised_in(text_of(file.path()))) wanted.insert("finding " + code);
  for (Language l : kLanguages)
    for (const std::string& phrase : wanted)
      EXPECT_TRUE(!has_words(phrase) || Tongue(l).known(phrase)) << language_code(l) << ": " << phrase;
}

// Everything a document can say, in four languages: nothing is asked for that a catalogue lacks, and no English word
// stands on an Italian page but in what a person typed.
TEST_F(Documents, InItalianNothingEnglishIsLeft) {
  papers_of_the_laboratory();
  lab::Entry job = *papers().job("TC-061");
  for (const char* typed : {"deviations", "external", "opinion", "arrived_by", "project"})
    job.fields.erase(std::string("settings.") + typed);
  ASSERT_TRUE(papers().save(job));
  uint64_t seed = 20;
  for (const Method* m : methods::all())
    add(m->id, 2, seed += 10, [](TestRecord& r) {
      // What a person typed is in their own words; here in none.
      for (const auto& [path, value] : std::map<std::string, FieldValue>(r.fields.all()))
        if (const FieldSpec* f = methods::find(r.method)->field(path);
            f != nullptr && f->kind == FieldKind::text && path != "specimen.id")
          r.fields.set(path, std::string("QQ"));
    });
  for (Language l : kLanguages) {
    if (l == Language::english) continue;
    const auto d = document({.job = "TC-061", .language = l});
    ASSERT_TRUE(d) << d.error().message;
    const auto pdf = document_pdf(*d);
    ASSERT_TRUE(pdf);
    if (l != Language::italian) continue;
    const QStringList words = all_words(*pdf).split(QRegularExpression("[^A-Za-zàèéìòù]+"), Qt::SkipEmptyParts);
    EXPECT_GT(words.size(), 2000);
    static const QSet<QString> kEnglish = {
        "the",       "of",    "and",   "with",   "not",  "was",     "were",     "are",   "this",   "that",   "which",
        "from",      "after", "piece", "pieces", "test", "tested",  "strength", "force", "strain", "stress", "width",
        "thickness", "speed", "limit", "result", "mean", "largest", "least",    "break", "at",     "load",   "length"};
    QSet<QString> found;
    for (const QString& w : words)
      if (kEnglish.contains(w.toLower())) found.insert(w);
    for (const QString& page : pages_of(*pdf))
      for (const QString& line : page.split('\n'))
        for (const QString& w : found)
          if (QRegularExpression("\\b" + w + "\\b").match(line).hasMatch()) ADD_FAILURE() << line.toStdString();
    EXPECT_TRUE(found.isEmpty()) << QStringList(found.values()).join(", ").toStdString();
    EXPECT_TRUE(all_words(*pdf).contains("carico unitario di scostamento, 0,2 %"));
    EXPECT_FALSE(all_words(*pdf).contains(QRegularExpression("\\d\\.\\d+ ± "))) << "decimal commas";
  }
  for (const std::string& phrase : Tongue::missed()) ADD_FAILURE() << "no catalogue has: " << phrase;
}

}  // namespace
}  // namespace fortitor::document_test
