// What a drop is judged by, and its figures.
#include <algorithm>
#include <cmath>

#include "core/methods/drop_impact/model.h"
#include "core/methods/support/figures.h"
#include "core/methods/support/possible.h"

namespace fortitor::drop {

using namespace ledger;
using D = Dimension;

namespace {

constexpr double kSecondStrike = 0.1;  // of the peak
constexpr double kEnergyOff = 0.05;    // of the energy asked for (ASTM D7136)
constexpr double kDentAlike = 0.02;    // share and mm by which two readings of a dent differ anyhow

void judge_contact(Evaluation& e, const TestRecord& record, const State& s) {
  const Contact& c = s.contact;
  const SamplesPtr samples = record.run.samples();
  if (samples && samples->find("time") == nullptr)
    raise(e, "no-time", Severity::check,
          "The record has no time: neither deflection nor absorbed energy can be found from forces alone.", {}, {},
          key::energy_absorbed);
  if (c.empty()) return;
  if (c.rate < 99e3)
    raise(e, "rate-low", Severity::check,
          "The force was sampled at " + si(c.rate, D::frequency, 3) +
              "; an impact wants 100 kHz or more, or its peaks are cut off.",
          {{"rate", c.rate}}, {}, key::force_peak);
  if (!c.ended)
    raise(
        e, "contact-open", Severity::check,
        "The record ends while the mass still presses on the plate: absorbed energy and time of contact are left out.",
        {}, {}, key::energy_absorbed);
  if (c.late)
    raise(e, "contact-cut", Severity::void_test,
          "The record begins with " + si(c.force.empty() ? 0 : c.force.front(), D::force, 3) +
              " on the plate: the trigger came after the contact. What was before it is missing from speed, deflection "
              "and "
              "energy, and none of them is given.",
          {{"force", c.force.empty() ? 0 : c.force.front()}}, {}, key::energy_absorbed);
  // What noise hides: falls of the size that would be taken for the first damage.
  constexpr double kHides = 0.008;  // of the peak
  if (c.ringing || (!c.damage && c.noise > kHides * c.peak))
    raise(e, "damage-hidden", Severity::note,
          c.ringing ? "The force rings at an even beat: a first damage cannot be told from its falls, and none is "
                      "given. Look to "
                      "the striker and the cell, or filter at the machine."
                    : "Noise of " + si(c.noise, D::force, 2) +
                          " is on the force: a first damage may be hidden in it. That none is given does not say that "
                          "there was none.",
          {{"noise", c.noise}}, {}, key::force_damage);
  const bool struck = c.second > kSecondStrike * c.peak;
  const bool said = record.fields.has("specimen.rebound_caught");
  if (struck || (said && !record.fields.flag("specimen.rebound_caught")))
    raise(e, "second-strike", Severity::void_test,
          struck ? "The force rose again to " + si(c.second, D::force, 3) +
                       " after the contact: the mass fell on the plate a second time. The damage is not that of one "
                       "impact."
                 : std::string("The rebound was not caught: the mass fell on the plate a second time. The damage is "
                               "not that of one impact."),
          {{"second", c.second}}, {}, key::energy_absorbed);
  else if (!said)
    raise(e, "rebound-unknown", Severity::check,
          "Say whether the rebound was caught: a second strike makes the impact void.", {},
          {{"caught", "It was caught", {{"specimen.rebound_caught", "true"}}}}, key::energy_absorbed);
}

}  // namespace

void findings(Evaluation& e, const TestRecord& record, const State& s, const Values& v) {
  if (s.thickness.given()) dimension_findings({s.thickness}, e.findings);
  const bool ran = s.pressed ? !s.press.empty() : !s.contact.empty();
  if (ran) run_findings(e, record, s.facts, key::force_peak);
  if (!s.pressed) judge_contact(e, record, s);
  if (!s.pressed && s.contact.outside)
    raise(e, "pick-outside", Severity::check,
          "The contact is set to begin before the record does, or where the plate carries a load already: it begins "
          "where "
          "it was found.",
          {{"later", record.fields.number("settings.contact_later").value_or(0)}}, {}, key::contact_time);
  const double error = get(v, key::energy_error);
  if (ran && std::isfinite(error) && std::abs(error) > kEnergyOff)
    raise(e, "energy-error", Severity::check,
          std::string(s.pressed ? "The energy put in is " : "The impact had ") +
              si(get(v, key::energy_impact), D::energy) + ", " + percent(std::abs(error)) +
              (error < 0 ? " less" : " more") + " than the " + si(s.target, D::energy) + " asked for; 5 % is allowed." +
              (error < 0 && !s.pressed ? " Look for friction in the guide and at the height." : ""),
          {{"error", error}}, {}, key::energy_impact);
  // A mass that is stopped presses with more than its weight.
  if (ran && !s.pressed && s.mass > 0 && get(v, key::force_peak) < s.mass * kGravity * 1e-3)
    possible::cannot_be(e,
                        "The largest force is " + si(get(v, key::force_peak), D::force, 3) +
                            ", less than the weight of the mass that was stopped, " +
                            si(s.mass * kGravity * 1e-3, D::force, 3) + ": look at the unit of the force.",
                        key::force_peak);
  // What left faster than it came, or went on through: both happen with a mass in another unit as well.
  const double absorbed = get(v, key::energy_absorbed), rebound = get(v, key::v_rebound);
  if (!s.pressed && absorbed < 0)
    raise(e, "energy-gained", Severity::check,
          "The mass would have left the plate with " + si(-absorbed, D::energy, 3) +
              " more than it brought: mass, speed or force is not right.",
          {{"absorbed", absorbed}}, {}, key::energy_absorbed);
  else if (!s.pressed && rebound < 0)
    raise(e, "no-rebound", Severity::note,
          "When the force was gone the mass still went down at " + si(-rebound, D::speed, 3) +
              ": it went through the plate, or mass and force do not belong together.",
          {{"speed", rebound}}, {}, key::v_rebound);
  if (ran && !s.pressed && s.arrival.from == Arrival::From::height)
    raise(e, "speed-assumed", Severity::note,
          "No speed was measured: it is that of a free fall from the height. What the guide takes is not in the impact "
          "energy.",
          {}, {}, key::energy_impact);
  const auto after = record.fields.number("specimen.damage.dent_after");
  if (v.count(key::dent) && !after)
    raise(e, "no-dent-time", Severity::check,
          "The dent has no time: it grows shallower for days, and its depth says nothing without the minutes after the "
          "impact.",
          {}, {}, key::dent);
  if (get(v, key::dent_relaxed) > get(v, key::dent) * (1 + kDentAlike) + kDentAlike)
    raise(e, "dent-grows", Severity::check,
          "The dent was read as " + si(get(v, key::dent_relaxed), D::length, 3) +
              " later on, deeper than before: dents relax, they do "
              "not grow. Read again.",
          {{"dent", get(v, key::dent)}, {"later", get(v, key::dent_relaxed)}}, {}, key::dent_relaxed);
  if (v.count(key::dent) && s.thickness.given() && get(v, key::dent) > s.thickness.mean)
    raise(e, "dent-deep", Severity::note, "The dent is deeper than the plate is thick: the striker went through.", {},
          {}, key::dent);
}

namespace {

Panel panel_of(const char* name, Axis x, Axis y, std::vector<double> xs, std::vector<double> ys, int tone) {
  Panel p;
  p.name = name;
  p.x = std::move(x);
  p.y = std::move(y);
  Trace t;
  t.x = std::move(xs);
  t.y = std::move(ys);
  t.tone = tone;
  p.traces.push_back(std::move(t));
  return p;
}

Mark point(const char* key, const char* label, Point at, double value, D d) {
  Mark m;
  m.kind = Mark::Kind::point;
  m.key = key;
  m.label = label;
  m.points = {at};
  m.value = value;
  m.dimension = d;
  return m;
}

}  // namespace

namespace {

// What was drawn on both faces, to scale.
void plate_figure(Evaluation& e, const TestRecord& record) {
  const Rows& rows = record.run.rows(kDamage);
  if (rows.empty()) return;
  Figure f;
  f.id = "plate";
  f.title = "damage drawn on the plate";
  f.printed = true;
  for (const char* face : {"front", "back"}) {
    Panel p;
    p.name = face == std::string("front") ? "Front" : "Back";
    p.caption = face == std::string("front") ? "front, struck" : "back";
    p.x = {"along", D::length};
    p.y = {"across", D::length};
    p.x.with_zero = p.y.with_zero = false;
    p.x.from = -78, p.x.to = 78, p.y.from = -53, p.y.to = 53;
    p.equal_aspect = true;
    Trace outline;
    outline.x = {-75, 75, 75, -75, -75};
    outline.y = {-50, -50, 50, 50, -50};
    outline.tone = 6;
    p.traces.push_back(std::move(outline));
    for (const Row& row : rows) {
      if (row.cells.text("face") != face || !row.used()) continue;
      const std::string kind = row.cells.text("kind");
      const double x = row.number("x").value_or(0), y = row.number("y").value_or(0),
                   a = row.number("length").value_or(0) / 2, b = row.number("width").value_or(0) / 2;
      Trace t;
      t.label = kind;
      t.tone = kind == "dent" ? 5 : kind == "split" ? 2 : kind == "fibre break" ? 1 : 3;
      t.dash = kind == "delamination" ? Dash::dashed : Dash::solid;
      const bool line = kind == "split" || kind == "fibre break";
      const int steps = line ? 12 : 48;
      for (int i = 0; i <= steps; ++i) {
        const double turn = 2 * M_PI * i / steps, along = -1 + 2.0 * i / steps,
                     zig = kind == "split" ? 0 : (i % 2 != 0 ? 1.5 : -1.5);
        t.x.push_back(line ? (a >= b ? x + a * along : x + zig) : x + a * std::cos(turn));
        t.y.push_back(line ? (a >= b ? y + zig : y + b * along) : y + b * std::sin(turn));
      }
      p.traces.push_back(std::move(t));
    }
    f.panels.push_back(std::move(p));
  }
  e.figures.push_back(std::move(f));
}

void run_figure(Evaluation& e, const State& s, const Values& v);

}  // namespace

void figures(Evaluation& e, const TestRecord& record, const State& s, const Values& v) {
  run_figure(e, s, v);
  plate_figure(e, record);
}

namespace {

void run_figure(Evaluation& e, const State& s, const Values& v) {
  Figure f;
  f.id = "impact";
  f.linked = true;
  const Axis deflection{"deflection", D::length}, force{"force", D::force};
  if (s.pressed) {
    if (s.press.empty()) return;
    f.title = "force over deflection";
    f.panels = {
        panel_of("Force over deflection", deflection, force, s.press.deflection, s.press.force, 5),
        panel_of("Energy over deflection", deflection, {"energy", D::energy}, s.press.deflection, s.press.work, 2)};
    if (v.count(key::energy_impact))
      f.panels[1].marks.push_back(point(key::energy_impact, "put in",
                                        {s.press.deflection[s.press.top], s.press.work[s.press.top]},
                                        get(v, key::energy_impact), D::energy));
    f.panels[1].marks.push_back(point(key::energy_absorbed, "absorbed",
                                      {s.press.deflection.back(), s.press.work.back()}, get(v, key::energy_absorbed),
                                      D::energy));
    e.figures.push_back(std::move(f));
    return;
  }
  const Contact& c = s.contact;
  if (c.empty()) return;
  f.title = "force, deflection and energy of the impact";
  const Axis time{"time", D::time};
  f.panels = {panel_of("Force", time, force, c.time, c.force, 5)};
  if (!c.late) {
    Handle begins = place_handle("settings.contact_later", {0, 0}, D::time, "contact begins");
    begins.from = c.later;
    f.panels[0].handles.push_back(std::move(begins));
  }
  if (v.count(key::force_peak))
    f.panels[0].marks.push_back(
        point(key::force_peak, "largest", {c.peak_at, c.peak}, get(v, key::force_peak), D::force));
  if (c.damage)
    f.panels[0].marks.push_back(
        point(key::force_damage, "first damage", {c.damage_at, *c.damage}, *c.damage, D::force));
  if (s.arrival.from == Arrival::From::none || !(s.mass > 0)) {
    f.linked = false;
    e.figures.push_back(std::move(f));
    return;
  }
  const Motion m = motion_of(c, s.mass, s.arrival.speed, 1, 0);
  f.panels.push_back(panel_of("Force over deflection", deflection, force, m.deflection, c.force, 5));
  f.panels.push_back(panel_of("Deflection", time, deflection, c.time, m.deflection, 3));
  f.panels.push_back(panel_of("Energy", time, {"energy", D::energy}, c.time, m.energy, 2));
  const size_t deep = size_t(std::max_element(m.deflection.begin(), m.deflection.end()) - m.deflection.begin());
  f.panels[2].marks.push_back(
      point(key::defl_peak, "deepest", {c.time[deep], m.deflection[deep]}, get(v, key::defl_peak), D::length));
  if (v.count(key::energy_absorbed))
    f.panels[3].marks.push_back(point(key::energy_absorbed, "absorbed", {c.time.back(), m.energy.back()},
                                      get(v, key::energy_absorbed), D::energy));
  if (v.count(key::energy_impact)) {
    Mark level;
    level.kind = Mark::Kind::level;
    level.key = key::energy_impact;
    level.label = "impact energy";
    level.points = {{0, get(v, key::energy_impact)}};
    level.tone = Mark::Tone::quiet;
    f.panels[3].marks.push_back(level);
  }
  e.figures.push_back(std::move(f));
}

}  // namespace

}  // namespace fortitor::drop
