// Paints a laid-out figure, on screen and on paper alike. The only painter of figures.
#pragma once

#include <QColor>
#include <QPainter>
#include <array>
#include <string>

#include "core/figure/layout.h"

namespace fortitor {

/// Tints of figure::Ink; `temper` is the ramp of tones.
struct FigureColours {
  QColor ink, quiet, grid, paper, mark, main, window, limit, alarm, action;
  std::array<QColor, 7> temper;
};
/// For paper and for the light look.
const FigureColours& paper_colours();

void paint_figure(QPainter& painter, const figure::Layout& layout, const FigureColours& colours);

/// The figure as an SVG document of its own; empty text for an empty figure.
std::string figure_svg(const Figure& figure, const figure::Options& options);

}  // namespace fortitor
