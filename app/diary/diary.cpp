#include "app/diary/diary.h"

#include <execinfo.h>
#include <fcntl.h>
#include <unistd.h>
#include <QDateTime>
#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QMutex>
#include <array>
#include <csignal>
#include <cstdio>
#include <cstdlib>
#include <cstring>

#include "store/clock.h"

namespace fortitor::diary {
namespace {

constexpr qint64 kLargest = 1 << 20;  // bytes of one log
constexpr int kKept = 3;

QMutex guard;
QFile* log_file = nullptr;
int crash_file = -1;  // opened beforehand: a program that was struck down opens nothing

void turn_over(const QString& path) {
  for (int n = kKept - 1; n > 0; --n) {
    const QString older = path + "." + QString::number(n), newer = n == 1 ? path : path + "." + QString::number(n - 1);
    QFile::remove(older);
    QFile::rename(newer, older);
  }
}

void say(int file, const char* words) {
  [[maybe_unused]] const auto written = ::write(file, words, std::strlen(words));
}

// Only what may be called within a signal (signal-safety(7)); the names of functions are looked up by backtrace().
void struck_down(int signal) {
  if (crash_file >= 0) {
    std::array<void*, 64> frames = {};
    say(crash_file, "Fortitor " FORTITOR_VERSION " ended by signal ");
    char number[4] = {char('0' + signal / 10 % 10), char('0' + signal % 10), '\n', 0};
    say(crash_file, number);
    ::backtrace_symbols_fd(frames.data(), ::backtrace(frames.data(), int(frames.size())), crash_file);
    ::fsync(crash_file);
  }
  std::signal(signal, SIG_DFL);
  std::raise(signal);
}

QtMessageHandler before = nullptr;

void toolkit_says(QtMsgType type, const QMessageLogContext& context, const QString& message) {
  if (type != QtDebugMsg && type != QtInfoMsg) note("toolkit: " + message);
  if (before != nullptr) before(type, context, message);
}

void gives_up(QtMsgType type, const QMessageLogContext&, const QString& message) {
  if (type != QtFatalMsg) return;
  const bool display = message.contains("display") || message.contains("platform plugin");
  std::fprintf(stderr, "fortitor: %s\n",
               display ? "There is no display that can be opened here. fortitorctl does without one."
                       : qPrintable(message.section('\n', 0, 0)));
  std::fflush(stderr);
  ::_exit(2);
}

}  // namespace

void refuse_politely() {
  qInstallMessageHandler(gives_up);
}

void begin(const QString& where) {
  before = qInstallMessageHandler(nullptr);
  if (before == gives_up) before = nullptr;
  qInstallMessageHandler(toolkit_says);
  if (!QDir().mkpath(where)) return;
  const QString path = where + "/fortitor.log";
  if (QFileInfo(path).size() > kLargest) turn_over(path);
  auto* file = new QFile(path);
  if (!file->open(QIODevice::WriteOnly | QIODevice::Append | QIODevice::Text)) {
    delete file;
    return;
  }
  {
    const QMutexLocker lock(&guard);
    delete std::exchange(log_file, file);
  }
  std::array<void*, 1> once = {};
  ::backtrace(once.data(), 1);  // loads what it needs while that may be done
  crash_file =
      ::open(QFile::encodeName(where + "/crash.txt").constData(), O_WRONLY | O_CREAT | O_TRUNC | O_CLOEXEC, 0600);
  for (const int signal : {SIGSEGV, SIGBUS, SIGFPE, SIGILL, SIGABRT}) std::signal(signal, struck_down);
}

void note(const QString& what) {
  const QMutexLocker lock(&guard);
  if (log_file == nullptr) return;
  QString plain = what;
  plain.replace('\n', ' ');
  log_file->write((QString::fromStdString(Clock().utc()) + "  " + plain + "\n").toUtf8());
  log_file->flush();
  if (log_file->size() <= kLargest) return;
  const QString path = log_file->fileName();
  log_file->close();
  turn_over(path);
  if (!log_file->open(QIODevice::WriteOnly | QIODevice::Append | QIODevice::Text))
    delete std::exchange(log_file, nullptr);
}

QString last_crash(const QString& where) {
  const QString path = where + "/crash.txt";
  const QFileInfo trace(path);
  if (!trace.exists() || trace.size() == 0) return {};
  const QString kept = where + "/crash-" + trace.lastModified().toString("yyyy-MM-dd-HHmmss") + ".txt";
  return QFile::rename(path, kept) ? kept : path;
}

}  // namespace fortitor::diary
