// A figure laid out for a size: lines, areas and words in px, ready to be painted by anything that can draw them.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/figure/figure.h"
#include "core/language/language.h"

namespace fortitor::figure {

/// Colours by meaning; painters know the tints. `temper` goes with a tone 0 … 6.
enum class Ink { ink, quiet, grid, paper, temper, mark, main, window, limit, alarm, action };

enum class Anchor { start, middle, end };

/// One thing to paint, in order.
struct Shape {
  enum class Kind { line, polyline, polygon, circle, square, diamond, cross, text, clip, unclip };
  Kind kind = Kind::line;
  std::vector<Point> points;  ///< px; circle … cross: the centre; clip: two corners; text: baseline
  double size = 0;            ///< radius, half side, or height of the words
  Ink stroke = Ink::ink, fill = Ink::paper;
  int tone = 5;
  double width = 1;  ///< of the stroke, px; 0: none
  double alpha = 1;  ///< of the fill (polygon), else of the stroke
  bool filled = false;
  Dash dash = Dash::solid;
  std::string text;
  Anchor anchor = Anchor::start;
  bool numbers = false, bold = false;  ///< words in the face for numbers; heavier
};

/// Where a panel ended up, and the way between data and px.
struct Frame {
  double left = 0, top = 0, width = 0, height = 0;  ///< plot area, px
  double x0 = 0, x1 = 1, y0 = 0, y1 = 1;            ///< data at its edges, internal units
  bool log_x = false, log_y = false;
  double px(double x) const;
  double py(double y) const;
  double data_x(double px) const;
  double data_y(double py) const;
  bool holds(double px, double py, double slack = 0) const;
};

struct HandleSpot {
  size_t panel = 0;
  Handle handle;
  Point at;  ///< px
};

/// A mark that picks its result when it is clicked.
struct Pick {
  std::string key;
  Point at;
};

struct Layout {
  double width = 0, height = 0;
  std::vector<Shape> shapes;
  std::vector<Frame> frames;  ///< one a panel
  std::vector<HandleSpot> handles;
  std::vector<Pick> picks;
};

struct Options {
  double width = 520, height = 300;  ///< px
  UnitSet set = UnitSet::si;
  Language language = Language::english;  ///< of numbers and of what the catalogue has; titles come in their words
  double text_scale = 1;                  ///< 1 … 2
  std::string highlight;                  ///< key of the result that is open
  bool handles = false;                   ///< draw handles: where a hand can take them
  int held = -1;                          ///< handle that is held or chosen
  std::optional<size_t> cursor = {};      ///< sample of a linked figure at which its cursor stands
  /// Keeps the axes of an earlier layout: the paper stands still under a dragging hand.
  std::vector<Frame> keep = {};
};

/// How the panels of a figure find room: side by side, under one another, four and more in two rows, or (where nothing
/// leaves each a readable plot) one at a time. lay_out() puts what should take turns side by side, four and more in two
/// rows: a page has no turns.
enum class Arrangement { beside, stacked, rows, turns };
Arrangement arrangement(const Figure& figure, const Options& options);

/// Panels stand as arrangement() says.
/// Ticks are round numbers; a million samples become the extremes of each pixel column. A figure without panels
/// gives an empty layout.
Layout lay_out(const Figure& figure, const Options& options);

/// Everything of a layout lower by `px`: room for what stands above it.
void move_down(Layout& layout, double px);

/// Width of words, px, by a table of the faces that ship with the program; good to about 5 %.
double text_width(const std::string& text, double size, bool numbers);

}  // namespace fortitor::figure
