// What differs between a book in a file (SQLite) and a book on a server (PostgreSQL); everything else in store/ is one
// SQL for both. store/ only.
#pragma once

#include <QSqlDatabase>
#include <QString>
#include <QStringList>
#include <map>
#include <string>

#include "core/outcome.h"

namespace fortitor::engine {

/// "postgresql://host/name", as libpq reads it.
bool is_address(const std::string& path);

/// Where a connection goes, out of an address.
struct Target {
  QString host, user, name, options;  ///< options: "key=value;…" for libpq
  int port = -1;
};
/// Errors: no name of a book; a password, which belongs into libpq's own places. To another machine TLS with
/// verify-full, unless the address itself names another sslmode.
Outcome<Target> target_of(const std::string& address);

/// Points a connection that is not open yet at its target.
void aim(QSqlDatabase db, const Target& target);

/// Opens a connection, or opens it anew after a server was away, and says to the server how it is used. Errors: why it
/// does not answer.
Outcome<Done> connect(QSqlDatabase db, bool read_only);

/// Whether a connection leads to a server.
bool on_server(const QSqlDatabase& db);

/// Begins a change that no other comes into: two benches on one book wait for each other instead of failing half-way. A
/// connection that was cut is made again first, if that is wanted: it may take seconds. A change that adds no line to
/// the logbook (`to_chain` false) waits for nobody on a server.
Outcome<Done> begin_change(const QSqlDatabase& db, bool connect_again = true, bool to_chain = true);
/// Begins reading one moment of the book, though others write on.
QString begin_reading(const QSqlDatabase& db);

/// A text inside of a column of JSON, by its path.
QString text_in(const QSqlDatabase& db, const QString& column, const QStringList& path);
/// The first line of a column of text.
QString first_line(const QSqlDatabase& db, const QString& column);
/// "LIKE" that takes large and small letters for the same.
QString like(const QSqlDatabase& db);
/// Closes an open run, whatever the roles of a server may not do: takes when, why, whether it was interrupted, and
/// which.
QString close_run(const QSqlDatabase& db);
/// A piece that is at work belongs to this connection until it lets go or ends; true in a file, which has one owner.
bool hold(const QSqlDatabase& db, qlonglong specimen);
void let_go(const QSqlDatabase& db, qlonglong specimen);
/// Who a connection is, as the others see it.
void say_who(const QSqlDatabase& db, const QString& who);
/// Pieces that are at work on a server, with who is at them.
std::map<qlonglong, QString> at_work(const QSqlDatabase& db);
/// Whether a server lost this connection: nothing is known of what was asked last.
bool lost(const QSqlDatabase& db);

/// The socket of a connection to a server; -1: there is none.
int socket_of(const QSqlDatabase& db);
/// Whether the server ended this connection, told without asking it anything.
bool hung_up(const QSqlDatabase& db);

/// Why a change failed, by the server's code (postgresql.org/docs, error codes).
enum class Refusal {
  for_good,     ///< what was to be written is not taken, however often it is tried
  for_now,      ///< another bench writes, a role lacks a right: it may be taken later
  out_of_room,  ///< disk, memory or connections of the server are used up
};
Refusal refusal_of(const InputError& why);

}  // namespace fortitor::engine
