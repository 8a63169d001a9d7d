// A series of specimens under one result: numbers, suspects for the scatter, who is out and why.
// Void tests are counted and never enter; nothing is removed without a physical reason (methods, section 14).
#pragma once

#include <map>
#include <string>
#include <vector>

#include "core/methods/method.h"
#include "core/statistics/sample.h"

namespace fortitor {

/// One piece of a series as its evaluation has it.
struct SeriesPiece {
  std::string id;
  double value = 0;
  std::optional<Censoring> censored = {};
  bool there = false;      ///< the result exists
  bool void_test = false;  ///< with its reason
  std::string void_reason;
  std::string left_out;                ///< physical reason for leaving it out; empty: it counts
  std::map<std::string, bool> ticked;  ///< suspects by field path
};

/// A suspect for the scatter, tested against the data.
struct SuspectTest {
  std::string path, label;
  size_t ticked = 0;
  double mean_ticked = 0, mean_unticked = 0;
  std::optional<statistics::Welch> welch;
  std::string sentence;
};

struct SeriesReport {
  ResultSpec spec;
  statistics::Summary all, counted;                   ///< of every measured value; of those not left out
  std::optional<statistics::CensoredFit> likelihood;  ///< with bounds, when there are any
  std::optional<statistics::Normality> normality;
  std::vector<size_t> outliers;  ///< flagged by Grubbs, indices into the pieces; flagged, never removed
  double grubbs_level = 0.05;
  double b_basis = 0;  ///< lower 90/95 bound by the normal factor; 0: not given
  std::vector<SuspectTest> suspects;
  statistics::Histogram histogram;
  size_t voids = 0, left_out = 0, missing = 0, bounds = 0;
  std::vector<std::string> sentences;  ///< what a person should read first
};

/// The piece of an evaluated record under a result.
SeriesPiece series_piece(const TestRecord& record, const Evaluation& evaluation, const std::string& key);

/// Statistics of the pieces. `method` names the suspects and the result; an unknown key gives an empty
/// report.
SeriesReport series_report(const Method& method, const std::string& key, const std::vector<SeriesPiece>& pieces);

}  // namespace fortitor
