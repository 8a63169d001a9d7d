#include "core/record/bounds.h"

#include <sys/stat.h>
#include <unistd.h>

#include <algorithm>
#include <fstream>
#include <string_view>

#include "core/quantity/plain.h"

namespace fortitor {

Outcome<Done> check_plain_file(const std::string& path) {
  struct stat s = {};
  if (::stat(path.c_str(), &s) != 0 || S_ISREG(s.st_mode)) return Done{};
  const char* what = S_ISDIR(s.st_mode)    ? "a folder"
                     : S_ISFIFO(s.st_mode) ? "a pipe"
                     : S_ISSOCK(s.st_mode) ? "a socket"
                                           : "a device";
  return InputError{path + ": is " + what + ", not a file.", {}};
}

size_t room_in_memory() {
  constexpr size_t kLeast = size_t(256) << 20;
  size_t free = size_t(::sysconf(_SC_AVPHYS_PAGES)) * size_t(::sysconf(_SC_PAGESIZE));
  // What the kernel could free counts too, where it says so.
  std::ifstream info("/proc/meminfo");
  for (std::string line; std::getline(info, line);) {
    if (line.rfind("MemAvailable:", 0) != 0) continue;
    std::string_view rest = std::string_view(line).substr(13);
    if (const auto kilobytes = plain::take_whole(rest)) free = size_t(*kilobytes) << 10;
  }
  return std::max(kLeast, free / 4);
}

size_t most_unpacked(size_t packed) {
  constexpr size_t kLeast = size_t(64) << 20, kTimes = 50;
  const size_t times = packed > size_t(-1) / kTimes ? size_t(-1) : packed * kTimes;
  return std::min(std::max(kLeast, times), room_in_memory());
}

}  // namespace fortitor
