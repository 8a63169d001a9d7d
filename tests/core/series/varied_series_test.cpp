// Samples and series as they come: hundreds drawn at random (few, many, equal, skewed, with bounds, voids, groups, times),
// and all that the statistics and the series say of them kept as text.
#include <gtest/gtest.h>

#include <array>
#include <cmath>
#include <sstream>

#include "core/series/series.h"
#include "core/statistics/basis.h"
#include "core/statistics/groups.h"
#include "core/statistics/relation.h"
#include "core/statistics/sample.h"
#include "tests/core/methods/chance.h"
#include "tests/core/methods/kept_text.h"
#include "tests/core/methods/short_text.h"

namespace fortitor::varied_series_test {
namespace {

// Values about 500: alike, scattered, skewed, in two lots, some equal, one apart.
std::vector<double> draw(Chance& chance) {
  const size_t n = chance.below(8) == 0 ? chance.below(3) : 3 + chance.below(28);
  const size_t kind = chance.below(6);
  const double sd = std::pow(10, -1 + 2.5 * chance.share());
  std::vector<double> out;
  for (size_t i = 0; i < n; ++i) {
    double x = 500 + sd * chance.normal();
    if (kind == 1) x = 500 + sd * chance.normal() * chance.normal();
    if (kind == 2) x = 500 - sd * std::log(0.001 + chance.share());
    if (kind == 3) x += i % 2 == 0 ? 4 * sd : 0;
    if (kind == 4) x = std::round(x / sd) * sd;
    if (kind == 5 && i == n / 2) x += 6 * sd;
    out.push_back(x);
  }
  return out;
}

TEST(KeptNumbersVariedSamples, EveryStatistic) {
  std::ostringstream out;
  for (uint64_t seed = 1; seed <= 80; ++seed) {
    Chance chance(seed);
    const std::vector<double> a = draw(chance), b = draw(chance), c = draw(chance);
    out << "== " << seed << " " << a.size() << " " << b.size() << " " << c.size() << "\n";
    const statistics::Summary s = statistics::summarize(a);
    out << num(s.mean) << " " << num(s.sd) << " " << num(s.cv) << " " << num(s.median) << " " << num(s.least) << " " << num(s.most);
    if (s.of_mean) out << " in " << num(s.of_mean->low) << " " << num(s.of_mean->high);
    if (s.of_sd) out << " s in " << num(s.of_sd->low) << " " << num(s.of_sd->high);
    if (const auto g = statistics::grubbs(a)) out << " grubbs " << g->index << " " << num(g->g) << " " << num(g->critical);
    for (size_t i : statistics::grubbs_repeated(a)) out << " out " << i;
    if (const auto n = statistics::anderson_darling(a)) out << " ad " << num(n->p);
    if (const auto w = statistics::welch(a, b)) out << " welch " << num(w->t) << " " << num(w->dof) << " " << num(w->p);
    if (const auto m = statistics::mann_whitney(a, b)) out << " u " << num(m->p);
    if (const auto e = statistics::equivalence(a, b, 5)) out << " alike " << num(e->p);
    if (const auto f = statistics::anova({a, b, c})) out << " anova " << num(f->f) << " " << num(f->p);
    for (const statistics::Pair& p : statistics::tukey_kramer({a, b, c})) out << " pair " << p.first << p.second << " " << num(p.difference) << " " << num(p.of_difference.low) << " " << num(p.of_difference.high) << " " << num(p.p);
    if (const auto w = statistics::weibull(a)) out << " weibull " << num(w->shape) << " " << num(w->scale) << " " << num(w->p);
    if (const auto k = statistics::basis(a)) out << " basis " << int(k->model) << " " << num(k->a.value_or(0)) << " " << num(k->b.value_or(0));
    if (const auto r = statistics::relate(std::vector<double>(a.begin(), a.begin() + long(std::min(a.size(), b.size()))), std::vector<double>(b.begin(), b.begin() + long(std::min(a.size(), b.size())))))
      out << " relation " << num(r->slope) << " " << num(r->at(505)) << " " << num(r->confidence(505)) << " " << num(r->prediction(505)) << " " << num(r->p);
    if (const auto i = statistics::individuals(a)) {
      out << " chart " << num(i->low) << " " << num(i->high) << " " << num(i->range_high);
      for (size_t k : i->beyond) out << " beyond " << k;
      for (size_t k : i->range_beyond) out << " leap " << k;
      if (i->run) out << " run " << *i->run;
    }
    if (const auto n = statistics::pieces_for(s.sd, 0.01 * std::abs(s.mean))) out << " pieces " << *n;
    const statistics::Histogram h = statistics::histogram(a);
    out << " bins " << num(h.width) << " " << h.counts.size() << "\n";
  }
  hold_kept("varied-statistics", out.str());
}

// Every row of every table and what lies between them.
TEST(KeptNumbersVariedSamples, BoundsOfEverySize) {
  std::ostringstream out;
  std::vector<size_t> sizes = {75, 100, 150, 298, 299, 400, 473};
  for (size_t n = 3; n <= 62; ++n) sizes.push_back(n);
  for (size_t n : sizes) {
    std::vector<double> values;
    for (size_t i = 0; i < n; ++i) values.push_back(500 * std::pow(-std::log(1 - (double(i) + 0.5) / double(n)), 1 / 12.0));
    out << "== " << n << "\n";
    for (auto model : {statistics::BasisModel::normal, statistics::BasisModel::weibull, statistics::BasisModel::nonparametric}) {
      const auto k = statistics::basis_by(model, values);
      ASSERT_TRUE(k) << n;
      out << num(k->a.value_or(0)) << " " << num(k->b.value_or(0)) << " | " << k->how_a << " | " << k->how_b << "\n";
    }
    out << "fit " << num(statistics::weibull(values)->p) << "\n";
  }
  hold_kept("varied-bounds", out.str());
}

// A series drawn at random, its results written by hand: two numbers of the method with bounds, voids, groups, prices and times.
std::string random_series(const Method& m, const std::array<std::string, 2>& keys, uint64_t seed) {
  std::ostringstream out;
  Chance chance(seed);
  const std::vector<double> values = draw(chance), others = draw(chance);
  const bool priced = !m.series.price_path.empty();
  std::vector<TestRecord> records;
  std::vector<Evaluation> evaluations;
  for (size_t i = 0; i < values.size(); ++i) {
    TestRecord r;
    r.method = m.id;
    r.fields.set("specimen.id", "P" + std::to_string(i + 1));
    if (chance.below(10) > 0) r.fields.set("specimen.lot", std::string(1, char('A' + chance.below(3))));
    r.fields.set("specimen.material", std::string(chance.below(4) == 0 ? "S355" : "C45"));
    if (priced && chance.below(3) > 0) r.fields.set(m.series.price_path, double(1 + chance.below(20)));
    if (chance.below(9) > 0) r.tested_at = "2026-11-" + std::to_string(10 + chance.below(18)) + "T0" + std::to_string(chance.below(9)) + ":00:00Z";
    if (chance.below(12) == 0) r.fields.set("settings.series.left_out", std::string("slipped"));
    Evaluation e;
    for (const auto& [key, v] : {std::pair{keys[0], values[i]}, {keys[1], i < others.size() ? 0.7 * others[i] : double(NAN)}}) {
      if (!std::isfinite(v)) continue;
      ResultValue x;
      x.spec = *m.result(key);
      x.value = v;
      if (key == keys[0] && chance.below(12) == 0) x.censored = Censoring{true, 0, 0};
      if (key == keys[0] && chance.below(15) == 0) x.censored = Censoring{false, v - 3, v + 3};
      e.results.push_back(x);
    }
    if (chance.below(20) == 0) e.verdict = Verdict::void_test;
    records.push_back(r);
    evaluations.push_back(e);
  }
  std::vector<SeriesPiece> pieces;
  for (size_t i = 0; i < records.size(); ++i) pieces.push_back({&records[i], &evaluations[i], i > 4 && chance.below(6) == 0 ? "beside" : "", chance.below(2) == 0 ? SeriesPiece::For::groups : SeriesPiece::For::time});
  TestRecord settings;
  settings.method = m.id;
  settings.series = "this one";
  if (priced) settings.fields.set("settings.result", keys[0]);
  const char* by[] = {"", "specimen.lot", "series", "specimen.material"};
  if (const std::string chosen = by[chance.below(4)]; !chosen.empty()) settings.fields.set("settings.group_by", chosen);
  if (chance.below(2) == 0) settings.fields.set("settings.against", keys[1]);
  if (chance.below(2) == 0) settings.fields.set("settings.over", std::string("book"));
  const char* widths[] = {"", "2 %", "5 MPa", "nothing"};
  for (const char* path : {"settings.margin", "settings.interval"})
    if (const std::string w = widths[chance.below(4)]; !w.empty()) settings.fields.set(path, w);
  const Evaluation e = series_evaluate(m, pieces, settings);
  out << "== " << seed - 7000 << " told " << shortest_text(e) << "\n";
  for (const ResultValue& r : e.results) out << r.spec.key << " " << num(r.value) << " of " << r.spec.figures << " ";
  out << "\n";
  for (const Finding& f : e.findings) out << "  " << f.code << " " << int(f.severity) << " " << f.message << "\n";
  for (const Figure& f : e.figures)
    for (const Panel& p : f.panels) {
      double x = 0, y = 0;
      for (const Trace& t : p.traces) {
        for (double v : t.x) x += std::isfinite(v) ? v : 0;
        for (double v : t.y) y += std::isfinite(v) ? v : 0;
      }
      out << "  " << f.id << " " << p.name << " " << p.traces.size() << " " << num(x) << " " << num(y) << " marks " << p.marks.size() << "\n";
    }
  return out.str();
}

TEST(KeptNumbersVariedSamples, SeriesWithBoundsVoidsGroupsAndTimes) {
  std::string now;
  for (uint64_t seed = 1; seed <= 120; ++seed) now += random_series(*methods::find("tension-metal"), {"rm", "rp02"}, seed + 7000);
  hold_kept("varied-series", now);
}

TEST(KeptNumbersVariedSamples, SeriesOfPricedPieces) {
  const Method& proof = *methods::find("proof-load");
  ASSERT_FALSE(proof.series.price_path.empty());
  ASSERT_GE(proof.limit_keys.size(), 2u);
  std::string now;
  for (uint64_t seed = 200; seed < 320; ++seed) now += random_series(proof, {proof.limit_keys[0], proof.limit_keys[1]}, seed + 7000);
  hold_kept("varied-series-priced", now);
}

}  // namespace
}  // namespace fortitor::varied_series_test
