#include "core/language/language.h"

#include <gtest/gtest.h>

#include "core/figure/layout.h"
#include "core/language/sentences.h"

namespace fortitor::language_test {
namespace {

TEST(Catalogue, ReadsPoAsGettextWritesIt) {
  const auto read = read_catalogue(
      "# a comment\nmsgid \"\"\nmsgstr \"Language: de\\n\"\n\nmsgid \"yield\"\nmsgstr \"\"\n\"Streck\"\n\"grenze\"\n"
      "msgid \"a \\\"b\\\"\"\nmsgstr \"x\\ny\"\nmsgid \"not yet\"\nmsgstr \"\"\n");
  ASSERT_TRUE(read) << read.error().message;
  EXPECT_EQ(read->phrases.at("yield"), "Streckgrenze");
  EXPECT_EQ(read->phrases.at("a \"b\""), "x\ny");
  EXPECT_EQ(read->phrases.count("not yet"), 0u);
  EXPECT_EQ(read->phrases.size(), 2u);
  for (const char* wrong : {"msgstr \"x\"\n", "yield\n", "msgid yield\n", "\"x\"\n", "msgid \"x\\\n",
                            "msgid_plural \"x\"\n", "msgid \"a\"\nmsgstr[1] \"x\"\n"})
    EXPECT_FALSE(read_catalogue(wrong)) << wrong;
}

TEST(Catalogue, HasAFormOfOneAndOneOfMany) {
  const auto read = read_catalogue(
      "msgid \"\"\nmsgstr \"Plural-Forms: nplurals=2; plural=(n > 1);\\n\"\n"
      "msgid \"1 piece\"\nmsgid_plural \"{n} pieces\"\nmsgstr[0] \"{n} pièce\"\nmsgstr[1] \"{n} pièces\"\n");
  ASSERT_TRUE(read) << read.error().message;
  EXPECT_TRUE(read->none_is_one);
  EXPECT_EQ(read->phrases.at("1 piece"), "1 pièce");
  EXPECT_EQ(read->phrases.at("{n} pieces"), "{n} pièces");
  EXPECT_EQ(read->of_one.at("{n} pieces"), "{n} pièce");
}

// Nothing is one piece in French and many in the others; a text is recognised, whatever its number.
TEST(Tongue, SaysOneManyAndNoneAsTheLanguageDoes) {
  const std::tuple<Language, const char*, const char*, const char*> all[] = {
      {Language::german, "0 Proben", "1 Probe", "21 Proben"},
      {Language::italian, "0 pezzi", "1 pezzo", "21 pezzi"},
      {Language::french, "0 pièce", "1 pièce", "21 pièces"},
      {Language::spanish, "0 piezas", "1 pieza", "21 piezas"}};
  for (const auto& [language, none, one, many] : all) {
    const Tongue say(language);
    EXPECT_EQ(value_in(say, "0 pieces"), none);
    EXPECT_EQ(value_in(say, "1 piece"), one);
    EXPECT_EQ(value_in(say, "21 pieces"), many);
    EXPECT_EQ(say("{n} pieces", {{"n", "1"}}), one);
  }
}

TEST(Tongue, PutsValuesInOnceAndTurnsDecimalMarks) {
  const Tongue english;
  EXPECT_EQ(english("Signed by {who}, {when}.", {{"who", "{when}"}, {"when", "noon"}}), "Signed by {when}, noon.");
  EXPECT_EQ(english("{other}", {}), "{other}");
  EXPECT_EQ(english.number("12.5"), "12.5");
  const Tongue german(Language::german);
  EXPECT_EQ(german.number("12.5 (k = 2.26)"), "12,5 (k = 2,26)");
  EXPECT_EQ(german.number("54.2–57.3"), "54,2–57,3");
  EXPECT_EQ(german.number("end. 5"), "end. 5");
  EXPECT_EQ(german.day("2026-11-03T10:00"), "03.11.2026");
  EXPECT_EQ(Tongue(Language::italian).day("2026-11-03"), "03/11/2026");
  EXPECT_EQ(german.day("soon"), "soon");
}

TEST(Tongue, BeginsWithALargeLetterWhereEnglishDoes) {
  EXPECT_EQ(*Tongue(Language::italian).known("Lot"), "Lotto");
  EXPECT_EQ(*Tongue(Language::italian).known("mean"), "media");
  EXPECT_EQ(*Tongue(Language::french).known("Energy"), "Énergie");
  EXPECT_EQ(*Tongue(Language::french).known("Free swing read on"), "Balancement à vide lu sur");
}

TEST(Catalogues, HoldTheSamePhrasesWithTheSameValues) {
  const auto& german = catalogue(Language::german);
  for (Language l : kLanguages) {
    if (l == Language::english) continue;
    const auto& phrases = catalogue(l);
    for (const auto& [english, said] : german)
      EXPECT_TRUE(phrases.count(english)) << language_code(l) << ": " << english;
    for (const auto& [english, said] : phrases) {
      EXPECT_TRUE(german.count(english)) << "only in " << language_code(l) << ": " << english;
      auto wanted = values_in(english), has = values_in(said);
      std::sort(wanted.begin(), wanted.end());
      std::sort(has.begin(), has.end());
      EXPECT_EQ(wanted, has) << language_code(l) << ": " << english;
      EXPECT_FALSE(said.empty());
    }
  }
}

TEST(Sentences, ADayWithoutItsYearAndAWordThatIsOneInBothLanguages) {
  const Tongue german(Language::german);
  EXPECT_EQ(value_in(german, "overdue since 8 Oct"), "überfällig seit 8. Okt.");
  EXPECT_EQ(value_in(german, "strain from extensometer, after its removal crosshead"),
            "Dehnung von Extensometer, danach Traverse");
}

// What a person types can look like a place before a place, or a sentence that never stops: it comes back as it is, and
// at once. Looked at by every way in which it can be cut, sixty letters took half a minute.
TEST(Sentences, WhatWasTypedIsNotLookedAtForEver) {
  const Tongue german(Language::german);
  for (const std::string again : {"a.b: ", ".", "Xy: ", "xy, zw; ", "Xy zw. "}) {
    std::string typed = "abc";
    for (int i = 0; i < 60; ++i) typed += again;
    typed += "xyz.";
    EXPECT_EQ(value_in(german, typed), typed);
  }
  EXPECT_EQ(value_in(german, "abc...................."), "abc....................");
}

// Words on a figure may have been said already: the last of them is not looked up by itself.
TEST(Sentences, WordsOfAFigureAreSaidOnce) {
  Figure f;
  f.panels.emplace_back();
  f.panels[0].caption = "Dehnung von Extensometer, danach Traverse";
  Trace t;
  t.x = {0, 1};
  t.y = {0, 1};
  f.panels[0].traces = {t};
  figure::Options o;
  o.width = 900;
  o.height = 400;
  o.language = Language::german;
  bool seen = false;
  for (const figure::Shape& s : figure::lay_out(f, o).shapes) {
    seen = seen || s.text == f.panels[0].caption;
    EXPECT_EQ(s.text.find("Härteverlauf"), std::string::npos) << s.text;
  }
  EXPECT_TRUE(seen);
}

}  // namespace
}  // namespace fortitor::language_test
