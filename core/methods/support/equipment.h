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

}  // namespace fortitor::equipment
