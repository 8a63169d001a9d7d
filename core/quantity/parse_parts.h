// What the files that read typed quantities share. Private to core/quantity.
#pragma once

#include <optional>
#include <string>
#include <string_view>

#include "core/quantity/parse.h"

namespace fortitor::typed {

inline bool is_digit(char c) {
  return c >= '0' && c <= '9';
}

inline std::string in_quotes(std::string_view text) {
  return "“" + std::string(text) + "”";
}

/// One spelling for dashes, quotes, spaces, fractions and powers of ten, without what stands around the text.
std::string trimmed(std::string_view text);

/// "2 ft 3 in", "12 h 30 min", "1:30 h", "1:02:30": a length or a time in units that follow each other downwards. Empty
/// for anything else.
std::optional<Outcome<Quantity>> in_steps(const std::string& typed, Dimension dimension, const TypingContext& context);

}  // namespace fortitor::typed
