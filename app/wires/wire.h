// A wire: bytes of one instrument, as lines, from a socket, a serial port or a file that grows. It only listens. Lives
// in a thread of its own; what it says are values.
#pragma once

#include <QObject>
#include <QString>
#include <QThread>
#include <memory>
#include <vector>

#include "core/line/line.h"

class QIODevice;
class QSocketNotifier;
class QTimer;

namespace fortitor {

/// Milliseconds of a clock that nobody sets: for what is new and what is old.
qint64 steady_ms();

/// A line and when its end arrived, by steady_ms().
struct WireLine {
  std::string text;
  qint64 at = 0;
};
using WireLines = std::vector<WireLine>;

class Wire : public QObject {
  Q_OBJECT

 public:
  /// `where`: "tcp:HOST:PORT", "listen:PORT" (this machine alone), "serial:DEVICE" or "serial:DEVICE@9600",
  /// "file:PATH", "-" (what is piped into the program; one wire alone hears it).
  explicit Wire(QString where);
  ~Wire() override;
  /// A sentence when that is no way in.
  static QString fault(const QString& where);

 public slots:
  void begin();

 signals:
  void came(const fortitor::WireLines& lines);
  /// Connected, or why not.
  void state(bool open, const QString& words);

 private:
  void connect_now();
  /// `who`: the device that says so; an older one than that in hand is not heard.
  void lost(const QString& why, const QIODevice* who = nullptr);
  void take();
  void give(const QByteArray& bytes);
  void look_at_file();
  void take_standard_input();

  QString where_;
  std::unique_ptr<QObject> keeper_;  ///< socket, port or server
  QIODevice* device_ = nullptr;
  QTimer* again_ = nullptr;
  QSocketNotifier* piped_ = nullptr;
  line::Splitter splitter_;
  qint64 at_ = 0;  ///< read of the file so far
  bool open_ = false;
};

}  // namespace fortitor

Q_DECLARE_METATYPE(fortitor::WireLines)
