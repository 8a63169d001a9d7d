// A figure that a window can hold: no more points in a line than a screen, magnified, can tell apart.
#pragma once

#include "core/figure/figure.h"

namespace fortitor::figure {

/// Most points of a line: fifty for each pixel of a wide screen, so that a fiftyfold magnification still shows
/// every extreme. Copying and laying out stay under a frame of the screen.
constexpr size_t kMostPoints = 100000;

/// Plain lines of more points keep of each run of samples the least and the largest y, in their order, the ends, and
/// every gap (NaN). Linked figures, whose samples are counted, and traces with anything said of single points are left
/// as they are.
void thin(Figure& figure, size_t most = kMostPoints);

}  // namespace fortitor::figure
