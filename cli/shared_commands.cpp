// Books on a server: made there, and moved between server and file.
#include <cstdio>

#include "cli/commands.h"
#include "cli/headless.h"
#include "store/book.h"
#include "store/copy.h"
#include "store/shared.h"

namespace fortitor::cli {

int copy(const std::string& from, const std::string& to) {
  const Headless headless;
  auto book = Book::open_read_only(from, shelf());
  if (!book) return bad_input(book.error().message);
  if (const auto done = copy_book(**book, to, told("copying", 1)); !done) return bad_input(done.error().message);
  const ChainHead head = (*book)->head();
  std::printf("%s\nLogbook: %lld lines, head %s\n", to.c_str(), static_cast<long long>(head.lines), head.hash.c_str());
  return 0;
}

int share(const std::string& address) {
  const Headless headless;
  const auto made = set_up_shared(address, qEnvironmentVariable("USER", "keeper").toStdString(), Clock());
  if (!made) return bad_input(made.error().message);
  for (const std::string& line : *made) std::printf("%s\n", line.c_str());
  return 0;
}

}  // namespace fortitor::cli
