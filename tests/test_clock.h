// The hour at which the tests take place: a Thursday morning in November, wherever and whenever they run. CI sends
// those that have to do with days to other hours by FORTITOR_TEST_TIME (tests/CMakeLists.txt).
#pragma once

#include <QElapsedTimer>

#include "store/clock.h"

namespace fortitor {

inline QDateTime test_time() {
  const QString other = qEnvironmentVariable("FORTITOR_TEST_TIME");
  return QDateTime::fromString(other.isEmpty() ? "2026-11-26T10:05:00" : other, Qt::ISODate).toLocalTime();
}

/// Goes on from there as time goes on.
inline Clock test_clock() {
  QElapsedTimer since;
  since.start();
  return Clock([from = test_time(), since] { return from.addMSecs(since.elapsed()); });
}

}  // namespace fortitor
