// Instruments over real sockets in the real window: found again after a pull, shown, and taken into the field in hand.
#include <unistd.h>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QKeySequenceEdit>
#include <QProcess>
#include <QTcpServer>
#include <QTcpSocket>

#include "app/frame/find_box.h"
#include "app/frame/top_bar.h"
#include "app/kit/kit_page.h"
#include "app/stages/run_stage.h"
#include "app/wires/wire_board.h"
#include "core/standin/tension_bench.h"
#include "tests/app/window_fixture.h"

namespace fortitor::wire_desk_test {
namespace {

// An instrument of the test's own: it says what it is told to.
class Instrument : public QTcpServer {
 public:
  explicit Instrument(int port = 0) { EXPECT_TRUE(listen(QHostAddress::LocalHost, quint16(port))); }
  QString where() const { return "tcp:127.0.0.1:" + QString::number(serverPort()); }
  void say(const QByteArray& line) {
    // The other end may know of the connection before this one does.
    const bool known = !heard_.isEmpty() || hasPendingConnections();
    EXPECT_TRUE(known || waitForNewConnection(10000));
    while (hasPendingConnections()) heard_ << nextPendingConnection();
    for (QTcpSocket* s : heard_) {
      s->write(line);
      s->flush();
    }
  }
  void pull() {
    for (QTcpSocket* s : heard_) s->abort();
    heard_.clear();
    close();
  }

 private:
  QList<QTcpSocket*> heard_;
};

class WireDesk : public WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    TestRecord r;
    r.method = "tension-metal";
    Book& book = *bench_.book();
    const auto series = book.add_series(*book.add_job("J-1", "wires"), "Tension", "tension-metal");
    piece_ = *book.add_specimen(*series, "B-1", r);
  }
  Id item(const std::string& kind, const std::string& name, const QString& where, bool button = false) {
    kit::Item i;
    i.kind = kind;
    i.fields.set(i.path("id"), name);
    i.fields.set("settings.wire", where.toStdString());
    if (button) i.fields.set("settings.takes", std::string("button"));
    const auto id = bench_.book()->save_item(i, "entered");
    EXPECT_TRUE(id) << (id ? "" : id.error().message);
    window_->wires().reload();
    return id ? *id : 0;
  }
  const LiveItem& live(Id id) { return *window_->wires().find(id); }
  void measure() {
    window_->show_specimen(piece_, int(Stage::measure));
    settle();
    field_ = find<QLineEdit>("specimen.section.diameter#0");
    ASSERT_NE(field_, nullptr);
    QApplication::setActiveWindow(window_.get());
    field_->setFocus();
    ASSERT_TRUE(until([&] { return QApplication::focusWidget() == field_; }));
  }
  Readings diameters() { return record().fields.readings("specimen.section.diameter"); }

  Id piece_ = 0;
  QLineEdit* field_ = nullptr;
};

TEST_F(WireDesk, F8TakesWhatTheInstrumentShowsAndGoesOn) {
  Instrument caliper;
  const Id id = item("caliper", "CAL-1", caliper.where());
  ASSERT_TRUE(until([&] { return live(id).open; }));
  for (const char* l : {"10.01 mm\r\n", "10.02 mm\r\n", "10.0", "3 mm\r\n"}) caliper.say(l);
  ASSERT_TRUE(until([&] { return live(id).last && live(id).last->values[0].typed == "10.03 mm"; }));
  measure();
  EXPECT_EQ(field_->placeholderText(), "CAL-1, F8") << "it says whom it hears";
  QTest::keyClick(field_, Qt::Key_F8);
  ASSERT_TRUE(until([&] { return diameters().size() == 1; })) << window_->message().toStdString();
  EXPECT_FALSE(field_->placeholderText().contains("CAL-1"));
  EXPECT_EQ(diameters()[0].typed, "10.03 mm");
  EXPECT_EQ(diameters()[0].resolution, 0.01);
  EXPECT_TRUE(diameters()[0].source.starts_with("CAL-1, 2026-")) << diameters()[0].source;
  EXPECT_NE(bench_.book()->logbook(3)[0].what.find("heard from CAL-1"), std::string::npos)
      << bench_.book()->logbook(1)[0].what;
  EXPECT_NE(QApplication::focusWidget(), field_) << "the field goes on to the next";
  EXPECT_TRUE(until([&] {
    for (auto* b : window_->findChildren<QPushButton*>())
      if (b->text() == "CAL-1  10.03 mm" && b->isVisible()) return true;
    return false;
  }));
}

