#include "core/slate/slate.h"

#include <algorithm>
#include <cmath>

#include "core/quantity/format.h"
#include "core/quantity/plain.h"

namespace fortitor::slate {
namespace {

bool number_begins(std::string_view word) {
  if (word.empty()) return false;
  const char c = word[0];
  if (plain::is_digit(c) || c == '.') return true;
  return (c == '-' || c == '+') && word.size() > 1 && (plain::is_digit(word[1]) || word[1] == '.');
}

bool is_fraction(std::string_view word) {
  const size_t slash = word.find('/');
  if (slash == std::string_view::npos || slash == 0) return false;
  return std::all_of(word.begin(), word.begin() + long(slash), [](char c) { return plain::is_digit(c); }) &&
         slash + 1 < word.size() && plain::is_digit(word[slash + 1]);
}

std::string lower(std::string_view s) {
  std::string out(s);
  for (char& c : out) c = plain::lower(c);
  return out;
}

std::vector<std::string> split(std::string_view line) {
  std::vector<std::string> out;
  std::string word;
  for (char c : line) {
    if (c == ' ' || c == '\t' || c == ';') {
      if (!word.empty()) out.push_back(std::move(word));
      word.clear();
    } else {
      word += c;
    }
  }
  if (!word.empty()) out.push_back(std::move(word));
  return out;
}

// Numbers with their units, and words: "2000 kg 1.2 m/s" is two of the first, "5/8" goes with the whole number before.
std::vector<std::string> quantities(const std::vector<std::string>& words, size_t from) {
  std::vector<std::string> out;
  bool open = false;  // the last one is a number that may still take a unit
  for (size_t i = from; i < words.size(); ++i) {
    const std::string& w = words[i];
    const bool plain =
        open && std::all_of(out.back().begin(), out.back().end(), [](char c) { return plain::is_digit(c); });
    if (plain && is_fraction(w)) {
      out.back() += " " + w;
      continue;
    }
    if (number_begins(w)) {
      out.push_back(w);
      // A unit may hang on it already: "0.5kgf".
      open = std::all_of(w.begin(), w.end(), [](char c) {
        return plain::is_digit(c) || c == '.' || c == ',' || c == '-' || c == '+' || c == '/';
      });
      continue;
    }
    if (open && find_unit(w) != nullptr) {
      out.back() += " " + w;
      open = false;
      continue;
    }
    out.push_back(w);
    open = false;
  }
  return out;
}

bool takes(const Input& input, const std::string& text) {
  if (!input.choices.empty())
    return std::any_of(input.choices.begin(), input.choices.end(),
                       [&](const std::string& c) { return lower(c) == lower(text); });
  return bool(parse_quantity(text, input.dimension));
}

}  // namespace

double Inputs::number(const std::string& key) const {
  const auto it = numbers.find(key);
  return it == numbers.end() ? NAN : it->second;
}

std::string Inputs::word(const std::string& key) const {
  const auto it = words.find(key);
  return it == words.end() ? std::string() : it->second;
}

const Calculator* find(std::string_view id) {
  for (const Calculator& c : calculators())
    if (c.id == id) return &c;
  return nullptr;
}

Outcome<Inputs> read_inputs(const Calculator& c, const std::map<std::string, std::string>& typed, UnitSet units) {
  Inputs in;
  for (const Input& i : c.inputs) {
    const auto it = typed.find(i.key);
    const std::string text = it == typed.end() ? std::string() : it->second;
    if (text.empty()) {
      if (!i.choices.empty()) {
        in.words[i.key] = i.choices.front();
        continue;
      }
      if (i.optional) continue;
      return InputError{i.label + " is wanted" + (i.hint.empty() ? "." : ", such as " + i.hint + "."), {}};
    }
    if (!i.choices.empty()) {
      const auto choice = std::find_if(i.choices.begin(), i.choices.end(),
                                       [&](const std::string& w) { return lower(w) == lower(text); });
      if (choice == i.choices.end()) return InputError{i.label + ": “" + text + "” is none of the choices.", {}};
      in.words[i.key] = *choice;
      continue;
    }
    if (i.free_text) {
      in.words[i.key] = text;
      continue;
    }
    const auto q = parse_quantity(text, i.dimension, {units, nullptr});
    if (!q) return InputError{i.label + ": " + q.error().message, {}};
    if (q->value < 0 && !i.may_be_negative) return InputError{i.label + ": above zero is expected.", {}};
    if (q->value == 0 && !i.may_be_zero) return InputError{i.label + ": more than nothing is expected.", {}};
    in.numbers[i.key] = q->value;
  }
  return in;
}

Outcome<std::vector<Line>> work(const Calculator& c, const std::map<std::string, std::string>& typed, UnitSet units) {
  const auto in = read_inputs(c, typed, units);
  if (!in) return in.error();
  auto lines = c.work(*in);
  if (!lines) return lines;
  for (const Line& l : *lines)
    if (l.text.empty() && !std::isfinite(l.step.value) && !(std::isinf(l.step.value) && l.step.value > 0))
      return InputError{"These numbers do not go together: " + l.name + " cannot be worked out.", {}};
  return lines;
}

std::optional<Typed> read_line(std::string_view line) {
  const std::vector<std::string> words = split(line);
  if (words.empty()) return std::nullopt;
  // "… to UNIT" without a name is a conversion of units, or of hardness where a scale stands there.
  const auto to = std::find_if(words.begin(), words.end(), [](const std::string& w) { return lower(w) == "to"; });
  if (number_begins(words[0]) && to != words.end() && to != words.begin() && to + 1 != words.end()) {
    std::string from, target;
    for (auto it = words.begin(); it != to; ++it) from += (from.empty() ? "" : " ") + *it;
    for (auto it = to + 1; it != words.end(); ++it) target += (target.empty() ? "" : " ") + *it;
    const Calculator* hardness = find("hardness");
    if (words.size() == 4 && takes(hardness->inputs[1], words[1]))
      return Typed{hardness, {{"value", words[0]}, {"from", words[1]}, {"to", target}}};
    return Typed{find("convert"), {{"text", from}, {"unit", target}}};
  }
  // The longest name that the line begins with: "hb force" before "hb".
  const Calculator* best = nullptr;
  size_t used = 0;
  for (const Calculator& c : calculators())
    for (const std::string& n : c.names) {
      const std::vector<std::string> parts = split(n);
      bool all = parts.size() <= words.size() && parts.size() > used;
      for (size_t i = 0; all && i < parts.size(); ++i) all = lower(words[i]) == parts[i];
      if (all) best = &c, used = parts.size();
    }
  if (best == nullptr) return std::nullopt;
  Typed out{best, {}};
  if (best->id == "convert") {
    std::string from, target;
    bool after = false;
    for (size_t i = used; i < words.size(); ++i) {
      if (lower(words[i]) == "to")
        after = true;
      else
        (after ? target : from) += ((after ? target : from).empty() ? "" : " ") + words[i];
    }
    out.inputs = {{"text", from}, {"unit", target}};
    return out;
  }
  for (const std::string& q : quantities(words, used)) {
    const size_t equal = q.find('=');
    if (equal != std::string::npos && equal > 0) {
      out.inputs[lower(q.substr(0, equal))] = q.substr(equal + 1);
      continue;
    }
    for (const Input& i : best->inputs) {
      if (out.inputs.count(i.key) != 0 || !takes(i, q)) continue;
      out.inputs[i.key] = q;
      break;
    }
  }
  return out;
}

std::string value_words(const Line& l, UnitSet units) {
  if (!l.text.empty()) return l.text;
  if (std::isinf(l.step.value)) return "without end";
  return format_value(l.step.value, l.step.dimension, units, l.figures);
}

std::string in_short(const std::vector<Line>& lines, UnitSet units) {
  return lines.empty() ? std::string() : lines.front().name + " " + value_words(lines.front(), units);
}

}  // namespace fortitor::slate
