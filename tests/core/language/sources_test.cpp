// Sentences stand in the sources, and many of them are shown once in a year: a refusal, a bench that was stopped, a
// disk that ran full. Each that is written whole, and each that is put together of literals and values, has its message
// in every catalogue.
#include <gtest/gtest.h>

#include <algorithm>
#include <filesystem>
#include <fstream>
#include <functional>
#include <iterator>
#include <regex>
#include <set>

#include "core/language/language.h"
#include "core/language/sentences.h"

namespace fortitor::sources_test {
namespace {

namespace fs = std::filesystem;

/// A sentence of a source; nothing the program knows before it runs stands at each gap.
struct Found {
  std::string where;
  std::vector<std::string> pieces;  ///< one more than gaps
};

size_t past_literal(const std::string& s, size_t quote) {
  size_t at = quote + 1;
  while (at < s.size() && s[at] != '"') at += s[at] == '\\' ? 2 : 1;
  return at + 1;
}

// Without comments, raw strings and characters.
std::string code_of(const fs::path& path) {
  std::ifstream in(path, std::ios::binary);
  const std::string s((std::istreambuf_iterator<char>(in)), {});
  std::string out;
  for (size_t i = 0; i < s.size();) {
    if (s[i] == '"' && i > 0 && s[i - 1] == 'R') {
      const size_t open = s.find('(', i);
      const std::string close = ")" + s.substr(i + 1, open - i - 1) + "\"";
      i = std::min(s.size(), s.find(close, open) + close.size());
      out += "\"\"";
    } else if (s[i] == '"') {
      const size_t end = past_literal(s, i);
      out += s.substr(i, end - i);
      i = end;
    } else if (s.compare(i, 2, "//") == 0) {
      i = std::min(s.size(), s.find('\n', i));
    } else if (s[i] == '\'' && i + 3 < s.size() && (s[i + 2] == '\'' || (s[i + 1] == '\\' && s[i + 3] == '\''))) {
      i += s[i + 2] == '\'' ? 3 : 4;
    } else {
      out += s[i++];
    }
  }
  return out;
}

bool adds(const std::string& s, size_t at) {
  return at < s.size() && s[at] == '+' && (at + 1 >= s.size() || (s[at + 1] != '+' && s[at + 1] != '=')) &&
         s[at - 1] != '+';
}

size_t past_value(const std::string& s, size_t at) {
  for (int depth = 0; at < s.size();) {
    const char c = s[at];
    if (c == '"') {
      at = past_literal(s, at);
      continue;
    }
    if (c == '(' || c == '[' || c == '{') ++depth;
    if (c == ')' || c == ']' || c == '}') --depth;
    const bool scope = c == ':' && ((at + 1 < s.size() && s[at + 1] == ':') || s[at - 1] == ':');
    if (depth < 0 ||
        (depth == 0 && ((std::string_view(",;?:").find(c) != std::string_view::npos && !scope) || adds(s, at))))
      return at;
    ++at;
  }
  return at;
}

size_t past_blanks(const std::string& s, size_t at) {
  while (at < s.size() && std::isspace(static_cast<unsigned char>(s[at])) != 0) ++at;
  return at;
}

std::string unescaped(std::string_view literal) {
  std::string out;
  for (size_t i = 0; i < literal.size(); ++i)
    if (literal[i] == '\\' && i + 1 < literal.size())
      out += literal[++i] == 'n' ? '\n' : literal[i];
    else
      out += literal[i];
  return out;
}

// Literals and values that are added, from the literal at `at`; `at` is moved behind them.
std::vector<std::string> chain(const std::string& s, size_t& at) {
  std::vector<std::string> pieces(1);
  for (;;) {
    const size_t end = past_literal(s, at);
    pieces.back() += unescaped(std::string_view(s).substr(at + 1, end - at - 2));
    at = end;
    size_t next = past_blanks(s, at);
    if (next < s.size() && s[next] == '"') {
      at = next;
      continue;
    }
    bool literal = false;
    while (adds(s, next) && !literal) {
      next = past_blanks(s, next + 1);
      literal = next < s.size() && s[next] == '"';
      if (literal) break;
      if (pieces.size() == 1 || !pieces.back().empty()) pieces.emplace_back();
      next = past_blanks(s, past_value(s, next));
    }
    if (!literal) return pieces;
    at = next;
  }
}

constexpr size_t kShortest = 13;  // bytes: a label that is cut short ends with a point too

// What is shown is a sentence: it begins large, ends with a point, and has words.
bool is_sentence(const std::vector<std::string>& pieces) {
  static const std::regex begins("^(“|[A-Z])"), words("[a-z]{3,} [a-z]"),
      query("SELECT|INSERT|CREATE|UPDATE |DELETE |GRANT ");
  std::string all;
  for (const std::string& p : pieces) all += p + "…";
  const std::string& last = pieces.back();
  return std::regex_search(pieces.front(), begins) && std::regex_search(all, words) && !std::regex_search(all, query) &&
         !last.empty() && last.back() == '.' && all.find('\n') == std::string::npos && all.size() >= kShortest;
}

std::vector<Found> sentences() {
  std::vector<Found> out;
  for (const char* floor : {"app", "core", "store", "report"})
    for (const auto& file : fs::recursive_directory_iterator(fs::path(FORTITOR_SOURCE_DIR) / floor)) {
      const std::string name = file.path().lexically_relative(FORTITOR_SOURCE_DIR).string();
      // What the demo tells of its pieces is a person's word; the options of the program are told without a window.
      if (file.path().extension() != ".cpp" || name.rfind("app/demo/", 0) == 0 || name == "app/main.cpp" ||
          name == "app/diary/diary.cpp")
        continue;
      const std::string s = code_of(file.path());
      for (size_t at = s.find('"'); at < s.size(); at = s.find('"', at)) {
        size_t before = at;
        while (before > 0 && std::isspace(static_cast<unsigned char>(s[before - 1])) != 0) --before;
        const bool behind_a_value = before > 1 && adds(s, before - 1);
        const size_t line = size_t(std::count(s.begin(), s.begin() + long(at), '\n')) + 1;
        auto pieces = chain(s, at);
        if (!behind_a_value && is_sentence(pieces))
          out.push_back({name + ":" + std::to_string(line), std::move(pieces)});
      }
    }
  return out;
}

/// Each sentence of several by itself.
std::vector<std::vector<std::string>> parts_of(const std::vector<std::string>& pieces) {
  std::vector<std::vector<std::string>> out(1, {std::string()});
  for (size_t i = 0; i < pieces.size(); ++i) {
    if (i > 0) out.back().emplace_back();
    std::string_view rest = pieces[i];
    for (size_t at = rest.find(". "); at != std::string_view::npos; at = rest.find(". ")) {
      out.back().back() += rest.substr(0, at + 1);
      rest.remove_prefix(at + 2);
      out.push_back({std::string()});
    }
    out.back().back() += rest;
  }
  return out;
}

/// Whether the sentences from `first` are said: each alone, or several as one message.
bool in_groups(const std::vector<std::vector<std::string>>& parts,
               const std::function<bool(const std::vector<std::string>&)>& said, size_t first) {
  if (first == parts.size()) return true;
  std::vector<std::string> group = parts[first];
  for (size_t next = first + 1;; ++next) {
    if (said(group) && in_groups(parts, said, next)) return true;
    if (next == parts.size()) return false;
    group.back() += " " + parts[next].front();
    group.insert(group.end(), parts[next].begin() + 1, parts[next].end());
  }
}

bool in_order(const std::vector<std::string>& pieces, std::string_view message) {
  size_t at = 0;
  for (const std::string& p : pieces) {
    const size_t found = message.find(p, at);
    if (found == std::string_view::npos) return false;
    at = found + p.size();
  }
  return true;
}

TEST(Sources, EverySentenceHasItsMessage) {
  const auto all = sentences();
  EXPECT_GT(all.size(), 500u) << "they are found";
  for (Language l : {Language::german, Language::italian, Language::french, Language::spanish}) {
    const Tongue say(l);
    std::vector<Message> messages;
    for (const auto& [english, said] : catalogue(l))
      if (english.find('{') != std::string::npos) messages.emplace_back(english);
    constexpr size_t kTelling = 8;  // letters of its own, without which a message fits anything
    const auto said = [&](const std::vector<std::string>& pieces) {
      std::string text;
      for (size_t i = 0; i < pieces.size(); ++i) text += (i > 0 ? "QQ" : "") + pieces[i];
      if (pieces.size() == 1) return sentence_in(say, text).has_value();
      return std::ranges::any_of(
                 messages, [&](const Message& m) { return m.weight() >= kTelling && !m.values_in(text).empty(); }) ||
             std::ranges::any_of(catalogue(l), [&](const auto& m) { return in_order(pieces, m.first); });
    };
    for (const Found& f : all) {
      EXPECT_TRUE(in_groups(parts_of(f.pieces), said, 0))
          << language_code(l) << " lacks " << f.where << ": " << testing::PrintToString(f.pieces);
    }
    if (testing::Test::HasFailure()) return;  // the others lack the same
  }
}

// Titles of dialogs, lines of menus, hints in fields: what is handed to be spoken as it stands.
TEST(Sources, EveryLabelHasItsMessage) {
  const std::set<std::string> designations = {"serial:/dev/ttyUSB0@9600", "S355J2, Ti-6Al-4V, ash …",
                                              "hv 0.5kgf 43.2um    snatch 2000 kg 1.2 m/s 20 mm    2 5/8 in to mm"};
  size_t seen = 0;
  for (const auto& file : fs::recursive_directory_iterator(fs::path(FORTITOR_SOURCE_DIR) / "app")) {
    if (file.path().extension() != ".cpp") continue;
    const std::string s = code_of(file.path());
    for (const char* call : {"spoken(", "label(", "button(", "->say(", "file_kinds("})
      for (size_t at = s.find(call); at != std::string::npos; at = s.find(call, at + 1)) {
        size_t end = past_blanks(s, at + std::string_view(call).size());
        if (end >= s.size() || s[end] != '"') continue;
        const auto pieces = chain(s, end);
        end = past_blanks(s, end);
        const std::string& text = pieces.front();
        if (pieces.size() > 1 || adds(s, end) || !has_words(text) || designations.contains(text)) continue;
        ++seen;
        for (Language l : {Language::german, Language::italian, Language::french, Language::spanish})
          EXPECT_TRUE(sentence_in(Tongue(l), text) || value_in(Tongue(l), text) != text)
              << language_code(l) << " lacks " << file.path().filename() << ": " << text;
      }
  }
  EXPECT_GT(seen, 400u);
}

}  // namespace
}  // namespace fortitor::sources_test
