#include "app/sketches/bar_sketches.h"
#include "app/sketches/machine_sketches.h"

namespace fortitor {

std::unique_ptr<Sketch> make_sketch(const std::string& name) {
  if (name == "tagged-bar") return std::make_unique<TaggedBarSketch>();
  if (name == "bar") return std::make_unique<BarSketch>();
  if (name == "halves") return std::make_unique<HalvesSketch>();
  if (name == "load-path") return std::make_unique<LoadPathSketch>();
  if (name == "frame") return std::make_unique<FrameSketch>();
  return nullptr;
}

bool paint_choice(QPainter& p, const QRectF& area, const std::string& path, const std::string& value) {
  if (path == "specimen.after.fracture") return paint_fracture(p, area, value);
  return false;
}

}  // namespace fortitor
