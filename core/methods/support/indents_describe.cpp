// Fields and places that the hardness methods share.
#include <algorithm>
#include <cmath>

#include "core/methods/support/equipment.h"
#include "core/methods/support/fields.h"
#include "core/methods/support/indents.h"
#include "core/methods/support/timing.h"
#include "core/reference/hardness.h"

namespace fortitor::indents {

using namespace fortitor::fields;
using D = Dimension;

namespace {

FieldSpec plain(std::string path, Stage stage) {
  return quantity(std::move(path), Dimension::none, stage);
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
  FieldSpec thickness = quantity("specimen.thickness", D::length, at, "t");
  add(thickness);
  add(choice("specimen.face.shape", at, {"rectangle", "disc", "weld"}));
  FieldSpec width = quantity("specimen.face.width", D::length, at, "b");
  FieldSpec height = quantity("specimen.face.height", D::length, at, "h");
  add(of_series(width));
  add(of_series(height));
  add(of_series(only(quantity("specimen.face.diameter", D::length, at, "D"), "specimen.face.shape", "disc")));
  add(of_series(only(quantity("specimen.face.weld_width", D::length, at, "w"), "specimen.face.shape", "weld")));
  add(of_series(only(quantity("specimen.face.haz_width", D::length, at), "specimen.face.shape", "weld")));
}

void add_plan(Method& m) {
  const Stage at = Stage::measure;
  auto add = [&](FieldSpec f) { m.fields.push_back(of_series(std::move(f))); };
  add(choice("settings.plan.pattern", at, {"free", "grid", "line", "staggered", "weld"}, true));
  FieldSpec count = plain("settings.plan.count", at);
  FieldSpec pitch = quantity("settings.plan.pitch", D::length, at, "p");
  FieldSpec start = quantity("settings.plan.start", D::length, at);
  FieldSpec expected = plain("settings.plan.expected", at);
  for (FieldSpec* f : {&count, &pitch, &start, &expected}) add(*f);
  m.fields.push_back(of_piece(text("settings.plan.places", at)));
  m.fields.push_back(of_piece(text("settings.plan.clear", at)));
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
  FieldSpec certified = plain("specimen.block.certified", set_up);
  FieldSpec tolerance = plain("specimen.block.tolerance", set_up);
  add(of_series(certified));
  add(of_series(tolerance));
  FieldSpec before = readings("specimen.block.readings", D::none, set_up, 3);
  FieldSpec after = readings("specimen.block.after", D::none, Stage::after, 3);
  before.spread_limit = after.spread_limit = 0;
  add(of_piece(before));
  add(of_piece(after));
  add(of_piece(flag("run.new_indenter", Stage::prepare)));
  add(choice("settings.first_reading", Stage::evaluate, {"aside", "keep"}, true));
  std::vector<std::string> scales = {"none"};
  for (const std::string& s : converted_scales()) scales.push_back(s);
  add(of_series(choice("settings.convert_to", Stage::prepare, scales, true)));
  m.prepare_sketch = m.run_sketch = "indent-map";
  m.measure_sketch = "indent-map-sizes";
  m.setup_sketch = "reference-block";
  m.after_sketch = "reference-block-after";
  m.printed_settings = {"settings.convert_to"};
  TableSpec& t = m.tables.front();
  for (const char* name : {"x", "y"}) {
    FieldSpec c = column(name, D::length);
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
  m.run_time = [table = t](const TestRecord& r) {
    constexpr double kEach = 45;  // to the place, press, read
    return timing::readings(r, table, kEach);
  };
}

std::vector<Clearance> room_of(const TestRecord& record, const IndentSet& set, size_t row, double size,
                               double thickness, const Spacing& spacing, const TableSpec& table) {
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
    out.push_back(
        {"block off by", std::abs(sum / double(set.block.size()) - *set.certified), *set.tolerance, D::none, true});
  }
  return out;
}

}  // namespace fortitor::indents
