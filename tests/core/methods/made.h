// Whole pieces of the stand-ins, and what is computed of them.
#pragma once

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

/// NaN where there is no such result.
inline double value(const Evaluation& e, const char* key) {
  const ResultValue* r = e.find(key);
  return r == nullptr ? std::nan("") : r->value;
}

}  // namespace fortitor
