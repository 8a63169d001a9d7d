// Painted widgets tell who listens what changed: after each drawing their parts are held against those told before.
#pragma once

#include <QAccessible>
#include <vector>

#include "app/theme/painted_parts.h"

namespace fortitor {

/// One thing to tell about the parts of a widget.
struct HeardChange {
  QAccessible::Event what;
  int part = -1;  ///< -1: the widget as a whole
  bool operator==(const HeardChange&) const = default;
};

/// What is to be told when `was` became `is`: a part more or less, another name or value, another one in hand. Where so
/// much changed that nobody would listen to it one by one, only that all is new.
std::vector<HeardChange> heard_changes(const std::vector<PaintedPart>& was, const std::vector<PaintedPart>& is);

/// From here on, while an assistive technology listens. Once a program, by `hear_window`.
void tell_changes();

}  // namespace fortitor
