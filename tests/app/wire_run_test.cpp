// Machines that speak: stops read in one act, and runs that nothing but the wire drives.
#include <QProcess>

#include "app/stages/run_stage.h"
#include "core/standin/tension_bench.h"
#include "tests/app/wire_desk_fixture.h"
#include "tests/built.h"

namespace fortitor::wire_run_test {
namespace {

// A strip with two gauges, whose frame and strain box speak: every stop is read in one act.
class WiredStops : public WireDesk {
 protected:
  void SetUp() override {
    WireDesk::SetUp();
    TestRecord r;
    r.method = "poisson-gauge";
    for (const auto& [path, text] : {std::pair("settings.step", "1 kN"),
                                     {"settings.last_stop", "3 kN"},
                                     {"equipment.load_cell.capacity", "20 kN"}})
      r.fields.set(path, reading_of(parse_quantity(text, Dimension::force).value()));
    for (const CheckItem& c : methods::find(r.method)->guide(Stage::set_up).checklist)
      r.fields.set("settings.checks." + c.id, true);
    Book& book = *bench_.book();
    const auto series = book.add_series(book.jobs().front().id, "Gauges", "poisson-gauge");
    piece_ = *book.add_specimen(*series, "PG-1", r);
    frame_item_ = item("frame", "FR-1", frame_.where());
    box_item_ = item("indicator", "SB-1", box_.where());
    ASSERT_TRUE(until([&] { return live(frame_item_).open && live(box_item_).open; }));
  }
  // Both speak twenty times a second until something holds.
  bool speak(double kn, double along, double across, const std::function<bool()>& holds) {
    for (int i = 0; i < 400; ++i) {
      frame_.say("force=" + QByteArray::number(kn, 'f', 3) + " kN\r\n");
      box_.say("longitudinal=" + QByteArray::number(along, 'f', 0) +
               " µε; lateral=" + QByteArray::number(across, 'f', 0) + " µε\r\n");
      QTest::qWait(50);
      if (holds()) return true;
    }
    return false;
  }
  const Rows& rows() { return bench_.record().run.rows(bench_.method().keyed_table()->id); }
  SocketInstrument frame_, box_;
  Id frame_item_ = 0, box_item_ = 0;
};

TEST_F(WiredStops, AStopThatStandsIsReadInOneAct) {
  ASSERT_TRUE(speak(0.2, 100, -30, [&] { return live(frame_item_).good > 5 && live(box_item_).good > 5; }));
  window_->show_specimen(piece_, int(Stage::run));
  settle();
  ASSERT_TRUE(speak(0.2, 100, -30, [&] { return says("beyond the stop"); }));
  // The first one, at no force, waits for a hand; what moves is not taken.
  ASSERT_TRUE(speak(0.002, 2, -1, [&] { return says("Everything stands"); }));
  EXPECT_TRUE(rows().empty());
  QTest::keyClick(window_->part<RunStage>()->call_out()->entry(), Qt::Key_F8);
  ASSERT_TRUE(until([&] { return rows().size() == 1; })) << window_->message().toStdString();
  EXPECT_EQ(rows()[0].cells.readings("force").front().typed, "0.002 kN");
  EXPECT_EQ(rows()[0].cells.readings("strain_long").front().typed, "2 µε");
  EXPECT_TRUE(rows()[0].cells.readings("strain_lat").front().source.starts_with("SB-1, ")) << "each says from whom";
  EXPECT_TRUE(rows()[0].cells.readings("force").front().source.starts_with("FR-1, "));
  const auto lines = bench_.book()->logbook(1);
  EXPECT_NE(lines[0].what.find("heard from FR-1, SB-1"), std::string::npos) << lines[0].what;
  // The second is taken by itself, once the gauges stand too.
  int n = 0;
  ASSERT_TRUE(speak(1.001, 500, -150, [&] { return rows().size() == 2 || ++n > 300; }));
  ASSERT_EQ(rows().size(), 2u);
  EXPECT_EQ(rows()[1].number("strain_long"), 500e-6);
  // With A it waits.
  QTest::keyClick(window_->part<RunStage>()->call_out()->entry(), Qt::Key_A);
  ASSERT_TRUE(speak(2.0, 1000, -300, [&] { return says("F8 takes it"); }));
  n = 0;
  ASSERT_TRUE(speak(2.0, 1000, -300, [&] { return says("Everything stands") && ++n > 20; }));
  EXPECT_EQ(rows().size(), 2u);
  EXPECT_TRUE(bench_.book()->verify().empty());
}

// A bar on a frame that is only heard: nobody presses anything between Listen and the break.
class WireRun : public WireDesk {
 protected:
  void SetUp() override {
    WireDesk::SetUp();
    frame_ = std::make_unique<SocketInstrument>();
    port_ = int(frame_->serverPort());
    frame_item_ = item("frame", "FR-1", frame_->where());
    TestRecord r = standin::simulate_tension({.seed = 6});
    run_ = r.run.samples();
    r.run = fortitor::Run{};
    r.events.clear();
    for (const CheckItem& c : methods::find(r.method)->guide(Stage::set_up).checklist)
      r.fields.set("settings.checks." + c.id, true);
    r.fields.set("specimen.id", std::string("W-1"));
    r.fields.erase("equipment.standin.piece");
    const Book& book = *bench_.book();
    const auto items = book.kit();
    kit::fill(r, *methods::find(r.method), items->front());
    const auto series = bench_.book()->series(book.jobs().front().id);
    piece_ = *bench_.book()->add_specimen(series.front().id, "W-1", r);
    ASSERT_TRUE(until([&] { return live(frame_item_).open; }));
  }
  // Line `n` of the frame: at rest for a hundred, then the run sample by sample.
  void line_of(int n) {
    const size_t k = n < 100 ? 0 : size_t(n - 100) * kStep;
    const auto& force = run_->find("force")->values;
    const auto& crosshead = run_->find("crosshead")->values;
    const auto& time = run_->find("time")->values;
    const double t = n < 100 ? n * 0.01 : 1 + time[std::min(k, time.size() - 1)];
    frame_->say(QByteArray("t=") + QByteArray::number(t, 'f', 3) + " s; n=" + QByteArray::number(n) + "; force=" +
                QByteArray::number(k < force.size() && n >= 100 ? force[k] / 1000 : 0.002 * (n % 3), 'f', 4) +
                " kN; crosshead=" + QByteArray::number(k < crosshead.size() ? crosshead[k] : crosshead.back(), 'f', 4) +
                " mm\r\n");
  }
  int lines() const { return 100 + int(run_->size() / kStep); }
  RunStage& stage() { return *window_->part<RunStage>(); }
  static constexpr size_t kStep = 2;  // every other sample: quick enough for a test

