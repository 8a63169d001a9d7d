// A book put into another place, file or server: every version, run, seal and line with the same hashes.
#pragma once

#include <functional>
#include <string>

#include "core/outcome.h"
#include "store/book.h"

namespace fortitor {

/// Copies a book into a new file or into an empty database on a server; head and seals are the same afterwards. What
/// was broken off goes on where it stopped when the same book is copied to the same place again. Errors: something is
/// there already; the source moved on since a copy was broken off (it then begins anew).
Outcome<Done> copy_book(const Book& from, const std::string& to, const std::function<void(double)>& progress = {});

}  // namespace fortitor
