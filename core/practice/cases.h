// A case for a finding: a piece of a stand-in, spoilt as a recipe says, on which the finding is raised. What the guide
// draws beside its words.
#pragma once

#include <map>
#include <string>
#include <vector>

#include "core/evaluation/evaluation.h"
#include "core/outcome.h"
#include "core/record/record.h"
#include "core/standin/bridge.h"

namespace fortitor::cases {

/// What happens to one channel between two shares of the run (0 … 1), in this order.
struct Spoil {
  std::string channel;  ///< empty: all, which only `gone` and `every` do
  std::string of = {};  ///< a channel that is not there begins as a copy of this one
  double from = 0, to = 1;
  double times = 1;
  double plus = 0;       ///< of the largest magnitude of the channel
  bool still = false;    ///< stands at its value of `from`
  bool gone = false;     ///< these samples are not there
  bool missing = false;  ///< these samples are no number
  double within = 0;     ///< of the largest magnitude: what goes beyond stands there; 0: none does
  double noise = 0;      ///< normal, of the largest magnitude; seeded by the recipe
  size_t every = 1;      ///< only every n-th sample stays
};

/// A stretch of a run, between two shares of it, as a part of its own.
struct Part {
  std::string name;
  double from = 0, to = 1;
};

struct Recipe {
  std::string method, piece;
  uint64_t seed = 1;
  std::vector<std::string> faults;   ///< of the stand-in
  std::string record;                ///< fields, limits and tables that replace the stand-in's; record/1, may be empty
  std::vector<std::string> without;  ///< paths that are taken away
  std::vector<Spoil> spoil;
  std::vector<Part> parts;        ///< what the run, spoilt, is cut into; empty: it stays one
  bool stored = false;            ///< `record` is read as out of a book: what breaks a rule stands in its faults
  bool fails = false;             ///< its evaluation meets a fault of the program
  std::vector<Recipe> signed_as;  ///< one: the piece as it was when it was signed
  /// Of a series: its pieces, each the recipe above with what is its own ("force": 1.02 is the spoil that multiplies
  /// the force); and the settings of the series (record/1).
  std::vector<Recipe> pieces;
  std::string settings;
  std::string figure;  ///< id of the one that shows it, or the step of a spectrum; empty: the first
  /// Of a spectrum: what the bridge carries; `pieces` are its weeks where there are several.
  standin::BridgeTraffic traffic;
  bool study = false;  ///< of the length of blocks
  /// What it is a case of, as a heading has it.
  std::string title() const;
};

/// Recipes by the code of their finding. Errors: bad JSON, an unknown method, in a sentence.
Outcome<std::map<std::string, Recipe>> read(const std::string& json);

/// `samples` with what a recipe does to them, in order.
Samples spoilt(const Samples& samples, const std::vector<Spoil>& spoil, uint64_t seed);

/// The piece of a recipe, ready to be evaluated.
Outcome<TestRecord> made(const Recipe& recipe);

/// What comes out of a recipe: of its piece, of its series, of the history of a bridge. The figure that shows it comes
/// first.
Outcome<Evaluation> evaluated(const Recipe& recipe);

}  // namespace fortitor::cases
