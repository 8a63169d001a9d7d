// Groups of a method that judges its pieces together (an S–N line, a transition): each group by itself, side by side.
#include <cmath>

#include "core/methods/support/ledger.h"
#include "core/series/groups.h"

namespace fortitor::series {
namespace {

// The curves and points of every group on one panel, each group in its own colour.
void lay_over(Figure& all, const Evaluation& one, const std::string& name, size_t g) {
  constexpr int kTones[] = {5, 2, 3, 0, 6, 4, 1};
  if (one.figures.empty() || one.figures.front().panels.empty()) return;
  const Panel& from = one.figures.front().panels.front();
  if (all.panels.empty()) {
    all.panels.emplace_back();
    all.panels.front().name = from.name;
    all.panels.front().x = from.x;
    all.panels.front().y = from.y;
  }
  bool named = false;
  for (Trace t : from.traces) {
    if (t.kind == Trace::Kind::area || t.dash == Dash::dotted) continue;  // bands of several groups hide each other
    t.tone = kTones[g % std::size(kTones)];
    t.label = !named && t.kind == Trace::Kind::line ? name : "";
    named = named || !t.label.empty();
    all.panels.front().traces.push_back(std::move(t));
  }
}

std::string words_of(const Evaluation& one, size_t pieces) {
  std::string out = std::to_string(pieces) + (pieces == 1 ? " piece" : " pieces");
  for (const ResultValue& r : one.results) {
    if (!r.spec.headline || r.is_text()) continue;
    const bool bound = r.censored && r.censored->above;
    out += ", " + plain_symbol(r.spec.symbol) + " " + (bound ? "≥ " : "") +
           format_value(r.value, r.spec.dimension, UnitSet::si, r.spec.figures);
  }
  return one.results.empty() ? out + ": too few for a judgement of their own" : out;
}

}  // namespace

void add_wholes(Evaluation& e, const Method& method, const std::vector<SeriesPiece>& pieces, const TestRecord& settings,
                const std::string& by) {
  const auto groups = parted(method, pieces, by, settings.series.empty() ? "this series" : settings.series);
  if (groups.size() < 2) return;
  Figure side_by_side;
  side_by_side.id = "groups";
  side_by_side.title = "Groups side by side";
  side_by_side.printed = true;
  for (size_t g = 0; g < groups.size(); ++g) {
    const Evaluation one = method.series.evaluate(groups[g].pieces, settings);
    const std::string key = "group_" + std::to_string(g + 1);
    auto count = [&](const char* what, const char* name, size_t n) {
      ResultValue r;
      r.spec = {key + what, "", groups[g].name + ", " + name, Dimension::none, RoundingClass::other, 6, false};
      r.value = double(n);
      e.results.push_back(std::move(r));
    };
    count("_n", "pieces", groups[g].pieces.size());
    for (ResultValue r : one.results) {
      r.spec.key = key + "_" + r.spec.key;
      r.spec.name = groups[g].name + ", " + r.spec.name;
      r.spec.headline = false;
      e.results.push_back(std::move(r));
    }
    ResultValue text;
    text.spec = {key, "", groups[g].name, Dimension::none, RoundingClass::other, 4, true};
    text.text = words_of(one, groups[g].pieces.size());
    e.results.push_back(std::move(text));
    for (Finding f : one.findings) {
      f.message = groups[g].name + ": " + f.message;
      f.result_key = key;
      if (f.severity == Severity::check && e.finding(f.code) == nullptr) e.findings.push_back(std::move(f));
    }
    lay_over(side_by_side, one, groups[g].name, g);
  }
  if (!side_by_side.panels.empty()) e.figures.push_back(std::move(side_by_side));
  if (method.series.compare) method.series.compare(e, groups, settings);
}

}  // namespace fortitor::series
