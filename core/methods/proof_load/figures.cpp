// The loops of the cycles and the destruction, with the loads that are told apart.
#include <algorithm>
#include <cmath>

#include "core/methods/proof_load/model.h"
#include "core/methods/support/figures.h"

namespace fortitor::proof {

using namespace ledger;
using D = Dimension;

namespace {

Trace loop_of(const Curve& c, std::string label, int tone, Dash dash) {
  Trace t;
  t.label = std::move(label);
  t.x = c.travel;
  t.y = c.force;
  t.tone = tone;
  t.dash = dash;
  return t;
}

Mark level_at(const char* key, const char* label, double force, Mark::Tone tone) {
  Mark m;
  m.kind = Mark::Kind::level;
  m.key = key;
  m.label = label;
  m.points = {{0, force}};
  m.value = force;
  m.dimension = Dimension::force;
  m.tone = tone;
  return m;
}

}  // namespace

void figures(Evaluation& e, const TestRecord&, const State& s, const Values& v) {
  if (!s.any()) return;
  Figure f;
  f.id = "proof";
  f.title = "loops and destruction";
  Panel whole;
  whole.name = "Loops";
  whole.x = {"displacement", D::length};
  whole.y = {"force", D::force};
  whole.weight = 2;
  Panel foot = whole;
  foot.name = "What did not come back";
  foot.caption = "what did not come back";
  foot.weight = 1;
  double left = HUGE_VAL, right = -HUGE_VAL;
  const double high = 0.3 * (s.proof > 0 ? s.proof : s.largest());
  for (size_t i = 0; i < s.cycles.size(); ++i) {
    const Curve& c = s.cycles[i].curve;
    const Dash dash = i == 0 ? Dash::solid : i == 1 ? Dash::dashed : Dash::dotted;
    whole.traces.push_back(loop_of(c, s.destruction ? "" : "cycle " + std::to_string(i + 1), int(i % 5) + 1, dash));
    foot.traces.push_back(loop_of(c, "", int(i % 5) + 1, dash));
    for (size_t k = 0; k < c.size(); ++k)
      if (c.force[k] <= 0.4 * high) left = std::min(left, c.travel[k]), right = std::max(right, c.travel[k]);
  }
  if (s.destruction) whole.traces.push_back(loop_of(*s.destruction, "destruction", 5, Dash::solid));
  // Rated load, proof load and breaking load are three different numbers.
  if (s.rated > 0) whole.marks.push_back(level_at("rated", "rated", s.rated, Mark::Tone::quiet));
  if (s.proof > 0) whole.marks.push_back(level_at("proof", "proof", s.proof, Mark::Tone::main));
  if (v.count(key::force_max))
    whole.marks.push_back(level_at(key::force_max, s.censored ? "stopped, at least" : "broke at",
                                   get(v, key::force_max), Mark::Tone::mark));
  if (s.fixture > 0) whole.marks.push_back(level_at("fixture", "fixture ends", s.fixture, Mark::Tone::limit));
  if (v.count(key::required)) {
    whole.marks.push_back(level_at(key::required, "rule", get(v, key::required), Mark::Tone::limit));
    whole.marks.back().on_demand = true;
  }
  if (v.count(key::elastic_limit_force)) {
    Mark m;
    m.key = key::elastic_limit_force;
    m.label = "leaves its line";
    m.points = {{s.elastic_at, get(v, key::elastic_limit_force)}};
    whole.marks.push_back(m);
    whole.handles.push_back(place_handle("settings.elastic_limit", m.points[0], D::force, "leaves its line", false));
  }
  f.panels.push_back(std::move(whole));
  if (right > left) {
    const double room = 0.15 * (right - left);
    foot.x.from = left - room;
    foot.x.to = right + room;
    foot.y.from = 0;
    foot.y.to = high;
    f.panels.push_back(std::move(foot));
  }
  e.figures.push_back(std::move(f));
}

}  // namespace fortitor::proof
