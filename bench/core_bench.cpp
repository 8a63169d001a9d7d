// Speeds that people feel: reading a machine's file, and evaluating while a hand drags.
// Wanted on one core: CSV ≥ 150 MB/s; 100 000 samples < 30 ms; 1 000 000 samples < 500 ms.
#include <benchmark/benchmark.h>

#include <cmath>
#include <cstdio>
#include <random>

#include "core/methods/method.h"
#include "core/record/csv.h"
#include "core/standin/tension_bench.h"

namespace fortitor {
namespace {

std::string plain_csv(size_t rows, char separator, char decimal) {
  std::string text = "t;F;e;x\ns;kN;mm;mm\n";
  for (char& c : text)
    if (c == ';') c = separator;
  char line[128];
  std::mt19937 random(1);
  for (size_t i = 0; i < rows; ++i) {
    const int n = std::snprintf(line, sizeof line, "%.3f;%.5f;%.6f;%.5f\n", double(i) * 0.001,
                                double(random() % 5000000) / 1e5, double(random() % 9000000) / 1e6, double(i) * 1e-4);
    for (int k = 0; k < n; ++k) text += line[k] == ';' ? separator : line[k] == '.' ? decimal : line[k];
  }
  return text;
}

void csv_point(benchmark::State& state) {
  const std::string text = plain_csv(1000000, ',', '.');
  for (auto _ : state) benchmark::DoNotOptimize(parse_csv(text));
  state.SetBytesProcessed(int64_t(state.iterations()) * int64_t(text.size()));
}
BENCHMARK(csv_point)->Unit(benchmark::kMillisecond);

void csv_comma(benchmark::State& state) {
  const std::string text = plain_csv(1000000, ';', ',');
  for (auto _ : state) benchmark::DoNotOptimize(parse_csv(text));
  state.SetBytesProcessed(int64_t(state.iterations()) * int64_t(text.size()));
}
BENCHMARK(csv_comma)->Unit(benchmark::kMillisecond);

// A stand-in run drawn out to `n` samples, with its noise.
TestRecord long_record(const char* metal, size_t n) {
  TestRecord r = standin::simulate_tension({.metal = metal, .seed = 3});
  const Samples& s = *r.run.samples();
  auto out = std::make_shared<Samples>();
  std::mt19937 random(2);
  std::normal_distribution<double> noise;
  const size_t m = s.size();
  for (const Channel& c : s.channels) {
    const double sigma = c.name == "force" ? 1.5 : c.name == "time" ? 0 : 2e-5;
    Channel longer{c.name, {}};
    for (size_t i = 0; i < n; ++i) {
      const double at = double(i) * double(m - 6) / double(n);
      const size_t k = size_t(at);
      const double v = c.values[k] + (at - double(k)) * (c.values[k + 1] - c.values[k]);
      longer.values.push_back(v + sigma * noise(random));
    }
    longer.values.insert(longer.values.end(), c.values.end() - 6, c.values.end());
    out->channels.push_back(std::move(longer));
  }
  r.run.set_samples(out);
  return r;
}

void evaluate(benchmark::State& state, const char* metal) {
  const TestRecord r = long_record(metal, size_t(state.range(0)));
  for (auto _ : state) benchmark::DoNotOptimize(methods::evaluate(r));
}
BENCHMARK_CAPTURE(evaluate, steel, "mild-steel")->Arg(5000)->Arg(100000)->Arg(1000000)->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(evaluate, aluminium, "aluminium")->Arg(100000)->Arg(1000000)->Unit(benchmark::kMillisecond);

}  // namespace
}  // namespace fortitor
