// Distances on a photograph: a scale set by a known length, and what is read by it with its uncertainty.
#pragma once

#include <string>

#include "core/outcome.h"
#include "core/record/record.h"

namespace fortitor::lab {

/// How far a mark on a picture is set from where it should be, standard deviation, px of the picture: what a hand does
/// on an edge that is sharp.
inline constexpr double kPointing = 0.7;

/// A scale out of two marks on a known length.
struct PictureScale {
  double pixels = 0;      ///< between the marks
  double length = 0;      ///< mm, known
  double resolution = 0;  ///< mm, of the length as it was typed
  double pixels_per_mm() const { return length > 0 ? pixels / length : 0; }
};
/// Errors: marks that lie on one another, a length that is not above zero.
Outcome<PictureScale> scale_of(double pixels, const std::string& typed_length, UnitSet units);

struct PictureLength {
  double value = 0;     ///< mm
  double standard = 0;  ///< mm
};
/// A distance of so many pixels; its u holds the pointing at both ends, that on the scale, and the length's last digit.
/// Both lie in one plane square to the view: what does not is longer than it looks, and nothing here knows.
PictureLength length_on(const PictureScale& scale, double pixels);
/// The distance as a reading: "12.02 mm", with as many digits as its uncertainty leaves.
Reading reading_on(const PictureScale& scale, double pixels);

}  // namespace fortitor::lab
