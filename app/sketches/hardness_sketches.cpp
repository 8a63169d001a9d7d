#include "app/sketches/hardness_sketches.h"

#include <QPainterPath>
#include <algorithm>
#include <cmath>

#include "app/sketches/bench_sketches.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "core/methods/support/indents.h"
#include "core/quantity/format.h"
#include "core/record/keyed.h"

namespace fortitor {
namespace {

using parts::qs;
using theme::Ink;

constexpr const char *kPlaces = "settings.plan.places", *kClear = "settings.plan.clear";

// The face on the drawing, and the way between its millimetres and px.
struct MapPlan {
  IndentFace face;
  bool known = false;
  QRectF box;
  double scale = 1;       ///< px per mm
  double x0 = 0, y0 = 0;  ///< mm at the lower left of the box; not zero in a close-up
  bool close_up = false;
  QPointF at(double x, double y) const { return {box.left() + (x - x0) * scale, box.bottom() - (y - y0) * scale}; }
  QPointF mm(QPointF px) const { return {x0 + (px.x() - box.left()) / scale, y0 + (box.bottom() - px.y()) / scale}; }
};

struct Place {
  double x = 0, y = 0;
  enum class State { planned, now, read, aside } state = State::planned;
};

const TableSpec* table_of(const TestRecord& r) {
  const Method* m = methods::find(r.method);
  return m == nullptr ? nullptr : m->keyed_table();
}

std::vector<IndentSpot> planned_spots(const TestRecord& r) {
  std::vector<IndentSpot> out;
  const TableSpec* t = table_of(r);
  if (t == nullptr || !t->planned_rows) return out;
  for (const Fields& f : t->planned_rows(r))
    out.push_back({f.number("x").value_or(0), f.number("y").value_or(0), 0, {}});
  return out;
}

// Rows that have a place, then what is planned beyond them.
std::vector<Place> places_of(const TestRecord& r) {
  std::vector<Place> out;
  const TableSpec* t = table_of(r);
  if (t == nullptr) return out;
  const Rows& rows = r.run.rows(t->id);
  for (const Row& row : rows)
    if (const auto x = row.number("x")) {
      const bool whole = std::all_of(t->columns.begin(), t->columns.end(), [&](const FieldSpec& c) {
        return c.planned || !field_applies(c, r) || cell_complete(row, c);
      });
      out.push_back({*x, row.number("y").value_or(0),
                     !row.used() ? Place::State::aside
                     : whole     ? Place::State::read
                                 : Place::State::now});
    }
  const auto spots = planned_spots(r);
  for (size_t i = rows.size(); i < spots.size(); ++i) out.push_back({spots[i].x, spots[i].y, Place::State::planned});
  return out;
}

MapPlan map_plan(const QRectF& a, const TestRecord& r, bool sizes) {
  MapPlan m;
  m.face = indents::face_of(r.fields);
  m.known = m.face.shape != IndentFace::Shape::unknown;
  double w = m.face.width, h = m.face.height;
  if (!m.known) {  // as wide as its indents need, or a face to put sizes on
    w = 10, h = 6;
    for (const Place& p : places_of(r)) w = std::max(w, 1.15 * p.x), h = std::max(h, 1.3 * p.y);
  }
  const QRectF room = sizes ? a.adjusted(128, 34, -128, -92) : a.adjusted(12, 22, -12, -40);
  m.scale = std::max(0.5, std::min(room.width() / w, room.height() / h));
  m.box = QRectF(0, 0, w * m.scale, h * m.scale);
  m.box.moveCenter(room.center());
  return m;
}

// A short line of indents on a wide face is seen in a close-up only: the stretch from the edge over all places.
MapPlan close_up(const QRectF& room, const TestRecord& r, const MapPlan& whole) {
  MapPlan m = whole;
  const std::vector<Place> places = places_of(r);
  if (!whole.known || places.size() < 3) return m;
  double right = 0, low = HUGE_VAL, high = -HUGE_VAL;
  for (const Place& p : places) {
    right = std::max(right, p.x);
    low = std::min(low, p.y);
    high = std::max(high, p.y);
  }
  if (!r.fields.any_under("specimen.traverse") || right > 0.4 * whole.face.width) return m;
  const double w = 1.18 * right, h = std::max(1.5 * (high - low), w * room.height() / room.width() * 0.9);
  m.close_up = true;
  m.scale = std::min(room.width() / w, room.height() / h);
  m.box = QRectF(0, 0, w * m.scale, h * m.scale);
  m.box.moveCenter(room.center());
  m.y0 = 0.5 * (low + high) - 0.5 * h;
  return m;
}

double rounded(double mm) {
  return std::round(mm * 100) / 100;
}

}  // namespace

namespace draw {

void diamond(QPainter& p, QPointF at, double r) {
  p.drawPolygon(QPolygonF({at - QPointF(r, 0), at - QPointF(0, r), at + QPointF(r, 0), at + QPointF(0, r)}));
}

}  // namespace draw

void IndentMapSketch::paint(QPainter& p, const QRectF& area, const SketchState& s) const {
  p.setRenderHint(QPainter::Antialiasing);
  const MapPlan whole = map_plan(area, s.record, sizes_);
  const MapPlan m = sizes_ ? whole : close_up(area.adjusted(12, 22, -12, -40), s.record, whole);
  const bool traverse = s.record.fields.any_under("specimen.traverse");
  QPainterPath outline;
  if (m.face.shape == IndentFace::Shape::disc && !m.close_up)
    outline.addEllipse(m.box);
  else
    outline.addRect(m.box);
  draw::metal_fill(p, outline);
  if (m.face.shape == IndentFace::Shape::weld) {
    p.save();
    p.setClipPath(outline);
    const double mid = m.face.width / 2, weld = m.face.weld_width / 2, haz = m.face.haz_width;
    auto stripe = [&](double from, double to, QColor tone, int alpha) {
      tone.setAlpha(alpha);
      p.fillRect(QRectF(m.at(from, m.face.height), m.at(to, 0)), tone);
    };
    stripe(mid - weld, mid + weld, theme::temper(1), 90);
    stripe(mid - weld - haz, mid - weld, theme::temper(2), 60);
    stripe(mid + weld, mid + weld + haz, theme::temper(2), 60);
    p.restore();
    p.setPen(theme::color(Ink::quiet));
    p.setFont(theme::words(11));
    p.drawText(QRectF(m.box.left(), m.box.top() - 20, m.box.width(), 16), Qt::AlignCenter,
               spoken("base   ·   heat-affected   ·   weld metal   ·   heat-affected   ·   base"));
  }
  p.setPen(QPen(theme::color(Ink::ink), 1.4, m.known ? Qt::SolidLine : Qt::DashLine));
  p.setBrush(Qt::NoBrush);
  p.drawPath(outline);
  if (traverse) {
    p.setPen(QPen(theme::temper(2), 4));
    p.drawLine(m.box.topLeft(), m.box.bottomLeft());
    p.setPen(theme::temper(2));
    p.setFont(theme::words(11, QFont::Medium));
    p.drawText(QRectF(m.box.left(), m.box.top() - 20, 200, 16), Qt::AlignLeft, spoken("hardened edge"));
  }
  if (const auto clear = read_spots(s.record.fields.text(kClear))) {
    QColor tone = theme::color(Ink::fails);
    for (const IndentSpot& c : *clear) {
      p.setPen(QPen(tone, 1.2, Qt::DashLine));
      tone.setAlpha(40);
      p.setBrush(QBrush(tone, Qt::SolidPattern));
      tone.setAlpha(255);
      const double r = std::max(4.0, c.radius * m.scale);
      p.drawEllipse(m.at(c.x, c.y), r, r);
    }
  }
  const std::vector<Place> places = places_of(s.record);
  const TableSpec* t = table_of(s.record);
  const size_t done = t == nullptr ? 0 : s.record.run.rows(t->id).size();
  // Beside the whole face, large: what would otherwise lie in one heap.
  MapPlan inset = whole;
  if (sizes_) {
    const QRectF room(whole.box.center().x(), whole.box.top() + 14, whole.box.width() / 2 - 14,
                      whole.box.height() - 28);
    inset = close_up(room, s.record, whole);
    if (inset.close_up) {
      p.setPen(QPen(theme::color(Ink::quiet), 1, Qt::DotLine));
      p.drawLine(whole.at(0, inset.y0 + inset.box.height() / inset.scale), inset.box.topLeft());
      p.drawLine(whole.at(0, inset.y0), inset.box.bottomLeft());
      p.setPen(QPen(theme::color(Ink::ink), 1));
      p.setBrush(theme::color(Ink::sheet));
      p.drawRect(inset.box);
      p.setPen(QPen(theme::temper(2), 4));
      p.drawLine(inset.box.topLeft(), inset.box.bottomLeft());
    }
  }
  const MapPlan& map = inset.close_up ? inset : m;
  const double size = places.size() > 60 ? 3 : places.size() > 25 ? 4 : 5.5;
  size_t next = SIZE_MAX, here = SIZE_MAX;  // where the stage goes, and where it stands
  for (size_t i = 0; i < places.size(); ++i) {
    if (places[i].state == Place::State::now && here == SIZE_MAX) here = i;
    if (places[i].state == Place::State::planned && next == SIZE_MAX) next = i;
  }
  if (here == SIZE_MAX) here = next;
  for (size_t i = 0; i < places.size(); ++i) {
    const QPointF at = map.at(places[i].x, places[i].y);
    const bool read = places[i].state == Place::State::read;
    p.setPen(QPen(places[i].state == Place::State::aside ? theme::color(Ink::quiet) : theme::temper(5), 1.4));
    p.setBrush(read ? QBrush(theme::temper(5)) : QBrush(theme::color(Ink::sheet)));
    draw::diamond(p, at, size);
    if (i == here && !sizes_) {
      p.setBrush(Qt::NoBrush);
      p.setPen(QPen(theme::temper(0), 2.6));
      p.drawEllipse(at, size + 5, size + 5);
    }
    if (int(i) == s.chosen) {
      p.setBrush(Qt::NoBrush);
      p.setPen(QPen(theme::color(Ink::action), 2));
      p.drawEllipse(at, size + 5, size + 5);
    }
    if (sizes_ && places.size() <= 16) {
      p.setPen(theme::color(Ink::ink));
      p.setFont(theme::numbers(10));
      p.drawText(QRectF(at.x() + size + 2, at.y() - 15, 24, 14), Qt::AlignLeft, QString::number(i + 1));
    }
  }
  // Where the stage goes from the last indent to the next one.
  p.setPen(theme::color(Ink::quiet));
  p.setFont(theme::words(12));
  QString foot;
  if (!sizes_ && next != SIZE_MAX) {
    foot = "Next: " + QString::number(done + 1);
    if (next == 0)
      foot += " at " + qs(plain_number(rounded(places[next].x), 4)) + " / " +
              qs(plain_number(rounded(places[next].y), 4)) + " mm";
    if (next > 0) {
      const double dx = places[next].x - places[next - 1].x, dy = places[next].y - places[next - 1].y;
      auto move = [](double d) { return QString(d < 0 ? "−" : "+") + qs(plain_number(std::abs(rounded(d)), 4)); };
      foot += ", stage " + move(dx) + " / " + move(dy) + " mm";
      if (const auto turn = s.record.fields.number("equipment.hardness_machine.stage_turn"); turn && *turn > 0)
        foot += ": " + qs(plain_number(rounded(dx / *turn), 3)) + " / " + qs(plain_number(rounded(dy / *turn), 3)) +
                " turns";
    }
  } else if (sizes_ && !m.known) {
    foot = "Enter the sizes of the face: then the places can be laid out.";
  }
  p.drawText(QRectF(area.left(), sizes_ ? area.bottom() - 18 : area.bottom() - 34, area.width(), sizes_ ? 18 : 34),
             Qt::AlignHCenter | Qt::AlignBottom | Qt::TextWordWrap, spoken(foot));
  if (!sizes_) return;
  const QColor quiet = theme::color(Ink::quiet);
  draw::dimension_line(p, m.box.bottomLeft() + QPointF(0, 16), m.box.bottomRight() + QPointF(0, 16), quiet);
  if (m.face.shape != IndentFace::Shape::disc)
    draw::dimension_line(p, m.box.topLeft() - QPointF(16, 0), m.box.bottomLeft() - QPointF(16, 0), quiet);
  p.setPen(quiet);
  p.setFont(theme::words(12));
  for (const Anchor& a : anchors(area, s.record)) {
    const QString words = a.path == "specimen.face.width"        ? "width"
                          : a.path == "specimen.face.diameter"   ? "diameter"
                          : a.path == "specimen.face.height"     ? "height"
                          : a.path == "specimen.face.weld_width" ? "weld metal"
                          : a.path == "specimen.face.haz_width"  ? "heat-affected zone"
                                                                 : "thickness under it";
    p.drawText(QRectF(a.at.x() - 70, a.at.y() - 34, 140, 16), Qt::AlignCenter, spoken(words));
  }
}

std::vector<Anchor> IndentMapSketch::anchors(const QRectF& area, const TestRecord& r) const {
  if (!sizes_) return {};
  const MapPlan m = map_plan(area, r, true);
  const std::string shape = r.fields.text("specimen.face.shape");
  std::vector<Anchor> out;
  out.push_back({"specimen.thickness", 0, {m.box.right() + 66, m.box.center().y()}});
  if (shape == "disc") {
    out.push_back({"specimen.face.diameter", 0, {m.box.center().x(), m.box.bottom() + 52}});
    return out;
  }
  out.push_back({"specimen.face.width", 0, {m.box.center().x() - (shape == "weld" ? 130 : 0), m.box.bottom() + 52}});
  out.push_back({"specimen.face.height", 0, {m.box.left() - 72, m.box.center().y()}});
  if (shape == "weld") {
    out.push_back({"specimen.face.weld_width", 0, {m.box.center().x(), m.box.bottom() + 52}});
    out.push_back({"specimen.face.haz_width", 0, {m.box.center().x() + 130, m.box.bottom() + 52}});
  }
  return out;
}

QString IndentMapSketch::hint() const {
  return sizes_ ? QString(
                      "Click sets a place; arrows nudge the chosen one, with Shift by ten; Page Up and Down choose; "
                      "Delete "
                      "takes it away. Right click keeps an area clear.")
                : QString();
}

SketchHand IndentMapSketch::press(const QRectF& area, const TestRecord& r, QPointF at, bool second) const {
  MapPlan m = map_plan(area, r, true);
  const QRectF room(m.box.center().x(), m.box.top() + 14, m.box.width() / 2 - 14, m.box.height() - 28);
  const MapPlan inset = close_up(room, r, m);
  if (inset.close_up && inset.box.contains(at)) m = inset;  // a hand in the close-up works there
  SketchHand hand;
  if (!m.known || !m.box.contains(at)) return hand;
  hand.used = true;
  const QPointF mm = m.mm(at);
  if (second) {
    auto clear = read_spots(r.fields.text(kClear));
    std::vector<IndentSpot> areas = clear ? *clear : std::vector<IndentSpot>{};
    const size_t before = areas.size();
    std::erase_if(areas, [&](const IndentSpot& c) { return std::hypot(c.x - mm.x(), c.y - mm.y()) <= c.radius; });
    if (areas.size() == before)
      areas.push_back({rounded(mm.x()), rounded(mm.y()), rounded(0.05 * std::min(m.face.width, m.face.height)), {}});
    hand.path = kClear;
    hand.typed = write_spots(areas);
    return hand;
  }
  std::vector<IndentSpot> spots = planned_spots(r);
  for (size_t i = 0; i < spots.size(); ++i) {
    const QPointF d = m.at(spots[i].x, spots[i].y) - at;
    if (std::hypot(d.x(), d.y()) <= 9) {
      hand.chosen = int(i);
      return hand;
    }
  }
  spots.push_back({rounded(mm.x()), rounded(mm.y()), 0, {}});
  hand.chosen = int(spots.size()) - 1;
  hand.path = kPlaces;
  hand.typed = write_spots(spots);
  return hand;
}

SketchHand IndentMapSketch::key(const TestRecord& r, int chosen, int key, bool coarse) const {
  SketchHand hand{chosen, {}, {}, false};
  std::vector<IndentSpot> spots = planned_spots(r);
  const int n = int(spots.size());
  if (!sizes_ || n == 0) return hand;
  if (key == Qt::Key_PageDown || key == Qt::Key_PageUp) {
    hand.chosen =
        chosen < 0 ? (key == Qt::Key_PageDown ? 0 : n - 1) : (chosen + (key == Qt::Key_PageDown ? 1 : n - 1)) % n;
    hand.used = true;
    return hand;
  }
  if (chosen < 0 || chosen >= n) return hand;
  const double step = coarse ? 0.1 : 0.01;
  IndentSpot& spot = spots[size_t(chosen)];
  switch (key) {
    case Qt::Key_Left: spot.x -= step; break;
    case Qt::Key_Right: spot.x += step; break;
    case Qt::Key_Up: spot.y += step; break;
    case Qt::Key_Down: spot.y -= step; break;
    case Qt::Key_Delete:
    case Qt::Key_Backspace:
      spots.erase(spots.begin() + chosen);
      hand.chosen = std::min(chosen, int(spots.size()) - 1);
      break;
    default: return hand;
  }
  hand.used = true;
  hand.path = kPlaces;
  hand.typed = write_spots(spots);
  return hand;
}

}  // namespace fortitor
