// Small helpers of store/ only.
#pragma once

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

/// Text for a bind value; never SQL NULL, which an empty QString would be.
inline QVariant text(const std::string& s) {
  return s.empty() ? QString("") : QString::fromStdString(s);
}

inline InputError sql_error(const QSqlQuery& q, const std::string& what) {
  return {what + ": " + q.lastError().text().toStdString() + ".", {}};
}

}  // namespace fortitor
