// An instrument of the test's own on a socket, and a window whose Kit has it.
#pragma once

#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QTcpServer>
#include <QTcpSocket>

#include "app/kit/kit_page.h"
#include "app/wires/wire_board.h"
#include "tests/app/window_fixture.h"

namespace fortitor {

// An instrument of the test's own: it says what it is told to.
class SocketInstrument : public QTcpServer {
 public:
  explicit SocketInstrument(int port = 0) { EXPECT_TRUE(listen(QHostAddress::LocalHost, quint16(port))); }
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

}  // namespace fortitor
