#include "store/new_file.h"

#include <unistd.h>
#include <QFile>

namespace fortitor {

Outcome<Done> write_new_file(const std::string& path, const QByteArray& data) {
  const QString name = QString::fromStdString(path);
  if (QFile::exists(name))
    return InputError{path + ": is already there; nothing is overwritten. Choose another name.", {}};
  QFile file(name + ".part-" + QString::number(::getpid()));
  // Taken away by name: the file cannot even be closed without writing what it still holds.
  auto fail = [&](const std::string& why) {
    const QString part = file.fileName();
    file.close();
    QFile::remove(part);
    return InputError{path + ": cannot be written: " + why + ".", {}};
  };
  if (!file.open(QIODevice::WriteOnly))
    return InputError{path + ": cannot be written: " + file.errorString().toStdString() + ".", {}};
  if (file.write(data) != data.size() || !file.flush()) return fail(file.errorString().toStdString());
  if (::fsync(file.handle()) != 0) return fail("the disk did not take it");
  file.close();
  if (!file.rename(name)) return fail(file.errorString().toStdString());  // never over a file that came to be meanwhile
  return Done{};
}

}  // namespace fortitor
