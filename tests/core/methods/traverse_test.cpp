// Traverses whose truth is known: a case that falls to its core as a hyperbolic tangent, indents with the scatter of a
// hardness and of its reading. What lies off is named, what does not is not.
#include <random>

#include "tests/core/methods/made.h"

namespace fortitor::traverse_test {
namespace {

struct Traverse {
  TestRecord record;
  std::vector<double> x;
  double depth = 0, width = 0;  ///< mm: middle of the fall, and its half width
};

/// `stray`: the indent whose diagonals are read too long or too short by a factor; none for a negative one.
Traverse made_traverse(std::mt19937_64& random, double scatter, int stray = -1, double factor = 1) {
  const auto between = [&](double a, double b) { return std::uniform_real_distribution<double>(a, b)(random); };
  const auto noise = [&](double sd) { return 1 + std::normal_distribution<double>(0, sd)(random); };
  Traverse t;
  const int n = int(between(9, 21));
  const double core = between(250, 450), surface = core + between(150, 450), kgf = between(0, 1) < 0.5 ? 0.3 : 1;
  t.depth = between(0.5, 1.5);
  t.width = between(0.1, 0.4);
  t.record = record_of("hardness-vickers", {{"specimen.material", {"16MnCr5"}},
                                            {"specimen.family", {"alloy steel"}},
                                            {"specimen.force", {plain_number(kgf * 9.80665, 6) + " N"}},
                                            {"specimen.thickness", {"8 mm"}},
                                            {"specimen.traverse.limit", {"550"}}});
  double x = 0.1;
  for (int i = 0; i < n; ++i) {
    const double hv = (core + (surface - core) * 0.5 * (1 - std::tanh((x - t.depth) / t.width))) * noise(scatter);
    const double d = std::sqrt(0.1891 * kgf * 9.80665 / hv) * (i == stray ? factor : 1);
    Row row;
    const auto put = [&](const char* column, double mm) {
      row.cells.set(column, reading_of(parse_quantity(fixed(mm, 4) + " mm", Dimension::length).value()));
    };
    put("x", x);
    put("d1", d * noise(0.003));
    put("d2", d * noise(0.003));
    t.record.run.tables["indents"].push_back(row);
    t.x.push_back(x);
    x += 0.05 * std::floor(between(2, 5));
  }
  return t;
}

TEST(Traverse, CleanOnesAreNotReadAgain) {
  std::mt19937_64 random(20261201);
  constexpr int kMany = 1000;
  int called = 0;
  for (int i = 0; i < kMany; ++i) {
    const double scatter = 0.004 + 0.016 * i / kMany;
    called +=
        methods::evaluate(made_traverse(random, scatter).record, {.uncertainty = false}).finding("re-read") != nullptr;
  }
  EXPECT_LE(called, kMany / 200) << "of " << kMany;
}

TEST(Traverse, AReadingThatIsOffIsNamed) {
  std::mt19937_64 random(20261202);
  constexpr int kMany = 400;
  int flat = 0, named = 0;
  for (int i = 0; i < kMany; ++i) {
    const int stray = 2 + i % 5;  // neither end
    const Traverse t = made_traverse(random, 0.008, stray, i % 2 == 0 ? 0.83 : 1.17);
    if (std::abs(t.x[size_t(stray)] - t.depth) < 2 * t.width) continue;  // on the fall it may be anything
    ++flat;
    const Evaluation e = methods::evaluate(t.record, {.uncertainty = false});
    const Finding* f = e.finding("re-read");
    named += f != nullptr && f->message.find("ndent " + std::to_string(stray + 1) + " ") != std::string::npos;
  }
  ASSERT_GT(flat, 100);
  EXPECT_GE(named, flat * 17 / 20) << "of " << flat;
}

}  // namespace
}  // namespace fortitor::traverse_test
