// Daily checks of an item of the Kit: a free swing, a reference block, a zero, noted as read and drawn over time.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/figure/figure.h"
#include "core/outcome.h"
#include "core/record/record.h"

namespace fortitor::kit {

struct DailyCheck {
  std::string at;     ///< time, as the book writes it
  std::string value;  ///< as typed, with its unit: "62.8", "0.4 J"
  std::string by, note;
};

/// What a record read on an item as a check of it: the mean of a reference block before the work, the free swing of a
/// pendulum or hammer; nothing for other kinds and where it was not read. `at` as the record has its time.
std::optional<DailyCheck> check_in(const TestRecord& record, const std::string& kind);
/// Errors: no number, or a unit of another dimension than the checks before.
Outcome<Done> fits(const DailyCheck& check, const std::vector<DailyCheck>& before);
/// The checks in order with their mean and control limits (individuals and moving ranges); empty for fewer than two.
Figure figure_of(const std::vector<DailyCheck>& checks, const std::string& title);
/// What the newest says beside the others: "62.8, beyond the limits of the checks before"; empty for none.
std::string words_of(const std::vector<DailyCheck>& checks);

Outcome<std::vector<DailyCheck>> checks_from_json(std::string_view json);
std::string checks_to_json(const std::vector<DailyCheck>& checks);

}  // namespace fortitor::kit
