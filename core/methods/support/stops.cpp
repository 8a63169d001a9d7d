#include "core/methods/support/stops.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace fortitor {

Rows stops_of(const Run& run, const std::vector<std::string>& channels) {
  constexpr size_t kBlocks = 200;
  const Rows& keyed = run.rows(kStops);
  const SamplesPtr samples = run.samples();
  if (!keyed.empty() || !samples || samples->size() == 0) return keyed;
  const size_t n = samples->size(), blocks = std::min(n, kBlocks);
  Rows out(blocks);
  for (const std::string& name : channels) {
    const Channel* c = samples->find(name);
    if (c == nullptr) continue;
    for (size_t b = 0; b < blocks; ++b) {
      double sum = 0;
      size_t finite = 0;
      for (size_t i = b * n / blocks; i < (b + 1) * n / blocks; ++i)
        if (std::isfinite(c->values[i])) {
          sum += c->values[i];
          ++finite;
        }
      if (finite > 0) out[b].cells.set(name, Reading{"", sum / double(finite), 0});
    }
  }
  return out;
}

double straight_choice(const LoadingPath& p, size_t last) {
  size_t k = last;
  while (k > 3 && std::abs(p.load[k]) > 2.0 / 3 * std::abs(p.load[last])) --k;
  if (k >= last || k < 3) return 0;
  const auto all = fit_line(p.response, p.load, 0, last + 1), part = fit_line(p.response, p.load, 0, k + 1);
  if (!all || !part || !(all->slope > 0)) return 0;
  const double moved = part->slope / all->slope - 1, scatter = part->slope_error / all->slope;
  return std::sqrt(std::max(0.0, moved * moved - scatter * scatter));
}

RowLine row_line(const Rows& rows, const std::string& control, const std::string& column, Dimension dimension,
                 const LineFit& line, const LoadingPath& path, const OffLine& off) {
  RowLine out{column, dimension, line.intercept, line.slope, {}, {}};
  out.residual.assign(rows.size(), std::numeric_limits<double>::quiet_NaN());
  out.off.assign(rows.size(), false);
  for (size_t i = 0; i < rows.size(); ++i) {
    const auto x = rows[i].number(control), y = rows[i].number(column);
    if (x && y) out.residual[i] = *y - line.at(*x);
  }
  // A reading off the line is measured from the line through the others.
  for (size_t n = 0; n < off.alone.size(); ++n) {
    out.off[path.station[off.alone[n]]] = true;
    out.residual[path.station[off.alone[n]]] = off.departures[n].residual;
  }
  if (off.newest) {
    out.off[path.station[*off.newest]] = true;
    out.residual[path.station[*off.newest]] = off.departures.back().residual;
  }
  return out;
}

