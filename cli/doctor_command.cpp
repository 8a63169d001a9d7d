// What this installation is made of, and what stands in its way.
#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QFontDatabase>
#include <QImageReader>
#include <QSqlDatabase>
#include <QStandardPaths>
#include <QStorageInfo>
#include <QSysInfo>
#include <cstdio>

#include "cli/commands.h"
#include "cli/headless.h"
#include "core/reference/library.h"
#include "store/book.h"
#include "store/own.h"

namespace fortitor::cli {
namespace {

struct Report {
  int wrong = 0;
  void line(bool fine, const QString& what, const QString& detail) {
    if (!fine) ++wrong;
    std::printf("%s %-22s %s\n", fine ? " ok " : "BAD ", qPrintable(what), qPrintable(detail));
  }
};

bool writable(const QString& folder) {
  // The nearest folder that is there decides.
  for (QDir dir(folder);; dir = QDir(QFileInfo(dir.absolutePath()).absolutePath()))
    if (dir.exists()) return QFileInfo(dir.absolutePath()).isWritable();
}

}  // namespace

int doctor(const std::string& book_path) {
  const Headless headless;
  QCoreApplication::setApplicationName("fortitor");
  Report r;
  r.line(true, "Fortitor", FORTITOR_VERSION);
  r.line(true, "system",
         QSysInfo::prettyProductName() + ", " + QSysInfo::kernelVersion() + ", " + QSysInfo::currentCpuArchitecture());
  r.line(true, "Qt",
         QString(qVersion()) + (QString(qVersion()) == QT_VERSION_STR ? "" : ", built with " QT_VERSION_STR));
  const QStringList drivers = QSqlDatabase::drivers();
  r.line(drivers.contains("QSQLITE"), "books in files",
         drivers.contains("QSQLITE") ? "QSQLITE" : "the driver QSQLITE is missing (libqt6sql6-sqlite)");
  r.line(true, "shared books",
         drivers.contains("QPSQL") ? "QPSQL" : "not from this machine: libqt6sql6-psql is not installed");
  const auto formats = QImageReader::supportedImageFormats();
  for (const char* format : {"svg", "png", "jpeg"})
    r.line(formats.contains(format), QString("pictures: %1").arg(format),
           formats.contains(format) ? "read" : "cannot be read");
  const QStringList families = QFontDatabase::families();
  for (const char* family : {"Inter", "JetBrains Mono"})
    r.line(families.contains(family), QString("font: %1").arg(family),
           families.contains(family) ? "shipped" : "is missing from this build");
  const QString settings = own::folder(), data = QStandardPaths::writableLocation(QStandardPaths::AppDataLocation);
  r.line(writable(settings), "settings and log", settings + (writable(settings) ? "" : " cannot be written"));
  r.line(writable(data), "own data", data + (writable(data) ? "" : " cannot be written"));
  QFile log(settings + "/fortitor.log");
  if (log.open(QIODevice::ReadOnly)) {
    const QList<QByteArray> lines = log.readAll().trimmed().split('\n');
    r.line(true, "log, last line", QString::fromUtf8(lines.last()));
  }
  const QStringList traces = QDir(settings).entryList({"crash-*.txt"}, QDir::Files, QDir::Name);
  if (!traces.isEmpty())
    r.line(true, "ended badly", QString::number(traces.size()) + ", last " + settings + "/" + traces.last());
  const auto own = load_own_reference(own_reference_path());
  r.line(bool(own), "own usual values",
         own ? QString::fromStdString(own_reference_path()) : QString::fromStdString(own.error().message));
  if (!book_path.empty()) {
    const auto book = Book::open_read_only(book_path);
    r.line(bool(book), "book", book ? QString::fromStdString(book_path) : QString::fromStdString(book.error().message));
    if (book) {
      const auto damage = (*book)->verify();
      r.line(damage.empty(), "book, checked",
             damage.empty() ? QString("sound") : QString::fromStdString(damage.front().what));
      if (!(*book)->shared()) {
        const QStorageInfo disk(QFileInfo(QString::fromStdString(book_path)).absolutePath());
        constexpr qint64 kRoom = 256LL << 20;
        r.line(disk.bytesAvailable() > kRoom, "room on its disk", QString::number(disk.bytesAvailable() >> 20) + " MB");
      }
    }
  }
  return r.wrong == 0 ? 0 : 1;
}

}  // namespace fortitor::cli
