#include "core/figure/beneath.h"

#include <algorithm>

namespace fortitor::figure {

bool lay_beneath(Figure& into, const Figure& other, const std::string& name, int tone) {
  bool any = false;
  for (size_t i = 0; i < std::min(into.panels.size(), other.panels.size()); ++i) {
    Panel& panel = into.panels[i];
    const Panel& from = other.panels[i];
    if (panel.x.dimension != from.x.dimension || panel.y.dimension != from.y.dimension ||
        panel.x.scale != from.x.scale || panel.y.scale != from.y.scale || panel.x.categories != from.x.categories)
      continue;
    std::vector<Trace> beneath = from.traces;
    bool named = false;
    for (Trace& t : beneath) {
      t.label = named ? std::string() : name;
      named = true;
      t.tone = tone;
      t.weight = std::min(t.weight, 1.5);
      t.flags.clear();
      t.names.clear();
    }
    any = any || !beneath.empty();
    panel.traces.insert(panel.traces.begin(), beneath.begin(), beneath.end());
    // Both are to be seen whole.
    const auto wider = [](std::optional<double>& a, const std::optional<double>& b, bool upper) {
      if (a && b) a = upper ? std::max(*a, *b) : std::min(*a, *b);
    };
    wider(panel.x.to, from.x.to, true);
    wider(panel.y.to, from.y.to, true);
    wider(panel.x.from, from.x.from, false);
    wider(panel.y.from, from.y.from, false);
  }
  if (any) into.linked = false;  // the first traces are no longer one run
  return any;
}

}  // namespace fortitor::figure
