// How a set is written: its designation piece by piece, as old drawings have it, and what the material usually takes.
#include <algorithm>
#include <cmath>

#include "core/methods/impact_pendulum/model.h"
#include "core/reference/library.h"

namespace fortitor::pendulum {

using namespace ledger;
using D = Dimension;

namespace {

constexpr double kWhole = 0.05;                     // °C: a temperature that rounds to a whole degree
constexpr double kSubSizeNear = 0.3;                // mm
constexpr double kUsualFrom = 0.7, kUsualTo = 1.4;  // of the usual range of the energy
constexpr double kSameTemperature = 5;              // K

// "−20 °C": as it was set, no more digits than it has.
std::string degrees_celsius(double t) {
  return fixed(t, std::abs(t - std::round(t)) < kWhole ? 0 : 1) + " °C";
}

// "7.5 mm" of a sub-size piece; empty for the full breadth of 10 mm.
std::string sub_size(const State& s) {
  for (double b : {7.5, 5.0, 2.5})
    if (std::abs(s.breadth - b) < kSubSizeNear) return plain_number(b, 2) + " mm";
  return {};
}

// As drawings before the joule have it: letters, hammer in kgf·m / depth in mm / temperature in °C, energy over area in
// kgf·m/cm².
void old_designation(Evaluation& e, const TestRecord& record, const State& s, const Values& v) {
  const double kc = get(v, key::kc);
  const auto t = record.fields.number("specimen.temperature");
  if (!std::isfinite(kc) || !std::isfinite(s.set.available) || !t || s.notch == "none") return;
  constexpr double kG0 = kStandardGravity;
  const std::string letters = std::string("KC") + s.notch[0], hammer = significant(s.set.available / kG0, 3),
                    depth = plain_number(depth_of(s.notch), 3), at = fixed(*t, 0);
  const double old = kc / kG0;
  add_text(e, specs(record), key::designation_old,
           letters + " " + hammer + "/" + depth + "/" + at + (s.bounds() ? " ≥ " : " = ") + significant(old, 3) +
               " kgf·m/cm²",
           {{letters + " " + hammer + "/" + depth + "/" + at,
             "KC energy over area, " + s.notch.substr(0, 1) + " the notch, " + hammer + " kgf·m the hammer, " + depth +
                 " mm the depth of the notch, " + at + " °C the temperature",
             kc, D::impact_area, "1 kgf·m = 9.80665 J"}});
}

// Usual range and minimum of the named material where it was struck as they are stated: V, 2 mm, full size, near their
// temperature.
void usual(Evaluation& e, const TestRecord& record, const State& s) {
  const auto m = usual_of(record, "specimen.material");
  if (!m || !m->values.count("kv") || s.notch != "V2") return;
  const ReferenceValue& range = m->values.at("kv");
  const auto least = m->values.find("kv_min"), at = m->values.find("kv_temperature");
  const double temperature = at != m->values.end() ? at->second.mean : 20;
  std::string text = plain_number(range.low, 3) + "–" + plain_number(range.high, 3) + " J";
  if (least != m->values.end()) text += ", at least " + plain_number(least->second.mean, 3) + " J";
  text += " at " + degrees_celsius(temperature);
  add_text(e, specs(record), key::usual, text,
           {{m->name, m->use.empty() ? m->source : m->use, range.mean, D::energy, m->source}});
  const auto t = record.fields.number("specimen.temperature");
  const ResultValue* energy = e.find(key::energy);
  if (!t || std::abs(*t - temperature) > kSameTemperature || energy == nullptr || !sub_size(s).empty() || s.bounds())
    return;
  const bool low = least != m->values.end() && energy->value < least->second.mean,
             out = energy->value < kUsualFrom * range.low || energy->value > kUsualTo * range.high;
  if (low || out)
    raise(e, "energy-unlikely", Severity::note,
          m->name + " usually takes " + text + "; this set took " + significant(energy->value, 3) +
              " J. Look to the marking, the direction of the pieces and the notch.",
          {{"energy", energy->value}}, {}, key::energy);
}

}  // namespace

void words(Evaluation& e, const TestRecord& record, const State& s, const Values& v) {
  if (s.bounds()) {
    // Means are bounds as soon as one piece did not break; the least and the second least only where it is one of
    // those.
    std::vector<std::string> bounded = {key::energy, key::kc};
    std::vector<const blows::Blow*> counted = s.set.counted();
    std::stable_sort(counted.begin(), counted.end(),
                     [](const auto* a, const auto* b) { return a->energy < b->energy; });
    if (!counted.empty() && counted[0]->unbroken) bounded.push_back(key::energy_min);
    if (counted.size() > 2 && (counted[0]->unbroken || counted[1]->unbroken || counted[2]->unbroken))
      bounded.push_back(key::energy_third);
    if (counted.size() > 1 && (counted[0]->unbroken || counted[1]->unbroken)) bounded.push_back(key::energy_second);
    for (const std::string& key : bounded)
      if (ResultValue* r = e.find(key)) r->censored = Censoring{true, 0, 0};
  }
  limits_of_set(e, record, s);
  const double bend = get(v, key::bend_angle);
  if (std::isfinite(bend)) {
    const double degrees = bend * 180 / M_PI;
    add_text(
        e, specs(record), key::toughness_look,
        degrees > 160   ? "brittle"
        : degrees < 120 ? "tough"
                        : "mixed",
        {{"bend of the rejoined halves", si(bend, D::angle, 3), bend, D::angle, "near 180° brittle, near 100° tough"}});
  }
  const auto t = record.fields.number("specimen.temperature");
  if (e.find(key::energy) == nullptr) return;
  const double energy = e.find(key::energy)->value;  // the list grows below: a pointer into it would not last
  const std::string at = t ? " at " + degrees_celsius(*t) : std::string();
  if (s.plastic()) {
    add_text(e, specs(record), key::designation, "notched cantilever" + at,
             {{"cantilever, notch " + s.notch, "energy over width (J/m) and over the ligament (kJ/m²) are two schools",
               energy, D::energy, "ISO 180, ASTM D256"}});
    return;
  }
  if (s.arrangement == "cantilever-metal") {
    add_text(e, specs(record), key::designation,
             std::string(s.bounds() ? "≥ " : "") + significant(energy, 3) + " J, cantilever, notch " + s.notch + at,
             {{"cantilever, notch " + s.notch, "the designations of ISO 148-1 are those of a piece on two supports",
               energy, D::energy, "ASTM E23"}});
    return;
  }
  const std::string narrow = sub_size(s);
  const std::string symbol = symbol_of(record, s) + (narrow.empty() ? "" : " (" + narrow + ")");
  std::string parts = "K energy";
  if (s.notch != "none")
    parts += ", " + s.notch.substr(0, 1) + " the notch, " + plain_number(depth_of(s.notch), 3) + " mm deep";
  if (const auto striker = record.fields.number("specimen.striker"))
    parts += ", " + plain_number(*striker, 2) + " mm the striker's radius";
  if (std::isfinite(s.set.available))
    parts += std::abs(s.set.available - 300) > 10 ? ", " + significant(s.set.available, 3) + " J the hammer"
                                                  : ", 300 J the hammer and so not written";
  if (!narrow.empty()) parts += ", " + narrow + " the breadth, less than the full 10 mm";
  old_designation(e, record, s, v);
  usual(e, record, s);
  add_text(e, specs(record), key::designation,
           symbol + (s.bounds() ? " ≥ " : " = ") + significant(energy, 3) + " J" + at,
           {{symbol + at, parts, energy, D::energy, "ISO 148-1"}});
}

}  // namespace fortitor::pendulum
