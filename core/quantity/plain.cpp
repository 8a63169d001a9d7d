#include "core/quantity/plain.h"

#include <charconv>
#include <cmath>

namespace fortitor::plain {
namespace {

void skip_blanks(std::string_view& text) {
  while (!text.empty() && is_space(text.front())) text.remove_prefix(1);
}

// std::from_chars takes no plus sign.
template <class Number>
std::optional<Number> take(std::string_view& text) {
  skip_blanks(text);
  std::string_view rest = text;
  if (rest.size() > 1 && rest.front() == '+' && rest[1] != '-') rest.remove_prefix(1);
  Number value = {};
  const auto [end, error] = std::from_chars(rest.data(), rest.data() + rest.size(), value);
  if (error != std::errc()) return std::nullopt;
  text = rest.substr(size_t(end - rest.data()));
  return value;
}

template <class Number>
std::optional<Number> all_of(std::string_view text) {
  const auto value = take<Number>(text);
  skip_blanks(text);
  return text.empty() ? value : std::nullopt;
}

std::string written(double value, std::chars_format format, int digits) {
  // The largest double has 309 digits before its point.
  char buffer[400];
  const auto [end, error] = std::to_chars(buffer, buffer + sizeof buffer, value, format, digits);
  return error == std::errc() ? std::string(buffer, end) : std::string();
}

}  // namespace

std::string lower(std::string_view text) {
  std::string out(text);
  for (char& c : out) c = lower(c);
  return out;
}

std::optional<double> number(std::string_view text) {
  return all_of<double>(text);
}

std::optional<double> take_number(std::string_view& text) {
  return take<double>(text);
}

std::optional<int64_t> whole(std::string_view text) {
  return all_of<int64_t>(text);
}

std::optional<int64_t> take_whole(std::string_view& text) {
  return take<int64_t>(text);
}

std::string shortest(double value) {
  char buffer[40];
  const auto [end, error] = std::to_chars(buffer, buffer + sizeof buffer, value);
  return error == std::errc() ? std::string(buffer, end) : std::string();
}

std::string fixed(double value, int decimals) {
  return written(value, std::chars_format::fixed, decimals < 0 ? 0 : decimals > 60 ? 60 : decimals);
}

std::string general(double value, int digits) {
  return written(value, std::chars_format::general, digits < 1 ? 1 : digits > 60 ? 60 : digits);
}

std::string padded(int64_t value, int width) {
  const std::string digits = std::to_string(value < 0 ? -value : value);
  const size_t wanted = width > 0 ? size_t(width) : 0;
  return (value < 0 ? "-" : "") + std::string(digits.size() < wanted ? wanted - digits.size() : 0, '0') + digits;
}

}  // namespace fortitor::plain
