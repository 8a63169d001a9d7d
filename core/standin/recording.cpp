#include "core/standin/recording.h"

#include <algorithm>
#include <cmath>

namespace fortitor {

Recording::Recording(std::vector<MachineChannel> channels)
    : channels_(std::move(channels)), chunks_(channels_.size()), seen_(channels_.size(), false) {}

void Recording::append(const MachineColumns& more) {
  if (more.empty() || channels_.empty()) return;
  const size_t fresh = more.front().size();
  for (size_t c = 0; c < channels_.size(); ++c)
    for (size_t i = 0; i < fresh; ++i) {
      if ((rows_ + i) % kChunk == 0) {
        chunks_[c].emplace_back();
        chunks_[c].back().reserve(kChunk);
      }
      const double v = c < more.size() && i < more[c].size() ? more[c][i] : NAN;
      chunks_[c].back().push_back(v);
      if (std::isfinite(v)) seen_[c] = true;
    }
  // Whether what leads falls or rises is not known beforehand: both ends are kept in sight.
  const size_t led = channels_.size() > 1 ? 1 : 0;
  auto value = [&](size_t i) { return chunks_[led][i / kChunk][i % kChunk]; };
  for (size_t i = rows_; i < rows_ + fresh; ++i) {
    if (i % stride_ == 0) shown_.push_back(i);
    if (value(i) < value(least_) || !std::isfinite(value(least_))) least_ = i;
    if (value(i) > value(most_) || !std::isfinite(value(most_))) most_ = i;
    if (shown_.size() < kLive - 3) continue;
    stride_ *= 2;
    std::erase_if(shown_, [&](size_t row) { return row % stride_ != 0; });
  }
  rows_ += fresh;
}

MachineColumns Recording::since(size_t from) const {
  MachineColumns out(channels_.size());
  for (size_t c = 0; c < channels_.size(); ++c)
    for (size_t i = from; i < rows_; ++i) out[c].push_back(chunks_[c][i / kChunk][i % kChunk]);
  return out;
}

SamplesPtr Recording::live() const {
  auto s = std::make_shared<Samples>();
  std::vector<size_t> rows = shown_;
  if (rows_ > 0)
    for (size_t extra : {least_, most_, rows_ - 1})
      if (const auto at = std::lower_bound(rows.begin(), rows.end(), extra); at == rows.end() || *at != extra)
        rows.insert(at, extra);
  for (size_t c = 0; c < channels_.size(); ++c) {
    if (c > 0 && !seen_[c]) continue;
    Channel channel{channels_[c].name, {}};
    channel.values.reserve(rows.size());
    for (size_t i : rows) channel.values.push_back(chunks_[c][i / kChunk][i % kChunk]);
    s->channels.push_back(std::move(channel));
  }
  return s;
}

SamplesPtr Recording::take() {
  auto s = std::make_shared<Samples>();
  for (size_t c = 0; c < channels_.size(); ++c) {
    if (c == 0 || seen_[c]) {
      Channel channel{channels_[c].name, {}};
      channel.values.reserve(rows_);
      for (const auto& chunk : chunks_[c]) channel.values.insert(channel.values.end(), chunk.begin(), chunk.end());
      s->channels.push_back(std::move(channel));
    }
    chunks_[c] = {};
  }
  *this = Recording(std::move(channels_));
  return s;
}

}  // namespace fortitor
