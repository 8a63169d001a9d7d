// The window killed at any moment of a run: every sample that was confirmed is there when the book is opened again.
#include <signal.h>
#include <QElapsedTimer>
#include <QFile>
#include <QProcess>
#include <algorithm>
#include <random>

#include "app/demo/demo_book.h"
#include "tests/app/window_fixture.h"
#include "tests/built.h"

namespace fortitor::window_kill_test {
namespace {

TEST(WindowKill, AtRandomMomentsOfARun) {
  QTemporaryDir folder;
  const QString whole = folder.filePath("demo.fortitor");
  {
    auto book = Book::open(whole.toStdString(), "R. Vale");
    ASSERT_TRUE(book);
    QFile recipe(":/demo/tarnfell.json");
    ASSERT_TRUE(recipe.open(QIODevice::ReadOnly));
    ASSERT_TRUE(fill_demo(**book, recipe.readAll().toStdString()));
  }
  std::mt19937 random(20261125);
  const int rounds = qEnvironmentVariableIntValue("FORTITOR_SOAK") > 0 ? 1000 : 20;
  int with_rows = 0;
  std::vector<double> missing;  // s of the machine's clock
  for (int round = 0; round < rounds; ++round) {
    const QString mine = folder.filePath(QString("k%1.fortitor").arg(round));
    ASSERT_TRUE(QFile::copy(whole, mine));
    QProcess runner;
    runner.start(built("window_runner"), {mine});
    ASSERT_TRUE(runner.waitForStarted());
    // So many confirmed parts, and a moment of the next.
    const int wanted = 1 + int(random() % 6);
    QByteArray said;
    while (said.count("rows ") < wanted && runner.waitForReadyRead(60000)) said += runner.readAllStandardOutput();
    ASSERT_GE(said.count("rows "), wanted) << runner.readAllStandardError().toStdString();
    QElapsedTimer spin;
    spin.start();
    const qint64 moment = qint64(random() % 300) * 1000000;
    while (spin.nsecsElapsed() < moment) {
    }
    ::kill(pid_t(runner.processId()), SIGKILL);
    runner.waitForFinished();
    said += runner.readAllStandardOutput();
    int64_t confirmed = 0;
    double measured = 0;
    for (const QByteArray& line : said.split('\n')) {
      if (line.startsWith("rows ")) confirmed = line.mid(5).toLongLong();
      if (line.startsWith("time ")) measured = line.mid(5).toDouble();
    }

    auto book = Book::open(mine.toStdString(), "after");
    ASSERT_TRUE(book) << round << ": " << book.error().message;
    EXPECT_TRUE((*book)->verify().empty()) << round;
    Id piece = 0;
    for (const JobRow& j : (*book)->jobs())
      for (const SeriesRow& s : (*book)->series(j.id))
        for (const SpecimenRow& p : (*book)->specimens(s.id))
          if (p.code == "HB-05") piece = p.id;
    const auto runs = (*book)->runs(piece);
    ASSERT_EQ(runs.size(), 1u) << round;
    EXPECT_TRUE(runs[0].interrupted) << round;
    EXPECT_GE(runs[0].rows, confirmed) << round;
    with_rows += confirmed > 0;
    const auto record = (*book)->record(piece);
    ASSERT_TRUE(record) << record.error().message;
    ASSERT_TRUE(record->run.samples()) << "the interrupted run is in its record";
    EXPECT_EQ(int64_t(record->run.samples()->size()), runs[0].rows);
    const Channel* time = record->run.samples()->find("time");
    const double kept = time == nullptr || time->values.empty() ? 0 : time->values.back();
    missing.push_back(measured - kept);
    ASSERT_FALSE((*book)->notices().empty());
    EXPECT_NE((*book)->notices()[0].find("HB-05"), std::string::npos) << (*book)->notices()[0];
    book->reset();
    EXPECT_TRUE((*Book::open(mine.toStdString(), "later"))->notices().empty()) << "it is said once";
    QFile::remove(mine);  // a thousand of them want a disk of their own
  }
  EXPECT_GT(with_rows, rounds / 2);
  // At most a second of a run is missing; the machine's clock runs tenfold here. A processor that other work holds up
  // at the moment of the kill is no fault of the window: nine of ten must keep it.
  std::sort(missing.begin(), missing.end());
  EXPECT_LE(missing[missing.size() * 9 / 10], 10);
}

}  // namespace
}  // namespace fortitor::window_kill_test
