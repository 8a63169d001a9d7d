// Bending of beams in three or four points (docs/methods/flexure-beam.md; ISO 178, ISO 13061-3 and -4, ASTM D143).
#pragma once

#include <string>
#include "core/methods/method.h"

namespace fortitor::flexure {

/// How the load sits on the span: bending moment at mid-span M = m·P·L, mid-span deflection
/// δ = k·P·L³/(E·I) (any text on strength of materials; four-point loads are P/2 each).
struct LoadingCase {
  std::string id, label, moment_text, deflection_text;
  double m = 0.25, k = 1.0 / 48;
};
const LoadingCase& loading_case(const std::string& id);

}  // namespace fortitor::flexure

namespace fortitor::methods {

const Method& flexure_beam();

}  // namespace fortitor::methods
