// Instruments over real sockets in the real window: found again after a pull, shown, and taken into the field in hand.
#include <unistd.h>
#include <QKeySequenceEdit>
#include <QProcess>

#include "app/frame/find_box.h"
#include "tests/app/wire_desk_fixture.h"
#include "tests/built.h"

namespace fortitor::wire_desk_test {
namespace {

TEST_F(WireDesk, F8TakesWhatTheInstrumentShowsAndGoesOn) {
  SocketInstrument caliper;
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
  SocketInstrument caliper;
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
  SocketInstrument balance;
  const Id id = item("scale", "BAL-1", balance.where());
  ASSERT_TRUE(until([&] { return live(id).open; }));
  for (const char* l : {"ST,+ 10.01 g\r\n", "US,+ 10.02 g\r\n", "ST,+ 10.03 g\r\n", "ST,+ 10.03 g\r\n"}) balance.say(l);
  ASSERT_TRUE(until([&] { return live(id).good == 4; }));
  measure();
  QTest::keyClick(field_, Qt::Key_F8);
  EXPECT_TRUE(window_->message().contains("No instrument")) << window_->message().toStdString();
  EXPECT_TRUE(diameters().empty());
  SocketInstrument dial;
  const Id other = item("caliper", "CAL-1", dial.where());
  ASSERT_TRUE(until([&] { return live(other).open; }));
  for (const char* l : {"S 1.001 mm\n", "S 1.002 mm\n", "S 1.002 mm\n", "U 1.009 mm\n"}) dial.say(l);
  ASSERT_TRUE(until([&] { return live(other).good == 4; }));
  QTest::keyClick(field_, Qt::Key_F8);
  EXPECT_TRUE(window_->message().contains("moving")) << window_->message().toStdString();
  EXPECT_TRUE(diameters().empty());
}

TEST_F(WireDesk, ItsOwnButtonTakesTheReading) {
  SocketInstrument caliper;
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
  auto caliper = std::make_unique<SocketInstrument>();
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
    caliper = std::make_unique<SocketInstrument>(port);
  }
  for (const std::string& l : live(id).lines)
    EXPECT_EQ(l.find("5.5."), std::string::npos) << "halves of two connections make no line";
}

TEST_F(WireDesk, TheCardShowsWhatComesInAndKeepsTheFormat) {
  SocketInstrument caliper;
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
  SocketInstrument box;
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
  device.start(built("fortitor-standins"), {"balance", "--pty", "--speed", "5"});
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

}  // namespace
}  // namespace fortitor::wire_desk_test