TEST_F(WireDesk, AFootSwitchIsAKeyOfItsOwn) {
  Instrument caliper;
  const Id id = item("caliper", "CAL-1", caliper.where());
  ASSERT_TRUE(until([&] { return live(id).open; }));
  for (const char* l : {"10.01 mm\n", "10.02 mm\n", "10.04 mm\n"}) caliper.say(l);
  ASSERT_TRUE(until([&] { return live(id).last && live(id).last->values[0].typed == "10.04 mm"; }));
  QTimer::singleShot(0, [&] {
    auto* dialog = qobject_cast<QDialog*>(QApplication::activeModalWidget());
    ASSERT_NE(dialog, nullptr);
    auto* edit = dialog->findChild<QKeySequenceEdit*>();
    edit->setKeySequence(QKeySequence(Qt::Key_F13));
    dialog->accept();
  });
  QTest::keyClick(window_.get(), Qt::Key_K, Qt::ControlModifier);
  QTest::keyClicks(window_->find_box()->line(), "foot switch");
  QTest::keyClick(window_->find_box()->line(), Qt::Key_Return);
  measure();
  QTest::keyClick(field_, Qt::Key_F13);
  ASSERT_TRUE(until([&] { return diameters().size() == 1; })) << window_->message().toStdString();
  EXPECT_EQ(diameters()[0].typed, "10.04 mm");
}

TEST_F(WireDesk, AnotherDimensionOverloadAndMovingAreNoReading) {
  Instrument balance;
  const Id id = item("scale", "BAL-1", balance.where());
  ASSERT_TRUE(until([&] { return live(id).open; }));
  for (const char* l : {"ST,+ 10.01 g\r\n", "US,+ 10.02 g\r\n", "ST,+ 10.03 g\r\n", "ST,+ 10.03 g\r\n"}) balance.say(l);
  ASSERT_TRUE(until([&] { return live(id).good == 4; }));
  measure();
  QTest::keyClick(field_, Qt::Key_F8);
  EXPECT_TRUE(window_->message().contains("No instrument")) << window_->message().toStdString();
  EXPECT_TRUE(diameters().empty());
  Instrument dial;
  const Id other = item("caliper", "CAL-1", dial.where());
  ASSERT_TRUE(until([&] { return live(other).open; }));
  for (const char* l : {"S 1.001 mm\n", "S 1.002 mm\n", "S 1.002 mm\n", "U 1.009 mm\n"}) dial.say(l);
  ASSERT_TRUE(until([&] { return live(other).good == 4; }));
  QTest::keyClick(field_, Qt::Key_F8);
  EXPECT_TRUE(window_->message().contains("moving")) << window_->message().toStdString();
  EXPECT_TRUE(diameters().empty());
}

TEST_F(WireDesk, ItsOwnButtonTakesTheReading) {
  Instrument caliper;
  const Id id = item("caliper", "CAL-1", caliper.where(), true);
  ASSERT_TRUE(until([&] { return live(id).open; }));
  for (const char* l : {"9.98 mm\n", "9.99 mm\n", "10.00 mm\n"}) caliper.say(l);  // from which the format is known
  ASSERT_TRUE(until([&] { return live(id).good > 0; }));
  measure();
  caliper.say("10.01 mm\n");
  ASSERT_TRUE(until([&] { return diameters().size() == 1; }));
  ASSERT_TRUE(until([&] { return QApplication::focusWidget() != field_; }));
  caliper.say("10.02 mm\n");
  ASSERT_TRUE(until([&] { return diameters().size() == 2; }));
  EXPECT_EQ(diameters()[1].typed, "10.02 mm");
}

