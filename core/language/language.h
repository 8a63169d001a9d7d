// The languages that paper speaks. English is what stands in the code and in the descriptions; the others are
// catalogues of it (gettext's .po, data/languages), built in.
#pragma once

#include <map>
#include <optional>
#include <set>
#include <string>
#include <string_view>
#include <vector>

#include "core/outcome.h"

namespace fortitor {

enum class Language { english, german, italian, french, spanish };
inline constexpr Language kLanguages[] = {Language::english, Language::german, Language::italian, Language::french,
                                          Language::spanish};
/// "en", "de", "it", "fr", "es".
std::string_view language_code(Language language);
/// Nothing for a code of none of them.
std::optional<Language> language_of(std::string_view code);
/// What its speakers call it: "Deutsch".
std::string_view language_name(Language language);

/// `said` with a large first letter where the English begins with one.
std::string begun_as(std::string_view english, std::string said);

/// Whether a text has words of a language: three small letters in a row, or "at", "of" and their like. What has none is
/// a symbol, a unit, a designation, and is the same everywhere.
bool has_words(std::string_view text);

/// Says things in a language. What a catalogue does not have is said in English, and remembered.
class Tongue {
 public:
  explicit Tongue(Language language = Language::english) : language_(language) {}
  Language language() const { return language_; }
  bool english() const { return language_ == Language::english; }

  /// A phrase of the program.
  std::string operator()(std::string_view english) const;
  /// A message with named values: say("Signed by {who}, {when}.", {{"who", …}, …}).
  std::string operator()(std::string_view english, const std::map<std::string, std::string>& values) const;
  /// The phrase where the catalogue has it (or the language is English); nothing otherwise.
  std::optional<std::string> known(std::string_view english) const;
  /// A number, or words with numbers that the program wrote, with the decimal mark of the language: "12.5" → "12,5".
  std::string number(const std::string& printed) const;
  /// "27 Nov 2026" as the language writes days; text that is no day comes back as it is.
  std::string day(const std::string& iso) const;

  /// Phrases that were asked for and are in no catalogue.
  static std::set<std::string> missed();

 private:
  Language language_;
};

using Phrases = std::map<std::string, std::string, std::less<>>;
struct Catalogue {
  Phrases phrases;           ///< English, and what it is in the language; "1 piece" and "{n} pieces" are two
  Phrases of_one;            ///< by the message of many: what is said where its {n} is one
  bool none_is_one = false;  ///< 0 is said as 1 is: "0 pièce"
};
/// Reads a catalogue (gettext's .po): msgid, msgid_plural, msgstr, their two forms, continued lines, comments; of the
/// head the rule of the forms. Errors name the line.
Outcome<Catalogue> read_catalogue(std::string_view po);
/// The built-in phrases of a language; empty for English.
const Phrases& catalogue(Language language);
/// The names of values in a message: "{who}".
std::vector<std::string> values_in(std::string_view message);

}  // namespace fortitor
