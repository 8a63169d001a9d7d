// Opening a book, going on with it elsewhere, copies of it.
#include <sqlite3.h>
#include <QAtomicInt>
#include <QFile>
#include <QFileInfo>
#include <QSqlDriver>
#include <QUrl>

#include <sys/stat.h>
#include <unistd.h>

#include <algorithm>

#include "core/record/bounds.h"
#include "store/book.h"
#include "store/book_file.h"
#include "store/copy.h"
#include "store/engine.h"
#include "store/journal.h"
#include "store/pulse.h"
#include "store/schema.h"
#include "store/seal.h"
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

// The log of what was written last lies beside the file itself, whatever links lead to it.
QString log_of(const std::string& path) {
  const QString real = QFileInfo(qs(path)).canonicalFilePath();
  return (real.isEmpty() ? qs(path) : real) + "-wal";
}

// A rollback journal: a book is written with one only while it is made, and when a copy is first opened to write.
QString journal_of(const std::string& path) {
  return log_of(path).chopped(3) + "journal";
}

// It begins with these bytes as long as there is something to roll back (sqlite.org/fileformat2.html, 3).
bool unfinished(const std::string& path) {
  QFile journal(journal_of(path));
  return journal.open(QIODevice::ReadOnly) && journal.read(8) == QByteArray::fromHex("d9d505f920a163d7");
}

// Reading beside a writer wants a shared file next to the book. Where the folder cannot be written and no writer has
// left anything, the file is read as it lies; so it is beside a journal, which a reader cannot roll back.
bool immutable(const std::string& path, bool read_only) {
  if (!read_only) return false;
  const QFileInfo file(qs(path)), log(log_of(path));
  return unfinished(path) || (!QFileInfo(file.absolutePath()).isWritable() && (!log.exists() || log.size() == 0));
}

