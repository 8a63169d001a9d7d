// Compression of solid pieces: metals, plastics, wood (docs/methods/compression-solid.md; ISO 604, ISO 13061-17 and -5,
// ASTM E9).
#pragma once

#include "core/methods/method.h"

namespace fortitor::methods {

const Method& compression_solid();

}  // namespace fortitor::methods
