#include "store/book_file.h"

#include <fcntl.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <sys/sysmacros.h>
#include <unistd.h>
#include <QCryptographicHash>
#include <QFile>
#include <QStringList>
#include <algorithm>
#include <array>
#include <cerrno>
#include <cstring>
#include <mutex>
#include <set>

namespace fortitor {
namespace {

// Files that this process owns. It must not open one of them a second time: closing any handle of a file lets go of all
// locks that the process holds on it by fcntl(2), which are SQLite's.
std::mutex guard;
std::set<std::pair<uint64_t, uint64_t>>& owned() {
  static std::set<std::pair<uint64_t, uint64_t>> files;
  return files;
}

// The process that holds the flock of a file, as the kernel lists it; 0: it does not say.
int holder(const struct stat& s) {
  QFile locks("/proc/locks");
  if (!locks.open(QIODevice::ReadOnly)) return 0;
  const QString file = QString("%1:%2:%3")
                           .arg(major(s.st_dev), 2, 16, QChar('0'))
                           .arg(minor(s.st_dev), 2, 16, QChar('0'))
                           .arg(qulonglong(s.st_ino));
  for (const QByteArray& line : locks.readAll().split('\n')) {
    const QStringList words = QString::fromLatin1(line).split(' ', Qt::SkipEmptyParts);
    if (words.size() > 5 && words[1] == "FLOCK" && words[5] == file) return words[4].toInt();
  }
  return 0;
}

}  // namespace

Outcome<BookFile::Owned> BookFile::own(const std::string& path) {
  const std::lock_guard lock(guard);
  struct stat s = {};
  if (::stat(path.c_str(), &s) == 0 && owned().count({s.st_dev, s.st_ino}) != 0)
    return Owned{nullptr, "process " + std::to_string(::getpid())};
  const int handle = ::open(path.c_str(), O_RDWR | O_CREAT | O_CLOEXEC, 0644);
  if (handle < 0) return InputError{std::strerror(errno), {}};
  std::unique_ptr<BookFile> file(new BookFile(handle));
  if (::flock(handle, LOCK_EX | LOCK_NB) != 0) {
    if (errno != EWOULDBLOCK) return InputError{std::string("no lock can be had on it: ") + std::strerror(errno), {}};
    ::fstat(handle, &s);
    const int process = holder(s);
    return Owned{nullptr, process > 0 ? "process " + std::to_string(process) : "another process"};
  }
  ::fstat(handle, &s);
  file->device_ = s.st_dev;
  file->inode_ = s.st_ino;
  owned().insert({file->device_, file->inode_});
  file->remember();
  return Owned{std::move(file), {}};
}

BookFile::~BookFile() {
  if (inode_ != 0) {  // else it was never owned
    const std::lock_guard lock(guard);
    owned().erase({device_, inode_});
  }
  ::close(handle_);
}

BookFile::Times BookFile::times() const {
  struct stat s = {};
  if (::fstat(handle_, &s) != 0) return {};
  return {s.st_size, s.st_mtim.tv_sec, s.st_mtim.tv_nsec};
}

// All of a file of up to 16 MB, as much of a larger one in pages spread over it. The file itself changes only when what
// was logged is brought into it, every few megabytes.
BookFile::Sample BookFile::sample() const {
  constexpr int64_t kPage = 4096, kMost = 4096;
  QCryptographicHash hash(QCryptographicHash::Sha1);
  std::array<char, kPage> page = {};
  const int64_t pages = (times().size + kPage - 1) / kPage, read = std::min(pages, kMost);
  Sample out;
  for (int64_t i = 0; i < read; ++i) {
    const ssize_t got = ::pread(handle_, page.data(), page.size(), pages * i / read * kPage);
    if (got <= 0) break;
    hash.addData(QByteArrayView(page.data(), got));
    if (i == 0 && got >= 20) out.with_log = page[18] == 2 && page[19] == 2;
  }
  out.digest = hash.result();
  return out;
}

void BookFile::remember() {
  const std::lock_guard lock(state_);
  const Times now = times();
  if (now == left_) return;
  left_ = now;
  sample_ = sample();
}

// 0: as this process left it; 1: only its times are others; 2: it was written in.
int BookFile::compared() const {
  const std::lock_guard lock(state_);
  const Times now = times();
  if (now == left_) return 0;
  if (now.size != left_.size || sample().digest != sample_.digest) return 2;
  left_ = now;  // "touch", some ways of copying
  return 1;
}

bool BookFile::written_over(const std::string& path) const {
  struct stat s = {};
  return ::stat(path.c_str(), &s) == 0 && s.st_dev == device_ && s.st_ino == inode_ && compared() == 2;
}

bool BookFile::several_names() const {
  struct stat s = {};
  return ::fstat(handle_, &s) == 0 && s.st_nlink > 1;
}

Outcome<Done> BookFile::still_there(const std::string& path) const {
  struct stat s = {};
  if (::stat(path.c_str(), &s) != 0) return InputError{path + ": the book's file is gone from its place.", {}};
  if (s.st_dev != device_ || s.st_ino != inode_)
    return InputError{path + ": another file lies where the book was opened.", {}};
  if (compared() == 2)
    return InputError{path + ": the book's file was written over or cut short by something else.", {}};
  return Done{};
}

}  // namespace fortitor
