// Opening a book, going on with it elsewhere, copies of it.
#include <QAtomicInt>
#include <QFile>
#include <QFileInfo>
#include <QUrl>

#include <sys/stat.h>
#include <unistd.h>

#include "store/book.h"
#include "store/schema.h"
#include "store/sql.h"

namespace fortitor {
namespace {

// A book beside which an untouched copy of an older version can be kept.
std::string copy_name(const std::string& path, int version) {
  const QFileInfo info(QString::fromStdString(path));
  QString name = info.path() + "/" + info.completeBaseName() + ".v" + QString::number(version);
  QString candidate = name + ".fortitor";
  for (int n = 2; QFile::exists(candidate); ++n) candidate = name + "-" + QString::number(n) + ".fortitor";
  return candidate.toStdString();
}

std::pair<uint64_t, uint64_t> stat_of(const std::string& path) {
  struct stat s = {};
  if (::stat(path.c_str(), &s) != 0) return {0, 0};
  return {uint64_t(s.st_dev), uint64_t(s.st_ino)};
}

// Reading beside a writer wants a shared file next to the book. Where the folder cannot be written and no writer has
// left anything, the file is read as it lies.
bool immutable(const std::string& path, bool read_only) {
  const QFileInfo file(qs(path)), log(qs(path) + "-wal");
  return read_only && !QFileInfo(file.absolutePath()).isWritable() && (!log.exists() || log.size() == 0);
}

// How a book is written to: every commit on disk before it is confirmed.
Outcome<Done> prepare(const QSqlDatabase& db, const std::string& path) {
  QSqlQuery q(db);
  for (const char* pragma : {"PRAGMA journal_mode = WAL", "PRAGMA synchronous = FULL", "PRAGMA foreign_keys = ON"})
    if (!q.exec(pragma)) return InputError{path + ": " + cause(q.lastError()) + ".", {}};
  return Done{};
}

}  // namespace

Outcome<std::unique_ptr<Book>> Book::connect(const std::string& path, bool read_only) {
  static QAtomicInt counter;
  std::unique_ptr<Book> book(new Book);
  book->path_ = path;
  book->read_only_ = read_only;
  book->connection_ = "book-" + std::to_string(counter.fetchAndAddRelaxed(1));
  QSqlDatabase db = QSqlDatabase::addDatabase("QSQLITE", qs(book->connection_));
  db.setDatabaseName(qs(path));
  db.setConnectOptions(read_only ? "QSQLITE_OPEN_READONLY;QSQLITE_BUSY_TIMEOUT=4000" : "QSQLITE_BUSY_TIMEOUT=4000");
  if (immutable(path, read_only)) {
    db.setDatabaseName("file:" + QUrl::toPercentEncoding(QFileInfo(qs(path)).absoluteFilePath(), "/") + "?immutable=1");
    db.setConnectOptions("QSQLITE_OPEN_READONLY;QSQLITE_OPEN_URI");
  }
  if (!db.open()) return InputError{path + ": the book cannot be opened: " + cause(db.lastError()) + ".", {}};
  const auto file = stat_of(path);
  book->device_ = file.first;
  book->inode_ = file.second;
  QSqlQuery q(db);
  // Whatever a file may have put into its schema is not run (sqlite.org/security.html).
  for (const char* pragma : {"PRAGMA trusted_schema = OFF", "PRAGMA cell_size_check = ON", "PRAGMA mmap_size = 0"})
    q.exec(pragma);
  // The first read tells a book from any other file.
  if (!q.exec("PRAGMA schema_version") || !q.next()) {
    const int code = q.lastError().nativeErrorCode().toInt() & 0xff;
    if (code == 11 || code == 26)
      return InputError{
          path +
              ": this file is not a job book, or its head is damaged. Nothing was changed; open a copy kept elsewhere.",
          {}};
    return InputError{path + ": the book cannot be read: " + cause(q.lastError()) + ".", {}};
  }
  return book;
}

Outcome<std::unique_ptr<Book>> Book::open(const std::string& path, const std::string& who) {
  const QFileInfo file(qs(path));
  const bool fresh = !file.exists() || file.size() == 0;
  if (fresh && !QFileInfo(file.absolutePath()).isDir())
    return InputError{path + ": the folder " + str(file.absolutePath()) + " does not exist.", {}};
  auto lock = std::make_unique<QLockFile>(qs(path) + ".lock");
  lock->setStaleLockTime(0);  // it ages by its process alone
  if (!lock->tryLock(0) && lock->error() == QLockFile::LockFailedError) {
    qint64 pid = 0;
    QString host, program;
    lock->getLockInfo(&pid, &host, &program);
    auto reader = open_read_only(path);
    if (!reader) return reader;
    (*reader)->who_ = who;
    (*reader)->owner_ = "process " + std::to_string(pid) + " on " + str(host) + " writes in it";
    (*reader)->notices_.push_back("This book is opened to read: " + (*reader)->owner_ +
                                  ". Close it there to write here.");
    return reader;
  }
  auto opened = connect(path, false);
  if (!opened) return opened;
  Book& book = **opened;
  book.lock_ = std::move(lock);
  book.who_ = who;
  QSqlDatabase db = book.db();
  QSqlQuery q(db);
  const int version = schema::version_of(db);
  if (version > schema::newest())
    return InputError{path + ": this book was written by a newer Fortitor (book version " + std::to_string(version) +
                          ", this program reads up to " + std::to_string(schema::newest()) +
                          "). Nothing was changed; use the newer program.",
                      {}};
  if (!fresh && version <= 0)
    return InputError{path + ": this file is a database but not a job book. Nothing was changed.", {}};
  if (!fresh) {
    if (const auto same = schema::compare(db, version); !same)
      return InputError{path + ": " + same.error().message + ". Nothing was changed; open a copy kept elsewhere.", {}};
    const bool whole = q.exec("PRAGMA quick_check") && q.next() && q.value(0).toString() == "ok";
    if (!whole)
      return InputError{
          path +
              ": the book is damaged. Nothing was changed; run fortitorctl check and go on with a copy kept elsewhere.",
          {}};
  }
  q.finish();
  if (version < schema::newest()) {
    if (!fresh) {
      const std::string copy = copy_name(path, version);
      if (!q.prepare("VACUUM INTO ?"))
        return InputError{path + ": no copy could be put aside: " + cause(q.lastError()) + ".", {}};
      q.addBindValue(qs(copy));
      if (!q.exec())
        return InputError{
            path + ": no copy could be put aside, so the book was not migrated: " + cause(q.lastError()) + ".", {}};
      q.finish();
      book.notices_.push_back("The book was brought from version " + std::to_string(version) + " to " +
                              std::to_string(schema::newest()) + ". A copy of it as it was lies at " + copy + ".");
    }
    const auto done = schema::migrate(db, std::max(version, 0), schema::newest());
    if (!done) return InputError{path + ": " + done.error().message, {}};
  }
  if (const auto ready = prepare(db, path); !ready) return ready.error();
  const auto file_now = stat_of(path);  // a fresh file has come to be meanwhile
  book.device_ = file_now.first;
  book.inode_ = file_now.second;
  if (fresh) {
    const auto noted = book.note("book begun", "version " + std::to_string(schema::newest()));
    if (!noted) return noted.error();
  } else if (version < schema::newest()) {
    const auto sealed = book.seal_all();
    if (!sealed) return sealed.error();
  }
  book.recover_runs();
  return opened;
}

Outcome<std::unique_ptr<Book>> Book::open_read_only(const std::string& path) {
  if (!QFile::exists(qs(path))) return InputError{path + ": there is no such file.", {}};
  auto opened = connect(path, true);
  if (!opened) return opened;
  const int version = schema::version_of((*opened)->db());
  if (version <= 0) return InputError{path + ": this file is not a job book.", {}};
  if (version > schema::newest()) return InputError{path + ": this book was written by a newer Fortitor.", {}};
  if (const auto same = schema::compare((*opened)->db(), version); !same)
    return InputError{path + ": " + same.error().message + ".", {}};
  return opened;
}

Outcome<Done> Book::still_there() const {
  const auto [device, inode] = stat_of(path_);
  if (inode == 0) return InputError{path_ + ": the book's file is gone from its place.", {}};
  if (device != device_ || inode != inode_)
    return InputError{path_ + ": another file lies where the book was opened.", {}};
  return Done{};
}

Outcome<Done> Book::copy_to(const std::string& path) const {
  if (QFile::exists(qs(path))) return InputError{path + " is already there; nothing is overwritten.", {}};
  const QString part = qs(path) + ".part";
  QFile::remove(part);
  QSqlQuery q(db());
  q.prepare("VACUUM INTO ?");
  q.addBindValue(part);
  if (!q.exec()) {
    const std::string why = cause(q.lastError());
    QFile::remove(part);
    return InputError{path + ": the copy could not be written: " + why + ".", {}};
  }
  q.finish();
  QFile file(part);
  const bool on_disk = file.open(QIODevice::ReadOnly) && ::fsync(file.handle()) == 0;
  file.close();
  if (!on_disk || !QFile::rename(part, qs(path))) {
    QFile::remove(part);
    return InputError{path + ": the copy could not be written.", {}};
  }
  return Done{};
}

Outcome<Done> Book::move_to(const std::string& path) {
  if (const auto copied = copy_to(path); !copied) return copied;
  auto lock = std::make_unique<QLockFile>(qs(path) + ".lock");
  lock->setStaleLockTime(0);
  if (!lock->tryLock(0)) return InputError{path + ": another process holds it already.", {}};
  auto other = connect(path, false);
  if (!other) return other.error();
  if (const auto ready = prepare((*other)->db(), path); !ready) return ready;
  std::swap(connection_, (*other)->connection_);
  std::swap(device_, (*other)->device_);
  std::swap(inode_, (*other)->inode_);
  path_ = path;
  lock_ = std::move(lock);
  return note("book moved", "from another file");
}

Book::~Book() {
  const QString name = qs(connection_);
  {
    QSqlDatabase open_db = QSqlDatabase::database(name, false);
    if (open_db.isOpen()) open_db.close();
  }
  QSqlDatabase::removeDatabase(name);
}

}  // namespace fortitor
