#include <cmath>

#include "core/methods/flexure_beam/flexure_beam.h"
#include "core/methods/flexure_beam/model.h"
#include "core/methods/support/skeleton.h"

namespace fortitor::flexure {
namespace {

// What is known of the largest load holds for every result that is proportional to it.
void add_words(Evaluation& e, const TestRecord& record, const Bending& b, const Values&) {
  limit_bound(e, record, b.path, b.limit, {key::pl_stress, key::pl_force, key::pl_deflection});
  if (!b.censored) return;
  for (const char* key : {key::max_force, key::mor, key::mor_12, key::mor_ratio, key::work_to_max}) {
    ResultValue* r = e.find(key);
    if (r == nullptr) continue;
    const double scale = r->value / b.max_force;
    const bool work = std::string(key) == key::work_to_max;  // counted to the last reading only
    r->censored = b.censored->above || work ? Censoring{true, 0, 0}
                                            : Censoring{false, b.censored->from * scale, b.censored->to * scale};
  }
}

}  // namespace
}  // namespace fortitor::flexure

namespace fortitor::methods {

const Method& flexure_beam() {
  static const Method method = [] {
    Parts<flexure::Bending> parts;
    parts.describe = flexure::describe;
    parts.results = flexure::specs;
    parts.look = flexure::bending_of;
    parts.compute = flexure::compute;
    parts.how = flexure::how;
    parts.inputs = flexure::add_inputs;
    parts.words = flexure::add_words;
    parts.findings = flexure::add_findings;
    parts.figures = flexure::add_figures;
    parts.alternatives = flexure::add_alternatives;
    parts.plan = flexure::plan;
    parts.doubted = {flexure::key::moe, flexure::key::pl_force};
    return method_of("flexure-beam", "ISO 178, ISO 13061-3/-4, ASTM D143", parts);
  }();
  return method;
}

}  // namespace fortitor::methods
