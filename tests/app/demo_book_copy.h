// The demo's book for the window's tests: filled once for a build and an hour, copied for every test.
#pragma once

#include <QCoreApplication>
#include <QCryptographicHash>
#include <QDir>
#include <QFile>
#include <QFileInfo>

#include "app/demo/demo_book.h"
#include "store/book.h"
#include "tests/test_clock.h"

namespace fortitor {

/// Puts the demo's book at `path`. Empty: done; else what went wrong.
inline std::string copy_demo_book(const QString& path) {
  QFile recipe(":/demo/tarnfell.json");
  if (!recipe.open(QIODevice::ReadOnly)) return "the recipe is missing";
  const QByteArray text = recipe.readAll();
  QCryptographicHash key(QCryptographicHash::Sha1);
  key.addData(text);
  key.addData(QFileInfo(QCoreApplication::applicationFilePath()).lastModified().toString(Qt::ISODateWithMs).toUtf8());
  key.addData(test_time().toUTC().toString(Qt::ISODate).toUtf8());
  const QString kept = QDir::tempPath() + "/fortitor-demo-" + QString::fromLatin1(key.result().toHex()) + ".fortitor";
  if (!QFile::exists(kept)) {
    // Several tests may fill at once: each its own, the first to be ready is kept.
    const QString own = kept + "." + QString::number(QCoreApplication::applicationPid());
    {
      auto book = Book::open(own.toStdString(), "R. Vale", test_clock());
      if (!book) return book.error().message;
      const auto filled = fill_demo(**book, text.toStdString());
      if (!filled) return filled.error().message;
    }
    QFile::rename(own, kept);
    QFile::remove(own);
  }
  return QFile::copy(kept, path) ? "" : "the demo's book could not be copied";
}

}  // namespace fortitor
