// fortitorctl and job books: check, backup, bundle, unbundle, with their exit codes.
#include <QDir>
#include <QProcess>

#include "tests/built.h"
#include "tests/store/filled_book.h"

namespace fortitor::book_commands_test {
namespace {

struct Said {
  int code;
  QString out, err;
};

Said ctl(const QStringList& arguments) {
  QProcess p;
  p.start(built("fortitorctl"), arguments);
  p.waitForFinished();
  return {p.exitCode(), QString::fromUtf8(p.readAllStandardOutput()), QString::fromUtf8(p.readAllStandardError())};
}

class CtlBook : public testing::Test {
 protected:
  void SetUp() override { fill_book(book().toStdString()); }
  QString book() const { return folder_.filePath("a.fortitor"); }
  QString path(const char* name) const { return folder_.filePath(name); }
  QTemporaryDir folder_;
};

TEST_F(CtlBook, CheckPrintsTheHeadAndHoldsTheBookAgainstIt) {
  const Said sound = ctl({"check", book()});
  ASSERT_EQ(sound.code, 0) << sound.out.toStdString() << sound.err.toStdString();
  const QString head = sound.out.simplified().section(' ', -1);
  ASSERT_EQ(head.size(), 64) << sound.out.toStdString();
  EXPECT_EQ(ctl({"check", book(), "--head", head}).code, 0);
  const Said other = ctl({"check", book(), "--head", QString(64, 'a')});
  EXPECT_EQ(other.code, 1);
  EXPECT_TRUE(other.out.contains("never had the head")) << other.out.toStdString();
}

TEST_F(CtlBook, CheckSaysWhatIsNotAsWritten) {
  outside(book().toStdString(), "UPDATE specimen SET verdict = 'fails' WHERE code = 'HB-02'");
  const Said harmed = ctl({"check", book()});
  EXPECT_EQ(harmed.code, 1);
  EXPECT_TRUE(harmed.out.contains("specimen/2: is not what its line in the logbook says")) << harmed.out.toStdString();
  EXPECT_EQ(ctl({"check", path("none.fortitor")}).code, 2);
}

TEST_F(CtlBook, CheckHoldsTheBookAgainstACertificate) {
  for (const char* name : {"c.pdf", "c.html"}) {
    const Said made = ctl({"report", book(), "--job", "TC-041", "--out", path(name)});
    ASSERT_EQ(made.code, 0) << made.err.toStdString();
    EXPECT_EQ(ctl({"check", book(), "--certificate", path(name)}).code, 0);
    EXPECT_EQ(ctl({"report", book(), "--job", "TC-041", "--out", path(name)}).code, 2) << "never over a file";
  }
  outside(book().toStdString(), "DELETE FROM signature");
  EXPECT_EQ(ctl({"check", book(), "--certificate", path("c.pdf")}).code, 1);
  EXPECT_EQ(ctl({"report", book(), "--job", "TC-041", "--out", "/no/such/folder/c.pdf"}).code, 2);
}

TEST_F(CtlBook, BackupSaysWhereItLies) {
  const Said made = ctl({"backup", book(), path("safe")});
  ASSERT_EQ(made.code, 0) << made.err.toStdString();
  const QString copy = made.out.trimmed();
  EXPECT_TRUE(QFile::exists(copy)) << copy.toStdString();
  EXPECT_EQ(ctl({"check", copy}).code, 0);
  EXPECT_EQ(ctl({"backup", path("none.fortitor"), path("safe")}).code, 2);
}

TEST_F(CtlBook, ABundleGoesFromBookToBook) {
  ASSERT_EQ(ctl({"bundle", book(), "--job", "TC-041", "--out", path("j.fortitor-bundle")}).code, 0);
  EXPECT_EQ(ctl({"bundle", book(), "--job", "TC-041", "--out", path("j.fortitor-bundle")}).code, 2);
  EXPECT_EQ(ctl({"bundle", book(), "--job", "TC-999", "--out", path("k.fortitor-bundle")}).code, 2);
  const Said taken = ctl({"unbundle", path("j.fortitor-bundle"), path("b.fortitor")});
  ASSERT_EQ(taken.code, 0) << taken.err.toStdString();
  EXPECT_TRUE(taken.out.contains("TC-041: 3 specimens")) << taken.out.toStdString();
  EXPECT_EQ(ctl({"check", path("b.fortitor")}).code, 0);
  const Said again = ctl({"unbundle", path("j.fortitor-bundle"), path("b.fortitor")});
  EXPECT_EQ(again.code, 2);
  EXPECT_TRUE(again.err.contains("already a job")) << again.err.toStdString();
  EXPECT_EQ(ctl({"unbundle", path("j.fortitor-bundle"), path("b.fortitor"), "--as", "TC-141"}).code, 0);
  EXPECT_EQ(ctl({"unbundle", book(), path("b.fortitor")}).code, 2) << "a book is no bundle";
}

TEST_F(CtlBook, AnExportLeftByAKillIsTakenOver) {
  QDir(folder_.path()).mkpath("all.part");
  EXPECT_EQ(ctl({"book", book(), "--export", path("all")}).code, 2) << "a folder of that name that is somebody's";
  QFile mark(path("all.part/.fortitor-export"));
  ASSERT_TRUE(mark.open(QIODevice::WriteOnly));
  mark.close();
  QFile left(path("all.part/half.json"));
  ASSERT_TRUE(left.open(QIODevice::WriteOnly));
  left.close();
  const Said done = ctl({"book", book(), "--export", path("all")});
  ASSERT_EQ(done.code, 0) << done.err.toStdString();
  EXPECT_FALSE(QFile::exists(path("all.part")));
  EXPECT_FALSE(QFile::exists(path("all/half.json")));
  EXPECT_FALSE(QFile::exists(path("all/.fortitor-export")));
}

// One piece that is not what was written stops nobody else; the code says that something was left out.
TEST_F(CtlBook, ABadPieceIsLeftOutAndNamed) {
  outside(book().toStdString(), "UPDATE record SET json = '{}' WHERE specimen_id = 2");
  for (const QStringList& command : {QStringList{"report", book(), "--job", "TC-041", "--out", path("c.html")},
                                     QStringList{"bundle", book(), "--job", "TC-041", "--out", path("j.zip")},
                                     QStringList{"book", book(), "--export", path("all")}}) {
    const Said done = ctl(command);
    EXPECT_EQ(done.code, 1) << command.join(' ').toStdString();
    EXPECT_TRUE(done.err.contains("HB-02")) << done.err.toStdString();
  }
  EXPECT_TRUE(QFile::exists(path("c.html")));
  EXPECT_EQ(QDir(path("all/TC-041/Tension, round bar")).entryList({"*.json"}).size(), 2);
}

// Every command says the same in every locale.
TEST_F(CtlBook, NoLocaleChangesAnAnswer) {
  const auto said = [&](const QString& locale) {
    QProcessEnvironment environment = QProcessEnvironment::systemEnvironment();
    environment.insert("LC_ALL", locale);
    QByteArray all;
    QDir(path("l")).removeRecursively();
    QDir(folder_.path()).mkpath("l");
    for (const QStringList& command : {QStringList{"check", book()},
                                       {"report", book(), "--job", "TC-041", "--out", path("l/c.html")},
                                       {"bundle", book(), "--job", "TC-041", "--out", path("l/j.zip")},
                                       {"unbundle", path("l/j.zip"), path("l/b.fortitor"), "--as", "X"},
                                       {"check", path("l/b.fortitor")},
                                       {"book", book(), "--export", path("l/all")},
                                       {"plan", book(), "--from", "2026-12-01"},
                                       {"simulate", "tension-metal", "--seed", "3", "--out", path("l/sim")},
                                       {"evaluate", path("l/sim/si-3.json"), "--json"},
                                       {"check", book(), "--certificate", path("l/c.html")},
                                       {"convert", "2 5/8 in", "mm"},
                                       {"hardness", "45", "HRC", "HV"}}) {
      QProcess p;
      p.setProcessEnvironment(environment);
      p.start(built("fortitorctl"), command);
      EXPECT_TRUE(p.waitForFinished(60000));
      EXPECT_EQ(p.exitCode(), 0) << locale.toStdString() << ": " << command.join(' ').toStdString() << ": "
                                 << p.readAllStandardError().toStdString();
      QByteArray out = p.readAllStandardOutput();
      if (command[0] == "check" && command.size() == 2 && command[1] != book()) out.clear();  // dated by the clock
      all += out;
    }
    QFile page(path("l/c.html"));
    EXPECT_TRUE(page.open(QIODevice::ReadOnly));
    return all + page.readAll();
  };
  const QByteArray usual = said("C.UTF-8");
  for (const char* locale : {"de_DE.UTF-8", "it_IT.UTF-8", "tr_TR.UTF-8"}) EXPECT_TRUE(said(locale) == usual) << locale;
}

TEST_F(CtlBook, ABookThatIsWrittenElsewhereIsNotWrittenTo) {
  ASSERT_EQ(ctl({"bundle", book(), "--job", "TC-041", "--out", path("j.fortitor-bundle")}).code, 0);
  auto writer = Book::open(path("b.fortitor").toStdString(), "R. Vale");
  ASSERT_TRUE(writer);
  const Said refused = ctl({"unbundle", path("j.fortitor-bundle"), path("b.fortitor")});
  EXPECT_EQ(refused.code, 2);
  EXPECT_TRUE(refused.err.contains("opened to read")) << refused.err.toStdString();
  EXPECT_TRUE((*writer)->jobs().empty());
}

}  // namespace
}  // namespace fortitor::book_commands_test
