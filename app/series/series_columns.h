// Further results that stand beside the one a series is looked at by, one choice a method, remembered for the person.
#pragma once

#include <functional>
#include <string>
#include <vector>

#include "core/evaluation/evaluation.h"
#include "core/methods/method.h"

class QMenu;
class QTableWidget;

namespace fortitor::series_columns {

/// Keys in the order in which the method reports them.
std::vector<std::string> of(const Method& method);
void keep(const Method& method, const std::vector<std::string>& keys);
/// A line for every result that some piece has, ticked where it is shown.
void fill(QMenu* menu, const Method& method, const std::vector<Evaluation>& pieces, const std::string& looked_at,
          const std::function<void()>& changed);
/// Columns from `from` on, one a key.
void show(QTableWidget* table, int from, const Method& method, const std::vector<TestRecord>& records,
          const std::vector<Evaluation>& pieces, UnitSet units, const std::string& looked_at);

}  // namespace fortitor::series_columns
