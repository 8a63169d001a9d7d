// Tables of the job book and the steps that lead from one version to the next.
#pragma once

#include <QSqlDatabase>

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

}  // namespace fortitor::schema
