#pragma once

#include <QCoreApplication>
#include <QString>

namespace fortitor {

/// A program (or library) that was built beside the tests. Not its path as a word of the compiler: that differs from
/// build to build, and a compiler cache could not give one what the other has made.
inline QString built(const char* name) {
  return QCoreApplication::applicationDirPath() + "/" + name;
}

}  // namespace fortitor
