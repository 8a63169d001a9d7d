// Small helpers of store/ only.
#pragma once

#include <QCryptographicHash>
#include <QSqlError>
#include <QSqlQuery>
#include <QString>
#include <QVariant>
#include <string>

#include "core/outcome.h"

namespace fortitor {

inline QString qs(const std::string& s) {
  return QString::fromStdString(s);
}
inline std::string str(const QString& s) {
  return s.toStdString();
}

/// SHA-256 of some bytes, as 64 hexadecimal digits.
inline QString sha256(const QByteArray& data) {
  return QCryptographicHash::hash(data, QCryptographicHash::Sha256).toHex();
}

/// Text for a bind value; never SQL NULL, which an empty QString would be.
inline QVariant text(const std::string& s) {
  return s.empty() ? QString("") : QString::fromStdString(s);
}

/// Why SQLite gave up, in words: a full disk and a read-only folder are told from damage (sqlite.org/rescode.html).
inline std::string cause(const QSqlError& error) {
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
  return {what + ": " + cause(q.lastError()) + ".", {}};
}

}  // namespace fortitor
