#include "app/spectrum/overview_file.h"

#include <QCryptographicHash>
#include <QDateTime>
#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QSaveFile>
#include <cstring>

namespace fortitor::overview {
namespace {

constexpr char kMagic[8] = {'F', 'T', 'O', 'V', 'E', 'R', '0', '1'};

struct Header {
  char magic[8];
  uint64_t samples, per, entries;
  double rate;
};

}  // namespace

QString folder_of(const QString& book) {
  return book + ".overviews";
}

QString name_of(const fatigue::SignalSpec& spec) {
  QCryptographicHash key(QCryptographicHash::Sha1);
  for (const std::string& path : spec.files) {
    const QFileInfo f(QString::fromStdString(path));
    if (!f.exists()) return {};
    key.addData(f.absoluteFilePath().toUtf8());
    key.addData(QByteArray::number(f.size()));
    key.addData(f.lastModified().toUTC().toString(Qt::ISODateWithMs).toUtf8());
  }
  key.addData(QByteArray::number(spec.rate, 'g', 17) + QByteArray::number(spec.scale, 'g', 17));
  key.addData(QByteArray::fromStdString(spec.format + "|" + spec.column));
  if (spec.sentinel) key.addData(QByteArray::number(*spec.sentinel, 'g', 17));
  return QString::fromLatin1(key.result().toHex()) + ".overview";
}

bool keep(const QString& book, const fatigue::SignalSpec& spec, const Kept& kept) {
  const QString name = name_of(spec);
  if (name.isEmpty() || !QDir().mkpath(folder_of(book))) return false;
  QSaveFile file(folder_of(book) + "/" + name);
  if (!file.open(QIODevice::WriteOnly)) return false;
  Header h{};
  std::memcpy(h.magic, kMagic, 8);
  h.samples = kept.samples;
  h.per = kept.overview.per;
  h.entries = kept.overview.least.size();
  h.rate = kept.rate;
  const qint64 bytes = qint64(h.entries * sizeof(float));
  if (file.write(reinterpret_cast<const char*>(&h), sizeof h) != sizeof h) return false;
  if (file.write(reinterpret_cast<const char*>(kept.overview.least.data()), bytes) != bytes) return false;
  if (file.write(reinterpret_cast<const char*>(kept.overview.largest.data()), bytes) != bytes) return false;
  return file.commit();
}

std::optional<Kept> find(const QString& book, const fatigue::SignalSpec& spec) {
  const QString name = name_of(spec);
  QFile file(folder_of(book) + "/" + name);
  if (name.isEmpty() || !file.open(QIODevice::ReadOnly)) return std::nullopt;
  Header h{};
  if (file.read(reinterpret_cast<char*>(&h), sizeof h) != sizeof h || std::memcmp(h.magic, kMagic, 8) != 0)
    return std::nullopt;
  // What does not fit its own size is no overview.
  if (h.per == 0 || h.entries > (uint64_t(1) << 24) ||
      qint64(sizeof h + 2 * h.entries * sizeof(float)) != file.size() || !(h.rate > 0))
    return std::nullopt;
  Kept k;
  k.samples = h.samples;
  k.rate = h.rate;
  k.overview.per = h.per;
  k.overview.least.resize(h.entries);
  k.overview.largest.resize(h.entries);
  const qint64 bytes = qint64(h.entries * sizeof(float));
  if (file.read(reinterpret_cast<char*>(k.overview.least.data()), bytes) != bytes ||
      file.read(reinterpret_cast<char*>(k.overview.largest.data()), bytes) != bytes)
    return std::nullopt;
  return k;
}

}  // namespace fortitor::overview
