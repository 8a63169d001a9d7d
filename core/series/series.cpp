#include "core/series/series.h"

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

std::string shown(double v, const ResultSpec& spec) {
  return format_value(v, spec.dimension, UnitSet::si, 4);
}

}  // namespace

SeriesPiece series_piece(const TestRecord& record, const Evaluation& e, const std::string& key) {
  SeriesPiece p;
  p.id = record.specimen_id();
  p.void_test = e.verdict == Verdict::void_test;
  if (p.void_test) p.void_reason = e.verdict_reason;
  p.left_out = record.fields.text("settings.series.left_out");
  if (const ResultValue* r = e.find(key); r != nullptr && !r->is_text() && std::isfinite(r->value)) {
    p.there = true;
    p.value = r->value;
    p.censored = r->censored;
  }
  const Method* m = methods::find(record.method);
  if (m != nullptr && !m->series.suspects_path.empty())
    for (const FieldSpec& f : m->fields)
      if (f.path.compare(0, m->series.suspects_path.size(), m->series.suspects_path) == 0)
        p.ticked[f.path] = record.fields.flag(f.path);
  return p;
}

SeriesReport series_report(const Method& method, const std::string& key, const std::vector<SeriesPiece>& pieces) {
  SeriesReport r;
  const auto spec = method.result(key);
  if (!spec) return r;
  r.spec = *spec;
  std::vector<double> all, counted;
  std::vector<size_t> index;
  std::vector<statistics::Observation> observed;
  for (size_t i = 0; i < pieces.size(); ++i) {
    const SeriesPiece& p = pieces[i];
    r.voids += p.void_test;
    r.missing += !p.there && !p.void_test;
    if (p.void_test || !p.there) continue;
    if (p.left_out.empty()) observed.push_back({p.value, p.censored});
    if (p.censored) {  // a bound is no measured value
      ++r.bounds;
      continue;
    }
    all.push_back(p.value);
    if (!p.left_out.empty()) {
      ++r.left_out;
      continue;
    }
    counted.push_back(p.value);
    index.push_back(i);
  }
  r.all = statistics::summarize(all);
  r.counted = statistics::summarize(counted);
  if (r.bounds > 0) r.likelihood = statistics::censored_normal(observed);
  r.normality = statistics::anderson_darling(counted);
  for (size_t k : statistics::grubbs_repeated(counted, r.grubbs_level)) r.outliers.push_back(index[k]);
  r.histogram = statistics::histogram(counted);
  const bool normal = !r.normality || r.normality->p >= 0.05;
  if (counted.size() >= 3 && normal && r.bounds == 0)
    r.b_basis = r.counted.mean - statistics::tolerance_factor(counted.size(), 0.90) * r.counted.sd;

  for (const FieldSpec& f : method.fields) {
    if (method.series.suspects_path.empty() ||
        f.path.compare(0, method.series.suspects_path.size(), method.series.suspects_path) != 0)
      continue;
    SuspectTest t;
    t.path = f.path;
    t.label = f.label;
    std::vector<double> yes, no;
    for (size_t i : index) {
      const auto it = pieces[i].ticked.find(f.path);
      (it != pieces[i].ticked.end() && it->second ? yes : no).push_back(pieces[i].value);
    }
    t.ticked = yes.size();
    if (yes.empty()) continue;  // nobody suspects it
    t.mean_ticked = statistics::summarize(yes).mean;
    t.mean_unticked = no.empty() ? NAN : statistics::summarize(no).mean;
    t.welch = statistics::welch(yes, no);
    const std::string means = "mean " + shown(t.mean_ticked, r.spec) + " with, " +
                              (no.empty() ? std::string("none") : shown(t.mean_unticked, r.spec)) + " without";
    if (!t.welch)
      t.sentence = t.label + ": " + means + "; at least two pieces with and two without are wanted for a test.";
    else
      t.sentence = t.label + ": " + means + ", difference " + shown(t.welch->difference, r.spec) +
                   " (t = " + significant(t.welch->t, 3) + ", p = " + significant(t.welch->p, 2) + "): " +
                   (t.welch->p < 0.01   ? "it explains scatter."
                    : t.welch->p < 0.05 ? "it may explain scatter."
                                        : "the data do not speak for it.");
    r.suspects.push_back(std::move(t));
  }

  if (r.counted.n == 0)
    r.sentences.push_back("No piece has a measured value yet.");
  else if (r.counted.n == 1)
    r.sentences.push_back("One piece has no scatter to speak of.");
  for (size_t i : r.outliers)
    r.sentences.push_back(
        pieces[i].id + " (" + shown(pieces[i].value, r.spec) +
        ") lies apart from the rest (Grubbs, 5 % over all steps). It stays in: leaving it out needs a "
        "physical reason.");
  if (r.left_out > 0)
    r.sentences.push_back(std::to_string(r.left_out) + " left out with a reason: mean " +
                          shown(r.counted.mean, r.spec) + " without, " + shown(r.all.mean, r.spec) + " with.");
  if (r.normality && r.normality->p < 0.05)
    r.sentences.push_back("The values do not look normal (Anderson–Darling, p = " + significant(r.normality->p, 2) +
                          "): mixed lots, or a suspect below.");
  if (r.bounds > 0)
    r.sentences.push_back(std::to_string(r.bounds) + (r.bounds == 1 ? " piece is" : " pieces are") +
                          " known only as a bound" +
                          (r.likelihood ? "; by maximum likelihood the mean is " + shown(r.likelihood->mean, r.spec) +
                                              ", s " + shown(r.likelihood->sd, r.spec)
                                        : std::string()) +
                          ".");
  if (r.voids > 0)
    r.sentences.push_back(std::to_string(r.voids) + (r.voids == 1 ? " test is" : " tests are") +
                          " void and counted apart.");
  return r;
}

}  // namespace fortitor
