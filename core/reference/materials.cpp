#include "core/reference/materials.h"

#include <array>

#include "core/quantity/plain.h"

namespace fortitor {
namespace {

constexpr std::array kFamilies = {
    MaterialFamily{"carbon steel", 200e3, 216e3, 185, 900, 290, 1200, 7850, 0.4, 0.29},
    MaterialFamily{"alloy steel", 198e3, 215e3, 350, 1800, 550, 2200, 7850, 0.4, 0.29},
    MaterialFamily{"high-strength steel", 196e3, 215e3, 500, 1900, 600, 2300, 7850, 0, 0.29},
    MaterialFamily{"cold-drawn steel", 198e3, 214e3, 300, 1000, 400, 1200, 7850, 0, 0.29},
    MaterialFamily{"austenitic stainless steel", 185e3, 205e3, 190, 1100, 480, 1400, 7950, 0.127, 0.28},
    MaterialFamily{"cast iron", 80e3, 180e3, 100, 600, 130, 900, 7200, 0, 0.26},
    MaterialFamily{"aluminium alloy", 66e3, 75e3, 25, 600, 60, 700, 2700, 0, 0.33},
    MaterialFamily{"magnesium alloy", 41e3, 47e3, 60, 400, 130, 450, 1790, 0, 0.33},
    MaterialFamily{"titanium alloy", 100e3, 125e3, 170, 1200, 240, 1350, 4480, 0, 0.33},
    MaterialFamily{"copper", 110e3, 135e3, 30, 400, 190, 450, 8930, 0, 0.34},
    MaterialFamily{"bronze", 95e3, 125e3, 80, 600, 200, 800, 8750, 0, 0.34},
    MaterialFamily{"brass", 90e3, 120e3, 60, 500, 200, 700, 8480, 0, 0.34},
    MaterialFamily{"nickel alloy", 175e3, 225e3, 100, 1300, 350, 1600, 8500, 0, 0.30},
    MaterialFamily{"zinc alloy", 78e3, 105e3, 100, 400, 150, 450, 6700, 0, 0.27},
};

}  // namespace

std::span<const MaterialFamily> material_families() {
  return kFamilies;
}

const MaterialFamily* find_family(const std::string& name) {
  std::string low;
  for (char c : name) low += plain::lower(c);
  for (const MaterialFamily& f : kFamilies)
    if (low == f.name) return &f;
  // "structural steel", "aluminum": the telling word is enough, the more special one first.
  struct Hint {
    std::string_view word, family;
  };
  for (const Hint h :
       {Hint{"austenitic", "austenitic stainless steel"}, Hint{"stainless", "austenitic stainless steel"},
        Hint{"high-strength", "high-strength steel"}, Hint{"cold", "cold-drawn steel"},
        Hint{"alloy steel", "alloy steel"}, Hint{"steel", "carbon steel"}, Hint{"alumin", "aluminium alloy"},
        Hint{"magnes", "magnesium alloy"}, Hint{"titan", "titanium alloy"}, Hint{"bronze", "bronze"},
        Hint{"brass", "brass"}, Hint{"copper", "copper"}, Hint{"nickel", "nickel alloy"},
        Hint{"cast iron", "cast iron"}, Hint{"zinc", "zinc alloy"}}) {
    if (low.find(h.word) == std::string::npos) continue;
    for (const MaterialFamily& f : kFamilies)
      if (f.name == h.family) return &f;
  }
  return nullptr;
}

}  // namespace fortitor
