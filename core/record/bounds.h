// How much of a file is taken in: asked before anything is unpacked, of what the machine has.
#pragma once

#include <cstddef>
#include <string>

#include "core/outcome.h"

namespace fortitor {

/// Whether something is a plain file, or nothing yet: not a folder, a pipe, a device. Opening one of those may never
/// return, reading one never end. Errors: what it is instead.
Outcome<Done> check_plain_file(const std::string& path);

/// Bytes that one document may take in memory now: a quarter of what the machine has free, 256 MB at least.
size_t room_in_memory();

/// Bytes that an archive of so many bytes may unpack to: fifty times as much (tables of numbers come to ten or twenty),
/// 64 MB at least, never more than room_in_memory().
size_t most_unpacked(size_t packed);

/// Bytes of JSON that are read as a record. A document takes some twenty times its size when it is taken apart; samples
/// of a long run stand in a file beside it.
inline constexpr size_t kMostJson = size_t(32) << 20;

}  // namespace fortitor
