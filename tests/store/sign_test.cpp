// What is signed is what is stored; two at once; runs that are whole or not at all.
#include <gtest/gtest.h>

#include <QFile>
#include <QProcess>
#include <QSqlDatabase>
#include <QSqlQuery>
#include <QTemporaryDir>

#include "core/evaluation/evaluation_json.h"
#include "core/methods/method.h"
#include "core/reference/library.h"
#include "core/standin/benches.h"
#include "core/standin/tension_bench.h"
#include "store/book.h"
#include "tests/store/filled_book.h"

namespace fortitor::sign_test {
namespace {

class Signing : public testing::Test {
 protected:
  void SetUp() override {
    auto opened = Book::open(path(), "R. Vale");
    ASSERT_TRUE(opened) << opened.error().message;
    book_ = std::move(*opened);
    record_ = standin::simulate_tension({.seed = 3});
    const auto job = book_->add_job("TC-090", "Signing");
    const auto series = book_->add_series(*job, "Bars", "tension-metal");
    TestRecord empty = record_;
    empty.run = {};
    id_ = *book_->add_specimen(*series, "B-1", empty);
    ASSERT_TRUE(book_->store_run(id_, *record_.run.samples(), "file b-1.csv"));
    version_ = book_->save_record(id_, 1, record_, {}, "imported")->version;
  }
  std::string path() const { return book_at(folder_.filePath("b.fortitor").toStdString()); }
  std::string evaluation() const {
    const auto r = book_->record(id_);
    return evaluation_to_json(methods::evaluate(*r), r->fields, -1);
  }
  // Whoever has the file can write to it: another program, beside the book.
  void tamper(const QString& sql) {
    {
      QSqlDatabase db = outside_database("tamper", path());
      QSqlQuery q(db);
      ASSERT_TRUE(q.exec(sql)) << sql.toStdString();
    }
    QSqlDatabase::removeDatabase("tamper");
  }
  bool damaged(const std::string& word) const {
    for (const Damage& d : book_->verify())
      if (d.what.find(word) != std::string::npos) return true;
    return false;
  }

  QTemporaryDir folder_;
  std::unique_ptr<Book> book_;
  TestRecord record_;
  Id id_ = 0, version_ = 0;
};

TEST_F(Signing, HoldsTheHashesOfWhatWasSigned) {
  ASSERT_TRUE(book_->sign_off(id_, version_, evaluation(), "meets"));
  const auto s = book_->signature(id_);
  ASSERT_TRUE(s);
  EXPECT_EQ(s->record_version, version_);
  EXPECT_EQ(s->by, "R. Vale");
  for (const std::string& hash : {s->record_sha256, s->run_sha256, s->evaluation_sha256}) EXPECT_EQ(hash.size(), 64u);
  EXPECT_TRUE(book_->check_signature(id_));
  EXPECT_TRUE(book_->verify().empty());
}

ReferenceShelf shelf_with(const char* shrinkage) {
  auto own =
      read_reference(std::string(R"({"fortitor": "reference/1", "materials": [{"name": "Tarnfell ash", "group": "wood",
    "source": "our own pieces", "values": {"volumetric_shrinkage": {"mean": ")") +
                     shrinkage + R"(", "spread": "10 %"}}}]})");
  return with_own_reference(std::move(*own));
}

double at_12(const TestRecord& r) {
  const Evaluation e = methods::evaluate(r, {.uncertainty = false});
  const ResultValue* d = e.find("density_12");
  return d == nullptr ? NAN : d->value;
}

