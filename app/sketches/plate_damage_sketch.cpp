// What is seen on the plate, drawn to scale: drag a mark, say what it is.
#include <QKeyEvent>
#include <algorithm>
#include <cmath>

#include "app/sketches/bench_sketches.h"
#include "app/sketches/plate_sketches.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "core/methods/drop_impact/drop_impact.h"
#include "core/quantity/format.h"
#include "core/record/keyed.h"

namespace fortitor {
namespace {

using parts::qs;
using theme::Ink;

constexpr double kLong = 150, kWide = 100;  // mm

struct Face {
  std::string name;
  QRectF box;  ///< the plate, px
  double scale = 1;
  QPointF at(double x, double y) const { return {box.center().x() + x * scale, box.center().y() - y * scale}; }
  QPointF mm(QPointF px) const { return {(px.x() - box.center().x()) / scale, (box.center().y() - px.y()) / scale}; }
};

// One over the other, each with its readings in a column beside it; side by side where the drawing is much broader.
constexpr double kColumn = 122;
std::vector<Face> faces_of(const QRectF& a) {
  constexpr double kHead = 26;
  const double over = std::min((a.width() - kColumn - 6) / kLong, (a.height() / 2 - kHead - 6) / kWide);
  const double beside = std::min((a.width() / 2 - kColumn - 12) / kLong, (a.height() - kHead - 6) / kWide);
  std::vector<Face> out;
  const bool row = beside > over;
  const double scale = std::max(0.6, row ? beside : over), w = kLong * scale, h = kWide * scale;
  for (int i = 0; i < 2; ++i) {
    const double x = a.left() + (row ? i * a.width() / 2 : 0), y = a.top() + kHead + (row ? 0 : i * a.height() / 2);
    out.push_back({i == 0 ? "front" : "back", {x, y, w, h}, scale});
  }
  return out;
}

struct Drawn {
  std::string kind, face;
  double x = 0, y = 0, length = 0, width = 0;
};

std::vector<Drawn> drawn_of(const TestRecord& r) {
  std::vector<Drawn> out;
  for (const Row& row : r.run.rows(drop::kDamage))
    out.push_back({row.cells.text("kind"), row.cells.text("face"), row.number("x").value_or(0),
                   row.number("y").value_or(0), row.number("length").value_or(0), row.number("width").value_or(0)});
  return out;
}

Row row_of(const Drawn& d) {
  Row row;
  row.cells.set("kind", d.kind);
  row.cells.set("face", d.face);
  for (const auto& [name, v] : {std::pair{"x", d.x}, {"y", d.y}, {"length", d.length}, {"width", d.width}}) {
    const double tenth = std::round(v * 10) / 10;
    row.cells.set(name, Reading{plain_number(tenth, 5) + " mm", tenth, 0.1});
  }
  return row;
}

// A kind that is drawn is also seen.
void tick(TestRecord& r, const std::string& kind) {
  std::vector<std::string> kinds = words_of(r.fields.text("specimen.damage.kinds"));
  if (std::find(kinds.begin(), kinds.end(), kind) == kinds.end()) kinds.push_back(kind);
  r.fields.set("specimen.damage.kinds", kept_words(kinds));
}

SketchHand change(int chosen, const std::string& what, std::function<void(TestRecord&)> edit) {
  SketchHand hand;
  hand.chosen = chosen;
  hand.used = true;
  hand.what = what;
  hand.edit = std::move(edit);
  return hand;
}

QColor tone_of(const std::string& kind) {
  return kind == "dent"          ? theme::temper(5)
         : kind == "split"       ? theme::temper(2)
         : kind == "fibre break" ? theme::color(Ink::fails)
                                 : theme::temper(3);
}

// A dent as rings, a delamination hatched, a split as a line with short cross strokes, broken fibres as a zigzag.
void paint_mark(QPainter& p, const QRectF& e, const std::string& kind, bool held) {
  const QColor tone = tone_of(kind);
  p.setPen(QPen(tone, held ? 2.6 : 1.6));
  p.setBrush(Qt::NoBrush);
  const QPointF c = e.center();
  const bool along = e.width() >= e.height();
  const QPointF from = along ? QPointF(e.left(), c.y()) : QPointF(c.x(), e.top()),
                to = along ? QPointF(e.right(), c.y()) : QPointF(c.x(), e.bottom());
  const QPointF across = along ? QPointF(0, 1) : QPointF(1, 0);
  if (kind == "dent") {
    for (double k : {1.0, 0.66, 0.33}) p.drawEllipse(c, e.width() / 2 * k, e.height() / 2 * k);
  } else if (kind == "split") {
    p.drawLine(from, to);
    for (double t = 0.1; t < 1; t += 0.2)
      p.drawLine(from + (to - from) * t - across * 4, from + (to - from) * t + across * 4);
  } else if (kind == "fibre break") {
    QPolygonF zig;
    for (int i = 0; i <= 12; ++i) zig << from + (to - from) * (i / 12.0) + across * (i % 2 != 0 ? 5 : -5);
    p.drawPolyline(zig);
  } else {
    QColor wash = tone;
    wash.setAlpha(46);
    p.setBrush(wash);
    p.drawEllipse(e);
    p.save();
    QPainterPath clip;
    clip.addEllipse(e);
    p.setClipPath(clip);
    QColor line = tone;
    line.setAlpha(120);
    p.setPen(QPen(line, 1));
    for (double x = e.left() - e.height(); x < e.right(); x += 6)
      p.drawLine(QPointF(x, e.top()), QPointF(x + e.height(), e.bottom()));
    p.restore();
  }
}

QRectF box_of(const Face& f, const Drawn& d) {
  const QPointF c = f.at(d.x, d.y);
  const double w = std::max(6.0, d.length * f.scale), h = std::max(6.0, d.width * f.scale);
  return {c.x() - w / 2, c.y() - h / 2, w, h};
}

Drawn stroke_of(const Face& f, QPointF from, QPointF to) {
  const QPointF a = f.mm(from), b = f.mm(to);
  auto inside = [](double v, double half) { return std::clamp(v, -half, half); };
  const double x0 = inside(a.x(), kLong / 2), x1 = inside(b.x(), kLong / 2), y0 = inside(a.y(), kWide / 2),
               y1 = inside(b.y(), kWide / 2);
  return {"delamination", f.name, (x0 + x1) / 2, (y0 + y1) / 2, std::abs(x1 - x0), std::abs(y1 - y0)};
}

}  // namespace

QString PlateDamageSketch::hint() const {
  return "Drag over what you see. Then D dent, L delamination, S split, F fibre break; arrows move it, + − longer, < > "
         "wider, "
         "T other face, Delete takes it away. N sets a mark by keys, M takes length and width from the drawing.";
}

void PlateDamageSketch::paint(QPainter& p, const QRectF& a, const SketchState& s) const {
  p.setRenderHint(QPainter::Antialiasing);
  const QColor quiet = theme::color(Ink::quiet), ink = theme::color(Ink::ink);
  const std::vector<Drawn> all = drawn_of(s.record);
  for (const Face& f : faces_of(a)) {
    p.setFont(theme::words(13, QFont::DemiBold));
    p.setPen(ink);
    p.drawText(QPointF(f.box.left(), f.box.top() - 8), spoken(f.name == "front" ? "Front, struck" : "Back"));
    p.setPen(QPen(ink, 1.3));
    p.setBrush(theme::dark() ? QColor("#59626B") : QColor("#E2E4E3"));
    p.drawRect(f.box);
    QColor grid = ink;
    grid.setAlpha(20);
    p.setPen(QPen(grid, 1));
    for (int i = -7; i <= 7; ++i) p.drawLine(f.at(i * 10, -50), f.at(i * 10, 50));
    for (int i = -4; i <= 4; ++i) p.drawLine(f.at(-75, i * 10), f.at(75, i * 10));
    p.setPen(QPen(ink, 1));
    p.drawLine(f.at(-4, 0), f.at(4, 0));
    p.drawLine(f.at(0, -4), f.at(0, 4));
    p.setPen(QPen(ink, 2));
    p.drawLine(f.at(63, -46), f.at(73, -46));
    p.setFont(theme::words(10));
    p.setPen(quiet);
    p.drawText(QRectF(f.at(68, -46) - QPointF(30, 16), QSizeF(60, 14)), Qt::AlignCenter, spoken("10 mm"));
    auto words = [&](const QRectF& box, const Drawn& d) {
      p.setFont(theme::words(11, QFont::DemiBold));
      p.setPen(tone_of(d.kind));
      const QString text =
          qs(d.kind) + "  " + QString::number(d.length, 'f', 0) + " × " + QString::number(d.width, 'f', 0) + " mm";
      p.drawText(QRectF(box.center().x() - 110, box.top() - 18, 220, 16), Qt::AlignCenter, spoken(text));
    };
    for (size_t i = 0; i < all.size(); ++i) {
      if (all[i].face != f.name) continue;
      const QRectF box = box_of(f, all[i]);
      const bool held = int(i) == s.chosen;
      paint_mark(p, box, all[i].kind, held);
      if (held) words(box, all[i]);
    }
    if (s.stroke && f.box.contains(s.stroke->first)) {
      const Drawn d = stroke_of(f, s.stroke->first, s.stroke->second);
      paint_mark(p, box_of(f, d), d.kind, true);
      words(box_of(f, d), d);
    }
  }
  for (const Anchor& at : anchors(a, s.record)) {
    const std::string name = at.path.substr(at.path.rfind('.') + 1);
    const char* label = name == "dent"         ? "dent"
                        : name == "dent_after" ? "read after"
                        : name[0] == 'l'       ? "length"
                                               : "width";
    p.setFont(theme::words(11));
    p.setPen(quiet);
    p.drawText(QRectF(at.at.x() - at.width / 2, at.at.y() - 31, at.width, 15), Qt::AlignLeft | Qt::AlignVCenter,
               spoken(label));
  }
}

std::vector<Anchor> PlateDamageSketch::anchors(const QRectF& a, const TestRecord&) const {
  std::vector<Anchor> out;
  for (const Face& f : faces_of(a)) {
    const std::vector<const char*> names =
        f.name == "front" ? std::vector<const char*>{"dent", "dent_after", "length_front", "width_front"}
                          : std::vector<const char*>{"length_back", "width_back"};
    const double step = std::min(52.0, (f.box.height() + 10) / double(names.size()));
    for (size_t i = 0; i < names.size(); ++i)
      out.push_back({std::string("specimen.damage.") + names[i],
                     0,
                     {f.box.right() + 12 + (kColumn - 12) / 2, f.box.top() + 26 + double(i) * step},
                     kColumn - 12});
  }
  return out;
}

SketchHand PlateDamageSketch::press(const QRectF& a, const TestRecord& r, QPointF at, bool second) const {
  const std::vector<Drawn> all = drawn_of(r);
  for (const Face& f : faces_of(a))
    for (size_t i = all.size(); i-- > 0;)
      if (all[i].face == f.name && box_of(f, all[i]).adjusted(-3, -3, 3, 3).contains(at)) {
        if (second) return key(r, int(i), Qt::Key_Delete, false);
        return {int(i), {}, {}, true, {}, {}};
      }
  return {};
}

SketchHand PlateDamageSketch::stroke(const QRectF& a, const TestRecord& r, QPointF from, QPointF to) const {
  for (const Face& f : faces_of(a)) {
    if (!f.box.contains(from)) continue;
    Drawn d = stroke_of(f, from, to);
    if (d.length < 1 && d.width < 1) return {-1, {}, {}, true, {}, {}};  // a click on nothing lets go
    return change(int(r.run.rows(drop::kDamage).size()), d.kind + " drawn on the " + d.face, [d](TestRecord& t) {
      t.run.tables[drop::kDamage].push_back(row_of(d));
      tick(t, d.kind);
    });
  }
  return {};
}

SketchHand PlateDamageSketch::key(const TestRecord& r, int chosen, int key, bool coarse) const {
  std::vector<Drawn> all = drawn_of(r);
  const double step = coarse ? 5 : 1;
  if (key == Qt::Key_N) {
    const Drawn d{"delamination", "front", 0, 0, 10, 8};
    return change(int(all.size()), "mark set on the front", [d](TestRecord& t) {
      t.run.tables[drop::kDamage].push_back(row_of(d));
      tick(t, d.kind);
    });
  }
  if (key == Qt::Key_M && !all.empty())
    return change(chosen, "sizes taken from the drawing", [all](TestRecord& t) {
      for (const char* face : {"front", "back"}) {
        double x0 = HUGE_VAL, x1 = -HUGE_VAL, y0 = HUGE_VAL, y1 = -HUGE_VAL;
        for (const Drawn& d : all) {
          if (d.face != face) continue;
          x0 = std::min(x0, d.x - d.length / 2), x1 = std::max(x1, d.x + d.length / 2);
          y0 = std::min(y0, d.y - d.width / 2), y1 = std::max(y1, d.y + d.width / 2);
        }
        if (!(x1 >= x0)) continue;
        auto size = [](double v) {
          return Reading{plain_number(std::round(v * 2) / 2, 4) + " mm", std::round(v * 2) / 2, 0.5};
        };
        const bool front = face == std::string("front");
        t.fields.set(front ? "specimen.damage.length_front" : "specimen.damage.length_back", size(x1 - x0));
        t.fields.set(front ? "specimen.damage.width_front" : "specimen.damage.width_back", size(y1 - y0));
      }
    });
  if (chosen < 0 || chosen >= int(all.size())) return {chosen, {}, {}, false, {}, {}};
  if (key == Qt::Key_Delete || key == Qt::Key_Backspace)
    return change(-1, "mark taken away", [chosen](TestRecord& t) {
      Rows& rows = t.run.tables[drop::kDamage];
      if (size_t(chosen) < rows.size()) rows.erase(rows.begin() + chosen);
      if (rows.empty()) t.run.tables.erase(drop::kDamage);
    });
  Drawn d = all[size_t(chosen)];
  switch (key) {
    case Qt::Key_Tab: return {chosen, {}, {}, false, {}, {}};
    case Qt::Key_D: d.kind = "dent"; break;
    case Qt::Key_L: d.kind = "delamination"; break;
    case Qt::Key_S: d.kind = "split"; break;
    case Qt::Key_F: d.kind = "fibre break"; break;
    case Qt::Key_T: d.face = d.face == "front" ? "back" : "front"; break;
    case Qt::Key_Left: d.x -= step; break;
    case Qt::Key_Right: d.x += step; break;
    case Qt::Key_Up: d.y += step; break;
    case Qt::Key_Down: d.y -= step; break;
    case Qt::Key_Plus:
    case Qt::Key_Equal: d.length += step; break;
    case Qt::Key_Minus: d.length = std::max(0.0, d.length - step); break;
    case Qt::Key_Greater: d.width += step; break;
    case Qt::Key_Less: d.width = std::max(0.0, d.width - step); break;
    default: return {chosen, {}, {}, false, {}, {}};
  }
  d.x = std::clamp(d.x, -kLong / 2, kLong / 2);
  d.y = std::clamp(d.y, -kWide / 2, kWide / 2);
  d.length = std::min(d.length, kLong);
  d.width = std::min(d.width, kWide);
  return change(chosen, d.kind + " on the " + d.face, [d, chosen](TestRecord& t) {
    Rows& rows = t.run.tables[drop::kDamage];
    if (size_t(chosen) < rows.size()) rows[size_t(chosen)] = row_of(d);
    tick(t, d.kind);
  });
}

}  // namespace fortitor
