// Numbers that a test writes or reads for itself, as C writes them, whatever locale the test runs in.
#pragma once

#include <clocale>
#include <cstdarg>
#include <cstdio>
#include <cstdlib>
#include <string>

#include <locale.h>

namespace fortitor {

inline locale_t c_locale() {
  static const locale_t c = ::newlocale(LC_ALL_MASK, "C", nullptr);
  return c;
}

#ifdef __GNUC__
__attribute__((format(printf, 3, 4)))
#endif
inline int
c_snprintf(char* text, size_t room, const char* format, ...) {
  const locale_t before = ::uselocale(c_locale());
  va_list values;
  va_start(values, format);
  const int n = std::vsnprintf(text, room, format, values);
  va_end(values);
  ::uselocale(before);
  return n;
}

// std::to_string(double): six digits after the point.
inline std::string c_number(double v) {
  char text[350];  // the largest number has 309 digits before the point
  c_snprintf(text, sizeof text, "%f", v);
  return text;
}

inline double c_strtod(const char* text, char** end) {
  return ::strtod_l(text, end, c_locale());
}

}  // namespace fortitor
