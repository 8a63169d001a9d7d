#include "core/series/series.h"

#include <algorithm>
#include <cmath>
#include <set>

#include "core/bench/common.h"
#include "core/evaluation/judge.h"
#include "core/methods/support/ledger.h"
#include "core/quantity/parse.h"
#include "core/record/json.h"
#include "core/record/words.h"
#include "core/series/groups.h"
#include "core/series/limits.h"
#include "core/series/pictures.h"
#include "core/series/statistics_of.h"
#include "core/statistics/relation.h"

namespace fortitor {
namespace {

using D = Dimension;
using ledger::raise;
using series::count;
using series::shown;

Values values_of(const series::Numbers& r) {
  Values v;
  const statistics::Summary& s = r.counted;
  v["n"] = double(s.n);
  v["void"] = double(r.voids);
  v["missing"] = double(r.missing);
  v["left_out"] = double(r.left_out);
  v["bounds"] = double(r.bounds);
  ledger::put(v, "least", r.lowest);
  ledger::put(v, "most", r.highest);
  if (r.bounds == 0) {
    if (s.n > 0) v["mean"] = s.mean, v["median"] = s.median;
    if (s.n > 1) {
      v["sd"] = s.sd;
      ledger::put(v, "cv", s.cv);
    }
    if (s.of_mean) v["mean_low"] = s.of_mean->low, v["mean_high"] = s.of_mean->high;
    if (s.of_sd) v["sd_low"] = s.of_sd->low, v["sd_high"] = s.of_sd->high;
  } else if (r.likelihood) {
    // The measured ones alone are the weakest: what is said of the series takes the bounds as bounds.
    v["mean"] = r.likelihood->mean;
    v["sd"] = r.likelihood->sd;
    ledger::put(v, "cv", r.likelihood->sd / r.likelihood->mean);
  }
  if (r.basis && r.basis->a) v["a_basis"] = *r.basis->a;
  if (r.basis && r.basis->b) v["b_basis"] = *r.basis->b;
  if (r.weibull) {
    v["weibull_shape"] = r.weibull->shape;
    v["weibull_scale"] = r.weibull->scale;
    ledger::put(v, "weibull_p", r.weibull->p);
  }
  if (r.normality) v["normality_p"] = r.normality->p;
  if (r.likelihood) v["ml_mean"] = r.likelihood->mean, v["ml_sd"] = r.likelihood->sd;
  return v;
}

std::vector<Step> how(const std::string& key, const series::Numbers& r, const Values& v) {
  const double value = v.at(key);
  const D d = r.spec.dimension;
  const std::string n = count(r.counted.n, " piece", " pieces");
  auto step = [&](const char* expression, std::string with, const char* source, D dimension) {
    return std::vector<Step>{{expression, std::move(with), value, dimension, source}};
  };
  if (r.bounds > 0 && (key == "mean" || key == "sd"))
    return step("maximum likelihood of a normal", n + " and " + count(r.bounds, " bound", " bounds"),
                "Dempster, Laird and Rubin 1977", d);
  if (key == "least" || key == "most") return step("of all that count", n, r.bounds > 0 ? "bounds among them" : "", d);
  if (key == "mean") return step("x̄ = Σx/n", n, "", d);
  if (key == "sd") return step("s = √(Σ(x − x̄)²/(n − 1))", n, "", d);
  if (key == "cv")
    return step("CV = s/x̄", shown(v.at("sd"), r.spec) + " / " + shown(v.at("mean"), r.spec), "", D::elongation);
  if (key == "mean_low" || key == "mean_high") return step("x̄ ± t(0.975, n − 1)·s/√n", n, "Student's t", d);
  if (key == "sd_low" || key == "sd_high") return step("s·√((n − 1)/χ²)", n, "χ² interval", d);
  if (key == "a_basis" || key == "b_basis") {
    const std::string& formula = key == "a_basis" ? r.basis->how_a : r.basis->how_b;
    return step(formula.substr(0, formula.find(',')).c_str(),
                formula.find(',') == std::string::npos ? n : formula.substr(formula.find(',') + 2) + ", " + n,
                r.basis->source.c_str(), d);
  }
  if (key == "weibull_shape" || key == "weibull_scale" || key == "weibull_p")
    return step(key == "weibull_p" ? "A² against the Weibull" : "maximum likelihood of a Weibull", n, "CMH-17, 8.3",
                key == "weibull_scale" ? d : D::none);
  if (key == "ml_mean" || key == "ml_sd")
    return step("maximum likelihood of a normal", n + " and " + count(r.bounds, " bound", " bounds"),
                "Dempster, Laird and Rubin 1977", d);
  if (key == "normality_p") return step("A² against a normal", n, "Stephens 1974, case 3", D::none);
  return {};
}

// "20 MPa", or "5 %" of the mean; what cannot be read is said.
std::optional<double> typed_width(Evaluation& e, const TestRecord& settings, const std::string& path,
                                  const series::Numbers& numbers) {
  const std::string typed = settings.fields.text(path);
  if (typed.empty() || numbers.counted.n == 0) return std::nullopt;
  const ResultSpec& of = numbers.spec;
  std::optional<double> half;
  std::string why;
  if (typed.find('%') != std::string::npos && of.dimension != D::elongation) {
    if (const auto share = parse_quantity(typed, D::elongation))
      half = share->value * std::abs(numbers.counted.mean);
    else
      why = share.error().message;
  } else if (const auto q = parse_quantity(typed, of.dimension)) {
    half = q->value;
  } else {
    why = q.error().message;
  }
  if (half && *half > 0) return half;
  raise(e, "width-unread", Severity::note,
        "“" + typed + "”: " +
            (why.empty()         ? std::string("more than nothing is expected.")
             : why.back() == '.' ? why
                                 : why + "."),
        {}, {}, path);
  return std::nullopt;
}

}  // namespace

Schema series_schema(const Method& method) {
  Schema s;
  s.id = "series/" + method.id;
  const auto field = [](const char* path, FieldKind kind = FieldKind::text) {
    FieldSpec f;
    f.path = path;
    f.kind = kind;
    f.stage = Stage::evaluate;
    return f;
  };
  FieldSpec over = field("settings.over", FieldKind::choice);
  over.choices = {{"series", {}}, {"book", {}}};
  over.first_is_usual = true;
  s.fields = {field("settings.result"), field("settings.group_by"), field("settings.against"),
              field("settings.margin"), field("settings.interval"), over};
  for (FieldSpec& f : s.fields) say(f, Words::shared().series.at(f.path));
  s.fields.insert(s.fields.end(), method.series.fields.begin(), method.series.fields.end());
  // What is typed once for all pieces stands here too.
  for (const FieldSpec* f : common::fields_of(method)) s.fields.push_back(*f);
  s.limit_dimension = [of_pieces = method.limit_dimension, by = series::limited_in(method)](const std::string& limit) {
    if (of_pieces)
      if (const auto d = of_pieces(limit)) return std::optional<Dimension>(d);
    const auto spec = series::limited(by, limit);
    return spec ? std::optional<Dimension>(spec->dimension) : std::nullopt;
  };
  return s;
}

std::string series_key(const Method& method, const TestRecord& settings, const std::vector<SeriesPiece>& pieces) {
  const std::string chosen = settings.fields.text("settings.result");
  if (!chosen.empty() && method.result(chosen)) return chosen;
  auto any_has = [&](const std::string& key) {
    return std::any_of(pieces.begin(), pieces.end(),
                       [&](const SeriesPiece& p) { return p.evaluation->find(key) != nullptr; });
  };
  if (any_has(method.series.key)) return method.series.key;
  for (const std::string& key : method.limit_keys)
    if (any_has(key)) return key;
  return method.series.key;
}

std::vector<Choice> series_groupings(const Method& method, const std::vector<SeriesPiece>& pieces) {
  return series::groupings(method, pieces);
}

Outcome<TestRecord> series_settings_from_json(const Method& method, std::string_view json, bool stored) {
  const Schema schema = series_schema(method);
  return (stored ? read_stored_record : read_record)(
      json, [&](const std::string& id) { return id == schema.id ? &schema : nullptr; });
}

std::string series_settings_to_json(const Method& method, const TestRecord& settings) {
  TestRecord r = settings;
  r.method = "series/" + method.id;
  return write_record(r, series_schema(method), -1);
}

Evaluation series_evaluate(const Method& method, const std::vector<SeriesPiece>& all, const TestRecord& settings) {
  Evaluation e;
  std::vector<SeriesPiece> pieces;  // of the series itself: the others stand beside it in groups only
  for (const SeriesPiece& p : all)
    if (p.beside.empty()) pieces.push_back(p);
  if (method.series.evaluate) {
    e = method.series.evaluate(pieces, settings);
    if (const std::string by = settings.fields.text("settings.group_by"); !e.results.empty() && !by.empty()) {
      std::vector<SeriesPiece> grouped = all;
      std::erase_if(grouped, [&](const SeriesPiece& p) {
        return by == series::kBySeries ? p.there_for == SeriesPiece::For::time : !p.beside.empty();
      });
      series::add_wholes(e, method, grouped, settings, by);
    }
    if (!e.results.empty()) {
      TestRecord whole = settings;
      whole.limits = series::limits_of_whole(method, settings);  // the others are those of the pieces
      judge(e, whole);
      return e;
    }  // else too little for it yet: the statistics of one result, and why
  }
  e.method = method.id;
  e.specimen = settings.series;
  const std::string key = series_key(method, settings, pieces);
  const auto spec = method.result(key);
  if (!spec) return e;
  const series::Numbers numbers = series::numbers_of(method, *spec, pieces);
  const Values values = values_of(numbers);
  ledger::add_results(e, series::statistics_of(*spec), values,
                      [&](const std::string& k) { return how(k, numbers, values); });
  if (ResultValue* r = e.find("mean"); r != nullptr && numbers.bounds == 0 && numbers.counted.n > 1) {
    // What guards a limit on the mean: its interval by Student's t.
    r->standard_uncertainty = numbers.counted.sd / std::sqrt(double(numbers.counted.n));
    r->dof = double(numbers.counted.n - 1);
  }
  // What is known only as a bound stays one: the largest of a series with bounds, the smallest where it is one.
  if (ResultValue* r = e.find("most"); r != nullptr && numbers.bounds > 0) r->censored = Censoring{true, 0, 0};
  if (ResultValue* r = e.find("least"); r != nullptr && numbers.lowest_bound) r->censored = Censoring{true, 0, 0};
  series::add_findings(e, numbers);
  RowValue each{"pieces", key, spec->name, spec->dimension, {}};
  Limit limit;
  for (size_t i = 0; i < pieces.size(); ++i) {
    each.values.push_back(numbers.pieces[i].there ? numbers.pieces[i].value : NAN);
    if (const auto it = pieces[i].record->limits.find(key); it != pieces[i].record->limits.end()) limit = it->second;
  }
  e.row_values.push_back(std::move(each));
  // Things that are unlike are counted together and never averaged: the groups are.
  const series::Unlike unlike = series::unlike_in(method, pieces);
  if (!unlike.path.empty()) {
    const std::set<std::string> counted = {"n", "void", "missing", "left_out", "bounds"};
    std::erase_if(e.results, [&](const ResultValue& r) { return counted.count(r.spec.key) == 0; });
    raise(e, "unlike", Severity::check,
          "The pieces are not alike: " + unlike.words + ". No mean is taken over them; they stand in groups.", {}, {},
          "n");
  }
  if (numbers.counted.n > 0) e.figures.push_back(series::figure_of(numbers, limit));
  if (const auto half = typed_width(e, settings, "settings.interval", numbers); half && unlike.path.empty()) {
    const auto wanted = statistics::pieces_for(numbers.counted.sd, *half);
    if (wanted) {
      Values more = {{"pieces_wanted", double(*wanted)}};
      ledger::add_results(e, series::statistics_of(*spec), more, [&](const std::string&) {
        return std::vector<Step>{{"least n with t(0.975, n − 1)·s/√n ≤ Δ",
                                  "s = " + shown(numbers.counted.sd, *spec, 3) + ", Δ = " + shown(*half, *spec, 3),
                                  double(*wanted), D::none, "Student's t"}};
      });
      raise(e, "pieces-wanted", Severity::note,
            "For a mean within ± " + shown(*half, *spec, 3) + " (95 %) " + std::to_string(*wanted) +
                " pieces are wanted when they go on to scatter by " + shown(numbers.counted.sd, *spec, 3) + "; " +
                count(numbers.counted.n, " is", " are") + " there.",
            {{"n", double(*wanted)}}, {}, "mean");
    }
  }
  const std::string chosen = settings.fields.text("settings.group_by");
  if (const std::string by = chosen.empty() ? unlike.path : chosen; !by.empty()) {
    std::vector<SeriesPiece> grouped = pieces;
    if (by == series::kBySeries) {
      grouped = all;
      std::erase_if(grouped, [](const SeriesPiece& p) { return p.there_for == SeriesPiece::For::time; });
    }
    const series::Numbers over = grouped.size() > pieces.size() ? series::numbers_of(method, *spec, grouped) : numbers;
    const std::vector<series::Group> groups =
        series::groups_of(method, over, grouped, by, settings.series.empty() ? "this series" : settings.series);
    series::add_groups(e, over, groups);
    if (!chosen.empty()) series::compare_groups(e, over, groups, typed_width(e, settings, "settings.margin", over));
  }
  if (const std::string against = settings.fields.text("settings.against"); !against.empty() && against != key) {
    if (const auto other = method.result(against))
      series::add_relation(e, numbers, series::numbers_of(method, *other, pieces));
  }
  series::add_curves(e, numbers, pieces);
  if (settings.fields.text("settings.over") == "book") {
    std::string material;
    const std::vector<SeriesPiece> over = series::of_one_material(all, material);
    series::add_over_time(e, series::numbers_of(method, *spec, over), over,
                          material.empty() ? "this series" : material);
  } else {
    series::add_over_time(e, numbers, pieces);
  }
  TestRecord of_series = settings;
  of_series.limits = series::limits_over(settings, key);  // the others are those of the pieces
  judge(e, of_series);
  return e;
}

void keep_curve(Evaluation& piece) {
  constexpr size_t kPoints = 400;
  if (piece.figures.empty() || piece.figures.front().raw || piece.figures.front().panels.empty()) {
    piece.figures.clear();
    return;
  }
  Figure kept;
  kept.id = piece.figures.front().id;
  Panel& from = piece.figures.front().panels.front();
  Panel panel;
  panel.x = from.x;
  panel.y = from.y;
  for (Trace& t : from.traces) {
    if (t.kind != Trace::Kind::line || t.pale || t.x.size() < 8) continue;
    Trace thin;
    thin.kind = t.kind;
    const size_t step = std::max<size_t>(1, t.x.size() / kPoints);
    for (size_t i = 0; i < t.x.size(); i += step) thin.x.push_back(t.x[i]), thin.y.push_back(t.y[i]);
    thin.x.push_back(t.x.back());
    thin.y.push_back(t.y.back());
    panel.traces.push_back(std::move(thin));
    break;
  }
  kept.panels.push_back(std::move(panel));
  piece.figures.clear();
  piece.figures.push_back(std::move(kept));
}

std::string piece_words(const SeriesPiece& piece, const std::string& key, UnitSet set) {
  const ResultValue* r = piece.evaluation->find(key);
  if (r == nullptr || r->is_text() || !std::isfinite(r->value)) return "–";
  const Dimension d = r->spec.dimension;
  if (!r->censored) return format_value(r->value, d, set, 4);
  if (r->censored->above) return "≥ " + format_value(r->value, d, set, 4);
  return format_number(r->censored->from, d, set, 4) + "–" + format_value(r->censored->to, d, set, 4);
}

}  // namespace fortitor
