// The curve of an evaluation as a drawing for paper: SVG, and through it PNG and PDF.
#pragma once

#include <string>

#include "core/evaluation/evaluation.h"

namespace fortitor {

struct FigureStyle {
  double width = 520, height = 300;  ///< px
  bool lens = false;                 ///< only the elastic part
  bool both = false;                 ///< whole curve and lens side by side
};

/// SVG of the curve with its constructions in the units of `set`; empty text when there is no curve.
std::string curve_svg(const Evaluation& evaluation, UnitSet set, const FigureStyle& style = {});

}  // namespace fortitor