  std::unique_ptr<SocketInstrument> frame_;
  int port_ = 0;
  Id frame_item_ = 0;
  SamplesPtr run_;
};

TEST_F(WireRun, ARealMachineIsHeardFromListenToTheBreak) {
  for (int n = 0; n < 30; ++n) line_of(n);
  ASSERT_TRUE(until([&] { return live(frame_item_).format.has_value(); }));
  window_->show_specimen(piece_, int(Stage::run));
  settle();
  ASSERT_TRUE(until([&] { return stage().machine().listened; })) << "the frame of the piece speaks";
  int n = 30;
  ASSERT_TRUE(until([&] {
    line_of(n++);
    return !stage().machine().now.empty();
  }));
  // Nothing that drives is offered.
  for (const auto* b : window_->findChildren<QPushButton*>())
    EXPECT_FALSE(b->property("key").toString() == "run-stop" && b->isVisible());
  EXPECT_TRUE(says("The program listens"));
  click("run-main");
  ASSERT_TRUE(until([&] { return stage().running(); })) << window_->message().toStdString();
  n = std::max(n, 90);
  const int pulled = lines() / 3;
  for (; n < pulled; ++n) line_of(n);
  ASSERT_TRUE(until([&] { return stage().machine().reading("force") > 100; }));
  // The plug is pulled for a while; the device goes on by itself.
  frame_->pull();
  frame_.reset();
  ASSERT_TRUE(until([&] { return stage().machine().state == MachineState::holding; }));
  EXPECT_TRUE(says("Everything that came is kept"));
  EXPECT_TRUE(until([&] { return bench_.evaluation() && !bench_.evaluation()->figures.empty(); }))
      << "the curve so far";
  const auto runs = bench_.book()->runs(piece_);
  ASSERT_EQ(runs.size(), 1u);
  EXPECT_GT(runs[0].rows, 10) << "what came is in the book while the wire is away";
  EXPECT_EQ(runs[0].source, "wire, FR-1");
  frame_ = std::make_unique<SocketInstrument>(port_);
  ASSERT_TRUE(until([&] { return live(frame_item_).open; }));
  n += 25;  // lost meanwhile
  for (; n < lines(); ++n) line_of(n);
  for (int i = 0; i < 400 && stage().running(); ++i) {  // the broken piece hangs there
    frame_->say("t=" + QByteArray::number(1 + run_->find("time")->values.back() + 0.01 * (i + 1), 'f', 3) +
                " s; n=" + QByteArray::number(n + i) + "; force=0.0010 kN; crosshead=" +
                QByteArray::number(run_->find("crosshead")->values.back(), 'f', 4) + " mm\r\n");
    QTest::qWait(1);
  }
  ASSERT_TRUE(until([&] { return !stage().running(); }));
  settle();
  EXPECT_TRUE(record().has_run());
  const auto& force = run_->find("force")->values;
  const double most = *std::max_element(force.begin(), force.end());
  EXPECT_NEAR(result("fm"), most, 0.01 * most);
  size_t gaps = 0;
  for (const Event& e : record().events) gaps += e.kind == "gap" ? 1 : 0;
  EXPECT_EQ(gaps, 1u);
  EXPECT_TRUE(record().fields.text("equipment.standin.piece").empty()) << "no stand-in had a part in it";
  EXPECT_TRUE(bench_.book()->verify().empty());
}

TEST_F(WireRun, AHandEndsItAndKeysDriveNothing) {
  for (int n = 0; n < 60; ++n) line_of(n);
  window_->show_specimen(piece_, int(Stage::run));
  settle();
  int n = 60;
  ASSERT_TRUE(until([&] {
    line_of(n++);
    return stage().machine().listened && !stage().machine().now.empty();
  }));
  stage().setFocus();
  QTest::keyClick(&stage(), Qt::Key_Escape);
  ASSERT_TRUE(until([&] { return window_->message().contains("only listens"); }));
  QTest::keyClick(&stage(), Qt::Key_Space);
  ASSERT_TRUE(until([&] { return stage().running(); }));
  for (n = std::max(n, 95); n < 400; ++n) line_of(n);
  ASSERT_TRUE(until([&] { return stage().machine().reading("force") > 1000; }));
  QTest::keyClick(&stage(), Qt::Key_Space);
  ASSERT_TRUE(until([&] { return !stage().running(); }));
  EXPECT_TRUE(record().has_run());
  EXPECT_EQ(record().run.stopped, "ended by hand");
}

// The frame of the demo's Kit, played by the program that speaks as it: from its rest through the pull to the break, by
// the format that the demo keeps with it.
TEST_F(WireDesk, TheDemosFrameIsHeardFromItsStandIn) {
  QFile file(FORTITOR_SOURCE_DIR "/data/demo/tarnfell.json");
  ASSERT_TRUE(file.open(QIODevice::ReadOnly));
  std::string kept;
  for (const auto& one : QJsonDocument::fromJson(file.readAll())["kit"].toArray())
    if (one.toObject()["id"] == "FR-5025") {
      EXPECT_EQ(one.toObject()["wire"].toString(), "tcp:127.0.0.1:5025");
      kept = QJsonDocument(one.toObject()["line"].toObject()).toJson(QJsonDocument::Compact).toStdString();
    }
  ASSERT_TRUE(line::format_from_json(kept));
  QProcess frame;
  frame.start(built("fortitor-standins"), {"frame", "--port", "0", "--rest", "40", "--speed", "10", "--seed", "6"});
  ASSERT_TRUE(frame.waitForReadyRead(20000));
  const QString where = QString::fromUtf8(frame.readLine()).trimmed().section(" speaks at ", 1);
  kit::Item i;
  i.kind = "frame";
  i.fields.set(i.path("id"), std::string("FR-5025"));
  i.fields.set("settings.wire", where.toStdString());
  i.fields.set("settings.line", kept);
  const auto id = bench_.book()->save_item(i, "entered");
  ASSERT_TRUE(id);
  window_->wires().reload();
  TestRecord r = standin::simulate_tension({.seed = 6});
  const auto& truth = r.run.samples()->find("force")->values;
  const double most = *std::max_element(truth.begin(), truth.end());
  r.run = fortitor::Run{};
  r.events.clear();
  for (const CheckItem& c : methods::find(r.method)->guide(Stage::set_up).checklist)
    r.fields.set("settings.checks." + c.id, true);
  r.fields.set("specimen.id", std::string("D-1"));
  r.fields.erase("equipment.standin.piece");
  kit::fill(r, *methods::find(r.method), bench_.book()->kit()->front());
  const auto series = bench_.book()->series(bench_.book()->jobs().front().id);
  const Id piece = *bench_.book()->add_specimen(series.front().id, "D-1", r);
  window_->show_specimen(piece, int(Stage::run));
  settle();
  RunStage& stage = *window_->part<RunStage>();
  ASSERT_TRUE(until([&] { return stage.machine().listened && !stage.machine().now.empty(); }));
  click("run-main");
  ASSERT_TRUE(until([&] { return stage.running(); })) << window_->message().toStdString();
  ASSERT_TRUE(until([&] { return !stage.running(); }, 120000)) << "the break ends it";
  settle();
  EXPECT_NEAR(result("fm"), most, 1) << record().run.stopped << " / " << window_->message().toStdString() << " / "
                                     << record().run.samples()->size() << " to "
                                     << record().run.samples()->find("time")->values.back();
  EXPECT_EQ(bench_.book()->runs(piece).front().source, "wire, FR-5025");
  frame.kill();
  frame.waitForFinished();
}

}  // namespace
}  // namespace fortitor::wire_run_test
