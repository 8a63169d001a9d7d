// Fields, places and figures that the hardness methods share.
#include <algorithm>
#include <cmath>

#include "core/methods/support/equipment.h"
#include "core/methods/support/fields.h"
#include "core/methods/support/indents.h"
#include "core/reference/hardness.h"

namespace fortitor::indents {

using namespace fortitor::fields;
using D = Dimension;

namespace {

FieldSpec plain(std::string path, std::string label, Stage stage, std::string hint = {}) {
  return quantity(std::move(path), std::move(label), D::none, stage, {}, std::move(hint));
}

FieldSpec only(FieldSpec f, const char* path, const char* value) {
  f.when_path = path;
  f.when_value = value;
  return f;
}

Reading millimetres(double v) {
  return reading_of(parse_quantity(plain_number(v, 6) + " mm", D::length).value());
}

void add_face(Method& m) {
  const Stage at = Stage::measure;
  auto add = [&](FieldSpec f) { m.fields.push_back(std::move(f)); };
  FieldSpec thickness = quantity("specimen.thickness", "Thickness under the indents", D::length, at, "t",
                                 "The support must not be felt through it.");
  add(thickness);
  add(choice("specimen.face.shape", "Face", at,
             {{"rectangle", "rectangle"}, {"disc", "disc"}, {"weld", "weld, in section"}}));
  FieldSpec width = quantity("specimen.face.width", "Width of the face", D::length, at, "b", "Along x, from the left.");
  FieldSpec height = quantity("specimen.face.height", "Height of the face", D::length, at, "h", "Along y, from below.");
  add(of_series(width));
  add(of_series(height));
  add(of_series(only(quantity("specimen.face.diameter", "Diameter of the face", D::length, at, "D"),
                     "specimen.face.shape", "disc")));
  add(of_series(only(quantity("specimen.face.weld_width", "Weld metal, width", D::length, at, "w", "In the middle."),
                     "specimen.face.shape", "weld")));
  add(of_series(only(quantity("specimen.face.haz_width", "Heat-affected zone, width", D::length, at, "",
                              "Of each, beside the weld metal."),
                     "specimen.face.shape", "weld")));
}

void add_plan(Method& m) {
  const Stage at = Stage::measure;
  auto add = [&](FieldSpec f) { m.fields.push_back(of_series(std::move(f))); };
  add(choice("settings.plan.pattern", "Places of the indents", at,
             {{"free", "as found"},
              {"grid", "around the middle"},
              {"line", "straight line"},
              {"staggered", "staggered line"},
              {"weld", "across the weld"}},
             true));
  FieldSpec count = plain("settings.plan.count", "Indents planned", at, "Of a weld: in each zone and row.");
  FieldSpec pitch = quantity("settings.plan.pitch", "Pitch", D::length, at, "p", "Empty: the least that is allowed.");
  FieldSpec start = quantity("settings.plan.start", "First from the edge", D::length, at, "", "Or rows from the surface.");
  FieldSpec expected = plain("settings.plan.expected", "Softest hardness expected", at,
                             "It makes the largest indent, by which the places are spaced.");
  for (FieldSpec* f : {&count, &pitch, &start, &expected}) add(*f);
  m.fields.push_back(of_piece(text("settings.plan.places", "Places set by hand", at,
                                   "x y in mm, parted by semicolons; they replace the pattern.")));
  m.fields.push_back(of_piece(text("settings.plan.clear", "Kept clear", at,
                                   "Spoilt areas and old indents: x y radius in mm, parted by semicolons.")));
}

}  // namespace

IndentPattern pattern_of(const TestRecord& record, double size, const Spacing& spacing) {
  const Fields& f = record.fields;
  IndentPattern p;
  const std::string kind = f.text("settings.plan.pattern");
  p.kind = kind == "line"        ? IndentPattern::Kind::line
           : kind == "staggered" ? IndentPattern::Kind::staggered
           : kind == "weld"      ? IndentPattern::Kind::weld
                                 : IndentPattern::Kind::grid;
  p.count = int(std::clamp(f.number("settings.plan.count").value_or(5), 0.0, 1e6));
  p.pitch = f.number("settings.plan.pitch").value_or(0);
  p.start = f.number("settings.plan.start").value_or(0);
  p.size = size;
  p.spacing = spacing.apart;
  p.edge = spacing.edge;
  if (const auto clear = read_spots(f.text("settings.plan.clear"))) p.clear = *clear;
  return p;
}

Outcome<std::vector<IndentSpot>> places_of(const TestRecord& record, double size, const Spacing& spacing) {
  const Fields& f = record.fields;
  if (const auto clear = read_spots(f.text("settings.plan.clear")); !clear)
    return InputError{"Kept clear: " + clear.error().message, {}};
  const std::string by_hand = f.text("settings.plan.places");
  if (!by_hand.empty()) {
    auto spots = read_spots(by_hand);
    if (!spots) return InputError{"Places set by hand: " + spots.error().message, {}};
    const IndentFace face = face_of(f);
    for (IndentSpot& s : *spots) s.zone = face.zone(s.x);
    return spots;
  }
  const std::string kind = f.text("settings.plan.pattern");
  if (kind.empty() || kind == "free") return std::vector<IndentSpot>{};
  return place_indents(face_of(f), pattern_of(record, size, spacing));
}

Fields cells_of(const IndentSpot& spot) {
  Fields cells;
  cells.set("x", millimetres(spot.x));
  cells.set("y", millimetres(spot.y));
  return cells;
}

void describe_common(Method& m, Spacing (*spacing)(const TestRecord&), double (*expected_size)(const TestRecord&)) {
  auto add = [&](FieldSpec f) { m.fields.push_back(std::move(f)); };
  add_face(m);
  add_plan(m);
  const Stage set_up = Stage::set_up;
  FieldSpec certified = plain("specimen.block.certified", "Block, certified hardness", set_up,
                              "Near what is expected; from its certificate.");
  FieldSpec tolerance = plain("specimen.block.tolerance", "Block, tolerance ±", set_up);
  add(of_series(certified));
  add(of_series(tolerance));
  FieldSpec before = readings("specimen.block.readings", "Block before the work", D::none, set_up, 3, "",
                              "Read it as the piece is read.");
  FieldSpec after = readings("specimen.block.after", "Block after the work", D::none, Stage::after, 3);
  before.spread_limit = after.spread_limit = 0;
  add(of_piece(before));
  add(of_piece(after));
  add(of_piece(flag("run.new_indenter", "New indenter, anvil or block", Stage::prepare)));
  add(choice("settings.first_reading", "First reading after a change", Stage::evaluate,
             {{"aside", "set aside"}, {"keep", "keep"}}, true));
  std::vector<Choice> scales = {{"none", "no other scale"}};
  for (const std::string& s : converted_scales()) scales.push_back({s, s});
  add(of_series(choice("settings.convert_to", "Converted to", Stage::prepare, scales, true)));
  m.wording.set_up = "Instrument and block";
  m.wording.looks = "Measure on the stand-in";
  TableSpec& t = m.tables.front();
  for (const auto& [name, label] : {std::pair{"x", "from the left"}, {"y", "from below"}}) {
    FieldSpec c = column(name, label, D::length);
    c.symbol = name;
    c.planned = true;
    t.columns.push_back(std::move(c));
  }
  t.planned_rows = [spacing, expected_size](const TestRecord& r) {
    std::vector<Fields> rows;
    const auto places = places_of(r, expected_size(r), spacing(r));
    for (size_t i = 0; places && i < places->size(); ++i) rows.push_back(cells_of((*places)[i]));
    return rows;
  };
}

std::vector<Clearance> room_of(const TestRecord& record, const IndentSet& set, size_t row, double size, double thickness,
                               const Spacing& spacing, const TableSpec& table) {
  std::vector<Clearance> out;
  std::optional<double> x, y;
  if (row < set.all.size()) {
    x = set.all[row].x;
    y = set.all[row].y;
    if (std::isfinite(set.all[row].size)) size = set.all[row].size;
  } else if (table.planned_rows) {
    const auto planned = table.planned_rows(record);
    if (row < planned.size()) {
      x = planned[row].number("x");
      y = planned[row].number("y");
    }
  }
  if (x && size > 0) {
    double nearest = HUGE_VAL, largest = size;
    for (const Indent& i : set.all) {
      if (i.row == row || !i.x) continue;
      const double d = std::hypot(*i.x - *x, i.y.value_or(0) - y.value_or(0));
      if (d < nearest) largest = std::isfinite(i.size) ? std::max(size, i.size) : size;
      nearest = std::min(nearest, d);
    }
    if (std::isfinite(nearest)) out.push_back({"to its neighbour", nearest, spacing.apart * largest, D::length});
    double edge = set.face.to_edge(*x, y.value_or(0));
    if (set.traverse) edge = std::min(edge, *x);
    if (std::isfinite(edge)) out.push_back({"to the edge", edge, spacing.edge * size, D::length});
  }
  if (const auto t = record.fields.number("specimen.thickness"); t && thickness > 0)
    out.push_back({"thickness under it", *t, thickness, D::length});
  if (set.certified && set.tolerance && !set.block.empty()) {
    double sum = 0;
    for (double b : set.block) sum += b;
    out.push_back({"block off by", std::abs(sum / double(set.block.size()) - *set.certified), *set.tolerance, D::none, true});
  }
  return out;
}

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
  if (const ResultValue* r = e.find("case_depth"); r != nullptr && !r->censored) {
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
  Trace bars, here;
  bars.kind = Trace::Kind::bars;
  bars.tone = 6;
  bars.pale = true;
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
      here.names.push_back(significant(*v, 3));
      here.hollow.push_back(s != scale);
    }
  }
  p.traces = {bars, here};
  f.panels.push_back(std::move(p));
  return f;
}

}  // namespace

void add_figures(Evaluation& e, const TestRecord& record, const IndentSet& set, const std::string& key,
                 const std::string& symbol, const std::string& scale) {
  const bool any = std::any_of(set.all.begin(), set.all.end(), [](const Indent& i) { return std::isfinite(i.hardness); });
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
