// Two people reading the same indents: bias and scatter of the eye.
#include <cmath>

#include "core/methods/hardness_vickers/model.h"

namespace fortitor::vickers {

Readers readers_of(const State& s) {
  Readers out;
  for (const indents::Indent& i : s.set.all) {
    if (!i.counts || i.row >= s.second.size() || !std::isfinite(s.second[i.row])) continue;
    out.difference.push_back(s.second[i.row] - i.hardness);
    out.row.push_back(i.row);
  }
  return out;
}

double Readers::bias() const {
  double sum = 0;
  for (double d : difference) sum += d;
  return difference.empty() ? NAN : sum / double(difference.size());
}

double Readers::scatter() const {
  if (difference.size() < 2) return NAN;
  double sum = 0;
  for (double d : difference) sum += (d - bias()) * (d - bias());
  return std::sqrt(sum / double(difference.size() - 1));
}

Figure figure_of(const Readers& readers) {
  Figure f;
  f.id = "readers";
  f.title = "Two readers";
  Panel p;
  p.name = f.title;
  p.caption = "second reader less first, indent by indent";
  p.x = {"indent", Dimension::none, Axis::Scale::category};
  p.y = {"ΔHV", Dimension::none};
  Trace t;
  t.kind = Trace::Kind::points;
  t.marker = Marker::diamond;
  for (size_t i = 0; i < readers.difference.size(); ++i) {
    p.x.categories.push_back(std::to_string(readers.row[i] + 1));
    t.x.push_back(double(i));
    t.y.push_back(readers.difference[i]);
  }
  p.traces.push_back(std::move(t));
  const double bias = readers.bias(), s = readers.scatter();
  for (const auto& [label, at, tone] : {std::tuple{"bias", bias, Mark::Tone::main},
                                        {"+ s", bias + s, Mark::Tone::quiet},
                                        {"− s", bias - s, Mark::Tone::quiet}}) {
    Mark m;
    m.kind = Mark::Kind::level;
    m.key = key::reader_bias;
    m.label = label;
    m.points = {{0, at}};
    m.tone = tone;
    p.marks.push_back(m);
  }
  f.panels.push_back(std::move(p));
  return f;
}

}  // namespace fortitor::vickers
