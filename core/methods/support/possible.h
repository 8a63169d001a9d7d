// What is physically possible: a number outside was typed or labelled in the wrong unit, whatever else it is.
#pragma once

#include "core/methods/method.h"

namespace fortitor::possible {

/// Bounds of a result, a field or a column of a table. Wide on purpose: inside lies everything that any laboratory
/// tests, so that what lies outside needs no knowledge of the piece.
struct Bound {
  const char* method;  ///< "" for every method
  const char* family;  ///< word of the material's family; "" for every one
  const char* what;    ///< result key, path of a field, or "table.column"
  double low, high;    ///< internal units
  const char* why;     ///< "no laminate is softer or stiffer"
};
const std::vector<Bound>& bounds();

/// `cannot-be`: one finding that names every result, entry and reading outside its bounds, with what to look at.
void judge(Evaluation& e, const TestRecord& record, const Method& method);

/// Adds a sentence of a method's own to that finding: what cannot be between two of its numbers.
void cannot_be(Evaluation& e, const std::string& sentence, const std::string& result_key);

}  // namespace fortitor::possible
