// The opener of job books: a sound book with bytes changed where the input says. It is refused with a sentence or read
// to its end; nothing else.
#include <QCoreApplication>
#include <QFile>
#include <QTemporaryDir>
#include <cstdint>
#include <cstdlib>

#include "core/standin/tension_bench.h"
#include "store/book.h"

namespace {

using namespace fortitor;

struct Lab {
  Lab() : app(count, names) {
    auto book = Book::open(folder.filePath("whole.fortitor").toStdString(), "R. Vale");
    const auto job = (*book)->add_job("TC-050", "Fuzz");
    const auto series = (*book)->add_series(*job, "Bars", "tension-metal");
    TestRecord r = standin::simulate_tension({.seed = 1, .sampling = 5});
    TestRecord empty = r;
    empty.run = {};
    const auto id = (*book)->add_specimen(*series, "F-1", empty);
    if (!(*book)->store_run(*id, *r.run.samples(), "file f.csv")) std::abort();
    if (!(*book)->save_record(*id, 0, r, {}, "imported")) std::abort();
    book->reset();
    QFile file(folder.filePath("whole.fortitor"));
    if (!file.open(QIODevice::ReadOnly)) std::abort();
    bytes = file.readAll();
  }
  int count = 1;
  char name[5] = "fuzz";
  char* names[2] = {name, nullptr};
  QCoreApplication app;
  QTemporaryDir folder;
  QByteArray bytes;
};

}  // namespace

extern "C" int LLVMFuzzerTestOneInput(const uint8_t* data, size_t size) {
  static Lab lab;
  QByteArray bytes = lab.bytes;
  for (size_t i = 0; i + 4 < size && i < 400; i += 5) {
    const size_t at = (size_t(data[i]) << 16 | size_t(data[i + 1]) << 8 | data[i + 2]) % size_t(bytes.size());
    if (data[i + 4] % 8 == 0)
      bytes.resize(qsizetype(at));  // cut short
    else
      bytes[qsizetype(at)] = char(data[i + 3]);
    if (bytes.isEmpty()) break;
  }
  const QString path = lab.folder.filePath("f.fortitor");
  for (const char* more : {"", "-wal", "-shm", ".lock"}) QFile::remove(path + more);
  QFile file(path);
  if (!file.open(QIODevice::WriteOnly)) std::abort();
  file.write(bytes);
  file.close();
  const auto book = Book::open_read_only(path.toStdString());
  if (!book) {
    if (book.error().message.empty()) std::abort();
    return 0;
  }
  (*book)->verify();
  (*book)->logbook();
  for (const JobRow& j : (*book)->jobs())
    for (const SeriesRow& s : (*book)->series(j.id)) {
      (void)(*book)->series_record(s.id);
      for (const SpecimenRow& p : (*book)->specimens(s.id)) {
        (void)(*book)->record(p.id);
        (void)(*book)->check_signature(p.id);
      }
    }
  return 0;
}
