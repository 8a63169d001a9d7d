// The opener of job books: a sound book with bytes changed where the input says. It is refused with a sentence or read
// to its end; nothing else.
#include "fuzz/spoilt_file.h"

extern "C" int LLVMFuzzerTestOneInput(const uint8_t* data, size_t size) {
  using namespace fortitor;
  static const fuzz::Lab lab;
  static const QByteArray sound = fuzz::bytes_of(lab.book());
  const QString path = lab.path("f.fortitor");
  for (const char* more : {"", "-wal", "-shm", ".lock"}) QFile::remove(path + more);
  fuzz::write_spoilt(path, sound, data, size);
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
