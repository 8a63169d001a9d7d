// Bytes as they come, and whole lines out of them.
#include "core/line/line.h"
#include "core/line/parts.h"

namespace fortitor::line {

namespace {
constexpr size_t kLongest = 4096;
}

void Splitter::put(std::string_view bytes) {
  if (from_ > 0) {
    held_.erase(0, from_);
    from_ = 0;
  }
  held_ += bytes;
}

std::optional<std::string> Splitter::next() {
  for (;;) {
    // The LF of a CR LF whose halves came apart ends nothing.
    if (after_cr_ && from_ < held_.size()) {
      if (held_[from_] == '\n') ++from_;
      after_cr_ = false;
    }
    const size_t end = held_.find_first_of("\r\n", from_);
    if (end == std::string::npos) {
      if (held_.size() - from_ > kLongest) {  // no line of an instrument: given up to its end
        if (!skipping_) ++given_up_;
        skipping_ = true;
        held_.clear();
        from_ = 0;
      }
      return std::nullopt;
    }
    std::string out = held_.substr(from_, end - from_);
    after_cr_ = held_[end] == '\r';
    from_ = end + 1;
    if (skipping_) {
      skipping_ = false;
      continue;
    }
    if (out.size() > kLongest) {
      ++given_up_;
      continue;
    }
    if (trimmed(out).empty()) continue;
    return out;
  }
}

}  // namespace fortitor::line
