// Editions of the standards by which the methods work, for documents that have to name them.
#pragma once

#include <string>

namespace fortitor::lab {

/// "ISO 6892-1, ASTM E8/E8M" → "ISO 6892-1:2019, ASTM E8/E8M-22". A designation of no known edition stays as it is.
std::string with_editions(const std::string& standards);

}  // namespace fortitor::lab
