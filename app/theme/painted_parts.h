// Parts of a widget that paints itself, for whoever hears a window instead of seeing it: each has a name, a value, a
// place and, where it can be pressed, a press.
#pragma once

#include <QAccessible>
#include <QRect>
#include <QString>
#include <functional>
#include <vector>

namespace fortitor {

struct PaintedPart {
  QString name, value;
  QRect where;  ///< in the widget
  QAccessible::Role role = QAccessible::ListItem;
  bool current = false;              ///< the one in hand
  std::function<void()> press = {};  ///< empty: it is only read
};

/// A widget that paints parts. Asked for anew each time: what is heard is what is drawn.
class PaintedParts {
 public:
  virtual ~PaintedParts() = default;
  virtual std::vector<PaintedPart> painted_parts() = 0;
};

/// From here on such widgets are heard with their parts, as a list, and controls as heard_controls.h has them. Once a
/// program. While somebody listens, what changed is told after it was drawn (heard_changes.h).
void hear_window();

}  // namespace fortitor
