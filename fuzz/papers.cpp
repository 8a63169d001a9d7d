// The other files and texts a person, a laboratory or a book hands in. The first byte says which.
#include <cstdint>
#include <cstdlib>
#include <string>
#include <string_view>

#include "core/bench/kit.h"
#include "core/bench/kit_checks.h"
#include "core/laboratory/demands.h"
#include "core/laboratory/entry.h"
#include "core/line/line.h"
#include "core/methods/method.h"
#include "core/record/encoding.h"
#include "core/record/machine_file.h"
#include "core/reference/library.h"
#include "core/series/series.h"
#include "core/spectrum/spectrum.h"

namespace {

using namespace fortitor;

// Read, or refused with a sentence.
template <class T>
void check(const Outcome<T>& outcome) {
  if (!outcome && outcome.error().message.empty()) std::abort();
}

}  // namespace

extern "C" int LLVMFuzzerTestOneInput(const uint8_t* data, size_t size) {
  if (size < 2) return 0;
  const std::string_view text(reinterpret_cast<const char*>(data) + 2, size - 2);
  const bool stored = data[1] % 2 != 0;
  switch (data[0] % 12) {
    case 0: check(lab::demands_from_json(text)); break;
    case 1: check(lab::demands_from_csv(text)); break;
    case 2: check(read_reference(text)); break;
    case 3: check(spectrum::record_from_json(text, stored)); break;
    case 4: {
      const auto& all = methods::all();
      check(series_settings_from_json(*all[data[1] / 2 % all.size()], text, stored));
      break;
    }
    case 5: {
      const auto& kinds = kit::kinds();
      const std::string& kind = kinds[data[1] / 2 % kinds.size()].id;
      const auto item = kit::from_json(kind, text, stored);
      check(item);
      if (item && !stored) check(kit::from_json(kind, kit::to_json(*item)));
      break;
    }
    case 6: {
      constexpr std::string_view kKinds[] = {lab::kCustomer, lab::kJob,    lab::kHead,
                                             lab::kTemplate, lab::kPerson, lab::kSheet};
      check(lab::entry_from_json(kKinds[data[1] / 2 % std::size(kKinds)], "Fuzz", text, stored));
      break;
    }
    case 7: check(kit::checks_from_json(text)); break;
    case 8: check(line::format_from_json(text)); break;
    case 9: check(decode_text(text)); break;
    case 10: check(workbook_text(text, 1 << 22)); break;
    default: {
      // A pattern of numbers, and what was given out by it.
      const std::string typed(text);
      const size_t end = std::min(typed.find('\n'), typed.size());
      check(lab::next_number(typed.substr(0, end), 2026, {typed.substr(end)}));
    }
  }
  return 0;
}
