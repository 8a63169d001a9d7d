// The paper of the demo's laboratory: letterhead, customers, people, demand sheets, documents, photographs.
#pragma once

#include "core/json/json.h"
#include "store/book.h"

namespace fortitor {

/// What of `recipe` ("laboratory", "customers", … and "documents" in their order) is paper. The pieces are there
/// already.
Outcome<Done> fill_demo_papers(Book& book, const Json& recipe);

}  // namespace fortitor
