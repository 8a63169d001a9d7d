// Preloaded into a program, gives its files only so much room: what is written beyond FULL_DISK_BYTES finds the disk
// full, as a file system would say it, until full_disk_make_room() is called. Into a server: while the file
// FULL_DISK_WHEN exists no file grows.
#include <dlfcn.h>
#include <sys/stat.h>
#include <sys/types.h>
#include <sys/uio.h>
#include <unistd.h>
#include <cerrno>
#include <cstdlib>

namespace {

long left = -1;  // unlimited until the environment was read
bool read_once = false;

// Takes `n` bytes of the room that is left for a plain file; false: there is no such room.
bool take(int fd, size_t n) {
  if (!read_once) {
    read_once = true;
    if (const char* text = std::getenv("FULL_DISK_BYTES")) left = std::atol(text);
  }
  if (left < 0) return true;
  struct stat s = {};
  if (::fstat(fd, &s) != 0 || !S_ISREG(s.st_mode)) return true;
  if (long(n) > left) {
    left = 0;
    errno = ENOSPC;
    return false;
  }
  left -= long(n);
  return true;
}

// Whether a file would grow by `n` bytes at `at` (below 0: where it ends) while there is no room.
bool grows_in_vain(int fd, size_t n, off_t at) {
  static const char* const sign = std::getenv("FULL_DISK_WHEN");
  if (sign == nullptr || ::access(sign, F_OK) != 0) return false;
  struct stat s = {};
  if (::fstat(fd, &s) != 0 || !S_ISREG(s.st_mode) || (at >= 0 && at + off_t(n) <= s.st_size)) return false;
  errno = ENOSPC;
  return true;
}

template <class F>
F real(const char* name) {
  return reinterpret_cast<F>(dlsym(RTLD_NEXT, name));
}

}  // namespace

extern "C" {

void full_disk_make_room() {
  read_once = true;
  left = -1;
}

ssize_t write(int fd, const void* data, size_t n) {
  static const auto next = real<ssize_t (*)(int, const void*, size_t)>("write");
  return !grows_in_vain(fd, n, -1) && take(fd, n) ? next(fd, data, n) : -1;
}
ssize_t pwrite(int fd, const void* data, size_t n, off_t at) {
  static const auto next = real<ssize_t (*)(int, const void*, size_t, off_t)>("pwrite");
  return !grows_in_vain(fd, n, at) && take(fd, n) ? next(fd, data, n, at) : -1;
}
ssize_t pwrite64(int fd, const void* data, size_t n, off64_t at) {
  static const auto next = real<ssize_t (*)(int, const void*, size_t, off64_t)>("pwrite64");
  return !grows_in_vain(fd, n, at) && take(fd, n) ? next(fd, data, n, at) : -1;
}
ssize_t pwritev(int fd, const iovec* parts, int count, off_t at) {
  static const auto next = real<ssize_t (*)(int, const iovec*, int, off_t)>("pwritev");
  size_t n = 0;
  for (int i = 0; i < count; ++i) n += parts[i].iov_len;
  return grows_in_vain(fd, n, at) ? -1 : next(fd, parts, count, at);
}

}  // extern "C"
