// The strain chain as people wait for it. Wanted on two cores: a week at 300 Hz (181 million samples) within 5 s from
// the page cache and 512 MB; a pan or zoom under 16 ms. bench/spectrum_against_scipy.py compares with scipy in the same
// run.
#include <benchmark/benchmark.h>

#include <filesystem>

#include "core/spectrum/chain.h"
#include "core/standin/bridge.h"

namespace fortitor::spectrum {
namespace {

std::string day() {
  static const std::string path = [] {
    const std::string p = (std::filesystem::temp_directory_path() / "fortitor-bench-day.f32").string();
    std::filesystem::remove(p);
    standin::BridgeTraffic t;
    t.hours = 24;
    if (!standin::write_bridge_history(t, p)) std::abort();
    return p;
  }();
  return path;
}

Settings of_day() {
  Settings s;
  s.weeks.resize(1);
  s.weeks[0].files = {day()};
  s.weeks[0].rate = 300;
  return s;
}

void whole_day(benchmark::State& state) {
  const Settings s = of_day();
  for (auto _ : state) {
    Spectrum now;
    if (!compute(now, s, {.until = ChainStep::cut, .losses = false, .keep_extremes = false}))
      state.SkipWithError("not computed");
  }
  state.SetItemsProcessed(state.iterations() * 24 * 3600 * 300);
}
BENCHMARK(whole_day)->Unit(benchmark::kMillisecond)->UseRealTime();

void new_gate(benchmark::State& state) {
  Settings s = of_day();
  Spectrum now;
  if (!compute(now, s)) state.SkipWithError("not computed");
  for (auto _ : state) {
    s.gate = s.gate == 0.5 ? 0.6 : 0.5;
    if (!compute(now, s)) state.SkipWithError("not computed");
  }
}
BENCHMARK(new_gate)->Unit(benchmark::kMillisecond);

void window_of_a_minute(benchmark::State& state) {
  Spectrum now;
  if (!compute(now, of_day(), {.until = ChainStep::cut})) state.SkipWithError("not computed");
  uint64_t at = 1000000;
  for (auto _ : state) {
    benchmark::DoNotOptimize(fatigue::look_at(*now.weeks[0].signal, now.weeks[0].drift, 2, at, 60 * 300));
    at += 1000;
  }
}
BENCHMARK(window_of_a_minute)->Unit(benchmark::kMillisecond);

void history_of_an_hour(benchmark::State& state) {
  standin::BridgeTraffic t;
  t.hours = 1;
  for (auto _ : state) standin::bridge_history(t, [](const std::vector<float>& x) { return !x.empty(); });
  state.SetBytesProcessed(state.iterations() * 3600 * 300 * 4);
}
BENCHMARK(history_of_an_hour)->Unit(benchmark::kMillisecond)->UseRealTime();

}  // namespace
}  // namespace fortitor::spectrum
