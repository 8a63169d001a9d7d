#include "core/language/language.h"

#include <algorithm>
#include <mutex>

#include "core/quantity/date.h"
#include "core/quantity/plain.h"

namespace fortitor {

extern const std::string_view kGerman, kItalian, kFrench, kSpanish;

namespace {

std::mutex guard;
std::set<std::string> missed_phrases;

// What stands between quotes: \n, \", \\.
Outcome<std::string> unquoted(std::string_view line, size_t number) {
  const auto wrong = [&] { return InputError{"line " + std::to_string(number) + ": expected a text in quotes", {}}; };
  const size_t open = line.find('"'), close = line.rfind('"');
  if (open == std::string_view::npos || close <= open) return wrong();
  std::string out;
  for (size_t i = open + 1; i < close; ++i) {
    if (line[i] != '\\') {
      out += line[i];
    } else if (++i < close) {
      out += line[i] == 'n' ? '\n' : line[i] == 't' ? '\t' : line[i];
    } else {
      return wrong();
    }
  }
  return out;
}

std::string with_values(std::string_view message, const std::map<std::string, std::string>& values) {
  std::string out;
  // In one pass: a value that looks like a name of another is left as it is.
  for (size_t at = 0; at < message.size();) {
    const size_t open = message.find('{', at);
    const size_t shut = open == std::string_view::npos ? open : message.find('}', open);
    if (shut == std::string_view::npos) return out.append(message.substr(at));
    out += message.substr(at, open - at);
    const auto it = values.find(std::string(message.substr(open + 1, shut - open - 1)));
    out += it == values.end() ? std::string(message.substr(open, shut - open + 1)) : it->second;
    at = shut + 1;
  }
  return out;
}

}  // namespace

std::string_view language_code(Language l) {
  constexpr std::string_view codes[] = {"en", "de", "it", "fr", "es"};
  return codes[size_t(l)];
}

std::optional<Language> language_of(std::string_view code) {
  for (Language l : kLanguages)
    if (language_code(l) == code) return l;
  return std::nullopt;
}

std::string_view language_name(Language l) {
  constexpr std::string_view names[] = {"English", "Deutsch", "Italiano", "Français", "Español"};
  return names[size_t(l)];
}

Outcome<Catalogue> read_catalogue(std::string_view po) {
  Catalogue out;
  // Entries in the order in which they may stand: an entry of one and of many has all four.
  enum Part { id, many_id, text, many_text, none };
  std::string parts[4];
  Part state = none;
  size_t number = 0;
  const auto close = [&] {
    if (parts[id].empty() && !parts[text].empty())
      out.none_is_one = parts[text].find("plural=(n > 1)") != std::string::npos;
    else if (!parts[text].empty())
      out.phrases[parts[id]] = parts[many_id].empty() ? parts[text] : with_values(parts[text], {{"n", "1"}});
    if (!parts[many_id].empty() && !parts[many_text].empty()) {
      out.phrases[parts[many_id]] = parts[many_text];
      out.of_one[parts[many_id]] = parts[text];
    }
    for (std::string& part : parts) part.clear();
    state = none;
  };
  constexpr std::pair<std::string_view, Part> kBegin[] = {
      {"msgid ", id}, {"msgid_plural ", many_id}, {"msgstr ", text}, {"msgstr[0] ", text}, {"msgstr[1] ", many_text}};
  for (size_t at = 0; at < po.size();) {
    const size_t end = std::min(po.find('\n', at), po.size());
    std::string_view line = po.substr(at, end - at);
    at = end + 1;
    ++number;
    if (line.ends_with('\r')) line.remove_suffix(1);
    if (line.empty() || line[0] == '#') continue;
    const auto wrong = [&](const char* what) { return InputError{"line " + std::to_string(number) + ": " + what, {}}; };
    Part begins = none;
    for (const auto& [word, part] : kBegin)
      if (line.starts_with(word)) begins = part;
    if (begins == none && line[0] != '"') return wrong("expected msgid, msgstr or a text");
    if (begins == none && state == none) return wrong("a text that belongs to nothing");
    if (begins == id) close();
    if (begins == text && state != id && state != many_id) return wrong("msgstr without msgid");
    if ((begins == many_id && state != id) || (begins == many_text && (state != text || parts[many_id].empty())))
      return wrong("a form of many without one");
    if (begins != none) state = begins;
    const auto part = unquoted(line, number);
    if (!part) return part.error();
    parts[state] += *part;
  }
  close();
  return out;
}

namespace {

const Catalogue& whole_catalogue(Language l) {
  static const std::vector<Catalogue> all = [] {
    std::vector<Catalogue> read(1);
    for (const std::string_view po : {kGerman, kItalian, kFrench, kSpanish}) {
      auto one = read_catalogue(po);
      read.push_back(one ? std::move(*one) : Catalogue{});  // a test reads them and says where they are wrong
    }
    return read;
  }();
  return all[size_t(l)];
}

}  // namespace

const Phrases& catalogue(Language l) {
  return whole_catalogue(l).phrases;
}

bool has_words(std::string_view text) {
  constexpr std::string_view kShort[] = {"at", "of", "to", "on", "or", "no", "is", "as"};
  size_t from = 0;
  for (size_t i = 0; i <= text.size(); ++i) {
    if (i < text.size() && plain::is_letter(text[i])) continue;
    const std::string_view word = text.substr(from, i - from);
    from = i + 1;
    int run = 0;
    for (char c : word) {
      run = plain::is_lower(c) ? run + 1 : 0;
      if (run >= 3) return true;
    }
    for (std::string_view one : kShort)
      if (word == one) return true;
  }
  return false;
}

namespace {

// "Lot" begins a line, "GPa" and "a" do not.
bool begins_large(std::string_view english) {
  return english.size() > 1 && english[0] >= 'A' && english[0] <= 'Z' && plain::is_lower(english[1]);
}

// The first letter large, also those of two bytes (é, U+00E9, is C3 A9 and É is C3 89).
std::string with_large_first(std::string text) {
  if (text.empty()) return text;
  if (plain::is_lower(text[0])) {
    text[0] = plain::upper(text[0]);
  } else if (text.size() > 1 && text[0] == '\xC3' && text[1] >= '\xA0' && text[1] <= '\xBE' && text[1] != '\xB7') {
    text[1] = char(text[1] - 0x20);
  }
  return text;
}

}  // namespace

std::string begun_as(std::string_view english, std::string said) {
  return begins_large(english) ? with_large_first(std::move(said)) : said;
}

std::optional<std::string> Tongue::known(std::string_view english) const {
  if (this->english()) return std::string(english);
  const auto& phrases = catalogue(language_);
  const auto it = phrases.find(english);
  if (it == phrases.end()) return std::nullopt;
  return begun_as(english, it->second);
}

std::string Tongue::operator()(std::string_view english) const {
  if (auto said = known(english)) return *said;
  if (has_words(english)) {
    const std::lock_guard one_at_a_time(guard);
    missed_phrases.insert(std::string(language_code(language_)) + ": " + std::string(english));
  }
  return std::string(english);
}

std::string Tongue::operator()(std::string_view english, const std::map<std::string, std::string>& values) const {
  const Catalogue& all = whole_catalogue(language_);
  const auto n = values.find("n");
  if (n != values.end() && (n->second == "1" || (all.none_is_one && n->second == "0")))
    if (const auto one = all.of_one.find(english); one != all.of_one.end())
      return with_values(begun_as(english, one->second), values);
  return with_values((*this)(english), values);
}

std::string Tongue::number(const std::string& printed) const {
  if (english()) return printed;
  // One point inside digits is a decimal mark; two are a day, an address, a version.
  std::string out = printed;
  for (size_t at = 0; at < out.size();) {
    if (!plain::is_digit(out[at])) {
      ++at;
      continue;
    }
    size_t end = at, points = 0, point = 0;
    for (; end < out.size() && (plain::is_digit(out[end]) || out[end] == '.'); ++end)
      if (out[end] == '.') {
        ++points;
        point = end;
      }
    if (points == 1 && point + 1 < end) out[point] = ',';
    at = end;
  }
  return out;
}

std::string Tongue::day(const std::string& iso) const {
  const std::string day = iso.substr(0, 10);
  if (!is_day(day)) return iso;
  if (english()) return day_words(day);
  const std::string d = std::to_string(plain::whole(day.substr(8, 2)).value_or(0)), m = day.substr(5, 2),
                    y = day.substr(0, 4);
  // Numeric, as these four languages write it on documents.
  return language_ == Language::german ? plain::padded(plain::whole(d).value_or(0), 2) + "." + m + "." + y
                                       : plain::padded(plain::whole(d).value_or(0), 2) + "/" + m + "/" + y;
}

std::set<std::string> Tongue::missed() {
  const std::lock_guard one_at_a_time(guard);
  return missed_phrases;
}

std::vector<std::string> values_in(std::string_view message) {
  std::vector<std::string> out;
  for (size_t at = message.find('{'); at != std::string_view::npos; at = message.find('{', at + 1)) {
    const size_t shut = message.find('}', at);
    if (shut == std::string_view::npos) break;
    out.emplace_back(message.substr(at + 1, shut - at - 1));
  }
  return out;
}

}  // namespace fortitor
