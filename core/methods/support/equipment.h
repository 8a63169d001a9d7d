// The kinds of equipment that methods share, as slots: what is to be known of a load cell, an extensometer …
#pragma once

#include "core/methods/method.h"

namespace fortitor::equipment {

EquipmentSlot frame();
EquipmentSlot load_cell();
EquipmentSlot grips();
EquipmentSlot extensometer();
EquipmentSlot torque_cell();
EquipmentSlot caliper();
EquipmentSlot strain_gauges();
EquipmentSlot indicator();
EquipmentSlot scale();
EquipmentSlot pendulum();
/// Masses it can drop, how high it reaches.
EquipmentSlot drop_tower();
/// `dead_weight`: plates hang on it, each with the force that it adds at the indenter.
EquipmentSlot hardness_machine(bool dead_weight);

/// What a laboratory keeps beyond what methods ask for at Set up: fixtures, indenters, reference blocks, eyepieces,
/// micrometers, hammers, platens, baths, chambers, rigs, dials. Each is chosen where the Kit has one, never typed.
std::vector<EquipmentSlot> shelf();
/// Gives a method slots for these kinds of the shelf. Errors: std::logic_error for a kind that is none.
void add_from_shelf(Method& method, std::initializer_list<const char*> kinds);

/// Finding `calibration-expired`: what was used after its calibration ended, or while it was held. `today` stands for
/// the day of a test that is still to come; without either day only what is held is found.
void judge_calibration(Evaluation& e, const TestRecord& record, const std::vector<EquipmentSlot>& slots,
                       const std::string& today);

}  // namespace fortitor::equipment
