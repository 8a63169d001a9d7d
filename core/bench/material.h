// What comes with a material once it is named: its family from the reference library, and what to expect.
#pragma once

#include <string>
#include <vector>

#include "core/methods/method.h"

namespace fortitor::material {

/// Names and aliases of the library, each once, in its order.
std::vector<std::string> names(const ReferenceShelf& shelf);

/// Sets the material of a record as typed. One that the library knows brings its family (and the species, where a
/// method asks for one), unless a person had put another there: what came with the material before goes with it.
void set(TestRecord& record, const Method& method, const FieldSpec& field, const std::string& typed);

/// "E 204–216 GPa · R_m 470–630 MPa": usual values of the record's material; empty when the library does not know it.
std::string usual_words(const TestRecord& record, UnitSet units);

}  // namespace fortitor::material
