// Tables of the job book and the steps that lead from one version to the next.
#pragma once

#include <QSqlDatabase>
#include <QStringList>

#include "core/outcome.h"

namespace fortitor::schema {

/// Marks a file as a job book ("FORT").
inline constexpr int kApplicationId = 0x464F5254;

/// Version this program writes.
int newest();

/// Version of an open file; 0 for an empty one.
int version_of(const QSqlDatabase& db);

/// Whether the tables, views, triggers and indices of an open file are exactly those of a book of that version. Only
/// sqlite_master is read: nothing that a hostile file may have put there is run.
Outcome<Done> compare(const QSqlDatabase& db, int version);

/// Runs the steps from `from` to `to` (≤ newest()) in one transaction.
Outcome<Done> migrate(QSqlDatabase db, int from, int to);

/// The two halves of an empty book of the newest version, for rows that come from another: its tables; then what guards
/// them, and the mark that makes it a book.
Outcome<Done> make_tables(QSqlDatabase db);
Outcome<Done> make_guards(QSqlDatabase db);

/// SQL of the steps from one version to another, as SQLite reads it.
QStringList statements(int from, int to);

/// The same on a server (store/schema_server.cpp): its tables with the columns of a file's, and what the server itself
/// keeps: append-only, the chain, the newest seals, the call to the other benches.
namespace server {
int version_of(const QSqlDatabase& db);
Outcome<Done> compare(const QSqlDatabase& db, int version);
Outcome<Done> migrate(QSqlDatabase db, int from, int to);
/// One statement of a file's in the words of a server.
QString translated(QString sql);
QStringList guards();
/// Roles of the book, none of which can log in: NAME_reads, NAME_tests, NAME_signs, NAME_keeps. Errors: the connection
/// may not make roles.
Outcome<Done> make_roles(const QSqlDatabase& db);
}  // namespace server

}  // namespace fortitor::schema
