// A spectrum in words of the open record: its evaluation, each week's, the study of block lengths and the drive.

#include "core/evaluation/evaluation_json.h"
#include "core/json/json.h"
#include "core/spectrum/spectrum.h"

namespace fortitor::spectrum {

std::string to_json(const Spectrum& s, const TestRecord& record) {
  auto written = [](const Evaluation& e, const Fields& f) {
    Json j = Json::parse(evaluation_to_json(e, f, -1));
    for (size_t i = 0; i < e.results.size(); ++i) {
      if (e.results[i].spec.dimension != Dimension::microstrain) continue;
      j["results"][i]["value"] = e.results[i].value * 1e6;
      j["results"][i]["unit"] = "µε";
      if (Json& u = j["results"][i]["expanded_uncertainty"]; u.is_number()) u = u.get<double>() * 1e6;
      for (Json& term : j["results"][i]["budget"]) term["contribution"] = term["contribution"].get<double>() * 1e6;
      for (Json& step : j["results"][i]["how"]) {
        if (step["value"].is_number()) step["value"] = step["value"].get<double>() * 1e6;
        step["unit"] = "µε";
      }
    }
    return j;
  };
  Json j = written(evaluation_of(s, record), record.fields);
  j["weeks"] = Json::array();
  for (const Week& w : s.weeks) {
    Json week = written(evaluation_of_week(s, w), record.fields);
    week["name"] = w.name;
    week["samples"] = w.raw.samples;
    week["missing"] = w.raw.missing;
    week["gaps"] = w.raw.gap_count;
    week["spikes"] = w.smooth.spike_count;
    week["stuck"] = w.smooth.stuck_samples;
    for (const char* key : {"fortitor", "method", "specimen", "verdict", "findings"}) week.erase(key);
    j["weeks"].push_back(std::move(week));
  }
  if (!s.study.empty()) {
    j["block_lengths"] = Json::array();
    for (const BlockLength& b : s.study)
      j["block_lengths"].push_back({{"length", b.length},
                                    {"mean", b.mean},
                                    {"least", b.least},
                                    {"largest", b.largest},
                                    {"within", b.within},
                                    {"of", b.of}});
  }
  if (!s.drive.values.empty())
    j["drive"] = {{"transitions", s.drive.values.size() - 1},
                  {"seed", s.settings.seed},
                  {"damage_per_transition", s.drive.damage_per_transition},
                  {"source_per_transition", s.drive.source_per_transition},
                  {"irregularity", s.drive.irregularity},
                  {"source_irregularity", s.drive.source_irregularity}};
  return j.dump(1);
}

}  // namespace fortitor::spectrum
