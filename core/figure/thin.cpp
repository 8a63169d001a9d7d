#include "core/figure/thin.h"

#include <algorithm>
#include <cmath>

namespace fortitor::figure {
namespace {

bool plain_line(const Trace& t) {
  return t.kind == Trace::Kind::line && t.base.empty() && t.error.empty() && t.x_error.empty() && t.bound.empty() &&
         t.hollow.empty() && t.flags.empty() && t.names.empty() && t.x.size() == t.y.size();
}

void thin(Trace& t, size_t most) {
  const size_t n = t.x.size();
  const size_t run = (2 * n + most - 1) / most;  // two are kept of each run
  std::vector<double> x, y;
  x.reserve(most + 2);
  y.reserve(most + 2);
  const auto keep = [&](size_t i) {
    x.push_back(t.x[i]);
    y.push_back(t.y[i]);
  };
  for (size_t from = 0; from < n; from += run) {
    const size_t to = std::min(n, from + run);
    size_t least = to, largest = to, gap = to;
    for (size_t i = from; i < to; ++i) {
      if (std::isnan(t.y[i]) || std::isnan(t.x[i])) {
        gap = i;
        continue;
      }
      if (least == to || t.y[i] < t.y[least]) least = i;
      if (largest == to || t.y[i] > t.y[largest]) largest = i;
    }
    size_t kept[] = {from == 0 ? from : to, least, largest, gap, to == n ? to - 1 : to};
    std::sort(std::begin(kept), std::end(kept));
    for (size_t k = 0; k < std::size(kept); ++k)
      if (kept[k] != to && (k == 0 || kept[k] != kept[k - 1])) keep(kept[k]);
  }
  t.x = std::move(x);
  t.y = std::move(y);
}

}  // namespace

void thin(Figure& figure, size_t most) {
  if (figure.linked) return;
  for (Panel& p : figure.panels)
    for (Trace& t : p.traces)
      if (t.x.size() > most && plain_line(t)) thin(t, most);
}

}  // namespace fortitor::figure
