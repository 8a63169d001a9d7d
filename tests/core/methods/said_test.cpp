// What the program says it says in every language: no sentence of the Watch, of a spoilt record or of a rare one, is
// without its translation, and nothing English is left in it but what a person typed.
#include <gtest/gtest.h>

#include <cctype>
#include <fstream>
#include <regex>
#include <set>
#include <sstream>

#include "core/figure/layout.h"
#include "core/language/language.h"
#include "core/language/sentences.h"
#include "core/practice/cases.h"
#include "tests/core/methods/method_records.h"
#include "tests/core/methods/spoilt.h"

namespace fortitor::said_test {
namespace {

// Words of English alone: none of them is a word of the other four ("force" and "of" would be French and German).
const std::set<std::string> kEnglish = {"the",     "which",    "with",  "from",      "were",     "than",   "that",
                                        "reading", "readings", "piece", "pieces",    "strength", "travel", "gauge",
                                        "torque",  "strain",   "width", "thickness", "break",    "again",  "because",
                                        "their",   "its",      "lies",  "between",   "where",    "are"};

// The first of them in a text.
std::string english_in(const std::string& text) {
  std::string word;
  for (size_t i = 0; i <= text.size(); ++i) {
    const bool inside = i < text.size() && (std::isalnum(static_cast<unsigned char>(text[i])) != 0 || text[i] == '_');
    if (inside) {
      word += text[i];
    } else {
      if (kEnglish.count(word) != 0) return word;
      word.clear();
    }
  }
  return {};
}

void expect_said(const std::string& english, const std::string& of) {
  static const std::regex typed("(„[^“]*“|«[^»]*»|“[^”]*”|^[^ ]*[./\\[][^ ]*: )");
  for (Language l : kLanguages) {
    if (l == Language::english) continue;
    const auto said = sentence_in(Tongue(l), english);
    ASSERT_TRUE(said) << of << " is not said in " << language_code(l) << ": " << english;
    // What stands in quotes a person typed; a file or a key of a record is the same in every language.
    const std::string left = english_in(std::regex_replace(*said, typed, ""));
    EXPECT_EQ(left, "") << of << ", " << language_code(l) << ": in " << *said;
  }
}

TEST(Said, EverySentenceOfASpoiltRecord) {
  const std::regex number("[−-]?[0-9][0-9.,·⁻⁰¹²³⁴-⁹]*");
  std::set<std::string> codes, shapes;
  for (const Method* m : methods::all())
    for (uint64_t seed = 1; seed <= 12; ++seed) {
      Chance chance(seed);
      standin::SimulateOptions o;
      o.seed = seed;
      o.sampling = some_thousand_rows(*m);
      TestRecord r = standin::find_bench(m->standin)->simulate(o);
      r.method = m->id;
      for (int turn = 0; turn < 6; ++turn) {
        spoil_field(r, *m, chance);
        spoil_rows(r, chance);
        if (turn % 2 == 1) spoil_samples(r, chance);
        const Evaluation e = methods::evaluate(r, {.uncertainty = false});
        for (const Finding& f : e.findings) {
          const std::string shape = std::regex_replace(f.message, number, "#");
          if (f.message.size() > 2000 || !shapes.insert(shape).second) continue;
          codes.insert(f.code);
          expect_said(f.message, f.code);
          for (const Remedy& remedy : f.remedies) expect_said(remedy.label, "a remedy");
        }
      }
    }
  EXPECT_GT(codes.size(), 45u);
}

// Words on figures: of every case of the guide, which are pieces and series of all methods with all that can befall
// them.
TEST(Said, WordsOnFigures) {
  std::ifstream in(std::string(FORTITOR_SOURCE_DIR) + "/data/guide/cases.json");
  std::stringstream json;
  json << in.rdbuf();
  const auto all = cases::read(json.str());
  ASSERT_TRUE(all);
  std::set<std::string> words;
  for (const auto& [code, recipe] : *all) {
    const auto e = cases::evaluated(recipe);
    ASSERT_TRUE(e) << code;
    figure::Options o;
    o.width = 900;
    o.height = 500;
    for (const Figure& f : e->figures)
      for (const figure::Shape& shape : figure::lay_out(f, o).shapes)
        if (has_words(shape.text)) words.insert(shape.text);
  }
  EXPECT_GT(words.size(), 200u);
  for (const std::string& text : words)
    for (Language l : kLanguages) {
      const Tongue say(l);
      // "mean 513.6", "step from piece to piece, MPa": the layout says the label and puts the value behind it.
      const std::string label = text.substr(0, text.rfind(' ')), axis = text.substr(0, text.rfind(", "));
      EXPECT_TRUE(sentence_in(say, text) || sentence_in(say, label) || sentence_in(say, axis))
          << language_code(l) << ": " << text;
    }
}

// One of each of the rarer ones, a code and a sentence a line; and of what is refused or shown in the window.
class Kept : public testing::TestWithParam<const char*> {};

TEST_P(Kept, EverySentence) {
  std::ifstream in(std::string(FORTITOR_SOURCE_DIR) + "/tests/data/language/" + GetParam());
  size_t n = 0;
  for (std::string line; std::getline(in, line); ++n)
    expect_said(line.substr(line.find('\t') + 1), line.substr(0, line.find('\t')));
  EXPECT_GT(n, 200u);
}

INSTANTIATE_TEST_SUITE_P(Said, Kept, testing::Values("said.txt", "shown.txt"));

}  // namespace
}  // namespace fortitor::said_test
