#include <cmath>

#include "app/sketches/bar_plan.h"
#include "app/sketches/piece_sketches.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"

namespace fortitor {
namespace {

using bar::caption;
using theme::Ink;

// Distance of the four editors of the failure modes.
double pitch(const QRectF& a) {
  return std::min(118.0, a.width() / 4);
}

struct Block {
  QRectF panel, upper, lower;
  double face;
};

Block plan_of(const QRectF& a, Scene scene, double open) {
  Block b;
  const double w = std::min(a.width() * 0.44, 320.0), h = std::clamp(a.height() * 0.2, 34.0, 96.0), block = h * 0.8;
  const double y = a.top() + a.height() * (scene == Scene::sizes ? 0.5 : 0.46);
  b.panel = QRectF(a.center().x() - w / 2, y - h / 2, w, h);
  b.upper = QRectF(b.panel.left(), b.panel.top() - block - open, w, block);
  b.lower = QRectF(b.panel.left(), b.panel.bottom() + open * 0, w, block);
  b.face = std::max(4.0, h * 0.09);
  return b;
}

}  // namespace

void SandwichSketch::paint(QPainter& p, const QRectF& area, const SketchState& s) const {
  p.setRenderHint(QPainter::Antialiasing);
  const bool detail = area.width() > 300;
  const QColor ink = theme::color(Ink::ink), quiet = theme::color(Ink::quiet);
  const TestRecord& r = s.record;
  const bool broken = scene_ == Scene::broken && !r.run.empty();
  auto share = [&](const char* mode) { return r.fields.number(std::string("specimen.failure.") + mode).value_or(0); };
  const Block b = plan_of(area, scene_, 0);
  const double gap = broken ? 16 : 0;
  // What came off goes up with the upper block.
  const bool at_block = share("block") > 0.5, at_bond = share("bond") > 0.5, at_face = share("face") > 0.5;
  auto steel_block = [&](const QRectF& q, bool up) {
    p.setPen(QPen(ink, 1.4));
    p.setBrush(draw::steel());
    p.drawRect(q);
    if (!detail) return;
    const QPointF pin(q.center().x(), up ? q.top() - 16 : q.bottom() + 16);
    p.drawRect(QRectF(pin.x() - 16, up ? q.top() - 30 : q.bottom(), 32, 30));
    p.setBrush(theme::color(Ink::sheet));
    p.drawEllipse(pin, 8, 8);
  };
  steel_block(b.upper.translated(0, -gap), true);
  steel_block(b.lower, false);
  const QRectF core = b.panel.adjusted(0, b.face, 0, -b.face);
  QRectF top_face(b.panel.left(), b.panel.top(), b.panel.width(), b.face);
  p.setPen(QPen(ink, 1));
  p.setBrush(theme::temper(0).lighter(theme::dark() ? 85 : 125));
  if (!broken || at_block || at_bond || at_face) {
    p.drawRect(core);
  } else {  // torn through the core
    QPolygonF tear;
    for (int i = 0; i <= 12; ++i)
      tear << QPointF(core.left() + core.width() * i / 12, core.center().y() + (i % 2 ? 7 : -7));
    QPolygonF low = tear, high = tear.translated(0, -gap);
    low << core.bottomRight() << core.bottomLeft();
    high << QPointF(core.right(), core.top() - gap) << QPointF(core.left(), core.top() - gap);
    p.drawPolygon(low);
    p.drawPolygon(high);
  }
  if (detail) {  // cells of the core
    p.save();
    p.setClipRect(core);
    p.setPen(QPen(theme::temper(1), 0.8));
    for (double x = core.left() + 8; x < core.right(); x += 14)
      p.drawLine(QPointF(x, core.top()), QPointF(x, core.bottom()));
    p.restore();
  }
  if (broken && !at_block) top_face.translate(0, -gap);
  p.setPen(QPen(ink, 1));
  p.setBrush(theme::dark() ? QColor("#39424B") : QColor("#55606B"));
  p.drawRect(top_face);
  p.drawRect(QRectF(b.panel.left(), b.panel.bottom() - b.face, b.panel.width(), b.face));
  // The bond to the blocks.
  p.setPen(QPen(theme::temper(3), 2.4));
  p.drawLine(b.panel.bottomLeft(), b.panel.bottomRight());
  p.drawLine(b.panel.topLeft() - QPointF(0, broken && !at_block ? gap : 0),
             b.panel.topRight() - QPointF(0, broken && !at_block ? gap : 0));
  if (scene_ == Scene::sizes) {
    caption(p, {area.center().x(), b.upper.top() - 66}, "width × depth: the plane normal to the load", quiet, 12);
    caption(p, {b.panel.left() - 92, b.panel.center().y() - 66}, "thickness", quiet, 12);
    draw::dimension_line(p, {b.panel.left() - 14, b.panel.top()}, {b.panel.left() - 14, b.panel.bottom()}, quiet);
    caption(p, {area.center().x() - 170, b.lower.bottom() + 58}, "w", theme::color(Ink::action), 15, QFont::DemiBold);
    caption(p, {area.center().x() - 170, b.lower.bottom() + 98}, "d", theme::color(Ink::action), 15, QFont::DemiBold);
  }
  if (scene_ == Scene::broken) {
    const char* words[] = {"core", "core–face bond", "face", "block bond"};
    for (int i = 0; i < 4; ++i)
      caption(p, {area.center().x() + (i - 1.5) * pitch(area), area.bottom() - 60}, words[i], quiet, 12);
  }
}

std::vector<Anchor> SandwichSketch::anchors(const QRectF& a, const TestRecord&) const {
  std::vector<Anchor> out;
  const Block b = plan_of(a, scene_, 0);
  if (scene_ == Scene::sizes) {
    for (int i = 0; i < 3; ++i)
      out.push_back({"specimen.width", i, {a.center().x() + (i - 1) * 112.0, b.lower.bottom() + 58}, 100});
    for (int i = 0; i < 3; ++i)
      out.push_back({"specimen.depth", i, {a.center().x() + (i - 1) * 112.0, b.lower.bottom() + 98}, 100});
    for (int i = 0; i < 3; ++i)
      out.push_back({"specimen.thickness", i, {b.panel.left() - 92, b.panel.center().y() + (i - 1) * 38}, 100});
  }
  if (scene_ == Scene::broken) {
    const char* modes[] = {"core", "bond", "face", "block"};
    for (int i = 0; i < 4; ++i)
      out.push_back({std::string("specimen.failure.") + modes[i],
                     0,
                     {a.center().x() + (i - 1.5) * pitch(a), a.bottom() - 30},
                     std::min(96.0, pitch(a) - 8)});
  }
  return out;
}

}  // namespace fortitor
