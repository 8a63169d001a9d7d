// What time it is. One clock is handed in with a book, and everything that has to do with that book asks it: nothing
// else asks the machine (cmake/same_everywhere.cmake), so that tests and pictures stand at an hour of their own.
#pragma once

#include <QDateTime>
#include <functional>
#include <string>

namespace fortitor {

class Clock {
 public:
  /// The machine's clock.
  Clock() = default;
  explicit Clock(std::function<QDateTime()> source) : source_(std::move(source)) {}
  /// One that stands still.
  static Clock at(const QDateTime& when) {
    return Clock([when] { return when; });
  }

  /// In the time of the place.
  QDateTime now() const { return source_ ? source_().toLocalTime() : QDateTime::currentDateTime(); }
  /// As the book writes it: ISO 8601, UTC, milliseconds.
  std::string utc() const { return now().toUTC().toString(Qt::ISODateWithMs).toStdString(); }
  /// The day of the place, as days are kept: "2026-11-27".
  std::string day() const { return now().date().toString(Qt::ISODate).toStdString(); }
  /// Day and time of the place, as records have it: "2026-11-27T10:05:33".
  std::string local() const { return now().toString("yyyy-MM-dd'T'HH:mm:ss").toStdString(); }

 private:
  std::function<QDateTime()> source_;
};

/// The day of the place in a stamp as the book writes it (UTC); of a stamp that names no zone, the day it names.
inline std::string day_here(const std::string& stamp) {
  const QDateTime at =
      stamp.ends_with('Z') ? QDateTime::fromString(QString::fromStdString(stamp), Qt::ISODateWithMs) : QDateTime();
  return at.isValid() ? at.toLocalTime().date().toString(Qt::ISODate).toStdString() : stamp.substr(0, 10);
}

}  // namespace fortitor
