// The report of a spectrum: numbers of every week and of all, what was chosen, findings with their answers, the
// pictures.
#pragma once

#include <string>

#include "core/outcome.h"
#include "core/quantity/unit.h"
#include "core/spectrum/spectrum.h"

namespace fortitor {

/// Writes .pdf or .html; refuses to write over a file that is there.
Outcome<Done> write_spectrum_report(const spectrum::Spectrum& spectrum, const TestRecord& record,
                                    const std::string& job, UnitSet units, const std::string& path);

}  // namespace fortitor
