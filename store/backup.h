// Copies of a book put aside: whole, checked after writing, seven days deep.
#pragma once

#include <string>

#include "core/outcome.h"

namespace fortitor {

/// Writes a checked copy into a folder (made when it is not there) as "NAME-DATE.fortitor" and says where it lies.
/// `date`: ISO, of today. A copy that is not sound is kept under a name that says so. Errors: no room, no such book, a
/// copy that does not hold what the book holds.
Outcome<std::string> back_up(const std::string& book, const std::string& folder, const std::string& date);

/// The copy of the day beside the book, in "NAME.backups"; older ones than the newest seven go, once the new one is
/// sound. Copies that are not sound are named so ("NAME-DATE.unsound.fortitor"), never counted and never removed, nor
/// are copies dated after today. Empty when the day has its copy already.
Outcome<std::string> daily_backup(const std::string& book, const std::string& date);

}  // namespace fortitor
