// What the calculators are put together from. Shared by the files of core/slate only.
#pragma once

#include "core/slate/slate.h"

namespace fortitor::slate {

/// Numbers of a step, written in SI: "28.86 kN".
std::string shown(double value, Dimension d, int figures = 4);
Line line(std::string name, std::string expression, std::string with, double value, Dimension d,
          std::string source = {}, int figures = 4);

void add_strength(std::vector<Calculator>& all);  ///< stress, strain, sections, forces, bending, torsion, gauge lengths
void add_hardness(std::vector<Calculator>& all);
void add_impact(std::vector<Calculator>& all);  ///< pendulum, drop, snatch
void add_other(std::vector<Calculator>& all);   ///< units, speeds, life, numbers of pieces

}  // namespace fortitor::slate
