// Whole sentences in another language. The program says a thing once, in English, where it is found; a record, a
// logbook and a server keep it so. A reader's language is put on at the edge: the catalogue has the sentence as a
// message with named values ("Cycle {n} reached {force} of the {proof} asked for."), and what stands at their places is
// put into the other language by the same rule.
#pragma once

#include <cstdint>
#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace fortitor {

class Tongue;

/// A message with named values, taken apart for being found in a text.
class Message {
 public:
  explicit Message(std::string_view english);
  const std::string& english() const { return english_; }
  /// Letters that are no value: of two that fit, the one with more of them says more.
  size_t weight() const { return weight_; }
  bool begins_with_value() const { return literals_.front().empty(); }
  /// The values, where the text is this message: each way in which it fits, at most six; none otherwise. No value is
  /// empty or reaches over the end of a sentence, but for what stands in quotes or brackets.
  std::vector<std::map<std::string, std::string>> values_in(std::string_view text) const;

 private:
  using Ways = std::vector<std::map<std::string, std::string>>;
  void fit(std::string_view text, size_t at, std::vector<std::string_view>& found, Ways& ways) const;

  std::string english_;
  std::vector<std::string> literals_;  ///< one more than names
  std::vector<std::string> names_;
  size_t weight_ = 0;
};

/// What the program wrote in English (one sentence or several, a clause, a list, a value with its unit) in the language
/// of `say`; nothing where the catalogue lacks a part of it.
std::optional<std::string> sentence_in(const Tongue& say, std::string_view english);

/// A value inside a sentence: a number with its unit, a day, a phrase, a list of such. What a person typed comes back
/// as it is.
std::string value_in(const Tongue& say, std::string_view english);

}  // namespace fortitor
