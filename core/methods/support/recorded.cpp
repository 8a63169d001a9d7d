#include "core/methods/support/recorded.h"

#include <algorithm>
#include <initializer_list>
#include <string>

#include "core/figure/thin.h"
#include "core/record/record.h"

namespace fortitor {
namespace {

const Channel* first_of(const Samples& samples, std::initializer_list<const char*> names) {
  for (const char* name : names)
    if (const Channel* c = samples.find(name)) return c;
  return nullptr;
}

Axis axis_of(const Schema& schema, const std::string& part, const std::string& channel) {
  const auto named =
      std::find_if(schema.segments.begin(), schema.segments.end(), [&](const SegmentSpec& s) { return s.id == part; });
  for (const ChannelSpec& c : named != schema.segments.end() ? named->channels : schema.channels)
    if (c.name == channel) return {c.label, c.dimension};
  return {channel};
}

}  // namespace

Figure recorded_figure(const TestRecord& record, const Schema& schema) {
  Figure f;
  Panel panel;
  std::string over, load;
  for (const Segment& segment : record.run.segments) {
    if (!segment.samples || segment.samples->size() < 2) continue;
    const Channel* x =
        first_of(*segment.samples, {"extension", "strain", "displacement", "deflection", "crosshead", "angle", "time"});
    const Channel* y = first_of(*segment.samples, {"force", "torque"});
    // Parts on one panel share its axes: what was recorded otherwise is left to its own part.
    if (x == nullptr || y == nullptr || (!over.empty() && (x->name != over || y->name != load))) continue;
    over = x->name;
    load = y->name;
    panel.x = axis_of(schema, segment.name, over);
    panel.y = axis_of(schema, segment.name, load);
    Trace t;
    const auto n = std::ptrdiff_t(std::min(x->values.size(), y->values.size()));
    t.x.assign(x->values.begin(), x->values.begin() + n);
    t.y.assign(y->values.begin(), y->values.begin() + n);
    panel.traces.push_back(std::move(t));
  }
  if (panel.traces.empty()) return f;
  panel.name = "Curve";
  panel.caption = "as it was recorded";
  f.id = "recorded";
  f.title = "as it was recorded";
  f.raw = true;
  f.panels.push_back(std::move(panel));
  figure::thin(f);
  return f;
}

}  // namespace fortitor
