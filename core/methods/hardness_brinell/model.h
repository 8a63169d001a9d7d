// The inner working of hardness-brinell. Shared by its files and tests only.
#pragma once

#include "core/methods/support/indents.h"

namespace fortitor::brinell {

inline const std::string kIndents = "indents";

struct State {
  indents::IndentSet set;
  double force = NAN, ball = NAN;  ///< N, mm
  bool steel_ball = false;
  double resolution = 0;  ///< of a diameter as read, mm
  double index() const { return 0.102 * force / (ball * ball); }
};
State look(const TestRecord& record);
indents::Spacing spacing_of(const TestRecord& record);
double expected_size(const TestRecord& record);
/// Force and ball of the usual ones whose print would lie between 0.24 and 0.6 of the ball at hardness `hb`, with an
/// index that suits; in words, empty when there is none.
std::string better_load(const std::string& family, double hb, double ball);
void describe(Method& method);

}  // namespace fortitor::brinell
