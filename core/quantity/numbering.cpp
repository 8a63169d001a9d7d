#include "core/quantity/numbering.h"

#include <algorithm>

#include "core/quantity/plain.h"

namespace fortitor::numbering {
namespace {

size_t end_of_digits(std::string_view s, size_t from) {
  while (from < s.size() && plain::is_digit(s[from])) ++from;
  return from;
}

std::string_view without_noughts(std::string_view digits) {
  const size_t first = digits.find_first_not_of('0');
  return first == std::string_view::npos ? digits.substr(digits.size()) : digits.substr(first);
}

}  // namespace

bool before(std::string_view a, std::string_view b) {
  size_t i = 0, k = 0;
  while (i < a.size() && k < b.size()) {
    if (plain::is_digit(a[i]) && plain::is_digit(b[k])) {
      const size_t i_end = end_of_digits(a, i), k_end = end_of_digits(b, k);
      const std::string_view m = without_noughts(a.substr(i, i_end - i)), n = without_noughts(b.substr(k, k_end - k));
      if (m.size() != n.size()) return m.size() < n.size();
      if (m != n) return m < n;
      i = i_end;
      k = k_end;
      continue;
    }
    if (a[i] != b[k]) return static_cast<unsigned char>(a[i]) < static_cast<unsigned char>(b[k]);
    ++i;
    ++k;
  }
  if ((i < a.size()) != (k < b.size())) return k < b.size();
  if (a.size() != b.size()) return a.size() < b.size();
  return b < a ? false : a < b;
}

std::string next(std::string_view mark) {
  size_t at = mark.size();
  while (at > 0 && plain::is_digit(mark[at - 1])) --at;
  if (at == mark.size()) return {};
  std::string out(mark);
  for (size_t i = out.size(); i-- > at;) {
    if (out[i] != '9') {
      ++out[i];
      return out;
    }
    out[i] = '0';
  }
  out.insert(at, 1, '1');
  return out;
}

std::vector<std::string> in_runs(const std::vector<std::string>& marks) {
  constexpr size_t kRun = 3;
  std::vector<std::string> sorted = marks, out;
  std::sort(sorted.begin(), sorted.end(), before);
  for (size_t from = 0; from < sorted.size();) {
    size_t to = from + 1;
    while (to < sorted.size() && sorted[to] == next(sorted[to - 1])) ++to;
    if (to - from >= kRun)
      out.push_back(sorted[from] + " … " + sorted[to - 1]);
    else
      out.insert(out.end(), sorted.begin() + long(from), sorted.begin() + long(to));
    from = to;
  }
  return out;
}

}  // namespace fortitor::numbering
