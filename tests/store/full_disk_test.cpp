// Many levels of a disk that runs full, from the first byte of a new book to the last export: a sentence that names
// the cause each time, nothing half-written, and the work goes on when there is room again.
#include <QDir>
#include <QProcess>

#include "tests/built.h"
#include "tests/store/filled_book.h"

namespace fortitor::full_disk_test {
namespace {

QStringList fill(const QString& folder, long room) {
  QProcess p;
  QProcessEnvironment env = QProcessEnvironment::systemEnvironment();
  env.insert("LD_PRELOAD", built("libfull_disk.so"));
  env.insert("ASAN_OPTIONS", "verify_asan_link_order=0:detect_leaks=0");
  if (room >= 0) env.insert("FULL_DISK_BYTES", QString::number(room));
  p.setProcessEnvironment(env);
  p.start(built("book_filler"), {folder});
  EXPECT_TRUE(p.waitForFinished(120000));
  EXPECT_EQ(p.exitStatus(), QProcess::NormalExit) << "room for " << room;
  EXPECT_EQ(p.exitCode(), 0) << p.readAllStandardError().toStdString();
  return QString::fromUtf8(p.readAllStandardOutput()).split('\n', Qt::SkipEmptyParts);
}

// Everything that lies in a folder and below, in bytes.
qint64 size_of(const QString& folder) {
  qint64 sum = 0;
  QDir dir(folder);
  for (const QFileInfo& f : dir.entryInfoList(QDir::Files | QDir::Dirs | QDir::NoDotAndDotDot))
    sum += f.isDir() ? size_of(f.filePath()) : f.size();
  return sum;
}

TEST(FullDisk, AtEveryLevel) {
  QTemporaryDir whole;
  const QStringList all = fill(whole.path(), -1);
  ASSERT_EQ(all.last(), "end") << all.join('\n').toStdString();
  ASSERT_EQ(all.filter("refused").size(), 0) << all.filter("refused").join('\n').toStdString();
  // The log of the database is written beside the book and over again: the job writes about three times what stays.
  const qint64 most = 4 * size_of(whole.path());
  int full = 0, never_opened = 0, ran_through = 0;
  const int levels = qEnvironmentVariableIntValue("FORTITOR_SOAK") > 0 ? 200 : 60, small = levels / 3;
  for (int level = 0; level < levels; ++level) {
    QTemporaryDir dir;
    const QString folder = dir.path();
    const long room =
        long(level < small ? level * 120000 / small : 120000 + (most - 120000) * (level - small) / (levels - small));
    const QStringList said = fill(folder, room);
    ASSERT_FALSE(said.isEmpty()) << room;
    for (const QString& line : said.filter("refused")) {
      const bool named = line.contains("disk is full") || line.contains("No space left") ||
                         line.contains("disk did not take") || line.contains("not sound") || line.contains("no run") ||
                         line.contains("not closed") || line.contains("is not in the book") ||
                         line.contains("nothing to draw");
      EXPECT_TRUE(named) << "room for " << room << ": " << line.toStdString();
      EXPECT_FALSE(line.contains("not a job book")) << line.toStdString();
    }
    full += !said.filter("refused").isEmpty();
    EXPECT_TRUE(said.filter("LOST").isEmpty())
        << "room for " << room << ": " << said.filter("LOST").join(' ').toStdString();
    // Nothing half-written: what has its name is whole, and no scrap is left.
    for (const char* scrap : {"*.part*", "safe/*.part*"})
      EXPECT_TRUE(QDir(folder).entryList({scrap}, QDir::Files).isEmpty())
          << room << ": " << QDir(folder).entryList({scrap}, QDir::Files).join(' ').toStdString();
    for (const char* name : {"c.pdf", "c.html", "f.png"}) {
      QFile file(folder + "/" + name);
      if (!file.open(QIODevice::ReadOnly)) continue;
      const QByteArray bytes = file.readAll();
      const bool complete = QByteArray(name) == "c.pdf"    ? bytes.trimmed().endsWith("%%EOF")
                            : QByteArray(name) == "c.html" ? bytes.endsWith("</html>")
                                                           : bytes.contains("IEND");
      EXPECT_TRUE(complete) << name << " with room for " << room;
    }
    if (said.first().startsWith("refused open")) {
      ++never_opened;
      continue;
    }
    ran_through += said.last() == "end";
    // The book opens, is sound, and holds everything that was confirmed.
    auto book = Book::open((folder + "/b.fortitor").toStdString(), "after");
    ASSERT_TRUE(book) << room << ": " << book.error().message;
    for (const Damage& d : (*book)->verify()) ADD_FAILURE() << room << ": " << d.what;
    if (said.contains("ok job")) {
      EXPECT_TRUE((*book)->job_by_code("TC-060")) << room;
    }
    if (!said.contains("ok specimen")) continue;
    const auto confirmed =
        said.filter("ok reading").size() + said.filter("ok record").size() + said.filter("ok late").size() + 1;
    EXPECT_EQ(qsizetype((*book)->versions(1).size()), confirmed) << room;
    EXPECT_EQ((*book)->signature(1).has_value(), said.contains("ok signed")) << room;
    EXPECT_TRUE((*book)->record(1)) << room;
    if (said.last() == "end") {
      EXPECT_TRUE(said.contains("ok late")) << room << ": there was room again";
    }
  }
  EXPECT_GT(full, levels / 2) << "or the disk was never full";
  EXPECT_GT(never_opened, 0);
  EXPECT_GT(ran_through, levels / 3);
}

}  // namespace
}  // namespace fortitor::full_disk_test
