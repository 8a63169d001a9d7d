// What stands in the source: for tests that hold text and code together.
#pragma once

#include <filesystem>
#include <fstream>
#include <regex>
#include <set>
#include <sstream>
#include <string>

namespace fortitor {

inline std::string text_of(const std::filesystem::path& path) {
  std::ifstream in(path);
  std::stringstream out;
  out << in.rdbuf();
  return out.str();
}

/// Codes of the findings that a source raises. They stand before the severity in the same statement, or after ".code =
/// ".
inline std::set<std::string> codes_in(const std::string& code) {
  std::set<std::string> out;
  static const std::regex word(R"re("([a-z0-9]+(?:-[a-z0-9]+)*)")re"), set(R"re(\.code = "([a-z0-9-]+)")re");
  for (size_t at = code.find("Severity::"); at != std::string::npos; at = code.find("Severity::", at + 1)) {
    size_t from = code.find_last_of(";{", at);
    from = from == std::string::npos ? 0 : from + 1;
    const std::string before = code.substr(from, at - from);
    for (std::sregex_iterator it(before.begin(), before.end(), word), end; it != end; ++it) out.insert((*it)[1]);
  }
  for (std::sregex_iterator it(code.begin(), code.end(), set), end; it != end; ++it) out.insert((*it)[1]);
  return out;
}

/// The same without the words of its conditions ("flat" beside a severity): a code of one word stands first in its
/// call.
inline std::set<std::string> raised_in(const std::string& code) {
  std::set<std::string> out;
  for (const std::string& word : codes_in(code))
    if (word.find('-') != std::string::npos) out.insert(word);
  static const std::regex raised(R"re((?:raise\(\s*e,|add\()\s*"([a-z0-9-]+)",\s*Severity)re");
  for (std::sregex_iterator it(code.begin(), code.end(), raised), end; it != end; ++it) out.insert((*it)[1]);
  return out;
}

}  // namespace fortitor
