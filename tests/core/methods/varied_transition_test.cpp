// Blows over temperatures as they come: steep and flat transitions, shelves seen or not, few and many sets, scatter, a blow that
// went wrong; what the fit says of each is kept as text.
#include <cmath>
#include <sstream>

#include "core/series/series.h"
#include "tests/core/methods/chance.h"
#include "tests/core/methods/impact_records.h"
#include "tests/core/methods/kept_text.h"
#include "tests/core/methods/short_text.h"

namespace fortitor::varied_transition_test {
namespace {

TEST(KeptNumbersVariedTransitions, OfBlowsAtRandom) {
  const Method& m = *methods::find("impact-pendulum");
  std::string now;
  for (uint64_t seed = 1; seed <= 200; ++seed) {
    Chance chance(seed);
    const double lower = 4 + 20 * chance.share(), upper = 40 + 200 * chance.share(), middle = -90 + 120 * chance.share(), width = 5 + 40 * chance.share();
    const double scatter = std::pow(10, 1.5 * chance.share() - 0.3);
    std::vector<TestRecord> records;
    const size_t sets = 2 + chance.below(9), blows = 1 + chance.below(4);
    double t = -100 + 60 * chance.share();
    for (size_t i = 0; i < sets; ++i) {
      std::vector<std::string> energies;
      for (size_t k = 0; k < blows; ++k)
        energies.push_back(plain_number(std::max(1.0, 0.5 * (lower + upper) + 0.5 * (upper - lower) * std::tanh((t - middle) / width) + scatter * chance.normal() + (chance.below(40) == 0 ? 60 : 0)), 5) + " J");
      records.push_back(beam(energies, plain_number(std::round(t), 4) + " °C"));
      t += chance.below(10) == 0 ? 0 : 5 + 30 * chance.share();
    }
    std::vector<Evaluation> evaluations;
    for (const TestRecord& r : records) evaluations.push_back(methods::evaluate(r, {.uncertainty = false}));
    std::vector<SeriesPiece> pieces;
    for (size_t i = 0; i < records.size(); ++i) pieces.push_back({&records[i], &evaluations[i]});
    const Evaluation e = series_evaluate(m, pieces, {});
    std::ostringstream out;
    out << "== " << seed << " " << shortest_text(e);
    for (const ResultValue& r : e.results)
      if (!r.is_text()) out << " " << r.spec.key << " " << num(r.value) << (r.standard_uncertainty > 0 ? " ± " + num(r.expanded()) : "") << (r.censored ? r.censored->above ? " up" : " down" : "");
    for (const Finding& f : e.findings) out << " " << f.code;
    out << "\n";
    Told all;
    all.add(kept_text(e));
    now += out.str() + "  " + all.text() + "\n";
  }
  hold_kept("varied-transitions", now);
}

}  // namespace
}  // namespace fortitor::varied_transition_test
