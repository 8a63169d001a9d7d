#include "core/language/sentences.h"

#include <algorithm>
#include <array>
#include <map>
#include <mutex>

#include "core/language/language.h"
#include "core/quantity/date.h"
#include "core/quantity/plain.h"

namespace fortitor {
namespace {

// A message with fewer letters of its own ("{low} to {high}") is believed only where all its values were understood: a
// name that a person typed may look like it; the more so where the message begins with the value.
constexpr size_t kTelling = 6, kTellingBehind = 10;
constexpr int kDeepest = 4;             ///< values inside values: a list in a sentence in a sentence, and one to spare
constexpr size_t kMostLookedAt = 3000;  ///< clauses of one text; what asks for more was typed and stays as it is

// Where a sentence ends and another begins: after ". ", "? " or "! ", not inside quotes or brackets, not behind an
// abbreviation of one letter.
std::vector<size_t> sentence_starts(std::string_view text) {
  std::vector<size_t> starts = {0};
  int inside = 0;
  for (size_t i = 0; i + 1 < text.size(); ++i) {
    const std::string_view rest = text.substr(i);
    if (text[i] == '(' || rest.starts_with("“")) ++inside;
    if ((text[i] == ')' || rest.starts_with("”")) && inside > 0) --inside;
    // "R. Vale", but not "300 J. Blow".
    const bool initial = i > 0 && text[i - 1] >= 'A' && text[i - 1] <= 'Z' &&
                         (i == 1 || (text[i - 2] == ' ' && (i == 2 || !plain::is_digit(text[i - 3]))));
    if (inside == 0 && text[i + 1] == ' ' && ((text[i] == '.' && !initial) || text[i] == '?' || text[i] == '!'))
      starts.push_back(i + 2);
  }
  return starts;
}

const std::vector<Message>& messages() {
  static const std::vector<Message> all = [] {
    std::vector<Message> out;
    for (const auto& [english, said] : catalogue(Language::german))
      if (english.find('{') != std::string::npos) out.emplace_back(english);
    // The one that says more first.
    std::stable_sort(out.begin(), out.end(),
                     [](const Message& a, const Message& b) { return a.weight() > b.weight(); });
    return out;
  }();
  return all;
}

constexpr std::array<std::string_view, 12> kMonths = {"Jan", "Feb", "Mar", "Apr", "May", "Jun",
                                                      "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"};

bool is_month(std::string_view word) {
  return std::find(kMonths.begin(), kMonths.end(), word) != kMonths.end();
}

// A number with a unit, a share, a range of numbers: it has no word longer than a unit's.
bool is_number(std::string_view text) {
  if (text.empty()) return false;
  const bool begins = plain::is_digit(text[0]) || text[0] == '-' || text[0] == '+' || text.starts_with("−") ||
                      text.starts_with("±") || text.starts_with("≥") || text.starts_with("≤");
  if (!begins) return false;
  for (size_t at = text.find(' '); at != std::string_view::npos; at = text.find(' ', at + 1))
    if (is_month(text.substr(at + 1, 3))) return false;
  for (const std::string_view joint : {" to ", " or ", " and "})
    if (text.find(joint) != std::string_view::npos) return false;
  size_t letters = 0, words = 0;
  for (size_t i = 0; i < text.size(); ++i) {
    letters = plain::is_letter(text[i]) ? letters + 1 : 0;
    if (letters == 3) ++words;
    if (letters > 3) return false;
  }
  return words <= 1;
}

// "27 Nov 2026", as days are written inside.
std::optional<std::string> iso_day(std::string_view text) {
  const size_t one = text.find(' '), two = text.rfind(' ');
  if (one == std::string_view::npos || two <= one) return std::nullopt;
  const auto day = plain::whole(text.substr(0, one)), year = plain::whole(text.substr(two + 1));
  const auto month = std::find(kMonths.begin(), kMonths.end(), text.substr(one + 1, two - one - 1));
  if (!day || !year || month == kMonths.end()) return std::nullopt;
  const std::string iso =
      std::to_string(*year) + "-" + plain::padded(month - kMonths.begin() + 1, 2) + "-" + plain::padded(*day, 2);
  return is_day(iso) ? std::optional(iso) : std::nullopt;
}

// What a refusal begins with where it names a place: a file or a key of a record, and ": ". Its length; 0 without one.
size_t place_before(std::string_view text) {
  const size_t colon = text.find(": "), space = text.find(' ');
  if (colon == std::string_view::npos || colon == 0 || space < colon) return 0;
  const std::string_view place = text.substr(0, colon);
  return place.find_first_of("./[_") == std::string_view::npos ? 0 : colon + 2;
}

struct Said {
  std::string text;
  size_t left = 0;  ///< values that were left as they are, though they have words
};

class Speaker {
 public:
  explicit Speaker(const Tongue& say) : say_(say) {}

