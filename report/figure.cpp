#include "report/figure.h"

#include <algorithm>
#include <cmath>
#include <vector>

namespace fortitor {
namespace {

constexpr const char* kInk = "#22303C";
constexpr const char* kQuiet = "#6F7780";
constexpr const char* kLine = "#DAD4C6";
constexpr const char* kCurve = "#3D5598";
constexpr const char* kMark = "#B0623F";
constexpr const char* kWindow = "#E0B84C";

struct Frame {
  double left, top, width, height;  // plot area, px
  double x0, x1, y0, y1;            // data, internal units
  double px(double x) const { return left + (x - x0) / (x1 - x0) * width; }
  double py(double y) const { return top + height - (y - y0) / (y1 - y0) * height; }
};

std::string n1(double v) {
  char text[40];
  std::snprintf(text, sizeof text, "%.1f", v);
  return text;
}

double nice_step(double span, int about) {
  const double raw = span / std::max(1, about);
  const double power = std::pow(10.0, std::floor(std::log10(raw)));
  for (double m : {1.0, 2.0, 5.0})
    if (raw <= m * power) return m * power;
  return 10 * power;
}

std::string label(double x, double y, const std::string& text, const char* colour, const char* anchor = "start",
                  const char* extra = "") {
  std::string escaped;
  for (char c : text) {
    if (c == '&')
      escaped += "&amp;";
    else if (c == '<')
      escaped += "&lt;";
    else
      escaped += c;
  }
  return "<text x=\"" + n1(x) + "\" y=\"" + n1(y) + "\" fill=\"" + colour + "\" text-anchor=\"" + anchor + "\" " +
         extra + ">" + escaped + "</text>";
}

std::string segment(const Frame& f, Point a, Point b, const char* colour, const char* extra) {
  return "<line x1=\"" + n1(f.px(a.x)) + "\" y1=\"" + n1(f.py(a.y)) + "\" x2=\"" + n1(f.px(b.x)) + "\" y2=\"" +
         n1(f.py(b.y)) + "\" stroke=\"" + colour + "\" " + extra + "/>";
}

std::string axes(const Frame& f, const CurveData& c, UnitSet set, bool lens) {
  std::string out;
  const Unit& ux = display_unit(c.x_dimension, set, f.x1);
  const Unit& uy = display_unit(c.y_dimension, set, f.y1);
  const double sx = nice_step((f.x1 - f.x0) / ux.factor, int(f.width / 55)) * ux.factor;
  const double sy = nice_step((f.y1 - f.y0) / uy.factor, int(f.height / 34)) * uy.factor;
  const std::string grid = std::string("stroke-width=\"0.6\"");
  for (double v = std::ceil(f.x0 / sx) * sx; v <= f.x1 * (1 + 1e-9); v += sx) {
    out += segment(f, {v, f.y0}, {v, f.y1}, kLine, grid.c_str());
    char tick[32];
    std::snprintf(tick, sizeof tick, "%.4g", std::abs(v) < 1e-9 * sx ? 0.0 : v / ux.factor);
    out +=
        label(f.px(v), f.top + f.height + 14, tick, kQuiet, "middle", "font-family=\"JetBrains Mono\" font-size=\"9\"");
  }
  for (double v = std::ceil(f.y0 / sy) * sy; v <= f.y1 * (1 + 1e-9); v += sy) {
    out += segment(f, {f.x0, v}, {f.x1, v}, kLine, grid.c_str());
    char text[32];
    std::snprintf(text, sizeof text, "%.4g", v / uy.factor);
    out += label(f.left - 5, f.py(v) + 3, text, kQuiet, "end", "font-family=\"JetBrains Mono\" font-size=\"9\"");
  }
  out += segment(f, {f.x0, f.y0}, {f.x1, f.y0}, kInk, "stroke-width=\"1\"");
  out += segment(f, {f.x0, f.y0}, {f.x0, f.y1}, kInk, "stroke-width=\"1\"");
  out +=
      label(f.left + f.width, f.top + f.height + 28,
            c.x_name + ", " + std::string(ux.symbol) + (lens ? ", elastic part" : ""), kInk, "end", "font-size=\"10\"");
  out += label(f.left - 34, f.top - 8, c.y_name + ", " + std::string(uy.symbol), kInk, "start", "font-size=\"10\"");
  return out;
}

// Several thousand pixels' worth of points at most: extremes of each pixel column are kept.
std::string polyline(const Frame& f, const CurveData& c) {
  std::string points;
  double column = -1e300, low = 0, high = 0, last_x = 0;
  size_t in_column = 0;
  auto flush = [&] {
    if (in_column == 0) return;
    points += n1(last_x) + "," + n1(low) + " ";
    if (high - low > 0.8) points += n1(last_x) + "," + n1(high) + " ";
  };
  for (size_t i = 0; i < c.x.size() && i <= c.break_index; ++i) {
    if (!std::isfinite(c.x[i]) || !std::isfinite(c.y[i]) || c.x[i] > f.x1) continue;
    const double x = f.px(std::max(c.x[i], f.x0)), y = f.py(std::clamp(c.y[i], f.y0, f.y1));
    if (in_column > 0 && std::abs(x - column) < 0.5) {
      low = std::min(low, y);
      high = std::max(high, y);
      last_x = x;
      ++in_column;
      continue;
    }
    flush();
    column = last_x = x;
    low = high = y;
    in_column = 1;
  }
  flush();
  return "<polyline fill=\"none\" stroke=\"" + std::string(kCurve) +
         "\" stroke-width=\"1.6\" stroke-linejoin=\"round\" points=\"" + points + "\"/>";
}

// Stops keyed by hand: dots, doubtful ones hollow, a second channel as squares, those off the line ringed.
std::string stops(const Frame& f, const CurveData& c) {
  if (!c.stations) return {};
  std::string out;
  auto inside = [&](double x, double y) { return x >= f.x0 && x <= f.x1 && y >= f.y0 && y <= f.y1; };
  for (size_t i = 0; i < c.second.x.size(); ++i)
    if (inside(c.second.x[i], c.second.y[i]))
      out += "<rect x=\"" + n1(f.px(c.second.x[i]) - 3) + "\" y=\"" + n1(f.py(c.second.y[i]) - 3) +
             "\" width=\"6\" height=\"6\" fill=\"#B0623F\"/>";
  for (size_t i = 0; i < c.x.size(); ++i) {
    if (!inside(c.x[i], c.y[i])) continue;
    const bool hollow = i < c.left_out.size() && c.left_out[i], flagged = c.flags.count(i) != 0;
    out += "<circle cx=\"" + n1(f.px(c.x[i])) + "\" cy=\"" + n1(f.py(c.y[i])) + "\" r=\"" + (flagged ? "5" : "3") +
           "\" fill=\"" + (hollow || flagged ? "#FBFAF6" : kCurve) + "\" stroke=\"" + (flagged ? "#B5452F" : kCurve) +
           "\"/>";
  }
  return out;
}

std::string constructions(const Frame& f, const Evaluation& e, bool lens) {
  std::string out;
  using Kind = Construction::Kind;
  for (const Construction& c : e.constructions) {
    if (c.points.empty() || (c.points.front().x > f.x1)) continue;
    const Point a = c.points.front();
    if (c.kind == Kind::window && lens) {
      const double y0 = f.py(c.points[1].y), y1 = f.py(c.points[0].y);
      out += "<rect x=\"" + n1(f.left) + "\" y=\"" + n1(y0) + "\" width=\"" + n1(f.width) + "\" height=\"" +
             n1(y1 - y0) + "\" fill=\"" + kWindow + "\" fill-opacity=\"0.18\"/>";
    } else if (c.kind == Kind::line && (lens || (e.curve->stations && c.always)) && c.points.size() == 2) {
      const Point b{std::min(c.points[1].x, f.x1), a.y + (c.points[1].y - a.y) * (std::min(c.points[1].x, f.x1) - a.x) /
                                                             std::max(1e-12, c.points[1].x - a.x)};
      out += segment(f, a, b, kMark, "stroke-width=\"1\" stroke-dasharray=\"5 3\"");
    } else if (c.kind == Kind::point && (c.always || lens)) {
      if (lens && c.key == "rt05") continue;
      out += "<circle cx=\"" + n1(f.px(a.x)) + "\" cy=\"" + n1(f.py(a.y)) + "\" r=\"3.5\" fill=\"#FBFAF6\" stroke=\"" +
             kMark + "\" stroke-width=\"1.5\"/>";
      out += label(f.px(a.x) + (lens ? 6 : 0), f.py(a.y) - (lens ? 6 : 8), c.label, kMark, lens ? "start" : "middle",
                   "font-size=\"10\" font-weight=\"600\"");
    } else if (c.kind == Kind::marker && !lens) {
      const bool right_half = f.px(a.x) > f.left + f.width / 2;
      out += label(f.px(a.x) + (right_half ? -4 : 6), f.py(a.y) + 14, c.label, kQuiet, right_half ? "end" : "start",
                   "font-size=\"9\"");
    }
  }
  return out;
}

std::string panel(const Evaluation& e, UnitSet set, double left, double width, double height, bool lens) {
  const CurveData& c = *e.curve;
  Frame f{left + 44, 22, width - 56, height - 58, 0, 0, 0, 0};
  double top_x = 0, top_y = 0;
  const double edge = lens ? c.lens_x.value_or(HUGE_VAL) : HUGE_VAL;
  for (size_t i = 0; i < c.x.size() && i <= c.break_index; ++i) {
    if (!(c.x[i] <= edge) || !std::isfinite(c.y[i])) continue;
    top_x = std::max(top_x, c.x[i]);
    top_y = std::max(top_y, c.y[i]);
  }
  if (!(top_x > 0) || !(top_y > 0)) return {};
  f.x1 = lens ? std::min(edge, top_x) : top_x * 1.03;
  f.y1 = top_y * 1.10;
  for (double x : c.second.x)
    if (std::isfinite(x) && std::abs(x) <= edge) f.x0 = std::min(f.x0, 1.1 * x);
  return axes(f, c, set, lens) + constructions(f, e, lens) + polyline(f, c) + stops(f, c);
}

}  // namespace

std::string curve_svg(const Evaluation& e, UnitSet set, const FigureStyle& s) {
  if (!e.curve || e.curve->x.size() < 2) return {};
  std::string body;
  if (s.both && e.curve->lens_x) {
    body = panel(e, set, 0, s.width * 0.58, s.height, false) +
           panel(e, set, s.width * 0.58, s.width * 0.42, s.height, true);
  } else {
    body = panel(e, set, 0, s.width, s.height, s.lens && e.curve->lens_x);
  }
  return "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"" + n1(s.width) + "\" height=\"" + n1(s.height) +
         "\" viewBox=\"0 0 " + n1(s.width) + " " + n1(s.height) + "\" font-family=\"Inter\">" + body + "</svg>";
}

}  // namespace fortitor
