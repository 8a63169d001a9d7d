// A job handed on as one file, and taken in again: all of it, or nothing.
#include "store/bundle.h"

#include <zip.h>
#include <QCryptographicHash>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <list>

#include "tests/store/filled_book.h"

namespace fortitor::bundle_test {
namespace {

class Bundle : public testing::Test {
 protected:
  void SetUp() override {
    fill_book(book());
    auto b = Book::open_read_only(book());
    ASSERT_TRUE(b);
    const auto done = write_bundle(**b, "TC-041", bundle());
    ASSERT_TRUE(done) << done.error().message;
  }
  std::string book() const { return book_at(folder_.filePath("a.fortitor").toStdString()); }
  std::string bundle() const { return folder_.filePath("TC-041.fortitor-bundle").toStdString(); }
  std::unique_ptr<Book> fresh() {
    auto b = Book::open(book_at(folder_.filePath(QString("b%1.fortitor").arg(++count_)).toStdString()), "M. Orr");
    EXPECT_TRUE(b);
    return std::move(*b);
  }
  // A copy of the bundle in which one file is replaced (or, with empty data, taken out).
  std::string with(const QString& name, const QByteArray& data, bool mend_manifest = false) {
    const std::string path = folder_.filePath(QString("harmed%1.fortitor-bundle").arg(++count_)).toStdString();
    QFile::copy(QString::fromStdString(bundle()), QString::fromStdString(path));
    int code = 0;
    zip_t* zip = zip_open(path.c_str(), 0, &code);
    EXPECT_NE(zip, nullptr);
    QByteArray manifest = file(bundle(), "bundle.json");
    if (mend_manifest) {
      QJsonObject o = QJsonDocument::fromJson(manifest).object();
      QJsonArray files = o["files"].toArray();
      for (qsizetype i = 0; i < files.size(); ++i) {
        QJsonObject f = files[i].toObject();
        if (f["name"].toString() != name) continue;
        f["bytes"] = data.size();
        f["sha256"] = QString(QCryptographicHash::hash(data, QCryptographicHash::Sha256).toHex());
        files[i] = f;
      }
      o["files"] = files;
      manifest = QJsonDocument(o).toJson();
      replace(zip, "bundle.json", manifest);
    }
    if (data.isEmpty())
      zip_delete(zip, zip_uint64_t(zip_name_locate(zip, name.toUtf8().constData(), 0)));
    else
      replace(zip, name.toUtf8().constData(), data);
    EXPECT_EQ(zip_close(zip), 0);
    return path;
  }
  static void replace(zip_t* zip, const char* name, const QByteArray& data) {
    kept_.push_back(data);
    zip_source_t* s = zip_source_buffer(zip, kept_.back().constData(), zip_uint64_t(kept_.back().size()), 0);
    zip_file_add(zip, name, s, ZIP_FL_OVERWRITE);
  }
  static QByteArray file(const std::string& path, const char* name) {
    int code = 0;
    zip_t* zip = zip_open(path.c_str(), ZIP_RDONLY, &code);
    EXPECT_NE(zip, nullptr);
    zip_file_t* f = zip_fopen(zip, name, 0);
    EXPECT_NE(f, nullptr) << name;
    QByteArray out(1 << 20, '\0');
    out.resize(f == nullptr ? 0 : qsizetype(std::max<zip_int64_t>(0, zip_fread(f, out.data(), 1 << 20))));
    if (f != nullptr) zip_fclose(f);
    zip_discard(zip);
    return out;
  }
  void refused(const std::string& path, const char* word) {
    auto into = fresh();
    const auto taken = read_bundle(*into, path);
    ASSERT_FALSE(taken) << word;
    EXPECT_NE(taken.error().message.find(word), std::string::npos) << taken.error().message;
    EXPECT_TRUE(into->jobs().empty()) << "nothing was taken in";
    EXPECT_TRUE(into->verify().empty());
  }
  QTemporaryDir folder_;
  int count_ = 0;
  static std::list<QByteArray> kept_;
};
std::list<QByteArray> Bundle::kept_;

TEST_F(Bundle, GivesTheSameJobInAnotherBook) {
  auto into = fresh();
  const auto taken = read_bundle(*into, bundle());
  ASSERT_TRUE(taken) << taken.error().message;
  EXPECT_EQ(taken->specimens, 3);
  EXPECT_EQ(taken->code, "TC-041");
  ASSERT_EQ(taken->notices.size(), 1u);
  EXPECT_NE(taken->notices[0].find("HB-01 was signed in its own book by R. Vale"), std::string::npos);
  EXPECT_TRUE(into->verify().empty());

  auto from = Book::open_read_only(book());
  const auto series = into->series(taken->job);
  ASSERT_EQ(series.size(), 1u);
  const auto pieces = into->specimens(series[0].id);
  ASSERT_EQ(pieces.size(), 3u);
  for (const SpecimenRow& p : pieces) {
    const Id there = p.code == "HB-01" ? 1 : p.code == "HB-02" ? 2 : 3;
    const TestRecord mine = *into->record(p.id), theirs = *(*from)->record(there);
    EXPECT_FALSE(p.signed_off) << "a signature is not carried over";
    EXPECT_NE(p.stages, "0000000") << "what the docket shows is known at once";
    for (const Channel& c : theirs.run.samples()->channels) {
      const Channel* other = mine.run.samples()->find(c.name);
      ASSERT_NE(other, nullptr);
      ASSERT_EQ(other->values.size(), c.values.size());
      for (size_t i = 0; i < c.values.size(); ++i)
        ASSERT_TRUE(other->values[i] == c.values[i] || (std::isnan(other->values[i]) && std::isnan(c.values[i])))
            << "to the last bit: " << c.name << " " << i;
    }
    const Evaluation a = methods::evaluate(mine), b = methods::evaluate(theirs);
    ASSERT_EQ(a.results.size(), b.results.size());
    for (size_t i = 0; i < a.results.size(); ++i) EXPECT_EQ(a.results[i].value, b.results[i].value);
    EXPECT_GE(into->versions(p.id).size(), (*from)->versions(there).size()) << "with its history";
  }
}

TEST_F(Bundle, ATakenNumberIsRefusedAndAnotherMayBeGiven) {
  auto into = fresh();
  ASSERT_TRUE(read_bundle(*into, bundle()));
  const auto again = read_bundle(*into, bundle());
  ASSERT_FALSE(again);
  EXPECT_NE(again.error().message.find("another number"), std::string::npos) << again.error().message;
  EXPECT_EQ(into->jobs().size(), 1u);
  const auto other = read_bundle(*into, bundle(), "TC-141");
  ASSERT_TRUE(other) << other.error().message;
  EXPECT_EQ(into->jobs().size(), 2u);
  EXPECT_EQ(into->record(into->specimens(into->series(other->job)[0].id)[0].id)->job, "TC-141");
}

TEST_F(Bundle, IsNeverWrittenOverAFile) {
  auto b = Book::open_read_only(book());
  const auto again = write_bundle(**b, "TC-041", bundle());
  ASSERT_FALSE(again);
  EXPECT_NE(again.error().message.find("already there"), std::string::npos);
  EXPECT_FALSE(write_bundle(**b, "TC-999", folder_.filePath("x.fortitor-bundle").toStdString()));
  EXPECT_FALSE(write_bundle(**b, "TC-041", "/no/such/folder/x.fortitor-bundle"));
}

TEST_F(Bundle, AChangedFileIsRefused) {
  const QByteArray record = file(bundle(), "specimens/0002/record.json");
  ASSERT_FALSE(record.isEmpty());
  QByteArray other = record;
  other.replace("HB-02", "HB-20");
  refused(with("specimens/0002/record.json", other), "is not what was packed");
  refused(with("specimens/0002/record.json", other + QByteArray(1000, ' ')), "beyond its stated size");
  refused(with("specimens/0002/record.json", {}), "is missing");
  refused(with("specimens/0002/run.csv", "time,force\ns,N\n0,1\n"), "is not what was packed");
  refused(with("specimens/0002/run.csv", {}), "is missing");
}

TEST_F(Bundle, WhatIsInsideIsReadWithTheSameCare) {
  refused(with("specimens/0002/record.json", "{", true), "record.json");
  refused(with("specimens/0002/record.json", R"({"fortitor": "record/1", "method": "alchemy"})", true), "alchemy");
  refused(with("specimens/0002/run.csv", "nothing to read here", true), "run.csv");
  QByteArray elsewhere = file(bundle(), "specimens/0002/record.json");
  elsewhere.replace("run.csv", "../../../etc/passwd");
  refused(with("specimens/0002/record.json", elsewhere, true), "is missing");
}

// A small file that would unpack to a very large one is refused before it does.
TEST_F(Bundle, WhatWouldUnpackBeyondItsSizeIsRefused) {
  const QByteArray zeros(30 << 20, ' ');
  refused(with("specimens/0002/record.json", zeros), "beyond its stated size");
  refused(with("bundle.json", zeros), "beyond its stated size");
  QByteArray manifest = file(bundle(), "bundle.json");
  QJsonObject o = QJsonDocument::fromJson(manifest).object();
  QJsonArray files = o["files"].toArray();
  QJsonObject f = files[0].toObject();
  f["bytes"] = 1e12;
  files[0] = f;
  o["files"] = files;
  refused(with("bundle.json", QJsonDocument(o).toJson()), "would unpack to more than");
}

TEST_F(Bundle, AnythingElseIsNoBundle) {
  const QString text = folder_.filePath("text.fortitor-bundle");
  QFile f(text);
  ASSERT_TRUE(f.open(QIODevice::WriteOnly));
  f.write("no zip at all");
  f.close();
  refused(text.toStdString(), "no bundle");
  refused(folder_.filePath("absent").toStdString(), "no such file");
  refused(with("bundle.json", "{\"format\": \"something\"}"), "no bundle of a job");
  refused(with("bundle.json", "{\"format\": \"fortitor-bundle\", \"version\": 9}"), "newer");
  refused(with("bundle.json", {}), "is missing");
  QFile whole(QString::fromStdString(bundle()));
  ASSERT_TRUE(whole.open(QIODevice::ReadOnly));
  const QByteArray bytes = whole.readAll();
  QFile cut(folder_.filePath("cut.fortitor-bundle"));
  ASSERT_TRUE(cut.open(QIODevice::WriteOnly));
  cut.write(bytes.left(bytes.size() / 2));
  cut.close();
  refused(cut.fileName().toStdString(), "damaged");
}

TEST_F(Bundle, AReaderOfTheBookCannotTakeItIn) {
  auto reader = Book::open_read_only(book());
  const auto taken = read_bundle(**reader, bundle(), "TC-200");
  ASSERT_FALSE(taken);
  EXPECT_NE(taken.error().message.find("reading only"), std::string::npos);
}

}  // namespace
}  // namespace fortitor::bundle_test
