// What leaves the laboratory, kept in a book: entries, documents without gaps, photographs, keys.
#include "store/papers.h"

#include <QDir>
#include <QFile>
#include <QProcess>

#include "store/bundle.h"
#include "store/keys.h"
#include "store/signing.h"
#include "tests/store/filled_book.h"

namespace fortitor::papers_test {
namespace {

class PapersOfABook : public testing::Test {
 protected:
  void SetUp() override {
    fill_book(path());
    clock_ = Clock::at(QDateTime::fromString("2026-11-26T10:00:00", Qt::ISODate));
    auto opened = Book::open(path(), "R. Vale", clock_);
    ASSERT_TRUE(opened) << opened.error().message;
    book_ = std::move(*opened);
  }
  std::string path() const { return book_at(folder_.filePath("a.fortitor").toStdString()); }
  Papers papers() { return Papers(*book_); }
  void sound() {
    for (const Damage& d : book_->verify()) ADD_FAILURE() << d.what;
  }
  DocumentRow wanted() {
    DocumentRow row;
    row.job = book_->job_by_code("TC-041")->id;
    row.kind = "job";
    row.covers = "TC-041";
    row.customer = "Upper Station Works";
    row.language = "en";
    return row;
  }
  static Outcome<Papers::Made> page(const std::string& number, int edition) {
    return Papers::Made{QByteArray::fromStdString("page " + number + " " + std::to_string(edition)), "{}"};
  }
  Outcome<DocumentRow> issue(const std::string& replaced = {}, const std::string& reason = {}) {
    return papers().issue(wanted(), page, replaced, reason);
  }
  void person(const std::string& name, const std::string& roles, const std::string& passphrase = {}) {
    lab::Entry p = lab::entry_of(lab::kPerson, name);
    p.fields.set("settings.roles", roles);
    ASSERT_TRUE(papers().save(p));
    if (passphrase.empty()) return;
    Papers all = papers();
    const auto given = keys::give(all, *all.entry(lab::kPerson, name), keys_folder(), passphrase, clock_);
    ASSERT_TRUE(given) << given.error().message;
  }
  std::string keys_folder() const { return folder_.filePath("keys").toStdString(); }
  Hand hand(const std::string& name, const std::string& passphrase) {
    const auto pem = keys::read(keys::path_of(keys_folder(), name));
    return {name, pem ? *pem : "", passphrase};
  }
  // The second piece of the filled book: tested, not signed.
  Id piece() { return book_->specimens(book_->series(book_->job_by_code("TC-041")->id)[0].id)[1].id; }
  Outcome<Done> sign(const std::optional<Hand>& by) {
    const auto r = book_->record(piece());
    const Evaluation e = methods::evaluate(*r);
    return sign_results(*book_, piece(), book_->record_version(piece()), evaluation_to_json(e, r->fields, -1), "meets",
                        by);
  }