TEST_F(WireDesk, APulledInstrumentIsFoundAgain) {
  auto caliper = std::make_unique<Instrument>();
  const int port = caliper->serverPort();
  const Id id = item("caliper", "CAL-1", caliper->where());
  for (int round = 0; round < 5; ++round) {
    ASSERT_TRUE(until([&] { return live(id).open; })) << round;
    const size_t before = live(id).good;
    for (int i = 0; i < 4; ++i) caliper->say("5.0" + QByteArray::number(i) + " mm\n");
    ASSERT_TRUE(until([&] { return live(id).good >= before + (round == 0 ? 1 : 4); })) << round;
    caliper->say("5.");  // half a line, and the plug is out
    caliper->pull();
    ASSERT_TRUE(until([&] { return !live(id).open; })) << round;
    caliper = std::make_unique<Instrument>(port);
  }
  for (const std::string& l : live(id).lines)
    EXPECT_EQ(l.find("5.5."), std::string::npos) << "halves of two connections make no line";
}

TEST_F(WireDesk, TheCardShowsWhatComesInAndKeepsTheFormat) {
  Instrument caliper;
  const Id id = item("caliper", "CAL-1", caliper.where());
  ASSERT_TRUE(until([&] { return live(id).open; }));
  for (const char* l : {"9.98 mm\n", "garbage\n", "9.99 mm\n", "10.00 mm\n", "10.01 mm\n"}) caliper.say(l);
  window_->open("kit", id);
  const auto says = [&](const QString& words) {
    for (const QLabel* l : window_->findChildren<QLabel*>())
      if (l->isVisible() && l->text().contains(words)) return true;
    return false;
  };
  EXPECT_TRUE(until([&] { return says("10.01 mm") && says("one value with units"); }));
  EXPECT_TRUE(says("The program only listens"));
  click("wire-keep");
  const auto kit = bench_.book()->kit();
  ASSERT_TRUE(kit);
  EXPECT_NE(kit->front().fields.text("settings.line").find("line/1"), std::string::npos);
  EXPECT_FALSE(live(id).proposed);
}

TEST_F(WireDesk, APartOfALineIsPointedAtAndNamed) {
  Instrument box;
  const Id id = item("indicator", "SB-1", box.where());
  ASSERT_TRUE(until([&] { return live(id).open; }));
  for (int i = 0; i < 22; ++i)
    box.say("ST;" + QByteArray::number(500 + i) + ";" + QByteArray::number(-150 - i) + ";7\n");
  ASSERT_TRUE(until([&] { return live(id).good > 20; }));
  window_->open("kit", id);
  LineParts* parts = nullptr;
  ASSERT_TRUE(until([&] {
    parts = seen<LineParts>("wire-parts");
    return parts != nullptr && parts->box_of(3).isValid();
  }));
  const auto channels = [&] {
    QStringList out;
    for (const line::Field& f : live(id).format->fields) out << QString::fromStdString(f.channel + " " + f.unit);
    return out.join(", ");
  };
  // The second part is the lengthwise strain, in µε.
  QTest::mouseClick(parts, Qt::LeftButton, {}, parts->box_of(1).center());
  auto* name = find<QComboBox>("wire-name");
  ASSERT_NE(name, nullptr);
  name->lineEdit()->selectAll();
  QTest::keyClicks(name->lineEdit(), "strain_long");
  QTest::keyClick(name->lineEdit(), Qt::Key_Return);
  auto* unit = find<QLineEdit>("wire-unit");
  unit->selectAll();
  QTest::keyClicks(unit, "zz");
  QTest::keyClick(unit, Qt::Key_Return);
  EXPECT_TRUE(says("no unit that is known here"));
  unit->selectAll();
  unit->insert("µε");
  QTest::keyClick(unit, Qt::Key_Return);
  EXPECT_TRUE(channels().contains("strain_long µε")) << channels().toStdString();
  // With keys: the last part means nothing.
  parts->setFocus();
  QTest::keyClick(parts, Qt::Key_Right);
  QTest::keyClick(parts, Qt::Key_Right);
  auto* use = find<QComboBox>("wire-use");
  use->setCurrentIndex(use->findData(int(line::Use::nothing)));
  emit use->activated(use->currentIndex());
  EXPECT_EQ(live(id).format->fields.size(), 2u) << channels().toStdString();
  EXPECT_EQ(live(id).bad, 0u) << "the lines that came are read by it at once";
  box.say("ST;777;-151;7\n");
  ASSERT_TRUE(until([&] {
    return live(id).last && live(id).last->find("strain_long") != nullptr &&
           live(id).last->find("strain_long")->typed == "777 µε";
  }));
  window_->grab().save("/tmp/w.png");
  click("wire-keep");
  const auto kit = bench_.book()->kit();
  const auto kept = line::format_from_json(kit->front().fields.text("settings.line"));
  ASSERT_TRUE(kept);
  EXPECT_EQ(*kept, *live(id).format);
}

