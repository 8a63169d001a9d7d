// How far a specimen is: what each of the seven stages still wants.
#pragma once

#include <array>
#include <string>
#include <vector>

#include "core/evaluation/evaluation.h"
#include "core/methods/method.h"

namespace fortitor {

struct StageProgress {
  enum class State { open, begun, done };
  State state = State::open;
  std::vector<std::string> missing;  ///< sentences
};

using Progress = std::array<StageProgress, kStageCount>;

/// Progress of a record. `evaluation` may be null when none is at hand; `signed_off` as the book knows.
Progress progress_of(const Method& method, const TestRecord& record, const Evaluation* evaluation, bool signed_off);

/// One character a stage (0 open, 1 begun, 2 done), as the book stores it.
std::string progress_code(const Progress& progress);

/// First stage that is not done.
Stage next_stage(const std::string& code);

/// Name of a stage as the bar shows it.
std::string_view stage_name(Stage stage);

}  // namespace fortitor
