#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/methods/support/skeleton.h"
#include "core/methods/torsion_bar/model.h"
#include "core/methods/torsion_bar/torsion_bar.h"
#include "core/reference/materials.h"

namespace fortitor::torsion {
namespace {

using D = Dimension;
using R = RoundingClass;
using ledger::get;
using ledger::raise;
using ledger::si;

constexpr double kLineWithin = 0.03;  // of the response, for the line that stops are judged by
constexpr double kRoundOff = 1e-12;
constexpr size_t kStopsWanted = 4;   // below yield
constexpr double kWindup = 0.15;     // by which G of the twist lies off G of the gauge
constexpr double kModulusOff = 0.1;  // of what E and ν of the family give

}  // namespace

std::vector<ResultSpec> specs(const TestRecord&) {
  static const std::vector<ResultSpec> table = {
      ledger::spec_of(key::g_modulus, "G", D::modulus, R::other, 4, true),
      ledger::spec_of(key::g_twist, "G_θ", D::modulus, R::other, 4, true),
      ledger::spec_of(key::tau_pl, "τ_PL", D::stress, R::other, 3, true),
      ledger::spec_of(key::tau_y, "τ_y", D::stress, R::other, 3, true),
      ledger::spec_of(key::tau_rupture, "τ_r", D::stress, R::other, 4, true),
      ledger::spec_of(key::tau_plastic, "τ_p", D::stress, R::other, 4, true),
      ledger::spec_of(key::tau_nadai, "τ_N", D::stress, R::other, 3, false),
      ledger::spec_of(key::turns, "N", D::none, R::other, 4, true),
      ledger::spec_of(key::gamma_f, "γ_f", D::elongation, R::other, 3, true),
      ledger::spec_of(key::strain_eq, "ε_eq", D::elongation, R::other, 3, false),
      ledger::spec_of(key::torque_max, "T_max", D::torque, R::other, 4, false),
      ledger::spec_of(key::torque_pl, "T_PL", D::torque, R::other, 4, false),
      ledger::spec_of(key::j_moment, "J", D::second_moment, R::other, 5, false),
      ledger::spec_of(key::e_check, "E_G", D::modulus, R::other, 3, false),
      ledger::spec_of(key::fracture_kind, "fracture", D::none, R::other, 0, false),
  };
  return table;
}

std::vector<Step> how(const std::string& key, const TestRecord& record, const Twisting& t, const Values& v) {
  std::vector<Step> steps;
  const ledger::AddStep add{steps};
  const Bar b = bar_of(record);
  const std::string d = si(b.diameter, D::length), length = si(b.length, D::length);
  auto polar = [&] {
    if (b.tube())
      add("J = π(D⁴ − d⁴)/32", "π((" + d + ")⁴ − (" + si(b.inner, D::length) + ")⁴)/32", b.j, D::second_moment,
          "means of the readings");
    else
      add("J = π·d⁴/32", "π·(" + d + ")⁴/32", b.j, D::second_moment, "mean of the readings");
  };
  auto stress = [&](double torque, double value) {
    polar();
    add("τ = T·r/J" + std::string(b.tube() ? "" : " = 16T/(πd³)"),
        si(torque, D::torque) + " · " + si(b.radius(), D::length) + " / " + si(b.j, D::second_moment), value,
        D::stress);
  };
  auto stops = [&](const std::optional<ProportionalLimit>& l) {
    return l ? std::to_string(l->last + 1) + " stops up to " + si(l->load, D::torque) : std::string();
  };
  if (key == key::j_moment) polar();
  if (key == key::g_modulus) {
    polar();
    add(t.two_gauges ? "γ = ε₊₄₅ − ε₋₄₅" : "γ = 2·ε₄₅", t.two_gauges ? "two gauges" : "one gauge at 45°", 0, D::none,
        "pure shear");
    add("G = Σ(γ−γ̄)(τ−τ̄)/Σ(γ−γ̄)²", stops(t.gauge_limit), get(v, key), D::modulus, "least squares up to the limit");
  }
  if (key == key::g_twist) {
    polar();
    add("γ = r·θ/L", "r = " + si(b.radius(), D::length) + ", L = " + length, 0, D::none);
    add("G = Σ(γ−γ̄)(τ−τ̄)/Σ(γ−γ̄)²", stops(t.twist_limit), get(v, key), D::modulus,
        "twist between the chucks, windup included");
  }
  if (key == key::tau_pl) stress(get(v, key::torque_pl), get(v, key));
  if (key == key::torque_pl)
    add("T_PL", stops(t.gauge_limit ? t.gauge_limit : t.twist_limit), get(v, key), D::torque,
        "largest stop whose whole line stays within 3 % of its strain, unless picked");
  if (key == key::tau_y)
    add("τ = G·(γ − γ₀ − " + ledger::percent(yield_offset(record)) + ")",
        "crossing of the curve with the parallel to G", get(v, key), D::stress, "straight line between stops");
  if (key == key::torque_max)
    add("T_max",
        record.fields.number("specimen.after.torque_max") ? "largest torque of the fast part"
                                                          : "largest torque at a stop",
        get(v, key), D::torque);
  if (key == key::tau_rupture) stress(get(v, key::torque_max), get(v, key));
  if (key == key::tau_plastic)
    add(b.tube() ? "τ = 3T/(2π(R³ − r³))" : "τ = 12·T/(π·d³)",
        "12·" + si(get(v, key::torque_max), D::torque) + "/(π·(" + d + ")³)", get(v, key), D::stress,
        "the whole section at one stress");
  if (key == key::tau_nadai)
    add("τ = (θ·dT/dθ + 3T)/(2πr³)",
        "θ = " + si(t.angle_end, D::angle) +
            ", dT/dθ = " + (t.end_slope ? significant(t.end_slope->slope, 4) : std::string("–")) +
            " N·mm/rad over the last three points",
        get(v, key), D::stress, "Nadai 1950");
  if (key == key::turns) add("N = θ/360°", si(t.angle_end, D::angle), get(v, key), D::none);
  if (key == key::gamma_f || key == key::strain_eq) {
    add("γ_f = r·θ_f/L", si(b.radius(), D::length) + " · " + significant(t.angle_end, 5) + " rad / " + length,
        get(v, key::gamma_f), D::elongation);
    if (key == key::strain_eq)
      add("ε_eq = γ_f/√3", si(get(v, key::gamma_f), D::elongation), get(v, key), D::elongation, "von Mises");
  }
  if (key == key::e_check)
    add("E = 2·G·(1 + ν)",
        "2 · " + si(get(v, key::g_modulus), D::modulus) + " · (1 + " +
            significant(record.fields.number("specimen.poisson").value_or(0), 3) + ")",
        get(v, key), D::modulus);
  return steps;
}

void add_findings(Evaluation& e, const TestRecord& record, const Twisting& t, const Values& v) {
  ledger::size_findings(e, methods::torsion_bar(), record);
  // Live judgement: torque and strain over the angle that was set.
  for (const auto& [channel, dimension, gauge] :
       {std::tuple{"torque", D::torque, "the torque"}, std::tuple{"strain_45", D::microstrain, "the gauge"}}) {
    LoadingPath path = path_of(t.rows, "angle", channel);
    const size_t lost = t.lost_at.value_or(t.rows.size());
    while (channel == std::string("strain_45") && path.size() > 0 && path.station.back() >= lost) {
      for (auto* list : {&path.load, &path.response, &path.count}) list->pop_back();
      path.station.pop_back();
    }
    const auto limit = straight_to(path, kLineWithin);
    const auto line = limit ? std::optional(limit->line) : fit_line(path.load, path.response);
    if (!line || path.size() < 2) continue;
    const OffLine off = t.keyed ? off_line(path, kLineWithin) : OffLine{};
    e.lines.push_back(row_line(t.rows, "angle", channel, dimension, *line, path, off));
    if (t.keyed) off_line_findings(e, record.run, e.lines.back(), path, off, D::angle, gauge, "re-read");
  }
  if (t.lost_at)
    raise(e, "gauge-lost", Severity::note,
          "The strain gauge is " + t.lost_how + " from stop " + std::to_string(*t.lost_at) + " (" +
              si(t.rows[*t.lost_at].number("angle").value_or(0), D::angle, 4) +
              ") on; its readings are used only up to there.",
          {{"station", double(*t.lost_at)}}, {}, key::g_modulus);
  cell_findings(e, record, "equipment.torque_cell.capacity", t.torque_max, D::torque, key::tau_rupture);
  if (record.run.open) return;
  const auto& path = t.gauge_limit ? t.gauge : t.twist;
  const double yield = v.count(key::tau_y) ? get(v, key::tau_y) : get(v, key::tau_pl);
  const Bar b = bar_of(record);
  // Without four stops on a line there is no limit at all: coarser cannot be.
  const bool none = !t.gauge_limit && !t.twist_limit && t.twist.size() >= 2;
  if (b.j > 0 && (std::isfinite(yield) || none)) {
    size_t below = 0;
    for (double torque : path.load) below += !none && torque > 0 && torque * b.radius() / b.j < yield * (1 + kRoundOff);
    if (below < kStopsWanted)
      raise(e, "steps-coarse", Severity::check,
            "Only " + std::to_string(below) +
                " loaded stops lie below yield where 4 are wanted: start with smaller steps.",
            {{"stations", double(below)}}, {}, key::g_modulus);
  }
  if (v.count(key::g_modulus) && v.count(key::g_twist)) {
    const double ratio = get(v, key::g_twist) / get(v, key::g_modulus);
    if (std::abs(ratio - 1) > kWindup)
      raise(e, "angle-includes-chuck", Severity::check,
            "G from the twist is " + ledger::percent(ratio, 3) +
                " of G from the gauge: the angle was read between the chucks, and their windup and the shoulders are "
                "in it.",
            {{"ratio", ratio}}, {}, key::g_twist);
  }
  const std::string fracture = record.fields.text("specimen.after.fracture");
  if (fracture == "at-chuck")
    raise(e, "break-at-chuck", Severity::check,
          "It broke at a chuck: the grip's notch decided, and torque and turns are those of the gripped end.", {}, {},
          key::tau_rupture);
  const MaterialFamily* family = find_family(record.fields.text("specimen.family"));
  if (family != nullptr && v.count(key::g_modulus)) {
    const double low = family->e_low / 2 / (1 + family->poisson), high = family->e_high / 2 / (1 + family->poisson);
    const double g = get(v, key::g_modulus);
    if (g < (1 - kModulusOff) * low || g > (1 + kModulusOff) * high)
      raise(e, "modulus-unlikely", Severity::check,
            "G is " + si(g, D::modulus, 4) + "; from E and ν of " + std::string(family->name) +
                " it would lie between " + si(low, D::modulus, 3) + " and " + si(high, D::modulus, 3) +
                ". Check the gauge's angle, its factor and the diameter.",
            {{"g_modulus", g}}, {}, key::g_modulus);
  }
  if (t.torque_max > 0 && !t.broken)
    raise(e, "censored", Severity::note,
          "No fracture is recorded" + (record.run.stopped.empty() ? std::string() : " (" + record.run.stopped + ")") +
              ": torque, stresses and turns at the end are lower bounds, written with ≥.",
          {}, {}, key::tau_rupture);
}

void add_figures(Evaluation& e, const TestRecord& record, const Twisting& t, const Values& v) {
  const Bar b = bar_of(record);
  if (!(b.j > 0) || t.twist.size() < 2) return;
  const double tau = b.radius() / b.j, gamma = b.length > 0 ? b.radius() / b.length : 0;
  const bool by_gauge = t.gauge_limit.has_value() && gamma > 0;
  const double per = gamma > 0 ? gamma : 1;
  StopSheet sheet;
  sheet.x_name = gamma > 0 ? "shear strain" : "angle";
  sheet.x_dimension = gamma > 0 ? D::strain : D::angle;
  sheet.y_name = "shear stress";
  sheet.y_dimension = D::stress;
  sheet.control_name = "angle";
  sheet.control_dimension = D::angle;
  sheet.reading_name = "torque";
  sheet.reading_dimension = D::torque;
  // The whole curve over the twist; the gauge, where it lived, beside it.
  const LoadingPath all = path_of(t.rows, "torque", "angle", true);
  StopSeries twist;
  twist.label = "from the twist";
  for (size_t i = 0; i < all.size(); ++i) {
    twist.x.push_back(all.response[i] * per);
    twist.y.push_back(all.load[i] * tau);
  }
  twist.row = all.station;
  twist.control = "angle";
  twist.tolerance = record.fields.number("settings.proportional_limit.tolerance").value_or(kStraight);
  for (const RowLine& line : e.lines)
    if (line.column == "torque") twist.line = &line;
  sheet.series.push_back(std::move(twist));
  if (gamma > 0 && t.gauge.size() > 1) {
    StopSeries gauge;
    gauge.label = "gauge";
    gauge.x = t.gauge.response;
    for (double torque : t.gauge.load) gauge.y.push_back(torque * tau);
    gauge.row = t.gauge.station;
    sheet.series.push_back(std::move(gauge));
  }
  using Kind = Construction::Kind;
  const auto& limit = by_gauge ? t.gauge_limit : t.twist_limit;
  const double scale = by_gauge ? 1 : per;
  if (limit) {
    const double top = limit->load * 1.3;
    sheet.constructions.push_back({Kind::line,
                                   by_gauge ? key::g_modulus : key::g_twist,
                                   "G",
                                   {{limit->line.at(0) * scale, 0}, {limit->line.at(top) * scale, top * tau}},
                                   {},
                                   true});
    sheet.constructions.push_back(
        {Kind::point, key::tau_pl, "limit", {{limit->response * scale, limit->load * tau}}, {}, true});
    const double y = get(v, key::tau_y), offset = yield_offset(record);
    if (std::isfinite(y)) {
      const double x = (limit->line.at(y / tau)) * scale + offset;
      sheet.constructions.push_back({Kind::line,
                                     key::tau_y,
                                     ledger::percent(offset) + " offset",
                                     {{limit->line.at(0) * scale + offset, 0}, {x, y}},
                                     {}});
      sheet.constructions.push_back({Kind::point, key::tau_y, "τy", {{x, y}}, {}});
    }
  }
  e.figures.push_back(sheet.figure(e, t.rows));
}

void add_alternatives(Evaluation& e, const TestRecord& record, const Twisting& base) {
  if (record.run.open) return;
  const LoadingPath& path = base.gauge.size() >= 4 ? base.gauge : base.twist;
  if (path.size() < 4) return;
  e.alternatives_path = "settings.proportional_limit.what_if";
  const Readings kept = record.fields.readings(e.alternatives_path);
  auto offer = [&](std::string id, std::string label, const std::string& school, const Reading* torque) {
    TestRecord other = record;
    other.fields.set("settings.proportional_limit.school", school);
    if (torque != nullptr) other.fields.set("settings.proportional_limit.torque", *torque);
    const Twisting t = twisting_of(other);
    const Values values = compute(other, t, {});
    Alternative a{std::move(id), std::move(label), {{"settings.proportional_limit.school", school}}, {}, {}, false};
    if (torque != nullptr) a.settings["settings.proportional_limit.torque"] = torque->typed;
    for (const char* key : {key::torque_pl, key::tau_pl, key::g_modulus, key::tau_y})
      if (values.count(key)) a.values[key] = values.at(key);
    const std::string now = record.fields.text("settings.proportional_limit.school");
    a.kept = school == "auto" && !now.empty() && now != "auto";  // a choice by hand keeps the rule's own beside it
    for (const Reading& r : kept)
      a.kept = a.kept || (torque != nullptr && r.value && torque->value &&
                          std::abs(*r.value - *torque->value) <= 1e-9 * std::abs(*r.value));
    e.alternatives.push_back(std::move(a));
  };
  offer("auto", "last straight stop", "auto", nullptr);
  offer("deviation", "5 % off the first line", "deviation", nullptr);
  if (!base.keyed) return;
  // The stops around the limit are the ones a person weighs.
  constexpr size_t kAround = 40;
  const auto& limit = base.gauge.size() >= 4 ? base.gauge_limit : base.twist_limit;
  const size_t at = limit ? limit->last : 2;
  for (size_t i = std::max<size_t>(2, at > kAround ? at - kAround : 2); i < std::min(path.size(), at + kAround); ++i)
    if (const Reading* r = base.rows[path.station[i]].reading("torque"); r != nullptr && r->value)
      offer(r->typed, si(*r->value, D::torque, 4), "pick", r);
}

static void add_words(Evaluation& e, const TestRecord& record, const Twisting& t, const Values&) {
  const std::string fracture = record.fields.text("specimen.after.fracture");
  const std::string kind = fracture == "flat"      ? "ductile, sheared flat across"
                           : fracture == "helical" ? "brittle, helical at 45°"
                           : fracture == "fibrous" ? "fibrous splitting"
                                                   : "";
  ledger::add_text(e, specs(record), key::fracture_kind, kind,
                   {{"look of the fracture", fracture, 0, D::none, "entered at After"}});
  limit_bound(e, record, t.gauge_limit ? t.gauge : t.twist, t.gauge_limit ? t.gauge_limit : t.twist_limit,
              {key::tau_pl, key::torque_pl});
  if (t.end_slope && t.end_unknown() && !bar_of(record).tube())
    raise(
        e, "end-unrecorded", Severity::note,
        "Between the last stops the curve bends too far for a slope at its end: no shear stress is given by it. Stops "
        "closer together towards the end show it.",
        {{"angle", t.angle_end}, {"slope", t.end_slope->slope}}, {}, key::tau_nadai);
  if (t.broken) return;
  for (const char* key :
       {key::tau_rupture, key::tau_plastic, key::tau_nadai, key::turns, key::gamma_f, key::strain_eq, key::torque_max})
    if (ResultValue* r = e.find(key)) r->censored = Censoring{true, 0, 0};
}

}  // namespace fortitor::torsion

namespace fortitor::methods {

const Method& torsion_bar() {
  static const Method method = [] {
    Parts<torsion::Twisting> parts;
    parts.describe = torsion::describe;
    parts.results = torsion::specs;
    parts.look = torsion::twisting_of;
    parts.compute = torsion::compute;
    parts.how = torsion::how;
    parts.inputs = torsion::add_inputs;
    parts.words = torsion::add_words;
    parts.findings = torsion::add_findings;
    parts.figures = torsion::add_figures;
    parts.alternatives = torsion::add_alternatives;
    parts.doubted = {torsion::key::g_modulus, torsion::key::g_twist, torsion::key::tau_pl};
    return method_of("torsion-bar", "ISO 18338", parts);
  }();
  return method;
}

}  // namespace fortitor::methods
