#include "core/methods/support/calibration.h"

#include <algorithm>
#include <cmath>

#include "core/quantity/parse.h"

namespace fortitor::calibration {
namespace {

constexpr double kLargest = 0.2;
constexpr double kBeyond = 0.1;

std::string trimmed(std::string s) {
  while (!s.empty() && s.front() == ' ') s.erase(s.begin());
  while (!s.empty() && s.back() == ' ') s.pop_back();
  return s;
}

// "0.12 %", or "0.12" before the ± of "0.12 ± 0.20 %".
Outcome<double> share(std::string typed) {
  typed = trimmed(std::move(typed));
  if (typed.find('%') == std::string::npos) typed += " %";
  const auto q = parse_quantity(typed, Dimension::elongation);
  if (!q) return q.error();
  return q->value;
}

Outcome<Point> point(const std::string& part, Dimension dimension) {
  const InputError wanted{"“" + part + "”: such as 10 kN: 0.12 ± 0.20 %.", {}};
  const size_t colon = part.find(':'), pm = part.find("±");
  if (colon == std::string::npos || pm == std::string::npos || pm < colon) return wanted;
  const auto where = parse_quantity(trimmed(part.substr(0, colon)), dimension);
  if (!where) return where.error();
  const auto error = share(part.substr(colon + 1, pm - colon - 1));
  if (!error) return error.error();
  const auto expanded = share(part.substr(pm + std::string("±").size()));
  if (!expanded) return expanded.error();
  if (!(where->value > 0) || !(*expanded > 0)) return wanted;
  if (std::abs(*error) > kLargest || *expanded > kLargest)
    return InputError{"“" + part + "”: an error or an uncertainty of more than 20 % is a slip of units.", {}};
  return Point{where->value, *error, *expanded};
}

}  // namespace

Outcome<std::vector<Point>> read(const std::string& typed, Dimension dimension) {
  std::vector<Point> out;
  for (size_t from = 0; from <= typed.size();) {
    const size_t end = std::min(typed.find(';', from), typed.size());
    if (const std::string part = trimmed(typed.substr(from, end - from)); !part.empty()) {
      const auto p = point(part, dimension);
      if (!p) return p.error();
      out.push_back(*p);
    }
    from = end + 1;
  }
  std::sort(out.begin(), out.end(), [](const Point& a, const Point& b) { return a.at < b.at; });
  for (size_t i = 1; i < out.size(); ++i)
    if (!(out[i].at > out[i - 1].at)) return InputError{"The same point stands twice in the errors.", {}};
  return out;
}

std::optional<Point> at(const std::vector<Point>& points, double value) {
  if (points.empty() || !std::isfinite(value)) return std::nullopt;
  if (value < points.front().at * (1 - kBeyond) || value > points.back().at * (1 + kBeyond)) return std::nullopt;
  const double v = std::clamp(value, points.front().at, points.back().at);
  for (size_t i = 0; i + 1 < points.size(); ++i) {
    const Point &a = points[i], &b = points[i + 1];
    if (v > b.at) continue;
    const double w = (v - a.at) / (b.at - a.at);
    return Point{v, a.error + w * (b.error - a.error), a.expanded + w * (b.expanded - a.expanded)};
  }
  return points.back();
}

double standard(const Point& p) {
  return std::hypot(p.expanded / 2, p.error / std::sqrt(3.0));
}

Dimension dimension_of(const std::string& slot) {
  if (slot == "load_cell" || slot == "hardness_machine") return Dimension::force;
  if (slot == "torque_cell") return Dimension::torque;
  return slot == "extensometer" ? Dimension::length : Dimension::none;
}

}  // namespace fortitor::calibration
