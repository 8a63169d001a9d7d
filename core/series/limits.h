// What is demanded of a series as a whole: of the statistics of a result, and of what the judgement over all pieces
// gives.
#pragma once

#include <functional>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/methods/method.h"

namespace fortitor::series {

/// Statistics that every series may report of a result.
std::vector<ResultSpec> statistics_of(const ResultSpec& result);

/// What may be limited, as far as a schema has to know it.
struct Limited {
  std::function<std::optional<ResultSpec>(const std::string&)> result;
  std::vector<std::string> whole;  ///< results of the judgement over all pieces
  std::vector<ResultSpec> only;    ///< … that no piece reports
};
Limited limited_in(const Method& method);

/// "rm.mean": that statistic of R_m; "t27j.series": what the judgement over the whole series gives. Under their own
/// keys; nothing for what cannot be limited.
std::optional<ResultSpec> limited(const Limited& by, const std::string& key);

/// What was demanded of the judgement over the whole series, under the keys of its results.
std::map<std::string, Limit> limits_of_whole(const Method& method, const TestRecord& settings);
/// What was demanded of this result of the series, under the keys of its statistics.
std::map<std::string, Limit> limits_over(const TestRecord& settings, const std::string& result);

}  // namespace fortitor::series