TEST_F(WireDesk, AStandInOnATerminalIsHeard) {
  QProcess device;
  device.start(STANDINS, {"balance", "--pty", "--speed", "5"});
  ASSERT_TRUE(device.waitForReadyRead(20000));
  const QString where = QString::fromUtf8(device.readLine()).trimmed().section(" speaks at ", 1);
  ASSERT_TRUE(where.startsWith("serial:"));
  const Id id = item("scale", "BAL-1", where);
  EXPECT_TRUE(until([&] { return live(id).good > 20; })) << live(id).why.toStdString();
  EXPECT_EQ(live(id).last->values.front().unit, "g");
  device.kill();
  device.waitForFinished();
  EXPECT_TRUE(until([&] { return !live(id).open; }));
}

TEST_F(WireDesk, WhatIsPipedIntoTheProgramIsHeardByOneWire) {
  int ends[2] = {-1, -1};
  const int was = ::dup(STDIN_FILENO);
  ASSERT_EQ(::pipe(ends), 0);
  ASSERT_GE(::dup2(ends[0], STDIN_FILENO), 0);
  const auto write = [&](const std::string& text) {
    EXPECT_EQ(::write(ends[1], text.data(), text.size()), ssize_t(text.size()));
  };
  const Id id = item("caliper", "CAL-1", "-");
  ASSERT_TRUE(until([&] { return live(id).open; }));
  const Id second = item("caliper", "CAL-2", "-");
  ASSERT_TRUE(until([&] { return !live(second).why.isEmpty(); }));
  EXPECT_TRUE(live(second).why.contains("another wire")) << live(second).why.toStdString();
  write("10.01 mm\n10.02 mm\n10.0");
  write("3 mm\n10.04 mm\n");
  EXPECT_TRUE(until([&] { return live(id).last && live(id).last->values[0].typed == "10.04 mm"; }));
  EXPECT_EQ(live(id).bad, 0u) << "no line was halved";
  ::close(ends[1]);
  EXPECT_TRUE(until([&] { return !live(id).open; }));
  EXPECT_TRUE(live(id).why.contains("ended")) << live(id).why.toStdString();
  ::dup2(was, STDIN_FILENO);
  ::close(was);
  ::close(ends[0]);
}

TEST_F(WireDesk, AWireThatCannotBeIsSaid) {
  const Id id = item("caliper", "CAL-1", "somewhere");
  EXPECT_TRUE(live(id).why.contains("no way in")) << live(id).why.toStdString();
}

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
  Instrument frame_, box_;
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
    frame_ = std::make_unique<Instrument>();
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

  std::unique_ptr<Instrument> frame_;
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
  frame_ = std::make_unique<Instrument>(port_);
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
  frame.start(STANDINS, {"frame", "--port", "0", "--rest", "40", "--speed", "10", "--seed", "6"});
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
}  // namespace fortitor::wire_desk_test
