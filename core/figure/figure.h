// Figures as data: axes, traces, marks, handles. Laid out once (layout.h) and painted thinly by the window, the
// certificate, the series page and the exports, so that they cannot differ. No science in here.
#pragma once

#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/quantity/format.h"
#include "core/quantity/unit.h"

namespace fortitor {

struct Point {
  double x = 0.0, y = 0.0;
};

/// A part of a mark that a hand may drag; doing so writes `setting`.
struct Handle {
  std::string setting;   ///< path of the setting, e.g. "settings.modulus.from"
  bool along_x = false;  ///< moves along x, otherwise along y
  Point at;
  Dimension dimension = Dimension::stress;
  std::string label;
  /// Settings that go with the drag (path → typed), so that one gesture is one consistent change.
  std::map<std::string, std::string> with;
  double per = 1;   ///< value of the setting for one of the axis (a share of the largest force on an axis of stress)
  double from = 0;  ///< value of the setting where the axis is zero
};

struct Axis {
  enum class Scale { linear, log, category };
  std::string name;  ///< "strain"; the unit is added when it is drawn
  Dimension dimension = Dimension::none;
  Scale scale = Scale::linear;
  std::vector<std::string> categories = {};  ///< of a category axis: position 0, 1, …
  std::optional<double> from = {}, to = {};  ///< internal units; empty: fitted to what is drawn
  bool with_zero = true;                     ///< a fitted linear axis begins at zero when nothing lies below it
  double like = 0;                           ///< size by which its unit is chosen; 0: what is drawn
};

enum class Marker { none, dot, square, diamond, cross };
enum class Dash { solid, dashed, dotted, dash_dot };

/// One set of data. Vectors other than x and y are empty or as long as they.
struct Trace {
  enum class Kind { line, points, steps, bars, area };
  Kind kind = Kind::line;
  std::string label;                    ///< written beside its end; empty: none
  std::vector<double> x, y;             ///< NaN parts a line
  std::vector<double> base;             ///< lower edge of an area or bar; empty: zero
  std::vector<double> error;            ///< half length of the error bar along y
  std::vector<double> x_error;          ///< … along x
  std::vector<int> bound;               ///< +1: at least, arrow to larger values; −1: at most; 0: measured
  bool bound_along_x = false;           ///< arrows point along x (run-outs), otherwise along y
  std::vector<char> hollow;             ///< points that do not count
  std::map<size_t, std::string> flags;  ///< points that want to be seen, with words
  std::vector<std::string> names;       ///< written at the points (how many pieces in a bar)
  double bar_width = 0;                 ///< in x; 0: 80 % of the least distance
  int tone = 5;                         ///< temper colour, 0 straw … 6 pale blue
  Marker marker = Marker::dot;
  Dash dash = Dash::solid;
  double weight = 2;    ///< px of the line
  bool pale = false;    ///< drawn thinly behind the others: what was, what lies between stops
  bool outlier = true;  ///< enters the fit of the axes
};

/// Something pointed out on the panel: belongs to a result, which picks it and is picked by it.
struct Mark {
  enum class Kind {
    window,  ///< stripe between the y of two points
    line,    ///< between two points
    point,   ///< ringed
    band,    ///< stretch between two points with end ticks: an interval
    level,   ///< line across the panel at the y (or, `along_x`, the x) of its point
    text,    ///< words at a place, with a tick
  };
  Kind kind = Kind::point;
  std::string key;    ///< result it belongs to
  std::string label;  ///< "0.2 % offset"
  std::vector<Point> points;
  bool along_x = false;         ///< level: at an x
  bool on_demand = false;       ///< drawn only while its result is open
  bool drop_line = false;       ///< a dotted line down to the axis
  std::optional<double> value;  ///< written behind the label, in the units of the reader
  Dimension dimension = Dimension::none;
  RoundingClass rounding = RoundingClass::other;
  enum class Tone { mark, main, limit, quiet } tone = Tone::mark;
  double like = 0;  ///< size by which its unit is chosen; 0: its own
};

struct Panel {
  std::string name;     ///< where panels take turns: "Elastic lens"
  std::string caption;  ///< a quiet line over the plot: source of strain, window and its fit
  Axis x, y;
  std::vector<Trace> traces;
  std::vector<Mark> marks;
  std::vector<Handle> handles;
  bool equal_aspect = false;  ///< a map: one unit of x is as long as one of y
  double weight = 1;          ///< share of the width
};

struct Figure {
  std::string id, title;
  std::vector<Panel> panels;
  /// The first traces of all panels are one run: a cursor on one panel stands at the same sample on all of them.
  bool linked = false;
  bool printed = false;  ///< stands on the certificate beside the first one
  bool raw = false;      ///< a run as it was recorded, of which nothing was worked out: stands beside no other curve
  bool empty() const { return panels.empty(); }
};

}  // namespace fortitor
