#include <algorithm>
#include <cmath>

#include "core/methods/flexure_beam/flexure_beam.h"
#include "core/methods/flexure_beam/model.h"
#include "core/reference/library.h"

namespace fortitor::flexure {
namespace {

using D = Dimension;
using ledger::get;
using ledger::percent;
using ledger::raise;
using ledger::si;

constexpr size_t kStopsWanted = 4;  // up to the limit
constexpr double kRoundOff = 1e-12;
constexpr double kMissCounts = 3, kMiss = 0.02;  // counts; of the deflection at the limit

void about_stops(Evaluation& e, const TestRecord& record, const Bending& b) {
  if (b.continuous || record.run.rows(kStops).empty()) return;
  const OffLine off = off_line(b.path, b.tolerance);
  if (b.limit || b.path.size() >= 2) {
    const auto line = b.limit ? std::optional(b.limit->line) : fit_line(b.path.load, b.path.response);
    if (line) {
      e.lines.push_back(row_line(record.run.rows(kStops), "force", "deflection", D::length, *line, b.path, off));
      off_line_findings(e, record.run, e.lines.back(), b.path, off, D::force, "the gauge", "reading-off-line");
    }
  }
  if (record.run.open) return;  // the rest is for a finished record
  size_t below = 0;
  for (size_t i = 0; b.limit && i < b.path.size(); ++i)
    below += b.path.load[i] > 0 && b.path.load[i] <= b.limit->load * (1 + kRoundOff);
  if (below < kStopsWanted)
    raise(e, "stations-few", Severity::check,
          "Only " + std::to_string(below) +
              " loaded stops lie up to the proportional limit where 4 are wanted: take smaller steps next time.",
          {{"stations", double(below)}}, {}, key::pl_force);
  if (b.limit && !b.zero_recorded) {
    const double count = b.path.count.front(), miss = std::abs(b.limit->line.intercept);
    if (miss > std::max(kMissCounts * count, kMiss * std::abs(b.limit->response)))
      raise(e, "zero-point-missing", Severity::check,
            "The line meets zero load at " + si(b.limit->line.intercept, D::length, 3) +
                " and no reading at zero load was kept: slack or a gauge that was not zeroed cannot be told apart.",
            {{"intercept", b.limit->line.intercept}}, {}, key::pl_deflection);
  }
}

void about_wood(Evaluation& e, const TestRecord& record, const Values& v) {
  if (!is_wood(record)) return;
  const double ratio = get(v, key::span_depth);
  if (ratio < 14)
    raise(e, "span-depth-low", Severity::check,
          "The span is " + significant(ratio, 3) +
              " times the depth; below 14 shear deflection is no longer small. E_0 takes it off.",
          {{"span_depth", ratio}}, {}, key::moe);
  if (const auto m = record.fields.number("specimen.moisture");
      m && (v.count(key::mor) || v.count(key::moe)) && !v.count(key::mor_12) && !v.count(key::moe_12))
    raise(e, "moisture-range", Severity::check,
          "The moisture is " + percent(*m, 3) + "; the rule that brings values to 12 % holds from " +
              percent(kRuleFrom) + " to " + percent(kRuleTo) + ", and none is given.",
          {{"moisture", *m}}, {}, v.count(key::mor) ? key::mor : key::moe);
  const auto species = usual_of(record, "specimen.species", "wood");
  if (!species) return;
  for (const auto& [key, what, cv] :
       {std::tuple{key::moe_ratio, "modulus", 0.22}, {key::mor_ratio, "modulus of rupture", 0.16}}) {
    if (!v.count(key)) continue;
    const double r = get(v, key), z = (r - 1) / cv;
    const bool usual = std::abs(z) <= 2;
    raise(e, usual ? "species-compared" : "species-unusual", usual ? Severity::note : Severity::check,
          std::string("At 12 % moisture the ") + what + " is " + percent(r, 3) + " of the mean of " + species->name +
              ", " + significant(std::abs(z), 2) + " standard deviations " + (z < 0 ? "below" : "above") + " it (CV " +
              percent(cv) + "): " +
              (usual ? "within the usual spread." : "outside the usual spread. Check species, sizes and moisture."),
          {{"ratio", r}, {"deviations", z}}, {}, key);
  }
}

}  // namespace

void add_findings(Evaluation& e, const TestRecord& record, const Bending& b, const Values& v) {
  ledger::size_findings(e, methods::flexure_beam(), record);
  const Beam beam = beam_of(record);
  if (record.fields.text("specimen.placed") == "on-edge" && beam.width > beam.depth)
    raise(e, "orientation", Severity::check,
          "The beam is entered as on edge, yet its width " + si(beam.width, D::length) + " exceeds its depth " +
              si(beam.depth, D::length) + ". Depth is in the direction of the load: are the two exchanged?",
          {{"width", beam.width}, {"depth", beam.depth}}, {}, key::moe);
  about_stops(e, record, b);
  if (!record.run.open) about_wood(e, record, v);
  if (b.continuous && !b.channels.empty())
    run_findings(e, record, facts_of(b.channels, 0), key::mor);
  else
    cell_findings(e, record, "equipment.load_cell.capacity", b.max_force, D::force, key::mor);
  if (record.fields.flag("specimen.after.support_crush"))
    raise(e, "support-crush", Severity::check,
          "The wood crushed at a support: part of the deflection is not bending, and the modulus reads low.", {}, {},
          key::moe);
  size_t heard = 0;
  std::string first;
  for (const Event& event : record.events)
    if (event.kind == "heard-cracking" && heard++ == 0) first = event.note;
  if (heard > 0)
    raise(e, "heard-cracking", Severity::note,
          "Cracking was heard " + std::string(heard > 1 ? std::to_string(heard) + " times, first " : "") +
              (first.empty() ? "during the run" : first) + ".",
          {{"times", double(heard)}}, {}, key::pl_force);
  if (b.censored && !record.run.open)
    raise(e, "censored", Severity::note,
          b.censored->above ? "No break is recorded" +
                                  (record.run.stopped.empty() ? std::string() : " (" + record.run.stopped + ")") +
                                  ": the modulus of rupture is a lower bound, written with ≥."
                            : "It broke between " + si(b.censored->from, D::force, 4) + " and " +
                                  si(b.censored->to, D::force, 4) + ": the modulus of rupture is an interval.",
          {}, {}, key::mor);
}

void add_figures(Evaluation& e, const TestRecord& record, const Bending& b, const Values&) {
  const Rows& rows = record.run.rows(kStops);
  const LoadingPath shown = b.continuous ? b.path : path_of(rows, "force", "deflection", true);
  if (shown.size() < 2) return;
  std::vector<Construction> out;
  using Kind = Construction::Kind;
  std::optional<double> lens;
  if (b.limit && b.limit->line.slope > 0) {
    const auto& line = b.limit->line;
    const double top = std::max(b.limit->load * 1.25, b.limit->load);
    lens = 1.35 * b.limit->response;
    out.push_back({Kind::line, key::stiffness, "E", {{line.at(0), 0}, {line.at(top), top}}, {}, true});
    Construction limit{Kind::point, key::pl_force, "limit", {{b.limit->response, b.limit->load}}, {}};
    limit.handles = {{"settings.proportional_limit.force",
                      false,
                      {b.limit->response, b.limit->load},
                      D::force,
                      "limit",
                      {{"settings.proportional_limit.school", "pick"}}}};
    limit.always = true;
    out.push_back(limit);
  } else if (!e.lines.empty()) {
    const double top = 1.3 * *std::max_element(shown.load.begin(), shown.load.end());
    out.push_back({Kind::line, key::stiffness, "", {{e.lines[0].at(0), 0}, {e.lines[0].at(top), top}}, {}, true});
  }
  if (b.censored && !b.censored->above) {
    const double x = *std::max_element(shown.response.begin(), shown.response.end());
    out.push_back({Kind::band, key::mor, "broke in here", {{x, b.censored->from}, {x, b.censored->to}}, {}, true});
  }
  if (b.continuous) {
    CurveSheet sheet{"deflection", "load", D::length, D::force, shown.response, shown.load, SIZE_MAX,
                     lens,         {},     {},        out};
    e.figures.push_back(std::move(sheet).figure(e));
    return;
  }
  StopSheet sheet;
  sheet.x_name = "deflection";
  sheet.y_name = sheet.control_name = "load";
  sheet.reading_name = "deflection";
  sheet.x_dimension = sheet.reading_dimension = D::length;
  sheet.y_dimension = D::force;
  StopSeries series;
  series.x = shown.response;
  series.y = shown.load;
  series.row = shown.station;
  series.line = e.lines.empty() ? nullptr : &e.lines.front();
  series.control = "force";
  series.tolerance = b.tolerance;
  sheet.series = {series};
  sheet.constructions = out;
  e.figures.push_back(sheet.figure(e, rows));
}

void add_alternatives(Evaluation& e, const TestRecord& record, const Bending& b) {
  if (b.path.size() < 4 || record.run.open) return;
  e.alternatives_path = "settings.proportional_limit.what_if";
  const Readings kept = record.fields.readings(e.alternatives_path);
  auto offer = [&](std::string id, std::string label, const std::string& school, double force,
                   const std::string& typed) {
    Bending other = b;
    other.school = school;
    other.limit = limit_by(b, school, force);
    if (!other.limit) return;
    const Values values = compute(record, other, {});
    Alternative a;
    a.id = std::move(id);
    a.label = std::move(label);
    a.settings = {{"settings.proportional_limit.school", school}};
    if (school == "pick") a.settings["settings.proportional_limit.force"] = typed;
    for (const char* key : {key::pl_force, key::pl_stress, key::moe, key::stiffness})
      if (values.count(key)) a.values[key] = values.at(key);
    a.kept = school == "auto" && b.school != "auto";  // a choice by hand keeps the rule's own beside it
    for (const Reading& r : kept)
      a.kept = a.kept || (school == "pick" && r.value && std::abs(*r.value - force) <= 1e-9 * std::abs(force));
    e.alternatives.push_back(std::move(a));
  };
  offer("auto", "last straight stop", "auto", 0, "");
  offer("deviation", "5 % off the first line", "deviation", 0, "");
  if (b.continuous) return;
  // The stops around the limit are the ones a person weighs; thousands of others would only take time.
  constexpr size_t kAround = 40;
  const size_t at = b.limit ? b.limit->last : 2;
  for (size_t i = std::max<size_t>(2, at > kAround ? at - kAround : 2); i < std::min(b.path.size(), at + kAround);
       ++i) {
    const Reading& r = *record.run.rows(kStops)[b.path.station[i]].reading("force");
    offer(r.typed, si(b.path.load[i], D::force, 4), "pick", b.path.load[i], r.typed);
  }
}

}  // namespace fortitor::flexure
