#include <algorithm>
#include <array>
#include <cmath>

#include "core/figure/layout_parts.h"

namespace fortitor::figure {
namespace {

void clip(Sheet& s, bool on, double slack = 0) {
  Shape c;
  c.kind = on ? Shape::Kind::clip : Shape::Kind::unclip;
  const Frame& f = s.frame;
  if (on) c.points = {{f.left - slack, f.top - slack}, {f.left + f.width + slack, f.top + f.height + slack}};
  s.out.shapes.push_back(std::move(c));
}

bool drawable(const Frame& f, double x, double y) {
  return std::isfinite(x) && std::isfinite(y) && !(f.log_x && !(x > 0)) && !(f.log_y && !(y > 0));
}

// Points of a line for each pixel of the plot's width. A curve that goes one way has no more than four.
constexpr double kMostAPixel = 8;

// Of each run of points the first, the last and the extremes both ways, in their order.
std::vector<Point> extremes(const std::vector<Point>& line, size_t most) {
  const size_t run = 6 * line.size() / most + 1;  // six are kept of each
  std::vector<Point> out;
  for (size_t from = 0; from < line.size(); from += run) {
    const auto begin = line.begin() + long(from), end = line.begin() + long(std::min(line.size(), from + run));
    const auto [left, right] = std::minmax_element(begin, end, [](Point a, Point b) { return a.x < b.x; });
    const auto [top, bottom] = std::minmax_element(begin, end, [](Point a, Point b) { return a.y < b.y; });
    std::array kept = {begin, left, right, top, bottom, end - 1};
    std::sort(kept.begin(), kept.end());
    const auto last = std::unique(kept.begin(), kept.end());
    for (auto it = kept.begin(); it != last; ++it) out.push_back(**it);
  }
  return out;
}

// The curve as px. Of all samples in one pixel column the first, the extremes and the last are kept, so that a
// million samples draw like a thousand and no spike is lost. Noise along x leaves each column again with every sample:
// what has still too many points keeps the extremes of runs.
std::vector<std::vector<Point>> pieces(const Frame& f, const std::vector<double>& x, const std::vector<double>& y) {
  std::vector<std::vector<Point>> out(1);
  std::vector<Point> column;
  const auto most = size_t(std::max(1.0, kMostAPixel * f.width));
  auto flush = [&] {
    if (column.empty()) return;
    auto& line = out.back();
    if (column.size() <= 4) {
      line.insert(line.end(), column.begin(), column.end());
    } else {
      auto low = std::min_element(column.begin(), column.end(), [](Point a, Point b) { return a.y < b.y; });
      auto high = std::max_element(column.begin(), column.end(), [](Point a, Point b) { return a.y < b.y; });
      line.push_back(column.front());
      if (low > high) std::swap(low, high);
      for (auto it : {low, high})
        if (it != column.begin() && it != column.end() - 1) line.push_back(*it);
      line.push_back(column.back());
    }
    column.clear();
  };
  const double far = 20 * (f.width + f.height);
  for (size_t i = 0; i < std::min(x.size(), y.size()); ++i) {
    if (!drawable(f, x[i], y[i])) {
      flush();
      if (!out.back().empty()) out.emplace_back();
      continue;
    }
    const Point p{std::clamp(f.px(x[i]), -far, far), std::clamp(f.py(y[i]), -far, far)};
    if (!column.empty() && std::floor(p.x) != std::floor(column.front().x)) flush();
    column.push_back(p);
  }
  flush();
  if (out.back().empty()) out.pop_back();
  for (auto& line : out)
    if (line.size() > most) line = extremes(line, most);
  return out;
}

Shape stroke(const Trace& t) {
  Shape s;
  s.kind = Shape::Kind::polyline;
  s.stroke = t.pale ? Ink::quiet : Ink::temper;
  s.tone = t.tone;
  s.width = t.weight;
  s.dash = t.dash;
  s.alpha = t.pale ? 0.55 : 1;
  return s;
}

void draw_line(Sheet& s, const Trace& t) {
  std::vector<double> x = t.x, y = t.y;
  if (t.kind == Trace::Kind::steps && x.size() > 1) {
    std::vector<double> sx, sy;
    for (size_t i = 0; i < x.size(); ++i) {
      if (i > 0) {
        sx.push_back(x[i]);
        sy.push_back(y[i - 1]);
      }
      sx.push_back(x[i]);
      sy.push_back(y[i]);
    }
    x = std::move(sx);
    y = std::move(sy);
  }
  for (auto& piece : pieces(s.frame, x, y)) {
    Shape line = stroke(t);
    line.points = std::move(piece);
    s.out.shapes.push_back(std::move(line));
  }
}

void draw_area(Sheet& s, const Trace& t) {
  Shape area = stroke(t);
  area.kind = Shape::Kind::polygon;
  area.fill = Ink::temper;
  area.filled = true;
  area.alpha = t.pale ? 0.12 : 0.22;
  area.width = 0;
  const double floor_value = s.frame.log_y ? s.frame.y0 : 0;
  for (size_t i = 0; i < t.x.size(); ++i)
    if (drawable(s.frame, t.x[i], t.y[i])) area.points.push_back({s.frame.px(t.x[i]), s.frame.py(t.y[i])});
  for (size_t i = t.x.size(); i-- > 0;) {
    const double b = i < t.base.size() ? t.base[i] : floor_value;
    if (drawable(s.frame, t.x[i], b)) area.points.push_back({s.frame.px(t.x[i]), s.frame.py(b)});
  }
  if (area.points.size() > 2) s.out.shapes.push_back(std::move(area));
}

void draw_bars(Sheet& s, const Trace& t) {
  double width = t.bar_width;
  if (!(width > 0)) {
    double least = HUGE_VAL;
    for (size_t i = 1; i < t.x.size(); ++i) least = std::min(least, std::abs(t.x[i] - t.x[i - 1]));
    width = std::isfinite(least) && least > 0 ? 0.8 * least : 0.8;
  }
  const Frame& f = s.frame;
  for (size_t i = 0; i < t.x.size(); ++i) {
    const double b = i < t.base.size() ? t.base[i] : (f.log_y ? f.y0 : 0);
    if (!drawable(f, t.x[i], t.y[i]) || !drawable(f, t.x[i], b) || t.y[i] == b) continue;
    double left = f.px(t.x[i] - width / 2), right = f.px(t.x[i] + width / 2);
    if (right - left > 4) left += 0.75, right -= 0.75;  // neighbours stay apart
    Shape bar = stroke(t);
    bar.kind = Shape::Kind::polygon;
    bar.fill = Ink::temper;
    bar.filled = true;
    bar.alpha = 0.6;
    bar.width = 0;
    const double y = f.py(t.y[i]), base = f.py(b);
    bar.points = {{left, base}, {left, y}, {right, y}, {right, base}};
    s.out.shapes.push_back(std::move(bar));
  }
}

void draw_errors(Sheet& s, const Trace& t) {
  const Frame& f = s.frame;
  auto bar = [&](Point a, Point b, bool upright) {
    for (const auto& [from, to] : {std::pair{a, b},
                                   upright ? std::pair{Point{a.x - 3, a.y}, Point{a.x + 3, a.y}}
                                           : std::pair{Point{a.x, a.y - 3}, Point{a.x, a.y + 3}},
                                   upright ? std::pair{Point{b.x - 3, b.y}, Point{b.x + 3, b.y}}
                                           : std::pair{Point{b.x, b.y - 3}, Point{b.x, b.y + 3}}}) {
      s.out.shapes.push_back(line_shape(from, to, Ink::temper, 1.2));
      s.out.shapes.back().tone = t.tone;
    }
  };
  for (size_t i = 0; i < t.x.size(); ++i) {
    if (!drawable(f, t.x[i], t.y[i])) continue;
    if (i < t.error.size() && t.error[i] > 0) {
      const double low = t.y[i] - t.error[i];
      bar({f.px(t.x[i]), f.py(f.log_y && low <= 0 ? f.y0 : low)}, {f.px(t.x[i]), f.py(t.y[i] + t.error[i])}, true);
    }
    if (i < t.x_error.size() && t.x_error[i] > 0) {
      const double low = t.x[i] - t.x_error[i];
      bar({f.px(f.log_x && low <= 0 ? f.x0 : low), f.py(t.y[i])}, {f.px(t.x[i] + t.x_error[i]), f.py(t.y[i])}, false);
    }
  }
}

// An arrow from the point: the value is at least, or at most, this.
void draw_bound(Sheet& s, const Trace& t, Point at, int bound) {
  const double length = 18, tip = 5;
  const Point d = t.bound_along_x ? Point{double(bound), 0} : Point{0, double(-bound)};
  const Point end{at.x + d.x * length, at.y + d.y * length};
  auto stroke_to = [&](Point a, Point b) {
    s.out.shapes.push_back(line_shape(a, b, Ink::temper, 1.6));
    s.out.shapes.back().tone = t.tone;
  };
  stroke_to(at, end);
  for (double side : {-1.0, 1.0})
    stroke_to(end, {end.x - d.x * tip + side * d.y * tip, end.y - d.y * tip + side * d.x * tip});
}

void draw_points(Sheet& s, const Trace& t) {
  const double radius = t.pale ? 3 : 4.5;
  draw_errors(s, t);
  for (size_t i = 0; i < t.x.size(); ++i) {
    if (!drawable(s.frame, t.x[i], t.y[i])) continue;
    const Point at{s.frame.px(t.x[i]), s.frame.py(t.y[i])};
    if (!s.frame.holds(at.x, at.y, 1)) continue;
    if (i < t.bound.size() && t.bound[i] != 0) draw_bound(s, t, at, t.bound[i]);
    if (t.marker == Marker::none) continue;  // only its names are written
    const bool hollow = i < t.hollow.size() && t.hollow[i] != 0;
    Shape p = stroke(t);
    p.kind = t.marker == Marker::square    ? Shape::Kind::square
             : t.marker == Marker::diamond ? Shape::Kind::diamond
             : t.marker == Marker::cross   ? Shape::Kind::cross
                                           : Shape::Kind::circle;
    p.points = {at};
    p.size = radius;
    p.width = 1.6;
    p.dash = Dash::solid;
    p.fill = hollow ? Ink::paper : p.stroke;
    p.filled = true;
    p.alpha = 1;
    s.out.shapes.push_back(std::move(p));
    s.taken.push_back({at.x - radius - 1, at.y - radius - 1, at.x + radius + 1, at.y + radius + 1});
  }
}

}  // namespace

bool Sheet::stops() const {
  return std::any_of(panel.traces.begin(), panel.traces.end(),
                     [](const Trace& t) { return t.kind == Trace::Kind::points; });
}

void draw_traces(Sheet& s) {
  clip(s, true, 1);
  for (const bool pale : {true, false})
    for (const Trace& t : s.panel.traces) {
      if (t.pale != pale) continue;
      if (t.kind == Trace::Kind::area) draw_area(s, t);
      if (t.kind == Trace::Kind::bars) draw_bars(s, t);
      if (t.kind == Trace::Kind::line || t.kind == Trace::Kind::steps) draw_line(s, t);
    }
  clip(s, false);
  clip(s, true, 24);  // points and their arrows may stand on the edge
  for (const Trace& t : s.panel.traces)
    if (t.kind == Trace::Kind::points) draw_points(s, t);
  clip(s, false);
}

void draw_trace_words(Sheet& s) {
  const Frame& f = s.frame;
  for (const Trace& t : s.panel.traces) {
    for (const auto& [i, text] : t.flags) {
      if (i >= t.x.size() || !drawable(f, t.x[i], t.y[i])) continue;
      const Point at{f.px(t.x[i]), f.py(t.y[i])};
      if (!f.holds(at.x, at.y, 1)) continue;
      Shape ring;
      ring.kind = Shape::Kind::circle;
      ring.points = {at};
      ring.size = 8;
      ring.stroke = Ink::alarm;
      ring.width = 2;
      s.out.shapes.push_back(ring);
      place_words(s, at, text, Ink::alarm);
    }
    for (size_t i = 0; i < t.names.size() && i < t.x.size(); ++i) {
      if (t.names[i].empty() || !drawable(f, t.x[i], t.y[i])) continue;
      Shape name = text_shape({f.px(t.x[i]), f.py(t.y[i]) - 5 * s.scale()}, t.names[i], Ink::quiet, 11 * s.scale(),
                              Anchor::middle);
      name.numbers = true;
      s.out.shapes.push_back(std::move(name));
    }
    if (t.label.empty()) continue;
    // A direct label at the last place of the trace that is on the panel; where another stands there, further back.
    std::vector<Point> seen;
    for (size_t i = 0; i < t.x.size(); ++i)
      if (drawable(f, t.x[i], t.y[i]))
        if (const Point at{f.px(t.x[i]), f.py(t.y[i])}; f.holds(at.x, at.y)) seen.push_back(at);
    if (seen.empty()) continue;
    for (const double share : {1.0, 0.8, 0.6, 0.4, 0.2, 0.0})
      if (place_words(s, seen[size_t(share * double(seen.size() - 1))], t.label, t.pale ? Ink::quiet : Ink::temper,
                      t.tone))
        break;
  }
}

}  // namespace fortitor::figure
