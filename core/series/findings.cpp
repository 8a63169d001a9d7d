// What a series says of itself: too few, outliers, what was left out, bounds, batches, suspects for the scatter.
#include <algorithm>
#include <cmath>

#include "core/methods/support/ledger.h"
#include "core/series/statistics_of.h"

namespace fortitor::series {

using ledger::raise;

std::string shown(double v, const ResultSpec& spec, int figures, double like) {
  if (like == 0) return format_value(v, spec.dimension, UnitSet::si, figures);
  const Unit& unit = display_unit(spec.dimension, UnitSet::si, like);
  return significant(v / unit.factor, figures) + (unit.symbol.empty() ? "" : " ") + std::string(unit.symbol);
}

std::string count(size_t n, const char* one, const char* many) {
  return std::to_string(n) + (n == 1 ? one : many);
}

namespace {

void suspect_findings(Evaluation& e, const Numbers& r) {
  for (const Suspect& t : r.suspects) {
    // One unit for all three: a mean of 18.2 kN and a difference of −4419 N are hard to set side by side.
    const double like =
        std::max(std::abs(t.mean_ticked), std::isfinite(t.mean_unticked) ? std::abs(t.mean_unticked) : 0);
    const auto said = [&](double v) { return shown(v, r.spec, 4, like); };
    const std::string means = "mean " + said(t.mean_ticked) + " with, " +
                              (std::isfinite(t.mean_unticked) ? said(t.mean_unticked) : std::string("none")) +
                              " without";
    std::map<std::string, double> evidence = {{"ticked", double(t.ticked)}, {"mean_ticked", t.mean_ticked}};
    if (std::isfinite(t.mean_unticked)) evidence["mean_unticked"] = t.mean_unticked;
    std::string sentence = t.label + ": " + means;
    if (!t.welch) {
      sentence += "; at least two pieces with and two without are wanted for a test.";
    } else {
      evidence["t"] = t.welch->t;
      evidence["p"] = t.welch->p;
      sentence += ", difference " + said(t.welch->difference) + " (t = " + significant(t.welch->t, 3) +
                  ", p = " + significant(t.welch->p, 2) + "): " +
                  (t.welch->p < 0.01   ? "it explains scatter."
                   : t.welch->p < 0.05 ? "it may explain scatter."
                                       : "the data do not speak for it.");
    }
    raise(e, "suspect", Severity::note, std::move(sentence), std::move(evidence), {}, t.path);
  }
}

// Fewer values or batches than a basis of a material wants, and what came of the batches (CMH-17, 8.2.4, 8.3.2).
void basis_findings(Evaluation& e, const Numbers& r) {
  constexpr size_t kValues = 18, kBatches = 3;
  if (r.batches_test)
    raise(
        e, "batches", Severity::note,
        std::to_string(r.batches) + " batches: " +
            (r.batches_test->alike() ? "they may be thrown together" : "they differ, and A and B are taken over them") +
            " (k-sample Anderson–Darling, " + significant(r.batches_test->statistic, 3) + " against " +
            significant(r.batches_test->critical, 3) + ").",
        {{"statistic", r.batches_test->statistic}, {"critical", r.batches_test->critical}}, {}, "b_basis");
  if (r.basis_negative)
    raise(e, "basis-negative", Severity::note,
          "A basis value came out below nothing, which this quantity cannot be: with so much scatter in so few pieces "
          "none is given.",
          {}, {}, "b_basis");
  if (r.rival && r.basis && r.basis->a && r.basis->b)
    raise(e, "basis-model", Severity::note,
          "A Weibull fits these values about as well as the normal that was taken: by it A is " +
              shown(*r.rival->a, r.spec) + " and B " + shown(*r.rival->b, r.spec) + ", not " +
              shown(*r.basis->a, r.spec) + " and " + shown(*r.basis->b, r.spec) +
              ". So many values do not tell the two apart; what is known of the material does, or more of them.",
          {{"a", *r.rival->a}, {"b", *r.rival->b}}, {}, "a_basis");
  if (!r.basis || (!r.basis->a && !r.basis->b) || (r.counted.n >= kValues && r.batches >= kBatches)) return;
  raise(e, "basis-few", Severity::note,
        "A and B rest on " + count(r.counted.n, " value", " values") +
            (r.batches > 0 ? " of " + count(r.batches, " batch", " batches") : std::string(" without named lots")) +
            "; eighteen of three batches are wanted before they stand for a material.",
        {{"values", double(r.counted.n)}, {"batches", double(r.batches)}}, {}, "b_basis");
}

}  // namespace

void add_findings(Evaluation& e, const Numbers& r) {
  if (r.counted.n == 0 && r.bounds > 0)
    raise(e, "all-bounds", Severity::check,
          "All " + count(r.bounds, " piece is", " pieces are") + " known only as a bound, the lowest ≥ " +
              shown(r.lowest, r.spec) + ": there is no mean and no scatter.",
          {{"bounds", double(r.bounds)}}, {}, "least");
  else if (r.counted.n == 0)
    raise(e, "few", Severity::note, "No piece has a measured value yet.");
  else if (r.counted.n == 1)
    raise(e, "few", Severity::note, "One piece has no scatter to speak of.");
  for (size_t i : r.outliers)
    raise(e, "outlier", Severity::check,
          r.pieces[i].id + " (" + shown(r.pieces[i].value, r.spec) +
              ") lies apart from the rest (Grubbs, 5 % over all steps). It stays in: leaving it out needs a physical "
              "reason.",
          {{"piece", double(i)}, {"value", r.pieces[i].value}}, {}, "sd");
  if (r.left_out > 0)
    raise(e, "left-out", Severity::note,
          std::to_string(r.left_out) + " left out with a reason: mean " +
              (r.counted.n > 0 ? shown(r.counted.mean, r.spec) : std::string("none")) + " without, " +
              (r.all.n > 0 ? shown(r.all.mean, r.spec) : std::string("none")) + " with.",
          {{"left_out", double(r.left_out)}}, {}, "mean");
  if (r.normality && r.normality->p < 0.05)
    raise(e, "not-normal", Severity::note,
          "The values do not look normal (Anderson–Darling, p = " + significant(r.normality->p, 2) +
              "): mixed lots, or a suspect." +
              (!r.basis ? std::string()
               : r.basis->model == statistics::BasisModel::weibull
                   ? " A and B are those of a Weibull (p = " + significant(r.weibull->p, 2) + ")."
                   : " A and B are taken without any shape, from the order of the values."),
          {{"p", r.normality->p}}, {}, "normality_p");
  if (r.bounds > 0)
    raise(e, "bounds", Severity::note,
          count(r.bounds, " piece is", " pieces are") + " known only as a bound" +
              (r.likelihood ? "; by maximum likelihood the mean is " + shown(r.likelihood->mean, r.spec) + ", s " +
                                  shown(r.likelihood->sd, r.spec, 3)
                            : std::string()) +
              ".",
          {{"bounds", double(r.bounds)}}, {}, "mean");
  basis_findings(e, r);
  if (r.voids > 0)
    raise(e, "voids", Severity::note, count(r.voids, " test is", " tests are") + " void and counted apart.",
          {{"void", double(r.voids)}});
  suspect_findings(e, r);
}

}  // namespace fortitor::series
