#include <cmath>
#include <cstdio>

#include "cli/commands.h"
#include "core/bench/records.h"
#include "core/evaluation/evaluation_json.h"
#include "core/json/json.h"
#include "core/methods/method.h"
#include "core/quantity/plain.h"
#include "core/series/series.h"

namespace fortitor::cli {

namespace {

Json number(std::optional<double> v) {
  return v && std::isfinite(*v) ? Json(*v) : Json(nullptr);
}

// What groups say against one another.
Json comparison(const Evaluation& e, const std::vector<std::string>& names) {
  Json j = Json::object();
  for (const char* key : {"difference", "difference_low", "difference_high", "welch_t", "welch_dof", "welch_p",
                          "mann_whitney_p", "equivalence_p", "anova_f", "anova_p", "likelihood_chi2", "likelihood_p"})
    if (const ResultValue* r = e.find(key)) j[key] = number(r->value);
  auto column = [&](const char* key) -> const std::vector<double>* {
    for (const RowValue& r : e.row_values)
      if (r.table == "pairs" && r.key == key) return &r.values;
    return nullptr;
  };
  const auto first = column("first"), second = column("second");
  if (first == nullptr || second == nullptr) return j;
  j["pairs"] = Json::array();
  for (size_t i = 0; i < first->size(); ++i)
    j["pairs"].push_back({{"first", names[size_t((*first)[i])]},
                          {"second", names[size_t((*second)[i])]},
                          {"difference", (*column("difference"))[i]},
                          {"low", (*column("low"))[i]},
                          {"high", (*column("high"))[i]},
                          {"p", (*column("p"))[i]}});
  return j;
}

}  // namespace

int series(const SeriesOptions& options) {
  const auto& [files, wanted, by, against, margin, interval, over, json] = options;
  std::vector<TestRecord> records;
  const Method* method = nullptr;
  std::vector<std::string> named = files;
  named.insert(named.end(), over.begin(), over.end());
  for (const std::string& file : named) {
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
  if (!against.empty() && !method->result(against))
    return bad_input("--against: “" + against + "” is no result of " + method->id);
  TestRecord settings;
  for (const auto& [path, typed] :
       {std::pair{"settings.against", against}, {"settings.margin", margin}, {"settings.interval", interval}})
    if (!typed.empty()) settings.fields.set(path, typed);
  if (!by.empty()) settings.fields.set("settings.group_by", by);
  if (!over.empty()) settings.fields.set("settings.over", std::string("book"));
  settings.series = records.front().series;
  if (!wanted.empty()) settings.fields.set("settings.result", wanted);
  std::vector<Evaluation> evaluations;
  for (TestRecord& r : records) {
    evaluations.push_back(methods::evaluate(r, {.uncertainty = false, .shelf = shelf()}));
    keep_curve(evaluations.back());
    r.run.drop_samples();
  }
  std::vector<SeriesPiece> pieces;
  for (size_t i = 0; i < files.size(); ++i)
    pieces.push_back({&records[i], &evaluations[i],
                      by == "series" && records[i].series != settings.series ? records[i].series : ""});
  for (size_t i = files.size(); i < records.size(); ++i)
    pieces.push_back({&records[i], &evaluations[i], "elsewhere", SeriesPiece::For::time});
  const std::string key = series_key(*method, settings, pieces);
  const Evaluation e = series_evaluate(*method, pieces, settings);
  pieces.resize(files.size());  // the others have no lines of their own
  const ResultSpec spec = *method->result(key);
  auto value = [&](const char* k) -> std::optional<double> {
    const ResultValue* r = e.find(k);
    return r != nullptr ? std::optional(r->value) : std::nullopt;
  };
  if (const Finding* f = e.finding("width-unread"))
    return bad_input(std::string(f->result_key == "settings.margin" ? "--margin: " : "--interval: ") + f->message);
  if (json) {
    auto whole = [&](const char* k) { return Json(size_t(value(k).value_or(0))); };
    auto ends = [&](const char* low, const char* high) {
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
              {"mean_interval", ends("mean_low", "mean_high")},
              {"sd_interval", ends("sd_low", "sd_high")},
              {"a_basis", number(value("a_basis"))},
              {"b_basis", number(value("b_basis"))},
              {"normality_p", number(value("normality_p"))},
              {"weibull_shape", number(value("weibull_shape"))},
              {"weibull_scale", number(value("weibull_scale"))},
              {"weibull_p", number(value("weibull_p"))},
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
    if (value("pieces_wanted")) j["pieces_wanted"] = whole("pieces_wanted");
    if (value("chart_low"))
      j["chart"] = {{"low", number(value("chart_low"))},
                    {"high", number(value("chart_high"))},
                    {"range_high", number(value("chart_range_high"))}};
    if (value("relation_slope"))
      j["relation"] = {{"against", against},
                       {"n", whole("relation_n")},
                       {"slope", number(value("relation_slope"))},
                       {"slope_error", number(value("relation_slope_error"))},
                       {"intercept", number(value("relation_intercept"))},
                       {"r2", number(value("relation_r2"))},
                       {"residual_sd", number(value("relation_sd"))},
                       {"p", number(value("relation_p"))}};
    std::vector<std::string> names;
    if (!by.empty()) j["groups"] = Json::array();
    for (size_t g = 1; !by.empty() && e.find("group_" + std::to_string(g)) != nullptr; ++g) {
      const std::string of = "group_" + std::to_string(g);
      auto part = [&](const char* what) { return number(value((of + what).c_str())); };
      // All that is known of the group, by the keys of the method where it judges a series as a whole.
      Json own = Json::object();
      for (const ResultValue& r : e.results)
        if (!r.is_text() && r.spec.key.rfind(of + "_", 0) == 0)
          own[r.spec.key.substr(of.size() + 1)] = {
              {"value", number(r.value)},
              {"unit", internal_symbol(r.spec.dimension)},
              {"expanded_uncertainty", r.standard_uncertainty > 0 ? number(r.expanded()) : Json(nullptr)},
              {"censored", !r.censored         ? Json(nullptr)
                           : r.censored->above ? Json("above")
                                               : Json{{"from", r.censored->from}, {"to", r.censored->to}}}};
      names.push_back(e.find(of)->spec.name);
      j["groups"].push_back({{"name", e.find(of)->spec.name},
                             {"n", part("_n")},
                             {"mean", part("_mean")},
                             {"sd", part("_sd")},
                             {"lowest", part("_least")},
                             {"lowest_is_bound", e.find(of + "_least") != nullptr && e.find(of + "_least")->censored},
                             {"bounds", size_t(value((of + "_bounds").c_str()).value_or(0))},
                             {"mean_by", value((of + "_bounds").c_str()).value_or(0) > 0 ? "likelihood" : "values"},
                             {"price_per_kn", part("_price_per_kn")},
                             {"results", own}});
    }
    if (names.size() > 1) j["comparison"] = comparison(e, names);
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
    // All that was computed, a transition or an S–N line included, as in an evaluation.
    const Json whole_evaluation = Json::parse(evaluation_to_json(e, settings.fields, -1));
    j["results"] = whole_evaluation["results"];
    j["findings"] = whole_evaluation["findings"];
    std::printf("%s\n", j.dump(1).c_str());
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
    else if (r.spec.dimension == Dimension::none && r.spec.figures == 6) {  // a count
      if (r.value != 0 || r.spec.key == "n")
        std::printf("  %-44s %s\n", r.spec.name.c_str(), plain::fixed(r.value, 0).c_str());
    } else if (r.value != 0 || r.spec.headline)
      std::printf("  %-44s %s\n", r.spec.name.c_str(),
                  format_value(r.value, r.spec.dimension, UnitSet::si, r.spec.figures).c_str());
  for (const Finding& f : e.findings) std::printf("%s\n", f.message.c_str());
  return 0;
}

}  // namespace fortitor::cli
