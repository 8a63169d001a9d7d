// What keyed stops have in common beyond their line: the residual of every row, findings about readings off the
// line, the figure with the departures beside it.
#pragma once

#include "core/curve/stations.h"
#include "core/evaluation/evaluation.h"
#include "core/methods/support/figures.h"

namespace fortitor {

/// How far the slope of the straight part moves with the choice of its end, relative: the slope over the stops up to
/// two thirds of its load against that over all of them, less what their scatter alone would move it.
double straight_choice(const LoadingPath& path, size_t last);

/// Id of the table in which stepped methods keep their stops.
inline const std::string kStops = "stations";

/// The stops of a stepped method: the rows that were keyed or, for a run recorded with channels, its samples in blocks
/// of equal length (at most 200), averaged, so that one way of looking serves both. Blocks lack what a sample lacks.
Rows stops_of(const Run& run, const std::vector<std::string>& channels);

/// Line of one column with the residual of every row, for the call-out sheet and the figures.
RowLine row_line(const Rows& rows, const std::string& control, const std::string& column, Dimension dimension,
                 const LineFit& line, const LoadingPath& path, const OffLine& off);

/// Positions off the line as findings `code`: alone ones in words for a finished record or a piece still
/// loaded, the newest with the live wording. In a finished record a last reading off the line is `last-reading`: it
/// rests on itself alone; a check where the piece must stay elastic, else a note. `gauge`: what is read ("the dial
/// gauge").
void off_line_findings(Evaluation& e, const Run& run, const RowLine& line, const LoadingPath& path, const OffLine& off,
                       Dimension load, const std::string& gauge, const std::string& live_code, bool elastic = false);

/// A limit that the readings do not reach is a lower bound: marks the results `keys` that are it, and notes
/// `limit-not-reached`. Not where a person picked it.
void limit_bound(Evaluation& e, const TestRecord& record, const LoadingPath& path,
                 const std::optional<ProportionalLimit>& limit, const std::vector<std::string>& keys);

/// One column over the stops, for the figure.
struct StopSeries {
  std::string label;         ///< written beside its last point; empty: there is only one
  std::vector<double> x, y;  ///< as drawn on the first panel
  std::vector<size_t> row;   ///< row behind every point
  const RowLine* line = nullptr;
  std::string control;              ///< column the line runs over; its values are x of the departures
  double scale = 1;                 ///< internal units of the reading per unit of the departures
  std::optional<double> tolerance;  ///< share of the reading within which the straight part lies
};

/// First panel: the points with their constructions. Second panel: how far every reading lies from its line, over
/// the control, with three counts of the indicator as limits and, where one holds, the tolerance.
struct StopSheet {
  std::string x_name, y_name;
  Dimension x_dimension = Dimension::none, y_dimension = Dimension::none;
  std::string control_name, reading_name;
  Dimension control_dimension = Dimension::force, reading_dimension = Dimension::none;
  std::string caption;
  std::vector<StopSeries> series;
  std::vector<Construction> constructions;
  Figure figure(const Evaluation& e, const Rows& rows) const;
};

}  // namespace fortitor
