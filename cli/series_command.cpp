#include <cmath>
#include <cstdio>
#include <nlohmann/json.hpp>

#include "cli/commands.h"
#include "core/bench/records.h"
#include "core/methods/method.h"
#include "core/series/series.h"

namespace fortitor::cli {

int series(const std::vector<std::string>& files, const std::string& wanted, const std::string& by, bool json) {
  std::vector<TestRecord> records;
  const Method* method = nullptr;
  for (const std::string& file : files) {
    auto record = load_record(file);
    if (!record) return bad_input(record.error().message);
    const Method* m = methods::find(record->method);
    if (method == nullptr) method = m;
    if (m != method) return bad_input(file + ": method: “" + m->id + "” where the first record is of " + method->id);
    records.push_back(std::move(*record));
  }
  if (!wanted.empty() && !method->result(wanted))
    return bad_input("--key: “" + wanted + "” is no result of " + method->id);
  if (!by.empty() && by != "operator" && by != "series" && method->field(by) == nullptr)
    return bad_input("--by: “" + by + "” is no field of " + method->id);
  TestRecord settings;
  if (!by.empty()) settings.fields.set("settings.group_by", by);
  settings.series = records.front().series;
  if (!wanted.empty()) settings.fields.set("settings.result", wanted);
  std::vector<Evaluation> evaluations;
  for (const TestRecord& r : records) evaluations.push_back(methods::evaluate(r, {.uncertainty = false}));
  std::vector<SeriesPiece> pieces;
  for (size_t i = 0; i < records.size(); ++i)
    pieces.push_back({&records[i], &evaluations[i], by == "series" && records[i].series != settings.series ? records[i].series : ""});
  const std::string key = series_key(*method, settings, pieces);
  const Evaluation e = series_evaluate(*method, pieces, settings);
  const ResultSpec spec = *method->result(key);
  auto value = [&](const char* k) -> std::optional<double> {
    const ResultValue* r = e.find(k);
    return r != nullptr ? std::optional(r->value) : std::nullopt;
  };
  if (json) {
    using Json = nlohmann::ordered_json;
    auto number = [](std::optional<double> v) { return v && std::isfinite(*v) ? Json(*v) : Json(nullptr); };
    auto whole = [&](const char* k) { return Json(size_t(value(k).value_or(0))); };
    auto interval = [&](const char* low, const char* high) {
      return value(low) ? Json{*value(low), *value(high)} : Json(nullptr);
    };
    Json j = {{"fortitor", "series/1"},
              {"method", method->id},
              {"key", key},
              {"unit", internal_symbol(spec.dimension)},
              {"n", whole("n")},
              {"void", whole("void")},
              {"missing", whole("missing")},
              {"left_out", whole("left_out")},
              {"bounds", whole("bounds")},
              {"mean", number(value("mean"))},
              {"sd", number(value("sd"))},
              {"cv", number(value("cv"))},
              {"median", number(value("median"))},
              {"min", number(value("least"))},
              {"max", number(value("most"))},
              {"mean_interval", interval("mean_low", "mean_high")},
              {"sd_interval", interval("sd_low", "sd_high")},
              {"b_basis", number(value("b_basis"))},
              {"normality_p", number(value("normality_p"))},
              {"ml_mean", number(value("ml_mean"))},
              {"ml_sd", number(value("ml_sd"))}};
    j["outliers"] = Json::array();
    j["suspects"] = Json::array();
    for (const Finding& f : e.findings) {
      if (f.code == "outlier") j["outliers"].push_back(records[size_t(f.evidence.at("piece"))].specimen_id());
      if (f.code != "suspect") continue;
      auto of = [&](const char* k) { return f.evidence.count(k) ? number(f.evidence.at(k)) : Json(nullptr); };
      j["suspects"].push_back({{"path", f.result_key},
                               {"ticked", size_t(f.evidence.at("ticked"))},
                               {"mean_ticked", of("mean_ticked")},
                               {"mean_unticked", of("mean_unticked")},
                               {"t", of("t")},
                               {"p", of("p")}});
    }
    if (!by.empty()) j["groups"] = Json::array();
    for (size_t g = 1; !by.empty() && e.find("group_" + std::to_string(g)) != nullptr; ++g) {
      const std::string of = "group_" + std::to_string(g);
      auto part = [&](const char* what) { return number(value((of + what).c_str())); };
      j["groups"].push_back({{"name", e.find(of)->spec.name}, {"n", part("_n")}, {"mean", part("_mean")}, {"sd", part("_sd")},
                             {"lowest", part("_least")}, {"price_per_kn", part("_price_per_kn")}});
    }
    j["pieces"] = Json::array();
    for (const SeriesPiece& p : pieces) {
      const ResultValue* r = p.evaluation->find(key);
      Json censored = nullptr;
      if (r != nullptr && r->censored)
        censored = r->censored->above ? Json("above") : Json{{"from", r->censored->from}, {"to", r->censored->to}};
      j["pieces"].push_back({{"specimen", p.record->specimen_id()},
                             {"value", number(r != nullptr && !r->is_text() ? std::optional(r->value) : std::nullopt)},
                             {"censored", censored},
                             {"void", p.evaluation->verdict == Verdict::void_test},
                             {"left_out", p.record->fields.text("settings.series.left_out")}});
    }
    std::printf("%s\n", j.dump(1, ' ', false, Json::error_handler_t::replace).c_str());
    return 0;
  }
  std::printf("%s: %s, %zu pieces\n\n", method->name.c_str(), spec.name.c_str(), pieces.size());
  for (const SeriesPiece& p : pieces) {
    const std::string out = p.record->fields.text("settings.series.left_out");
    std::printf("  %-12s %s%s%s\n", p.record->specimen_id().c_str(), piece_words(p, key, UnitSet::si).c_str(),
                p.evaluation->verdict == Verdict::void_test ? "  void" : "",
                out.empty() ? "" : ("  left out: " + out).c_str());
  }
  std::printf("\n");
  for (const ResultValue& r : e.results)
    if (r.is_text())
      std::printf("  %-44s %s\n", r.spec.name.c_str(), r.text.c_str());
    else if (r.value != 0 || r.spec.headline)
      std::printf("  %-44s %s\n", r.spec.name.c_str(),
                  format_value(r.value, r.spec.dimension, UnitSet::si, r.spec.figures).c_str());
  for (const Finding& f : e.findings) std::printf("%s\n", f.message.c_str());
  return 0;
}

}  // namespace fortitor::cli
