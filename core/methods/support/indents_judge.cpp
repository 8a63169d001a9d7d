// What indents are judged by, whatever made them: the reading that seats the parts, strays, the block, thickness, room.
#include <algorithm>
#include <cmath>

#include "core/methods/support/indents.h"
#include "core/statistics/sample.h"

namespace fortitor::indents {

using namespace fortitor::ledger;
using statistics::mean_of;

namespace {

std::string mm(double v) {
  return significant(v, 3) + " mm";
}

struct Crowding {
  double ratio = HUGE_VAL;  ///< distance it has over distance it needs
  double has = 0, needs = 0, size = 0;
  size_t a = 0, b = 0;  ///< rows; b = SIZE_MAX: the edge
};

// The worst pair and the worst distance to an edge. Sorted along x, so that far pairs are never looked at.
Crowding worst(const IndentSet& set, const Spacing& spacing, const std::vector<double>& widths) {
  struct Placed {
    double x, y, w;
    size_t row;
  };
  std::vector<Placed> placed;
  double largest = 0;
  for (const Indent& i : set.all) {
    const double w = i.row < widths.size() ? widths[i.row] : NAN;
    if (!i.x || !std::isfinite(w) || !(w > 0)) continue;
    placed.push_back({*i.x, i.y.value_or(0), w, i.row});
    largest = std::max(largest, w);
  }
  Crowding c;
  auto take = [&](double has, double needs, double size, size_t a, size_t b) {
    if (has / needs < c.ratio) c = {has / needs, has, needs, size, a, b};
  };
  for (const Placed& p : placed) {
    double edge = set.face.to_edge(p.x, p.y);
    if (set.traverse) edge = std::min(edge, p.x);
    if (std::isfinite(edge)) take(edge, spacing.edge * p.w, p.w, p.row, SIZE_MAX);
  }
  std::sort(placed.begin(), placed.end(), [](const Placed& a, const Placed& b) { return a.x < b.x; });
  for (size_t i = 0; i < placed.size(); ++i)
    for (size_t k = i + 1; k < placed.size() && placed[k].x - placed[i].x < spacing.apart * largest; ++k) {
      const double w = std::max(placed[i].w, placed[k].w);
      take(std::hypot(placed[i].x - placed[k].x, placed[i].y - placed[k].y), spacing.apart * w, w,
           std::min(placed[i].row, placed[k].row), std::max(placed[i].row, placed[k].row));
    }
  return c;
}

// A reading far from all others of a set that ought to be alike: the others lie together, it does not. The piece may be
// so; or 16 was typed for 61.
void judge_stray(Evaluation& e, const TestRecord& record, const IndentSet& set, const std::string& key) {
  constexpr double kOfSpread = 5,
                   kOfValue = 0.1;  // times the spread of the others, and at least a tenth of their middle
  std::vector<std::pair<double, size_t>> read;
  for (const Indent& i : set.all)
    if (i.counts) read.push_back({i.hardness, i.row});
  if (read.size() < 3) return;
  std::string rows, values;
  std::vector<double> rest;
  std::vector<size_t> stray;
  for (const auto& [value, row] : read) {
    std::vector<double> others;
    for (const auto& [other, at] : read)
      if (at != row) others.push_back(other);
    std::sort(others.begin(), others.end());
    const double middle = 0.5 * (others[(others.size() - 1) / 2] + others[others.size() / 2]);
    // Their spread without the farthest of them, which may be as stray as this one.
    const double spread = others.size() > 3 ? std::min(others[others.size() - 2] - others[0], others.back() - others[1])
                                            : others.back() - others.front();
    if (std::abs(value - middle) <= std::max(kOfSpread * spread, kOfValue * std::abs(middle))) {
      rest.push_back(value);
      continue;
    }
    stray.push_back(row);
    rows += (rows.empty() ? "" : ", ") + std::to_string(row + 1);
    values += (values.empty() ? "" : ", ") + significant(value, 4);
  }
  if (rows.empty() || rest.size() < 2) return;
  std::vector<Remedy> remedies = {{"accept", "Keep it, with a reason", {}, true}};
  const TableSpec* table = methods::find(record.method)->keyed_table();
  if (stray.size() == 1 && table != nullptr)
    remedies.insert(remedies.begin(), {"set-aside",
                                       "Set it aside",
                                       {{"run." + table->id + "." + std::to_string(stray[0]) + ".state", "set aside"}},
                                       true});
  raise(e, "re-read", Severity::check,
        "Reading " + rows + " (" + values + ") lies far from the others, whose mean is " +
            significant(mean_of(rest), 4) + "; with it the mean is " + significant(mean_of(set.hardnesses()), 4) +
            ". Look at it again: read or typed wrong, on another phase, or too close to something. Set it aside with a "
            "word, "
            "or keep it.",
        {{"without", mean_of(rest)}, {"with", mean_of(set.hardnesses())}}, remedies, key);
}

void judge_block(Evaluation& e, const IndentSet& set, const std::string& key) {
  if (!set.certified) return;
  auto judge = [&](const std::vector<double>& readings, const char* when) {
    if (readings.empty()) return;
    const double error = mean_of(readings) - *set.certified;
    if (!set.tolerance) {
      // The machines' standards (ISO 6506-2, 6507-2, 6508-2, 4545-2) allow 2 to 4 %, or 1.5 to 4 of a Rockwell scale.
      constexpr double kAllowed = 0.03;
      if (std::abs(error) > kAllowed * std::abs(*set.certified))
        raise(e, "block-off", Severity::check,
              "The reference block of " + significant(*set.certified, 4) + " read " +
                  significant(mean_of(readings), 4) + " " + when + " the work, " + significant(std::abs(error), 3) +
                  (error > 0 ? " too high" : " too low") +
                  ". No tolerance is entered for it, but that is more than any machine in order is off. The readings "
                  "are not "
                  "corrected by it. Enter the tolerance, find the cause, or repeat them on a machine that is in order.",
              {{"block_error", error}}, {}, key);
      return;
    }
    if (std::abs(error) <= *set.tolerance) return;
    raise(e, "block-off", Severity::check,
          "The reference block of " + significant(*set.certified, 4) + " read " + significant(mean_of(readings), 4) +
              " " + when + " the work, " + significant(std::abs(error), 3) + (error > 0 ? " too high" : " too low") +
              "; it allows ± " + significant(*set.tolerance, 3) +
              ". The readings stand on a machine that is off: they are not corrected by it. Find the cause, or "
              "repeat them on one that is in order.",
          {{"block_error", error}, {"tolerance", *set.tolerance}}, {}, key);
  };
  // What is off at one level says little of another (ISO 6506-2, 6507-2, 6508-2 ask for a block near the work).
  constexpr double kNear = 0.15;
  const double mean = set.mean();
  if (std::isfinite(mean) && std::abs(mean - *set.certified) > kNear * *set.certified)
    raise(e, "block-far", Severity::note,
          "The block is one of " + significant(*set.certified, 4) + " and the work reads " + significant(mean, 4) +
              ": take a block near the work, or say little of the machine by it.",
          {{"certified", *set.certified}, {"mean", mean}}, {}, key);
  judge(set.block, "before");
  if (e.finding("block-off") == nullptr) judge(set.block_after, "after");
}

}  // namespace

void judge_derived(Evaluation& e, const TestRecord& record, const std::string& scale, double mean) {
  const std::string to = record.fields.text("settings.convert_to"), family = record.fields.text("specimen.family");
  if (to.empty() || to == "none" || !std::isfinite(mean)) return;
  std::string why;
  if (!converts(family))
    why = family.empty()
              ? "the family of the material is not given, and the table holds for non-austenitic steels alone."
              : "the table holds for non-austenitic steels, not for " + family + ".";
  else if (const auto converted = convert_hardness(mean, scale, to); !converted)
    why = converted.error().message;
  if (why.empty()) return;
  raise(e, "conversion-refused", Severity::check,
        "No conversion of " + significant(mean, 4) + " " + scale + " to " + to + " is made: " + why, {{"value", mean}},
        {{"none", "Do without it", {{"settings.convert_to", "none"}}, false}}, "converted");
}

void judge_common(Evaluation& e, const TestRecord& record, const IndentSet& set, const std::string& key, double needed,
                  const std::string& needed_words, const Spacing& spacing, const std::vector<double>& widths) {
  if (set.first_aside)
    raise(e, "first-reading-aside", Severity::note,
          "The first reading after a change of indenter, anvil or block seats the parts: it is set aside.", {},
          {{"keep", "Take it back in", {{"settings.first_reading", "keep"}}}}, key);
  if (set.first_kept)
    raise(e, "first-reading-kept", Severity::check,
          "The first reading after a change of indenter, anvil or block was taken back in: it seats the parts and "
          "mostly reads low.",
          {},
          {{"aside", "Set it aside", {{"settings.first_reading", "aside"}}},
           {"accept", "Keep it, with a reason", {}, true}},
          key);
  judge_block(e, set, key);
  if (!set.traverse) judge_stray(e, record, set, key);
  const size_t n = set.count();
  if (n > 0 && n < 3 && !set.traverse)
    raise(e, "few-indents", Severity::note,
          (n == 1 ? "One indent stands" : "Two indents stand") + std::string(" alone: three to five tell the scatter."),
          {{"indents", double(n)}}, {}, key);
  const auto thickness = record.fields.number("specimen.thickness");
  if (thickness && std::isfinite(needed) && *thickness < needed)
    raise(e, "too-thin", Severity::check,
          "The piece is " + mm(*thickness) + " thick and this indent wants at least " + mm(needed) + " (" +
              needed_words + "): the support is measured too. Use less force.",
          {{"thickness", *thickness}, {"min_thickness", needed}}, {}, key);
  const Crowding c = worst(set, spacing, widths);
  if (c.ratio < 1 - 1e-9) {
    const bool edge = c.b == SIZE_MAX;
    raise(e, "too-close", Severity::check,
          (edge ? "Indent " + std::to_string(c.a + 1) + " lies " + mm(c.has) + " from the edge"
                : "Indents " + std::to_string(c.a + 1) + " and " + std::to_string(c.b + 1) + " lie " + mm(c.has) +
                      " apart") +
              "; " + significant(edge ? spacing.edge : spacing.apart, 3) + " times a " + spacing.word + " of " +
              mm(c.size) + " makes " + mm(c.needs) + ".",
          {{"has", c.has}, {"needs", c.needs}}, {}, key);
  }
}

}  // namespace fortitor::indents