// The density at 12 % moisture rests on the usual shrinkage of the species. Whoever opens the piece has other values.
TEST_F(Signing, AnotherPersonsUsualValuesDoNotMoveWhatWasSigned) {
  TestRecord wood = standin::find_bench(methods::find("density")->standin)
                        ->simulate({.method = "density", .piece = {}, .seed = 4, .faults = {}});
  wood.method = "density";
  wood.fields.set("specimen.species", std::string("Tarnfell ash"));
  wood.fields.set("specimen.id", std::string("W-1"));
  const auto series = book_->add_series(book_->jobs().front().id, "Blocks", "density");
  const Id id = *book_->add_specimen(*series, "W-1", wood);
  const Id version = book_->save_record(id, 1, wood, {}, "measured")->version;
  book_->use_shelf(shelf_with("13 %"));
  const auto read = book_->record(id);
  ASSERT_TRUE(read);
  const double mine = at_12(*read);
  ASSERT_TRUE(std::isfinite(mine));
  const Evaluation e = methods::evaluate(*read);
  ASSERT_EQ(e.usual->size(), 1u);
  EXPECT_EQ(e.usual->front().name, "Tarnfell ash");
  const std::string signed_json = evaluation_to_json(e, read->fields, -1);

  // Not signed yet: another shelf, another answer.
  book_->use_shelf(shelf_with("20 %"));
  EXPECT_GT(std::abs(at_12(*book_->record(id)) - mine), 0.1);
  ASSERT_TRUE(book_->sign_off(id, version, signed_json, "none"));
  for (const ReferenceShelf& other : {shelf_with("20 %"), ReferenceShelf(), shelf_with("5 %")}) {
    book_->use_shelf(other);
    EXPECT_EQ(at_12(*book_->record(id)), mine);
  }
  // A change afterwards is one of today.
  TestRecord edited = *book_->record(id);
  edited.fields.set("specimen.note", std::string("again"));
  ASSERT_TRUE(book_->save_record(id, version, edited, {}, "a note"));
  book_->use_shelf(shelf_with("20 %"));
  EXPECT_GT(std::abs(at_12(*book_->record(id)) - mine), 0.1);
}

// Two hours of random keys found it: a signed piece that is marked anew is no damage.
TEST_F(Signing, APieceMayBeMarkedAnewAfterwards) {
  ASSERT_TRUE(book_->sign_off(id_, version_, evaluation(), "meets"));
  ASSERT_TRUE(book_->mark(id_, "B-1a"));
  EXPECT_TRUE(book_->verify().empty());
  ASSERT_TRUE(book_->mark(id_, "another → mark"));
  for (const Damage& d : book_->verify()) ADD_FAILURE() << d.what;
  EXPECT_TRUE(book_->verify_piece(id_).empty());
}

TEST_F(Signing, ANewerVersionThanTheEvaluatedOneIsNeverSigned) {
  TestRecord other = record_;
  other.fields.set("specimen.note", std::string("measured again"));
  ASSERT_TRUE(book_->save_record(id_, version_, other, {}, "a note"));
  const auto done = book_->sign_off(id_, version_, evaluation(), "meets");
  ASSERT_FALSE(done);
  EXPECT_NE(done.error().message.find("Look at it again"), std::string::npos);
  EXPECT_FALSE(book_->signature(id_));
  EXPECT_FALSE(book_->sign_off(999, 1, "{}", "meets"));
}

TEST_F(Signing, AnOpenRunIsNeverSigned) {
  const auto run = book_->begin_run(id_, {"time", "force"}, "frame");
  ASSERT_TRUE(run);
  EXPECT_FALSE(book_->sign_off(id_, version_, evaluation(), "meets"));
  ASSERT_TRUE(book_->close_run(*run, ""));
  EXPECT_TRUE(book_->sign_off(id_, version_, evaluation(), "meets"));
}

TEST_F(Signing, TamperingIsFound) {
  ASSERT_TRUE(book_->sign_off(id_, version_, evaluation(), "meets"));
  struct Case {
    const char *sql, *back, *word;
  };
  for (const Case& c : std::initializer_list<Case>{
           {"UPDATE record SET json = replace(json, 'mild steel', 'wild steel')",
            "UPDATE record SET json = replace(json, 'wild steel', 'mild steel')", "the record"},
           {"UPDATE evaluation SET json = json || ' '", "UPDATE evaluation SET json = rtrim(json)", "the evaluation"},
           {"UPDATE run_chunk SET part = part + 100", "UPDATE run_chunk SET part = part - 100", "the run"},
           {"UPDATE run SET channels = replace(channels, 'force', 'farce')",
            "UPDATE run SET channels = replace(channels, 'farce', 'force')", "the run"},
           {"UPDATE signature SET record_sha256 = 'ab' || substr(record_sha256, 3)", nullptr, "line in the logbook"}}) {
    tamper(c.sql);
    const auto sound = book_->check_signature(id_);
    ASSERT_FALSE(sound) << c.sql;
    EXPECT_NE(sound.error().message.find(c.word), std::string::npos) << sound.error().message;
    EXPECT_TRUE(damaged("B-1")) << c.sql;
    if (c.back == nullptr) break;
    tamper(c.back);
    ASSERT_TRUE(book_->check_signature(id_)) << c.back;
  }
}

