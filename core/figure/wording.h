// The words of a figure in another language.
#pragma once

#include <functional>
#include <string>

#include "core/figure/figure.h"

namespace fortitor::figure {

/// The figure with every word of it put through `say`: titles, captions, axes, labels, names.
Figure worded(Figure figure, const std::function<std::string(const std::string&)>& say);

}  // namespace fortitor::figure
