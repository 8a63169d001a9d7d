#include "core/bench/marks.h"

#include <algorithm>
#include <set>

#include "core/quantity/plain.h"

namespace fortitor {
namespace {

constexpr size_t kMost = 500;

std::string stripped(const std::string& s) {
  const size_t first = s.find_first_not_of(" \t\r\n");
  return first == std::string::npos ? std::string() : s.substr(first, s.find_last_not_of(" \t\r\n") - first + 1);
}

void replace_all(std::string& s, const std::string& from, const std::string& to) {
  for (size_t at = s.find(from); at != std::string::npos; at = s.find(from, at + to.size()))
    s.replace(at, from.size(), to);
}

// "B-012" → "B-", "012".
struct NumberedMark {
  std::string stem, digits;
};
NumberedMark parts_of(const std::string& mark) {
  size_t at = mark.size();
  while (at > 0 && mark[at - 1] >= '0' && mark[at - 1] <= '9') --at;
  return {mark.substr(0, at), mark.substr(at)};
}

// Of nine digits at most.
long counted(const std::string& digits) {
  return long(plain::number(digits).value_or(0));
}

std::string numbered(const std::string& stem, long n, size_t width) {
  std::string digits = std::to_string(n);
  if (digits.size() < width) digits.insert(0, width - digits.size(), '0');
  return stem + digits;
}

InputError refused(const std::string& row, const std::string& why) {
  return InputError{"“" + row + "”: " + why, {}};
}

Outcome<std::vector<std::string>> row_of(const std::string& row, const std::string& first, const std::string& last) {
  const NumberedMark a = parts_of(first), b = parts_of(last);
  if (a.digits.empty() || b.digits.empty())
    return refused(row, "a row begins and ends with a number, such as B-1..B-6.");
  if (!b.stem.empty() && b.stem != a.stem) return refused(row, "both ends of a row begin alike.");
  if (a.digits.size() > 9 || b.digits.size() > 9) return refused(row, "those numbers are too large to count.");
  const long from = counted(a.digits), to = counted(b.digits);
  if (to < from) return refused(row, "a row counts upwards.");
  if (size_t(to - from) >= kMost)
    return refused(row, "more than " + std::to_string(kMost) + " pieces at once are not made.");
  std::vector<std::string> out;
  const size_t width =
      a.digits.front() == '0' || b.digits.front() == '0' ? std::max(a.digits.size(), b.digits.size()) : 0;
  for (long n = from; n <= to; ++n) out.push_back(numbered(a.stem, n, width));
  return out;
}

}  // namespace

Outcome<std::vector<std::string>> specimen_marks(const std::string& typed) {
  std::string text = typed;
  for (const char* dots : {"…", "...", " to ", " bis ", " – ", "–"}) replace_all(text, dots, "..");
  replace_all(text, "×", "*");
  for (char& c : text)
    if (c == ';' || c == '\n' || c == '\t') c = ',';
  // Blanks about the signs of a row belong to it; others part two marks.
  for (const char* sign : {"..", "*"}) {
    replace_all(text, std::string(" ") + sign, sign);
    replace_all(text, std::string(sign) + " ", sign);
  }
  std::vector<std::string> rows(1);
  for (char c : text)
    if (c == ',' || c == ' ')
      rows.emplace_back();
    else
      rows.back() += c;
  std::vector<std::string> out;
  for (const std::string& one : rows) {
    const std::string row = stripped(one);
    if (row.empty()) continue;
    std::string lowered = row;
    for (char& c : lowered) c = plain::lower(c);
    if (const size_t at = row.find(".."); at != std::string::npos) {
      const auto marks = row_of(row, stripped(row.substr(0, at)), stripped(row.substr(at + 2)));
      if (!marks) return marks.error();
      out.insert(out.end(), marks->begin(), marks->end());
    } else if (const size_t times = row.find('*'); times != std::string::npos && times > 0) {
      const std::string count = row.substr(0, times), stem = row.substr(times + 1);
      if (stem.empty() || count.find_first_not_of("0123456789") != std::string::npos || count.size() > 4 ||
          counted(count) < 1)
        return refused(row, "how many, and what they begin with: 6 × B-.");
      if (size_t(counted(count)) > kMost)
        return refused(row, "more than " + std::to_string(kMost) + " pieces at once are not made.");
      const NumberedMark from = parts_of(stem);
      const long first = from.digits.empty() || from.digits.size() > 9 ? 1 : counted(from.digits);
      for (long n = 0; n < counted(count); ++n)
        out.push_back(numbered(from.stem, first + n, from.digits.empty() ? 0 : from.digits.size()));
    } else {
      out.push_back(row);
    }
    if (out.size() > kMost) return refused(row, "more than " + std::to_string(kMost) + " pieces at once are not made.");
  }
  std::set<std::string> seen;
  for (const std::string& mark : out)
    if (!seen.insert(mark).second) return refused(mark, "it stands there twice.");
  return out;
}

bool same_mark(const std::string& a, const std::string& b) {
  return plain::lower(a) == plain::lower(b);
}

ScannedMark read_label(const std::string& typed) {
  std::string s = typed;
  const auto trim = [&](const char* what) {
    const size_t from = s.find_first_not_of(what), to = s.find_last_not_of(what);
    s = from == std::string::npos ? std::string() : s.substr(from, to - from + 1);
  };
  trim(" \t\r\n");
  trim("*");  // start and stop of a bar code that are printed with it
  // The address on a printed label says what is what, blanks and all.
  constexpr std::string_view kAddress = "fortitor:";
  if (s.size() > kAddress.size() && plain::lower(s.substr(0, kAddress.size())) == kAddress) {
    s.erase(0, kAddress.size());
    const size_t part = s.rfind('/');
    return part == std::string::npos ? ScannedMark{{}, s} : ScannedMark{s.substr(0, part), s.substr(part + 1)};
  }
  const size_t cut = s.find_first_of("/ ");
  ScannedMark out{cut == std::string::npos ? std::string() : s.substr(0, cut),
                  cut == std::string::npos ? s : s.substr(cut + 1)};
  // A label is one mark, or a job and a mark.
  if (out.mark.find_first_of("/ ") != std::string::npos) return {};
  return out;
}

std::string marks_in_short(const std::vector<std::string>& marks) {
  if (marks.empty()) return {};
  if (marks.size() == 1) return marks[0];
  if (marks.size() == 2) return marks[0] + ", " + marks[1];
  const auto head_of = [](const std::string& m) {
    size_t digits = m.size();
    while (digits > 0 && m[digits - 1] >= '0' && m[digits - 1] <= '9') --digits;
    return digits;
  };
  const std::string &first = marks.front(), &last = marks.back();
  const size_t head = head_of(first);
  if (head == head_of(last) && first.substr(0, head) == last.substr(0, head)) {
    const auto a = plain::whole(first.substr(head)), b = plain::whole(last.substr(head));
    if (a && b && *b - *a + 1 == int64_t(marks.size())) return first + "…" + last.substr(head);
  }
  return first + " and " + std::to_string(marks.size() - 1) + " more";
}

}  // namespace fortitor
