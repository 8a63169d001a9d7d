// Killed at any moment the book opens again with every confirmed reading and every confirmed sample.
#include <gtest/gtest.h>
#include <signal.h>

#include <QElapsedTimer>
#include <QProcess>
#include <QTemporaryDir>
#include <random>

#include "store/book.h"
#include "tests/built.h"

namespace fortitor::kill_test {
namespace {

TEST(Kill, RandomMoments) {
  std::mt19937 random(20261123);
  const int rounds = qEnvironmentVariableIntValue("FORTITOR_SOAK") > 0 ? 1000 : 180;
  for (int round = 0; round < rounds; ++round) {
    QTemporaryDir dir;
    const std::string path = (dir.path() + "/k.fortitor").toStdString();
    QProcess writer;
    writer.start(built("book_writer"), {QString::fromStdString(path)});
    ASSERT_TRUE(writer.waitForStarted());
    // The moment is counted in confirmed lines plus a random part of the next change, so that it
    // falls inside transactions as often as between them.
    const int lines_wanted = 1 + int(random() % 30);
    int lines = 0;
    QByteArray output;
    while (lines < lines_wanted && writer.waitForReadyRead(20000)) {
      output += writer.readAllStandardOutput();
      lines = int(output.count('\n'));
    }
    ASSERT_GE(lines, lines_wanted) << writer.readAllStandardError().toStdString();
    QElapsedTimer spin;
    spin.start();
    const qint64 wait = qint64(random() % 3000000);
    while (spin.nsecsElapsed() < wait) {
    }
    ::kill(pid_t(writer.processId()), SIGKILL);
    writer.waitForFinished();
    output += writer.readAllStandardOutput();

    int confirmed_record = 0, confirmed_rows = 0;
    for (const QByteArray& line : output.split('\n')) {
      if (line.startsWith("record ")) confirmed_record = line.mid(7).toInt();
      if (line.startsWith("rows ")) confirmed_rows = line.mid(5).toInt();
    }
    auto book = Book::open(path, "after");
    ASSERT_TRUE(book) << round << ": " << book.error().message;
    EXPECT_TRUE((*book)->verify().empty()) << round;
    const Id job = (*book)->jobs().at(0).id;
    const auto specimens = (*book)->specimens((*book)->series(job).at(0).id);
    ASSERT_EQ(specimens.size(), 1u);
    const auto record = (*book)->record(specimens[0].id);
    ASSERT_TRUE(record) << record.error().message;
    if (confirmed_record > 0) {
      const int kept = QString::fromStdString(record->fields.text("specimen.note")).section(' ', 1).toInt();
      EXPECT_GE(kept, confirmed_record) << round;
      EXPECT_LE(kept, confirmed_record + 1) << round;
    }
    if (confirmed_rows > 0) {
      ASSERT_TRUE(record->run.samples()) << round;
      const auto& force = record->run.samples()->find("force")->values;
      EXPECT_GE(int(force.size()), confirmed_rows) << round;
      for (size_t i = 0; i < force.size(); ++i)
        ASSERT_EQ(force[i], 1000.0 * double(i / 50 + 1) + double(i % 50)) << round;
    }
  }
}

// Killed while the book itself is made, nothing was confirmed yet: it is made again where it lies.
TEST(Kill, WhileTheBookIsMade) {
  std::mt19937 random(20261130);
  const int rounds = qEnvironmentVariableIntValue("FORTITOR_SOAK") > 0 ? 1000 : 80;
  int half_made = 0;
  for (int round = 0; round < rounds; ++round) {
    QTemporaryDir dir;
    const QString path = dir.path() + "/k.fortitor";
    QProcess writer;
    writer.start(built("book_writer"), {path});
    ASSERT_TRUE(writer.waitForStarted());
    while (!QFile::exists(path)) ASSERT_EQ(writer.state(), QProcess::Running);
    QElapsedTimer spin;
    spin.start();
    const qint64 wait = qint64(random() % 6000000);
    while (spin.nsecsElapsed() < wait) {
    }
    ::kill(pid_t(writer.processId()), SIGKILL);
    writer.waitForFinished();
    half_made += !writer.readAllStandardOutput().contains("ready");
    auto book = Book::open(path.toStdString(), "after");
    ASSERT_TRUE(book) << round << ": " << book.error().message;
    EXPECT_FALSE((*book)->read_only()) << round;
    EXPECT_TRUE((*book)->verify().empty()) << round;
    EXPECT_EQ((*book)->logbook().back().what, "book begun") << round;
    EXPECT_TRUE((*book)->add_job("J-2", "after it")) << round;
  }
  EXPECT_GT(half_made, 0) << "no kill fell into the making";
}

}  // namespace
}  // namespace fortitor::kill_test
