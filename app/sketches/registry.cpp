#include <optional>

#include "app/sketches/bar_sketches.h"
#include "app/sketches/bench_sketches.h"
#include "app/sketches/hardness_sketches.h"
#include "app/sketches/impact_sketches.h"
#include "app/sketches/machine_sketches.h"
#include "app/sketches/piece_sketches.h"
#include "app/sketches/plate_sketches.h"

namespace fortitor {

std::unique_ptr<Sketch> make_sketch(const std::string& name) {
  if (name == "tagged-bar") return std::make_unique<TaggedBarSketch>();
  if (name == "bar") return std::make_unique<BarSketch>();
  if (name == "halves") return std::make_unique<HalvesSketch>();
  if (name == "load-path") return std::make_unique<LoadPathSketch>();
  if (name == "frame") return std::make_unique<FrameSketch>();
  if (name == "beam") return std::make_unique<BeamSketch>(Scene::piece);
  if (name == "beam-sizes") return std::make_unique<BeamSketch>(Scene::sizes);
  if (name == "beam-broken") return std::make_unique<BeamSketch>(Scene::broken);
  if (name == "strip") return std::make_unique<GaugedStripSketch>(Scene::piece);
  if (name == "strip-sizes") return std::make_unique<GaugedStripSketch>(Scene::sizes);
  if (name == "shaft") return std::make_unique<ShaftSketch>(Scene::piece);
  if (name == "shaft-sizes") return std::make_unique<ShaftSketch>(Scene::sizes);
  if (name == "shaft-broken") return std::make_unique<ShaftSketch>(Scene::broken);
  if (name == "torsion-bench") return std::make_unique<TorsionBenchSketch>();
  if (name == "swing") return std::make_unique<SwingSketch>();
  if (name == "notched-bar") return std::make_unique<NotchedBarSketch>();
  for (const auto& [print, indenter] : {std::pair{"print-cone", PrintSketch::Indenter::cone},
                                        {"print-ball", PrintSketch::Indenter::ball},
                                        {"print-square", PrintSketch::Indenter::square},
                                        {"print-rhomb", PrintSketch::Indenter::rhomb}})
    if (name == print) return std::make_unique<PrintSketch>(indenter);
  if (name == "indent-map") return std::make_unique<IndentMapSketch>(false);
  if (name == "indent-map-sizes") return std::make_unique<IndentMapSketch>(true);
  if (name == "reference-block") return std::make_unique<ReferenceBlockSketch>(false);
  if (name == "reference-block-after") return std::make_unique<ReferenceBlockSketch>(true);
  if (name == "plate") return std::make_unique<PlateSketch>(PlateSketch::View::piece);
  if (name == "plate-sizes") return std::make_unique<PlateSketch>(PlateSketch::View::sizes);
  if (name == "plate-gauged") return std::make_unique<PlateSketch>(PlateSketch::View::piece, true);
  if (name == "plate-gauged-sizes") return std::make_unique<PlateSketch>(PlateSketch::View::sizes, true);
  if (name == "plate-crushed") return std::make_unique<PlateSketch>(PlateSketch::View::crushed, true);
  if (name == "plate-damage") return std::make_unique<PlateDamageSketch>();
  if (name == "drop-tower") return std::make_unique<DropTowerSketch>();
  if (name == "plate-fixture") return std::make_unique<PlateFixtureSketch>();
  if (name == "clamp") return std::make_unique<ClampSketch>();
  if (name == "weld-bracket") return std::make_unique<WeldSketch>();
  const auto scene = [&](const std::string& base) -> std::optional<Scene> {
    if (name == base) return Scene::piece;
    if (name == base + "-sizes") return Scene::sizes;
    if (name == base + "-broken" || name == base + "-folded") return Scene::broken;
    return std::nullopt;
  };
  if (const auto s = scene("dumbbell")) return std::make_unique<StripPieceSketch>(false, *s);
  if (const auto s = scene("laminate")) return std::make_unique<StripPieceSketch>(true, *s);
  if (const auto s = scene("sandwich")) return std::make_unique<SandwichSketch>(*s);
  if (const auto s = scene("cylinder")) return std::make_unique<PlatenSketch>(false, *s);
  if (const auto s = scene("block")) return std::make_unique<BlockSketch>(*s);
  if (const auto s = scene("shell")) return std::make_unique<PlatenSketch>(true, *s);
  if (name == "block-press") return std::make_unique<PlatenSketch>(false, Scene::piece);
  if (name == "shell-press") return std::make_unique<PlatenSketch>(true, Scene::piece);
  return nullptr;
}

bool paint_choice(QPainter& p, const QRectF& area, const std::string& sketch, const std::string& path,
                  const std::string& value) {
  if (sketch == "laminate-broken" && path.find("specimen.after.failure.") == 0)
    return paint_laminate_failure(p, area, path, value);
  if (sketch == "plate-crushed" && path == "specimen.failure") return paint_plate_failure(p, area, value);
  if (path != "specimen.after.fracture") return false;
  if (sketch == "dumbbell-broken") return paint_dumbbell_break(p, area, value);
  if (sketch == "cylinder-broken") return paint_block_failure(p, area, value);
  if (sketch == "shell-folded") return paint_shell_failure(p, area, value);
  if (sketch == "halves") return paint_fracture(p, area, value);
  if (sketch == "beam-broken") return paint_beam_break(p, area, value);
  if (sketch == "shaft-broken") return paint_shaft_break(p, area, value);
  return false;
}

}  // namespace fortitor
