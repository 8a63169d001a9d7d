// The cursor of a linked figure: one sample, pointed out on every panel with its values.
#include <cmath>

#include "core/figure/layout_parts.h"

namespace fortitor::figure {

void draw_cursor(Sheet& sheet, size_t sample) {
  const Panel& p = sheet.panel;
  if (p.traces.empty() || sample >= p.traces[0].x.size() || sample >= p.traces[0].y.size()) return;
  const double x = p.traces[0].x[sample], y = p.traces[0].y[sample], s = sheet.scale();
  const Frame& f = sheet.frame;
  if (!std::isfinite(x) || !std::isfinite(y) || !f.holds(f.px(x), f.py(y), 1)) return;
  const Point at{f.px(x), f.py(y)};
  sheet.out.shapes.push_back(line_shape({at.x, f.top}, {at.x, f.top + f.height}, Ink::action, 1));
  Shape dot;
  dot.kind = Shape::Kind::circle;
  dot.points = {at};
  dot.size = 4 * s;
  dot.stroke = Ink::action;
  dot.width = 2;
  dot.filled = true;
  sheet.out.shapes.push_back(dot);
  auto words = [&](double v, const Axis& a, double like) {
    const Printed text =
        printed(v, a.dimension, RoundingClass::other, RoundingSchool::significant, sheet.options.set, 4, like);
    return text.text();
  };
  const std::string text = words(y, p.y, std::max(std::abs(f.y0), std::abs(f.y1))) + "  at " +
                           words(x, p.x, std::max(std::abs(f.x0), std::abs(f.x1)));
  // At the upper edge, on the side of the cursor that has room.
  const double size = 12 * s, width = text_width(text, size, true);
  const bool left = at.x + 8 * s + width > f.left + f.width;
  Shape paper;
  paper.kind = Shape::Kind::polygon;
  const double from = left ? std::max(f.left + 1, at.x - 8 * s - width) : at.x + 8 * s, top = f.top + 2 * s;
  paper.points = {
      {from - 3, top}, {from + width + 3, top}, {from + width + 3, top + size + 5 * s}, {from - 3, top + size + 5 * s}};
  paper.fill = Ink::paper;
  paper.filled = true;
  paper.width = 0;
  sheet.out.shapes.push_back(paper);
  sheet.out.shapes.push_back(text_shape({from, top + size}, text, Ink::action, size));
  sheet.out.shapes.back().numbers = true;
}

}  // namespace fortitor::figure
