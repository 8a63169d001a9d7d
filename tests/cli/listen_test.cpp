// Instruments over real sockets, terminals and files: what is sent is what is read, whatever the wire does to it.
#include <gtest/gtest.h>

#include <QDir>
#include <QFile>
#include <QProcess>
#include <QRegularExpression>
#include <QTemporaryDir>
#include <nlohmann/json.hpp>

#include "core/line/line.h"
#include "core/record/csv.h"
#include "core/standin/speaker.h"
#include "tests/built.h"

namespace fortitor::listen_test {
namespace {

class Listening : public testing::Test {
 protected:
  void TearDown() override {
    device_.kill();
    device_.waitForFinished();
  }
  // Starts a stand-in and says where it speaks.
  QString speaks(const QStringList& arguments) {
    device_.start(built("fortitor-standins"), arguments);
    EXPECT_TRUE(device_.waitForReadyRead(20000)) << device_.readAllStandardError().toStdString();
    const QString said = QString::fromUtf8(device_.readLine()).trimmed();
    return said.section(" speaks at ", 1);
  }
  struct Said {
    int code;
    QStringList out;
    QString err;
  };
  static Said listen(const QStringList& arguments, const QByteArray& input = {}) {
    QProcess p;
    p.start(built("fortitorctl"), QStringList{"listen"} + arguments);
    if (!input.isEmpty()) {
      p.write(input);
      p.closeWriteChannel();
    }
    p.waitForFinished(180000);
    return {p.exitCode(), QString::fromUtf8(p.readAllStandardOutput()).split('\n', Qt::SkipEmptyParts),
            QString::fromUtf8(p.readAllStandardError())};
  }
  QString path(const char* name) const { return folder_.filePath(name); }

