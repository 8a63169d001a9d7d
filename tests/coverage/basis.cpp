// How often A- and B-basis lie below the quantile they stand for, each model on its own distribution.
#include <algorithm>
#include <cmath>

#include "core/statistics/batches.h"
#include "tests/coverage/lab.h"

namespace fortitor::coverage {
namespace {

constexpr double kMean = 500, kScatter = 25, kBetween = 12;
constexpr double kQuantileA = 2.3263478740, kQuantileB = 1.2815515655;  // of a normal, 99 and 90 % above

struct Population {
  const char* name;
  double shape;    // of a Weibull; 0: normal
  double between;  // deviation between three batches
};
constexpr Population kPopulations[] = {
    {"normal", 0, 0}, {"Weibull 8", 8, 0}, {"Weibull 20", 20, 0}, {"three batches", 0, kBetween}};

std::vector<std::vector<double>> sample(const Population& p, size_t n, Draw& draw) {
  std::vector<std::vector<double>> batches(3);
  for (auto& one : batches) {
    const double off = p.between > 0 ? draw.normal(p.between) : 0;
    for (size_t i = 0; i < n / 3; ++i)
      one.push_back(p.shape > 0 ? kMean * std::pow(-std::log(draw.between(0, 1)), 1 / p.shape)
                                : kMean + off + draw.normal(kScatter));
  }
  return batches;
}

}  // namespace

std::vector<BasisHeld> basis_held(int samples) {
  using namespace statistics;
  std::vector<BasisHeld> out;
  for (const Population& p : kPopulations)
    for (size_t n : {6, 12, 18, 30}) {
      BasisHeld h{p.name, n};
      const double sd = std::hypot(kScatter, p.between);
      const auto quantile = [&](double deviations, double content) {
        return p.shape > 0 ? kMean * std::pow(-std::log(content), 1 / p.shape) : kMean - deviations * sd;
      };
      Draw draw(n);
      int a = 0, b = 0;
      for (int i = 0; i < samples; ++i) {
        const auto batches = sample(p, n, draw);
        std::vector<double> all;
        for (const auto& one : batches) all.insert(all.end(), one.begin(), one.end());
        const auto basis = p.between > 0 ? batch_basis(batches)
                                         : basis_by(p.shape > 0 ? BasisModel::weibull : BasisModel::normal, all);
        if (!basis || !basis->a || !basis->b) continue;
        a += *basis->a <= quantile(kQuantileA, 0.99);
        b += *basis->b <= quantile(kQuantileB, 0.90);
      }
      h.a = double(a) / samples;
      h.b = double(b) / samples;
      out.push_back(h);
    }
  return out;
}

}  // namespace fortitor::coverage
