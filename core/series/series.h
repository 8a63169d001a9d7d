// A series of pieces judged as a whole: results with How, findings, figures, like any other evaluation. Its settings
// and answers are a record of their own ("settings.result", reasons why a finding stands).
#pragma once

#include <string>
#include <vector>

#include "core/methods/method.h"

namespace fortitor {

/// What the settings of a series may hold: the result looked at, what the method adds, what holds for all pieces.
Schema series_schema(const Method& method);

/// What a series can be limited by beside its pieces: "rm.mean" is the mean of R_m, "t27j.series" the
/// transition temperature. Empty when `key` is none of that
/// kind.
std::optional<ResultSpec> series_limit(const Method& method, const std::string& key);

/// The limits that a series offers for that result: what the judgement over the whole gives ("t27j.series"), mean,
/// smallest, deviation, its share of the mean, both bases.
std::vector<std::string> series_limits_of(const Method& method, const std::string& result);

/// How a result of a series stands to its limit: "≥ 500 MPa: meets"; empty where none is set.
std::string stand_words(const ResultValue& result, UnitSet set);

/// The key looked at under these settings: the one chosen, else the method's first. Where pieces are at hand and none
/// has the method's first (a traverse has no mean hardness), the first of its limit keys that some piece has.
std::string series_key(const Method& method, const TestRecord& settings, const std::vector<SeriesPiece>& pieces = {});

/// What the pieces can be grouped by ("settings.group_by"), with words for the person.
std::vector<Choice> series_groupings(const Method& method, const std::vector<SeriesPiece>& pieces);

/// Reads and writes the settings of a series as the book keeps them.
/// `stored`: out of a book (read_stored_record()).
Outcome<TestRecord> series_settings_from_json(const Method& method, std::string_view json, bool stored = false);
std::string series_settings_to_json(const Method& method, const TestRecord& settings);

/// The one way from pieces to the judgement over a series. Results of the statistics every method has: n, void,
/// missing, left_out, bounds, mean, mean_low, mean_high, sd, sd_low, sd_high, cv, median, least, most, a_basis,
/// b_basis, normality_p, weibull_shape, weibull_scale, weibull_p, ml_mean, ml_sd, pieces_wanted; with groups those of
/// add_groups() and compare_groups(); of another result those of add_relation(); over time those of add_over_time().
/// Row values "pieces": the value of every piece. Findings: unlike, outlier, not-normal, left-out, bounds, voids,
/// suspect (its `result_key` is the path of the flag), few, groups, equivalence, relation, out-of-control, one-sided,
/// pieces-wanted, width-unread.
Evaluation series_evaluate(const Method& method, const std::vector<SeriesPiece>& pieces, const TestRecord& settings);

/// Lets go of a piece's figures but for its curve, thinned to some 400 points: what the series draws.
void keep_curve(Evaluation& piece);

/// Value of a piece with its bound as people read it: "54.2", "≥ 900", "54.2–57.3", "–".
std::string piece_words(const SeriesPiece& piece, const std::string& key, UnitSet set);

}  // namespace fortitor
