#include "store/backup.h"

#include <QDate>
#include <QDir>
#include <QFileInfo>
#include <algorithm>
#include <vector>

#include "store/book.h"
#include "store/engine.h"
#include "store/sql.h"

namespace fortitor {
namespace {

constexpr size_t kKept = 7;

QString name_of(const std::string& book) {
  if (engine::is_address(book)) {
    const auto target = engine::target_of(book);
    return target ? target->name : QString("book");
  }
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
  std::string why;
  {
    auto copy = Book::open_read_only(str(target));
    if (!copy) {
      why = copy.error().message;
    } else {
      const auto damage = (*copy)->verify();
      // The book may have gone on meanwhile: its copy holds at least what it held.
      const auto holds = (*copy)->check_head(head);
      if (!damage.empty() || !holds) why = holds ? damage.front().what : holds.error().message;
    }
  }
  if (why.empty()) {
    // Whoever keeps a shared book wants to see at every bench when that was; a reader's backup is as good.
    if (engine::is_address(path))
      if (auto writer = Book::open(path, qEnvironmentVariable("USER", "keeper").toStdString());
          writer && !(*writer)->read_only())
        if (const auto noted = (*writer)->note("backup written", str(target)); !noted) return noted.error();
    return str(target);
  }
  // It is kept, since it may be all there is, under a name that says what it is.
  QString unsound = stem + ".unsound.fortitor";
  for (int n = 2; QFile::exists(unsound); ++n) unsound = stem + "-" + QString::number(n) + ".unsound.fortitor";
  const bool named = QFile::rename(target, unsound);
  return InputError{str(named ? unsound : target) + ": the copy is not sound: " + why +
                        ". Older backups were left as they are; run fortitorctl check on the book.",
                    {}};
}

namespace {

// Day of a copy, "NAME-2026-11-27.fortitor" or "NAME-2026-11-27-2.fortitor"; no day for anything else.
QDate day_of(const QString& file, const QString& name) {
  if (!file.startsWith(name + "-") || file.endsWith(".unsound.fortitor")) return {};
  return QDate::fromString(file.mid(name.size() + 1, 10), Qt::ISODate);
}

// Which copies may go: sound ones beyond the newest seven. A clock that was wrong takes none with it: copies from days
// that are still to come are neither counted nor removed, and after a leap of the clock nothing is.
QStringList outdated(const QDir& dir, const QString& name, const QDate& today) {
  constexpr int kLeap = 31;  // days without a copy; a closed laboratory loses nothing by keeping one more
  std::vector<std::pair<QDate, QString>> copies;
  for (const QString& file : dir.entryList({name + "-*.fortitor"}, QDir::Files, QDir::Name))
    if (const QDate day = day_of(file, name); day.isValid() && day <= today) copies.emplace_back(day, file);
  std::sort(copies.begin(), copies.end());
  QStringList out;
  if (copies.size() < 2 || copies[copies.size() - 2].first.daysTo(today) > kLeap) return out;
  for (size_t i = 0; i + kKept < copies.size(); ++i) out << copies[i].second;
  return out;
}

}  // namespace

Outcome<std::string> daily_backup(const std::string& path, const std::string& date) {
  if (engine::is_address(path)) return std::string();  // its keeper's, once for all benches
  const QFileInfo info(qs(path));
  const QDir dir(info.absolutePath() + "/" + name_of(path) + ".backups");
  if (QFile::exists(dir.filePath(name_of(path) + "-" + qs(date) + ".fortitor"))) return std::string();
  auto made = back_up(path, str(dir.path()), date);
  if (!made) return made;
  for (const QString& file : outdated(dir, name_of(path), QDate::fromString(qs(date), Qt::ISODate)))
    QFile::remove(dir.filePath(file));
  return made;
}

}  // namespace fortitor
