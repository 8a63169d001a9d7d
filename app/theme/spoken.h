// The language of the window. Inside there is one (decision 50); what stands on the screen goes through here.
#pragma once

#include <QDate>
#include <QString>
#include <set>
#include <string>

#include "core/language/language.h"

namespace fortitor {

/// The language of the window: English until `speak` was called.
const Tongue& tongue();
void speak(Language language);
/// "Thursday, 26 November 2026" as the language of the window writes it.
QString spoken_day(const QDate& day);
/// The person's own choice, else that of the machine's locale, else English.
Language language_wanted();

/// What the program wrote in English, in the language of the window: a phrase, a sentence, a value. What no catalogue
/// has, and what a person typed, comes back as it is.
QString spoken(const QString& english);
QString spoken(const std::string& english);
QString spoken(const char* english);

/// Texts that have words and were shown as they are. For tests: a text of the program among them has no translation.
std::set<QString> unspoken();

}  // namespace fortitor
