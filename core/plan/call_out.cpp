#include "core/plan/call_out.h"

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

using Phase = CallOut::Phase;

bool asked(const Station& s, const Stepwise& w, size_t& channel) {
  for (size_t c = 0; c < w.read.size(); ++c)
    if (s.readings.count(w.read[c].name) == 0) {
      channel = c;
      return true;
    }
  return false;
}

Reading typed_reading(const std::string& text, Dimension d) {
  return reading_of(parse_quantity(text, d).value());
}

}  // namespace

CallOut call_out_of(const Method& method, const TestRecord& record, const Evaluation* evaluation) {
  const Stepwise w = method.stepwise->for_record(record);
  const Run& run = record.run;
  CallOut c;
  c.step = w.first_step(record);
  c.phase = run.open ? Phase::reading : run.stations.empty() ? Phase::not_begun : Phase::ended;
  c.stop = run.stations.size();
  for (size_t i = 0; i < run.stations.size(); ++i) {
    if (!asked(run.stations[i], w, c.channel)) continue;
    c.stop = i;
    c.again = i + 1 < run.stations.size() || run.stations[i].note.find("first read") != std::string::npos;
    c.control = run.stations[i].number(w.control).value_or(0);
    break;
  }
  if (c.stop == run.stations.size() && !run.stations.empty()) {
    double highest = 0;
    for (const Station& s : run.stations) highest = std::max(highest, s.number(w.control).value_or(0));
    const double last = w.last_stop(record);
    c.last_done = last > 0 && highest >= last * (1 - 1e-9);
    // Stops stay on the grid of the step, even after a stop that was set by hand.
    c.control = c.step > 0 ? std::floor(highest / c.step + 1 + 1e-9) * c.step : highest;
    if (last > 0 && !c.last_done) c.control = std::min(c.control, last);
  }
  if (run.open && !run.stopped.empty() && w.read_unloaded) {
    c.phase = Phase::unloading;
    c.control = 0;
    c.channel = 0;
    while (c.channel < w.read.size() && run.unload.count(w.read[c.channel].name) != 0) ++c.channel;
  }
  c.predicted.resize(w.read.size());
  if (evaluation != nullptr && run.stations.size() >= 2)
    for (const StationLine& line : evaluation->lines)
      for (size_t i = 0; i < w.read.size(); ++i)
        if (line.channel == w.read[i].name) c.predicted[i] = line.at(c.control);
  return c;
}

namespace call_out {

std::string typed_control(const Method& method, double control) {
  const Dimension d = method.stepwise->control_dimension;
  // One unit for all stops of a run: 0 picks the small one (N, deg).
  const Unit& unit = display_unit(d, UnitSet::si, 0);
  std::string text = fixed(std::abs(control) / unit.factor, 4);
  while (text.back() == '0') text.pop_back();
  if (text.back() == '.') text.pop_back();
  return (control < 0 ? "-" : "") + text + " " + std::string(unit.symbol);
}

void keep(const Method& method, TestRecord& record, const CallOut& now, const Reading& reading,
          const std::optional<Reading>& at) {
  const Stepwise w = method.stepwise->for_record(record);
  if (now.phase == Phase::ended || now.channel >= w.read.size()) return;
  const std::string& channel = w.read[now.channel].name;
  if (now.phase == Phase::unloading) {
    record.run.unload[channel] = reading;
    if (now.channel + 1 == w.read.size()) record.run.open = false;
    return;
  }
  record.run.open = true;
  if (now.stop >= record.run.stations.size()) {
    Station s;
    s.readings[w.control] = at ? *at : typed_reading(typed_control(method, now.control), w.control_dimension);
    record.run.stations.push_back(std::move(s));
  } else if (at) {
    record.run.stations[now.stop].readings[w.control] = *at;
  }
  record.run.stations[now.stop].readings[channel] = reading;
}

void re_read(const Method& method, TestRecord& record, size_t stop) {
  if (stop >= record.run.stations.size()) return;
  const Stepwise w = method.stepwise->for_record(record);
  Station& s = record.run.stations[stop];
  std::string before;
  for (const StepChannel& c : w.read) {
    const auto it = s.readings.find(c.name);
    if (it == s.readings.end()) continue;
    before += (before.empty() ? "" : ", ") + (it->second.missed() ? "missed" : it->second.typed);
    s.readings.erase(it);
  }
  if (!before.empty()) s.note += (s.note.empty() ? "" : "; ") + ("first read " + before);
  s.doubtful = false;
}

void doubt(TestRecord& record, size_t stop) {
  if (stop < record.run.stations.size()) record.run.stations[stop].doubtful = !record.run.stations[stop].doubtful;
}

void note(TestRecord& record, size_t stop, const std::string& text) {
  if (stop >= record.run.stations.size() || text.empty()) return;
  std::string& n = record.run.stations[stop].note;
  n += (n.empty() ? "" : "; ") + text;
}

void cracking(const Method& method, TestRecord& record, const CallOut& now, double seconds) {
  record.events.push_back({seconds, "heard-cracking", "on the way to " + typed_control(method, now.control)});
}

void broke(const Method& method, TestRecord& record, const CallOut& now) {
  const Stepwise w = method.stepwise->for_record(record);
  if (!w.ends_in_break || now.phase != Phase::reading || record.run.stations.empty()) return;
  // A stop that was asked for and never read was not held.
  while (!record.run.stations.empty()) {
    size_t channel = 0;
    const Station& s = record.run.stations.back();
    if (!asked(s, w, channel) || channel > 0) break;
    record.run.stations.pop_back();
  }
  if (!w.broke_path.empty() && !record.run.stations.empty()) {
    const auto held = record.run.stations.back().number(w.control);
    if (held && now.control > *held)
      record.fields.set(w.broke_path, Readings{typed_reading(typed_control(method, *held), w.control_dimension),
                                               typed_reading(typed_control(method, now.control), w.control_dimension)});
  }
  record.run.open = false;
  record.run.stopped.clear();
}

void end(const Method& method, TestRecord& record, const std::string& why) {
  record.run.stopped = why;
  record.run.open = method.stepwise->read_unloaded && record.run.unload.empty();
}

double changed_step(const Method& method, double internal, bool larger) {
  const double unit = display_unit(method.stepwise->control_dimension, UnitSet::si, 0).factor;
  if (!(internal > 0)) return unit;
  const double step = internal / unit;
  const double ten = std::pow(10, std::floor(std::log10(step) + 1e-9));
  std::vector<double> row;
  for (double decade : {ten / 10, ten, ten * 10})
    for (double s : {1.0, 2.0, 2.5, 5.0}) row.push_back(s * decade);
  const auto up = std::find_if(row.begin(), row.end(), [&](double s) { return s > step * (1 + 1e-6); });
  const auto down = std::find_if(row.rbegin(), row.rend(), [&](double s) { return s < step * (1 - 1e-6); });
  return unit * (larger ? *up : *down);
}

}  // namespace call_out
}  // namespace fortitor
