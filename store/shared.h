// What the keeper of a shared book does: making it, its roles, who is connected.
#pragma once

#include <string>
#include <vector>

#include "core/outcome.h"
#include "store/book.h"

namespace fortitor {

/// Whether what stands for a book is an address on a server, such as postgresql://server/name.
bool is_shared_address(const std::string& path);

/// Makes the tables of a book in an empty database, and its roles; a book that is there only gets the roles that are
/// missing. What it did, as sentences. Errors: no such database, what lies there is no book, no right to make roles.
Outcome<std::vector<std::string>> set_up_shared(const std::string& address, const std::string& who, const Clock& clock);

/// Somebody at a shared book.
struct Connected {
  std::string who, role, from, since;  ///< from: address of the machine, empty on the server itself
};
/// A shared book as its keeper sees it.
struct SharedState {
  std::vector<Connected> connected;
  std::string server;                                      ///< version, in words
  int64_t bytes = 0;                                       ///< of the whole database
  std::vector<std::pair<std::string, std::string>> roles;  ///< a person's login and "reads, tests"
};
Outcome<SharedState> shared_state(const Book& book);

}  // namespace fortitor
