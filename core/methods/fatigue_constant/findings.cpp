// What a set of fatigue points is judged by.
#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "core/methods/fatigue_constant/model.h"

namespace fortitor::sn {

using namespace ledger;
using D = Dimension;
using fatigue::MeanStress;

namespace {

constexpr double kOtherStep = 0.1;     // of the step entered: another one was run
constexpr double kScatterHolds = 0.3;  // of (N·B − A²)/N²: below it Dixon and Mood's scatter does not hold (1948)
constexpr double kSlopeKnown = 0.35;   // of the slope, with k = 2
constexpr double kSameLife = 1.0001;   // a life that rounds to the reference is not beyond it

std::string cycles_words(double n) {
  return significant(n, 3);
}

}  // namespace

void findings(Evaluation& e, const TestRecord& record, const State& s, const Values& v) {
  const std::vector<fatigue::SnPoint> points = s.counted();
  std::string declared;
  std::set<double> levels, failed_levels, ratios;
  double shortest = HUGE_VAL, longest = 0;
  for (const Point& p : s.all) {
    if (!p.counts) continue;
    if (p.declared_failed) declared += (declared.empty() ? "" : ", ") + std::to_string(p.row + 1);
    levels.insert(std::round(p.range * 1e6) / 1e6);
    if (!p.runout) failed_levels.insert(std::round(p.range * 1e6) / 1e6);
    if (std::isfinite(p.r)) ratios.insert(p.r);
    shortest = std::min(shortest, p.cycles);
    longest = std::max(longest, p.cycles);
  }
  const char* main = s.staircase ? key::staircase_mean : key::strength_2e6_mean;
  if (!declared.empty())
    raise(e, "runout-as-failure", Severity::check,
          "Point " + declared +
              " is marked failed at the cycles at which others ran out, and no origin of a crack is given. It is "
              "taken as a run-out: a test that was stopped says “at least”.",
          {}, {}, main);
  if (ratios.size() > 1 && s.rule == MeanStress::none)
    raise(e, "ratio-mixed", Severity::check,
          "The points have different stress ratios and no rule for the mean stress is chosen: one line through them "
          "mixes two things.",
          {}, {}, main);
  const std::string rule = record.fields.text("settings.mean_stress");
  if ((rule == "goodman" || rule == "gerber") && !(s.rm > 0))
    raise(e, "rm-missing", Severity::check,
          "The chosen rule for the mean stress wants the tensile strength; ranges are as tested.", {}, {}, main);
  std::map<std::string, std::string> unapplied;
  for (const Point& p : s.all)
    if (p.unapplied != nullptr && p.raw > 0)
      unapplied[p.unapplied] += (unapplied[p.unapplied].empty() ? "" : ", ") + std::to_string(p.row + 1);
  for (const auto& [why, which] : unapplied)
    raise(e, "mean-stress-unapplied", Severity::check,
          "The rule for the mean stress cannot be applied to point " + which + ": " + why +
              ". They are left out of the line.",
          {}, {}, main);
  if (s.staircase) {
    const auto asked = record.fields.number("settings.staircase.step");
    if (asked && s.step > 0 && std::abs(*asked / s.step - 1) > kOtherStep)
      raise(e, "staircase-step", Severity::check,
            "The levels were run in steps of " + si(s.step, D::stress, 3) + ", not of the " + si(*asked, D::stress, 3) +
                " entered: the step that was run is used.",
            {{"step", s.step}, {"entered", *asked}}, {}, main);
    if (!s.off_rungs.empty()) {
      std::string which;
      for (size_t row : s.off_rungs) which += (which.empty() ? "" : ", ") + std::to_string(row + 1);
      raise(e, "staircase-level", Severity::check,
            "Point " + which + " lies off the levels of the staircase, which stand " + si(s.step, D::stress, 3) +
                " apart: it is left out of Dixon and Mood's count. Typed wrong, or no piece of this staircase.",
            {}, {}, main);
    }
    if (s.stairs && !s.probit)
      raise(e, "staircase-likelihood", Severity::note,
            "Failures and run-outs mix at one level at most: the likelihood has no maximum, and says nothing about the "
            "scatter. "
            "More pieces, or smaller steps, would show it.",
            {}, {}, key::staircase_ml_sd);
    if (s.stairs && s.stairs->scatter() < kScatterHolds)
      raise(e, "staircase-scatter", Severity::check,
            "(N·B − A²)/N² is " + significant(s.stairs->scatter(), 2) +
                "; below 0.3 the scatter of Dixon and Mood does not hold." +
                (s.probit ? " Maximum likelihood gives " + si(s.probit->mean, D::stress, 4) + ", scatter " +
                                si(s.probit->sd, D::stress, 3) + "."
                          : std::string(" Maximum likelihood finds no scatter either.")),
            {{"ratio", s.stairs->scatter()}}, {}, key::staircase_sd);
    if (!s.stairs && points.size() >= 2)
      raise(e, "staircase-one-sided", Severity::check,
            "All pieces " + std::string(points.front().runout ? "ran out" : "failed") + ": the limit lies " +
                (points.front().runout ? "higher." : "lower."),
            {}, {}, key::next_level);
    return;
  }
  if (points.size() >= 2 && !s.line)
    raise(e, "too-few-levels", Severity::check,
          "A line wants failures at two levels or more; there are " + std::to_string(failed_levels.size()) + ".",
          {{"levels", double(failed_levels.size())}}, {}, main);
  if (!s.line) return;
  const fatigue::SnLine& l = *s.line;
  if (!l.slope_fixed && failed_levels.size() < 3)
    raise(e, "too-few-levels", Severity::check,
          "Failures lie at " + std::to_string(failed_levels.size()) +
              " levels; a fitted slope wants three or more, or fix it.",
          {{"levels", double(failed_levels.size())}}, {}, key::sn_slope);
  if (!l.slope_fixed && 2 * l.slope_error > kSlopeKnown * l.slope)
    raise(e, "slope-scatter", Severity::check,
          "The slope is known to ± " + percent(2 * l.slope_error / l.slope) +
              " only. More levels, further apart, or a fixed slope.",
          {{"error", l.slope_error}}, {}, key::sn_slope);
  if (kReference > longest * kSameLife || kReference < shortest)
    raise(e, "extrapolated", Severity::check,
          "The points reach from " + cycles_words(shortest) + " to " + cycles_words(longest) +
              " cycles: the range at 2·10⁶ is the line carried on, no test lies there." +
              (s.says_at_reference()
                   ? ""
                   : " Within its uncertainty the slope might as well be none: nothing can be said at 2·10⁶, and no "
                     "range is given there. Test at lower ranges, or fix the slope."),
          {{"longest", longest}}, {}, main);
  if (s.category > 0) {
    const fatigue::DetailLine detail{s.category};
    std::string below, level;
    for (const Point& p : s.all) {
      if (!p.counts) continue;
      const double life = detail.life_constant(p.range);
      if (!p.runout && p.cycles < life) below += (below.empty() ? "" : ", ") + std::to_string(p.row + 1);
      if (!std::isfinite(life)) level += (level.empty() ? "" : ", ") + std::to_string(p.row + 1);
    }
    if (!level.empty())
      raise(e, "below-limit", Severity::note,
            "Point " + level + " lies below the constant amplitude limit of category " + plain_number(s.category, 3) +
                ", " + si(detail.knee(), D::stress, 3) +
                ": no failure is expected there, and no factor on life is given (EN 1993-1-9).",
            {{"limit", detail.knee()}}, {}, key::strength_2e6_char);
    if (!below.empty())
      raise(e, "below-detail", Severity::note,
            "Point " + below + " lies below the line of category " + plain_number(s.category, 3) + ".", {}, {},
            key::strength_2e6_char);
  }
  (void)v;
}

}  // namespace fortitor::sn
