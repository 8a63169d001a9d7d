#include "app/wires/wire.h"

#include <unistd.h>
#include <QFile>
#include <QHostAddress>
#include <QRegularExpression>
#include <QSerialPort>
#include <QSerialPortInfo>
#include <QSocketNotifier>
#include <QTcpServer>
#include <QTcpSocket>
#include <QTimer>
#include <atomic>
#include <cerrno>
#include <chrono>

namespace fortitor {
namespace {

constexpr int kAgainMs = 500;  // how often a device that was pulled is looked for
constexpr int kLookMs = 50;    // how often a file is looked at
constexpr qint64 kBlock = 1 << 16;

// Of two that read from it each would have half of every line.
std::atomic<bool> standard_input_is_heard = false;

const QRegularExpression& tcp() {
  static const QRegularExpression r("^tcp:(.+):(\\d{1,5})$");
  return r;
}

}  // namespace

qint64 steady_ms() {
  return std::chrono::duration_cast<std::chrono::milliseconds>(std::chrono::steady_clock::now().time_since_epoch())
      .count();
}

Wire::Wire(QString where) : where_(std::move(where)) {
  qRegisterMetaType<WireLines>();
}

// A socket that is closed here says so: by then nobody is there to hear it.
Wire::~Wire() {
  if (piped_ != nullptr) standard_input_is_heard = false;
  if (device_ != nullptr) device_->disconnect(this);
  if (keeper_ != nullptr) keeper_->disconnect(this);
}

QString Wire::fault(const QString& where) {
  const bool port = QRegularExpression("^listen:\\d{1,5}$").match(where).hasMatch();
  if (tcp().match(where).hasMatch() || port || where == "-") return {};
  if ((where.startsWith("serial:") && where.size() > 7) || (where.startsWith("file:") && where.size() > 5)) return {};
  return "“" + where +
         "” is no way in: write tcp:HOST:PORT, listen:PORT, serial:DEVICE@9600, serial:#SERIAL NUMBER, file:PATH or -.";
}

void Wire::begin() {
  if (where_ == "-") {
    if (standard_input_is_heard.exchange(true)) return emit state(false, "another wire hears standard input");
    piped_ = new QSocketNotifier(STDIN_FILENO, QSocketNotifier::Read, this);
    connect(piped_, &QSocketNotifier::activated, this, &Wire::take_standard_input);
    open_ = true;
    return emit state(true, {});
  }
  again_ = new QTimer(this);
  connect(again_, &QTimer::timeout, this, [this] {
    if (where_.startsWith("file:"))
      look_at_file();
    else if (device_ == nullptr)
      connect_now();
  });
  again_->start(where_.startsWith("file:") ? kLookMs : kAgainMs);
  if (!where_.startsWith("file:")) connect_now();
}

void Wire::connect_now() {
  if (keeper_ != nullptr && where_.startsWith("listen:")) return;  // waits for whoever calls
  if (where_.startsWith("serial:")) {
    auto port = std::make_unique<QSerialPort>();
    const QString rest = where_.mid(7);
    const QString name = rest.section('@', 0, 0);
    port->setPortName(name);
    if (name.startsWith('#')) {  // wherever it was plugged in this time
      port->setPortName({});
      for (const QSerialPortInfo& one : QSerialPortInfo::availablePorts())
        if (one.serialNumber() == name.mid(1)) port->setPort(one);
      if (port->portName().isEmpty()) return lost("nothing with the serial number " + name.mid(1) + " is plugged in");
    }
    if (const int baud = rest.section('@', 1).toInt(); baud > 0) port->setBaudRate(baud);
    if (!port->open(QIODevice::ReadOnly)) return lost(port->errorString());
    device_ = port.get();
    connect(port.get(), &QSerialPort::errorOccurred, this, [this](QSerialPort::SerialPortError e) {
      if (e != QSerialPort::NoError && e != QSerialPort::TimeoutError) lost("it was pulled", device_);
    });
    keeper_ = std::move(port);
  } else if (where_.startsWith("listen:")) {
    auto server = std::make_unique<QTcpServer>();
    if (!server->listen(QHostAddress::LocalHost, quint16(where_.mid(7).toUInt()))) return lost(server->errorString());
    connect(server.get(), &QTcpServer::newConnection, this, [this, s = server.get()] {
      auto* socket = s->nextPendingConnection();
      device_ = socket;
      connect(socket, &QTcpSocket::readyRead, this, &Wire::take);
      connect(socket, &QTcpSocket::disconnected, this, [this, socket] {
        if (device_ == socket) device_ = nullptr;
        socket->deleteLater();
        open_ = false;
        emit state(false, "whoever called is gone");
      });
      open_ = true;
      emit state(true, {});
    });
    keeper_ = std::move(server);
    return;
  } else {
    const auto m = tcp().match(where_);
    auto socket = std::make_unique<QTcpSocket>();
    auto* s = socket.get();
    device_ = s;
    connect(s, &QTcpSocket::connected, this, [this] {
      open_ = true;
      emit state(true, {});
    });
    connect(s, &QTcpSocket::errorOccurred, this, [this, s] { lost(s->errorString(), s); });
    connect(s, &QTcpSocket::disconnected, this, [this, s] { lost("the connection ended", s); });
    keeper_ = std::move(socket);
    s->connectToHost(m.captured(1), quint16(m.captured(2).toUInt()));
    if (device_ != s) return;  // refused at once
  }
  connect(device_, &QIODevice::readyRead, this, &Wire::take);
  if (where_.startsWith("serial:")) {
    open_ = true;
    emit state(true, {});
  }
}

// What was begun of a line goes with the wire: half a line is no reading.
void Wire::lost(const QString& why, const QIODevice* who) {
  if (who != nullptr && who != device_) return;         // one that was given up already says so once more
  if (device_ != nullptr && device_->isOpen()) take();  // everything that was received counts
  if (keeper_ != nullptr) {
    keeper_->disconnect(this);
    keeper_.release()->deleteLater();
  }
  device_ = nullptr;
  splitter_ = {};
  open_ = false;
  emit state(false, why);
}

void Wire::take() {
  if (device_ == nullptr) return;
  const QByteArray bytes = device_->readAll();
  if (bytes.isEmpty()) return;
  give(bytes);
}

// Whole lines of what came.
void Wire::give(const QByteArray& bytes) {
  const qint64 now = steady_ms();
  splitter_.put(std::string_view(bytes.constData(), size_t(bytes.size())));
  WireLines lines;
  while (auto text = splitter_.next()) lines.push_back({std::move(*text), now});
  if (!lines.empty()) emit came(lines);
}

void Wire::take_standard_input() {
  QByteArray bytes(kBlock, Qt::Uninitialized);
  const ssize_t n = ::read(STDIN_FILENO, bytes.data(), size_t(bytes.size()));
  if (n > 0) return give(bytes.left(n));
  if (n < 0 && (errno == EINTR || errno == EAGAIN)) return;
  piped_->setEnabled(false);  // its end does not come again
  open_ = false;
  emit state(false, "standard input has ended");
}

void Wire::look_at_file() {
  QFile file(where_.mid(5));
  const bool there = file.open(QIODevice::ReadOnly);
  if (there != open_) emit state(open_ = there, there ? QString() : "the file is not there");
  if (!there) return;
  if (file.size() < at_) {  // written anew
    at_ = 0;
    splitter_ = {};
  }
  file.seek(at_);
  const QByteArray bytes = file.read(kBlock);
  at_ += bytes.size();
  if (!bytes.isEmpty()) give(bytes);
}

}  // namespace fortitor
