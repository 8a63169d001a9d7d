// Further looks at a series: one result against another, values in the order of time, curves over each other.
#pragma once

#include <vector>

#include "core/series/statistics_of.h"

namespace fortitor::series {

/// The result looked at against another of the same pieces: relation_slope, _intercept, _r2, _sd, _p, _n (internal
/// units of the two), words with the numbers a person reads, a figure with both 95 % bands. Bounds, void tests and
/// pieces left out do not enter.
void add_relation(Evaluation& e, const Numbers& y, const Numbers& x);

/// Individuals and moving ranges by `tested_at` (pieces without a time are left out): chart_low, chart_high,
/// chart_range_high, a figure, findings "out-of-control" and "one-sided". Pieces from beside are drawn paler; `of` says
/// whose pieces these are, where they are not those of the series alone.
void add_over_time(Evaluation& e, const Numbers& numbers, const std::vector<SeriesPiece>& pieces,
                   const std::string& of = {});

/// The pieces of a chart over the whole book: those of the material of the series, itself and from beside. Materials
/// are the same when they read the same but for capitals and spaces around. `material` takes it as the series writes
/// it.
std::vector<SeriesPiece> of_one_material(const std::vector<SeriesPiece>& all, std::string& material);

/// The curves of the pieces over each other with their median and the band of the middle two thirds, as far as at
/// least half of the pieces reach.
void add_curves(Evaluation& e, const Numbers& numbers, const std::vector<SeriesPiece>& pieces);

}  // namespace fortitor::series
