// Figures made up at random from everything that a figure can hold, laid out and kept as text: every trace, mark, axis and
// handle at many sizes, ranges and units, and each with what is awkward (nothing, gaps, one value, below zero on a log axis).
#include <cmath>
#include <sstream>

#include "core/figure/layout.h"
#include "tests/core/methods/chance.h"
#include "tests/core/methods/kept_text.h"

namespace fortitor::varied_figure_test {
namespace {

const std::vector<Dimension> kDimensions = {Dimension::none,   Dimension::stress,      Dimension::strain, Dimension::length, Dimension::force,
                                            Dimension::energy, Dimension::temperature, Dimension::time,   Dimension::microstrain};

Axis random_axis(Chance& chance) {
  Axis a;
  a.name = chance.below(6) == 0 ? "" : "quantity";
  a.dimension = chance.of(kDimensions);
  a.scale = chance.below(4) == 0 ? Axis::Scale::log : Axis::Scale::linear;
  a.with_zero = chance.below(3) != 0;
  if (chance.below(8) == 0) a.from = -10 + 20 * chance.share();
  if (chance.below(8) == 0) a.to = 10 + 100 * chance.share();
  if (chance.below(10) == 0) a.scale = Axis::Scale::category, a.categories = {"heat", "cold", "a longer word"};
  if (chance.below(6) == 0) a.like = std::pow(10, 8 * chance.share() - 2);
  return a;
}

Trace random_trace(Chance& chance, double size, double middle) {
  Trace t;
  const std::vector<Trace::Kind> kinds = {Trace::Kind::line, Trace::Kind::points, Trace::Kind::steps, Trace::Kind::bars, Trace::Kind::area};
  t.kind = chance.of(kinds);
  if (chance.below(2) == 0) t.label = chance.below(2) == 0 ? "series A" : "a label that is rather long for a panel";
  const size_t n = chance.below(12) == 0 ? chance.below(2) : 2 + chance.below(t.kind == Trace::Kind::line ? 3000 : 9);
  const double bend = 0.3 + 2 * chance.share();
  for (size_t i = 0; i < n; ++i) {
    t.x.push_back(double(i) * 100 / double(n));
    t.y.push_back(middle + size * std::pow(double(i) / double(n), bend) + 0.02 * size * chance.normal());
    if (chance.below(40) == 0) t.y.back() = NAN;
  }
  const auto some = [&] { return chance.below(4) == 0; };
  if (some())
    for (size_t i = 0; i < n; ++i) t.base.push_back(0.2 * size * chance.share());
  if (some())
    for (size_t i = 0; i < n; ++i) t.error.push_back(chance.below(4) == 0 ? 0 : 0.3 * size * chance.share());
  if (some())
    for (size_t i = 0; i < n; ++i) t.x_error.push_back(8 * chance.share());
  if (some())
    for (size_t i = 0; i < n; ++i) t.bound.push_back(int(chance.below(3)) - 1);
  if (some())
    for (size_t i = 0; i < n; ++i) t.hollow.push_back(char(chance.below(2)));
  if (some() && n > 0) t.flags[chance.below(n)] = "looks misread";
  if (some())
    for (size_t i = 0; i < n; ++i) t.names.push_back(std::to_string(i));
  t.bound_along_x = some();
  if (some()) t.bar_width = 4 + 20 * chance.share();
  t.tone = int(chance.below(7));
  const std::vector<Marker> markers = {Marker::none, Marker::dot, Marker::square, Marker::diamond, Marker::cross};
  t.marker = chance.of(markers);
  const std::vector<Dash> dashes = {Dash::solid, Dash::dashed, Dash::dotted, Dash::dash_dot};
  t.dash = chance.of(dashes);
  t.pale = some();
  t.outlier = !some();
  return t;
}

Mark random_mark(Chance& chance, double size, double middle) {
  Mark m;
  const std::vector<Mark::Kind> kinds = {Mark::Kind::window, Mark::Kind::line, Mark::Kind::point, Mark::Kind::band, Mark::Kind::level, Mark::Kind::text};
  m.kind = chance.of(kinds);
  m.key = chance.below(2) == 0 ? "rm" : "a";
  if (chance.below(4) != 0) m.label = "0.2 % offset";
  for (int i = 0; i < 2; ++i) m.points.push_back({100 * chance.share(), middle + size * chance.share()});
  m.along_x = chance.below(3) == 0;
  m.on_demand = chance.below(3) == 0;
  m.drop_line = chance.below(3) == 0;
  if (chance.below(2) == 0) m.value = size * chance.share();
  m.dimension = chance.of(kDimensions);
  const std::vector<decltype(Mark::tone)> tones = {decltype(Mark::tone)::mark, decltype(Mark::tone)::main, decltype(Mark::tone)::limit, decltype(Mark::tone)::quiet};
  m.tone = chance.of(tones);
  if (chance.below(4) == 0) m.like = size;
  return m;
}

Figure random_figure(Chance& chance) {
  Figure f;
  f.id = "random";
  f.linked = chance.below(2) == 0;
  const size_t panels = 1 + (chance.below(2) == 0 ? 0 : chance.below(5));
  for (size_t k = 0; k < panels; ++k) {
    Panel p;
    p.name = "Panel";
    if (chance.below(2) == 0) p.caption = "strain by the extensometer · modulus over 10 to 40 % of the yield strength, R² 0.9998";
    p.x = random_axis(chance);
    p.y = random_axis(chance);
    p.equal_aspect = chance.below(8) == 0;
    p.weight = chance.below(3) == 0 ? 0.5 + chance.share() : 1;
    const double size = std::pow(10, 9 * chance.share() - 3), middle = chance.below(4) == 0 ? -0.4 * size : chance.below(4) == 0 ? 20 * size : 0;
    for (size_t i = chance.below(4); i > 0; --i) p.traces.push_back(random_trace(chance, size, middle));
    for (size_t i = chance.below(4); i > 0; --i) p.marks.push_back(random_mark(chance, size, middle));
    for (size_t i = chance.below(3); i > 0; --i) {
      Handle h;
      h.setting = "settings.modulus.from";
      h.along_x = chance.below(2) == 0;
      h.at = {100 * chance.share(), middle + size * chance.share()};
      h.dimension = chance.of(kDimensions);
      h.label = "from";
      p.handles.push_back(h);
    }
    f.panels.push_back(std::move(p));
  }
  return f;
}

// Sums over all shapes of one kind: where, how large, in which ink, with which words.
std::string drawn(const figure::Layout& l) {
  struct Sums {
    size_t n = 0, points = 0, letters = 0, inks = 0, filled = 0;
    double x = 0, y = 0, size = 0, width = 0, alpha = 0;
  };
  std::map<int, Sums> all;
  for (const figure::Shape& s : l.shapes) {
    Sums& sums = all[int(s.kind)];
    ++sums.n;
    sums.points += s.points.size();
    sums.letters += s.text.size() + (s.numbers ? 1000 : 0) + (s.bold ? 100000 : 0) + 1000000 * size_t(s.anchor);
    sums.inks += size_t(s.stroke) + 11 * size_t(s.fill) + 121 * size_t(s.tone) + 1000 * size_t(s.dash);
    sums.filled += s.filled;
    for (const Point& at : s.points) sums.x += at.x, sums.y += at.y;
    sums.size += s.size, sums.width += s.width, sums.alpha += s.alpha;
  }
  std::ostringstream out;
  for (const auto& [kind, s] : all)
    out << "  " << kind << ": " << s.n << " " << s.points << " " << s.letters << " " << s.inks << " " << s.filled << " " << num(s.x) << " " << num(s.y) << " "
        << num(s.size) << " " << num(s.width) << " " << num(s.alpha) << "\n";
  for (const figure::Frame& f : l.frames)
    out << "  frame " << num(f.left) << " " << num(f.top) << " " << num(f.width) << " " << num(f.height) << " " << num(f.x0) << " " << num(f.x1) << " " << num(f.y0)
        << " " << num(f.y1) << "\n";
  out << "  " << l.handles.size() << " handles " << l.picks.size() << " picks";
  for (const figure::Pick& p : l.picks) out << " " << num(p.at.x) << " " << num(p.at.y);
  out << "\n";
  return out.str();
}

TEST(KeptNumbersVariedFigures, OfEverythingThatAFigureCanHold) {
  std::ostringstream out;
  for (uint64_t seed = 1; seed <= 300; ++seed) {
    Chance chance(seed);
    const Figure f = random_figure(chance);
    figure::Options o;
    o.width = 150 + 1200 * chance.share();
    o.height = 90 + 800 * chance.share();
    o.text_scale = 1 + chance.share();
    o.set = chance.below(2) == 0 ? UnitSet::si : UnitSet::us;
    if (chance.below(2) == 0) o.highlight = "rm";
    o.handles = chance.below(2) == 0;
    o.held = int(chance.below(3)) - 1;
    if (chance.below(2) == 0) o.cursor = chance.below(60);
    const figure::Layout l = figure::lay_out(f, o);
    out << "== " << seed << " " << int(figure::arrangement(f, o)) << "\n" << drawn(l);
    if (chance.below(4) == 0) {  // held still under a hand
      o.keep = l.frames;
      out << drawn(figure::lay_out(random_figure(chance), o));
    }
  }
  hold_kept("figures-at-random", out.str());
}

}  // namespace
}  // namespace fortitor::varied_figure_test
