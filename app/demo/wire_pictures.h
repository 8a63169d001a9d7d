// The pictures of docs/wires.md, step by step: real stand-ins that speak, heard by the running window.
#pragma once

#include <QString>

namespace fortitor {

class MainWindow;

/// Writes wire-1.png to wire-4.png into `folder`. Needs fortitor-standins beside the program. Returns an exit code.
int write_wire_pictures(MainWindow& window, const QString& folder);

}  // namespace fortitor