void off_line_findings(Evaluation& e, const Run& run, const RowLine& line, const LoadingPath& p, const OffLine& off,
                       Dimension load, const std::string& gauge, const std::string& live_code, bool elastic) {
  auto amount = [&](double v) { return format_value(std::abs(v), line.dimension, UnitSet::si, 3); };
  auto stop = [&](size_t i) {
    return "Stop " + std::to_string(p.station[i]) + " (" + format_value(p.load[i], load, UnitSet::si, 4) + ")";
  };
  auto evidence = [&](size_t i, const Departure& d) {
    return std::map<std::string, double>{{"station", double(p.station[i])},
                                         {"residual", d.residual},
                                         {"studentized", std::clamp(d.studentized, -1e6, 1e6)},
                                         {"allowed", d.allowed}};
  };
  auto beyond = [](const Departure& d) { return d.residual > 0 ? " beyond" : " short of"; };
  auto remedies = [&](size_t i) {
    const std::string path = "run." + kStops + "." + std::to_string(p.station[i]) + ".state";
    return std::vector<Remedy>{{"doubtful", "Mark it doubtful", {{path, "doubtful"}}, true},
                               {"accept", "It is right", {}, true}};
  };
  for (size_t n = 0; n < off.alone.size(); ++n) {
    const size_t i = off.alone[n];
    const Departure& d = off.departures[n];
    const std::string tail =
        run.open
            ? " while the stops around it lie on it. Read " + gauge +
                  " again if the load can be brought back, or mark the reading doubtful."
            : " while its neighbours on both sides lie on it. It stays in every fit until a person marks it doubtful.";
    e.findings.push_back({"re-read",
                          Severity::check,
                          stop(i) + " sits " + amount(d.residual) + beyond(d) + " the line" + tail,
                          evidence(i, d),
                          remedies(i),
                          line.column,
                          {}});
  }
  for (size_t i : out_of_course(p)) {
    // Told above, of it or of the neighbour that makes it look so.
    if (line.off[p.station[i]] || line.off[p.station[i - 1]] || line.off[p.station[i + 1]]) continue;
    auto reads = [&](size_t k) { return format_value(p.response[k], line.dimension, UnitSet::si, 4); };
    e.findings.push_back({"re-read",
                          Severity::check,
                          stop(i) + " reads " + reads(i) + " where the stops beside it read " + reads(i - 1) + " and " +
                              reads(i + 1) +
                              ": misread or wrongly keyed. It stays in every number until a person marks it doubtful.",
                          {{"station", double(p.station[i])},
                           {"residual", p.response[i] - 0.5 * (p.response[i - 1] + p.response[i + 1])}},
                          remedies(i),
                          line.column,
                          {}});
  }
  if (!run.open && off.newest) {
    const Departure& d = off.departures.back();
    e.findings.push_back({"last-reading",
                          elastic ? Severity::check : Severity::note,
                          stop(*off.newest) + ", the last, sits " + amount(d.residual) + beyond(d) +
                              " the line and rests on one reading: none after it tells a misread " + gauge.substr(4) +
                              " from a piece that was giving way.",
                          evidence(*off.newest, d),
                          elastic ? remedies(*off.newest) : std::vector<Remedy>{},
                          line.column,
                          {}});
  }
  if (!run.open) return;
  if (off.newest)
    e.findings.push_back({live_code,
                          Severity::check,
                          stop(*off.newest) + ", " + amount(off.departures.back().residual) +
                              beyond(off.departures.back()) +
                              " the line: off the line: read again now; if it stays, the piece may be giving way.",
                          evidence(*off.newest, off.departures.back()),
                          remedies(*off.newest),
                          line.column,
                          {}});
  if (off.lasting)
    e.findings.push_back({"giving-way",
                          Severity::note,
                          "From stop " + std::to_string(p.station[*off.lasting]) +
                              " on the readings stay off the line, now by " + amount(off.departures.back().residual) +
                              ". The piece is giving way: go on in smaller steps, stand clear.",
                          evidence(*off.lasting, off.departures.back()),
                          {},
                          line.column,
                          {}});
}

// Seven stops of a beam, all on the line, gave the last of them as its proportional limit, beside a U of 1 %.
void limit_bound(Evaluation& e, const TestRecord& record, const LoadingPath& path,
                 const std::optional<ProportionalLimit>& limit, const std::vector<std::string>& keys) {
  if (!limit || !limit->open_above(path) || record.fields.text("settings.proportional_limit.school") == "pick") return;
  bool any = false;
  for (const std::string& key : keys)
    if (ResultValue* r = e.find(key)) r->censored = Censoring{true, 0, 0}, any = true;
  if (any && !record.run.open)
    e.findings.push_back({"limit-not-reached",
                          Severity::note,
                          "The readings end on the straight line: the proportional limit was not reached, and what is "
                          "given of it is a lower bound, written with ≥.",
                          {},
                          {},
                          keys.front(),
                          {}});
}

