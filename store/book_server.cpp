// A book on a server: opening it, and who is at what.
#include <QAtomicInt>
#include <QSqlDriver>
#include <QSqlError>
#include <QSqlQuery>

#include "store/book.h"
#include "store/book_file.h"
#include "store/engine.h"
#include "store/schema.h"
#include "store/sql.h"

namespace fortitor {

Outcome<std::unique_ptr<Book>> Book::connect_server(const std::string& address, bool read_only) {
  const auto target = engine::target_of(address);
  if (!target) return target.error();
  static QAtomicInt counter;
  std::unique_ptr<Book> book(new Book);
  book->path_ = address;
  book->read_only_ = read_only;
  book->connection_ = "shared-book-" + std::to_string(counter.fetchAndAddRelaxed(1));
  QSqlDatabase db = QSqlDatabase::addDatabase("QPSQL", qs(book->connection_));
  if (!db.isValid())
    return InputError{address + ": this machine cannot reach shared books: the package libqt6sql6-psql is missing.",
                      {}};
  engine::aim(db, *target);
  if (const auto open = engine::connect(db, read_only); !open)
    return InputError{address + ": the book cannot be opened: " + open.error().message + ".", {}};
  return book;
}

Outcome<std::unique_ptr<Book>> Book::open_server(const std::string& address, const std::string& who, const Clock& clock,
                                                 bool read_only) {
  auto opened = connect_server(address, read_only);
  if (!opened) return opened;
  Book& book = **opened;
  book.clock_ = clock;
  book.set_operator(who);
  const QSqlDatabase db = book.db();
  const int version = schema::version_of(db);
  if (version < 0 || version > schema::newest())
    return InputError{address + (version < 0 ? ": what lies there is no job book. Nothing was changed."
                                             : ": this book was written by a newer Fortitor. Nothing was changed; use "
                                               "the newer program."),
                      {}};
  if (read_only && version == 0) return InputError{address + ": there is no book yet.", {}};
  if (read_only) {
    if (const auto same = schema::compare(db, version); !same)
      return InputError{address + ": " + same.error().message + ".", {}};
    return opened;
  }
  if (version == 0) {
    QSqlQuery q(db);
    if (!q.exec("SELECT COUNT(*) FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace WHERE n.nspname = "
                "'public' AND c.relkind IN ('r', 'v')") ||
        !q.next() || q.value(0).toInt() != 0)
      return InputError{address + ": what lies there is no job book. Nothing was changed.", {}};
  }
  if (version < schema::newest())
    if (const auto done = schema::migrate(db, version, schema::newest()); !done)
      return InputError{address + ": " + done.error().message, {}};
  if (const auto same = schema::compare(db, schema::newest()); !same)
    return InputError{address + ": " + same.error().message + ". Nothing was changed; run fortitorctl check.", {}};
  book.ground_ = std::make_shared<BookServer>();
  if (version == 0) {
    // The first of several that open it at once says so.
    const auto noted = book.change("", "", 0, [&]() -> Outcome<Done> {
      QSqlQuery q(db);
      if (!q.exec("SELECT COUNT(*) FROM logbook") || !q.next()) return sql_error(q, "The logbook could not be read");
      if (q.value(0).toInt() > 0) return Done{};
      return book.log("book begun", "version " + std::to_string(schema::newest()), 0);
    });
    if (!noted) return noted.error();
  }
  QSqlQuery can(db);
  if (can.exec("SELECT has_table_privilege('logbook', 'INSERT')") && can.next() && !can.value(0).toBool()) {
    book.read_only_ = true;
    book.owner_ = "your role on the server reads only";
    book.notices_.push_back("This book is opened to read: your role on the server reads only.");
    book.ground_.reset();
  } else if (can.exec("SELECT has_table_privilege('run', 'INSERT')") && can.next() && can.value(0).toBool()) {
    book.recover_runs();
  }
  return opened;
}

void Book::set_operator(const std::string& who) {
  who_ = who;
  engine::say_who(db(), qs(who));
}

bool Book::shared() const {
  return engine::is_address(path_);
}

void Book::listen(const Heard& heard) {
  heard_ = heard;
  if (!shared()) return;
  QSqlDriver* driver = db().driver();
  if (!listener_) {
    listener_ = std::make_shared<QObject>();
    QObject::connect(driver, &QSqlDriver::notification, listener_.get(),
                     [this](const QString&, QSqlDriver::NotificationSource source, const QVariant& payload) {
                       // "27": a line of the logbook; "run 3": a part of the run of piece 3.
                       if (source != QSqlDriver::OtherSource || !heard_) return;
                       heard_(payload.toString().startsWith("run ") ? Id(payload.toString().mid(4).toLongLong()) : 0);
                     });
  }
  if (!driver->subscribedToNotifications().contains("fortitor")) driver->subscribeToNotification("fortitor");
}

std::map<Id, std::string> Book::at_work() const {
  std::map<Id, std::string> out;
  for (const auto& [piece, who] : engine::at_work(db())) out[piece] = str(who);
  return out;
}

}  // namespace fortitor
