// What a piece puts on paper, part by part and in any language: certificate and documents are made of these.
#pragma once

#include <string>
#include <vector>

#include "core/language/language.h"
#include "report/certificate.h"

namespace fortitor::parts_of_piece {

/// "355 to 630", "≥ 355": the limits of a result as they are printed; empty without any.
std::string limit_words(const ResultValue& r, const TestRecord& record, UnitSet units, const Tongue& say);
/// A verdict in words of the language.
std::string verdict_words(Verdict v, const Tongue& say);
/// "87 % sure", where a limit lies within U; else empty.
std::string sure_words(const ResultValue& r, const Tongue& say);
/// A result in words; what is in no catalogue and no symbol is left out in another language than English.
std::string text_words(const std::string& text, const Tongue& say);
/// The rule of the verdicts (ISO/IEC 17025, 7.8.6.2), one sentence.
std::string rule_words(const std::string& rule, const std::string& compared, const Tongue& say);
/// The sentence about local codes and licensed practice.
std::string practice_words(const Tongue& say);
std::string heading(const std::string& words);

/// Results with U, limit and verdict; `rule`: with the rule under it.
std::string results(const Certificate& c, bool rule = true);
/// Fields under these prefixes, a line each; empty when none is given.
std::string facts(const Certificate& c, const std::string& title, const std::vector<std::string>& prefixes);
/// Settings worth printing: those the method names, and all that are other than usual.
std::string settings(const Certificate& c);
/// One line a slot: "LC-100 · 100 kN · class 1 · calibration due 25 Apr 2027".
std::string equipment(const Certificate& c);
/// Photographs kept in fields of the record.
std::string pictures(const Certificate& c);
/// Other choices that a person wanted beside the one reported.
std::string what_ifs(const Certificate& c);
/// The rows as they were typed.
std::string rows(const Certificate& c);
/// Findings with the answers given to them.
std::string judgements(const Evaluation& e, const Tongue& say);
/// Facts of the piece and, beside them, equipment, conditions and settings.
std::string two_columns(const std::string& left, const std::string& right);

/// The figure in the language: words that no catalogue has are left out, never printed in English.
Figure translated(const Figure& figure, const Tongue& say);

}  // namespace fortitor::parts_of_piece