// A journal may belong to another day of this book, and rolling it back would ruin what lies here: it is kept, apart.
std::string set_aside(const std::string& path) {
  const QString journal = journal_of(path);
  QString aside = journal + ".aside";
  for (int n = 2; QFile::exists(aside); ++n) aside = journal + ".aside-" + QString::number(n);
  return QFile::rename(journal, aside) ? str(aside) : std::string();
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
  if (engine::is_address(path)) return connect_server(path, read_only);
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

// A program that was killed while it made this book left a file in which nothing was ever confirmed: no table at all,
// or the tables of a book without a row, the first of which is a line in the logbook.
bool Book::only_begun(const std::string& path) {
  auto opened = connect(path, true);
  if (!opened) return false;
  const QSqlDatabase db = (*opened)->db();
  QSqlQuery q(db);
  const auto number = [&](const QString& sql) { return q.exec(sql) && q.next() ? q.value(0).toLongLong() : -1; };
  const int version = schema::version_of(db);
  if (number("SELECT COUNT(*) FROM sqlite_master") == 0) return version == 0;
  if (version > schema::newest() || number("PRAGMA application_id") != schema::kApplicationId) return false;
  // One row tells: a large book is not counted at every opening.
  const auto rows = [&](const char* table) {
    return number(QString("SELECT COUNT(*) FROM (SELECT 1 FROM %1 LIMIT 1)").arg(table));
  };
  return rows("logbook") == 0 &&
         std::ranges::none_of(seal::kTables, [&](const seal::Table& t) { return rows(t.name) == 1; });
}

// Everything that refuses a book is looked for by a reader, which changes no byte of it. A log of what was written last
// is part of the book; one that belongs to another book, or to another day of this one, would be written over it.
Outcome<Done> Book::look_at(const std::string& path, const BookFile& file) {
  const QString log = log_of(path);
  const bool with_log = QFileInfo(log).size() > 0, with_journal = unfinished(path);
  const std::string apart = " Nothing was changed. If this file was put here as a copy, move " + str(log) +
                            " (and -shm beside it) away and open it again; what was written last is in there.";
  if (with_log && QFileInfo(qs(path)).size() == 0)
    return InputError{path + ": the file is empty, and beside it lies the log of a book." + apart, {}};
  if (with_log && !file.written_with_log())
    return InputError{path + ": the log beside it belongs to another file." + apart, {}};
  auto opened = connect(path, true);
  if (!opened) return opened.error();
  const QSqlDatabase db = (*opened)->db();
  const int version = schema::version_of(db);
  if (version > schema::newest())
    return InputError{path + ": this book was written by a newer Fortitor (book version " + std::to_string(version) +
                          ", this program reads up to " + std::to_string(schema::newest()) +
                          "). Nothing was changed; use the newer program.",
                      {}};
  if (version <= 0) return InputError{path + ": this file is a database but not a job book. Nothing was changed.", {}};
  if (const auto same = schema::compare(db, version); !same)
    return InputError{path + ": " + same.error().message + ". Nothing was changed; open a copy kept elsewhere.", {}};
  QSqlQuery q(db);
  bool whole = q.exec("PRAGMA quick_check") && q.next() && q.value(0).toString() == "ok";
  q.finish();
  if (whole && (with_log || with_journal)) whole = (*opened)->broken_link() == 0;
  if (!whole && with_journal)
    return InputError{path +
                          ": the book is not whole, and beside it lies the journal of a change that was never "
                          "finished (" +
                          str(journal_of(path)) +
                          "). Nothing was changed; go on with a copy kept "
                          "elsewhere.",
                      {}};
  if (!whole)
    return InputError{
        path + (with_log ? ": with the log beside it the book is not whole." + apart
                         : ": the book is damaged. Nothing was changed; run fortitorctl check and go on with a "
                           "copy kept elsewhere."),
        {}};
  return Done{};
}

Outcome<std::unique_ptr<Book>> Book::open(const std::string& path, const std::string& who, const Clock& clock) {
  if (engine::is_address(path)) return open_server(path, who, clock, false);
  const QFileInfo file(qs(path));
  if (const auto plain = check_plain_file(path); !plain) return plain.error();
  const bool existed = file.exists(), empty = !existed || file.size() == 0;
  if (empty && !QFileInfo(file.absolutePath()).isDir())
    return InputError{path + ": the folder " + str(file.absolutePath()) + " does not exist.", {}};
  const auto reading = [&](const std::string& owner, const std::string& notice) {
    auto reader = open_read_only(path);
    if (!reader) return reader;
    (*reader)->who_ = who;
    (*reader)->clock_ = clock;
    (*reader)->owner_ = owner;
    (*reader)->notices_.push_back(notice);
    return reader;
  };
  // The owner comes first: closing a reader lets go of every lock of this process on the file.
  if (!empty && (!file.isWritable() || !QFileInfo(file.absolutePath()).isWritable()))
    return reading("the file or its folder can only be read",
                   "This book is opened to read: the file or its folder can only be read.");
  auto owned = BookFile::own(path);
  if (!owned) return InputError{path + ": the book cannot be opened to write: " + owned.error().message + ".", {}};
  if (!owned->file) {
    const std::string owner = owned->taken_by + " writes in it";
    return reading(owner, "This book is opened to read: " + owner + ". Close it there to write here.");
  }
  const bool begun = !empty && only_begun(path), fresh = empty || begun;
  if (!begun && (!empty || QFileInfo(log_of(path)).size() > 0))
    if (const auto fine = look_at(path, *owned->file); !fine) {
      if (!existed) QFile::remove(qs(path));
      return fine.error();
    }
  std::string aside;
  if (unfinished(path)) {
    // Made anew from nothing: cut short first, so that a kill between the two leaves an empty file.
    const bool gone =
        fresh ? QFile::resize(qs(path), 0) && QFile::remove(journal_of(path)) : !(aside = set_aside(path)).empty();
    if (!gone)
      return InputError{path +
                            ": the journal of a change that was never finished lies beside the book, and it cannot "
                            "be moved away (" +
                            str(journal_of(path)) + ").",
                        {}};
  }
  auto opened = connect(path, false);
  if (!opened) return opened;
  Book& book = **opened;
  book.ground_ = std::move(owned->file);
  book.who_ = who;
  book.clock_ = clock;
  QSqlDatabase db = book.db();
  QSqlQuery q(db);
  if (!aside.empty())
    book.notices_.push_back(
        "Beside the book lay the journal of a change that was never finished. The book is whole "
        "without it; it is kept as " +
        aside + ".");
  const int version = schema::version_of(db);
  const bool older = version < schema::newest();
  if (older && !fresh) {
    const std::string copy = copy_name(path, version);
    q.prepare("VACUUM INTO ?");
    q.addBindValue(qs(copy));
    if (!q.exec())
      return InputError{
          path + ": no copy could be put aside, so the book was not migrated: " + cause(q.lastError()) + ".", {}};
    q.finish();
    book.notices_.push_back("The book was brought from version " + std::to_string(version) + " to " +
                            std::to_string(schema::newest()) + ". A copy of it as it was lies at " + copy + ".");
  }
  // Before tables are made or brought up to date: with a log a kill leaves nothing that a reader cannot see through.
  if (const auto ready = prepare(db, path); !ready) return ready.error();
  if (older)
    if (const auto done = schema::migrate(db, std::max(version, 0), schema::newest()); !done)
      return InputError{path + ": " + done.error().message, {}};
  book.ground_->remember();
  if (fresh) {
    const auto noted = book.note("book begun", "version " + std::to_string(schema::newest()));
    if (!noted) return noted.error();
  } else if (older) {
    const auto sealed = book.seal_all();
    if (!sealed) return sealed.error();
  }
  book.recover_runs();
  return opened;
}

Outcome<std::unique_ptr<Book>> Book::open(const Pass& pass) {
  if (!pass.ground) return InputError{"The book is open for reading only.", {}};
  auto opened = connect(pass.path, false);
  if (!opened) return opened;
  if (!engine::is_address(pass.path))
    if (const auto ready = prepare((*opened)->db(), pass.path); !ready) return ready.error();
  (*opened)->ground_ = pass.ground;
  (*opened)->who_ = pass.who;
  (*opened)->clock_ = pass.clock;
  (*opened)->shelf_ = pass.shelf;
  return opened;
}

Outcome<std::unique_ptr<Book>> Book::open_read_only(const std::string& path, const ReferenceShelf& shelf) {
  if (engine::is_address(path)) {
    auto opened = open_server(path, {}, {}, true);
    if (opened) (*opened)->shelf_ = shelf;
    return opened;
  }
  if (!QFile::exists(qs(path))) return InputError{path + ": there is no such file.", {}};
  if (const auto plain = check_plain_file(path); !plain) return plain.error();
  auto opened = connect(path, true);
  if (!opened) return opened;
  const int version = schema::version_of((*opened)->db());
  if (version <= 0) return InputError{path + ": this file is not a job book.", {}};
  if (version > schema::newest()) return InputError{path + ": this book was written by a newer Fortitor.", {}};
  if (const auto same = schema::compare((*opened)->db(), version); !same)
    return InputError{path + ": " + same.error().message + ".", {}};
  (*opened)->shelf_ = shelf;
  return opened;
}

Outcome<Done> Book::still_there() const {
  if (ground_) {
    // While another thread of this process writes, the file is on its way from one state to the next.
    if (writing_) return ground_->still_there(path_);
    const std::unique_lock now(ground_->writing(), std::try_to_lock);
    return now ? ground_->still_there(path_) : Outcome<Done>(Done{});
  }
  if (engine::is_address(path_)) return Done{};
  const auto [device, inode] = stat_of(path_);
  if (inode == 0) return InputError{path_ + ": the book's file is gone from its place.", {}};
  if (device != device_ || inode != inode_)
    return InputError{path_ + ": another file lies where the book was opened.", {}};
  return Done{};
}

Outcome<Done> Book::copy_to(const std::string& path) const {
  if (QFile::exists(qs(path))) return InputError{path + " is already there; nothing is overwritten.", {}};
  if (ground_ && ground_->written_over(path_))
    return InputError{
        path_ +
            ": the book was written over or cut short: what is left cannot be copied. Go on with the newest copy of " +
            str(QFileInfo(qs(path_)).completeBaseName()) + ".backups; what is open here stays in the window.",
        {}};
  if (engine::is_address(path_)) return copy_book(*this, path);
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
  if (engine::is_address(path_) || engine::is_address(path))
    return InputError{"A shared book stays where it is; fortitorctl copy makes another of it.", {}};
  if (const auto copied = copy_to(path); !copied) return copied;
  auto owned = BookFile::own(path);
  if (!owned || !owned->file) return InputError{path + ": another process holds it already.", {}};
  auto other = connect(path, false);
  if (!other) return other.error();
  if (const auto ready = prepare((*other)->db(), path); !ready) return ready;
  owned->file->remember();
  std::swap(connection_, (*other)->connection_);
  (*other)->ground_ = std::exchange(ground_, std::shared_ptr<BookFile>(std::move(owned->file)));
  (*other)->path_ = std::exchange(path_, path);
  return note("book moved", "from another file");
}

namespace {

// What lies in a book's place is not to get what this process still had to write: the log stays beside it.
void leave_log_alone(const QSqlDatabase& db) {
  const QVariant handle = db.driver()->handle();
  if (handle.isValid() && qstrcmp(handle.typeName(), "sqlite3*") == 0)
    if (sqlite3* s = *static_cast<sqlite3* const*>(handle.constData()))
      sqlite3_db_config(s, SQLITE_DBCONFIG_NO_CKPT_ON_CLOSE, 1, nullptr);
}

}  // namespace

Book::Book() = default;

Book::~Book() {
  const QString name = qs(connection_);
  pulse_.reset();
  {
    QSqlDatabase open_db = QSqlDatabase::database(name, false);
    if (open_db.isOpen() && ground_ && !ground_->still_there(path_)) leave_log_alone(open_db);
    if (open_db.isOpen()) open_db.close();
  }
  QSqlDatabase::removeDatabase(name);
}

}  // namespace fortitor
