// Shared by the files of the layout only.
#pragma once

#include "core/figure/layout.h"

namespace fortitor::figure {

struct Box {
  double left, top, right, bottom;
  bool meets(const Box& o) const { return left < o.right && o.left < right && top < o.bottom && o.top < bottom; }
};

/// One panel being laid out.
struct Sheet {
  const Panel& panel;
  const Options& options;
  Frame frame;
  Layout& out;
  std::vector<Box> taken;  ///< places words have already
  double scale() const { return options.text_scale; }
  bool stops() const;  ///< drawn from points: lines are theirs, not a curve's
};

void draw_traces(Sheet& sheet);
/// Flags, names and direct labels of the traces: after the marks, so that they stay readable.
void draw_trace_words(Sheet& sheet);
void draw_marks(Sheet& sheet);
void draw_handles(Sheet& sheet, size_t panel);
/// The sample of the first trace with its two values in words.
void draw_cursor(Sheet& sheet, size_t sample);
/// Words beside a place where nothing stands yet. False: there is no room, and they are dropped.
bool place_words(Sheet& sheet, Point at, const std::string& text, Ink ink, int tone = 5, bool bold = true);

Shape line_shape(Point a, Point b, Ink ink, double width, Dash dash = Dash::solid);
Shape text_shape(Point at, std::string text, Ink ink, double size, Anchor anchor = Anchor::start);

}  // namespace fortitor::figure
