#include "core/plan/indents.h"

#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <limits>

#include "core/quantity/format.h"
#include "core/quantity/plain.h"

namespace fortitor {
namespace {

std::string mm(double v) {
  return significant(v, 3) + " mm";
}

// What a place must keep from everything that is there already.
struct Rules {
  const IndentFace& face;
  const IndentPattern& p;
  double apart() const { return p.spacing * p.size; }
  double rim() const { return p.edge * p.size; }
  // The slack keeps a grid at the very least pitch from failing on the last bit.
  bool holds(double x, double y, const std::vector<IndentSpot>& placed) const {
    const double slack = 1e-9;
    if (face.to_edge(x, y) < rim() - slack) return false;
    for (const IndentSpot& c : p.clear)
      if (std::hypot(c.x - x, c.y - y) < c.radius + rim() - slack) return false;
    return std::all_of(placed.begin(), placed.end(),
                       [&](const IndentSpot& s) { return std::hypot(s.x - x, s.y - y) >= apart() - slack; });
  }
};

// Rows from above, every second one walked back.
void serpentine(std::vector<IndentSpot>& spots) {
  std::stable_sort(spots.begin(), spots.end(), [](const IndentSpot& a, const IndentSpot& b) {
    return std::abs(a.y - b.y) > 1e-9 ? a.y > b.y : a.x < b.x;
  });
  bool back = false;
  for (size_t i = 0; i < spots.size();) {
    size_t end = i;
    while (end < spots.size() && std::abs(spots[end].y - spots[i].y) <= 1e-9) ++end;
    if (back) std::reverse(spots.begin() + long(i), spots.begin() + long(end));
    back = !back;
    i = end;
  }
}

// Places around the middle, from it outward: there the piece is thickest and the edge farthest. The part of the grid
// that is looked at grows until it holds enough.
std::vector<IndentSpot> grid(const Rules& rules, double pitch) {
  const IndentFace& f = rules.face;
  const double cx = f.width / 2, cy = f.height / 2;
  std::vector<IndentSpot> out;
  for (int reach = 2 + int(std::sqrt(rules.p.count)); reach < 500; reach *= 2) {
    const int nx = std::min(reach, int(f.width / pitch) + 1), ny = std::min(reach, int(f.height / pitch) + 1);
    std::vector<IndentSpot> all;
    for (int i = -nx; i <= nx; ++i)
      for (int j = -ny; j <= ny; ++j) all.push_back({cx + i * pitch, cy + j * pitch, 0, {}});
    std::stable_sort(all.begin(), all.end(), [&](const IndentSpot& a, const IndentSpot& b) {
      return std::hypot(a.x - cx, a.y - cy) < std::hypot(b.x - cx, b.y - cy) - 1e-9;
    });
    out.clear();
    for (const IndentSpot& s : all)
      if (int(out.size()) < rules.p.count && rules.holds(s.x, s.y, out)) out.push_back(s);
    if (int(out.size()) == rules.p.count || (nx < reach && ny < reach)) break;
  }
  serpentine(out);
  return out;
}

// A line from the left edge inward at mid height; staggered lines use as many lanes as their pitch needs.
std::vector<IndentSpot> line(const Rules& rules, double pitch, int lanes) {
  std::vector<IndentSpot> out;
  const double apart = rules.apart(), middle = rules.face.height / 2;
  const double start = rules.p.start > 0 ? rules.p.start : rules.rim();
  for (int i = 0; int(out.size()) < rules.p.count; ++i) {
    const double x = start + i * pitch, y = middle + (i % lanes - (lanes - 1) / 2.0) * apart;
    if (rules.face.to_edge(x, y) < rules.rim() - 1e-9 && x > rules.face.width / 2) break;  // the far edge
    if (i > 100000) break;
    if (rules.holds(x, y, out)) out.push_back({x, y, 0, {}});
  }
  return out;
}

// Rows below the upper and above the lower surface through base metal, heat-affected zones and weld metal.
std::vector<IndentSpot> across_weld(const Rules& rules) {
  const IndentFace& f = rules.face;
  const double side = (f.width - f.weld_width) / 2 - f.haz_width, apart = rules.apart();
  const double start = rules.p.start > 0 ? rules.p.start : rules.rim();
  const double bounds[] = {0, side, side + f.haz_width, f.width - side - f.haz_width, f.width - side, f.width};
  std::vector<IndentSpot> out;
  std::vector<double> depths = {f.height - start};
  if (f.height - 2 * start >= apart) depths.push_back(start);
  for (double y : depths)
    for (int z = 0; z < 5; ++z) {
      // Half a pitch away from what bounds the zone; a narrow zone is worked in lanes beside one another.
      const double width = bounds[z + 1] - bounds[z], pitch = width / rules.p.count;
      const int lanes = std::max(1, int(std::ceil(apart / pitch - 1e-9)));
      for (int i = 0; i < rules.p.count; ++i) {
        const double x = bounds[z] + (i + 0.5) * pitch;
        const double inward = y > f.height / 2 ? -1 : 1;
        const double at = y + inward * (i % lanes) * apart;
        if (rules.holds(x, at, out)) out.push_back({x, at, 0, f.zone(x)});
      }
    }
  serpentine(out);
  return out;
}

}  // namespace

double IndentFace::to_edge(double x, double y) const {
  switch (shape) {
    case Shape::unknown: return std::numeric_limits<double>::infinity();
    case Shape::disc: return width / 2 - std::hypot(x - width / 2, y - width / 2);
    case Shape::rectangle:
    case Shape::weld: break;
  }
  return std::min({x, y, width - x, height - y});
}

std::string IndentFace::zone(double x) const {
  if (shape != Shape::weld) return {};
  const double from_middle = std::abs(x - width / 2);
  if (from_middle <= weld_width / 2) return "weld metal";
  return from_middle <= weld_width / 2 + haz_width ? "heat-affected zone" : "base";
}

Outcome<std::vector<IndentSpot>> place_indents(const IndentFace& face, const IndentPattern& p) {
  if (face.shape == IndentFace::Shape::unknown || !(face.width > 0) || !(face.height > 0))
    return InputError{"Enter the face first: its shape and its sizes.", {}};
  if (!(p.size > 0))
    return InputError{"The size of the largest indent is not known: enter what hardness to expect.", {}};
  if (p.count < 1 || p.count > 2000) return InputError{"The plan takes 1 to 2000 indents.", {}};
  const Rules rules{face, p};
  const double pitch = p.pitch > 0 ? p.pitch : rules.apart();
  if (std::max(face.width, face.height) / pitch > 1e5)
    return InputError{"A pitch of " + mm(pitch) + " is too fine for this face.", {}};
  const bool straight = p.kind == IndentPattern::Kind::grid || p.kind == IndentPattern::Kind::line;
  if (straight && pitch < rules.apart() - 1e-9)
    return InputError{"A pitch of " + mm(pitch) + " is below the least, " + mm(rules.apart()) + " (" +
                          significant(p.spacing, 3) + " times an indent of " + mm(p.size) + "). Set it staggered.",
                      {}};
  const bool along = p.kind == IndentPattern::Kind::line || p.kind == IndentPattern::Kind::staggered;
  if (along && p.start > 0 && p.start < rules.rim() - 1e-9)
    return InputError{"The first place, " + mm(p.start) + " from the edge, is nearer than " + mm(rules.rim()) + " (" +
                          significant(p.edge, 3) + " times an indent of " + mm(p.size) + ").",
                      {}};
  if (p.kind == IndentPattern::Kind::weld) {
    if (face.shape != IndentFace::Shape::weld || !(face.weld_width > 0) || !(face.haz_width > 0))
      return InputError{"Rows across a weld need the widths of the weld metal and of the heat-affected zone.", {}};
    if (face.weld_width + 2 * face.haz_width >= face.width)
      return InputError{"Weld metal and heat-affected zones are wider than the face: no base metal is left.", {}};
  }
  std::vector<IndentSpot> out;
  switch (p.kind) {
    case IndentPattern::Kind::grid: out = grid(rules, pitch); break;
    case IndentPattern::Kind::line: out = line(rules, pitch, 1); break;
    case IndentPattern::Kind::staggered:
      out = line(rules, pitch, std::max(1, int(std::ceil(rules.apart() / pitch - 1e-9))));
      break;
    case IndentPattern::Kind::weld: out = across_weld(rules); break;
  }
  if (out.empty())
    return InputError{"There is no room for an indent of " + mm(p.size) + ": it needs " + mm(rules.rim()) +
                          " to every edge and " + mm(rules.apart()) + " to its neighbours.",
                      {}};
  for (IndentSpot& s : out) s.zone = face.zone(s.x);
  return out;
}

Outcome<std::vector<IndentSpot>> read_spots(const std::string& text) {
  std::vector<IndentSpot> out;
  size_t at = 0;
  while (at <= text.size()) {
    const size_t end = std::min(text.find(';', at), text.size());
    const std::string part = text.substr(at, end - at);
    at = end + 1;
    if (part.find_first_not_of(" \t") == std::string::npos) continue;
    double v[3] = {};
    int n = 0;
    std::string_view rest = part;
    while (n < 3) {
      const auto value = plain::take_number(rest);
      if (!value) break;
      v[n++] = *value;
      rest.remove_prefix(std::min(rest.find_first_not_of(" ,\t"), rest.size()));
    }
    if (n < 2 || !rest.empty() || !std::isfinite(v[0]) || !std::isfinite(v[1]) || !(v[2] >= 0) || v[2] > 1e6)
      return InputError{"“" + part + "” is no place: two numbers in mm, such as 0.5 1.2; a third is a radius.", {}};
    out.push_back({v[0], v[1], v[2], {}});
  }
  return out;
}

std::string write_spots(const std::vector<IndentSpot>& spots) {
  std::string out;
  for (const IndentSpot& s : spots) {
    out += (out.empty() ? "" : "; ") + plain_number(s.x, 6) + " " + plain_number(s.y, 6);
    if (s.radius > 0) out += " " + plain_number(s.radius, 4);
  }
  return out;
}

}  // namespace fortitor
