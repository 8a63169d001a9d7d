// Life under the spectrum: largest range against cycles, tests and the line beside it.
#include <cmath>
#include <map>

#include "core/methods/support/ledger.h"
#include "core/spectrum/figure_parts.h"

namespace fortitor::spectrum {
namespace {

using D = Dimension;

}  // namespace

Figure life_figure(const Spectrum& s, const TestRecord& record) {
  Figure f;
  f.id = "life";
  f.title = "life under the spectrum";
  if (s.together.ranges.empty()) return f;
  const LifeLine line_of{s.settings.category, s.settings.m};
  const double stress = s.settings.modulus * kMicro;
  Panel p;
  p.name = "Life";
  p.x = {"cycles to failure", D::none, Axis::Scale::log};
  p.y = {"stress range; of a spectrum its largest", D::stress, Axis::Scale::log};
  Trace constant = line("category " + plain_number(s.settings.category, 3), 1, Dash::dashed);
  for (double n = 1e4; n <= 1.01e8; n *= std::pow(10, 0.05)) {
    constant.x.push_back(n);
    constant.y.push_back(n <= 5e6 ? s.settings.category * std::pow(2e6 / n, 1 / s.settings.m)
                                  : line_of.knee() * std::pow(5e6 / n, 1 / (s.settings.m + 2)));
  }
  p.traces.push_back(std::move(constant));
  // The same spectrum, larger and smaller: total cycles when Miner's sum reaches D.
  std::map<double, double> classes;  // share of the largest → share of the cycles
  for (double r : s.together.ranges)
    classes[std::ceil(200 * r / s.together.ranges.back()) / 200] += 1 / double(s.together.ranges.size());
  Trace miner = line("by Miner, D = " + plain_number(s.settings.d, 3), 3);
  for (double largest = line_of.cut_off() * 1.05; largest < 1500; largest *= 1.1) {
    double each = 0;
    for (const auto& [share, n] : classes) each += n * line_of.damage(share * largest, true);
    const double life = each > 0 ? s.settings.d / each : HUGE_VAL;
    if (life > 1e11) continue;
    if (life < 1e4) break;
    miner.x.push_back(life);
    miner.y.push_back(largest);
  }
  // The spectrum's own shape on the stress axis: how often a range comes, on the cycles that one history has.
  Trace shape;
  shape.kind = Trace::Kind::area;
  shape.tone = 6;
  const double foot = std::max(5.0, s.together.ranges.front() * stress);
  for (size_t i : thinned(s.together.ranges.size(), 200)) {
    const double y = s.together.ranges[i] * stress, x = s.together.weight * double(s.together.ranges.size() - i);
    if (y < foot || x < 1) continue;
    shape.x.push_back(x);
    shape.y.push_back(y);
  }
  shape.base.assign(shape.x.size(), foot);
  shape.label = "how often a range comes";
  if (shape.x.size() > 1) p.traces.insert(p.traces.begin(), std::move(shape));
  Trace tests;
  tests.kind = Trace::Kind::points;
  tests.marker = Marker::square;
  tests.tone = 3;
  tests.label = "block tests";
  tests.bound_along_x = true;
  for (const Row& row : record.run.rows("blocks")) {
    const auto range = row.number("range"), cycles = row.number("cycles");
    if (!range || !cycles || !(*range > 0) || !(*cycles > 0)) continue;
    tests.x.push_back(*cycles);
    tests.y.push_back(*range);
    tests.bound.push_back(row.cells.flag("runout") ? 1 : 0);
  }
  p.x.from = 1e2;
  p.x.to = 1e10;
  p.y.from = 5;
  p.y.to = 1500;
  if (!miner.x.empty()) p.traces.push_back(std::move(miner));
  if (!tests.x.empty()) p.traces.push_back(std::move(tests));
  f.panels.push_back(std::move(p));
  return f;
}

}  // namespace fortitor::spectrum
