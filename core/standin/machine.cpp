#include "core/standin/machine.h"

#include <cmath>

namespace fortitor {

void append(MachineColumns& columns, const MachineColumns& more) {
  columns.resize(std::max(columns.size(), more.size()));
  for (size_t c = 0; c < more.size(); ++c) columns[c].insert(columns[c].end(), more[c].begin(), more[c].end());
}

SamplesPtr samples_of(const std::vector<MachineChannel>& channels, const MachineColumns& columns) {
  auto s = std::make_shared<Samples>();
  for (size_t c = 0; c < std::min(channels.size(), columns.size()); ++c) {
    bool any = c == 0;
    for (double v : columns[c]) any = any || std::isfinite(v);
    if (any) s->channels.push_back({channels[c].name, columns[c]});
  }
  return s;
}

}  // namespace fortitor
