#pragma once

#include <gtest/gtest.h>

#include "core/methods/method.h"
#include "core/record/machine_file.h"
#include "core/record/mapping.h"

// What a block of a machine's file holds, read as a tension test of a metal.
namespace fortitor::machine_blocks {

inline const Method& metal() {
  return *methods::find("tension-metal");
}

inline SamplesPtr samples_of(const MachineBlock& b) {
  const auto s = samples_from_table(b.table, guess_mapping(b.table.dialect, metal()), metal());
  EXPECT_TRUE(s) << (s ? "" : s.error().message);
  return s ? *s : std::make_shared<Samples>();
}

inline const std::vector<double>& channel(const SamplesPtr& s, const char* name) {
  static const std::vector<double> none = {NAN};
  const Channel* c = s->find(name);
  EXPECT_NE(c, nullptr) << name;
  return c == nullptr ? none : c->values;
}

}  // namespace fortitor::machine_blocks
