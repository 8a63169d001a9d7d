#include "store/seal.h"

#include <QSqlRecord>
#include <QUrl>

#include "store/schema.h"
#include "store/sha256.h"
#include "store/sql.h"

namespace fortitor::seal {
namespace {

// Type, length and bytes: no two rows hash alike, and 1 is not "1".
void add(Sha256& hash, const QVariant& value) {
  char type = 't';
  QByteArray bytes;
  if (value.isNull()) {
    type = 'n';
  } else if (value.typeId() == QMetaType::LongLong || value.typeId() == QMetaType::ULongLong ||
             value.typeId() == QMetaType::Int) {  // a server's driver gives what is not negative as the second
    type = 'i';
    bytes = QByteArray::number(value.toLongLong());
  } else if (value.typeId() == QMetaType::Double) {
    type = 'd';
    bytes = QByteArray::number(value.toDouble(), 'g', 17);
  } else if (value.typeId() == QMetaType::QByteArray) {
    type = 'b';
    bytes = value.toByteArray();
  } else {
    bytes = value.toString().toUtf8();
  }
  hash.addData(QByteArray(1, type) + QByteArray::number(bytes.size()) + ':');
  hash.addData(bytes);
}

const Table& table_named(const QString& name) {
  for (const Table& t : kTables)
    if (name == t.name) return t;
  qFatal("no sealed table %s", qPrintable(name));
}

}  // namespace

QString subject(const QString& table, const QString& key) {
  return table + "/" + QString::fromLatin1(QUrl::toPercentEncoding(key));
}

Outcome<QString> row_hash(const QSqlDatabase& db, const Table& table, const QString& key) {
  QSqlQuery q(db);
  q.prepare(QString("SELECT * FROM %1 WHERE %2 = ?").arg(table.name, table.key));
  q.addBindValue(key);
  if (!q.exec()) return sql_error(q, "A row of the book could not be read");
  if (!q.next()) {
    if (q.lastError().isValid()) return sql_error(q, "A row of the book could not be read");
    return QString();
  }
  if (QString(table.name) != "run") return row_hash(q.record());
  Sha256 hash;
  const QSqlRecord row = q.record();
  for (int i = 0; i < row.count(); ++i) add(hash, row.value(i));
  if (!q.value("closed_at").toString().isEmpty()) {
    QSqlQuery parts(db);
    parts.prepare("SELECT part, row_count, sha256 FROM run_chunk WHERE run_id = ? ORDER BY part");
    parts.addBindValue(key);
    if (!parts.exec()) return sql_error(parts, "The parts of a run could not be read");
    while (parts.next())
      for (int i = 0; i < 3; ++i) add(hash, parts.value(i));
    if (parts.lastError().isValid()) return sql_error(parts, "The parts of a run could not be read");
  }
  return QString(hash.result().toHex());
}

QString row_hash(const QSqlRecord& row) {
  Sha256 hash;
  for (int i = 0; i < row.count(); ++i) add(hash, row.value(i));
  return hash.result().toHex();
}

QString written(const Seals& seals) {
  QString out;
  for (const auto& [subject, hash] : seals) out += subject + " " + hash + "\n";
  return out;
}

Seals read(const QString& text) {
  Seals out;
  for (const QString& line : text.split('\n', Qt::SkipEmptyParts)) {
    const qsizetype blank = line.indexOf(' ');
    if (blank > 0) out[line.left(blank)] = line.mid(blank + 1);
  }
  return out;
}

Outcome<std::vector<QString>> keys_of(const QSqlDatabase& db, const Table& table) {
  std::vector<QString> keys;
  QSqlQuery q(db);
  if (!q.exec(QString("SELECT %2 FROM %1 ORDER BY %2").arg(table.name, table.key)))
    return sql_error(q, std::string("The table ") + table.name + " cannot be read");
  while (q.next()) keys.push_back(q.value(0).toString());
  if (q.lastError().isValid()) return sql_error(q, std::string("The table ") + table.name + " cannot be read");
  return keys;
}

Outcome<Done> check_row(const QSqlDatabase& db, const char* name, const QString& key) {
  QSqlQuery q(db);
  q.prepare("SELECT sha256 FROM seal WHERE subject = ?");
  q.addBindValue(subject(name, key));
  if (!q.exec()) {
    if (const int version = schema::version_of(db); version >= 0 && version < 4) return Done{};
    return sql_error(q, "The seals of the book could not be read");
  }
  const QString sealed = q.next() ? q.value(0).toString() : QString();
  const auto now = row_hash(db, table_named(name), key);
  if (!now) return now.error();
  if (!sealed.isEmpty() && *now == sealed) return Done{};
  return InputError{std::string("What is stored here (") + name + " " + str(key) +
                        ") is not what its line in the logbook says: the file was damaged or changed from outside. "
                        "Run fortitorctl check, and go on with a backup.",
                    {}};
}

// Fields are separated by a byte that text cannot hold, so that no two lines hash alike.
QString chain_hash(const QString& previous, const QStringList& fields) {
  Sha256 h;
  h.addData(previous.toUtf8());
  for (const QString& f : fields) {
    h.addData(QByteArray(1, '\0'));
    h.addData(f.toUtf8());
  }
  return h.result().toHex();
}

QString Chain::query(int version) {
  return QString("SELECT id, at, who, what, specimen, detail, previous, hash, %1 FROM logbook ORDER BY id")
      .arg(version >= 4 ? "seals" : "NULL");
}

bool Chain::goes_on(const QSqlQuery& row) {
  QStringList fields;
  for (int i = 1; i <= 5; ++i) fields << row.value(i).toString();
  const bool with = !row.value(8).isNull();
  if (with) fields << row.value(8).toString();
  const bool good = (with || !sealed) && row.value(0).toLongLong() == last + 1 && row.value(6).toString() == previous &&
                    row.value(7).toString() == chain_hash(previous, fields);
  sealed = sealed || with;
  last = row.value(0).toLongLong();
  previous = row.value(7).toString();
  return good;
}

}  // namespace fortitor::seal
