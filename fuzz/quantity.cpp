#include <cmath>
#include <cstdint>
#include <cstdlib>
#include <string_view>

#include "core/quantity/parse.h"

extern "C" int LLVMFuzzerTestOneInput(const uint8_t* data, size_t size) {
  using namespace fortitor;
  if (size == 0) return 0;
  const auto set = UnitSet(data[0] % 3);
  const auto dimension = Dimension((data[0] / 3) % (int(Dimension::section_modulus) + 1));
  const std::string_view text(reinterpret_cast<const char*>(data) + 1, size - 1);
  const auto q = parse_quantity(text, dimension, {set, nullptr});
  if (!q) return 0;
  if (!std::isfinite(q->value)) std::abort();
  // A plain number may be typed in percent; nothing else is taken for what it does not measure.
  if (dimension != Dimension::none && q->unit != nullptr &&
      base_dimension(q->unit->dimension) != base_dimension(dimension))
    std::abort();
  // What a record keeps must read back as the same value without knowing the unit set.
  const auto again = parse_quantity(q->text(), dimension, {UnitSet::us, nullptr});
  const auto plain = parse_quantity(q->text(), dimension, {set, nullptr});
  if (!plain || plain->value != q->value) std::abort();
  (void)again;
  return 0;
}
