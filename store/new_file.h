// The one way to a file on disk: a new one, whole or not at all.
#pragma once

#include <QByteArray>
#include <string>

#include "core/outcome.h"

namespace fortitor {

/// Writes data under a name of its own, has it on disk, then gives it its name. Refuses to write over a file that is
/// there; the error names the cause (a full disk, a read-only folder), and nothing half-written stays.
Outcome<Done> write_new_file(const std::string& path, const QByteArray& data);

}  // namespace fortitor
