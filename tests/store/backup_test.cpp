// Copies put aside: whole, checked, seven days deep; a book that goes on after its file was taken away.
#include "store/backup.h"

#include <unistd.h>
#include <QDir>

#include "tests/store/filled_book.h"

namespace fortitor::backup_test {
namespace {

class Backup : public testing::Test {
 protected:
  void SetUp() override { fill_book(book()); }
  std::string book() const { return folder_.filePath("bench.fortitor").toStdString(); }
  QString beside() const { return folder_.filePath("bench.backups"); }
  QTemporaryDir folder_;
};

TEST_F(Backup, IsACheckedCopyUnderItsDate) {
  const std::string to = folder_.filePath("safe").toStdString();
  const auto made = back_up(book(), to, "2026-11-25");
  ASSERT_TRUE(made) << made.error().message;
  EXPECT_EQ(*made, to + "/bench-2026-11-25.fortitor");
  auto copy = Book::open_read_only(*made);
  ASSERT_TRUE(copy);
  EXPECT_TRUE((*copy)->verify().empty());
  EXPECT_EQ((*copy)->head().hash, (*Book::open_read_only(book()))->head().hash);
  EXPECT_TRUE((*copy)->record(1));
  // The same day again: beside it, never over it.
  const auto again = back_up(book(), to, "2026-11-25");
  ASSERT_TRUE(again);
  EXPECT_EQ(*again, to + "/bench-2026-11-25-2.fortitor");
  EXPECT_TRUE(QDir(QString::fromStdString(to)).entryList({"*.part"}).isEmpty());
}

TEST_F(Backup, WorksWhileTheBookIsWrittenTo) {
  auto writer = Book::open(book(), "R. Vale");
  ASSERT_TRUE(writer);
  ASSERT_TRUE((*writer)->note("still at it", ""));
  const auto made = back_up(book(), folder_.filePath("safe").toStdString(), "2026-11-25");
  ASSERT_TRUE(made) << made.error().message;
  EXPECT_TRUE((*Book::open_read_only(*made))->check_head((*writer)->head()));
}

TEST_F(Backup, DailyKeepsSevenDays) {
  for (int day = 10; day < 20; ++day) {
    const auto made = daily_backup(book(), "2026-11-" + std::to_string(day));
    ASSERT_TRUE(made) << made.error().message;
    EXPECT_FALSE(made->empty());
    EXPECT_TRUE(daily_backup(book(), "2026-11-" + std::to_string(day))->empty()) << "the day has its copy";
  }
  const QStringList kept = QDir(beside()).entryList(QDir::Files, QDir::Name);
  ASSERT_EQ(kept.size(), 7);
  EXPECT_EQ(kept.first(), "bench-2026-11-13.fortitor");
  EXPECT_EQ(kept.last(), "bench-2026-11-19.fortitor");
}

TEST_F(Backup, ADamagedBookCostsNoOlderCopy) {
  for (int day = 10; day < 17; ++day) ASSERT_TRUE(daily_backup(book(), "2026-11-" + std::to_string(day)));
  outside(book(), "UPDATE record SET json = '{}' WHERE id = 2");
  const auto made = daily_backup(book(), "2026-11-20");
  ASSERT_FALSE(made);
  EXPECT_NE(made.error().message.find("not sound"), std::string::npos) << made.error().message;
  EXPECT_TRUE(QFile::exists(beside() + "/bench-2026-11-10.fortitor"));
  EXPECT_TRUE(QFile::exists(beside() + "/bench-2026-11-20.unsound.fortitor")) << "named what it is";
  EXPECT_FALSE(QFile::exists(beside() + "/bench-2026-11-20.fortitor"));
}

TEST_F(Backup, AnUnsoundCopyPushesOutNoSoundOne) {
  for (int day = 10; day < 17; ++day) ASSERT_TRUE(daily_backup(book(), "2026-11-" + std::to_string(day)));
  const std::string sound = folder_.filePath("sound.fortitor").toStdString();
  ASSERT_TRUE(QFile::copy(QString::fromStdString(book()), QString::fromStdString(sound)));
  outside(book(), "UPDATE record SET json = '{}' WHERE id = 2");
  for (int day = 17; day < 27; ++day) EXPECT_FALSE(daily_backup(book(), "2026-11-" + std::to_string(day)));
  QFile::remove(QString::fromStdString(book()));
  ASSERT_TRUE(QFile::copy(QString::fromStdString(sound), QString::fromStdString(book())));
  ASSERT_TRUE(daily_backup(book(), "2026-11-27"));
  QStringList kept = QDir(beside()).entryList({"bench-2026-11-[0-9][0-9].fortitor"}, QDir::Files, QDir::Name);
  EXPECT_EQ(kept.size(), 7);
  EXPECT_EQ(kept.first(), "bench-2026-11-11.fortitor");
  for (const QString& name : kept)
    EXPECT_TRUE((*Book::open_read_only((beside() + "/" + name).toStdString()))->verify().empty()) << name.toStdString();
  EXPECT_EQ(QDir(beside()).entryList({"*.unsound.fortitor"}).size(), 10);
}

TEST_F(Backup, AClockThatWasWrongTakesNoCopyWithIt) {
  for (int day = 20; day < 27; ++day) ASSERT_TRUE(daily_backup(book(), "2026-11-" + std::to_string(day)));
  ASSERT_TRUE(daily_backup(book(), "2027-03-01")) << "it leaps ahead";
  EXPECT_EQ(QDir(beside()).entryList(QDir::Files).size(), 8) << "and removes nothing";
  for (const char* right : {"2026-11-27", "2026-11-28"}) {
    const auto made = daily_backup(book(), right);
    ASSERT_TRUE(made) << made.error().message;
    EXPECT_TRUE(QFile::exists(QString::fromStdString(*made))) << "the copy of the day stays";
  }
  EXPECT_TRUE(QFile::exists(beside() + "/bench-2027-03-01.fortitor")) << "what is still to come is left alone";
  EXPECT_EQ(QDir(beside()).entryList({"bench-2026-*"}, QDir::Files).size(), 7);
}

TEST_F(Backup, SaysWhatStandsInTheWay) {
  EXPECT_FALSE(back_up(folder_.filePath("nothing.fortitor").toStdString(), "/tmp", "2026-11-25"));
  QFile file(folder_.filePath("taken"));
  ASSERT_TRUE(file.open(QIODevice::WriteOnly));
  file.close();
  const auto made = back_up(book(), folder_.filePath("taken/below").toStdString(), "2026-11-25");
  ASSERT_FALSE(made);
  EXPECT_NE(made.error().message.find("cannot be made"), std::string::npos);
}

TEST_F(Backup, ABookWhoseFileIsGoneSaysSoAndGoesOnElsewhere) {
  auto opened = Book::open(book(), "R. Vale");
  ASSERT_TRUE(opened);
  Book& b = **opened;
  EXPECT_TRUE(b.still_there());
  const auto run = b.begin_run(2, {"time", "force"}, "stand-in frame");
  ASSERT_TRUE(run);
  ASSERT_TRUE(b.append_run(*run, {{0, 1}, {10, 20}}));
  ASSERT_TRUE(QFile::remove(QString::fromStdString(book())));
  const auto gone = b.still_there();
  ASSERT_FALSE(gone);
  EXPECT_NE(gone.error().message.find("gone"), std::string::npos);
  const auto refused = b.append_run(*run, {{2}, {30}});
  ASSERT_FALSE(refused);
  EXPECT_NE(refused.error().message.find("elsewhere"), std::string::npos) << refused.error().message;

  const std::string other = folder_.filePath("other.fortitor").toStdString();
  ASSERT_TRUE(b.move_to(other));
  EXPECT_EQ(b.path(), other);
  EXPECT_TRUE(b.still_there());
  ASSERT_TRUE(b.append_run(*run, {{2}, {30}})) << "the run goes on where it was";
  ASSERT_TRUE(b.close_run(*run, ""));
  EXPECT_EQ((*b.samples(*run))->size(), 3u);
  EXPECT_TRUE(b.verify().empty());
  EXPECT_TRUE((*Book::open(other, "M. Orr"))->read_only()) << "it is held there as it was here";
}

TEST_F(Backup, AnotherFileInItsPlaceIsNoticed) {
  auto opened = Book::open(book(), "R. Vale");
  ASSERT_TRUE(opened);
  ASSERT_TRUE(QFile::rename(QString::fromStdString(book()), folder_.filePath("aside.fortitor")));
  QFile other(QString::fromStdString(book()));
  ASSERT_TRUE(other.open(QIODevice::WriteOnly));
  other.write("not the book");
  other.close();
  const auto there = (*opened)->still_there();
  ASSERT_FALSE(there);
  EXPECT_NE(there.error().message.find("another file"), std::string::npos);
  EXPECT_FALSE((*opened)->note("x", ""));
  EXPECT_FALSE((*opened)->copy_to(book())) << "never over what lies there";
  ASSERT_TRUE(other.open(QIODevice::ReadOnly));
  EXPECT_EQ(other.readAll(), "not the book");
}

// What cannot be written is said with its cause, never as "not a job book".
TEST_F(Backup, AReadOnlyFolderCanStillBeRead) {
  if (::geteuid() == 0) GTEST_SKIP() << "root may write anywhere";
  QFile::setPermissions(folder_.path(), QFile::ReadOwner | QFile::ExeOwner);
  auto reader = Book::open_read_only(book());
  EXPECT_TRUE(reader) << (reader ? "" : reader.error().message);
  QFile::setPermissions(folder_.path(), QFile::ReadOwner | QFile::WriteOwner | QFile::ExeOwner);
}

}  // namespace
}  // namespace fortitor::backup_test
