#include "app/instruments/instrument.h"

#include "app/instruments/dial_view.h"
#include "app/instruments/eyepiece_view.h"
#include "app/instruments/halves_view.h"
#include "app/theme/spoken.h"

namespace fortitor {

std::vector<PaintedPart> Instrument::painted_parts() {
  return {{headline().isEmpty() ? accessibleName() : spoken(headline()), reading(), rect(), QAccessible::StaticText}};
}

std::unique_ptr<Instrument> make_instrument(const std::string& name) {
  if (name == "eyepiece" || name == "loupe") return std::make_unique<EyepieceView>();
  if (name == "halves") return std::make_unique<HalvesView>();
  if (name == "dial") return std::make_unique<DialView>();
  return nullptr;
}

}  // namespace fortitor
