// The maximum of likelihood for normal values of which some are known only as a bound.
#pragma once

#include <vector>

#include "core/statistics/sample.h"

namespace fortitor::statistics {

/// Means of groups with one deviation over all (`one`: one mean too), from where they stand, by expectation and
/// maximization (Dempster, Laird and Rubin 1977): a bound stands in with the moments of the normal cut to where the
/// value must lie; farther out than 10⁻¹² the nearer bound itself does. `sd` > 0 on entry and in the unit of the
/// values, which are finite; it ends at 0 where the groups do not scatter.
void fit_normals(const std::vector<std::vector<Observation>>& groups, bool one, std::vector<double>& means, double& sd);

}  // namespace fortitor::statistics
