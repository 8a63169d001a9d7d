// The screenshots of the documentation, taken from the demo book by the running window.
#pragma once

#include <QStringList>

namespace fortitor {

class MainWindow;

/// Writes one PNG per main view into `folder` (made if missing). Returns an exit code.
int write_screenshots(MainWindow& window, const QString& folder, const QStringList& only = {});

}  // namespace fortitor
