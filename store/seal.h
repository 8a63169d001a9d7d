// What a line of the logbook vouches for: every row of every table by its SHA-256. store/ only.
#pragma once

#include <QSqlDatabase>
#include <QSqlQuery>
#include <QSqlRecord>
#include <QString>
#include <QStringList>
#include <array>
#include <map>
#include <vector>

#include "core/outcome.h"

namespace fortitor::seal {

/// A table and the column that names its rows. Logbook, seals and the parts of runs are covered by other means.
struct Table {
  const char *name, *key;
};
inline constexpr std::array kTables = {Table{"job", "id"},
                                       Table{"series", "id"},
                                       Table{"specimen", "id"},
                                       Table{"run", "id"},
                                       Table{"record", "id"},
                                       Table{"evaluation", "id"},
                                       Table{"signature", "id"},
                                       Table{"equipment", "id"},
                                       Table{"setting", "key"},
                                       Table{"timer", "id"},
                                       Table{"column_mapping", "signature"},
                                       Table{"series_record", "id"},
                                       Table{"spectrum", "id"},
                                       Table{"spectrum_record", "id"},
                                       Table{"entry", "id"},
                                       Table{"document", "id"},
                                       Table{"photograph", "id"},
                                       Table{"key_signature", "id"}};

/// "record/12"; the key is written so that it holds no blank and no line end.
QString subject(const QString& table, const QString& key);

/// SHA-256 over every column of a row with its type and length; a closed run's holds the number, the rows and the
/// digest of each of its parts too. Empty when there is no such row.
Outcome<QString> row_hash(const QSqlDatabase& db, const Table& table, const QString& key);

/// The same of a row that was read whole, of any table but that of runs.
QString row_hash(const QSqlRecord& row);

/// "subject hash", one a line, as the logbook keeps them.
using Seals = std::map<QString, QString>;
QString written(const Seals& seals);
/// Reads such text back; lines of another form are left out.
Seals read(const QString& text);

/// Hash of a line of the logbook: of the line before and its own fields.
QString chain_hash(const QString& previous, const QStringList& fields);

/// Walks the lines of the logbook: each follows from the one before.
struct Chain {
  qlonglong last = 0;   ///< number of the newest line that was walked
  QString previous;     ///< its hash
  bool sealed = false;  ///< a line with seals was there: none without may come
  /// What the walk reads, of a book of that version.
  static QString query(int version);
  /// Takes the row of that query as the next line; false when it does not follow.
  bool goes_on(const QSqlQuery& row);
};

/// Keys of all rows of a table.
Outcome<std::vector<QString>> keys_of(const QSqlDatabase& db, const Table& table);

/// Whether the row is what its newest line in the logbook says; the error is a sentence. Books before version 4 have
/// no seals and always pass.
Outcome<Done> check_row(const QSqlDatabase& db, const char* table, const QString& key);

}  // namespace fortitor::seal
