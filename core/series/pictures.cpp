#include "core/series/pictures.h"

#include <algorithm>
#include <cmath>
#include <numeric>

#include "core/methods/support/ledger.h"
#include "core/quantity/plain.h"
#include "core/statistics/relation.h"

namespace fortitor::series {
namespace {

using D = Dimension;
using ledger::raise;

bool counts(const Value& v) {
  return v.there && !v.void_test && !v.censored && v.left_out.empty();
}

void add(Evaluation& e, const char* key, const char* symbol, const char* name, double value, D d, int figures,
         double like, Step step) {
  if (!std::isfinite(value)) return;
  ResultValue r;
  r.spec = {key, symbol, name, d, RoundingClass::other, figures, false};
  r.value = value;
  r.like = like;
  step.value = value;
  step.dimension = d;
  r.how = {std::move(step)};
  e.results.push_back(std::move(r));
}

// A number without its unit, as the reader's unit set has it.
double in_unit(double v, D d, double like) {
  const Unit& u = display_unit(d, UnitSet::si, like);
  return (v - u.offset) / u.factor;
}

}  // namespace

void add_relation(Evaluation& e, const Numbers& y, const Numbers& x) {
  std::vector<double> xs, ys;
  std::vector<std::string> ids;
  for (size_t i = 0; i < std::min(x.pieces.size(), y.pieces.size()); ++i)
    if (counts(x.pieces[i]) && counts(y.pieces[i]))
      xs.push_back(x.pieces[i].value), ys.push_back(y.pieces[i].value), ids.push_back(y.pieces[i].id);
  const auto r = statistics::relate(xs, ys);
  if (!r) {
    raise(e, "relation-few", Severity::note,
          y.spec.name + " against " + x.spec.name + " wants three pieces that have both and differ; " +
              std::to_string(xs.size()) + (xs.size() == 1 ? " has" : " have") + " them.");
    return;
  }
  const std::string n = std::to_string(r->n) + " pieces";
  const char* source = "least squares";
  add(e, "relation_slope", "b", "slope of the relation", r->slope, D::none, 4, 0,
      {"Σ(x − x̄)(y − ȳ)/Σ(x − x̄)²", n, 0, D::none, source});
  add(e, "relation_intercept", "a", "where the relation begins", r->intercept, D::none, 4, 0,
      {"ȳ − b·x̄", n, 0, D::none, source});
  add(e, "relation_r2", "r²", "share of the scatter it explains", r->r2, D::none, 4, 0,
      {"1 − Σ(y − ŷ)²/Σ(y − ȳ)²", n, 0, D::none, source});
  add(e, "relation_sd", "s_r", "scatter about the relation", r->residual_sd, y.spec.dimension, 3, ys.front(),
      {"√(Σ(y − ŷ)²/(n − 2))", n, 0, D::none, source});
  add(e, "relation_slope_error", "s_b", "standard error of the slope", r->slope_error, D::none, 3, 0,
      {"s_r/√Σ(x − x̄)²", n, 0, D::none, source});
  add(e, "relation_p", "p_b", "no relation at all", r->p, D::none, 2, 0,
      {"t = b/s_b, two-sided", n, 0, D::none, "Student's t"});
  add(e, "relation_n", "n", "pieces that have both", double(r->n), D::none, 6, 0, {"both measured", n, 0, D::none, ""});

  const double x_like = xs.front(), y_like = ys.front();
  const Unit &ux = display_unit(x.spec.dimension, UnitSet::si, x_like),
             &uy = display_unit(y.spec.dimension, UnitSet::si, y_like);
  const double slope = r->slope * ux.factor / uy.factor,
               intercept = in_unit(r->at(ux.offset), y.spec.dimension, y_like);
  raise(e, "relation", Severity::note,
        y.spec.name + " = " + significant(intercept, 4) + (slope < 0 ? " − " : " + ") +
            significant(std::abs(slope), 4) + " · " + x.spec.name +
            (uy.symbol.empty()
                 ? std::string()
                 : " (" + std::string(uy.symbol) + (ux.symbol.empty() ? "" : ", " + std::string(ux.symbol)) + ")") +
            ": r² = " + significant(r->r2, 3) + ", p = " + significant(r->p, 2) + "; one more piece lies within ± " +
            significant(r->prediction(r->x_mean) / uy.factor, 3) + (uy.symbol.empty() ? "" : " ") +
            std::string(uy.symbol) + " of it in the middle (95 %)." +
            (r->p >= 0.05 ? " These few do not show that the two go together." : ""),
        {{"slope", r->slope}, {"intercept", r->intercept}, {"r2", r->r2}, {"p", r->p}}, {}, "relation_slope");

  Panel panel;
  panel.name = "Relation";
  panel.x = {x.spec.name, x.spec.dimension};
  panel.y = {y.spec.name, y.spec.dimension};
  panel.x.with_zero = panel.y.with_zero = false;
  panel.caption = "pale: the mean of pieces; dashed: one more piece (95 %)";
  const auto [least, most] = std::minmax_element(xs.begin(), xs.end());
  Trace points, line, band, low, high;
  points.kind = Trace::Kind::points;
  points.x = xs;
  points.y = ys;
  band.kind = Trace::Kind::area;
  band.tone = 6;
  band.pale = true;
  low.dash = high.dash = Dash::dashed;
  line.tone = low.tone = high.tone = 2;
  low.weight = high.weight = 1;
  constexpr int kSteps = 40;
  const double margin = 0.05 * (*most - *least);
  for (int i = 0; i <= kSteps; ++i) {
    const double at = *least - margin + (*most - *least + 2 * margin) * i / kSteps;
    for (Trace* t : {&line, &band, &low, &high}) t->x.push_back(at);
    const double middle = r->at(at), mean = r->confidence(at), one = r->prediction(at);
    line.y.push_back(middle);
    band.y.push_back(middle + mean);
    band.base.push_back(middle - mean);
    low.y.push_back(middle - one);
    high.y.push_back(middle + one);
  }
  panel.traces = {band, low, high, line, points};
  Figure f;
  f.id = "relation";
  f.title = "Against " + x.spec.name;
  f.printed = true;
  f.panels.push_back(std::move(panel));
  e.figures.push_back(std::move(f));
}

std::vector<SeriesPiece> of_one_material(const std::vector<SeriesPiece>& all, std::string& material) {
  const auto written = [](const SeriesPiece& p) {
    std::string m = p.record->fields.text("specimen.material");
    m.erase(0, m.find_first_not_of(' '));
    m.erase(m.find_last_not_of(' ') + 1);
    return m;
  };
  const auto plain = [](std::string m) {
    std::transform(m.begin(), m.end(), m.begin(), [](unsigned char c) { return plain::lower(c); });
    return m;
  };
  material.clear();
  for (const SeriesPiece& p : all)
    if (p.beside.empty() && material.empty()) material = written(p);
  std::vector<SeriesPiece> out;
  for (const SeriesPiece& p : all)
    if (p.beside.empty() || (!material.empty() && plain(written(p)) == plain(material))) out.push_back(p);
  return out;
}

void add_over_time(Evaluation& e, const Numbers& numbers, const std::vector<SeriesPiece>& pieces,
                   const std::string& of) {
  std::vector<size_t> order;
  for (size_t i = 0; i < pieces.size(); ++i)
    if (counts(numbers.pieces[i]) && !pieces[i].record->tested_at.empty()) order.push_back(i);
  std::stable_sort(order.begin(), order.end(),
                   [&](size_t a, size_t b) { return pieces[a].record->tested_at < pieces[b].record->tested_at; });
  std::vector<double> values;
  for (size_t i : order) values.push_back(numbers.pieces[i].value);
  const auto c = statistics::individuals(values);
  if (values.size() < 4 || !c) return;  // three ranges say nothing of limits
  if (std::any_of(numbers.pieces.begin(), numbers.pieces.end(), [](const Value& v) {
        return v.there && !v.void_test && v.left_out.empty() && v.censored.has_value();
      })) {
    // Limits from the measured ones alone would be those of the weakest pieces.
    raise(e, "chart-bounds", Severity::note,
          "Pieces known only as a bound are among these: no control limits are drawn from the others alone.", {}, {},
          "mean");
    return;
  }
  const D d = numbers.spec.dimension;
  const std::string n =
      std::to_string(values.size()) + " pieces" + (of.empty() ? "" : " of " + of) + " in the order of testing";
  const double like = c->mean;
  add(e, "chart_low", "L", "lower control limit", c->low, d, 4, like, {"x̄ − 2.660·mR", n, 0, D::none, "ISO 7870-2"});
  add(e, "chart_high", "H", "upper control limit", c->high, d, 4, like, {"x̄ + 2.660·mR", n, 0, D::none, "ISO 7870-2"});
  add(e, "chart_range_high", "H_R", "limit of the step from piece to piece", c->range_high, d, 3, like,
      {"3.267·mR", n, 0, D::none, "ISO 7870-2"});
  auto name = [&](size_t k) { return numbers.pieces[order[k]].id; };
  std::string beyond;
  for (size_t k : c->beyond) beyond += (beyond.empty() ? "" : ", ") + name(k);
  if (!c->beyond.empty())
    raise(e, "out-of-control", Severity::note,
          beyond + (c->beyond.size() == 1 ? " lies" : " lie") +
              " beyond the control limits of the order of testing: look for what changed then.",
          {{"pieces", double(c->beyond.size())}}, {}, "chart_high");
  if (c->run)
    raise(e, "one-sided", Severity::note,
          "Nine pieces in a row, the last of them " + name(*c->run) +
              ", lie on one side of the mean: something drifted or was changed.",
          {{"piece", double(order[*c->run])}}, {}, "mean");
  Panel each, steps;
  each.name = "In time";
  steps.name = "Steps";
  each.x = steps.x = {"piece, in the order of testing", D::none, Axis::Scale::category};
  for (size_t k = 0; k < order.size(); ++k) each.x.categories.push_back(name(k));
  steps.x.categories = each.x.categories;
  each.y = {numbers.spec.name, d};
  each.y.with_zero = false;
  steps.y = {"step from piece to piece", d};
  steps.y.like = each.y.like = like;
  each.weight = 14;
  steps.weight = 10;
  Trace line, range;
  line.marker = range.marker = Marker::dot;
  for (size_t k = 0; k < order.size(); ++k) {
    line.x.push_back(double(k));
    line.y.push_back(values[k]);
    if (k > 0) range.x.push_back(double(k)), range.y.push_back(c->ranges[k - 1]);
  }
  Trace dots = line, range_dots = range;
  dots.kind = range_dots.kind = Trace::Kind::points;
  for (size_t k : c->beyond) dots.flags[k] = "beyond";
  for (size_t k : c->range_beyond) range_dots.flags[k - 1] = "a jump";
  for (size_t k = 0; k < order.size(); ++k)  // of others: there to be compared with
    if (!pieces[order[k]].beside.empty()) {
      dots.hollow.resize(order.size(), 0);
      dots.hollow[k] = 1;
    }
  if (!of.empty()) each.caption = of + ", whole book; hollow: of other series";
  line.weight = range.weight = 1;
  range.tone = range_dots.tone = 2;
  each.traces = {line, dots};
  steps.traces = {range, range_dots};
  auto level = [&](Panel& panel, double at, const char* label, const char* key, Mark::Tone tone) {
    Mark m;
    m.kind = Mark::Kind::level;
    m.points = {{0, at}};
    m.label = label;
    m.key = key;
    m.tone = tone;
    m.value = at;
    m.dimension = d;
    m.like = like;
    panel.marks.push_back(std::move(m));
  };
  level(each, c->mean, "mean", "mean", Mark::Tone::main);
  level(each, c->low, "lower limit", "chart_low", Mark::Tone::limit);
  level(each, c->high, "upper limit", "chart_high", Mark::Tone::limit);
  level(steps, c->range_high, "limit", "chart_range_high", Mark::Tone::limit);
  Figure f;
  f.id = "over-time";
  f.title = "In the order of testing";
  f.panels = {std::move(each), std::move(steps)};
  e.figures.push_back(std::move(f));
}

void add_curves(Evaluation& e, const Numbers& numbers, const std::vector<SeriesPiece>& pieces) {
  std::vector<const Trace*> curves;
  const Panel* like = nullptr;
  for (size_t i = 0; i < pieces.size(); ++i) {
    const Value& v = numbers.pieces[i];
    if (v.void_test || !v.left_out.empty() || pieces[i].evaluation->figures.empty()) continue;
    const Figure& first = pieces[i].evaluation->figures.front();
    const Panel* panel = first.raw || first.panels.empty() ? nullptr : &first.panels.front();
    if (panel == nullptr || panel->x.scale == Axis::Scale::category) continue;
    const auto line = std::find_if(panel->traces.begin(), panel->traces.end(), [](const Trace& t) {
      return t.kind == Trace::Kind::line && !t.pale && t.x.size() >= 8;
    });
    if (line == panel->traces.end()) continue;
    if (like != nullptr && (like->x.name != panel->x.name || like->y.name != panel->y.name))
      continue;  // strain of one, travel of another
    if (like == nullptr) like = panel;
    curves.push_back(&*line);
  }
  if (curves.size() < 2) return;
  Panel panel;
  panel.name = "Curves";
  panel.x = {like->x.name, like->x.dimension, like->x.scale};
  panel.y = {like->y.name, like->y.dimension, like->y.scale};
  for (const Trace* t : curves) {
    Trace thin;
    thin.x = t->x;
    thin.y = t->y;
    thin.pale = true;
    thin.weight = 1;
    thin.tone = 6;
    panel.traces.push_back(std::move(thin));
  }
  // Every curve as y over x, taken where it first gets there: a curve may turn back.
  std::vector<std::vector<Point>> forward;
  std::vector<double> ends;
  for (const Trace* t : curves) {
    std::vector<Point> p;
    for (size_t i = 0; i < t->x.size(); ++i)
      if (std::isfinite(t->x[i]) && std::isfinite(t->y[i]) && (p.empty() || t->x[i] > p.back().x))
        p.push_back({t->x[i], t->y[i]});
    if (p.size() < 2) continue;
    ends.push_back(p.back().x);
    forward.push_back(std::move(p));
  }
  if (forward.size() >= 3) {
    std::sort(ends.begin(), ends.end());
    double from = -HUGE_VAL;
    for (const auto& p : forward) from = std::max(from, p.front().x);
    const double to = ends[(ends.size() - 1) / 2];  // at least half of them get there
    Trace median, band;
    median.weight = 3;
    median.label = "median";
    band.kind = Trace::Kind::area;
    band.tone = 0;
    band.pale = true;
    constexpr int kSteps = 200;
    for (int i = 0; i <= kSteps && to > from; ++i) {
      const double at = from + (to - from) * i / kSteps;
      std::vector<double> ys;
      for (const auto& p : forward) {
        if (p.back().x < at) continue;
        const auto next = std::lower_bound(p.begin(), p.end(), at, [](const Point& a, double x) { return a.x < x; });
        if (next == p.begin()) {
          ys.push_back(next->y);
          continue;
        }
        const Point &b = *next, &a = *(next - 1);
        ys.push_back(a.y + (b.y - a.y) * (at - a.x) / (b.x - a.x));
      }
      std::sort(ys.begin(), ys.end());
      const auto share = [&](double q) {
        const double k = q * double(ys.size() - 1);
        const size_t j = size_t(k);
        return j + 1 < ys.size() ? ys[j] + (k - double(j)) * (ys[j + 1] - ys[j]) : ys.back();
      };
      median.x.push_back(at);
      median.y.push_back(share(0.5));
      band.x.push_back(at);
      band.y.push_back(share(5.0 / 6));
      band.base.push_back(share(1.0 / 6));
    }
    if (!median.x.empty()) {
      panel.traces.insert(panel.traces.begin(), std::move(band));
      panel.traces.push_back(std::move(median));
    }
  }
  panel.caption = std::to_string(curves.size()) + " curves; band: the middle two thirds";
  Figure f;
  f.id = "curves";
  f.title = "Curves over each other";
  f.printed = true;
  f.panels.push_back(std::move(panel));
  e.figures.push_back(std::move(f));
}

}  // namespace fortitor::series
