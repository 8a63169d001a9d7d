#include "core/figure/wording.h"

namespace fortitor::figure {

Figure worded(Figure f, const std::function<std::string(const std::string&)>& say) {
  const auto turn = [&](std::string& words) {
    if (!words.empty()) words = say(words);
  };
  turn(f.title);
  for (Panel& p : f.panels) {
    turn(p.name);
    turn(p.caption);
    for (Axis* a : {&p.x, &p.y}) {
      turn(a->name);
      for (std::string& one : a->categories) turn(one);
    }
    for (Trace& t : p.traces) {
      turn(t.label);
      for (auto& [at, words] : t.flags) turn(words);
      for (std::string& one : t.names) turn(one);
    }
    for (Mark& m : p.marks) turn(m.label);
  }
  return f;
}

}  // namespace fortitor::figure
