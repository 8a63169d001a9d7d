// The colours of a figure on screen, in the light or the dark.
#pragma once

#include "report/figure.h"

namespace fortitor {

FigureColours screen_colours();

}  // namespace fortitor
