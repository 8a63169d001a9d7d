#include <array>
#include <stdexcept>

#include "core/evaluation/judge.h"
#include "core/figure/thin.h"
#include "core/methods/compression_after_impact/compression_after_impact.h"
#include "core/methods/compression_solid/compression_solid.h"
#include "core/methods/crush_shell/crush_shell.h"
#include "core/methods/density/density.h"
#include "core/methods/drop_impact/drop_impact.h"
#include "core/methods/fatigue_constant/fatigue_constant.h"
#include "core/methods/flatwise_tension/flatwise_tension.h"
#include "core/methods/flexure_beam/flexure_beam.h"
#include "core/methods/guard.h"
#include "core/methods/hardness_brinell/hardness_brinell.h"
#include "core/methods/hardness_knoop/hardness_knoop.h"
#include "core/methods/hardness_rockwell/hardness_rockwell.h"
#include "core/methods/hardness_vickers/hardness_vickers.h"
#include "core/methods/impact_pendulum/impact_pendulum.h"
#include "core/methods/impact_tension/impact_tension.h"
#include "core/methods/method.h"
#include "core/methods/poisson_gauge/poisson_gauge.h"
#include "core/methods/proof_load/proof_load.h"
#include "core/methods/support/equipment.h"
#include "core/methods/support/possible.h"
#include "core/methods/support/recorded.h"
#include "core/methods/support/recording.h"
#include "core/methods/tension_composite/tension_composite.h"
#include "core/methods/tension_metal/tension_metal.h"
#include "core/methods/tension_plastic/tension_plastic.h"
#include "core/methods/torsion_bar/torsion_bar.h"
#include "core/record/rules.h"
#include "core/reference/library.h"

namespace fortitor {

Dimension EquipmentSlot::rated_in() const {
  for (const FieldSpec& f : fields)
    if (f.path == rating) return f.dimension;
  return Dimension::none;
}

const EquipmentSlot* Method::slot(const std::string& wanted) const {
  for (const EquipmentSlot& s : equipment)
    if (s.id == wanted) return &s;
  return nullptr;
}

std::string day_of_test(const TestRecord& record, const std::string& today) {
  const std::string day = record.tested_at.substr(0, 10);
  return is_day(day) ? day : record.has_run() ? std::string() : today;
}

namespace methods {

std::span<const Method* const> all() {
  static const std::array list = {&tension_metal(),     &tension_plastic(),   &tension_composite(),
                                  &compression_solid(), &crush_shell(),       &poisson_gauge(),
                                  &flatwise_tension(),  &flexure_beam(),      &torsion_bar(),
                                  &density(),           &hardness_rockwell(), &hardness_brinell(),
                                  &hardness_vickers(),  &hardness_knoop(),    &impact_pendulum(),
                                  &impact_tension(),    &drop_impact(),       &compression_after_impact(),
                                  &proof_load(),        &fatigue_constant()};
  return list;
}

const Method* find(const std::string& id) {
  for (const Method* m : all())
    if (m->id == id) return m;
  return nullptr;
}

Evaluation evaluate(const TestRecord& record, const EvaluateOptions& options) {
  const Method* method = find(record.method);
  if (method == nullptr) throw std::logic_error("no method " + record.method);
  if (options.shelf && options.shelf != record.shelf) {
    TestRecord beside = record;
    beside.shelf = options.shelf;
    return evaluate(beside, options);
  }
  if (record.faults.empty()) return guarded(*method, record, options);
  // What a stored record should not hold is no ground to compute on, and no silence either.
  Evaluation e = guarded(*method, without_faults(record, record.faults), options);
  std::vector<Finding> found;
  for (const RecordFault& f : record.faults)
    found.push_back(
        {"entry-refused",
         Severity::check,
         f.message + ". The entry was stored all the same; nothing is computed from it. Type it again, or clear it.",
         {},
         {},
         {},
         {}});
  e.findings.insert(e.findings.begin(), found.begin(), found.end());
  return e;
}

Evaluation guarded(const Method& method, const TestRecord& record, const EvaluateOptions& options) {
  Evaluation e;
  try {
    std::vector<Spike> spikes;
    e = method.evaluate(without_spikes(record, spikes), options);
    spike_findings(e, record, method, spikes);
    recording_findings(e, record, method);
    possible::judge(e, record, method);
    equipment::judge_calibration(e, record, method.equipment, options.today);
    for (Figure& f : e.figures) figure::thin(f);
  } catch (const std::exception& fault) {
    e = {};
    e.findings.push_back({"evaluation-failed",
                          Severity::void_test,
                          std::string("The evaluation failed (") + fault.what() +
                              "): nothing is computed. The record is kept; please report it with this piece.",
                          {},
                          {},
                          {},
                          {}});
  }
  if (e.figures.empty())
    if (Figure recorded = recorded_figure(record, method); !recorded.empty()) e.figures.push_back(std::move(recorded));
  e.method = record.method;
  e.specimen = record.specimen_id();
  e.usual = used_of(record);
  judge(e, record);
  share_units(e);
  // Every other choice is judged as the reported one is.
  for (Alternative& a : e.alternatives)
    for (const auto& [key, value] : a.values) {
      const ResultValue* reported = e.find(key);
      if (reported == nullptr || (!reported->limit.min && !reported->limit.max)) continue;
      ResultValue other = *reported;
      other.value = value;
      judge_result(other, decision_of(record.fields));
      a.verdicts[key] = other.verdict;
    }
  return e;
}

}  // namespace methods
}  // namespace fortitor
