// A value that is not measured but bounded.
#pragma once

namespace fortitor {

/// At least (`above`), or between two values.
struct Censoring {
  bool above = false;
  double from = 0.0, to = 0.0;  ///< used when not `above`
};

}  // namespace fortitor
