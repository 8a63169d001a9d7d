// A block on a scale, or its sizes with the readings typed onto them.
#include <QPainterPath>

#include "app/sketches/bench_sketches.h"
#include "app/sketches/piece_sketches.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "core/quantity/format.h"

namespace fortitor {
namespace {

using parts::qs;
using theme::Ink;

// Front face and the shift to the back one, px.
struct Box {
  QRectF front;
  QPointF back;
};

Box box_of(const QRectF& a, bool sizes) {
  const double w = std::min(a.width() * (sizes ? 0.36 : 0.34), a.height() * (sizes ? 0.5 : 0.55)), h = w * 0.62;
  const QPointF centre(a.center().x() - w * 0.1, a.top() + a.height() * (sizes ? 0.46 : 0.40));
  return {{centre.x() - w / 2, centre.y() - h / 2, w, h}, {w * 0.34, -w * 0.22}};
}

void paint_block(QPainter& p, const Box& b, const QColor& tone) {
  const QRectF f = b.front;
  p.setPen(QPen(theme::color(Ink::ink), 1.5));
  p.setBrush(tone.lighter(116));
  p.drawPolygon(QPolygonF({f.topLeft(), f.topRight(), f.topRight() + b.back, f.topLeft() + b.back}));
  p.setBrush(tone.darker(112));
  p.drawPolygon(QPolygonF({f.topRight(), f.bottomRight(), f.bottomRight() + b.back, f.topRight() + b.back}));
  p.setBrush(tone);
  p.drawRect(f);
}

QColor tone_of(const TestRecord& r) {
  const bool wood = r.fields.text("specimen.family").find("wood") != std::string::npos;
  return wood            ? theme::temper(1).lighter(theme::dark() ? 90 : 116)
         : theme::dark() ? QColor("#4C5C69")
                         : QColor("#C9CFD1");
}

}  // namespace

void BlockSketch::paint(QPainter& p, const QRectF& area, const SketchState& s) const {
  p.setRenderHint(QPainter::Antialiasing);
  const bool sizes = scene_ == Scene::sizes, in_water = s.record.fields.flag("specimen.immersed");
  const Box b = box_of(area, sizes);
  const QRectF f = b.front;
  const QColor quiet = theme::color(Ink::quiet);
  if (!sizes) {
    // The scale: pan, body, display with the last mass.
    const double w = f.width() * 1.9;
    const QRectF body(f.center().x() + b.back.x() / 2 - w / 2, f.bottom() + 26, w,
                      std::max(44.0, area.height() * 0.17));
    p.setPen(QPen(theme::color(Ink::ink), 1.4));
    p.setBrush(theme::dark() ? QColor("#3B4953") : QColor("#DDE1E1"));
    p.drawRect(QRectF(body.center().x() - 5, f.bottom() + 6, 10, 22));
    p.drawRoundedRect(QRectF(body.center().x() - w * 0.44, f.bottom(), w * 0.88, 8), 3, 3);
    p.drawRoundedRect(body, 6, 6);
    const QRectF display = body.adjusted(w * 0.24, body.height() * 0.22, -w * 0.24, -body.height() * 0.22);
    p.setPen(Qt::NoPen);
    p.setBrush(theme::color(Ink::callout));
    p.drawRoundedRect(display, 3, 3);
    p.setPen(theme::temper(0));
    p.setFont(theme::numbers(std::min(22.0, display.height() * 0.62), QFont::DemiBold));
    const double mass = draw::last_reading(s.record, "mass");
    p.drawText(display, Qt::AlignCenter, spoken(mass > 0 ? qs(typed_value(mass, Dimension::mass, s.units, 5)) : "– g"));
    if (in_water) {
      p.setPen(QPen(theme::temper(6), 1.4, Qt::DashLine));
      p.setBrush(Qt::NoBrush);
      p.drawRoundedRect(f.adjusted(-18, -f.height() * 0.55, 18 + b.back.x(), 6), 6, 6);
    }
  }
  paint_block(p, b, tone_of(s.record));
  if (!sizes) return;
  draw::dimension_line(p, f.bottomLeft() + QPointF(0, 16), f.bottomRight() + QPointF(0, 16), quiet);
  draw::dimension_line(p, f.topLeft() - QPointF(16, 0), f.bottomLeft() - QPointF(16, 0), quiet);
  draw::dimension_line(p, f.bottomRight() + QPointF(14, 6), f.bottomRight() + b.back + QPointF(14, 6), quiet);
  p.setPen(quiet);
  p.setFont(theme::words(12));
  const auto words = [&](const QPointF& at, const char* text) {
    p.drawText(QRectF(at.x() - 60, at.y() - 9, 120, 18), Qt::AlignCenter, spoken(text));
  };
  for (const Anchor& a : anchors(area, s.record)) {
    if (a.index != 0) continue;
    words(a.at - QPointF(0, 24), a.path.find("width") != std::string::npos       ? "width"
                                 : a.path.find("thickness") != std::string::npos ? "thickness"
                                                                                 : "length");
  }
}

std::vector<Anchor> BlockSketch::anchors(const QRectF& area, const TestRecord& r) const {
  std::vector<Anchor> out;
  const std::string shape = r.fields.text("specimen.section.shape");
  if (scene_ != Scene::sizes || r.fields.flag("specimen.immersed") || (!shape.empty() && shape != "flat")) return out;
  const Box b = box_of(area, true);
  for (int i = 0; i < 3; ++i) {
    out.push_back({"specimen.section.width", i, {b.front.center().x() + (i - 1) * 112, b.front.bottom() + 58}});
    out.push_back({"specimen.section.thickness", i, {b.front.left() - 92, b.front.center().y() + (i - 1) * 34}});
    out.push_back({"specimen.length", i, {b.front.right() + b.back.x() + 96, b.front.center().y() + (i - 1) * 34 + 6}});
  }
  return out;
}

}  // namespace fortitor
