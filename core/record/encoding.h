// How the bytes of a machine's file spell their letters.
#pragma once

#include <string>
#include <string_view>

#include "core/outcome.h"

namespace fortitor {

struct DecodedText {
  std::string encoding;  ///< "utf-8", "utf-16", "latin-1"
  std::string text;      ///< UTF-8 without a byte order mark
};

/// Text of a file as UTF-8. UTF-8 and UTF-16 are known by their marks or by their bytes; what is neither is read as
/// Latin-1 (with the signs that Windows puts at 0x80 to 0x9F). Error: bytes that are no text.
Outcome<DecodedText> decode_text(std::string_view bytes);

bool is_utf8(std::string_view bytes);
/// What is no UTF-8 is read as Latin-1, as in decode_text(): a line of an instrument, which has no mark of its own.
std::string as_utf8(std::string_view bytes);

}  // namespace fortitor
