#include <algorithm>
#include <cmath>

#include "core/figure/layout_parts.h"

namespace fortitor::figure {
namespace {

Ink ink_of(const Mark& m, bool bold) {
  if (bold) return Ink::action;
  switch (m.tone) {
    case Mark::Tone::main: return Ink::main;
    case Mark::Tone::limit: return Ink::limit;
    case Mark::Tone::quiet: return Ink::quiet;
    case Mark::Tone::mark: break;
  }
  return Ink::mark;
}

Shape clip_to(const Frame& f, bool on) {
  Shape c;
  c.kind = on ? Shape::Kind::clip : Shape::Kind::unclip;
  if (on) c.points = {{f.left, f.top}, {f.left + f.width, f.top + f.height}};
  return c;
}

std::string words_of(const Mark& m, UnitSet set) {
  if (!m.value) return m.label;
  const Printed p = printed(*m.value, m.dimension, m.rounding, RoundingSchool::iso, set, 4, m.like);
  return m.label.empty() ? p.number : m.label + " " + p.number;
}

void draw_one(Sheet& s, const Mark& m, bool bold) {
  using Kind = Mark::Kind;
  const Frame& f = s.frame;
  if (m.points.empty()) return;
  const Ink ink = ink_of(m, bold);
  auto add = [&](Shape shape) { s.out.shapes.push_back(std::move(shape)); };
  auto px = [&](Point p) { return Point{f.px(p.x), f.py(p.y)}; };
  const Point a = px(m.points.front()), b = px(m.points.back());
  if (!std::isfinite(a.x) || !std::isfinite(a.y) || !std::isfinite(b.x) || !std::isfinite(b.y)) return;
  const std::string words = words_of(m, s.options.set);
  switch (m.kind) {
    case Kind::window: {
      const double top = std::clamp(std::min(a.y, b.y), f.top, f.top + f.height),
                   low = std::clamp(std::max(a.y, b.y), f.top, f.top + f.height);
      Shape stripe;
      stripe.kind = Shape::Kind::polygon;
      stripe.points = {{f.left, top}, {f.left + f.width, top}, {f.left + f.width, low}, {f.left, low}};
      stripe.fill = Ink::window;
      stripe.filled = true;
      stripe.alpha = bold ? 0.32 : 0.18;
      stripe.width = 0;
      add(stripe);
      for (double y : {top, low}) add(line_shape({f.left, y}, {f.left + f.width, y}, Ink::window, bold ? 1.8 : 1.1));
      return;
    }
    case Kind::line: {
      add(clip_to(f, true));
      add(line_shape(a, b, ink, bold ? 2.2 : 1.2, Dash::dashed));
      add(clip_to(f, false));
      if (!words.empty() && bold && f.holds(b.x, b.y)) place_words(s, b, words, ink);
      return;
    }
    case Kind::level: {
      const Point from = m.along_x ? Point{a.x, f.top} : Point{f.left, a.y};
      const Point to = m.along_x ? Point{a.x, f.top + f.height} : Point{f.left + f.width, a.y};
      if (!f.holds(from.x, from.y, 1)) return;
      add(line_shape(from, to, ink, bold ? 2 : 1.4, Dash::dashed));
      if (!words.empty()) place_words(s, m.along_x ? Point{from.x, from.y + 10} : Point{to.x - 40, to.y}, words, ink);
      return;
    }
    case Kind::band: {
      const bool upright = std::abs(b.x - a.x) < 1;
      // Beside what it measures; one on the axis stands over it, where no numbers are.
      constexpr double kBeside = 12;
      const bool room = std::max(a.y, b.y) + kBeside <= f.top + f.height;
      const Point shift = upright ? Point{8, 0} : Point{0, room ? kBeside : -kBeside};
      if (std::hypot(b.x - a.x, b.y - a.y) < 8) return;
      const Point p{a.x + shift.x, a.y + shift.y}, q{b.x + shift.x, b.y + shift.y};
      add(line_shape(p, q, ink, bold ? 2.4 : 1.6));
      for (Point e : {p, q})
        add(upright ? line_shape({e.x - 5, e.y}, {e.x + 5, e.y}, ink, 1.6)
                    : line_shape({e.x, e.y - 4}, {e.x, e.y + 4}, ink, 1.6));
      if (!words.empty() && (bold || upright))
        place_words(s, upright ? q : Point{0.5 * (p.x + q.x), p.y + 2}, words, ink);
      return;
    }
    case Kind::point: {
      if (!f.holds(a.x, a.y, 1)) return;
      if (m.drop_line) add(line_shape(a, {a.x, f.top + f.height}, ink, 1, Dash::dotted));
      Shape ring;
      ring.kind = Shape::Kind::circle;
      ring.points = {a};
      ring.size = bold ? 6 : 4.5;
      ring.stroke = ink;
      ring.fill = Ink::paper;
      ring.filled = true;
      ring.width = bold ? 3 : 2;
      add(ring);
      s.taken.push_back({a.x - 6, a.y - 6, a.x + 6, a.y + 6});
      s.out.picks.push_back({m.key, a});
      if (!words.empty()) place_words(s, a, words, ink);
      return;
    }
    case Kind::text: {
      if (!f.holds(a.x, a.y, 1)) return;
      add(line_shape({a.x, a.y - 6}, {a.x, a.y + 6}, ink, 1.6));
      place_words(s, {a.x, a.y + 30}, words, ink, 5, false);
      return;
    }
  }
}

}  // namespace

bool place_words(Sheet& s, Point at, const std::string& text, Ink ink, int tone, bool bold) {
  const double size = 12 * s.scale();
  const double w = text_width(text, size, false) * (bold ? 1.06 : 1) + 4, h = size * 1.35;
  const Frame& f = s.frame;
  // Above, right, below, left: the first place that is free and inside.
  const Point tries[] = {{-w / 2, -h - 8},  {-w + 4, -h - 8}, {10, -h / 2}, {10, 6},      {-w / 2, 10},
                         {-w - 10, -h / 2}, {10, 24},         {10, 42},     {4, -h - 10}, {-w - 10, 8}};
  for (const Point& d : tries) {
    const Box box{at.x + d.x, at.y + d.y, at.x + d.x + w, at.y + d.y + h};
    if (box.left < f.left - 2 || box.right > f.left + f.width + 12 || box.top < f.top - 16 ||
        box.bottom > f.top + f.height + 2)
      continue;
    if (std::any_of(s.taken.begin(), s.taken.end(), [&](const Box& o) { return o.meets(box); })) continue;
    s.taken.push_back(box);
    Shape paper;  // words stay readable over lines
    paper.kind = Shape::Kind::polygon;
    paper.points = {
        {box.left, box.top + 2}, {box.right, box.top + 2}, {box.right, box.bottom - 2}, {box.left, box.bottom - 2}};
    paper.fill = Ink::paper;
    paper.filled = true;
    paper.alpha = 0.8;
    paper.width = 0;
    s.out.shapes.push_back(paper);
    Shape words = text_shape({box.left + 2, box.top + 0.78 * h}, text, ink, size);
    words.bold = bold;
    words.tone = tone;
    s.out.shapes.push_back(words);
    return true;
  }
  return false;
}

void draw_marks(Sheet& s) {
  const std::string& open = s.options.highlight;
  for (const bool bold : {true, false})
    for (const Mark& m : s.panel.marks) {
      const bool mine = !open.empty() && m.key == open;
      if (mine != bold || (!mine && m.on_demand)) continue;
      draw_one(s, m, mine);
    }
}

void draw_handles(Sheet& s, size_t panel) {
  const Frame& f = s.frame;
  for (const Handle& h : s.panel.handles) {
    const Point at = h.along_x ? Point{f.px(h.at.x), f.top + 8} : Point{f.left + f.width - 9, f.py(h.at.y)};
    const int index = int(s.out.handles.size());
    s.out.handles.push_back({panel, h, at});
    if (!s.options.handles || !f.holds(at.x, at.y, 8)) continue;
    // What the knob at the edge belongs to may lie far from it.
    const Point of{std::clamp(f.px(h.at.x), f.left, f.left + f.width),
                   std::clamp(f.py(h.at.y), f.top, f.top + f.height)};
    s.out.shapes.push_back(line_shape(at, of, Ink::window, 1));
    Shape knob;
    knob.kind = Shape::Kind::square;
    knob.points = {at};
    knob.size = 7;
    knob.fill = Ink::window;
    knob.filled = true;
    knob.stroke = index == s.options.held ? Ink::action : Ink::quiet;
    knob.width = index == s.options.held ? 3 : 1;
    s.out.shapes.push_back(knob);
  }
}

}  // namespace fortitor::figure
