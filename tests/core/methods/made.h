// Whole pieces of the stand-ins, and what is computed of them.
#pragma once

#include <algorithm>

#include "tests/core/methods/method_records.h"

namespace fortitor {

/// A piece of a stand-in with its method named.
inline TestRecord made(const standin::Bench& bench, const char* method, const char* piece = "", uint64_t seed = 5) {
  standin::SimulateOptions o;
  o.method = method;
  o.piece = piece;
  o.seed = seed;
  TestRecord r = bench.simulate(o);
  r.method = method;
  return r;
}

/// The same of any method, with a run of some hundred rows: for what is made many times over. Empty: without a fault.
inline TestRecord made_short(const Method& m, const std::string& piece, uint64_t seed, const std::string& fault = "",
                             double hertz = 10) {
  standin::SimulateOptions o;
  o.method = m.id;
  o.piece = piece;
  o.seed = seed;
  o.sampling = std::min(hertz, some_thousand_rows(m));
  if (!fault.empty()) o.faults.insert(fault);
  TestRecord r = standin::find_bench(m.standin)->simulate(o);
  r.method = m.id;
  return r;
}

/// A reading that is off by a factor; a missed one stays missed.
inline Reading times(const Reading& r, double factor) {
  Reading out = r;
  if (out.value) out.value = *out.value * factor;
  return out;
}

/// NaN where there is no such result.
inline double value(const Evaluation& e, const char* key) {
  const ResultValue* r = e.find(key);
  return r == nullptr ? std::nan("") : r->value;
}

}  // namespace fortitor
