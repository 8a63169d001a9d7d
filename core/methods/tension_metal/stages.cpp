#include "core/methods/tension_metal/model.h"

namespace fortitor::tension {

void stage_guides(Method& m) {
  auto& s = m.stages;
  s[0] = {"Know the piece before it is cut, marked or gripped.",
          {"Read the bar's colour or stamp and log the lot.",
           "Note the surface; a nick in the parallel length decides where it breaks.",
           "Write down the room's temperature: 10–35 °C, 23 ± 5 °C when it matters."},
          {"Bars whip and pieces fly at the break: glasses on and guard closed for the whole run.",
           "Fresh necks and burrs are sharp."},
          {}};
  s[1] = {"Read what is there, three times each.",
          {"Mark the gauge length with two light punch marks; lighter still on soft metal, which starts its crack at a "
           "deep one.",
           "Measure at three places along the parallel length; Enter goes to the next reading, M says it was missed."},
          {},
          {}};
  s[2] = {"Cell, speed and stops follow from the piece.",
          {"Zero force with one grip open. Close the top first, so that the bottom jaw does not preload the bar.",
           "Take up the slack, then mount the extensometer and zero it.",
           "Plan the strain at which the extensometer comes off: before the neck can throw it."},
          {"Jaws pinch: no hand near the grips while the drive is armed.",
           "Know where the emergency stop is before starting.",
           "Local safety rules and the machine's own manual go before anything written here."},
          {{"glasses", "Glasses on, guard closed", true},
           {"stand", "Everyone knows where to stand and where the emergency stop is", true},
           {"hands", "Hands clear of the grips, drive armed last", true},
           {"aligned", "Piece gripped over its full heads, in line", false}}};
  s[3] = {"Watch the curve bend over; take the extensometer off in time.",
          {"Force and extension climb together along a straight line first.",
           "At the planned strain: hold, take the extensometer off, go on to the break."},
          {"Guard closed. No hand near the grips while the drive is armed.",
           "The piece breaks with a jerk; pieces can fly."},
          {}};
  s[4] = {"Fit the halves together and read them.",
          {"Final gauge length mark to mark; smallest diameter twice, at right angles.",
           "Look at the fracture and at where it broke."},
          {"The neck and the fracture edge are sharp; the break can still be warm."},
          {}};
  s[5] = {"Judge where the straight part ends, and see what follows from it.", {}, {}, {}};
  s[6] = {"Answer what is open, then sign.", {}, {}, {}};
}

}  // namespace fortitor::tension
