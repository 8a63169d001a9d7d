#include <cmath>
#include <cstdio>
#include <nlohmann/json.hpp>

#include "cli/commands.h"
#include "core/record/json.h"
#include "core/series/series.h"

namespace fortitor::cli {

int series(const std::vector<std::string>& files, const std::string& wanted, bool json) {
  std::vector<SeriesPiece> pieces;
  const Method* method = nullptr;
  std::string key = wanted;
  for (const std::string& file : files) {
    const auto record = load_record(file);
    if (!record) return bad_input(record.error().message);
    const Method* m = methods::find(record->method);
    if (method == nullptr) method = m;
    if (m != method) return bad_input(file + ": method: “" + m->id + "” where the first record is of " + method->id);
    if (key.empty()) key = m->series.key;
    if (!m->result(key)) return bad_input("--key: “" + key + "” is no result of " + m->id);
    pieces.push_back(series_piece(*record, methods::evaluate(*record, {.uncertainty = false}), key));
  }
  const SeriesReport r = series_report(*method, key, pieces);
  const Dimension d = r.spec.dimension;
  if (json) {
    using Json = nlohmann::ordered_json;
    auto number = [](double v) { return std::isfinite(v) ? Json(v) : Json(nullptr); };
    auto interval = [&](const std::optional<statistics::Interval>& i) {
      return i ? Json{i->low, i->high} : Json(nullptr);
    };
    Json j = {{"fortitor", "series/1"},
              {"method", method->id},
              {"key", key},
              {"unit", internal_symbol(d)},
              {"n", r.counted.n},
              {"void", r.voids},
              {"missing", r.missing},
              {"left_out", r.left_out},
              {"bounds", r.bounds},
              {"mean", number(r.counted.mean)},
              {"sd", number(r.counted.sd)},
              {"cv", number(r.counted.cv)},
              {"median", number(r.counted.median)},
              {"min", number(r.counted.least)},
              {"max", number(r.counted.most)},
              {"mean_interval", interval(r.counted.of_mean)},
              {"sd_interval", interval(r.counted.of_sd)},
              {"b_basis", r.b_basis != 0 ? Json(r.b_basis) : Json(nullptr)},
              {"normality_p", r.normality ? Json(r.normality->p) : Json(nullptr)}};
    j["outliers"] = Json::array();
    for (size_t i : r.outliers) j["outliers"].push_back(pieces[i].id);
    j["pieces"] = Json::array();
    for (const SeriesPiece& p : pieces)
      j["pieces"].push_back({{"specimen", p.id},
                             {"value", p.there ? number(p.value) : Json(nullptr)},
                             {"void", p.void_test},
                             {"left_out", p.left_out}});
    j["suspects"] = Json::array();
    for (const SuspectTest& t : r.suspects)
      j["suspects"].push_back({{"path", t.path},
                               {"ticked", t.ticked},
                               {"mean_ticked", number(t.mean_ticked)},
                               {"mean_unticked", number(t.mean_unticked)},
                               {"t", t.welch ? Json(t.welch->t) : Json(nullptr)},
                               {"p", t.welch ? Json(t.welch->p) : Json(nullptr)}});
    std::printf("%s\n", j.dump(1, ' ', false, Json::error_handler_t::replace).c_str());
    return 0;
  }
  std::printf("%s: %s, %zu pieces\n\n", method->name.c_str(), r.spec.name.c_str(), pieces.size());
  for (const SeriesPiece& p : pieces)
    std::printf("  %-12s %s%s%s\n", p.id.c_str(), p.there ? format_value(p.value, d, UnitSet::si, 4).c_str() : "–",
                p.void_test ? "  void" : "", p.left_out.empty() ? "" : ("  left out: " + p.left_out).c_str());
  std::printf("\n  n %zu   mean %s   s %s   CV %s %%\n", r.counted.n,
              format_value(r.counted.mean, d, UnitSet::si, 4).c_str(),
              format_value(r.counted.sd, d, UnitSet::si, 3).c_str(), significant(100 * r.counted.cv, 3).c_str());
  if (r.counted.of_mean)
    std::printf("  95 %% interval of the mean %s to %s\n",
                format_value(r.counted.of_mean->low, d, UnitSet::si, 4).c_str(),
                format_value(r.counted.of_mean->high, d, UnitSet::si, 4).c_str());
  for (const std::string& s : r.sentences) std::printf("%s\n", s.c_str());
  for (const SuspectTest& t : r.suspects) std::printf("%s\n", t.sentence.c_str());
  return 0;
}

}  // namespace fortitor::cli
