#include "store/backup.h"

#include <QDir>
#include <QFileInfo>

#include "store/book.h"
#include "store/sql.h"

namespace fortitor {
namespace {

constexpr int kKept = 7;

QString name_of(const std::string& book) {
  return QFileInfo(qs(book)).completeBaseName();
}

}  // namespace

Outcome<std::string> back_up(const std::string& path, const std::string& folder, const std::string& date) {
  auto book = Book::open_read_only(path);
  if (!book) return book.error();
  if (!QDir().mkpath(qs(folder))) return InputError{folder + ": the folder cannot be made.", {}};
  const QString stem = QDir(qs(folder)).filePath(name_of(path) + "-" + qs(date));
  QString target = stem + ".fortitor";
  for (int n = 2; QFile::exists(target); ++n) target = stem + "-" + QString::number(n) + ".fortitor";
  const ChainHead head = (*book)->head();
  if (const auto copied = (*book)->copy_to(str(target)); !copied) return copied.error();
  auto copy = Book::open_read_only(str(target));
  if (!copy) return copy.error();
  const auto damage = (*copy)->verify();
  // The book may have gone on meanwhile: its copy holds at least what it held.
  if (const auto holds = (*copy)->check_head(head); !holds || !damage.empty())
    return InputError{str(target) +
                          ": the copy is not sound: " + (holds ? damage.front().what : holds.error().message) +
                          ". Older backups were left as they are; run fortitorctl check on the book.",
                      {}};
  return str(target);
}

Outcome<std::string> daily_backup(const std::string& path, const std::string& date) {
  const QFileInfo info(qs(path));
  const QDir dir(info.absolutePath() + "/" + name_of(path) + ".backups");
  if (QFile::exists(dir.filePath(name_of(path) + "-" + qs(date) + ".fortitor"))) return std::string();
  auto made = back_up(path, str(dir.path()), date);
  if (!made) return made;
  // Names hold the date: their order is that of the days.
  const QStringList all = dir.entryList({name_of(path) + "-*.fortitor"}, QDir::Files, QDir::Name);
  for (qsizetype i = 0; i + kKept < all.size(); ++i) QFile::remove(dir.filePath(all[i]));
  return made;
}

}  // namespace fortitor
