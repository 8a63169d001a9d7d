// A figure in the words of the window, before it is laid out: words get the room that they take in its language.
#pragma once

#include "app/theme/spoken.h"
#include "core/figure/wording.h"

namespace fortitor {

inline Figure said_figure(Figure figure) {
  if (tongue().english()) return figure;
  return figure::worded(std::move(figure), [](const std::string& words) { return spoken(words).toStdString(); });
}

}  // namespace fortitor
