// Stepwise loading: stops, the line through them, readings that lie off it, the proportional limit.
#pragma once

#include <cstddef>
#include <optional>
#include <vector>

#include "core/curve/fit.h"
#include "core/record/record.h"

namespace fortitor {

/// What was set against what was read, complete stops only, in the order of work.
struct LoadingPath {
  std::vector<double> load, response;
  std::vector<double> count;    ///< last typed digit of the response
  std::vector<size_t> station;  ///< index of the row, or of the sample
  size_t size() const { return load.size(); }
};

/// Complete rows of two columns; rows that are doubtful or set aside are left out unless `all` are asked for.
LoadingPath path_of(const Rows& rows, const std::string& load, const std::string& response, bool all = false);

/// How one reading stands to the line through all the others.
struct Departure {
  double residual = 0;     ///< reading − line through the others
  double studentized = 0;  ///< externally studentized residual
  double allowed = 0;      ///< two-sided t quantile at 1 %/n, n − 3 degrees of freedom
  bool off = false;        ///< beyond it, and beyond three counts of the indicator
};
/// Of point `i` among the points [0, n) of `path` (docs/methods/poisson-gauge.md; Cook and Weisberg 1982, ch. 2).
/// Empty for n < 4 or when the other loads are all equal.
std::optional<Departure> departure_of(const LoadingPath& path, size_t i, size_t n);

/// How the newest reading of a piece still under load stands, and which earlier ones stand alone.
struct OffLine {
  std::vector<size_t> alone;          ///< positions off the line whose neighbours on both sides lie on it
  std::optional<size_t> newest;       ///< last position, when it is off the line for the first time
  std::optional<size_t> lasting;      ///< first position of a departure that has stayed: the piece gives way
  std::vector<Departure> departures;  ///< of `alone`, `newest`, `lasting`, in that order
};
/// `tolerance` of straight_to() for a piece that leaves its line in the end; none for an elastic test,
/// where every stop belongs to the line.
OffLine off_line(const LoadingPath& path, std::optional<double> tolerance);

/// Positions of readings that cannot be where their neighbours are: the load rises (or falls) through all three, yet
/// the reading lies outside what its two neighbours read, by more than twice their difference, three counts and a
/// twentieth of all readings. A torque keyed as 0 above the straight part is seen by nothing else.
std::vector<size_t> out_of_course(const LoadingPath& path);

/// A proportional limit: the last point of the straight part and the line through points 0…last of the
/// response on the load.
struct ProportionalLimit {
  size_t last = 0;
  LineFit line;
  double load = 0, response = 0;  ///< of the point, or interpolated (deviation)
  /// The readings end on the straight part: the limit lies at that load or above.
  bool open_above(const LoadingPath& path) const { return last + 1 >= path.size(); }
};
/// Largest k such that every point up to k lies within `tolerance`·response_k of the least-squares line
/// through points 0…k (docs/methods/flexure-beam.md); needs at least four points.
std::optional<ProportionalLimit> straight_to(const LoadingPath& path, double tolerance);
/// The point whose load is nearest to `load`; needs at least two points up to it.
std::optional<ProportionalLimit> straight_to_load(const LoadingPath& path, double load);
/// First departure of the response from the initial line (through the first four points, or a fifth of a
/// long path) by `share` of it, by straight line between points.
std::optional<ProportionalLimit> straight_to_deviation(const LoadingPath& path, double share);

/// Long paths boiled down to about `wanted` points by means of equal blocks, so that searches stay quick
/// and noise is averaged out. Short ones are returned as they are.
LoadingPath thinned(const LoadingPath& path, size_t wanted);

/// Residual-mean-square improvement of a quadratic over a straight line: t of the quadratic term and its
/// two-sided probability. Empty for fewer than 4 points.
struct QuadraticTerm {
  double coefficient = 0, t = 0, p = 1;
};
std::optional<QuadraticTerm> quadratic_term(const std::vector<double>& x, const std::vector<double>& y);

}  // namespace fortitor
