#include "core/practice/cases.h"

#include <algorithm>
#include <cmath>
#include <random>
#include <stdexcept>

#include "core/bench/records.h"
#include "core/evaluation/evaluation_json.h"
#include "core/json/json.h"
#include "core/methods/guard.h"
#include "core/methods/method.h"
#include "core/practice/cases_parts.h"
#include "core/series/series.h"
#include "core/spectrum/spectrum.h"
#include "core/standin/benches.h"

namespace fortitor::cases {
namespace {

Spoil spoil_of(const Json& j) {
  Spoil s;
  s.channel = j.value("channel", "");
  s.of = j.value("of", "");
  s.from = j.value("from", 0.0);
  s.to = j.value("to", 1.0);
  s.times = j.value("times", 1.0);
  s.plus = j.value("plus", 0.0);
  s.still = j.value("still", false);
  s.gone = j.value("gone", false);
  s.missing = j.value("missing", false);
  s.within = j.value("within", 0.0);
  s.noise = j.value("noise", 0.0);
  s.every = std::max<size_t>(1, j.value("every", size_t(1)));
  return s;
}

std::string record_of(const std::string& method, const Json& own) {
  Json whole = {{"fortitor", "record/1"}, {"method", method}};
  whole.update(own);
  return whole.dump();
}

standin::BridgeTraffic traffic_of(const Json& j) {
  // Short, and sound where the recipe does not say otherwise.
  standin::BridgeTraffic t{.rate = 50, .hours = 1, .gaps = 0, .spikes = 0, .stuck = false};
  t.rate = j.value("rate", t.rate);
  t.hours = j.value("hours", t.hours);
  t.noise = j.value("noise", t.noise);
  t.lorries = j.value("lorries", 20 * t.lorries);
  t.heaviest = j.value("heaviest", t.heaviest);
  return t;
}

Recipe recipe_of(const Json& j) {
  Recipe r;
  r.method = j.at("method").get<std::string>();
  r.piece = j.value("piece", "");
  r.seed = j.value("seed", uint64_t(1));
  r.faults = j.value("faults", std::vector<std::string>{});
  r.without = j.value("without", std::vector<std::string>{});
  if (j.contains("record")) r.record = record_of(r.method, j.at("record"));
  for (const Json& s : j.value("spoil", Json::array())) r.spoil.push_back(spoil_of(s));
  for (const Json& part : j.value("parts", Json::array()))
    r.parts.push_back({part.at("name").get<std::string>(), part.value("from", 0.0), part.value("to", 1.0)});
  r.stored = j.value("stored", false);
  r.fails = j.value("fails", false);
  if (j.contains("traffic") || r.method == spectrum::kMethod)
    r.traffic = traffic_of(j.value("traffic", Json::object()));
  r.traffic.seed = r.seed;
  if (j.contains("force")) r.spoil.push_back({.channel = "force", .times = j.at("force").get<double>()});
  return r;
}

// A recipe with what is its own, which stands under `key` in it.
Json with(Json recipe, const char* key, const Json& own) {
  recipe.erase(key);
  recipe.merge_patch(own);
  return recipe;
}

}  // namespace

Samples spoilt(const Samples& samples, const std::vector<Spoil>& all, uint64_t seed) {
  Samples out = samples;
  std::mt19937_64 random(seed);
  std::normal_distribution<double> normal;
  for (const Spoil& s : all) {
    if (const Channel* like = s.of.empty() ? nullptr : out.find(s.of);
        like != nullptr && out.find(s.channel) == nullptr)
      out.channels.push_back({s.channel, like->values});
    if (!s.channel.empty() && s.gone && s.from <= 0 && s.to >= 1)
      std::erase_if(out.channels, [&](const Channel& c) { return c.name == s.channel; });
    for (Channel& c : out.channels) {
      if (!s.channel.empty() && c.name != s.channel) continue;
      // Of this channel: one that is gone has fewer than the others.
      const size_t n = c.values.size(), from = size_t(std::clamp(s.from, 0.0, 1.0) * double(n)),
                   to = std::min(n, size_t(std::ceil(std::clamp(s.to, 0.0, 1.0) * double(n))));
      double largest = 0;
      for (double v : c.values)
        if (std::isfinite(v)) largest = std::max(largest, std::abs(v));
      const double first = from < n ? c.values[from] : 0;
      for (size_t i = from; i < to && !s.channel.empty(); ++i) {
        double& v = c.values[i];
        if (s.still) v = first;
        v = v * s.times + s.plus * largest + (s.noise > 0 ? s.noise * largest * normal(random) : 0.0);
        if (s.within > 0) v = std::clamp(v, -s.within * largest, s.within * largest);
        if (s.missing) v = NAN;
      }
      if (!s.gone && s.every == 1) continue;
      std::vector<double> kept;
      for (size_t i = 0; i < n; ++i) {
        const bool inside = i >= from && i < to;
        if (inside && (s.gone || (i - from) % s.every != 0)) continue;
        kept.push_back(c.values[i]);
      }
      c.values = std::move(kept);
    }
  }
  return out;
}

namespace {

SamplesPtr stretch(const Samples& of, const Part& part) {
  auto out = std::make_shared<Samples>(of);
  for (Channel& c : out->channels) {
    const double n = double(c.values.size());
    const auto from = std::ptrdiff_t(std::clamp(part.from, 0.0, 1.0) * n);
    const auto to = std::max(from, std::ptrdiff_t(std::clamp(part.to, 0.0, 1.0) * n));
    c.values = std::vector<double>(c.values.begin() + from, c.values.begin() + to);
  }
  return out;
}

}  // namespace

std::string Recipe::title() const {
  return method == spectrum::kMethod ? "Spectrum" : methods::find(method)->name;
}

Outcome<std::map<std::string, Recipe>> read(const std::string& json) {
  std::map<std::string, Recipe> out;
  try {
    const Json all = Json::parse(json);
    for (const auto& [code, j] : all.items()) {
      const auto method = j.at("method").get<std::string>();
      if (methods::find(method) == nullptr && method != spectrum::kMethod)
        return InputError{code + ": there is no method " + method, {}};
      Recipe r = recipe_of(j);
      r.figure = j.value("figure", "");
      r.study = j.value("study", false);
      if (j.contains("signed")) r.signed_as = {recipe_of(with(j, "signed", j.at("signed")))};
      if (const auto series = j.find("series"); series != j.end()) {
        r.settings = record_of("series/" + method, series->value("record", Json::object()));
        for (const Json& own : series->at("pieces")) r.pieces.push_back(recipe_of(with(j, "series", own)));
      }
      out[code] = std::move(r);
    }
  } catch (const Json::Error& e) {
    return InputError{std::string("The cases cannot be read: ") + e.what(), {}};
  }
  return out;
}

Outcome<TestRecord> made(const Recipe& recipe) {
  const Method& m = *methods::find(recipe.method);
  const standin::Bench* bench = standin::find_bench(m.standin);
  if (bench == nullptr) return InputError{"There is no stand-in for " + m.id + ".", {}};
  if (!recipe.piece.empty() && std::none_of(bench->pieces.begin(), bench->pieces.end(),
                                            [&](const Choice& c) { return c.value == recipe.piece; }))
    return InputError{"The stand-in for " + m.id + " has no piece “" + recipe.piece + "”.", {}};
  standin::SimulateOptions o;
  o.method = m.id;
  o.piece = recipe.piece;
  o.seed = recipe.seed;
  o.faults.insert(recipe.faults.begin(), recipe.faults.end());
  TestRecord r = bench->simulate(o);
  r.method = m.id;
  for (const std::string& path : recipe.without) {
    r.fields.erase(path);
    r.run.tables.erase(path);
  }
  if (!recipe.record.empty()) {
    const auto said = recipe.stored ? stored_record_from_json(recipe.record) : record_from_json(recipe.record);
    if (!said) return said.error();
    r.faults = said->faults;
    for (const auto& [path, value] : said->fields.all()) r.fields.set(path, value);
    for (const auto& [key, limit] : said->limits) r.limits[key] = limit;
    for (const auto& [id, rows] : said->run.tables) r.run.tables[id] = rows;
    if (!said->tested_at.empty()) r.tested_at = said->tested_at;
    r.run.open = said->run.open;
  }
  for (Segment& segment : r.run.segments)
    if (segment.samples && !recipe.spoil.empty())
      segment.samples = std::make_shared<Samples>(spoilt(*segment.samples, recipe.spoil, recipe.seed));
  if (const SamplesPtr whole = r.run.samples(); whole && !recipe.parts.empty()) {
    r.run.segments.clear();
    for (const Part& part : recipe.parts) r.run.segments.push_back({part.name, {}, {}, stretch(*whole, part)});
  }
  return r;
}

namespace {

Outcome<Evaluation> of_piece(const Recipe& recipe) {
  const auto record = made(recipe);
  if (!record) return record.error();
  if (recipe.fails) {
    Method fails = *methods::find(recipe.method);
    fails.evaluate = [](const TestRecord&, const EvaluateOptions&) -> Evaluation {
      throw std::runtime_error("a number was divided by nothing");
    };
    return methods::guarded(fails, *record, {});
  }
  Evaluation e = methods::evaluate(*record);
  if (recipe.signed_as.empty()) return e;
  const auto before = made(recipe.signed_as.front());
  if (!before) return before.error();
  compare_with_signed(e, evaluation_to_json(methods::evaluate(*before), before->fields));
  return e;
}

Outcome<Evaluation> of_series(const Recipe& recipe) {
  std::vector<TestRecord> records;
  std::vector<Evaluation> evaluations;
  for (const Recipe& one : recipe.pieces) {
    auto record = made(one);
    if (!record) return record.error();
    record->fields.set("specimen.id", "P-" + std::to_string(records.size() + 1));
    evaluations.push_back(methods::evaluate(*record));
    records.push_back(std::move(*record));
  }
  std::vector<SeriesPiece> pieces;
  for (size_t i = 0; i < records.size(); ++i) pieces.push_back({&records[i], &evaluations[i]});
  const Method& m = *methods::find(recipe.method);
  const auto settings = series_settings_from_json(m, recipe.settings);
  if (!settings) return settings.error();
  return series_evaluate(m, pieces, *settings);
}

}  // namespace

Outcome<Evaluation> evaluated(const Recipe& recipe) {
  if (recipe.method == spectrum::kMethod) return of_spectrum(recipe);
  auto e = recipe.pieces.empty() ? of_piece(recipe) : of_series(recipe);
  if (!e) return e;
  const auto shown =
      std::find_if(e->figures.begin(), e->figures.end(), [&](const Figure& f) { return f.id == recipe.figure; });
  if (shown != e->figures.end()) std::rotate(e->figures.begin(), shown, shown + 1);
  return e;
}

}  // namespace fortitor::cases
