// The course of the hardness along a traverse: case depth, scatter about it, readings that lie off it.
#include <algorithm>
#include <cmath>
#include <set>

#include "core/methods/hardness_vickers/model.h"

namespace fortitor::vickers {
namespace {

constexpr double kOfMedian = 1.4826;  // standard deviation of normal scatter by its median

struct Stop {
  double x, h;
  size_t row;
};

std::vector<Stop> course_of(const indents::IndentSet& set) {
  std::vector<Stop> out;
  for (const indents::Indent& i : set.all)
    if (i.counts && i.x) out.push_back({*i.x, i.hardness, i.row});
  std::stable_sort(out.begin(), out.end(), [](const Stop& a, const Stop& b) { return a.x < b.x; });
  return out;
}

double median(std::vector<double> v) {
  if (v.empty()) return NAN;
  const size_t k = v.size() / 2;
  std::nth_element(v.begin(), v.begin() + long(k), v.end());
  if (v.size() % 2 == 1) return v[k];
  return 0.5 * (v[k] + *std::max_element(v.begin(), v.begin() + long(k)));
}

// What three neighbours either side say of stop i: the median of the straight lines between one from each side, read at
// its place; at an end, where there is one side only, of the lines through the nearest neighbours carried on.
double expected_at(const std::vector<Stop>& c, size_t i) {
  std::vector<double> lines;
  const size_t from = i >= 3 ? i - 3 : 0, to = std::min(c.size() - 1, i + 3);
  auto through = [&](size_t a, size_t b) {
    if (c[a].x == c[b].x) return;
    lines.push_back(c[a].h + (c[b].h - c[a].h) * (c[i].x - c[a].x) / (c[b].x - c[a].x));
  };
  for (size_t a = from; a < i; ++a)
    for (size_t b = i + 1; b <= to; ++b) through(a, b);
  if (lines.empty())
    for (size_t a = from; a <= to; ++a)
      for (size_t b = a + 1; b <= to; ++b)
        if (a != i && b != i) through(a, b);
  return median(lines);
}

// Between its two neighbours a reading may lie anywhere: the course falls, and how steeply nobody knows. Few indents
// over a sharp bend would otherwise be called off. At an end: between its neighbour and the line carried on.
bool between_neighbours(const std::vector<Stop>& c, size_t i, double slack) {
  const bool end = i == 0 || i + 1 == c.size();
  const double one = c[i == 0 ? 1 : i - 1].h, other = end ? expected_at(c, i) : c[i + 1].h;
  return c[i].h >= std::min(one, other) - slack && c[i].h <= std::max(one, other) + slack;
}

}  // namespace

CaseDepth case_depth(const indents::IndentSet& set, const Shifts& shifts) {
  CaseDepth out;
  const std::vector<Stop> c = course_of(set);
  if (!set.traverse || c.empty()) return out;
  auto at = [&](size_t i) { return c[i].h + ledger::shift(shifts, "indent " + std::to_string(c[i].row + 1)); };
  if (at(0) < set.limit) {  // the case ends before the first indent, if there is one
    out.value = c[0].x / 2;
    out.bound = Censoring{false, 0, c[0].x};
    return out;
  }
  for (size_t i = 1; i < c.size(); ++i) {
    if (at(i) >= set.limit) continue;
    const double upper = at(i - 1), lower = at(i);
    out.value = c[i - 1].x + (c[i].x - c[i - 1].x) * (upper - set.limit) / (upper - lower);
    out.between = {c[i - 1].row, c[i].row};
    // Over a wide gap the course may cross anywhere: no line through two indents says where.
    constexpr double kGap = 0.3, kGapShare = 0.2;  // mm; of the depth
    const double gap = c[i].x - c[i - 1].x;
    if (gap > std::max(kGap, kGapShare * out.value)) {
      out.gap = gap;
      out.bound = Censoring{false, c[i - 1].x, c[i].x};
    }
    return out;
  }
  out.value = c.back().x;  // still hard at the last indent
  out.bound = Censoring{true, 0, 0};
  return out;
}

double course_scatter(const indents::IndentSet& set) {
  const std::vector<Stop> c = course_of(set);
  if (c.size() < 5) return 0;
  // Against the straight line between the two neighbours a reading scatters √1.5 times as much; the bend of the course
  // enters too and makes the estimate larger, never smaller.
  std::vector<double> off;
  for (size_t i = 1; i + 1 < c.size(); ++i) {
    const double span = c[i + 1].x - c[i - 1].x;
    if (!(span > 0)) continue;
    const double share = (c[i].x - c[i - 1].x) / span;
    off.push_back(std::abs(c[i].h - (c[i - 1].h + share * (c[i + 1].h - c[i - 1].h))) /
                  std::sqrt(1 + share * share + (1 - share) * (1 - share)));
  }
  return off.empty() ? 0 : kOfMedian * median(off);
}

namespace {

// How rough a course is: the distances of its inner stops from what their neighbours say.
std::vector<double> roughness(const std::vector<Stop>& c) {
  std::vector<double> off;
  for (size_t i = 1; i + 1 < c.size(); ++i) {
    const double expected = expected_at(c, i);
    if (std::isfinite(expected)) off.push_back(std::abs(c[i].h - expected));
  }
  return off;
}

// The stretch of a course around stop i, with it or without.
std::vector<Stop> around(const std::vector<Stop>& c, size_t i, bool with) {
  std::vector<Stop> out;
  for (size_t k = i > 10 ? i - 10 : 0; k < std::min(c.size(), i + 11); ++k)
    if (with || k != i) out.push_back(c[k]);
  return out;
}

// At the shoulder and the foot of a steep fall straight lines across it expect too much or too little: a reading may be
// as those beside it on the side that is level. And a case ends somewhere: behind the last stop before, a softer
// reading may be its fall.
bool at_a_bend(const std::vector<Stop>& c, size_t i, double room) {
  constexpr size_t kBeside = 3;
  constexpr double kNear = 0.5;  // of the room
  constexpr double kFall = 0.8;  // of the last ones
  const auto level = [&](size_t from, size_t to) {
    if (to < from + 2) return false;
    std::vector<double> h;
    for (size_t k = from; k < to; ++k) h.push_back(c[k].h);
    const auto [least, most] = std::minmax_element(h.begin(), h.end());
    return *most - *least <= room && std::abs(c[i].h - median(h)) <= kNear * room;
  };
  const size_t from = i > kBeside ? i - kBeside : 0;
  if (level(from, i) || level(i + 1, std::min(c.size(), i + 1 + kBeside))) return true;
  return i + 1 == c.size() && c[i].h < c[i - 1].h && c[i].h >= kFall * c[i - 1].h;
}

struct Suspect {
  size_t at = 0;
  double relief = 0;  ///< by how much the course is smoother without it
};

}  // namespace

std::vector<OffCourse> off_course(const indents::IndentSet& set, double count) {
  std::vector<OffCourse> out;
  std::vector<Stop> c = course_of(set);
  if (!set.traverse) return out;
  std::set<size_t> excused;  // rows that stand out and need not be off: where the course bends
  // A stop that lies off spoils what is expected of its neighbours too: the one is blamed without which the course is
  // smoothest, and judged by the course without it.
  for (size_t most = std::min<size_t>(8, c.size() / 4 + 1); out.size() < most && c.size() >= 5;) {
    Suspect worst;
    for (size_t i = 0; i < c.size(); ++i) {
      if (excused.count(c[i].row) != 0 || between_neighbours(c, i, 4 * count)) continue;
      double relief = 0;
      for (double r : roughness(around(c, i, true))) relief += r;
      for (double r : roughness(around(c, i, false))) relief -= r;
      if (relief > worst.relief) worst = {i, relief};
    }
    if (!(worst.relief > 0)) break;
    const size_t i = worst.at, n = c.size();
    const std::vector<double> off = roughness(around(c, i, false));
    const double expected = expected_at(c, i);
    if (off.size() < 2 || !std::isfinite(expected)) break;
    // Four robust deviations, and never less than four counts of the reading or what indents on one piece differ by
    // anyhow: the median of a few distances may be small by chance.
    constexpr double kScatter = 0.05;  // of the hardness; ISO 6507-2 lets a block's readings range over 3 to 6 %
    double room = std::max({4 * kOfMedian * median(off), 4 * count, kScatter * std::abs(expected)});
    // A line carried on beyond the last neighbour scatters more, and errs where the course bends.
    if (i == 0 || i + 1 == n) {
      const size_t a = i == 0 ? 1 : i - 1, b = i == 0 ? 2 : i - 2, d = i == 0 ? 3 : i - 3;
      room = 2 * room + 2 * std::abs((c[a].h - c[b].h) - (c[b].h - c[d].h));
    }
    if (std::abs(c[i].h - expected) <= room || at_a_bend(c, i, room)) {
      excused.insert(c[i].row);
      continue;
    }
    out.push_back({c[i].row, expected, room});
    c.erase(c.begin() + long(i));
  }
  return out;
}

}  // namespace fortitor::vickers
