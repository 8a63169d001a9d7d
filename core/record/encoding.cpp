#include "core/record/encoding.h"

#include <array>
#include <cstdint>

namespace fortitor {
namespace {

void append(std::string& out, uint32_t c) {
  if (c < 0x80) {
    out += char(c);
  } else if (c < 0x800) {
    out += char(0xC0 | c >> 6);
    out += char(0x80 | (c & 0x3F));
  } else if (c < 0x10000) {
    out += char(0xE0 | c >> 12);
    out += char(0x80 | (c >> 6 & 0x3F));
    out += char(0x80 | (c & 0x3F));
  } else {
    out += char(0xF0 | c >> 18);
    out += char(0x80 | (c >> 12 & 0x3F));
    out += char(0x80 | (c >> 6 & 0x3F));
    out += char(0x80 | (c & 0x3F));
  }
}

std::string from_utf16(std::string_view s, bool big) {
  std::string out;
  out.reserve(s.size() / 2);
  auto unit = [&](size_t i) {
    const auto a = static_cast<unsigned char>(s[i]), b = static_cast<unsigned char>(s[i + 1]);
    return uint32_t(big ? a << 8 | b : b << 8 | a);
  };
  for (size_t i = 0; i + 1 < s.size(); i += 2) {
    uint32_t c = unit(i);
    if (c >= 0xD800 && c < 0xDC00 && i + 3 < s.size()) {
      const uint32_t low = unit(i + 2);
      if (low >= 0xDC00 && low < 0xE000) {
        c = 0x10000 + ((c - 0xD800) << 10) + (low - 0xDC00);
        i += 2;
      }
    }
    append(out, c >= 0xD800 && c < 0xE000 ? 0xFFFD : c);
  }
  return out;
}

std::string from_latin1(std::string_view s) {
  // What Windows puts where Latin-1 has control characters; zero: nothing.
  static constexpr std::array<uint16_t, 32> kWindows = {0x20AC, 0,      0x201A, 0x0192, 0x201E, 0x2026, 0x2020, 0x2021,
                                                        0x02C6, 0x2030, 0x0160, 0x2039, 0x0152, 0,      0x017D, 0,
                                                        0,      0x2018, 0x2019, 0x201C, 0x201D, 0x2022, 0x2013, 0x2014,
                                                        0x02DC, 0x2122, 0x0161, 0x203A, 0x0153, 0,      0x017E, 0x0178};
  std::string out;
  out.reserve(s.size() + s.size() / 16);
  for (char ch : s) {
    const unsigned char c = static_cast<unsigned char>(ch);
    append(out, c >= 0x80 && c < 0xA0 ? (kWindows[c - 0x80] != 0 ? kWindows[c - 0x80] : 0xFFFD) : c);
  }
  return out;
}

}  // namespace

bool is_utf8(std::string_view s) {
  for (size_t i = 0; i < s.size();) {
    const unsigned char c = static_cast<unsigned char>(s[i]);
    const size_t more = c < 0x80                ? 0
                        : c >= 0xC2 && c < 0xE0 ? 1
                        : c >= 0xE0 && c < 0xF0 ? 2
                        : c >= 0xF0 && c < 0xF5 ? 3
                                                : 9;
    if (more == 9 || i + more >= s.size()) return false;
    for (size_t k = 1; k <= more; ++k)
      if ((static_cast<unsigned char>(s[i + k]) & 0xC0) != 0x80) return false;
    // Longer than it need be, half of a pair of UTF-16, beyond the last letter: no UTF-8 (RFC 3629, 3).
    const unsigned char next = more > 0 ? static_cast<unsigned char>(s[i + 1]) : 0;
    if ((c == 0xE0 && next < 0xA0) || (c == 0xED && next > 0x9F) || (c == 0xF0 && next < 0x90) ||
        (c == 0xF4 && next > 0x8F))
      return false;
    i += more + 1;
  }
  return true;
}

std::string as_utf8(std::string_view bytes) {
  return is_utf8(bytes) ? std::string(bytes) : from_latin1(bytes);
}

Outcome<DecodedText> decode_text(std::string_view bytes) {
  if (bytes.substr(0, 3) == "\xEF\xBB\xBF") {
    bytes.remove_prefix(3);
    return DecodedText{is_utf8(bytes) ? "utf-8" : "latin-1", as_utf8(bytes)};
  }
  const bool little = bytes.substr(0, 2) == "\xFF\xFE", big = bytes.substr(0, 2) == "\xFE\xFF";
  if (little || big) return DecodedText{"utf-16", from_utf16(bytes.substr(2), big)};
  // Without a mark every other byte of plain western text is zero.
  const std::string_view head = bytes.substr(0, 400);
  size_t even = 0, odd = 0;
  for (size_t i = 0; i < head.size(); ++i)
    if (head[i] == '\0') ++(i % 2 == 0 ? even : odd);
  if (even + odd > 0) {
    if (odd > head.size() / 3 && even == 0) return DecodedText{"utf-16", from_utf16(bytes, false)};
    if (even > head.size() / 3 && odd == 0) return DecodedText{"utf-16", from_utf16(bytes, true)};
    return InputError{"The file is no text: it holds zero bytes.", {}};
  }
  return DecodedText{is_utf8(bytes) ? "utf-8" : "latin-1", as_utf8(bytes)};
}

}  // namespace fortitor
