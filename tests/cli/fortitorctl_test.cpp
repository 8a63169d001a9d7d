#include <gtest/gtest.h>

#include <QDir>
#include <QFile>
#include <QProcess>
#include <QRegularExpression>
#include <QTemporaryDir>
#include <nlohmann/json.hpp>

#include "core/methods/method.h"
#include "core/spectrum/spectrum.h"
#include "core/standin/tension_bench.h"
#include "store/book.h"
#include "tests/built.h"

namespace fortitor::fortitorctl_test {
namespace {

struct Answer3 {
  int code;
  QString out, err;
};

Answer3 ctl(const QStringList& arguments) {
  QProcess p;
  p.start(built("fortitorctl"), arguments);
  p.waitForFinished();
  return {p.exitCode(), QString::fromUtf8(p.readAllStandardOutput()), QString::fromUtf8(p.readAllStandardError())};
}

TEST(Ctl, EvaluatesAndPrintsTheDocument) {
  const QString record = FORTITOR_TEST_DATA "/tension-luders/record.json";
  const Answer3 table = ctl({"evaluate", record});
  EXPECT_EQ(table.code, 0);
  EXPECT_TRUE(table.out.contains("upper yield strength"));
  const Answer3 json = ctl({"evaluate", record, "--json"});
  ASSERT_EQ(json.code, 0);
  const auto j = nlohmann::json::parse(json.out.toStdString());
  EXPECT_EQ(j["fortitor"], "evaluation/1");
  EXPECT_EQ(j["specimen"], "L-1");
  EXPECT_EQ(j["verdict"], "meets");
}

TEST(Ctl, EvaluatesSeveralFilesAtOnce) {
  const QString luders = FORTITOR_TEST_DATA "/tension-luders/record.json",
                continuous = FORTITOR_TEST_DATA "/tension-continuous/record.json";
  const Answer3 json = ctl({"evaluate", luders, continuous, "--json"});
  ASSERT_EQ(json.code, 0) << json.err.toStdString();
  const auto j = nlohmann::json::parse(json.out.toStdString());
  ASSERT_EQ(j.size(), 2u);
  EXPECT_EQ(j[0]["specimen"], "L-1");
  EXPECT_EQ(j[0], nlohmann::json::parse(ctl({"evaluate", luders, "--json"}).out.toStdString()));
  const Answer3 table = ctl({"evaluate", luders, continuous});
  EXPECT_EQ(table.out.count("Tension of metals"), 2);
  const Answer3 bad = ctl({"evaluate", luders, "/no/such.json"});
  EXPECT_EQ(bad.code, 2);
  EXPECT_TRUE(bad.out.isEmpty()) << "a batch with a bad file prints nothing";
  EXPECT_TRUE(bad.err.contains("/no/such.json"));
}

TEST(Ctl, SeriesGivesTheStatisticsAndTheFormat) {
  QTemporaryDir dir;
  QStringList files;
  for (int seed = 1; seed <= 4; ++seed) {
    ASSERT_EQ(ctl({"simulate", "crush-shell", "--seed", QString::number(seed), "--out", dir.path()}).code, 0);
    files << dir.path() + "/si-" + QString::number(seed) + ".json";
  }
  const Answer3 r = ctl(QStringList{"series"} + files + QStringList{"--key", "peak_force", "--json"});
  ASSERT_EQ(r.code, 0) << r.err.toStdString();
  const auto j = nlohmann::json::parse(r.out.toStdString());
  EXPECT_EQ(j["fortitor"], "series/1");
  EXPECT_EQ(j["n"], 4);
  double sum = 0;
  for (const auto& p : j["pieces"]) sum += p["value"].get<double>();
  EXPECT_NEAR(j["mean"].get<double>(), sum / 4, 1e-9 * sum);
  EXPECT_EQ(ctl(QStringList{"series"} + files + QStringList{"--key", "nothing"}).code, 2);
}

TEST(Ctl, DensityIsSimulatedAndEvaluatedLikeAnyMethod) {
  QTemporaryDir dir;
  ASSERT_EQ(ctl({"simulate", "density", "--seed", "3", "--material", "polyamide", "--out", dir.path()}).code, 0);
  const Answer3 r = ctl({"evaluate", dir.path() + "/si-3.json"});
  EXPECT_EQ(r.code, 0);
  EXPECT_TRUE(r.out.contains("kg/m³"));
}

TEST(Ctl, BadInputIsOneLineAndCodeTwo) {
  QTemporaryDir dir;
  QFile f(dir.path() + "/r.json");
  ASSERT_TRUE(f.open(QIODevice::WriteOnly));
  f.write(R"({"fortitor": "record/1", "method": "tension-metal", "specimen": {"sectoin": {}}})");
  f.close();
  for (const QStringList& a :
       {QStringList{"evaluate", f.fileName()}, QStringList{"evaluate", "/no/such.json"},
        QStringList{"convert", "10 kN", "mm"}, QStringList{"convert", "1,450 N", "kN"},
        QStringList{"convert", "1450", "kN"}, QStringList{"convert", "5 mm", "parsec"},
        QStringList{"simulate", "alchemy", "--seed", "1", "--out", dir.path()}, QStringList{"check", f.fileName()},
        QStringList{"report", f.fileName(), "--job", "X", "--out", "x.doc"}, QStringList{"frobnicate"},
        QStringList{}}) {
    const Answer3 r = ctl(a);
    EXPECT_EQ(r.code, 2) << a.join(' ').toStdString();
    EXPECT_EQ(r.err.count('\n'), 1) << r.err.toStdString();
    EXPECT_TRUE(r.out.isEmpty());
  }
  EXPECT_TRUE(ctl({"evaluate", f.fileName()}).err.contains("r.json: specimen.sectoin: unknown"));
}

TEST(Ctl, Converts) {
  EXPECT_EQ(ctl({"convert", "2 5/8 in", "mm"}).out, "66.675 mm\n");
  EXPECT_EQ(ctl({"convert", "2-5/8\"", "mm"}).out, "66.675 mm\n");
  EXPECT_EQ(ctl({"convert", "1,450 lbf", "N"}).out, "6449.921342 N\n");
  EXPECT_EQ(ctl({"convert", "3 t", "kN"}).out, "29.41995 kN\n");
  EXPECT_EQ(ctl({"convert", "3 t", "kg"}).out, "3000 kg\n");
  EXPECT_EQ(ctl({"convert", "100 in·lbf", "N·m"}).out, "11.2984829 N·m\n");
}

TEST(Ctl, SimulatesSeededAndOverwritesNothing) {
  QTemporaryDir dir;
  const QStringList a = {"simulate", "tension-metal", "--seed", "7", "--out", dir.path() + "/one"};
  ASSERT_EQ(ctl(a).code, 0);
  EXPECT_EQ(ctl(a).code, 2);
  ASSERT_EQ(ctl({"simulate", "tension-metal", "--seed", "7", "--out", dir.path() + "/two"}).code, 0);
  QFile one(dir.path() + "/one/si-7.csv"), two(dir.path() + "/two/si-7.csv");
  ASSERT_TRUE(one.open(QIODevice::ReadOnly) && two.open(QIODevice::ReadOnly));
  EXPECT_EQ(one.readAll(), two.readAll());
  EXPECT_EQ(ctl({"evaluate", dir.path() + "/one/si-7.json"}).code, 0);
}

TEST(Ctl, ChecksAndReportsABook) {
  QTemporaryDir dir;
  const QString path = dir.path() + "/b.fortitor";
  {
    auto b = Book::open(path.toStdString(), "R. Vale");
    ASSERT_TRUE(b);
    const auto job = (*b)->add_job("TC-031", "Hanger bolts");
    const auto series = (*b)->add_series(*job, "Tension", "tension-metal");
    const TestRecord r = standin::simulate_tension({.seed = 4});
    const auto id = (*b)->add_specimen(*series, "HB-01", r);
    ASSERT_TRUE((*b)->store_run(*id, *r.run.samples(), "x"));
    ASSERT_TRUE((*b)->save_record(*id, 0, r, {}, "run"));
  }
  EXPECT_EQ(ctl({"check", path}).code, 0);
  ASSERT_EQ(ctl({"report", path, "--job", "TC-031", "--out", dir.path() + "/c.pdf"}).code, 0);
  ASSERT_EQ(ctl({"report", path, "--job", "TC-031", "--out", dir.path() + "/c.html"}).code, 0);
  EXPECT_GT(QFile(dir.path() + "/c.pdf").size(), 5000);
  EXPECT_EQ(ctl({"report", path, "--job", "TC-031", "--out", dir.path() + "/c.html"}).code, 2);
  EXPECT_TRUE(ctl({"report", path, "--job", "NONE", "--out", dir.path() + "/d.pdf"}).err.contains("no job NONE"));
  // The day plan, as table, document and calendar.
  const Answer3 plan = ctl({"plan", path, "--from", "2026-11-26", "--json", "--ics", dir.path() + "/plan.ics"});
  ASSERT_EQ(plan.code, 0) << plan.err.toStdString();
  const auto day = nlohmann::json::parse(plan.out.toStdString());
  EXPECT_EQ(day["fortitor"], "plan/1");
  EXPECT_EQ(day["from"], "2026-11-26");
  ASSERT_FALSE(day["bars"].empty());
  EXPECT_EQ(day["bars"][0]["specimen"], "HB-01");
  EXPECT_TRUE(QFile::exists(dir.path() + "/plan.ics"));
  EXPECT_EQ(ctl({"plan", path, "--ics", dir.path() + "/plan.ics"}).code, 2) << "nothing is written over";
  EXPECT_EQ(ctl({"plan", path, "--from", "someday"}).code, 2);
  EXPECT_EQ(ctl({"plan", dir.path() + "/none.fortitor"}).code, 2);
  EXPECT_TRUE(ctl({"plan", path}).out.contains("HB-01: "));
  // What it holds, and all of it as files that evaluate to the same.
  EXPECT_EQ(ctl({"book", path, "--count"}).out, "1\n");
  EXPECT_EQ(ctl({"book", path, "--list"}).out, "TC-031\tTension\tHB-01\ttension-metal\tnone\n");
  ASSERT_EQ(ctl({"book", path, "--export", dir.path() + "/all"}).code, 0);
  const QDir tension(dir.path() + "/all/TC-031/Tension");
  ASSERT_EQ(tension.entryList({"*.json"}).size(), 1);
  const Answer3 evaluated = ctl({"evaluate", tension.filePath(tension.entryList({"*.json"}).first())});
  EXPECT_EQ(evaluated.code, 0) << evaluated.err.toStdString();
  EXPECT_TRUE(evaluated.out.contains("R_m")) << evaluated.out.toStdString();
  EXPECT_EQ(ctl({"book", path, "--export", dir.path() + "/all"}).code, 2) << "nothing is written over";
  EXPECT_EQ(ctl({"book", path, "--export", "/proc/none"}).code, 2);
  EXPECT_EQ(ctl({"book", path}).code, 2);
  EXPECT_EQ(ctl({"book", path, "--count", "--list"}).code, 2);
  EXPECT_FALSE(QFile::exists(dir.path() + "/all.part"));
  QFile f(path);
  ASSERT_TRUE(f.open(QIODevice::ReadWrite));
  f.seek(f.size() - 3000);
  f.write(QByteArray(2000, '\x11'));
  f.close();
  EXPECT_NE(ctl({"check", path}).code, 0);
}

TEST(Ctl, ImportSaysWhatItMakesOfAFile) {
  const Answer3 latin = ctl({"import", FORTITOR_TEST_DATA "/import/micro-latin1.csv", "--json"});
  ASSERT_EQ(latin.code, 0) << latin.err.toStdString();
  const auto j = nlohmann::json::parse(latin.out.toStdString());
  EXPECT_EQ(j["fortitor"], "import/1");
  EXPECT_EQ(j["encoding"], "latin-1");
  EXPECT_EQ(j["separator"], ";");
  EXPECT_EQ(j["decimal"], ",");
  ASSERT_EQ(j["blocks"].size(), 1u);
  EXPECT_EQ(j["blocks"][0]["rows"], 600);
  EXPECT_EQ(j["blocks"][0]["columns"][1]["column"], "Kraft");
  EXPECT_EQ(j["blocks"][0]["columns"][1]["channel"], "force");
  EXPECT_EQ(j["blocks"][0]["columns"][1]["sure"], true);
  EXPECT_NEAR(j["blocks"][0]["channels"]["strain"]["max"].get<double>(), 0.12, 1e-4 * 0.12);
  const Answer3 two = ctl({"import", FORTITOR_TEST_DATA "/import/two-blocks.csv", "--method", "tension-metal"});
  EXPECT_EQ(two.code, 0);
  EXPECT_TRUE(two.out.contains("Specimen 2: 450 rows")) << two.out.toStdString();
  for (const QStringList& bad : {QStringList{"import", "/no/such/file"}, QStringList{"import", built("fortitorctl")},
                                 QStringList{"import", FORTITOR_TEST_DATA "/import/two-blocks.csv", "--method", "x"}}) {
    const Answer3 refused = ctl(bad);
    EXPECT_EQ(refused.code, 2) << bad.join(' ').toStdString();
    EXPECT_EQ(refused.err.count('\n'), 1) << refused.err.toStdString();
    EXPECT_TRUE(refused.out.isEmpty());
  }
}

TEST(Ctl, TheCompletionKnowsEveryCommand) {
  QFile file(FORTITOR_SOURCE_DIR "/data/completion/fortitorctl.bash");
  ASSERT_TRUE(file.open(QIODevice::ReadOnly));
  const QString completion = QString::fromUtf8(file.readAll());
  int commands = 0;
  bool listed = false;
  for (const QString& line : ctl({"--help"}).out.split('\n')) {
    if (listed && line.startsWith("  ")) {
      ++commands;
      EXPECT_TRUE(completion.contains(line.simplified().section(' ', 0, 0))) << line.toStdString();
    }
    listed = listed || line.startsWith("Subcommands");
  }
  EXPECT_GE(commands, 10);
  for (const fortitor::Method* m : fortitor::methods::all())
    EXPECT_TRUE(completion.contains(QRegularExpression("[ \"]" + QString::fromStdString(m->id) + " "))) << m->id;
  EXPECT_TRUE(completion.contains(" " + QString::fromStdString(fortitor::spectrum::kMethod) + " "));
}

TEST(Ctl, HelpAndVersion) {
  EXPECT_EQ(ctl({"--help"}).code, 0);
  EXPECT_TRUE(ctl({"--version"}).out.startsWith("fortitorctl "));
  for (const char* c : {"evaluate", "simulate", "convert", "report", "check"}) EXPECT_EQ(ctl({c, "--help"}).code, 0);
}

}  // namespace
}  // namespace fortitor::fortitorctl_test