  QTemporaryDir folder_;
  Clock clock_;
  std::unique_ptr<Book> book_;
};

TEST_F(PapersOfABook, ACustomerIsTypedOnceAndEveryChangeIsALine) {
  lab::Entry c = lab::entry_of(lab::kCustomer, "Upper Station Works");
  c.fields.set("settings.address", std::string("Summit Road 1, Tarnfell"));
  const auto id = papers().save(c);
  ASSERT_TRUE(id) << id.error().message;
  EXPECT_FALSE(papers().save(c)) << "twice the same name";
  c = *papers().entry(lab::kCustomer, "Upper Station Works");
  EXPECT_EQ(c.id, *id);
  c.fields.set("settings.name", std::string("Upper Station"));
  c.fields.set("settings.contact", std::string("M. Orr"));
  ASSERT_TRUE(papers().save(c));
  const auto all = papers().entries(lab::kCustomer);
  ASSERT_EQ(all->size(), 1u);
  EXPECT_EQ(all->front().name, "Upper Station");
  EXPECT_NE(book_->logbook(1).front().detail.find("Person to ask: – → M. Orr"), std::string::npos)
      << book_->logbook(1).front().detail;
  sound();
}

TEST_F(PapersOfABook, WhatDocumentsAndJobsNameStays) {
  lab::Entry c = lab::entry_of(lab::kCustomer, "Upper Station Works");
  ASSERT_TRUE(papers().save(c));
  c = *papers().entry(lab::kCustomer, c.name);
  ASSERT_TRUE(issue());
  const auto gone = papers().remove(c);
  ASSERT_FALSE(gone);
  EXPECT_EQ(gone.error().message, "“Upper Station Works” stays: document 2026-0001 names this customer.");
  lab::Entry t = lab::entry_of(lab::kTemplate, "short");
  ASSERT_TRUE(papers().save(t));
  lab::Entry job = lab::entry_of(lab::kJob, "TC-041");
  job.fields.set("settings.template", std::string("short"));
  ASSERT_TRUE(papers().save(job));
  EXPECT_FALSE(papers().remove(*papers().entry(lab::kTemplate, "short")));
  job = *papers().job("TC-041");
  job.fields.erase("settings.template");
  ASSERT_TRUE(papers().save(job));
  EXPECT_TRUE(papers().remove(*papers().entry(lab::kTemplate, "short")));
  EXPECT_EQ(papers().entries(lab::kTemplate)->size(), 0u);
  ASSERT_TRUE(papers().save(lab::entry_of(lab::kTemplate, "short"))) << "it may come back";
  sound();
}

TEST_F(PapersOfABook, BadEntriesGetOneSentence) {
  lab::Entry head = lab::entry_of(lab::kHead, std::string(lab::kLetterhead));
  head.fields.set("settings.laboratory", std::string("Tarnfell Test House"));
  head.fields.set("settings.pattern", std::string("{year}"));
  auto kept = papers().save(head);
  ASSERT_FALSE(kept);
  EXPECT_NE(kept.error().message.find("same number"), std::string::npos);
  head.fields.set("settings.pattern", std::string("{year}-{0000}"));
  head.fields.set("settings.logo", std::string("data:text/plain;base64,aGVsbG8="));
  kept = papers().save(head);
  ASSERT_FALSE(kept);
  EXPECT_NE(kept.error().message.find("expected a picture"), std::string::npos) << kept.error().message;
  lab::Entry t = lab::entry_of(lab::kTemplate, "nothing");
  t.fields.set("settings.results", std::string(";"));
  kept = papers().save(t);
  ASSERT_FALSE(kept);
  EXPECT_NE(kept.error().message.find("without results"), std::string::npos);
}

TEST_F(PapersOfABook, NumbersHaveNoGapsWhateverFails) {
  std::vector<std::string> given;
  for (int i = 0; i < 30; ++i) {
    if (i % 3 == 1) {
      const auto failed = papers().issue(wanted(), [](const std::string&, int) -> Outcome<Papers::Made> {
        return InputError{"no paper", {}};
      });
      EXPECT_FALSE(failed);
      continue;
    }
    const auto made = issue();
    ASSERT_TRUE(made) << made.error().message;
    given.push_back(made->number);
  }
  for (size_t i = 0; i < given.size(); ++i)
    EXPECT_EQ(given[i], "2026-" + std::string(i < 9 ? "000" : "00") + std::to_string(i + 1));
  sound();
}

TEST_F(PapersOfABook, ReplacedAndWithdrawnStayInTheRegister) {
  const auto first = issue(), second = issue();
  ASSERT_TRUE(first && second);
  EXPECT_FALSE(issue("2026-0001", "")) << "without a reason";
  EXPECT_FALSE(issue("2026-0009", "typing slip"));
  const auto third = issue("2026-0001", "typing slip in the order");
  ASSERT_TRUE(third) << third.error().message;
  EXPECT_EQ(third->number, "2026-0003");
  EXPECT_EQ(third->edition, 2);
  EXPECT_EQ(third->replaces, first->id);
  EXPECT_FALSE(issue("2026-0001", "again")) << "it is not in force any more";
  EXPECT_FALSE(papers().withdraw("2026-0002", ""));
  ASSERT_TRUE(papers().withdraw("2026-0002", "the pieces were mixed up"));
  EXPECT_FALSE(papers().withdraw("2026-0002", "again"));
  const auto all = papers().documents();
  ASSERT_EQ(all.size(), 3u);
  EXPECT_EQ(all[0].state, "replaced");
  EXPECT_EQ(all[1].state, "withdrawn");
  EXPECT_EQ(all[1].reason, "the pieces were mixed up");
  EXPECT_EQ(all[2].state, "issued");
  EXPECT_EQ(*papers().bytes(all[0]), "page 2026-0001 1") << "the same to the byte";
  sound();
}

TEST_F(PapersOfABook, ADocumentThatWasChangedOutsideIsNotOpened) {
  ONLY_IN_A_FILE();
  const auto made = issue();
  ASSERT_TRUE(made);
  {
    QSqlDatabase db = outside_database("papers-tamper", path());
    QSqlQuery q(db);
    ASSERT_TRUE(q.exec("UPDATE document SET bytes = x'00'"));
  }
  QSqlDatabase::removeDatabase("papers-tamper");
  EXPECT_FALSE(papers().bytes(*papers().document(made->number)));
  EXPECT_FALSE(book_->verify().empty());
}

TEST_F(PapersOfABook, ASheetChosenForASeriesSetsTheLimitsAndStays) {
  const Id series = book_->series(book_->job_by_code("TC-041")->id)[0].id;
  lab::DemandSheet sheet = lab::shipped_demands().front();
  sheet.grade.clear();
  sheet.rows.resize(1);
  sheet.rows[0].thickness = {};
  const auto left = papers().choose(series, sheet);
  ASSERT_TRUE(left) << left.error().message;
  ASSERT_EQ(left->size(), 1u);
  EXPECT_NE(left->front().find("is signed"), std::string::npos);
  EXPECT_EQ(*book_->typed_record(piece())->limits.at("reh").min->value, 235);
  lab::DemandSheet later = sheet;
  later.rows[0].limit.min->value = 300;
  later.rows[0].limit.min->typed = "300 MPa";
  ASSERT_TRUE(papers().save(later));
  EXPECT_EQ((*papers().demand_of(series))->rows[0].limit.min->typed, "235 MPa");
  EXPECT_EQ(lab::differences(**papers().demand_of(series), later).size(), 1u);
  const auto complete = completeness_of(*book_, book_->job_by_code("TC-041")->id);
  ASSERT_TRUE(complete);
  EXPECT_EQ(complete->at(0).table.lines.at(0).cells.size(), 3u);
  sound();
}

TEST_F(PapersOfABook, PhotographsAreKeptWholeAndShownSmall) {
  PhotographRow p;
  p.specimen = piece();
  p.name = "fracture.jpg";
  EXPECT_FALSE(papers().add(p, "x")) << "no small one";
  p.small = "small";
  EXPECT_FALSE(papers().add(p, {}));
  const QByteArray whole(3'000'000, 'x');
  ASSERT_TRUE(papers().add(p, whole));
  auto all = papers().photographs(piece());
  ASSERT_EQ(all.size(), 1u);
  EXPECT_EQ(all[0].small, "small");
  EXPECT_EQ(all[0].taken_by, "R. Vale");
  EXPECT_EQ(*papers().picture(all[0].id), whole);
  all[0].caption = "cup and cone";
  all[0].pixels_per_mm = 81.5;
  ASSERT_TRUE(papers().change(all[0], "caption of a photograph"));
  EXPECT_EQ(papers().photographs(piece())[0].caption, "cup and cone");
  EXPECT_EQ(papers().photographs(piece())[0].pixels_per_mm, 81.5);
  ASSERT_TRUE(papers().remove(all[0]));
  EXPECT_TRUE(papers().photographs(piece()).empty());
  sound();
}

TEST(Keys, SignAndVerifyAndNothingElse) {
  EXPECT_FALSE(keys::make("short"));
  const auto pair = keys::make("a long enough phrase");
  ASSERT_TRUE(pair) << pair.error().message;
  EXPECT_NE(pair->pem.find("ENCRYPTED PRIVATE KEY"), std::string::npos);
  const auto made = keys::sign(pair->pem, "a long enough phrase", "words", pair->public_key);
  ASSERT_TRUE(made) << made.error().message;
  EXPECT_TRUE(keys::verify(pair->public_key, *made, "words"));
  EXPECT_FALSE(keys::verify(pair->public_key, *made, "Words"));
  std::string other_sign = *made;
  other_sign[0] = other_sign[0] == '0' ? '1' : '0';  // one in 256 signatures begins with whatever is put there
  EXPECT_FALSE(keys::verify(pair->public_key, other_sign, "words"));
  EXPECT_EQ(keys::sign(pair->pem, "another phrase", "words").error().message,
            "The passphrase is wrong; nothing was signed.");
  EXPECT_NE(keys::sign("nonsense", "x", "words").error().message.find("no key"), std::string::npos);
  const auto other = keys::make("a long enough phrase");
  EXPECT_NE(
      keys::sign(other->pem, "a long enough phrase", "words", pair->public_key).error().message.find("not the one"),
      std::string::npos);
  const auto changed = keys::change_passphrase(pair->pem, "a long enough phrase", "quite another phrase");
  ASSERT_TRUE(changed);
  EXPECT_TRUE(keys::sign(*changed, "quite another phrase", "words", pair->public_key));
  EXPECT_FALSE(keys::sign(*changed, "a long enough phrase", "words"));
}

// RFC 8032, 7.1, test 2: a value of somebody else's.
TEST(Keys, AgreeWithTheRfc) {
  const std::string open = "3d4017c3e843895a92b70aa74d1b7ebc9c982ccf2ec4968cc0cd55f12af4660c";
  const std::string made =
      "92a009a9f0d4cab8720e820b5f642540a2b27b5416503f8fb3762223ebdb69da085ac1e43e15996e458f3613d0f11d8c387b2eaeb4302aee"
      "b00d"
      "291612bb0c00";
  EXPECT_TRUE(keys::verify(open, made, "\x72"));
  EXPECT_FALSE(keys::verify(open, made, "\x73"));
}

TEST_F(PapersOfABook, SignedWithAKeyIsVerifiedAndWithoutIsSaid) {
  EXPECT_EQ(papers().without_key(), 1);  // signed by the filler
  person("R. Vale", "tests;signs", "upper station, platform 2");
  EXPECT_EQ(sign(std::nullopt).error().message, "Not signed: R. Vale's passphrase is asked for.");
  EXPECT_EQ(sign(hand("R. Vale", "wrong wrong wrong")).error().message, "The passphrase is wrong; nothing was signed.");
  EXPECT_FALSE(book_->specimen(piece())->signed_off) << "nothing is half signed";
  const auto done = sign(hand("R. Vale", "upper station, platform 2"));
  ASSERT_TRUE(done) << done.error().message;
  EXPECT_EQ(papers().without_key(), 1);
  ASSERT_EQ(signed_by(*book_, piece()).size(), 1u);
  EXPECT_TRUE(signed_by(*book_, piece())[0].with_key);
  EXPECT_TRUE(keys::check_all(*book_).empty());
  sound();
}

TEST_F(PapersOfABook, TwoPeopleAndNeverTheSame) {
  person("R. Vale", "tests;signs", "upper station, platform 2");
  person("M. Orr", "signs", "a long enough phrase");
  EXPECT_FALSE(release_results(*book_, piece(), hand("M. Orr", "a long enough phrase"))) << "nothing is signed yet";
  ASSERT_TRUE(sign(hand("R. Vale", "upper station, platform 2")));
  const auto same = release_results(*book_, piece(), hand("R. Vale", "upper station, platform 2"));
  ASSERT_FALSE(same);
  EXPECT_NE(same.error().message.find("never the same person"), std::string::npos);
  ASSERT_TRUE(release_results(*book_, piece(), hand("M. Orr", "a long enough phrase")));
  EXPECT_FALSE(release_results(*book_, piece(), hand("M. Orr", "a long enough phrase"))) << "twice";
  const auto by = signed_by(*book_, piece());
  ASSERT_EQ(by.size(), 2u);
  EXPECT_EQ(by[1].role, "released");
  sound();
}

TEST_F(PapersOfABook, RightsAreSentences) {
  EXPECT_TRUE(may(papers(), "anybody", "keeps")) << "a book without people lets everybody";
  person("R. Vale", "tests");
  EXPECT_TRUE(may(papers(), "R. Vale", "signs")) << "nobody keeps the book yet: nobody is locked out";
  person("M. Orr", "keeps");
  EXPECT_EQ(sign(std::nullopt).error().message,
            "R. Vale may not sign in this book: the keeper of the book has not given that right.");
  EXPECT_EQ(may(papers(), "N. Obody", "signs").error().message,
            "N. Obody may not sign in this book: it names its people, and this is none of them.");
  lab::Entry left = *papers().entry(lab::kPerson, "R. Vale");
  left.fields.set("settings.left", true);
  ASSERT_TRUE(papers().save(left));
  EXPECT_EQ(may(papers(), "R. Vale", "tests").error().message,
            "R. Vale may not start tests in this book: the book says that they have left.");
}

TEST_F(PapersOfABook, AKeyThatIsLostOrTakenAwayOrOfAnotherSaysSo) {
  person("R. Vale", "signs", "upper station, platform 2");
  const Hand good = hand("R. Vale", "upper station, platform 2");
  const auto lost = keys::read(keys::path_of(keys_folder(), "M. Orr"));
  ASSERT_FALSE(lost);
  EXPECT_NE(lost.error().message.find("the key is not there"), std::string::npos);
  ASSERT_TRUE(sign(good));
  Papers all = papers();
  ASSERT_TRUE(keys::take_away(all, *all.entry(lab::kPerson, "R. Vale"), clock_));
  EXPECT_TRUE(keys::check_all(*book_).empty()) << "what was signed stays signed";
  EXPECT_NE(opens(all, good).error().message.find("has no key in this book"), std::string::npos);
  EXPECT_FALSE(papers().remove(*all.entry(lab::kPerson, "R. Vale"))) << "who signed stays";
  // Given another: the old one signs no more.
  ASSERT_TRUE(keys::give(all, *all.entry(lab::kPerson, "R. Vale"), keys_folder(), "a new phrase of mine", clock_));
  EXPECT_NE(opens(all, good).error().message.find("not the one that the book has"), std::string::npos);
  EXPECT_TRUE(opens(all, hand("R. Vale", "a new phrase of mine")));
  sound();
}

// Whoever has the file may write rows; without the key no signature comes out of it.
TEST_F(PapersOfABook, AChangedSignatureIsFound) {
  person("R. Vale", "signs", "upper station, platform 2");
  ASSERT_TRUE(sign(hand("R. Vale", "upper station, platform 2")));
  const auto try_sql = [&](const char* sql) {
    {
      QSqlDatabase db = outside_database("papers-tamper", path());
      QSqlQuery q(db);
      ASSERT_TRUE(q.exec(sql)) << sql;
    }
    QSqlDatabase::removeDatabase("papers-tamper");
  };
  try_sql("UPDATE key_signature SET person = 'M. Orr'");
  EXPECT_FALSE(keys::check_all(*book_).empty());
  try_sql("UPDATE key_signature SET person = 'R. Vale'");
  EXPECT_TRUE(keys::check_all(*book_).empty());
  try_sql("UPDATE signature SET record_sha256 = 'abc'");
  EXPECT_FALSE(keys::check_all(*book_).empty());
  EXPECT_FALSE(book_->verify().empty());
}

}  // namespace
}  // namespace fortitor::papers_test
