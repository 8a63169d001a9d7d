// Findings that only odd records raise: each once with its cause and once without it.
#include "core/series/series.h"
#include "tests/core/methods/method_records.h"

namespace fortitor::rare_findings_test {
namespace {

TestRecord simulated(const char* method, const char* piece = "", uint64_t seed = 4) {
  standin::SimulateOptions o;
  o.seed = seed;
  o.piece = piece;
  TestRecord r = standin::find_bench(methods::find(method)->standin)->simulate(o);
  r.method = method;
  return r;
}

bool found(const TestRecord& r, const char* code) {
  return methods::evaluate(r, {.uncertainty = false}).finding(code) != nullptr;
}

TEST(RareFindings, ABlockBondThatFailedInPartIsACheckAndInTheMainAVoidTest) {
  TestRecord r = simulated("flatwise-tension", "foam-core");
  auto shares = [&](const char* core, const char* bond, const char* block) {
    standin::type_into(r, "specimen.failure.core", core);
    standin::type_into(r, "specimen.failure.bond", bond);
    standin::type_into(r, "specimen.failure.face", "0 %");
    standin::type_into(r, "specimen.failure.block", block);
  };
  shares("80 %", "10 %", "10 %");
  EXPECT_TRUE(found(r, "block-bond-part"));
  EXPECT_FALSE(found(r, "block-bond"));
  shares("20 %", "10 %", "70 %");
  EXPECT_TRUE(found(r, "block-bond"));
  EXPECT_EQ(methods::evaluate(r).verdict, Verdict::void_test);
  shares("50 %", "0 %", "50 %");
  EXPECT_TRUE(found(r, "block-bond")) << "half of it is the adhesive's: the panel was not tested";
  shares("90 %", "10 %", "0 %");
  EXPECT_FALSE(found(r, "block-bond"));
  EXPECT_FALSE(found(r, "block-bond-part"));
}

TEST(RareFindings, ConditioningThatWasTooShort) {
  TestRecord r = simulated("tension-plastic", "polyamide");
  standin::type_into(r, "conditions.stated", "88 h");
  standin::type_into(r, "conditions.hours", "72 h");
  EXPECT_TRUE(found(r, "conditioning-short"));
  standin::type_into(r, "conditions.hours", "88 h");
  EXPECT_FALSE(found(r, "conditioning-short"));
}

TEST(RareFindings, AModulusThatTheCurveDoesNotHold) {
  TestRecord r = simulated("tension-plastic", "polyamide");
  EXPECT_FALSE(found(r, "modulus-missing"));
  auto s = std::make_shared<Samples>(*r.run.samples());
  size_t end = 0;  // the run stops before 0.25 % strain
  const auto& ext = s->find("extension")->values;
  while (end < ext.size() && !(ext[end] > 0.0012 * 50)) ++end;
  for (Channel& c : s->channels) c.values.resize(end);
  r.run.set_samples(s);
  EXPECT_TRUE(found(r, "modulus-missing"));
}

TEST(RareFindings, ALateralStrainLoggedWithTheSignOfTheAxialOne) {
  for (double sign : {1.0, -1.0}) {
    TestRecord r = record_of("tension-composite", {{"specimen.section.shape", {"flat"}},
                                                   {"specimen.section.width", {"25.0 mm", "25.1 mm", "24.9 mm"}},
                                                   {"specimen.section.thickness", {"2.0 mm", "2.01 mm", "1.99 mm"}},
                                                   {"equipment.load_cell.capacity", {"100 kN"}}});
    Channel time{"time", {}}, force{"force", {}}, axial{"strain", {}}, lateral{"strain_lateral", {}};
    for (int i = 0; i < 1000; ++i) {
      const double e = i < 20 ? 0 : 0.012 * (i - 20) / 980;
      time.values.push_back(0.05 * i);
      force.values.push_back(60e3 * e * 50);
      axial.values.push_back(e);
      lateral.values.push_back(sign * 0.1 * e);
    }
    for (int i = 0; i < 6; ++i) {
      time.values.push_back(time.values.back() + 0.05);
      force.values.push_back(1);
      axial.values.push_back(0.012);
      lateral.values.push_back(sign * 0.0012);
    }
    set_channels(r, {time, force, axial, lateral});
    const Evaluation e = methods::evaluate(r);
    EXPECT_NEAR(value_of(e, "nu12"), 0.1, 1e-3) << sign;
    EXPECT_EQ(e.finding("sign-lateral") != nullptr, sign > 0);
  }
}

TEST(RareFindings, WoodThatCrushedAtASupport) {
  TestRecord r = simulated("flexure-beam", "ash");
  EXPECT_FALSE(found(r, "support-crush"));
  standin::type_into(r, "specimen.after.support_crush", "true");
  EXPECT_TRUE(found(r, "support-crush"));
}

TEST(RareFindings, ZerosThatWereNotReadAgain) {
  TestRecord r = simulated("poisson-gauge", "titanium");
  EXPECT_FALSE(found(r, "zero-not-read"));
  for (const char* column : {"strain_long", "strain_lat"}) r.fields.erase(std::string("run.unload.") + column);
  EXPECT_TRUE(found(r, "zero-not-read"));
}

TEST(RareFindings, APieceThatGivesWayWhileItIsLoaded) {
  TestRecord r = simulated("flexure-beam", "ash");
  r.fields.erase("specimen.after.broke_between");
  r.run.open = true;
  EXPECT_TRUE(found(r, "giving-way")) << "the line was left long ago";
  Rows& rows = r.run.tables["stations"];
  rows.resize(6);
  EXPECT_FALSE(found(r, "giving-way")) << "still on the line";
}

TEST(RareFindings, ASeriesOfTwoLotsIsNotNormal) {
  std::vector<TestRecord> records;
  std::vector<Evaluation> evaluations;
  const Method& m = *methods::find("crush-shell");
  auto add = [&](double value) {
    TestRecord r;
    r.method = m.id;
    r.fields.set("specimen.id", "P-" + std::to_string(records.size()));
    Evaluation e;
    ResultValue v;
    v.spec = *m.result("peak_force");
    v.value = value;
    e.results.push_back(v);
    records.push_back(r);
    evaluations.push_back(e);
  };
  for (int i = 0; i < 10; ++i) add(18000 + 10 * i);
  auto judged = [&] {
    std::vector<SeriesPiece> pieces;
    for (size_t i = 0; i < records.size(); ++i) pieces.push_back({&records[i], &evaluations[i]});
    return series_evaluate(m, pieces, {});
  };
  EXPECT_EQ(judged().finding("not-normal"), nullptr);
  for (int i = 0; i < 10; ++i) add(12000 + 10 * i);
  EXPECT_NE(judged().finding("not-normal"), nullptr);
}

}  // namespace
}  // namespace fortitor::rare_findings_test