  // The same words come up by many ways; each is looked at once, or a text of nothing but colons would take for ever.
  std::optional<Said> clause(std::string_view english, int depth) const {
    if (auto known = say_.known(english)) return Said{*known, 0};
    if (depth > kDeepest || looked_at_.size() >= kMostLookedAt) return std::nullopt;
    const auto key = std::pair(std::string(english), depth);
    if (const auto it = looked_at_.find(key); it != looked_at_.end()) return it->second;
    looked_at_[key] = std::nullopt;
    return looked_at_[key] = new_clause(english, depth);
  }

  std::optional<Said> new_clause(std::string_view english, int depth) const {
    if (const size_t place = place_before(english); place > 0)
      if (auto rest = sentences(english.substr(place), depth + 1)) {
        rest->text = std::string(english.substr(0, place)) + rest->text;
        return rest;
      }
    std::optional<Said> best = by_message(english, depth);
    if (!best) best = behind_a_phrase(english, depth);
    // A reason is written without its stop, and gets one where something stands behind it.
    if (!best && english.ends_with('.') && !english.ends_with("..")) {
      best = clause(english.substr(0, english.size() - 1), depth);
      if (!best)
        if (Said list = value(english.substr(0, english.size() - 1), depth + 1); list.left == 0) best = std::move(list);
      if (best) best->text += '.';
    }
    return best;
  }

  // "Set up: …", "HB-02: …", with whole sentences behind it.
  std::optional<Said> behind_a_phrase(std::string_view english, int depth) const {
    const size_t colon = english.find(": ");
    if (colon == std::string_view::npos) return std::nullopt;
    const std::string_view before = english.substr(0, colon);
    const auto phrase = has_words(before) ? say_.known(before) : std::string(before);
    auto rest = phrase ? sentences(english.substr(colon + 2), depth + 1) : std::nullopt;
    if (rest) rest->text = *phrase + (say_.language() == Language::french ? " : " : ": ") + rest->text;
    return rest;
  }

  std::optional<Said> by_message(std::string_view english, int depth) const {
    std::optional<Said> best;
    for (const Message& m : messages()) {
      if (best && best->left == 0) break;
      for (const auto& values : m.values_in(english)) {
        Said said;
        std::map<std::string, std::string> turned;
        for (const auto& [name, value] : values) {
          Said one = this->value(value, depth + 1);
          said.left += one.left;
          turned[name] = std::move(one.text);
        }
        said.text = begun_as(english, say_(m.english(), turned));
        if (said.left > 0 && m.weight() < (m.begins_with_value() ? kTellingBehind : kTelling)) continue;
        if (!best || said.left < best->left) best = std::move(said);
      }
    }
    return best;
  }

  std::optional<Said> sentences(std::string_view english, int depth) const {
    const std::vector<size_t> starts = sentence_starts(english);
    const size_t n = starts.size();
    const auto part = [&](size_t from, size_t to) {
      const size_t end = to == n ? english.size() : starts[to] - 1;
      return english.substr(starts[from], end - starts[from]);
    };
    std::vector<std::optional<Said>> from(n + 1);
    from[n] = Said{};
    for (size_t i = n; i-- > 0;)
      for (size_t j = n; j > i; --j) {
        if (!from[j]) continue;
        auto head = clause(part(i, j), depth);
        if (!head) continue;
        const std::string tail = from[j]->text;
        Said all{head->text + (tail.empty() ? "" : " " + tail), head->left + from[j]->left};
        if (!from[i] || all.left < from[i]->left) from[i] = std::move(all);
        if (from[i]->left == 0) break;
      }
    return from[0];
  }

