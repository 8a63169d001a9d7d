// A job handed on: a sound bundle with bytes changed where the input says. It is refused with a sentence and leaves
// nothing in the book, or taken whole.
#include "store/bundle.h"
#include "fuzz/spoilt_file.h"

namespace {

using namespace fortitor;

QByteArray bundle_of(const fuzz::Lab& lab) {
  const QString path = lab.path("whole.fortitor-job");
  const auto book = Book::open_read_only(lab.book().toStdString());
  if (!book || !write_bundle(**book, "TC-050", path.toStdString())) std::abort();
  return fuzz::bytes_of(path);
}

}  // namespace

extern "C" int LLVMFuzzerTestOneInput(const uint8_t* data, size_t size) {
  static const fuzz::Lab lab;
  static const QByteArray sound = bundle_of(lab);
  static const auto into = Book::open(lab.path("into.fortitor").toStdString(), "R. Vale");
  static int taken = 0;
  const QString path = lab.path("f.fortitor-job");
  fuzz::write_spoilt(path, sound, data, size);
  const size_t before = (*into)->jobs().size();
  const auto read = read_bundle(**into, path.toStdString(), "F-" + std::to_string(taken));
  if (!read && (read.error().message.empty() || (*into)->jobs().size() != before)) std::abort();
  if (read && ((*into)->jobs().size() != before + 1 || read->specimens != 1)) std::abort();
  taken += read ? 1 : 0;
  return 0;
}
