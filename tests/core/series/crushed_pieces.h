#pragma once

#include "core/methods/method.h"
#include "core/series/series.h"
#include "tests/core/methods/made.h"

namespace fortitor::crushed_pieces {

inline const Method& crush() {
  return *methods::find("crush-shell");
}

// Pieces as their evaluations would have them.
struct Pieces {
  std::vector<TestRecord> records;
  std::vector<Evaluation> evaluations;

  void add(const std::string& id, double value, bool dent = false) {
    TestRecord r;
    r.method = "crush-shell";
    r.fields.set("specimen.id", id);
    r.fields.set("specimen.suspects.dent", dent);
    Evaluation e;
    ResultValue v;
    v.spec = *crush().result("peak_force");
    v.value = value;
    e.results.push_back(v);
    records.push_back(r);
    evaluations.push_back(e);
  }
  Evaluation judged(const TestRecord& settings = {}) const {
    std::vector<SeriesPiece> pieces;
    for (size_t i = 0; i < records.size(); ++i) pieces.push_back({&records[i], &evaluations[i]});
    return series_evaluate(crush(), pieces, settings);
  }
};

}  // namespace fortitor::crushed_pieces
