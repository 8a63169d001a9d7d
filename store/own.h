// What belongs to the person at this machine and to no book: how the window looks, what it remembers. One file beside
// the log; a value of another kind is what it usually is.
#pragma once

#include <QString>
#include <QStringList>
#include <string>

namespace fortitor::own {

template <class T>
struct Setting {
  const char* key;
  T usual;
};

inline const Setting<double> text_scale{"text_scale", 1.0};  ///< 1 … 2
inline const Setting<bool> dark{"dark", false};
inline const Setting<bool> strong{"high_contrast", false}, calm{"less_motion", false};
inline const Setting<QString> language{"language", {}};                  ///< of the window: "it"; empty: the locale's
inline const Setting<QString> take_key{"take_key", {}};                  ///< beside F8, as QKeySequence writes it
inline const Setting<QStringList> series_columns{"series_columns", {}};  ///< "method/key", in their order
inline const Setting<QStringList> shared_books{"shared_books", {}};      ///< addresses, the last used first

double of(const Setting<double>& setting);
bool of(const Setting<bool>& setting);
QString of(const Setting<QString>& setting);
QStringList of(const Setting<QStringList>& setting);
void keep(const Setting<double>& setting, double value);
void keep(const Setting<bool>& setting, bool value);
void keep(const Setting<QString>& setting, const QString& value);
void keep(const Setting<QStringList>& setting, const QStringList& value);

/// Where the file lies; the log and the traces of what ended badly lie beside it.
QString folder();

}  // namespace fortitor::own
