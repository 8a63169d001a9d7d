// Speeds that people feel: reading a machine's file, and evaluating while a hand drags.
// Wanted on one core: CSV ≥ 300 MB/s; 100 000 samples < 30 ms; 1 000 000 samples < 500 ms; a day of 60 runs < 100 ms.
#include <benchmark/benchmark.h>

#include <chrono>
#include <cmath>
#include <cstdio>
#include <memory>
#include <random>

#include "core/bench/agenda.h"
#include "core/memory.h"
#include "core/methods/method.h"
#include "core/quantity/parse.h"
#include "core/record/csv.h"
#include "core/standin/benches.h"
#include "core/standin/recording.h"
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

// A run of so many hours at 1 kHz on four channels: what one second of it costs at its beginning and at its end, live
// view and evaluation of it included, and how much memory it takes beyond 8 bytes a channel and sample.
// Wanted: the same cost at the end as at the beginning; at most 100 MB beyond.
void long_run(benchmark::State& state) {
  const size_t seconds = size_t(state.range(0)) * 3600, rate = 1000;
  auto resident = [] {
    long pages = 0, all = 0;
    if (std::FILE* f = std::fopen("/proc/self/statm", "r")) {
      if (std::fscanf(f, "%ld %ld", &all, &pages) != 2) pages = 0;
      std::fclose(f);
    }
    return double(pages) * 4096 / 1e6;
  };
  TestRecord r = standin::simulate_tension({.seed = 3});
  const double before = resident();
  for (auto _ : state) {
    Recording run({{"time", "", Dimension::time},
                   {"force", "", Dimension::force},
                   {"extension", "", Dimension::length},
                   {"crosshead", "", Dimension::length}});
    double first = 0, last = 0;
    for (size_t s = 0; s < seconds; ++s) {
      const auto start = std::chrono::steady_clock::now();
      MachineColumns part(4);
      for (size_t i = s * rate; i < (s + 1) * rate; ++i) {
        const double t = double(i) / double(rate), e = 0.15 * t / double(seconds);
        part[0].push_back(t);
        part[1].push_back(40e3 * e / (e + 0.01) + double(i % 7));
        part[2].push_back(50 * e);
        part[3].push_back(60 * e);
      }
      run.append(part);
      const SamplesPtr live = run.live();
      benchmark::DoNotOptimize(live);
      if (s < 20 || s + 20 >= seconds) {
        r.run.set_samples(live);
        benchmark::DoNotOptimize(methods::evaluate(r, {.uncertainty = false}));
        const double took = std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
        (s < 20 ? first : last) += took / 20;
      }
    }
    state.counters["first_s_ms"] = 1e3 * first;
    state.counters["last_s_ms"] = 1e3 * last;
    state.counters["MB_beyond"] = resident() - before - 32e-6 * double(seconds * rate);
  }
}
BENCHMARK(long_run)->Arg(1)->Arg(8)->Iterations(1)->Unit(benchmark::kSecond);

// A strike sampled at 10 MHz. Wanted: a million samples under 100 ms.
void strike(benchmark::State& state) {
  TestRecord r;
  r.method = "drop-impact";
  for (const auto& [path, typed] : {std::pair{"specimen.thickness", "4.2 mm"},
                                    {"specimen.mass", "5.5 kg"},
                                    {"specimen.energy_per_thickness", "6.7 J/mm"},
                                    {"specimen.v_impact", "3.2 m/s"}})
    standin::type_into(r, path, typed);
  auto samples = std::make_shared<Samples>();
  samples->channels = {{"time", {}}, {"force", {}}};
  const size_t n = size_t(state.range(0));
  for (size_t i = 0; i < n; ++i) {
    const double t = 0.01 * double(i) / double(n), u = t - 0.002;
    samples->channels[0].values.push_back(t);
    samples->channels[1].values.push_back((u > 0 && u < 0.005 ? 4300 * std::sin(M_PI * u / 0.005) : 0) +
                                          double(i * 2654435761u % 1000) * 0.02);
  }
  r.run.set_samples(samples);
  for (auto _ : state) benchmark::DoNotOptimize(methods::evaluate(r));
}
BENCHMARK(strike)->Arg(10000)->Arg(1000000)->Unit(benchmark::kMillisecond);

// Ten thousand stops of a beam and of a bar. Wanted: under a second.
void many_stops(benchmark::State& state, const char* method, const char* control, const char* read, const char* unit,
                const char* other) {
  TestRecord r;
  r.method = method;
  const size_t n = size_t(state.range(0));
  Rows& rows = r.run.tables["stations"];
  for (size_t i = 0; i < n; ++i) {
    Row row;
    const double x = double(i) / double(n);
    row.cells.set(control, reading_of(parse_quantity(std::to_string(x * 1000) + " " + unit,
                                                     unit == std::string("N") ? Dimension::force : Dimension::angle)
                                          .value()));
    row.cells.set(read, Reading{"", 10 * x * (1 + (x > 0.5 ? x - 0.5 : 0)), 0.001});
    if (*other != 0) row.cells.set(other, Reading{"", 0.003 * x, 1e-6});
    rows.push_back(row);
  }
  for (auto _ : state) benchmark::DoNotOptimize(methods::evaluate(r));
}
BENCHMARK_CAPTURE(many_stops, beam, "flexure-beam", "force", "deflection", "N", "")
    ->Arg(100)
    ->Arg(10000)
    ->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(many_stops, bar, "torsion-bar", "angle", "torque", "deg", "strain_45")
    ->Arg(100)
    ->Arg(10000)
    ->Unit(benchmark::kMillisecond);

void csv_file(benchmark::State& state) {
  const std::string text = plain_csv(2000000, ',', '.'), path = "/tmp/fortitor-bench.csv";
  if (std::FILE* f = std::fopen(path.c_str(), "wb")) {
    std::fwrite(text.data(), 1, text.size(), f);
    std::fclose(f);
  }
  for (auto _ : state) benchmark::DoNotOptimize(read_csv(path));
  state.SetBytesProcessed(int64_t(state.iterations()) * int64_t(text.size()));
  std::remove(path.c_str());
}
BENCHMARK(csv_file)->Unit(benchmark::kMillisecond);

// A laboratory's day: so many pieces of five methods on their machines, three people.
void day_plan(benchmark::State& state) {
  agenda::Input in;
  in.from = "2026-11-26";
  in.hours.people = {{"A"}, {"B"}, {"C"}};
  const char* methods[] = {"tension-metal", "flexure-beam", "hardness-vickers", "flatwise-tension", "impact-pendulum"};
  for (int i = 0; i < int(state.range(0)); ++i) {
    agenda::Piece p;
    p.specimen = i + 1;
    p.job = "J-" + std::to_string(i % 7);
    p.series = methods[i % 5];
    p.code = "P-" + std::to_string(i);
    p.due = i % 3 == 0 ? "2026-11-27" : "";
    p.stages = "0000000";
    p.method = methods::find(methods[i % 5]);
    p.record.method = p.method->id;
    if (i % 5 == 3)
      p.record.fields.set("specimen.cure.stated", reading_of(parse_quantity("6 h", Dimension::time).value()));
    in.pieces.push_back(p);
  }
  for (auto _ : state) benchmark::DoNotOptimize(agenda::plan(in));
}
BENCHMARK(day_plan)->Arg(20)->Arg(60)->Arg(120)->Unit(benchmark::kMillisecond);

}  // namespace
}  // namespace fortitor

int main(int argc, char** argv) {
  fortitor::keep_memory();  // as the programs do
  benchmark::Initialize(&argc, argv);
  benchmark::RunSpecifiedBenchmarks();
}
