// The picture of every step; what is chosen on it is a handle on it.
#include <algorithm>
#include <cmath>
#include <map>

#include "core/fatigue/rainflow.h"
#include "core/methods/support/ledger.h"
#include "core/spectrum/figure_parts.h"

namespace fortitor::spectrum {
namespace {

using D = Dimension;

Trace exceedance(const std::vector<double>& ranges, std::string label, int tone, Dash dash) {
  Trace t = line(std::move(label), tone, dash);
  for (size_t i : thinned(ranges.size(), 400)) {
    t.x.push_back((double(ranges.size() - i) - 0.5) / double(ranges.size()));
    t.y.push_back(ranges[i] * kMicro);
  }
  return t;
}

Panel exceedances(const Spectrum& s) {
  Panel p;
  p.name = "Exceedance";
  p.x = {"share of cycles that are larger", D::none, Axis::Scale::log};
  p.y = {"range", D::microstrain};
  for (size_t k = 0; k < s.weeks.size(); ++k)
    p.traces.push_back(exceedance(s.weeks[k].ranges, s.weeks.size() > 1 ? s.weeks[k].name : "",
                                  int(k % 7 == 0 ? 5 : (k * 3 + 2) % 7), kDashes[k % 4]));
  return p;
}

Figure one(std::string id, std::string title, Panel p) {
  Figure f;
  f.id = std::move(id);
  f.title = std::move(title);
  f.panels.push_back(std::move(p));
  return f;
}

Figure raw_figure(const Spectrum& s) {
  Panel p;
  p.name = "What was measured";
  p.x = {"hours from the start", D::none};
  p.y = {"", D::none, Axis::Scale::category};
  p.y.categories = {"gaps", "stuck", "spikes"};
  for (size_t k = 0; k < s.weeks.size(); ++k) {
    const Week& w = s.weeks[k];
    const double hour = 3600 * w.signal->rate(), room = 0.12 * double(k);
    auto stretches = [&](const std::vector<fatigue::Stretch>& all, double y, int tone) {
      Trace t = line("", tone, Dash::solid, 7);
      for (const fatigue::Stretch& g : all) {
        t.x.insert(t.x.end(), {double(g.from) / hour, double(g.from + g.count) / hour, NAN});
        t.y.insert(t.y.end(), {y + room, y + room, NAN});
      }
      if (!t.x.empty()) p.traces.push_back(std::move(t));
    };
    stretches(w.raw.gaps, 0, 5);
    stretches(w.smooth.stuck, 1, 1);
    Trace spikes;
    spikes.kind = Trace::Kind::points;
    spikes.marker = Marker::cross;
    spikes.tone = 2;
    for (uint64_t at : w.smooth.spikes) {
      spikes.x.push_back(double(at) / hour);
      spikes.y.push_back(2 + room);
    }
    if (!spikes.x.empty()) p.traces.push_back(std::move(spikes));
    p.x.to = std::max(p.x.to.value_or(0), double(w.raw.samples) / hour);
  }
  p.x.from = 0;
  return one("raw", "what was measured and what was not", std::move(p));
}

Figure level_figure(const Spectrum& s) {
  Figure f;
  f.id = "level";
  f.title = "drift that is taken off";
  Panel p;
  p.name = "Level";
  p.x = {"hours from the start", D::none};
  p.y = {"strain", D::microstrain};
  p.y.with_zero = false;
  for (size_t k = 0; k < s.weeks.size(); ++k) {
    const Week& w = s.weeks[k];
    const double hour = 3600 * w.signal->rate();
    Trace blocks;
    blocks.kind = Trace::Kind::points;
    blocks.tone = 6;
    for (size_t b = 0; b < w.raw.blocks.size(); ++b) {
      if (!(w.raw.blocks[b].n > 0)) continue;
      blocks.x.push_back((double(b) + 0.5) * double(w.raw.block) / hour);
      blocks.y.push_back((w.raw.medians ? w.raw.blocks[b].median : w.raw.blocks[b].x / w.raw.blocks[b].n) * kMicro);
    }
    if (k == 0) p.traces.push_back(std::move(blocks));
    Trace drift = line(s.weeks.size() > 1 ? w.name : "", int((k * 3 + 5) % 7), kDashes[k % 4]);
    for (size_t i = 0; i < w.drift.at.size(); ++i) {
      drift.x.push_back(std::min(w.drift.at[i], double(w.raw.samples)) / hour);
      drift.y.push_back(w.drift(std::min(w.drift.at[i], double(w.raw.samples))) * kMicro);
    }
    if (!drift.x.empty()) p.traces.push_back(std::move(drift));
  }
  f.panels.push_back(std::move(p));
  return f;
}

Figure smooth_figure(const Spectrum& s) {
  Panel p;
  p.name = "Loss of peaks";
  p.x = {"cut, Hz", D::none, Axis::Scale::log};
  p.y = {"mean loss of the hundred largest swings", D::elongation};
  double most = 0;
  for (size_t k = 0; k < s.weeks.size(); ++k) {
    const Week& w = s.weeks[k];
    if (w.losses.empty()) continue;
    Trace t = line(s.weeks.size() > 1 ? w.name : "", int((k * 3 + 5) % 7), kDashes[k % 4]);
    for (const auto& [f, l] : w.losses) {
      t.x.push_back(f);
      t.y.push_back(l);
      most = std::max(most, l);
    }
    p.traces.push_back(std::move(t));
  }
  const double cut = s.settings.cut;
  if (cut > 0) {
    p.marks.push_back(level(true, cut, "cut " + plain_number(cut, 3) + " Hz", "peak_loss", Mark::Tone::main));
    p.handles.push_back(handle("settings.cut", true, {cut, most / 2}, D::none, "cut"));
  }
  p.marks.push_back(level(false, 0.05, "5 %", "", Mark::Tone::limit));
  return one("smooth", "what smoothing takes off the peaks", std::move(p));
}

Figure turn_figure(const Spectrum& s) {
  Panel p;
  p.name = "Gate";
  p.x = {"gate", D::microstrain, Axis::Scale::log};
  p.y = {"turning points", D::none, Axis::Scale::log};
  double middle = 1;
  for (size_t k = 0; k < s.weeks.size(); ++k) {
    const Week& w = s.weeks[k];
    const std::vector<fatigue::Extreme>& from = w.smooth.extremes.empty() ? w.turning : w.smooth.extremes;
    Trace t = line(s.weeks.size() > 1 ? w.name : "", int((k * 3 + 5) % 7), kDashes[k % 4]);
    const double base = s.settings.gate > 0 ? s.settings.gate : 0.5;
    for (double g = base / 8; g <= base * 32.1; g *= 2) {
      const double n = double(fatigue::turning_points(from, g).size());
      if (n < 2) break;
      t.x.push_back(g * kMicro);
      t.y.push_back(n);
      if (g <= base * 1.01) middle = n;
    }
    p.traces.push_back(std::move(t));
  }
  if (const double g = s.settings.gate * kMicro; g > 0) {
    p.marks.push_back(level(true, g, "gate", "turning_points", Mark::Tone::main));
    p.handles.push_back(handle("settings.gate", true, {g, middle}, D::microstrain, "gate"));
  }
  return one("turn", "turning points over the gate", std::move(p));
}

// Shares of cycles and of damage in classes of range.
Panel histogram(const Spectrum& s) {
  Panel p;
  p.name = "Cycles and damage";
  p.x = {"range", D::microstrain};
  p.y = {"share", D::elongation};
  const Week& t = s.together;
  if (t.ranges.empty()) return p;
  const int n = 40;
  const double width = std::min(t.ranges.back(), std::isfinite(t.range_p) ? 4 * t.range_p : HUGE_VAL) / n;
  std::vector<double> cycles(n), damage(n);
  const LifeLine life{s.settings.category, s.settings.m};
  double all = 0;
  for (double r : t.ranges) {
    const size_t k = size_t(std::clamp(int(r / width), 0, n - 1));
    const double d = life.damage(r * s.settings.modulus * kMicro, false);
    cycles[k] += 1 / double(t.ranges.size());
    damage[k] += d;
    all += d;
  }
  Trace c, d;
  c.kind = d.kind = Trace::Kind::bars;
  c.tone = 6;
  d.tone = 3;
  c.bar_width = width * kMicro * 0.9;
  d.bar_width = width * kMicro * 0.3;
  double most = 0;
  for (int k = 0; k < n; ++k) {
    const double x = (k + 0.5) * width * kMicro;
    c.x.push_back(x);
    c.y.push_back(std::min(cycles[size_t(k)], 0.4));  // the small ones would hide all others
    d.x.push_back(x);
    d.y.push_back(all > 0 ? damage[size_t(k)] / all : 0);
    most = std::max(most, d.y.back());
  }
  p.caption = "pale: cycles; dark: the damage they do";
  p.traces = {c, d};
  const double cut = t.omission_level * kMicro;
  p.marks.push_back(level(true, cut, "", "omission_level", Mark::Tone::main));
  p.handles.push_back(handle("settings.share", true, {cut, most * 0.8}, D::microstrain, "cut"));
  p.x.from = 0;
  if (std::isfinite(t.range_p))
    p.x.to = std::min(t.ranges.back(), 4 * t.range_p) * kMicro;  // a spike must not hide what matters
  return p;
}

Figure cut_figure(const Spectrum& s) {
  Figure f;
  f.id = "cut";
  f.title = "what is cut, and the damage that goes with it";
  Panel p = exceedances(s);
  const Week& t = s.together;
  const double range = t.range_p * kMicro, cut = t.omission_level * kMicro;
  p.marks.push_back(level(true, s.settings.p, plain_number(100 * s.settings.p, 3) + " %", "range_p", Mark::Tone::mark));
  p.marks.push_back(level(false, cut, "cut at " + plain_number(std::round(100 * s.settings.share), 3) + " % of it",
                          "omission_level", Mark::Tone::main));
  p.handles.push_back(handle("settings.p", true, {s.settings.p, range}, D::none, "share"));
  p.handles.push_back(handle("settings.share", false, {1, cut}, D::microstrain, "cut"));
  f.panels = {std::move(p), histogram(s)};
  return f;
}

Panel map_of(const fatigue::Transitions& chain, std::string name) {
  Panel p;
  p.caption = name + ": straw seldom, violet often";
  p.name = std::move(name);
  p.x = {"to", D::microstrain};
  p.y = {"from", D::microstrain};
  p.x.with_zero = p.y.with_zero = false;
  const fatigue::Levels& l = chain.levels;
  const double most = chain.counts.empty() ? 0 : *std::max_element(chain.counts.begin(), chain.counts.end());
  // Five shades by the logarithm of the count.
  const int tones[] = {0, 1, 2, 3, 4};
  for (int shade = 0; shade < 5; ++shade) {
    Trace t;
    t.kind = Trace::Kind::points;
    t.marker = Marker::square;
    t.tone = tones[shade];
    for (int i = 0; i < l.n; ++i)
      for (int j = 0; j < l.n; ++j) {
        const double n = chain.at(i, j);
        if (!(n > 0) || std::min(4, int(5 * std::log(n + 1) / std::log(most + 2))) != shade) continue;
        t.x.push_back(l.middle(j) * kMicro);
        t.y.push_back(l.middle(i) * kMicro);
      }
    if (!t.x.empty()) p.traces.push_back(std::move(t));
  }
  Trace equal = line("", 6, Dash::dotted, 1);
  equal.outlier = false;
  equal.x = equal.y = {l.from * kMicro, (l.from + l.n * l.width) * kMicro};
  p.traces.push_back(std::move(equal));
  p.x.from = p.y.from = l.from * kMicro;
  p.x.to = p.y.to = (l.from + l.n * l.width) * kMicro;
  return p;
}

Figure chain_figure(const Spectrum& s, size_t week) {
  Figure f = one("chain", "chain of turning points",
                 map_of(s.sum, s.weeks.size() > 1 ? "sum of the weeks" : s.weeks.front().name));
  if (s.weeks.size() > 1)
    f.panels.push_back(map_of(s.weeks[std::min(week, s.weeks.size() - 1)].transitions,
                              s.weeks[std::min(week, s.weeks.size() - 1)].name));
  return f;
}

Figure drive_figure(const Spectrum& s) {
  Figure f;
  f.id = "drive";
  f.title = "the drive against its source";
  Panel p;
  p.name = "Exceedance";
  p.x = {"share of cycles that are larger", D::none, Axis::Scale::log};
  p.y = {"range", D::microstrain};
  std::vector<double> source;
  for (double r : s.together.ranges)
    if (r >= s.together.omission_level) source.push_back(r);
  p.traces.push_back(exceedance(source, "source", 6, Dash::solid));
  p.traces.back().weight = 5;
  p.traces.push_back(exceedance(s.drive.ranges, "drive", 2, Dash::dashed));
  f.panels.push_back(std::move(p));
  if (s.study.empty()) return f;
  Panel b;
  b.name = "Block length";
  b.x = {"transitions in a block", D::none, Axis::Scale::log};
  b.y = {"damage over that of the source", D::none};
  b.y.with_zero = false;
  Trace t = line("20 seeds", 5);
  Trace spread;
  spread.kind = Trace::Kind::area;
  spread.tone = 6;
  for (const BlockLength& l : s.study) {
    t.x.push_back(double(l.length));
    t.y.push_back(l.mean);
    spread.x.push_back(double(l.length));
    spread.y.push_back(l.largest);
    spread.base.push_back(l.least);
  }
  b.traces = {spread, t};
  for (double edge : {0.95, 1.05})
    b.marks.push_back(level(false, edge, edge > 1 ? "± 5 %" : "", "", Mark::Tone::limit));
  if (const size_t shortest = shortest_block(s.study))
    b.marks.push_back(level(true, double(shortest), "enough", "", Mark::Tone::main));
  f.panels.push_back(std::move(b));
  return f;
}

}  // namespace

std::string name_of(ChainStep step) {
  static const char* const names[] = {"Raw", "Level", "Smooth", "Turn", "Count", "Cut", "Chain", "Drive"};
  return names[int(step)];
}

std::string words_of(const Spectrum& s, ChainStep step) {
  const Settings& set = s.settings;
  auto many = [](double n) {
    return n >= 1e6 ? significant(n / 1e6, 3) + " M" : n >= 1e4 ? significant(n / 1e3, 3) + " k" : plain_number(n, 6);
  };
  switch (step) {
    case ChainStep::raw: {
      double samples = 0;
      for (const Week& w : s.weeks) samples += double(w.raw.samples);
      return std::to_string(set.weeks.size()) + (set.weeks.size() == 1 ? " week, " : " weeks, ") + many(samples);
    }
    case ChainStep::level:
      return set.level == "none" ? "drift stays"
                                 : (set.level == "quiet" ? "medians, " : "drift out, ") +
                                       format_value(set.block, D::time, UnitSet::si, 2);
    case ChainStep::smooth: return set.cut > 0 ? "low-pass " + plain_number(set.cut, 3) + " Hz" : "not smoothed";
    case ChainStep::turn: return "gate " + plain_number(set.gate, 3) + " µε";
    case ChainStep::count: return "rainflow, " + many(s.together.cycles);
    case ChainStep::cut:
      return std::isfinite(s.together.omission_level) ? "below " + significant(s.together.omission_level, 3) + " µε"
                                                      : "";
    case ChainStep::chain: return std::to_string(set.levels) + " levels";
    case ChainStep::drive: return "block " + many(double(set.length));
  }
  return {};
}

std::vector<Figure> figures_of(const Spectrum& s, ChainStep step, size_t week) {
  if (s.weeks.empty() || s.together.ranges.empty()) return {};
  switch (step) {
    case ChainStep::raw: return {raw_figure(s)};
    case ChainStep::level: return {level_figure(s)};
    case ChainStep::smooth: return {smooth_figure(s)};
    case ChainStep::turn: return {turn_figure(s)};
    case ChainStep::count: return {one("count", "range over the share of cycles that are larger", exceedances(s))};
    case ChainStep::cut: return {cut_figure(s)};
    case ChainStep::chain: return {chain_figure(s, week)};
    case ChainStep::drive: return {drive_figure(s)};
  }
  return {};
}

}  // namespace fortitor::spectrum
