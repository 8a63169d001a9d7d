#include "store/own.h"

#include <QFileInfo>
#include <QMetaType>
#include <QSettings>

namespace fortitor::own {
namespace {

struct File : QSettings {
  File() : QSettings(QSettings::IniFormat, QSettings::UserScope, "fortitor", "window") {}
};

// Text of a file is any kind that it can be read as.
template <class T>
T read(const Setting<T>& setting) {
  const QVariant kept = File().value(setting.key);
  QVariant as = kept;
  return kept.isValid() && as.convert(QMetaType::fromType<T>()) ? as.value<T>() : setting.usual;
}

template <class T>
void write(const Setting<T>& setting, const T& value) {
  File().setValue(setting.key, value);
}

}  // namespace

double of(const Setting<double>& setting) {
  return read(setting);
}
bool of(const Setting<bool>& setting) {
  return read(setting);
}
QString of(const Setting<QString>& setting) {
  return read(setting);
}
QStringList of(const Setting<QStringList>& setting) {
  return read(setting);
}
void keep(const Setting<double>& setting, double value) {
  write(setting, value);
}
void keep(const Setting<bool>& setting, bool value) {
  write(setting, value);
}
void keep(const Setting<QString>& setting, const QString& value) {
  write(setting, value);
}
void keep(const Setting<QStringList>& setting, const QStringList& value) {
  write(setting, value);
}

QString folder() {
  return QFileInfo(File().fileName()).absolutePath();
}

}  // namespace fortitor::own
