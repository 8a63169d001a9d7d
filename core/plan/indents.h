// Where on a prepared face the indents go: rules of spacing and edge for the largest indent expected, areas to keep
// clear, order of work (docs/methods/hardness-vickers.md; ISO 6507-1, clause on spacing; ISO 9015-1 for welds).
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/outcome.h"

namespace fortitor {

/// A prepared face, mm. Places count from its left and its lower edge; a disc from those of the square around it.
struct IndentFace {
  enum class Shape { unknown, rectangle, disc, weld };
  Shape shape = Shape::unknown;
  double width = 0, height = 0;          ///< disc: both its diameter
  double weld_width = 0, haz_width = 0;  ///< weld: in the middle, and of each heat-affected zone beside it
  /// Distance of a place to the nearest edge; negative outside; infinite on a face that is not known.
  double to_edge(double x, double y) const;
  /// "base", "heat-affected zone", "weld metal"; empty on other faces.
  std::string zone(double x) const;
};

struct IndentSpot {
  double x = 0, y = 0;
  double radius = 0;  ///< of a spoilt area
  std::string zone;
};

struct IndentPattern {
  enum class Kind { grid, line, staggered, weld };
  Kind kind = Kind::grid;
  int count = 5;       ///< of a weld: in each zone and row
  double pitch = 0;    ///< between indents along the line; 0: the least allowed
  double start = 0;    ///< line: first distance from the left edge; weld: of the rows from the upper and lower edge
  double size = 0.05;  ///< largest indent expected, mm
  double spacing = 3, edge = 2.5;  ///< centre to centre and to the edge, in sizes
  std::vector<IndentSpot> clear;   ///< spoilt areas and old indents
};

/// Places in the order of work: serpentine, so that the stage moves little. Errors: no face, no room, a pitch below
/// what the spacing allows (of a straight line), with the numbers.
Outcome<std::vector<IndentSpot>> place_indents(const IndentFace& face, const IndentPattern& pattern);

/// Places as a record keeps them: "0.15 0; 0.4 0.1" in mm, areas with a radius as third number. Errors name the part.
Outcome<std::vector<IndentSpot>> read_spots(const std::string& text);
std::string write_spots(const std::vector<IndentSpot>& spots);

}  // namespace fortitor
