#include "core/series/statistics_of.h"

#include <algorithm>
#include <cmath>

namespace fortitor::series {
namespace {

Value value_of(const SeriesPiece& piece, const std::string& key, const std::string& suspects, const Method& method) {
  Value v;
  const TestRecord& record = *piece.record;
  v.id = record.specimen_id();
  v.void_test = piece.evaluation->verdict == Verdict::void_test;
  v.left_out = record.fields.text("settings.series.left_out");
  if (const ResultValue* r = piece.evaluation->find(key); r != nullptr && !r->is_text() && std::isfinite(r->value)) {
    v.there = true;
    v.value = r->value;
    v.censored = r->censored;
  }
  if (!suspects.empty())
    for (const FieldSpec& f : method.fields)
      if (f.path.compare(0, suspects.size(), suspects) == 0) v.ticked[f.path] = record.fields.flag(f.path);
  return v;
}

// The lowest and the highest there is, a bound by the end that is known of it.
void reach(Numbers& r, const Value& p) {
  const bool interval = p.censored && !p.censored->above;
  const double from = interval ? p.censored->from : p.value, to = interval ? p.censored->to : p.value;
  if (!(from >= r.lowest)) {
    r.lowest = from;
    r.lowest_bound = p.censored.has_value();
  }
  if (!(to <= r.highest)) r.highest = to;
}

// A- and B-basis: over the batches where lots are named, with bounds by their likelihood.
void put_basis(Numbers& r, const std::map<std::string, std::vector<double>>& batches,
               const std::vector<double>& counted) {
  std::vector<std::vector<double>> named;
  for (const auto& [lot, values] : batches)
    if (!lot.empty()) named.push_back(values);
  r.batches = named.size();
  const bool all_named = batches.count("") == 0;
  if (r.bounds > 0) {
    if (r.likelihood) r.basis = statistics::basis_with_bounds(*r.likelihood);
  } else if (named.size() > 1 && all_named) {
    const statistics::BatchedBasis b = statistics::basis_of_batches(named);
    r.basis = b.basis;
    r.batches_test = b.test;
  } else {
    r.basis = statistics::basis(counted);
  }
  if (!r.basis || r.spec.dimension == Dimension::temperature) return;
  if (r.bounds == 0 && r.basis->model == statistics::BasisModel::normal && (!r.batches_test || r.batches_test->alike()))
    r.rival = statistics::lower_rival(counted);
  if (std::any_of(counted.begin(), counted.end(), [](double v) { return v < 0; })) return;
  for (std::optional<double>* bound : {&r.basis->a, &r.basis->b})
    if (*bound && **bound < 0) {
      bound->reset();
      r.basis_negative = true;
    }
}

}  // namespace

Numbers numbers_of(const Method& method, const ResultSpec& spec, const std::vector<SeriesPiece>& pieces) {
  Numbers r;
  r.spec = spec;
  const std::string& suspects = method.series.suspects_path;
  std::vector<double> all, counted;
  std::vector<size_t> index;
  std::map<std::string, std::vector<double>> batches;
  std::vector<statistics::Observation> observed;
  for (size_t i = 0; i < pieces.size(); ++i) {
    r.pieces.push_back(value_of(pieces[i], spec.key, suspects, method));
    const Value& p = r.pieces.back();
    r.voids += p.void_test;
    r.missing += !p.there && !p.void_test;
    if (p.void_test || !p.there) continue;
    if (!p.left_out.empty()) ++r.left_out;
    if (p.left_out.empty()) {
      observed.push_back({p.value, p.censored});
      reach(r, p);
    }
    if (p.censored) {  // a bound is no measured value
      ++r.bounds;
      continue;
    }
    all.push_back(p.value);
    if (!p.left_out.empty()) continue;
    counted.push_back(p.value);
    index.push_back(i);
    batches[pieces[i].record->fields.text("specimen.lot")].push_back(p.value);
  }
  r.all = statistics::summarize(all);
  r.counted = statistics::summarize(counted);
  if (r.bounds > 0) r.likelihood = statistics::censored_normal(observed);
  r.normality = statistics::anderson_darling(counted);
  for (size_t k : statistics::grubbs_repeated(counted, 0.05)) r.outliers.push_back(index[k]);
  if (r.normality && r.normality->p < 0.05) r.weibull = statistics::weibull(counted);
  put_basis(r, batches, counted);
  for (const FieldSpec& f : method.fields) {
    if (suspects.empty() || f.path.compare(0, suspects.size(), suspects) != 0) continue;
    Suspect t{f.path, f.label, 0, NAN, NAN, {}};
    std::vector<double> yes, no;
    for (size_t i : index) (r.pieces[i].ticked.at(f.path) ? yes : no).push_back(r.pieces[i].value);
    if (yes.empty()) continue;  // nobody suspects it
    t.ticked = yes.size();
    t.mean_ticked = statistics::summarize(yes).mean;
    if (!no.empty()) t.mean_unticked = statistics::summarize(no).mean;
    t.welch = statistics::welch(yes, no);
    r.suspects.push_back(std::move(t));
  }
  return r;
}

Figure figure_of(const Numbers& n, const Limit& limit) {
  Figure f;
  f.id = "series";
  f.title = n.spec.name + " over the series";
  if (n.counted.n == 0) return f;
  const Dimension d = n.spec.dimension;
  Panel histogram, order;
  histogram.name = "Spread";
  order.name = "By piece";
  histogram.x = {n.spec.name, d};
  histogram.x.with_zero = false;
  histogram.y = {"pieces", Dimension::none};
  histogram.weight = 10;
  std::vector<double> counted;
  for (const Value& p : n.pieces)
    if (p.there && !p.void_test && !p.censored && p.left_out.empty()) counted.push_back(p.value);
  const statistics::Histogram bins = statistics::histogram(counted);
  Trace bars;
  bars.kind = Trace::Kind::bars;
  bars.bar_width = bins.width;
  bars.tone = 6;
  for (size_t i = 0; i < bins.counts.size(); ++i) {
    if (bins.counts[i] == 0) continue;
    bars.x.push_back(bins.from + (double(i) + 0.5) * bins.width);
    bars.y.push_back(double(bins.counts[i]));
    bars.names.push_back(std::to_string(bins.counts[i]));
  }
  histogram.traces.push_back(std::move(bars));
  Mark mean;
  mean.kind = Mark::Kind::level;
  mean.along_x = true;
  mean.key = "mean";
  mean.label = "mean";
  mean.points = {{n.counted.mean, 0}};
  mean.tone = Mark::Tone::main;
  histogram.marks.push_back(mean);
  if (n.counted.of_mean) {
    Mark band;
    band.kind = Mark::Kind::band;
    band.key = "mean_low";
    band.points = {{n.counted.of_mean->low, 0}, {n.counted.of_mean->high, 0}};
    histogram.marks.push_back(band);
  }

  order.x = {"piece", Dimension::none, Axis::Scale::category};
  order.y = {n.spec.name, d};
  order.y.with_zero = false;
  order.weight = 12;
  Trace plain, ticked;
  plain.kind = ticked.kind = Trace::Kind::points;
  plain.tone = 5;
  ticked.tone = 2;
  ticked.marker = Marker::square;
  for (size_t i = 0; i < n.pieces.size(); ++i) {
    const Value& p = n.pieces[i];
    order.x.categories.push_back(p.id);
    if (!p.there || p.void_test) continue;
    bool any = false;
    for (const auto& [path, on] : p.ticked) any = any || on;
    Trace& t = any ? ticked : plain;
    t.x.push_back(double(i));
    const bool interval = p.censored && !p.censored->above;
    t.y.push_back(interval ? 0.5 * (p.censored->from + p.censored->to) : p.value);
    t.error.push_back(interval ? 0.5 * (p.censored->to - p.censored->from) : 0);
    t.bound.push_back(p.censored && p.censored->above ? 1 : 0);
    t.hollow.push_back(!p.left_out.empty());
    for (size_t out : n.outliers)
      if (out == i) t.flags[t.x.size() - 1] = "lies apart";
  }
  for (Trace* t : {&plain, &ticked})
    if (!t->x.empty()) order.traces.push_back(std::move(*t));
  Mark level = mean;
  level.along_x = false;
  level.points = {{0, n.counted.mean}};
  order.marks.push_back(level);
  for (const auto& [bound, word] : {std::pair{limit.min, "at least"}, {limit.max, "at most"}}) {
    if (!bound || !bound->value) continue;
    for (Panel* panel : {&histogram, &order}) {
      Mark m;
      m.kind = Mark::Kind::level;
      m.along_x = panel == &histogram;
      m.points = {{*bound->value, *bound->value}};
      m.tone = Mark::Tone::limit;
      m.label = word;
      m.value = *bound->value;
      m.dimension = d;
      panel->marks.push_back(std::move(m));
    }
  }
  f.panels = {std::move(histogram), std::move(order)};
  return f;
}

}  // namespace fortitor::series
