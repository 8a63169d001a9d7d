#include <algorithm>
#include <cmath>
#include <optional>

#include "app/sketches/bar_sketches.h"
#include "app/sketches/bench_sketches.h"
#include "app/sketches/hardness_sketches.h"
#include "app/sketches/impact_sketches.h"
#include "app/sketches/machine_sketches.h"
#include "app/sketches/piece_sketches.h"
#include "app/sketches/plate_sketches.h"
#include "app/theme/theme.h"

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

std::vector<QRectF> editor_boxes(const std::vector<Anchor>& anchors, double height, const QRectF& area) {
  constexpr double kMost = 1.35;  // of their width: what they hold is short
  constexpr double kGap = 3;
  constexpr int kRounds = 200;
  std::vector<QRectF> out;
  for (const Anchor& a : anchors) {
    const double width = a.width * std::min(kMost, theme::scale());
    out.emplace_back(a.at.x() - width / 2, a.at.y() - height / 2, width, height);
  }
  for (int round = 0; round < kRounds; ++round) {
    bool moved = false;
    for (size_t i = 0; i < out.size(); ++i)
      for (size_t k = i + 1; k < out.size(); ++k) {
        QRectF &a = out[i], &b = out[k];
        const QPointF apart = b.center() - a.center();
        const double x = a.width() / 2 + b.width() / 2 + kGap - std::abs(apart.x()),
                     y = height + kGap - std::abs(apart.y());
        if (x <= 0.01 || y <= 0.01) continue;
        // Along the way on which the smaller step is enough; of two at one place the later goes down.
        const QPointF step =
            x < y ? QPointF((apart.x() < 0 ? -x : x) / 2, 0) : QPointF(0, (apart.y() < 0 ? -y : y) / 2);
        a.translate(-step);
        b.translate(step);
        moved = true;
      }
    for (QRectF& box : out) {
      box.moveLeft(std::clamp(box.left(), area.left(), std::max(area.left(), area.right() - box.width())));
      box.moveTop(std::clamp(box.top(), area.top(), std::max(area.top(), area.bottom() - box.height())));
    }
    if (!moved) break;
  }
  return out;
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