Figure StopSheet::figure(const Evaluation& e, const Rows& rows) const {
  Figure f;
  f.id = "stops";
  f.title = y_name + " over " + x_name;
  if (series.empty() || series.front().x.size() < 2) return f;
  Panel points, departures;
  points.name = "Readings";
  departures.name = "Off the line";
  points.caption = caption;
  points.x = {x_name, x_dimension};
  points.y = {y_name, y_dimension};
  points.weight = 11;
  departures.x = {control_name, control_dimension};
  departures.y = {reading_name + " off the line", reading_dimension};
  departures.weight = 9;
  const Marker markers[] = {Marker::dot, Marker::square};
  const int tones[] = {5, 2};
  double count = 0;
  for (const StopSeries& s : series)
    for (size_t i = 0; s.line != nullptr && i < s.row.size(); ++i)
      if (const Reading* r = rows[s.row[i]].reading(s.line->column)) count = std::max(count, r->resolution);
  for (size_t k = 0; k < series.size(); ++k) {
    const StopSeries& s = series[k];
    // Where the piece has long left its line the distance says nothing more about the line: those stops are drawn pale
    // and do not stretch the axis.
    Trace between, t, d, beyond;
    between.x = s.x;
    between.y = s.y;
    between.pale = true;
    between.weight = 1.2;  // between stops nothing was read
    t.kind = d.kind = beyond.kind = Trace::Kind::points;
    beyond.pale = true;
    beyond.outlier = false;
    t.x = s.x;
    t.y = s.y;
    t.label = series.size() > 1 ? s.label : std::string();
    t.tone = d.tone = beyond.tone = tones[k % 2];
    t.marker = d.marker = beyond.marker = markers[k % 2];
    d.label = t.label;
    for (size_t i = 0; i < s.row.size(); ++i) {
      const Row& row = rows[s.row[i]];
      t.hollow.push_back(!row.used());
      if (s.line == nullptr || s.row[i] >= s.line->residual.size()) continue;
      const double residual = s.line->residual[s.row[i]];
      const auto control = row.number(s.control);
      if (!control || !std::isfinite(residual)) continue;
      const double straight = s.tolerance ? *s.tolerance * std::abs(s.line->at(*control)) : HUGE_VAL;
      if (!s.line->off[s.row[i]] && std::abs(residual) > 3 * std::max(straight, 10 * count)) {
        beyond.x.push_back(*control);
        beyond.y.push_back(residual);
        beyond.hollow.push_back(true);
        continue;
      }
      d.x.push_back(*control);
      d.y.push_back(residual);
      d.hollow.push_back(!row.used());
      if (!s.line->off[s.row[i]]) continue;
      const std::string words = format_value(std::abs(residual), s.line->dimension, UnitSet::si, 2) + " off the line";
      t.flags[i] = words;
      d.flags[d.x.size() - 1] = words;
    }
    if (!s.line || d.x.empty()) {
      points.traces.push_back(std::move(between));
      points.traces.push_back(std::move(t));
      continue;
    }
    if (s.tolerance) {  // what the rule of the straight part allows, growing with the reading
      for (double sign : {1.0, -1.0}) {
        Trace edge;
        edge.pale = true;
        edge.dash = Dash::dashed;
        edge.weight = 1.2;
        edge.outlier = false;
        for (double x : d.x) {
          edge.x.push_back(x);
          edge.y.push_back(sign * *s.tolerance * std::abs(s.line->at(x)));
        }
        if (sign < 0) edge.label = "± " + significant(100 * *s.tolerance, 2) + " %";
        departures.traces.push_back(std::move(edge));
      }
    }
    points.traces.push_back(std::move(between));
    points.traces.push_back(std::move(t));
    if (!beyond.x.empty()) departures.traces.push_back(std::move(beyond));
    departures.traces.push_back(std::move(d));
  }
  for (const Construction& c : constructions) {
    Mark m = mark_of(c, e, true);
    m.on_demand = c.minor;
    if (c.kind == Construction::Kind::band) m.on_demand = false;
    if (c.kind == Construction::Kind::point && c.always) m.tone = Mark::Tone::main;
    points.marks.push_back(std::move(m));
    points.handles.insert(points.handles.end(), c.handles.begin(), c.handles.end());
  }
  f.panels.push_back(std::move(points));
  if (departures.traces.empty()) return f;
  if (count > 0)
    for (double sign : {1.0, -1.0}) {
      Mark limit;
      limit.kind = Mark::Kind::level;
      limit.points = {{0, sign * 3 * count}};
      limit.tone = Mark::Tone::quiet;
      if (sign > 0) limit.label = "3 counts";
      departures.marks.push_back(std::move(limit));
    }
  f.panels.push_back(std::move(departures));
  return f;
}

}  // namespace fortitor
