// What compression-solid asks and advises, apart from what it computes. Shared by its files only.
#pragma once

#include "core/methods/method.h"
#include "core/section/section.h"

namespace fortitor::compression {

/// Mean height, mm; 0 when not measured.
double height_of(const TestRecord& record);
/// Least width of the section: what the piece could buckle over.
double least_width(const Section& section, const Shifts& shifts = {});
bool perpendicular(const TestRecord& record);
void describe(Method& method);
Plan plan(const TestRecord& record);

}  // namespace fortitor::compression
