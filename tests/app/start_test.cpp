// The program as it is started: where there is no display, no home, and after it was struck down.
#include <gtest/gtest.h>

#include <csignal>

#include <QDir>
#include <QFile>
#include <QProcess>
#include <QTemporaryDir>
#include <QTest>

#include "tests/built.h"

namespace fortitor {
namespace {

class Start : public testing::Test {
 protected:
  QProcessEnvironment environment() const {
    QProcessEnvironment e = QProcessEnvironment::systemEnvironment();
    e.insert("QT_QPA_PLATFORM", "offscreen");
    e.insert("HOME", home_.path());
    for (const char* name : {"XDG_CONFIG_HOME", "XDG_DATA_HOME", "XDG_STATE_HOME"}) e.remove(name);
    return e;
  }
  struct Ended {
    int code = 0;
    QString out, err;
  };
  static Ended run(const QStringList& arguments, const QProcessEnvironment& e) {
    QProcess p;
    p.setProcessEnvironment(e);
    p.start(built("fortitor"), arguments);
    EXPECT_TRUE(p.waitForFinished(60000));
    return {p.exitStatus() == QProcess::NormalExit ? p.exitCode() : -1, p.readAllStandardOutput(),
            p.readAllStandardError()};
  }
  QString book() const { return home_.filePath("b.fortitor"); }
  QString log() const {
    QFile file(home_.filePath(".config/fortitor/fortitor.log"));
    return file.open(QIODevice::ReadOnly) ? QString::fromUtf8(file.readAll()) : QString();
  }
  QTemporaryDir home_;
};

TEST_F(Start, WithoutADisplayItSaysSoInOneSentence) {
  for (const char* display : {"", ":7777"}) {
    QProcessEnvironment e = environment();
    for (const char* name : {"QT_QPA_PLATFORM", "DISPLAY", "WAYLAND_DISPLAY"}) e.remove(name);
    if (*display != 0) e.insert("DISPLAY", display);
    const Ended refused = run({book()}, e);
    EXPECT_EQ(refused.code, 2);
    EXPECT_EQ(refused.err.count('\n'), 1) << refused.err.toStdString();
    EXPECT_TRUE(refused.err.startsWith("fortitor: There is no display")) << refused.err.toStdString();
    EXPECT_FALSE(QFile::exists(book()));
    // What wants no window wants no display.
    EXPECT_EQ(run({"--version"}, e).code, 0);
    EXPECT_TRUE(run({"--help"}, e).out.contains("BOOK"));
  }
}

TEST_F(Start, WithoutAHomeOneSentenceAndABookElsewhereOpens) {
  QProcessEnvironment e = environment();
  e.insert("HOME", "/proc/nowhere");
  const Ended refused = run({}, e);
  EXPECT_EQ(refused.code, 2);
  EXPECT_EQ(refused.err.count('\n'), 1) << refused.err.toStdString();
  const Ended opened = run({book(), "--until-shown"}, e);
  EXPECT_EQ(opened.code, 0) << opened.err.toStdString();
}

TEST_F(Start, WhatStruckItDownIsKeptAndTheBookChecked) {
  {
    QProcess p;
    p.setProcessEnvironment(environment());
    p.start(built("fortitor"), {book()});
    ASSERT_TRUE(p.waitForStarted());
    ASSERT_TRUE(QTest::qWaitFor([&] { return log().contains("started") && QFile::exists(book()); }, 30000));
    ::kill(pid_t(p.processId()), SIGSEGV);
    ASSERT_TRUE(p.waitForFinished());
    EXPECT_EQ(p.exitStatus(), QProcess::CrashExit);
  }
  QFile trace(home_.filePath(".config/fortitor/crash.txt"));
  ASSERT_TRUE(trace.open(QIODevice::ReadOnly));
  const QByteArray words = trace.readAll();
  EXPECT_TRUE(words.contains("ended by signal 11")) << words.toStdString();
  EXPECT_GT(words.count('\n'), 4);
  trace.close();
  QProcess again;
  again.setProcessEnvironment(environment());
  again.start(built("fortitor"), {book()});
  ASSERT_TRUE(again.waitForStarted());
  EXPECT_TRUE(QTest::qWaitFor([&] { return log().contains("The book is sound."); }, 30000)) << log().toStdString();
  EXPECT_EQ(QDir(home_.filePath(".config/fortitor")).entryList({"crash-*.txt"}).size(), 1);
  again.terminate();
  again.waitForFinished();
  // Said once.
  EXPECT_EQ(run({book(), "--until-shown"}, environment()).code, 0);
  EXPECT_EQ(log().count("ended badly the last time ("), 1);
}

}  // namespace
}  // namespace fortitor
