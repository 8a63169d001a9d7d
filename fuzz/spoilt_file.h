// What the targets share that open whole files: a laboratory with one job, and a sound file with bytes changed where
// the input says.
#pragma once

#include <QCoreApplication>
#include <QFile>
#include <QTemporaryDir>
#include <cstdint>
#include <cstdlib>

#include "core/standin/tension_bench.h"
#include "store/book.h"

namespace fortitor::fuzz {

class Lab {
 public:
  Lab() : app_(count_, names_) {
    auto book = Book::open(this->book().toStdString(), "R. Vale");
    const auto job = (*book)->add_job("TC-050", "Fuzz");
    const auto series = (*book)->add_series(*job, "Bars", "tension-metal");
    TestRecord r = standin::simulate_tension({.seed = 1, .sampling = 5});
    TestRecord empty = r;
    empty.run = {};
    const auto id = (*book)->add_specimen(*series, "F-1", empty);
    if (!(*book)->store_run(*id, *r.run.samples(), "file f.csv")) std::abort();
    if (!(*book)->save_record(*id, 0, r, {}, "imported")) std::abort();
  }
  QString path(const QString& name) const { return folder_.filePath(name); }
  QString book() const { return path("whole.fortitor"); }

 private:
  int count_ = 1;
  char name_[5] = "fuzz";
  char* names_[2] = {name_, nullptr};
  QCoreApplication app_;
  QTemporaryDir folder_;
};

inline QByteArray bytes_of(const QString& path) {
  QFile file(path);
  if (!file.open(QIODevice::ReadOnly)) std::abort();
  return file.readAll();
}

/// Five bytes of the input are one change: where (three), with what, and whether the file ends there.
inline void write_spoilt(const QString& path, QByteArray bytes, const uint8_t* data, size_t size) {
  constexpr size_t kMost = 400, kOneIn = 8;
  for (size_t i = 0; i + 4 < size && i < kMost && !bytes.isEmpty(); i += 5) {
    const size_t at = (size_t(data[i]) << 16 | size_t(data[i + 1]) << 8 | data[i + 2]) % size_t(bytes.size());
    if (data[i + 4] % kOneIn == 0)
      bytes.resize(qsizetype(at));  // cut short
    else
      bytes[qsizetype(at)] = char(data[i + 3]);
  }
  QFile file(path);
  if (!file.open(QIODevice::WriteOnly)) std::abort();
  file.write(bytes);
}

}  // namespace fortitor::fuzz
