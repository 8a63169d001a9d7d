// The program keeps watch of itself: a log beside the settings, and what was going on when it ended badly. Nothing of
// it leaves the machine.
#pragma once

#include <QString>

namespace fortitor::diary {

/// Keeps the log in that folder from now on (three of a megabyte each, the newest "fortitor.log"), takes the toolkit's
/// own messages into it, and writes a trace to "crash.txt" when the program is struck down. A folder that cannot be
/// written is no reason not to start.
void begin(const QString& folder);
/// One line with the time; from any thread.
void note(const QString& what);
/// Ends the program with that sentence when the toolkit gives up, for want of a display say; before the application is
/// made.
void refuse_politely();
/// The trace of a start before this one that ended badly, put aside under a name with its day; empty: none.
QString last_crash(const QString& folder);

}  // namespace fortitor::diary
