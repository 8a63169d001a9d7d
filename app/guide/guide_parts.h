// The parts of the guide that is shipped with the program.
#pragma once

#include <QString>
#include <optional>
#include <vector>

#include "core/methods/method.h"

namespace fortitor {

/// A heading of the guide and the page it stands on.
struct GuidePart {
  QString page;     ///< "user-guide.md", "methods/tension-metal.md"
  QString heading;  ///< its words; of a whole page, its title
  int level = 1;    ///< 3: of one sentence of the Watch, which the list of parts does not show
  QString words;    ///< what stands under it, for those who search
};
/// Every heading of every page, in order.
const std::vector<GuidePart>& guide_parts();
/// Number of the part about a desk, or about a method when a piece is in hand.
size_t guide_for(const QString& desk, const Method* method);
/// Number of the part about a sentence of the Watch; nothing where it has none.
std::optional<size_t> guide_for_finding(const QString& code);

}  // namespace fortitor
