// From what a method found on its curve to the figure of the evaluation: the whole curve and a lens on its foot.
#pragma once

#include "core/evaluation/evaluation.h"

namespace fortitor {

/// What the evaluation did on the curve, in data terms.
struct Construction {
  enum class Kind { window, line, point, band, marker };
  Kind kind = Kind::point;
  std::string key;            ///< result it belongs to
  std::string label;          ///< "0.2 % offset"
  std::vector<Point> points;  ///< window: {lo, hi} on the curve; line: two ends; point, marker: one
  std::vector<Handle> handles;
  bool always = false;  ///< worth seeing on the whole curve, not only in the lens
  bool minor = false;   ///< drawn only when its result is open
};

/// A curve with its constructions.
struct CurveSheet {
  std::string x_name, y_name;
  Dimension x_dimension = Dimension::strain, y_dimension = Dimension::stress;
  std::vector<double> x, y;
  size_t break_index = SIZE_MAX;      ///< last sample worth drawing
  std::optional<double> lens_x;       ///< where the lens should end; empty: no lens
  std::string caption, lens_caption;  ///< a line over the whole curve and over the lens
  std::vector<Construction> constructions;

  /// The figure; values beside the points are those of the results in `e`. The samples go into it.
  Figure figure(const Evaluation& e) &&;
};

/// The two ends of a window that a hand may move; dragging one holds the other where it is. `per`: value of the
/// settings for one of the axis.
struct WindowPaths {
  std::string from, to;
  Dimension dimension = Dimension::strain;
  bool along_x = true;
  double per = 1;
};
std::vector<Handle> window_handles(const WindowPaths& paths, Point from, Point to);
/// A single place that a hand may move.
Handle place_handle(const std::string& path, Point at, Dimension d, const std::string& label, bool along_x = true);

/// A handful of readings, each with what it reads and its ±, about their mean with its own, and what they must meet: on
/// the page where it lies near, in words over it where not.
struct ReadingsSheet {
  std::string id, title, x_name, y_name;
  Dimension dimension = Dimension::none;
  std::vector<std::string> names = {};    ///< of all rows
  std::vector<double> values = {};        ///< of the rows; NaN: none
  std::vector<char> counts = {};          ///< whether a row enters the mean
  std::vector<int> bound = {};            ///< as in Trace; empty: none
  double expanded = 0, relative = 0;      ///< U of one reading, or as a share of it; 0: not shown
  std::string key = {}, mean_label = {};  ///< result that is their mean
  /// "each ≥": what every single one must reach, beside the limits of the record; those that do not stand out.
  std::vector<std::pair<std::string, double>> wanted = {};

  Figure figure(const Evaluation& e, const TestRecord& record) const;
};

/// Mark of a construction, with the value of its result. `lens`: on the lens rather than on the whole curve.
Mark mark_of(const Construction& c, const Evaluation& e, bool lens);

}  // namespace fortitor
