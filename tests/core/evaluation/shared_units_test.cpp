// One quantity, one unit: within a ledger, its limits, its uncertainties and its figures.
#include <set>

#include "core/figure/layout.h"
#include "tests/core/methods/method_records.h"

namespace fortitor::shared_units_test {
namespace {

TEST(SharedUnits, ForcesOfAnEvaluationHaveOneUnit) {
  size_t mixed = 0;
  for (const Method* m : methods::all())
    for (const Choice& piece : standin::find_bench(m->standin)->pieces) {
      const Evaluation e = methods::evaluate(standin::find_bench(m->standin)->simulate([&] {
        standin::SimulateOptions o;
        o.piece = piece.value;
        return o;
      }()));
      for (UnitSet set : {UnitSet::si, UnitSet::us, UnitSet::kgf}) {
        std::set<std::string> units, alone;
        for (const ResultValue& r : e.results) {
          if (r.spec.dimension != Dimension::force || r.is_text()) continue;
          units.insert(reported(r, {}, set).unit);
          units.insert(printed_uncertainty(r.expanded(), r.shown_like(), Dimension::force, set).unit);
          alone.insert(std::string(display_unit(Dimension::force, set, r.value).symbol));
        }
        EXPECT_LE(units.size(), 1u) << m->id << " " << piece.value;
        mixed += alone.size() > 1 ? 1 : 0;
        if (units.empty()) continue;
        // The axes say the same unit.
        for (const Figure& f : e.figures)
          for (const Panel& p : f.panels)
            for (const Axis* a : {&p.x, &p.y}) {
              if (a->dimension != Dimension::force || !(a->like > 0)) continue;
              EXPECT_EQ(display_unit(Dimension::force, set, a->like).symbol, *units.begin()) << m->id;
            }
      }
    }
  EXPECT_GT(mixed, 0u) << "some would have been mixed";
}

// 9 kN as a limit under 13 kN as a value is not "≥ 9000".
TEST(SharedUnits, ALimitIsShownInTheUnitOfItsResult) {
  ResultValue r;
  r.spec.dimension = Dimension::force;
  r.spec.rounding = RoundingClass::other;
  r.value = 13450;
  Evaluation e;
  e.results.push_back(r);
  r.value = 7462;
  e.results.push_back(r);
  share_units(e);
  EXPECT_EQ(reported(e.results[1], {}, UnitSet::si).unit, "kN");
  ResultValue limit = e.results[0];
  limit.value = 9000;
  EXPECT_EQ(reported(limit, {}, UnitSet::si).text(), "9.000 kN");
  // Times keep their own: 3 s beside 20 min.
  Evaluation t;
  r.spec.dimension = Dimension::time;
  for (double v : {3.0, 1200.0}) t.results.push_back((r.value = v, r));
  share_units(t);
  EXPECT_EQ(reported(t.results[0], {}, UnitSet::si).unit, "s");
  EXPECT_EQ(reported(t.results[1], {}, UnitSet::si).unit, "min");
}

TEST(SharedUnits, NothingToShareIsNoHarm) {
  Evaluation e;
  share_units(e);
  ResultValue r;
  r.spec.dimension = Dimension::force;
  r.value = NAN;
  e.results.push_back(r);
  r.text = "words";
  e.results.push_back(r);
  share_units(e);
  EXPECT_EQ(reported(e.results[1], {}, UnitSet::si).number, "words");
}

}  // namespace
}  // namespace fortitor::shared_units_test
