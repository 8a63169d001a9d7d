// Short ways of writing records for the tests of methods.
#pragma once

#include <gtest/gtest.h>

#include <cmath>

#include <string>
#include <vector>

#include "core/methods/method.h"
#include "core/record/json.h"
#include "core/standin/benches.h"

namespace fortitor {

/// A record of a method with typed fields: {"specimen.width", {"20.1 mm", …}}.
inline TestRecord record_of(const std::string& method,
                            const std::vector<std::pair<std::string, std::vector<std::string>>>& fields) {
  TestRecord r;
  r.method = method;
  r.fields.set("specimen.id", std::string("T-1"));
  for (const auto& [path, typed] : fields) {
    if (typed.size() == 1)
      standin::type_into(r, path, typed[0]);
    else
      standin::type_list(r, path, typed);
  }
  return r;
}

/// Appends a stop: {"force", "250 N"}, {"deflection", ""} — empty is missed.
inline void add_stop(TestRecord& r, const std::vector<std::pair<std::string, std::string>>& readings) {
  Station s;
  for (const auto& [channel, typed] : readings)
    s.readings[channel] =
        typed.empty() ? Reading{} : reading_of(parse_quantity(typed, *channel_dimension(channel)).value());
  r.run.stations.push_back(s);
}

inline void set_channels(TestRecord& r, const std::vector<Channel>& channels) {
  auto s = std::make_shared<Samples>();
  s->channels = channels;
  r.run.samples = s;
}

inline double value_of(const Evaluation& e, const std::string& key) {
  const ResultValue* r = e.find(key);
  EXPECT_NE(r, nullptr) << key;
  return r == nullptr ? NAN : r->value;
}

}  // namespace fortitor
