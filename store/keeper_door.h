// The connection under a book, for what is about the whole of it: copies, roles. store/ only.
#pragma once

#include "store/book.h"

namespace fortitor {

class KeeperDoor {
 public:
  static QSqlDatabase of(const Book& book) { return book.db(); }
  /// A new connection to a place in which there may be no book yet.
  static Outcome<std::unique_ptr<Book>> connect(const std::string& path) { return Book::connect(path, false); }
};

}  // namespace fortitor
