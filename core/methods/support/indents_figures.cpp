// Figures that the hardness methods share: readings in their order or along a traverse, the map, the chart of all
// scales.
#include <algorithm>
#include <cmath>

#include "core/methods/support/indents.h"
#include "core/reference/hardness.h"

namespace fortitor::indents {

using D = Dimension;

namespace {

Mark level(const std::string& key, const std::string& label, double y, Mark::Tone tone) {
  Mark m;
  m.kind = Mark::Kind::level;
  m.key = key;
  m.label = label;
  m.points = {{0, y}};
  m.tone = tone;
  return m;
}

Panel along_traverse(const Evaluation& e, const IndentSet& set, const std::string& symbol) {
  Panel p;
  p.name = "Traverse";
  p.x = {"distance from the edge", D::length};
  p.y = {symbol, D::none};
  p.y.with_zero = false;
  Trace t;
  t.label = "";
  t.marker = Marker::diamond;
  std::vector<const Indent*> sorted;
  for (const Indent& i : set.all)
    if (i.x && std::isfinite(i.hardness)) sorted.push_back(&i);
  std::stable_sort(sorted.begin(), sorted.end(), [](const Indent* a, const Indent* b) { return *a->x < *b->x; });
  Trace course;
  course.weight = 1.6;
  for (const Indent* i : sorted) {
    t.x.push_back(*i->x);
    t.y.push_back(i->hardness);
    t.hollow.push_back(!i->counts);
    if (!i->counts) continue;
    course.x.push_back(*i->x);
    course.y.push_back(i->hardness);
  }
  t.kind = Trace::Kind::points;
  p.traces.push_back(std::move(course));
  p.traces.push_back(std::move(t));
  Mark limit = level("case_depth", "limit " + plain_number(set.limit, 4), set.limit, Mark::Tone::limit);
  p.marks.push_back(limit);
  Handle h;
  h.setting = "specimen.traverse.limit";
  h.at = {sorted.empty() ? 0 : *sorted.back()->x, set.limit};
  h.dimension = D::none;
  h.label = "limit";
  p.handles.push_back(h);
  if (const ResultValue* r = e.find(key::case_depth); r != nullptr && !r->censored) {
    Mark m;
    m.kind = Mark::Kind::point;
    m.key = "case_depth";
    m.label = "CHD";
    m.points = {{r->value, set.limit}};
    m.drop_line = true;
    m.value = r->value;
    m.dimension = D::length;
    p.marks.push_back(m);
  }
  return p;
}

Panel in_order(const Evaluation& e, const IndentSet& set, const std::string& key, const std::string& symbol) {
  Panel p;
  p.name = "Readings";
  p.x = {"indent", D::none, Axis::Scale::category};
  p.y = {symbol, D::none};
  p.y.with_zero = false;
  Trace t;
  t.kind = Trace::Kind::points;
  t.marker = Marker::diamond;
  for (size_t i = 0; i < set.all.size(); ++i) {
    p.x.categories.push_back(std::to_string(i + 1));
    if (!std::isfinite(set.all[i].hardness)) continue;
    t.x.push_back(double(i));
    t.y.push_back(set.all[i].hardness);
    t.hollow.push_back(!set.all[i].counts);
  }
  p.traces.push_back(std::move(t));
  if (const ResultValue* r = e.find(key)) {
    Mark mean = level(key, "mean", r->value, Mark::Tone::main);
    mean.value = r->value;
    mean.rounding = RoundingClass::other;
    p.marks.push_back(mean);
  }
  if (set.certified) {
    Mark block = level("block_error", "block", *set.certified, Mark::Tone::quiet);
    block.on_demand = true;
    p.marks.push_back(block);
  }
  return p;
}

std::optional<Panel> map(const IndentSet& set) {
  Panel p;
  p.name = "Where they lie";
  p.x = {"from the left", D::length};
  p.y = {"from below", D::length};
  p.equal_aspect = true;
  p.x.with_zero = p.y.with_zero = false;
  Trace t;
  t.kind = Trace::Kind::points;
  t.marker = Marker::diamond;
  t.tone = 2;
  for (const Indent& i : set.all) {
    if (!i.x) continue;
    t.x.push_back(*i.x);
    t.y.push_back(i.y.value_or(0));
    t.hollow.push_back(!i.counts);
  }
  if (t.x.size() < 2) return std::nullopt;
  // A whole face around a short line of indents shows nothing of them.
  const auto [low, high] = std::minmax_element(t.x.begin(), t.x.end());
  const bool close_up = set.traverse && *high < 0.4 * set.face.width;
  if (close_up) p.x.from = 0;
  if (!close_up && set.face.shape != IndentFace::Shape::unknown) {
    Trace outline;
    outline.weight = 1.4;
    outline.tone = 6;
    const double w = set.face.width, h = set.face.height;
    if (set.face.shape == IndentFace::Shape::disc)
      for (int i = 0; i <= 72; ++i) {
        outline.x.push_back(w / 2 * (1 + std::cos(i * M_PI / 36)));
        outline.y.push_back(w / 2 * (1 + std::sin(i * M_PI / 36)));
      }
    else
      outline.x = {0, w, w, 0, 0}, outline.y = {0, 0, h, h, 0};
    p.traces.push_back(std::move(outline));
  }
  p.traces.push_back(std::move(t));
  return p;
}

// Vickers hardness between which each converted scale has values and is trusted; NaN where it has none.
const std::vector<std::pair<double, double>>& trusted_ranges() {
  static const std::vector<std::pair<double, double>> ranges = [] {
    std::vector<std::pair<double, double>> out;
    for (const std::string& s : converted_scales()) {
      const RockwellScale* scale = find_rockwell(s);
      double low = HUGE_VAL, high = -HUGE_VAL;
      for (double v = 120; v <= 950; v += 1) {
        const auto in = convert_hardness(v, "HV", s);
        if (!in || (scale != nullptr && scale->bounded() && (*in < scale->low || *in > scale->high))) continue;
        low = std::min(low, v);
        high = std::max(high, v);
      }
      out.emplace_back(low, high);
    }
    return out;
  }();
  return ranges;
}

// All scales over one axis of Vickers hardness: where each is trusted, and where this piece lies.
std::optional<Figure> chart(double mean, const std::string& scale) {
  const auto hv = convert_hardness(mean, scale, "HV");
  if (!hv) return std::nullopt;
  Figure f;
  f.id = "scales";
  f.title = "All scales";
  Panel p;
  p.name = "All scales";
  p.caption = "converted for non-austenitic steels; bars: where the table and the scale hold";
  p.x = {"scale", D::none, Axis::Scale::category};
  p.y = {"HV", D::none};
  p.y.scale = Axis::Scale::log;
  Trace bars, here, numbers;
  bars.kind = Trace::Kind::bars;
  bars.tone = 6;
  bars.pale = true;
  bars.bar_width = 0.14;
  numbers.kind = Trace::Kind::points;  // beside the bars, on paper
  numbers.marker = Marker::none;
  here.kind = Trace::Kind::points;
  here.marker = Marker::diamond;
  here.tone = 2;
  size_t at = 0;
  for (const std::string& s : converted_scales()) {
    const auto [low, high] = trusted_ranges()[at];
    p.x.categories.push_back(s);
    const double place = double(at++);
    if (!(high > low)) continue;
    bars.x.push_back(place);
    bars.base.push_back(low);
    bars.y.push_back(high);
    if (const auto v = convert_hardness(mean, scale, s)) {
      here.x.push_back(place);
      here.y.push_back(*hv);
      numbers.x.push_back(place + 0.3);
      numbers.y.push_back(*hv);
      numbers.names.push_back(significant(*v, 3));
      here.hollow.push_back(s != scale);
    }
  }
  p.traces = {bars, here, numbers};
  f.panels.push_back(std::move(p));
  return f;
}

}  // namespace

void add_figures(Evaluation& e, const TestRecord& record, const IndentSet& set, const std::string& key,
                 const std::string& symbol, const std::string& scale) {
  const bool any =
      std::any_of(set.all.begin(), set.all.end(), [](const Indent& i) { return std::isfinite(i.hardness); });
  if (!any) return;
  Figure f;
  f.id = "indents";
  f.title = set.traverse ? "Hardness from the edge inward" : "Hardness by indent";
  f.panels.push_back(set.traverse ? along_traverse(e, set, symbol) : in_order(e, set, key, symbol));
  f.panels.back().weight = 11;
  if (auto m = map(set)) {
    m->weight = 9;
    f.panels.push_back(std::move(*m));
  }
  e.figures.push_back(std::move(f));
  if (!scale.empty() && !set.traverse && converts(record.fields.text("specimen.family")))
    if (auto all = chart(set.mean(), scale)) e.figures.push_back(std::move(*all));
}

}  // namespace fortitor::indents
