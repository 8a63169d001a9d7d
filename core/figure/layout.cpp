#include "core/figure/layout.h"
#include "core/language/sentences.h"

#include <algorithm>
#include <cmath>

#include "core/figure/layout_parts.h"
#include "core/figure/ticks.h"
#include "core/quantity/plain.h"

namespace fortitor::figure {
namespace {

constexpr double kTickSize = 11, kNameSize = 12;

struct Range {
  double low = HUGE_VAL, high = -HUGE_VAL;
  void take(double v) {
    if (!std::isfinite(v)) return;
    low = std::min(low, v);
    high = std::max(high, v);
  }
  bool any() const { return high >= low; }
};

// What an axis must show, when it does not say so itself.
Range fitted(const Panel& p, bool along_x) {
  Range r;
  const Axis& axis = along_x ? p.x : p.y;
  const Axis& other = along_x ? p.y : p.x;
  for (const Trace& t : p.traces) {
    if (!t.outlier) continue;
    const auto& v = along_x ? t.x : t.y;
    const auto& w = along_x ? t.y : t.x;
    const auto& error = along_x ? t.x_error : t.error;
    for (size_t i = 0; i < v.size(); ++i) {
      // A panel that shows a part of x is fitted to that part along y.
      if (i < w.size() && ((other.from && w[i] < *other.from) || (other.to && w[i] > *other.to))) continue;
      if (axis.scale == Axis::Scale::log && !(v[i] > 0)) continue;
      r.take(v[i]);
      if (i < error.size()) {
        r.take(v[i] + error[i]);
        if (axis.scale != Axis::Scale::log || v[i] > error[i]) r.take(v[i] - error[i]);
      }
    }
    if (!along_x && (t.kind == Trace::Kind::bars || t.kind == Trace::Kind::area)) {
      for (double b : t.base) r.take(b);
      if (t.base.empty() && axis.scale != Axis::Scale::log) r.take(0);
    }
    if (along_x && t.kind == Trace::Kind::bars && !v.empty()) {
      const double half = t.bar_width / 2;
      r.take(*std::min_element(v.begin(), v.end()) - half);
      r.take(*std::max_element(v.begin(), v.end()) + half);
    }
  }
  for (const Mark& m : p.marks)
    if (m.kind == Mark::Kind::level && m.along_x == along_x && !m.points.empty() && !m.on_demand)
      r.take(along_x ? m.points[0].x : m.points[0].y);
  return r;
}

std::pair<double, double> domain(const Panel& p, bool along_x) {
  const Axis& a = along_x ? p.x : p.y;
  if (a.scale == Axis::Scale::category)
    return {a.from.value_or(-0.5), a.to.value_or(std::max<double>(1, double(a.categories.size())) - 0.5)};
  Range r = fitted(p, along_x);
  if (!r.any()) r = {a.scale == Axis::Scale::log ? 1.0 : 0.0, a.scale == Axis::Scale::log ? 10.0 : 1.0};
  double low = r.low, high = r.high;
  if (a.scale == Axis::Scale::log) {
    const double room = std::pow(high / low, 0.06);
    low /= std::max(room, 1.1);
    high *= std::max(room, 1.1);
  } else {
    if (a.with_zero && low > 0) low = 0;
    if (a.with_zero && high < 0) high = 0;
    if (!(high > low)) {
      const double half = std::max(std::abs(low) * 0.05, 1e-12);
      high += half;
      if (low != 0 || !a.with_zero) low -= half;
    }
    const double span = high - low;
    if (!(a.with_zero && high == 0)) high += (along_x ? 0.05 : 0.12) * span;
    // Noise about zero is no reason to leave room below it.
    if (!a.with_zero || low < -0.01 * span || low > 0) low -= 0.06 * span;
  }
  if (a.from) low = *a.from;
  if (a.to) high = *a.to;
  if (!(high > low)) high = low + std::max(1e-12, std::abs(low) * 1e-6);
  return {low, high};
}

const Unit& unit_of(const Axis& a, UnitSet set, double low, double high) {
  return display_unit(a.dimension, set, a.like > 0 ? a.like : std::max(std::abs(low), std::abs(high)));
}

std::vector<Tick> ticks_of(const Axis& a, double low, double high, double px, double scale, bool along_x,
                           const Unit& unit) {
  if (a.scale == Axis::Scale::category) {
    std::vector<Tick> out;
    for (size_t i = 0; i < a.categories.size(); ++i) out.push_back({double(i), a.categories[i], false});
    return out;
  }
  // Temperatures have an offset: 20 °C is no multiple of °F. Ticks are round in the unit that is shown.
  const double shift = unit.offset;
  if (a.scale == Axis::Scale::log) return log_ticks(low, high, unit.factor);
  int about = std::max(3, int(px / ((along_x ? 74 : 40) * scale)));
  std::vector<Tick> t = linear_ticks(low - shift, high - shift, about, unit.factor);
  while (t.size() < 3 && about < 12) t = linear_ticks(low - shift, high - shift, about *= 2, unit.factor);
  for (Tick& k : t) k.value += shift;
  return t;
}

// Which of the ticks of y have their number: on a low figure with large text every second or fifth, nought among them,
// so that no number stands on another.
std::vector<bool> named_ticks(const std::vector<Tick>& ticks, const Frame& f, double size) {
  std::vector<bool> named(ticks.size(), true);
  if (ticks.size() < 2) return named;
  const double step = std::abs(ticks[1].value - ticks[0].value),
               apart = std::abs(f.py(ticks[1].value) - f.py(ticks[0].value));
  long every = 1;
  for (const long n : {2, 5, 10})
    if (every * apart < size) every = n;
  for (size_t i = 0; i < ticks.size(); ++i) named[i] = std::lround(ticks[i].value / step) % every == 0;
  return named;
}

std::string axis_words(const Axis& a, const Unit& unit) {
  if (a.name.empty() || a.dimension == Dimension::none || a.scale == Axis::Scale::category) return a.name;
  return a.name + ", " + std::string(unit.symbol);
}

void lay_panel(const Panel& panel, const Options& o, Box area, size_t index, Layout& out) {
  const double s = o.text_scale;
  auto [x0, x1] = domain(panel, true);
  auto [y0, y1] = domain(panel, false);
  const bool kept = index < o.keep.size();
  if (kept) {
    x0 = o.keep[index].x0, x1 = o.keep[index].x1;
    y0 = o.keep[index].y0, y1 = o.keep[index].y1;
  }
  const Unit &ux = unit_of(panel.x, o.set, x0, x1), &uy = unit_of(panel.y, o.set, y0, y1);
  double top = area.top + 6 * s + kNameSize * s;  // the name of the y axis stands over it
  if (!panel.caption.empty()) top += (kNameSize + 5) * s;
  const double bottom = area.bottom - (kTickSize + kNameSize + 14) * s;
  auto y_ticks = ticks_of(panel.y, y0, y1, bottom - top, s, false, uy);
  double widest = 0;
  for (const Tick& t : y_ticks) widest = std::max(widest, text_width(t.label, kTickSize * s, true));
  Frame f{area.left + widest + 10 * s,      top, 0, bottom - top, x0, x1, y0, y1, panel.x.scale == Axis::Scale::log,
          panel.y.scale == Axis::Scale::log};
  f.width = area.right - 14 * s - f.left;
  if (f.width < 20 || f.height < 20) return;
  if (panel.equal_aspect && !kept) {  // the shorter side decides; the other shows more
    const double per = std::max((f.x1 - f.x0) / f.width, (f.y1 - f.y0) / f.height);
    const double mx = 0.5 * (f.x0 + f.x1), my = 0.5 * (f.y0 + f.y1);
    f.x0 = mx - 0.5 * per * f.width, f.x1 = mx + 0.5 * per * f.width;
    f.y0 = my - 0.5 * per * f.height, f.y1 = my + 0.5 * per * f.height;
    y_ticks = ticks_of(panel.y, f.y0, f.y1, f.height, s, false, uy);
  }
  auto x_ticks = ticks_of(panel.x, f.x0, f.x1, f.width, s, true, ux);
  auto add = [&](Shape shape) { out.shapes.push_back(std::move(shape)); };
  if (!panel.caption.empty()) {
    Shape caption = text_shape({f.left, area.top + kNameSize * s}, panel.caption, Ink::quiet, kNameSize * s);
    const double room = area.right - f.left;
    std::string words = caption.text;  // shortened by whole words until it fits
    while (text_width(caption.text, caption.size, false) > room) {
      const size_t cut = words.find_last_of(' ');
      if (cut == std::string::npos || cut == 0) break;
      words.resize(cut);
      caption.text = words + " …";
    }
    add(caption);
  }
  double last = -1e9;  // words along x never run into one another
  for (const Tick& t : x_ticks) {
    const double at = f.px(t.value);
    if (panel.x.scale != Axis::Scale::category) add(line_shape({at, f.top}, {at, f.top + f.height}, Ink::grid, 1));
    const double half = text_width(t.label, kTickSize * s, true) / 2;
    if (t.label.empty() || at - half < last + 4) continue;
    last = at + half;
    add(text_shape({at, f.top + f.height + (kTickSize + 3) * s}, t.label, Ink::quiet, kTickSize * s, Anchor::middle));
    out.shapes.back().numbers = panel.x.scale != Axis::Scale::category;
  }
  const std::vector<bool> named = panel.y.scale == Axis::Scale::linear ? named_ticks(y_ticks, f, kTickSize * s)
                                                                       : std::vector<bool>(y_ticks.size(), true);
  for (size_t i = 0; i < y_ticks.size(); ++i) {
    const Tick& t = y_ticks[i];
    const double at = f.py(t.value);
    if (panel.y.scale != Axis::Scale::category) add(line_shape({f.left, at}, {f.left + f.width, at}, Ink::grid, 1));
    if (t.label.empty() || !named[i]) continue;
    add(text_shape({f.left - 6 * s, at + 0.36 * kTickSize * s}, t.label, Ink::quiet, kTickSize * s, Anchor::end));
    out.shapes.back().numbers = panel.y.scale != Axis::Scale::category;
  }
  Sheet sheet{panel, o, f, out, {}};
  draw_traces(sheet);
  add(line_shape({f.left, f.top + f.height}, {f.left + f.width, f.top + f.height}, Ink::ink, 1.2));
  add(line_shape({f.left, f.top}, {f.left, f.top + f.height}, Ink::ink, 1.2));
  if (!f.log_y && f.y0 < 0 && f.y1 > 0) add(line_shape({f.left, f.py(0)}, {f.left + f.width, f.py(0)}, Ink::quiet, 1));
  draw_marks(sheet);
  draw_trace_words(sheet);
  add(text_shape({f.left + f.width, area.bottom - 4 * s}, axis_words(panel.x, ux), Ink::ink, kNameSize * s,
                 Anchor::end));
  add(text_shape({area.left + 2, f.top - 6 * s}, axis_words(panel.y, uy), Ink::ink, kNameSize * s));
  draw_handles(sheet, index);
  out.frames.push_back(f);
}

}  // namespace

double Frame::px(double x) const {
  const double share = log_x ? std::log(x / x0) / std::log(x1 / x0) : (x - x0) / (x1 - x0);
  return left + width * share;
}

double Frame::py(double y) const {
  const double share = log_y ? std::log(y / y0) / std::log(y1 / y0) : (y - y0) / (y1 - y0);
  return top + height * (1 - share);
}

double Frame::data_x(double px) const {
  const double share = (px - left) / width;
  return log_x ? x0 * std::pow(x1 / x0, share) : x0 + share * (x1 - x0);
}

double Frame::data_y(double py) const {
  const double share = 1 - (py - top) / height;
  return log_y ? y0 * std::pow(y1 / y0, share) : y0 + share * (y1 - y0);
}

bool Frame::holds(double x, double y, double slack) const {
  return x >= left - slack && x <= left + width + slack && y >= top - slack && y <= top + height + slack;
}

double text_width(const std::string& text, double size, bool numbers) {
  double units = 0;
  for (size_t i = 0; i < text.size(); ++i) {
    const unsigned char c = static_cast<unsigned char>(text[i]);
    if ((c & 0xC0) == 0x80) continue;  // the rest of a character
    if (numbers)
      units += 0.6;
    else if (c == 'i' || c == 'l' || c == 'j' || c == '.' || c == ',' || c == ' ' || c == '\'' || c == ':')
      units += 0.28;
    else if (c == 'm' || c == 'w' || c == 'M' || c == 'W')
      units += 0.88;
    else if (c == 'f' || c == 't' || c == 'r')
      units += 0.38;
    else if (c >= 'A' && c <= 'Z')
      units += 0.68;
    else
      units += 0.58;
  }
  return units * size;
}

Shape line_shape(Point a, Point b, Ink ink, double width, Dash dash) {
  Shape s;
  s.kind = Shape::Kind::line;
  s.points = {a, b};
  s.stroke = ink;
  s.width = width;
  s.dash = dash;
  return s;
}

Shape text_shape(Point at, std::string text, Ink ink, double size, Anchor anchor) {
  Shape s;
  s.kind = Shape::Kind::text;
  s.points = {at};
  s.text = std::move(text);
  s.stroke = ink;
  s.size = size;
  s.anchor = anchor;
  return s;
}

void move_down(Layout& layout, double px) {
  layout.height += px;
  for (Shape& s : layout.shapes)
    for (Point& p : s.points) p.y += px;
  for (Frame& f : layout.frames) f.top += px;
  for (HandleSpot& h : layout.handles) h.at.y += px;
  for (Pick& p : layout.picks) p.at.y += px;
}

Arrangement arrangement(const Figure& figure, const Options& o) {
  const size_t n = figure.panels.size();
  if (n < 2) return Arrangement::beside;
  double weights = 0, least = HUGE_VAL;
  for (const Panel& p : figure.panels) weights += p.weight;
  for (const Panel& p : figure.panels) least = std::min(least, p.weight / weights);
  const double narrowest = 230 * o.text_scale, lowest = 150 * o.text_scale;
  if (n >= 4) {
    const size_t columns = (n + 1) / 2;
    const bool fits = o.width / double(columns) >= narrowest && o.height / 2 >= lowest;
    return fits ? Arrangement::rows : Arrangement::turns;
  }
  if (least * o.width >= narrowest) return Arrangement::beside;
  return least * o.height >= lowest ? Arrangement::stacked : Arrangement::turns;
}

namespace {

// Where each panel stands: shares of the width or the height by weight, or two rows of equal cells.
std::vector<Box> boxes_of(const Figure& figure, const Options& o) {
  std::vector<Box> out;
  const size_t n = figure.panels.size();
  const double gap = 8 * o.text_scale;
  if (n >= 4) {
    const size_t columns = (n + 1) / 2;
    const double w = o.width / double(columns), h = o.height / 2;
    for (size_t i = 0; i < n; ++i) {
      const double left = w * double(i % columns), top = i < columns ? 0 : h;
      out.push_back({left + (i % columns > 0 ? gap : 0), top + (i < columns ? 0 : gap), left + w, top + h});
    }
    return out;
  }
  double weights = 0, at = 0;
  for (const Panel& p : figure.panels) weights += p.weight;
  const bool stacked = arrangement(figure, o) == Arrangement::stacked;
  for (size_t i = 0; i < n; ++i) {
    const double length = (stacked ? o.height : o.width) * figure.panels[i].weight / weights,
                 from = at + (i > 0 ? gap : 0);
    out.push_back(stacked ? Box{0, from, o.width, at + length} : Box{from, 0, at + length, o.height});
    at += length;
  }
  return out;
}

}  // namespace

Layout lay_out(const Figure& figure, const Options& o) {
  Layout out;
  out.width = o.width;
  out.height = o.height;
  const std::vector<Box> boxes = boxes_of(figure, o);
  for (size_t i = 0; i < figure.panels.size(); ++i) {
    const size_t before = out.frames.size();
    lay_panel(figure.panels[i], o, boxes[i], i, out);
    if (figure.linked && o.cursor && out.frames.size() > before) {
      Sheet sheet{figure.panels[i], o, out.frames.back(), out, {}};
      draw_cursor(sheet, *o.cursor);
    }
  }
  if (o.language != Language::english)
    for (const Tongue say(o.language); Shape & shape : out.shapes)
      if (shape.kind == Shape::Kind::text) {
        // "Rm 520.4": a mark's own words and what it stands at. A last word that is no number belongs to the words,
        // which may have been said already: alone it may be a phrase of English ("Traverse").
        size_t at = shape.text.rfind(' ') + 1;
        if (std::none_of(shape.text.begin() + std::ptrdiff_t(at), shape.text.end(), plain::is_digit)) at = 0;
        shape.text = value_in(say, shape.text.substr(0, at == 0 ? std::string::npos : at - 1)) +
                     (at == 0 ? "" : " " + value_in(say, shape.text.substr(at)));
      }
  return out;
}

}  // namespace fortitor::figure