  Said value(std::string_view english, int depth) const {
    if (auto known = say_.known(english)) return {*known, 0};
    if (const auto day = iso_day(english)) return {say_.day(*day), 0};
    if (is_number(english)) return {say_.number(std::string(english)), 0};
    // "8 Oct": as short as a unit, and a word of the language all the same.
    const size_t last = english.rfind(' ');
    const bool month = last != std::string_view::npos && is_month(english.substr(last + 1));
    if (!month && !has_words(english)) {  // a symbol, a mark; "p = 0.03"
      for (const std::string_view sign : {" = ", " < ", " ≥ "})
        if (const size_t at = english.find(sign); at != std::string_view::npos)
          return {std::string(english.substr(0, at)) + say_.number(std::string(english.substr(at))), 0};
      return {std::string(english), 0};
    }
    if (depth <= kDeepest) {
      std::optional<Said> best = sentences(english, depth);
      for (const std::string_view between : {"\n", "     ", "   ", "  ", " · ", "; ", ", ", " and ", " or "})
        if (auto list = this->list(english, between, depth); list && (!best || list->left < best->left)) best = list;
      if (best) return *best;
    }
    // A thing and its mark or its value: "Load cell LC-50". Alone it is a name that a person typed.
    for (size_t at = depth == 0 ? 0 : english.rfind(' '); at != std::string_view::npos && at > 0;
         at = english.rfind(' ', at - 1)) {
      const std::string_view mark = english.substr(at + 1);
      if (has_words(mark)) break;
      if (std::none_of(mark.begin(), mark.end(), [](char c) { return plain::is_digit(c); })) continue;
      if (auto known = say_.known(english.substr(0, at))) return {*known + " " + value(mark, kDeepest + 1).text, 0};
    }
    return {std::string(english), 1};
  }

 private:
  // A list. What stands apart by more than a comma may be a name beside a phrase; behind a comma each part must have
  // been understood, or it is no list but words with a comma.
  std::optional<Said> list(std::string_view english, std::string_view between, int depth) const {
    if (english.find(between) == std::string_view::npos) return std::nullopt;
    const bool apart = between.find("  ") != std::string_view::npos || between == "\n" || between == " · ";
    Said out;
    size_t parts = 0;
    for (size_t at = 0; at <= english.size(); ++parts) {
      const size_t end = std::min(english.find(between, at), english.size());
      const Said one = value(english.substr(at, end - at), depth + 1);
      out.left += one.left > 0;
      if (one.left > 0 && !apart) return std::nullopt;
      out.text += (at == 0 ? "" : joint(between)) + one.text;
      at = end + between.size();
    }
    return out.left < parts ? std::optional(out) : std::nullopt;
  }

  std::string joint(std::string_view between) const {
    if (between == " and " || between == " or ")
      return " " + say_.known(between.substr(1, between.size() - 2)).value_or("/") + " ";
    return std::string(between);
  }

  const Tongue& say_;
  mutable std::map<std::pair<std::string, int>, std::optional<Said>> looked_at_;  ///< by words and depth
};

}  // namespace

Message::Message(std::string_view english) : english_(english) {
  size_t at = 0;
  for (;;) {
    const size_t open = english.find('{', at);
    const size_t shut = open == std::string_view::npos ? open : english.find('}', open);
    if (shut == std::string_view::npos) break;
    literals_.emplace_back(english.substr(at, open - at));
    names_.emplace_back(english.substr(open + 1, shut - open - 1));
    at = shut + 1;
  }
  literals_.emplace_back(english.substr(at));
  for (const std::string& l : literals_) weight_ += l.size();
}

std::vector<std::map<std::string, std::string>> Message::values_in(std::string_view text) const {
  Ways ways;
  if (text.size() <= weight_ || !text.starts_with(literals_.front()) || !text.ends_with(literals_.back())) return ways;
  std::vector<std::string_view> found;
  fit(text, literals_.front().size(), found, ways);
  return ways;
}

void Message::fit(std::string_view text, size_t at, std::vector<std::string_view>& found, Ways& ways) const {
  constexpr size_t kMost = 6;
  if (found.size() == names_.size()) {
    if (at != text.size()) return;
    auto& way = ways.emplace_back();
    for (size_t i = 0; i < names_.size(); ++i) way[names_[i]] = std::string(found[i]);
    return;
  }
  const std::string& next = literals_[found.size() + 1];
  const bool last = found.size() + 1 == names_.size();
  size_t end = last ? text.size() - next.size() : text.find(next, at + 1);
  while (end != std::string_view::npos && end > at && ways.size() < kMost) {
    const std::string_view one = text.substr(at, end - at);
    if (sentence_starts(one).size() > 1 || one.find('\n') != std::string_view::npos) return;
    found.push_back(one);
    fit(text, end + next.size(), found, ways);
    found.pop_back();
    if (last) return;
    end = text.find(next, end + 1);
  }
}

std::optional<std::string> sentence_in(const Tongue& say, std::string_view english) {
  if (say.english()) return std::string(english);
  const Speaker speaker(say);
  if (auto said = speaker.sentences(english, 0)) return said->text;
  Said value = speaker.value(english, 0);
  return value.left == 0 ? std::optional(std::move(value.text)) : std::nullopt;
}

std::string value_in(const Tongue& say, std::string_view english) {
  return say.english() ? std::string(english) : Speaker(say).value(english, 0).text;
}

}  // namespace fortitor