  QTemporaryDir folder_;
  QProcess device_;
};

// Every device in both of its forms: the format is proposed, and what is read is what the device says it sends.
TEST_F(Listening, EveryDeviceInBothFormsIsUnderstood) {
  for (const standin::SpeakerKind& kind : standin::speakers())
    for (int form : {0, 1}) {
      QByteArray sent;
      auto made = standin::make_speaker({.name = kind.name, .form = form, .seed = 3});
      ASSERT_TRUE(made);
      std::vector<std::string> wanted;
      sent += QByteArray::fromStdString((*made)->head());
      for (size_t n = 0; wanted.size() < 40 && n < 4000; ++n)
        if (const std::string l = (*made)->line(n); !l.empty()) {
          wanted.push_back(l);
          sent += QByteArray::fromStdString(l);
        }
      const Said said = listen({"-", "--json"}, sent);
      ASSERT_EQ(said.code, 0) << kind.name << form << ": " << said.err.toStdString();
      const auto head = nlohmann::json::parse(said.out.front().toStdString());
      const auto f = line::format_from_json(head["format"].dump());
      ASSERT_TRUE(f) << f.error().message;
      size_t good = 0;
      for (const std::string& l : wanted) good += line::read(*f, l).state != line::State::bad;
      EXPECT_EQ(good, wanted.size()) << kind.name << form << ": " << head.dump();
      EXPECT_FALSE(said.err.contains("no reading")) << kind.name << form << ": " << said.err.toStdString();
      if (kind.name == "balance" || kind.name == "caliper") {
        const auto reading = nlohmann::json::parse(said.out.back().toStdString());
        EXPECT_EQ(reading["unit"], kind.name == "balance" ? "g" : "mm") << said.out.back().toStdString();
      }
    }
}

TEST_F(Listening, AFramesRunComesOverASocketAsItWasMeasured) {
  const QString where = speaks({"frame", "--port", "0", "--speed", "200", "--once", "--seed", "4"});
  ASSERT_TRUE(where.startsWith("tcp:127.0.0.1:"));
  const Said said = listen({where, "--record", path("run"), "--until-end", "--for", "120s"});
  ASSERT_EQ(said.code, 0) << said.err.toStdString();
  const auto table = read_csv(path("run/samples.csv").toStdString());
  ASSERT_TRUE(table) << table.error().message;
  const auto truth = (*standin::make_speaker({.name = "frame", .form = 0, .seed = 4}))->truth();
  ASSERT_EQ(table->rows(), truth->size()) << "no sample lost";
  ASSERT_EQ(table->columns.size(), truth->channels.size());
  const double step[] = {0.0005, 0.05, 0.000005, 0.00005};  // half of the last digit sent
  for (size_t c = 0; c < table->columns.size(); ++c)
    for (size_t i = 0; i < table->rows(); ++i)
      ASSERT_NEAR(table->columns[c][i], truth->channels[c].values[i], step[c] + 1e-9) << c << " " << i;
}

TEST_F(Listening, ATerminalIsReadLikeASocket) {
  const QString where = speaks({"balance", "--pty", "--speed", "50"});
  ASSERT_TRUE(where.startsWith("serial:/dev/pts/")) << where.toStdString();
  QProcess p;
  p.start(built("fortitorctl"), {"listen", where, "--json", "--for", "120s"});
  QStringList out;
  while (out.size() < 50) {
    ASSERT_TRUE(p.canReadLine() || p.waitForReadyRead(60000)) << p.readAllStandardError().toStdString();
    while (p.canReadLine()) out << QString::fromUtf8(p.readLine());
  }
  p.terminate();
  EXPECT_TRUE(p.waitForFinished(60000));
  EXPECT_EQ(p.exitCode(), 0) << p.readAllStandardError().toStdString();
  EXPECT_TRUE(out[5].contains("\"unit\":\"g\"")) << out[5].toStdString();
}

TEST_F(Listening, HalvesGarbageAndLostLinesNeverMakeANumber) {
  for (const char* fault : {"half-lines", "garbage", "counter-jump"}) {
    const QString where = speaks({"strain-box", "--port", "0", "--speed", "1000", "--once", "--fault", fault});
    QFile::remove(path("f.json"));
    const Said said = listen({where, "--record", path(fault), "--until-end", "--for", "120s"});
    EXPECT_EQ(said.code, 0) << fault << said.err.toStdString();
    const auto table = read_csv((path(fault) + "/samples.csv").toStdString());
    ASSERT_TRUE(table) << fault << ": " << table.error().message;
    const auto truth = (*standin::make_speaker({.name = "strain-box", .form = 0, .seed = 1}))->truth();
    ASSERT_GT(table->rows(), 1000u) << fault;
    // Every row that was kept is a row that was sent, by the device's own clock.
    for (size_t i = 0; i < table->rows(); ++i) {
      const size_t n = size_t(std::lround(table->columns[0][i] * 100));
      ASSERT_LT(n, truth->size());
      for (size_t c = 1; c < table->columns.size(); ++c)
        ASSERT_NEAR(table->columns[c][i], truth->channels[c].values[n], 0.051) << fault << " row " << i;
    }
    if (std::string(fault) != "counter-jump") {
      EXPECT_TRUE(said.err.contains("no reading of this format")) << said.err.toStdString();
    }
    TearDown();
  }
}

// A gauge switched over in the middle: its inches do not stand under a head of millimetres as they are.
TEST_F(Listening, AUnitThatChangesIsConvertedUnderTheHeadOrNotKept) {
  const Said said = listen({"-", "--record", path("units")}, "1.0 mm\n2.0 mm\n3.0 mm\n0.5 in\n4.0 N\n5.0 mm\n");
  EXPECT_EQ(said.code, 0) << said.err.toStdString();
  const auto table = read_csv(path("units/samples.csv").toStdString());
  ASSERT_TRUE(table) << table.error().message;
  const std::vector<double> wanted = {1, 2, 3, 12.7, 5};
  ASSERT_EQ(table->rows(), wanted.size());
  for (size_t i = 0; i < wanted.size(); ++i) EXPECT_NEAR(table->columns.back()[i], wanted[i], 1e-9) << i;
  EXPECT_TRUE(said.err.contains("not kept")) << said.err.toStdString();
}

TEST_F(Listening, AFileThatGrowsIsFollowedAndReadAnew) {
  QFile file(path("log.txt"));
  ASSERT_TRUE(file.open(QIODevice::WriteOnly));
  for (int i = 0; i < 5; ++i) file.write("12.0" + QByteArray::number(i) + " mm\n");
  file.flush();
  QProcess p;
  p.start(built("fortitorctl"), {"listen", "file:" + path("log.txt"), "--for", "120s"});
  QString out;
  const auto heard = [&](const QString& words) {
    do {
      out += QString::fromUtf8(p.readAllStandardOutput());
      if (out.contains(words)) return true;
    } while (p.waitForReadyRead(60000));
    return false;
  };
  EXPECT_TRUE(heard("12.04 mm")) << out.toStdString();
  file.write("13.55 mm\n14.");
  file.flush();
  EXPECT_TRUE(heard("13.55 mm")) << out.toStdString();
  EXPECT_FALSE(out.contains("14.")) << "half a line is no reading";
  file.write("66 mm\n");
  file.flush();
  EXPECT_TRUE(heard("14.66 mm"));
  p.terminate();
  EXPECT_TRUE(p.waitForFinished(60000));
}

TEST_F(Listening, WhatCannotBeIsOneSentence) {
  EXPECT_EQ(listen({"udp:1"}).code, 2);
  EXPECT_TRUE(listen({"udp:1"}).err.contains("no way in"));
  EXPECT_EQ(listen({"-"}, "hello\nworld\nagain\n").code, 2);
  EXPECT_EQ(listen({"-", "--for", "soon"}, "1 mm\n").code, 2);
  EXPECT_EQ(listen({"file:" + path("nowhere"), "--for", "1s"}).code, 2);
  QFile f(path("bad.json"));
  ASSERT_TRUE(f.open(QIODevice::WriteOnly));
  f.write("{\"fortitor\": \"line/1\", \"fields\": [{\"channel\": \"1\", \"colour\": 1}]}");
  f.close();
  const Said said = listen({"-", "--format", path("bad.json")}, "1 mm\n");
  EXPECT_EQ(said.code, 2);
  EXPECT_TRUE(said.err.contains("fields[0].colour: unknown")) << said.err.toStdString();
  QProcess p;
  p.start(built("fortitor-standins"), {"teapot", "--port", "0"});
  p.waitForFinished();
  EXPECT_EQ(p.exitCode(), 2);
}

}  // namespace
}  // namespace fortitor::listen_test
