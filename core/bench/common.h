// What is typed once for a series and holds for every piece: fields and limits that are the same for all. The piece
// keeps its own copy, so that its record stands alone.
#pragma once

#include <string>
#include <vector>

#include "core/methods/method.h"

namespace fortitor::common {

/// The fields of a method that hold for a whole series, papers of the equipment included.
std::vector<const FieldSpec*> fields_of(const Method& method);

/// Whether a limit is one of every piece; the others are of the series as a whole ("rm.mean").
bool of_pieces(const std::string& limit_key);

/// Whether anything of the kind is there.
bool any(const TestRecord& record, const Method& method);

/// Copies into `to` what it lacks and `from` has. A slot of equipment is taken whole or not at all: half of one
/// cell and half of another is none. Returns how many fields and limits came over.
int take_over(TestRecord& to, const TestRecord& from, const Method& method);

/// Sets the common part of `to` to that of `from`, also where `from` has nothing.
void set(TestRecord& to, const TestRecord& from, const Method& method);

/// Makes a piece as its series: every field and limit the series has, a slot of equipment as a whole.
void adopt(TestRecord& piece, const TestRecord& series, const Method& method);

/// Brings a piece from what the series was to what it is now: only where it had followed so far.
/// False when nothing changed.
bool follow(TestRecord& piece, const TestRecord& before, const TestRecord& now, const Method& method);

/// Labels of fields and limits that are other than in the series ("Lot or heat"); what the series does not say is no
/// difference.
std::vector<std::string> differences(const TestRecord& piece, const TestRecord& series, const Method& method);

}  // namespace fortitor::common