TEST_F(Signing, AnInventedSignatureHasNoLineInTheLogbook) {
  ASSERT_TRUE(book_->sign_off(id_, version_, evaluation(), "fails"));
  tamper(
      "INSERT INTO signature (specimen_id, record_version, verdict, signed_by, signed_at, evaluation_id, "
      "record_sha256, "
      "run_sha256, evaluation_sha256) SELECT specimen_id, record_version, 'meets', 'N. Obody', signed_at, "
      "evaluation_id, record_sha256, run_sha256, evaluation_sha256 || '' FROM signature");
  EXPECT_FALSE(book_->check_signature(id_)) << "its hashes agree with the record, but no line speaks of it";
  tamper("DELETE FROM signature WHERE id = 1");
  tamper("UPDATE signature SET evaluation_sha256 = evaluation_sha256 || '0'");
  EXPECT_TRUE(damaged("B-1"));
}

TEST_F(Signing, AFasterProcessIsNoticedAndNothingIsLost) {
  TestRecord mine = record_, theirs = record_;
  mine.fields.set("specimen.note", std::string("mine"));
  theirs.fields.set("specimen.note", std::string("theirs"));
  const auto first = book_->save_record(id_, version_, theirs, {}, "theirs");
  ASSERT_TRUE(first);
  EXPECT_FALSE(first->overtaken);
  const auto second = book_->save_record(id_, version_, mine, {}, "mine");
  ASSERT_TRUE(second);
  ASSERT_TRUE(second->overtaken);
  EXPECT_EQ(*second->overtaken, first->version);
  EXPECT_EQ(book_->record_at(id_, first->version)->fields.text("specimen.note"), "theirs");
  EXPECT_EQ(book_->record_at(id_, second->version)->fields.text("specimen.note"), "mine");
  const auto versions = book_->versions(id_);
  ASSERT_EQ(versions.size(), 4u);
  EXPECT_EQ(versions.front().version, second->version);
  EXPECT_FALSE(book_->record_at(id_, 99));
}

TEST_F(Signing, OnlyOneWritesAndTheOtherReads) {
  ONLY_IN_A_FILE();
  auto second = Book::open(path(), "N. Ext");
  ASSERT_TRUE(second) << second.error().message;
  EXPECT_TRUE((*second)->read_only());
  ASSERT_EQ((*second)->notices().size(), 1u);
  EXPECT_NE((*second)->notices()[0].find("process"), std::string::npos);
  EXPECT_EQ((*second)->specimens(1).size(), 1u) << "it reads";
  const auto refused = (*second)->add_job("TC-091", "no");
  ASSERT_FALSE(refused);
  EXPECT_NE(refused.error().message.find("writes in it"), std::string::npos);
  book_.reset();
  auto third = Book::open(path(), "N. Ext");
  ASSERT_TRUE(third);
  EXPECT_FALSE((*third)->read_only()) << "the lock went with its owner";
}

TEST_F(Signing, ASecondOpeningNeverTouchesARunningTest) {
  const auto run = book_->begin_run(id_, {"time", "force"}, "frame");
  ASSERT_TRUE(run);
  ASSERT_TRUE(book_->append_run(*run, {{0, 1}, {0, 100}}));
  {
    auto second = Book::open(path(), "N. Ext");
    ASSERT_TRUE(second);
  }
  ASSERT_TRUE(book_->append_run(*run, {{2, 3}, {200, 300}})) << "the run goes on";
  ASSERT_TRUE(book_->close_run(*run, ""));
  EXPECT_EQ((*book_->samples(*run))->size(), 4u);
}

