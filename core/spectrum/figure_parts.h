// What the pictures of a spectrum are put together from. Shared by the files of core/spectrum only.
#pragma once

#include <algorithm>
#include <string>
#include <vector>

#include "core/spectrum/spectrum.h"

namespace fortitor::spectrum {

inline constexpr double kMicro = 1e-6;
inline constexpr Dash kDashes[] = {Dash::solid, Dash::dashed, Dash::dotted, Dash::dash_dot};

inline Trace line(std::string label, int tone, Dash dash = Dash::solid, double weight = 2) {
  Trace t;
  t.label = std::move(label);
  t.tone = tone;
  t.dash = dash;
  t.weight = weight;
  return t;
}

inline Mark level(bool along_x, double at, std::string label, std::string key, Mark::Tone tone = Mark::Tone::mark) {
  Mark m;
  m.kind = Mark::Kind::level;
  m.along_x = along_x;
  m.points = {{at, at}};
  m.label = std::move(label);
  m.key = std::move(key);
  m.tone = tone;
  return m;
}

inline Handle handle(std::string setting, bool along_x, Point at, Dimension d, std::string label) {
  Handle h;
  h.setting = std::move(setting);
  h.along_x = along_x;
  h.at = at;
  h.dimension = d;
  h.label = std::move(label);
  return h;
}

// Not more than about `most` points of ascending values, both ends kept.
inline std::vector<size_t> thinned(size_t n, size_t most) {
  std::vector<size_t> out;
  if (n == 0) return out;
  // Rare large ranges matter most: equal steps in the logarithm of the rank from above.
  size_t last = n;
  for (double rank = 0; rank < double(n); rank = std::max(rank + 1, rank * (1 + 16.0 / double(most)))) {
    const size_t i = n - 1 - size_t(rank);
    if (i < last) out.push_back(i);
    last = i;
  }
  if (out.back() != 0) out.push_back(0);
  return out;
}

// Share of the cycles that are larger, over the range.

}  // namespace fortitor::spectrum
