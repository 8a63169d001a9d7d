// Small changes of core that once went unseen, each with what it would have done.
#include <gtest/gtest.h>

#include <cmath>

#include "core/evaluation/judge.h"
#include "core/methods/hardness_vickers/model.h"
#include "core/methods/method.h"
#include "core/standin/benches.h"

namespace fortitor::unseen_test {
namespace {

TEST(Unseen, ScatterOfTwoReadersIsAboutTheirBias) {
  vickers::Readers r;
  r.difference = {1, 2, 4};
  EXPECT_NEAR(r.bias(), 7.0 / 3, 1e-12);
  EXPECT_NEAR(r.scatter(), std::sqrt(7.0 / 3), 1e-12);
}

TEST(Unseen, ChosenStrainSourceWinsOverTheUsualOne) {
  standin::SimulateOptions o;
  o.seed = 4;
  TestRecord r = standin::universal_frame().simulate(o);
  Samples both = *r.run.samples();
  const std::vector<double> extension = both.find("extension")->values;
  std::vector<double>& strain = both.column("strain").values;
  for (size_t i = 0; i < extension.size(); ++i) strain[i] = extension[i] / 50 * 2;  // a gauge that reads double
  r.run.set_samples(std::make_shared<const Samples>(both));
  const auto modulus = [&](const char* source) {
    r.fields.set("settings.strain_source", std::string(source));
    const Evaluation e = methods::evaluate(r, {.uncertainty = false});
    return e.find("e_modulus") == nullptr ? NAN : e.find("e_modulus")->value;
  };
  const double gauge = modulus("gauge"), extensometer = modulus("extensometer");
  EXPECT_NEAR(extensometer / gauge, 2, 0.05);
  EXPECT_NEAR(modulus("") / gauge, 1, 0.01) << "a gauge is the usual one";
}

TEST(Unseen, ExactlyAtALimitWithoutUncertaintyMeets) {
  for (const auto& [limit, expected] :
       {std::pair{500.0, Verdict::meets}, {500.0001, Verdict::fails}, {499.9999, Verdict::meets}}) {
    TestRecord record;
    record.method = "tension-metal";
    Limit l;
    Reading min;
    min.typed = "limit";
    min.value = limit;
    l.min = min;
    record.limits["rm"] = l;
    Evaluation e;
    e.method = record.method;
    ResultValue v;
    v.spec = *methods::find("tension-metal")->result("rm");
    v.value = 500;
    e.results.push_back(v);
    judge(e, record);
    EXPECT_EQ(e.results[0].verdict, expected) << limit;
    EXPECT_EQ(e.results[0].probability, expected == Verdict::meets ? 1 : 0) << limit;
  }
}

}  // namespace
}  // namespace fortitor::unseen_test
