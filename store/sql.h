// Small helpers of store/ only.
#pragma once

#include <QSqlError>
#include <QSqlQuery>
#include <QString>
#include <QVariant>
#include <string>

#include "core/outcome.h"
#include "store/sha256.h"

namespace fortitor {

inline QString qs(const std::string& s) {
  return QString::fromStdString(s);
}
inline std::string str(const QString& s) {
  return s.toStdString();
}

/// SHA-256 of some bytes, as 64 hexadecimal digits.
inline QString sha256(const QByteArray& data) {
  return Sha256::of(data).toHex();
}

/// Text for a bind value; never SQL NULL, which an empty QString would be.
inline QVariant text(const std::string& s) {
  return s.empty() ? QString("") : QString::fromStdString(s);
}

/// Why a server gave up, in words (postgresql.org/docs, error codes); its own words where there is nothing better.
inline std::string server_cause(const QSqlError& error) {
  const QString code = error.nativeErrorCode();
  if (code == "42501") return "the server refuses it to this role";
  if (code == "25006") return "the book is opened to read";
  if (code == "53100") return "the disk of the server is full";
  if (code == "55P03" || code == "40P01") return "another bench is writing in the book";
  if (code == "23505") return "another bench was faster";
  if (code.startsWith("08") || code.startsWith("57P") || code.isEmpty()) return "the server does not answer";
  // "ERROR:  a closed run is never changed\nCONTEXT: …\n(P0001) QPSQL: …"
  return error.databaseText().section('\n', 0, 0).remove("ERROR:").trimmed().toStdString();
}

/// Why a database gave up, in words: a full disk and a read-only folder are told from damage (sqlite.org/rescode.html).
inline std::string cause(const QSqlError& error) {
  if (error.nativeErrorCode().size() == 5 || error.driverText().contains("QPSQL")) return server_cause(error);
  switch (error.nativeErrorCode().toInt() & 0xff) {
    case 5:
    case 6: return "another process is writing in the book";
    case 8: return "the file or its folder can only be read";
    case 10: return "the disk did not take or give the data (input/output error)";
    case 11: return "the file is damaged";
    case 13: return "the disk is full";
    case 14: return "the file cannot be opened; its folder may be read-only";
    case 26: return "the file is no database";
    default: return error.text().toStdString();
  }
}

/// Errors: what is no name to anybody: control characters, more than 200 letters.
inline Outcome<Done> check_name(const std::string& name, const std::string& what) {
  const QString letters = qs(name);
  if (letters.size() > 200) return InputError{what + " has more than 200 letters.", {}};
  for (const QChar c : letters)
    if (c.category() == QChar::Other_Control)
      return InputError{what + " holds a line end or another character that cannot be seen.", {}};
  return Done{};
}

inline InputError sql_error(const QSqlQuery& q, const std::string& what) {
  const QSqlError why = q.lastError();
  return {what + ": " + cause(why) + ".", {}, str(why.nativeErrorCode())};
}

}  // namespace fortitor
