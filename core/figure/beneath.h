// The curve of another piece laid under the one in hand.
#pragma once

#include "core/figure/figure.h"

namespace fortitor::figure {

/// Lays the traces of `other` beneath those of `into`, panel by panel where both have the same quantities along both
/// axes: in a tone of their own, with `name` at the first of each panel, without marks, handles or flags. Panels that
/// do not fit are left as they are. Returns whether anything was laid.
bool lay_beneath(Figure& into, const Figure& other, const std::string& name, int tone);

}  // namespace fortitor::figure
