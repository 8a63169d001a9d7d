#include "core/methods/support/figures.h"

#include <algorithm>
#include <cmath>

#include "core/quantity/format.h"
#include "core/quantity/unit.h"

namespace fortitor {

Mark mark_of(const Construction& c, const Evaluation& e, bool lens) {
  using Kind = Construction::Kind;
  Mark m;
  m.key = c.key;
  m.label = c.label;
  m.points = c.points;
  switch (c.kind) {
    case Kind::window:
      m.kind = Mark::Kind::window;
      m.label.clear();
      break;
    case Kind::line:
      m.kind = Mark::Kind::line;
      m.on_demand = !lens && !c.always;
      break;
    case Kind::band:
      m.kind = Mark::Kind::band;
      m.on_demand = lens;
      break;
    case Kind::marker:
      m.kind = Mark::Kind::text;
      m.tone = Mark::Tone::quiet;
      break;
    case Kind::point:
      m.kind = Mark::Kind::point;
      m.on_demand = lens ? c.minor : !c.always;
      m.tone = c.always && !lens ? Mark::Tone::main : Mark::Tone::mark;
      m.drop_line = c.always && !lens;
      if (const ResultValue* r = e.find(c.key); r != nullptr && !r->is_text()) {
        m.value = r->value;
        m.dimension = r->spec.dimension;
        m.rounding = r->spec.rounding;
      }
      break;
  }
  return m;
}

Figure CurveSheet::figure(const Evaluation& e) && {
  Figure f;
  f.id = "curve";
  f.title = y_name + " over " + x_name;
  if (x.empty()) return f;
  using Kind = Construction::Kind;
  const size_t end = break_index >= x.size() ? x.size() : break_index + 1;
  Panel whole;
  whole.name = "Whole curve";
  whole.caption = caption;
  whole.x = {x_name, x_dimension};
  whole.y = {y_name, y_dimension};
  whole.traces.resize(1);
  Trace& drawn = whole.traces.front();
  drawn.x = std::move(x);
  drawn.y = std::move(y);
  drawn.x.resize(end);
  drawn.y.resize(end);
  // A curve that begins a little before its origin (slack, toe) is drawn from the origin on.
  double top = 0;
  for (double v : drawn.x)
    if (std::isfinite(v)) top = std::max(top, v);
  if (top > 0) {
    double low = 0;
    for (double v : drawn.x)
      if (std::isfinite(v)) low = std::min(low, v);
    if (low > -0.2 * top) whole.x.from = 0;
  }
  const bool with_lens = lens_x && *lens_x > 0 && *lens_x < top;
  // A hand takes a thing where it is large enough: in the lens, else on the whole curve.
  const auto in_lens = [&](const Construction& c) {
    return with_lens && c.kind != Kind::marker && !c.points.empty() && c.points.back().x <= *lens_x;
  };
  for (const Construction& c : constructions) {
    if (c.kind != Kind::window) whole.marks.push_back(mark_of(c, e, false));
    if (!in_lens(c)) whole.handles.insert(whole.handles.end(), c.handles.begin(), c.handles.end());
  }
  whole.weight = 11;
  f.panels.reserve(2);
  f.panels.push_back(std::move(whole));
  if (!with_lens) return f;

  Panel lens;
  lens.name = "Elastic part";
  lens.caption = lens_caption;
  lens.x = {x_name, x_dimension, Axis::Scale::linear, {}, 0.0, *lens_x};
  lens.y = {y_name, y_dimension};
  Trace part;
  const Trace& curve = f.panels.front().traces.front();
  for (size_t i = 0; i < end; ++i) {
    if (curve.x[i] > 1.2 * *lens_x) break;
    part.x.push_back(curve.x[i]);
    part.y.push_back(curve.y[i]);
  }
  lens.traces.push_back(std::move(part));
  for (const Construction& c : constructions) {
    if (c.kind == Kind::marker || c.points.empty()) continue;
    lens.marks.push_back(mark_of(c, e, true));
    if (in_lens(c)) lens.handles.insert(lens.handles.end(), c.handles.begin(), c.handles.end());
  }
  lens.weight = 9;
  f.panels.push_back(std::move(lens));
  return f;
}

Handle place_handle(const std::string& path, Point at, Dimension d, const std::string& label, bool along_x) {
  return {path, along_x, at, d, label, {}};
}

std::vector<Handle> window_handles(const WindowPaths& w, Point from, Point to) {
  const auto typed = [&](Point p) {
    return plain_number((w.along_x ? p.x : p.y) * w.per, 6) + " " + std::string(internal_symbol(w.dimension));
  };
  Handle lower = place_handle(w.from, from, w.dimension, "from", w.along_x),
         upper = place_handle(w.to, to, w.dimension, "to", w.along_x);
  lower.with = {{w.to, typed(to)}};
  upper.with = {{w.from, typed(from)}};
  lower.per = upper.per = w.per;
  return {lower, upper};
}

Figure ReadingsSheet::figure(const Evaluation& e, const TestRecord& record) const {
  constexpr size_t kWritten = 8;  // readings whose values are written out
  constexpr double kNear = 3;     // times what is drawn: farther limits would leave the readings a line
  Figure f;
  f.id = id;
  f.title = title;
  Panel p;
  p.x = {x_name, Dimension::none, Axis::Scale::category};
  p.x.categories = names;
  p.y = {y_name, dimension};
  p.y.with_zero = false;
  Trace points, written;
  points.kind = written.kind = Trace::Kind::points;
  written.marker = Marker::none;
  written.outlier = false;
  double low = HUGE_VAL, high = -HUGE_VAL;
  for (size_t i = 0; i < values.size(); ++i) {
    if (!std::isfinite(values[i])) continue;
    const double u = expanded > 0 ? expanded : relative * std::abs(values[i]);
    // What every single one must reach, and this one does not.
    for (const auto& [words, at] : wanted)
      if (values[i] < at && (i >= counts.size() || counts[i] != 0)) points.flags[points.x.size()] = "below";
    points.x.push_back(double(i));
    points.y.push_back(values[i]);
    points.error.push_back(u);
    points.hollow.push_back(i < counts.size() && counts[i] == 0);
    points.bound.push_back(i < bound.size() ? bound[i] : 0);
    written.x.push_back(double(i));
    written.y.push_back(values[i] + u);
    written.names.push_back(format_value(values[i], dimension, UnitSet::si, 4));
    low = std::min(low, values[i] - u);
    high = std::max(high, values[i] + u);
  }
  if (points.x.empty()) return {};
  const ResultValue* r = e.find(key);
  if (r != nullptr && std::isfinite(r->value)) {
    if (const double u = r->expanded(); u > 0) {
      Trace band;
      band.kind = Trace::Kind::area;
      band.pale = true;
      band.x = {-0.5, double(names.size()) - 0.5};
      band.y = {r->value + u, r->value + u};
      band.base = {r->value - u, r->value - u};
      p.traces.push_back(std::move(band));
      low = std::min(low, r->value - u);
      high = std::max(high, r->value + u);
    }
    Mark mean;
    mean.kind = Mark::Kind::level;
    mean.key = key;
    mean.label = mean_label;
    mean.points = {{0, r->value}};
    mean.value = r->value;
    mean.dimension = dimension;
    mean.tone = Mark::Tone::main;
    p.marks.push_back(std::move(mean));
  }
  std::vector<std::pair<std::string, double>> all = wanted;
  const auto stated = record.limits.find(key);
  const Limit limit = r != nullptr && r->adjusted     ? *r->adjusted
                      : stated == record.limits.end() ? Limit{}
                                                      : stated->second;
  if (limit.min && limit.min->value) all.emplace_back("limit ≥", *limit.min->value);
  if (limit.max && limit.max->value) all.emplace_back("limit ≤", *limit.max->value);
  for (const auto& [words, at] : all) {
    const double room = kNear * std::max(high - low, 1e-9 * std::abs(high)), middle = 0.5 * (low + high);
    if (std::abs(at - middle) > room) {
      p.caption += (p.caption.empty() ? "" : "; ") + words + " " + format_value(at, dimension, UnitSet::si, 4) +
                   (at < low ? ", below what is drawn" : ", above what is drawn");
      continue;
    }
    Mark level;
    level.kind = Mark::Kind::level;
    level.key = key;
    level.label = words;
    level.points = {{0, at}};
    level.value = at;
    level.dimension = dimension;
    level.tone = Mark::Tone::limit;
    p.marks.push_back(std::move(level));
  }
  if (points.x.size() <= kWritten) p.traces.push_back(std::move(written));
  p.traces.push_back(std::move(points));
  f.panels.push_back(std::move(p));
  return f;
}

}  // namespace fortitor
