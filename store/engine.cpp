#include "store/engine.h"

#include <libpq-fe.h>
#include <poll.h>
#include <sys/socket.h>
#include <cerrno>

#include <QSqlDriver>
#include <QSqlError>
#include <QSqlQuery>
#include <QUrl>
#include <QUrlQuery>

#include "store/sql.h"

namespace fortitor::engine {

bool is_address(const std::string& path) {
  return path.rfind("postgresql://", 0) == 0 || path.rfind("postgres://", 0) == 0;
}

namespace {

// To this machine itself nothing can be listened in on.
bool here(const QString& host) {
  return host.isEmpty() || host.startsWith('/') || host == "localhost" || host == "127.0.0.1" || host == "::1";
}

// A value for libpq's "key=value" words (postgresql.org/docs, libpq, connection strings).
QString quoted(QString value) {
  return "'" + value.replace("\\", "\\\\").replace("'", "\\'") + "'";
}

}  // namespace

Outcome<Target> target_of(const std::string& address) {
  const QUrl url(qs(address), QUrl::StrictMode);
  const auto refuse = [&](const std::string& why) { return InputError{address + ": " + why, {}}; };
  if (!url.isValid()) return refuse("this is no address of a book. It looks like postgresql://server/name.");
  if (!url.password().isEmpty())
    return InputError{
        "A password does not belong into the address of a book, where others read it: put it into ~/.pgpass.", {}};
  Target out;
  out.host = url.host();
  out.user = url.userName();
  out.name = url.path().mid(1);
  out.port = url.port();
  QStringList options;
  QString sslmode;
  for (const auto& [key, value] : QUrlQuery(url).queryItems(QUrl::FullyDecoded)) {
    if (key == "password") return target_of("postgresql://x:x@x/x");
    if (value.contains(';')) return refuse("“" + str(key) + "” holds a semicolon.");
    if (key == "host")
      out.host = value;
    else if (key == "port")
      out.port = value.toInt();
    else if (key == "user")
      out.user = value;
    else if (key == "sslmode")
      sslmode = value;
    else
      options << key + "=" + quoted(value);
  }
  if (out.name.isEmpty() || out.name.contains('/'))
    return refuse("the address names no book. It looks like postgresql://server/name.");
  if (sslmode.isEmpty() && !here(out.host)) sslmode = "verify-full";
  if (!sslmode.isEmpty()) options << "sslmode=" + sslmode;
  // A wire that was pulled says nothing: what is not answered within seconds counts as away.
  options << "connect_timeout=4"
          << "application_name=fortitor"
          << "tcp_user_timeout=4000"
          << "keepalives_idle=3"
          << "keepalives_interval=1"
          << "keepalives_count=3";
  out.options = options.join(';');
  return out;
}

void aim(QSqlDatabase db, const Target& target) {
  db.setHostName(target.host);
  db.setUserName(target.user);
  db.setDatabaseName(target.name);
  if (target.port > 0) db.setPort(target.port);
  db.setConnectOptions(target.options);
}

Outcome<Done> connect(QSqlDatabase db, bool read_only) {
  db.close();
  if (!db.open()) {
    const QString why = db.lastError().databaseText().simplified();
    return InputError{"the server does not answer" + (why.isEmpty() ? std::string() : " (" + str(why) + ")"), {}};
  }
  QSqlQuery q(db);
  if (!q.exec("SHOW server_version_num") || !q.next() || q.value(0).toInt() < 150000)
    return InputError{"a shared book wants PostgreSQL 15 or later", {}};
  QStringList wishes = {"SET lock_timeout = '3s'", "SET synchronous_commit = on", "SET search_path = public, pg_temp",
                        "SET client_min_messages = warning"};
  if (read_only) wishes << "SET default_transaction_read_only = on";
  for (const QString& wish : wishes)
    if (!q.exec(wish)) return InputError{cause(q.lastError()), {}};
  return Done{};
}

bool on_server(const QSqlDatabase& db) {
  return db.driverName() == "QPSQL";
}

namespace {

// The chain has one end; who adds to it holds this lock ("FORT", 1).
constexpr const char* kBegin = "BEGIN";
constexpr const char* kBeginAtChain = "BEGIN; SELECT pg_advisory_xact_lock(1179603540, 1)";

}  // namespace

Outcome<Done> begin_change(const QSqlDatabase& db, bool connect_again, bool to_chain) {
  QSqlQuery q(db);
  const auto refused = [&] { return sql_error(q, "The change could not begin; nothing was changed"); };
  if (!on_server(db)) {
    if (!q.exec("BEGIN IMMEDIATE")) return refused();
    return Done{};
  }
  const char* const begin = to_chain ? kBeginAtChain : kBegin;
  if (q.exec(begin)) return Done{};
  const InputError why = refused();
  q.exec("ROLLBACK");
  if (!connect_again || !lost(db)) return why;
  // Nothing of this change is under way, and what was held is held no more.
  if (const auto again = connect(db, false); !again)
    return InputError{"The change could not begin; nothing was changed: " + again.error().message + ".", {}};
  if (q.exec(begin)) return Done{};
  const InputError still = refused();
  q.exec("ROLLBACK");
  return still;
}

QString begin_reading(const QSqlDatabase& db) {
  return on_server(db) ? "BEGIN ISOLATION LEVEL REPEATABLE READ READ ONLY" : "BEGIN";
}

QString text_in(const QSqlDatabase& db, const QString& column, const QStringList& path) {
  return on_server(db) ? QString("(%1::json #>> '{%2}')").arg(column, path.join(','))
                       : QString("json_extract(%1, '$.%2')").arg(column, path.join('.'));
}

QString first_line(const QSqlDatabase& db, const QString& column) {
  return on_server(db) ? QString("split_part(%1, chr(10), 1)").arg(column)
                       : QString("substr(%1, 1, instr(%1, char(10)) - 1)").arg(column);
}

QString like(const QSqlDatabase& db) {
  return on_server(db) ? "ILIKE" : "LIKE";
}

QString close_run(const QSqlDatabase& db) {
  return on_server(db) ? "SELECT close_run(?, ?, ?, ?)"
                       : "UPDATE run SET closed_at = ?, stopped = ?, interrupted = ? WHERE id = ? AND closed_at = ''";
}

namespace {

// Advisory locks on pieces ("FORU", specimen).
constexpr int kPieceLock = 1179603541;

bool about_piece(const QSqlDatabase& db, const char* what, qlonglong specimen) {
  QSqlQuery q(db);
  return q.exec(QString("SELECT %1(%2, %3)").arg(what).arg(kPieceLock).arg(int(specimen))) && q.next() &&
         q.value(0).toBool();
}

}  // namespace

bool hold(const QSqlDatabase& db, qlonglong specimen) {
  return !on_server(db) || about_piece(db, "pg_try_advisory_lock", specimen);
}

void let_go(const QSqlDatabase& db, qlonglong specimen) {
  if (on_server(db)) about_piece(db, "pg_advisory_unlock", specimen);
}

void say_who(const QSqlDatabase& db, const QString& who) {
  if (!on_server(db)) return;
  QSqlQuery q(db);
  q.prepare("SELECT set_config('application_name', ?, false)");
  q.addBindValue(who.isEmpty() ? QString("fortitor") : "fortitor: " + who);
  q.exec();
}

std::map<qlonglong, QString> at_work(const QSqlDatabase& db) {
  std::map<qlonglong, QString> out;
  if (!on_server(db)) return out;
  QSqlQuery q(db);
  q.exec(QString("SELECT l.objid, a.application_name FROM pg_locks l JOIN pg_stat_activity a ON a.pid = l.pid WHERE "
                 "l.locktype = 'advisory' AND l.classid = %1 AND l.granted AND l.objsubid = 2 AND l.database = (SELECT "
                 "oid FROM pg_database "
                 "WHERE datname = current_database())")
             .arg(kPieceLock));
  while (q.next()) out[q.value(0).toLongLong()] = q.value(1).toString().remove("fortitor: ");
  return out;
}

bool lost(const QSqlDatabase& db) {
  if (!on_server(db)) return false;
  QSqlQuery q(db);
  return !q.exec("SELECT 1");
}

int socket_of(const QSqlDatabase& db) {
  const QVariant handle = db.driver()->handle();
  // Qt names the type as the compiler knows it, behind its alias.
  const QByteArray type = handle.typeName();
  if (!db.isOpen() || (type != "PGconn*" && type != "pg_conn*")) return -1;
  const PGconn* connection = *static_cast<PGconn* const*>(handle.constData());
  return connection != nullptr ? PQsocket(connection) : -1;
}

bool hung_up(const QSqlDatabase& db) {
  if (!on_server(db)) return false;
  const int socket = socket_of(db);
  if (socket < 0) return true;
  // Its last words may still lie there: what ends the connection comes behind them.
  char bytes[512];
  const ssize_t n = ::recv(socket, bytes, sizeof bytes, MSG_PEEK | MSG_DONTWAIT);
  if (n == 0) return true;
  if (n < 0) return errno != EAGAIN && errno != EWOULDBLOCK && errno != EINTR;
  pollfd ended = {socket, POLLRDHUP, 0};
  return ::poll(&ended, 1, 0) > 0 && (ended.revents & (POLLRDHUP | POLLHUP | POLLERR)) != 0;
}

Refusal refusal_of(const InputError& why) {
  const QString code = qs(why.code);
  // Disk, memory, connections; and what the files under the server did not take.
  if (code.startsWith("53") || code == "58030") return Refusal::out_of_room;
  // Rolled back for another's sake, not to be had now, stopped by its keeper, no right (yet), opened to read; and what
  // is the server's own trouble, with its files or itself.
  for (const char* passing : {"08", "25006", "40", "42501", "55", "57", "58", "F0", "XX"})
    if (code.startsWith(passing)) return Refusal::for_now;
  return Refusal::for_good;
}

}  // namespace fortitor::engine
