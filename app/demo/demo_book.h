// The demo: the Tarnfell Cableway's hanger bolts, made by the stand-ins from fixed seeds.
#pragma once

#include <string>

#include "core/outcome.h"
#include "store/book.h"

namespace fortitor {

/// Fills an empty book from the recipe (data/demo/tarnfell.json). Errors name the recipe's key.
Outcome<Done> fill_demo(Book& book, const std::string& recipe_json);

}  // namespace fortitor