TEST_F(Signing, RecoveryWorksWhenTheRecordWasSavedDuringTheRun) {
  const auto run = book_->begin_run(id_, {"time", "force"}, "frame");
  ASSERT_TRUE(run);
  ASSERT_TRUE(book_->append_run(*run, {{0, 1, 2}, {0, 50, 90}}));
  TestRecord during = record_;
  during.fields.set("specimen.note", std::string("typed while it ran"));
  ASSERT_TRUE(book_->save_record(id_, version_, during, {}, "note"));
  book_.reset();  // the process ends without closing the run
  auto again = Book::open(path(), "R. Vale");
  ASSERT_TRUE(again) << again.error().message;
  book_ = std::move(*again);
  ASSERT_EQ(book_->notices().size(), 1u);
  EXPECT_NE(book_->notices()[0].find("interrupted"), std::string::npos);
  const auto r = book_->record(id_);
  ASSERT_TRUE(r) << r.error().message;
  EXPECT_EQ(r->run.samples()->size(), 3u);
  EXPECT_EQ(r->fields.text("specimen.note"), "typed while it ran");
  EXPECT_TRUE(book_->runs(id_).back().interrupted);
  book_.reset();
  auto third = Book::open(path(), "R. Vale");
  ASSERT_TRUE(third);
  EXPECT_TRUE((*third)->notices().empty()) << "said once";
}

TEST_F(Signing, ARunClosedButNotInItsRecordIsPutIntoIt) {
  ONLY_IN_A_FILE();  // of a server: SharedBook
  const auto run = book_->begin_run(id_, {"time", "force"}, "frame");
  ASSERT_TRUE(book_->append_run(*run, {{0, 1, 2, 3}, {0, 50, 90, 10}}));
  ASSERT_TRUE(book_->close_run(*run, ""));
  EXPECT_NE(book_->record(id_)->run.samples()->size(), 4u) << "the record does not know it yet";
  book_.reset();
  auto again = Book::open(path(), "R. Vale");
  ASSERT_TRUE(again);
  EXPECT_EQ((*again)->record(id_)->run.samples()->size(), 4u);
  EXPECT_TRUE((*again)->verify().empty());
}

TEST_F(Signing, AnImportIsWholeOrNotAtAll) {
  ONLY_IN_A_FILE();
  // The third part cannot be written: nothing of the run stays.
  tamper(
      "CREATE TRIGGER full BEFORE INSERT ON run_chunk WHEN NEW.part = 3 BEGIN SELECT RAISE(ABORT, 'disk is full'); "
      "END");
  Samples many;
  many.channels = {{"time", std::vector<double>(350000, 1)}, {"force", std::vector<double>(350000, 2)}};
  const size_t before = book_->runs(id_).size();
  const auto refused = book_->store_run(id_, many, "file long.csv");
  ASSERT_FALSE(refused);
  EXPECT_NE(refused.error().message.find("disk is full"), std::string::npos);
  EXPECT_EQ(book_->runs(id_).size(), before);
  tamper("DROP TRIGGER full");
  EXPECT_TRUE(book_->store_run(id_, many, "file long.csv"));
  EXPECT_EQ(book_->runs(id_).back().rows, 350000);
}

TEST_F(Signing, AReadOnlyBookSaysSo) {
  auto reader = Book::open_read_only(path());
  ASSERT_TRUE(reader);
  EXPECT_TRUE((*reader)->read_only());
  for (const auto& done : {(*reader)->save_record(id_, 0, record_, {}, "x").error().message,
                           (*reader)->sign_off(id_, version_, "{}", "meets").error().message,
                           (*reader)->store_run(id_, *record_.run.samples(), "x").error().message,
                           (*reader)->note("x", "y").error().message})
    EXPECT_NE(done.find("reading only"), std::string::npos) << done;
}

}  // namespace
}  // namespace fortitor::sign_test
