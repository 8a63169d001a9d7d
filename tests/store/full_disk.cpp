// Preloaded into a program, gives its files only so much room: what is written beyond FULL_DISK_BYTES finds the disk
// full, as a file system would say it, until full_disk_make_room() is called.
#include <dlfcn.h>
#include <sys/stat.h>
#include <sys/types.h>
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
  return take(fd, n) ? next(fd, data, n) : -1;
}
ssize_t pwrite(int fd, const void* data, size_t n, off_t at) {
  static const auto next = real<ssize_t (*)(int, const void*, size_t, off_t)>("pwrite");
  return take(fd, n) ? next(fd, data, n, at) : -1;
}
ssize_t pwrite64(int fd, const void* data, size_t n, off64_t at) {
  static const auto next = real<ssize_t (*)(int, const void*, size_t, off64_t)>("pwrite64");
  return take(fd, n) ? next(fd, data, n, at) : -1;
}

}  // extern "C"
