#include "core/practice/timeline.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "core/bench/call_out.h"
#include "core/methods/method.h"
#include "core/quantity/date.h"
#include "core/quantity/plain.h"

namespace fortitor::practice {
namespace {

using Place = Instant::Place;

// Every named part of a run behind one another, as one stretch of time: cycles, then the pull to destruction.
Samples joined(const TestRecord& r) {
  Samples out;
  double from = 0;
  for (const Segment& s : r.run.segments) {
    if (!s.samples || s.samples->size() == 0 || s.samples->find("time") == nullptr) continue;
    const size_t before = out.size(), more = s.samples->size();
    for (const Channel& c : s.samples->channels) {
      std::vector<double>& column = out.column(c.name).values;
      column.resize(before, NAN);
      for (double v : c.values) column.push_back(c.name == "time" ? v + from : v);
    }
    for (Channel& c : out.channels) c.values.resize(before + more, NAN);
    const auto& time = out.find("time")->values;
    from = *std::max_element(time.begin(), time.end());
  }
  return out;
}

// The keyed table, else the fullest of those that are filled on the machine.
const TableSpec* table_of(const Method& m, const TestRecord& r) {
  const TableSpec* out = nullptr;
  for (const TableSpec& t : m.tables)
    if (t.stage == Stage::run && !r.run.rows(t.id).empty() &&
        (out == nullptr || r.run.rows(t.id).size() > r.run.rows(out->id).size()))
      out = &t;
  return out;
}

bool same(double a, double b) {
  return a == b || (std::isnan(a) && std::isnan(b));
}

// The channel by which a machine moves: it grows with the test whatever its speed.
const Channel* travel_of(const Samples& s) {
  for (const char* name : {"crosshead", "angle", "displacement"})
    if (const Channel* c = s.find(name)) return c;
  return nullptr;
}

double time_at_travel(const Samples& from, size_t row, const Samples& mine) {
  const double at = from.find("time")->values[row];
  const Channel *a = travel_of(from), *b = travel_of(mine);
  if (a == nullptr || b == nullptr || !std::isfinite(a->values[row])) return at;
  for (size_t i = 0; i < mine.size(); ++i)
    if (b->values[i] >= a->values[row]) return mine.find("time")->values[i];
  return at;
}

// Where an event lies: by its time, or in a keyed run by the stop it names ("on the way to 2900 N").
Instant place_of(const Event& e, const Method& m, const TestRecord& r, bool timed, double length) {
  if (e.at < 0) return {Place::before, 0};
  if (timed) return {Place::during, std::min(e.at, length)};
  const TableSpec* t = table_of(m, r);
  if (t != nullptr && t->stepped())
    for (size_t i = 0; i < r.run.rows(t->id).size(); ++i) {
      const auto control = r.run.rows(t->id)[i].number(t->control->path);
      if (control && e.note.size() > 3 && e.note.ends_with(" " + call_out::typed_control(*t, *control)))
        return {Place::during, double(i + 1)};
    }
  return {Place::during, length};
}

// The end of a run on its own line.
double length_of(const TestRecord& r, const Method& m, bool& timed) {
  const Samples s = joined(r);
  timed = s.size() > 0;
  if (timed) return *std::max_element(s.find("time")->values.begin(), s.find("time")->values.end());
  const TableSpec* t = table_of(m, r);
  return t == nullptr ? 0 : double(r.run.rows(t->id).size());
}

// The record as far as its run had come: share 0 … 1 of it; nothing that is read afterwards.
TestRecord so_far(const Method& m, const TestRecord& r, double share) {
  TestRecord out = r;
  out.answers.clear();
  out.run.stopped.clear();
  bool timed = false;
  const double length = length_of(r, m, timed);
  std::erase_if(out.events, [&](const Event& e) {
    const Instant when = place_of(e, m, r, timed, length);
    return when.place == Place::during && when.at > share * length + 1e-9;
  });
  for (const FieldSpec& f : m.fields)
    if (f.stage == Stage::after) out.fields.erase(f.path);
  size_t left = 0;  // samples that had been taken by then: one part of the run after the other
  for (const Segment& s : out.run.segments) left += s.samples ? s.samples->size() : 0;
  left = size_t(std::lround(share * double(left)));
  for (Segment& s : out.run.segments) {
    if (!s.samples) continue;
    const size_t keep = std::min(left, s.samples->size());
    left -= keep;
    auto cut = std::make_shared<Samples>(*s.samples);
    for (Channel& c : cut->channels) c.values.resize(keep);
    s.samples = keep == 0 ? nullptr : SamplesPtr(cut);
  }
  std::erase_if(out.run.segments, [](const Segment& s) { return !s.samples; });
  if (const TableSpec* t = table_of(m, r)) {
    Rows& rows = out.run.tables[t->id];
    rows.resize(size_t(std::lround(share * double(rows.size()))));
    out.run.open = share < 1;
    if (rows.empty()) out.run.tables.erase(t->id), out.run.open = false;
  }
  return out;
}

// Seconds of a time as the book writes it, since some day; NaN for anything else.
double clock(const std::string& at) {
  if (at.size() < 19 || !is_day(at.substr(0, 10)) || at[13] != ':' || at[16] != ':') return NAN;
  const auto h = plain::whole(at.substr(11, 2)), min = plain::whole(at.substr(14, 2));
  std::string_view rest = std::string_view(at).substr(17);
  const auto s = plain::take_number(rest);
  if (!h || !min || !s) return NAN;
  return 86400.0 * days_between("2000-01-01", at.substr(0, 10)) + 3600.0 * double(*h) + 60.0 * double(*min) + *s;
}

std::string event_words(const Event& e) {
  std::string out = e.kind;
  std::replace(out.begin(), out.end(), '-', ' ');
  return e.note.empty() ? out : out + ": " + e.note;
}

}  // namespace

Course course_of(const TestRecord& r, const Evaluation& e) {
  Course out;
  const Method* m = methods::find(r.method);
  if (m == nullptr) return out;
  const Samples s = joined(r);
  if (s.size() > 0) {
    out.timed = true;
    out.x = {.name = "time", .dimension = Dimension::time};
    const Channel* shown = s.find("force") != nullptr ? s.find("force") : s.find("torque");
    for (const Channel& c : s.channels)
      if (shown == nullptr && c.name != "time") shown = &c;
    if (shown == nullptr) return {};
    out.y = {.name = shown->name, .dimension = shown->name == "torque" ? Dimension::torque : Dimension::force};
    for (const ChannelSpec& c : m->channels)
      if (c.name == shown->name) out.y.dimension = c.dimension;
    out.at = s.find("time")->values;
    out.value = shown->values;
    return out;
  }
  const auto fill = [&](std::vector<double> values, const std::string& row, const std::string& name, Dimension d) {
    out.x = {.name = row, .dimension = Dimension::none};
    out.y = {.name = name, .dimension = d, .with_zero = false};
    out.value = std::move(values);
    for (size_t i = 0; i < out.value.size(); ++i) out.at.push_back(double(i + 1));
  };
  if (const TableSpec* t = table_of(*m, r)) {
    for (const RowValue& v : e.row_values)
      if (v.table == t->id && out.empty()) fill(v.values, t->row, v.name, v.dimension);
    for (const FieldSpec& c : t->columns) {
      if (!out.empty() || c.planned || c.kind != FieldKind::quantity) continue;
      std::vector<double> values;
      for (const fortitor::Row& row : r.run.rows(t->id)) values.push_back(row.number(c.path).value_or(NAN));
      if (std::any_of(values.begin(), values.end(), [](double v) { return std::isfinite(v); }))
        fill(std::move(values), t->row, c.label, c.dimension);
    }
    return out;
  }
  for (const FieldSpec& f : m->fields) {  // a piece that is only read: its longest list
    if (f.kind != FieldKind::readings) continue;
    std::vector<double> values;
    for (const Reading& v : r.fields.readings(f.path)) values.push_back(v.value.value_or(NAN));
    if (values.size() > std::max<size_t>(1, out.value.size()))
      out = {}, fill(std::move(values), "reading", f.label, f.dimension);
  }
  return out;
}

Panel panel_of(const Course& yours, const Course& truth) {
  Panel out;
  if (yours.empty()) return out;
  out.x = yours.x;
  out.y = yours.y;
  if (!yours.timed) out.x.from = 0, out.x.to = double(std::max(yours.at.size(), truth.at.size())) + 1;
  out.caption = yours.timed ? "solid: as you recorded it; dashed: as the piece was"
                            : "round: as you recorded it; diamonds: as the piece was";
  const auto trace = [&](const Course& c, int tone, Dash dash) {
    Trace t;
    t.kind = c.timed ? Trace::Kind::line : Trace::Kind::points;
    t.x = c.at;
    t.y = c.value;
    t.tone = tone;
    t.dash = dash;
    t.weight = 1.8;
    t.marker = dash == Dash::solid ? Marker::dot : Marker::diamond;
    out.traces.push_back(std::move(t));
  };
  if (truth.y.name == yours.y.name && truth.timed == yours.timed && !truth.empty()) trace(truth, 6, Dash::dashed);
  trace(yours, 5, Dash::solid);
  return out;
}

Instant departure(const TestRecord& sound, const TestRecord& faulty, const TestRecord& mine) {
  const Method& m = *methods::find(sound.method);
  const auto differs =
      [&](bool after) {  // single values of the run itself (what is read when unloaded) come at its end
        for (const FieldSpec& f : m.fields) {
          if ((f.stage >= Stage::run) != after || f.path.rfind("equipment.standin.", 0) == 0) continue;
          const FieldValue *a = sound.fields.find(f.path), *b = faulty.fields.find(f.path);
          if ((a == nullptr) != (b == nullptr) || (a != nullptr && !(*a == *b))) return true;
        }
        for (const TableSpec& t : m.tables)
          if ((t.stage > Stage::run) == after && &t != table_of(m, sound) &&
              sound.run.rows(t.id) != faulty.run.rows(t.id))
            return true;
        return false;
      };
  if (differs(false)) return {Place::before, 0};
  const Samples a = joined(sound), b = joined(faulty), c = joined(mine);
  for (size_t i = 0; i < std::min(a.size(), b.size()); ++i)
    for (const Channel& x : a.channels) {
      const Channel* y = b.find(x.name);
      if (y != nullptr && same(x.values[i], y->values[i])) continue;
      return i == 0 ? Instant{Place::before, 0}
                    : Instant{Place::during, c.size() == 0 ? b.find("time")->values[i] : time_at_travel(b, i, c)};
    }
  if (a.size() != b.size() && a.size() > 0 && b.size() > 0)
    return {Place::during, (a.size() < b.size() ? a : b).find("time")->values.back()};
  if (const TableSpec* t = table_of(m, sound)) {
    const Rows &x = sound.run.rows(t->id), &y = faulty.run.rows(t->id);
    for (size_t i = 0; i < std::max(x.size(), y.size()); ++i)
      if (i >= x.size() || i >= y.size() || !(x[i].cells == y[i].cells)) return {Place::during, double(i + 1)};
  }
  return {differs(true) ? Place::after : Place::before, 0};
}

std::vector<Moment> when_seen(const TestRecord& record, const Evaluation& whole) {
  const Method& m = *methods::find(record.method);
  constexpr int kPlaces = 40;
  bool timed = false;
  const double length = length_of(record, m, timed);
  const int places = timed ? kPlaces : int(std::min<double>(kPlaces, length));
  std::vector<std::set<std::string>> codes;  // at each place, 0 being before the run
  for (int i = 0; i <= places; ++i) {
    const Evaluation e =
        methods::evaluate(so_far(m, record, places == 0 ? 0 : double(i) / places), {.uncertainty = false});
    std::set<std::string>& at = codes.emplace_back();
    for (const Finding& f : e.findings) at.insert(f.code);
  }
  std::vector<Moment> out;
  for (const Finding& f : whole.findings) {
    Moment moment{Moment::Lane::seen,
                  f.severity == Severity::note ? Moment::Tone::plain : Moment::Tone::near,
                  {Place::after, 0},
                  f.message};
    int first = int(codes.size());  // the first place from which it is there to the end
    while (first > 0 && codes[size_t(first - 1)].count(f.code) > 0) --first;
    if (first == 0)
      moment.when = {Place::before, 0};
    else if (first < int(codes.size()))
      moment.when = {Place::during, length * first / places};
    out.push_back(std::move(moment));
  }
  return out;
}

std::vector<Moment> what_was_done(const TestRecord& record, const Worked& worked) {
  const Method& m = *methods::find(record.method);
  std::vector<Moment> out;
  bool timed = false;
  const double length = length_of(record, m, timed);
  std::map<double, double> line;  // clock → place on the line of the run
  const auto known = [&](const std::string& at, double where) {
    if (const double t = clock(at); std::isfinite(t)) line.emplace(t, where);
  };
  if (timed) {
    known(worked.began, 0);
    known(worked.ended, length);
  } else if (const TableSpec* t = table_of(m, record)) {
    for (const Deed& d : worked.deeds)  // "stop 3: 118", "indent 2 read again": rows of a stepped table count from 0
      if (d.words.rfind(t->row + " ", 0) == 0) {
        std::string_view rest = std::string_view(d.words).substr(t->row.size() + 1);
        if (const auto row = plain::take_whole(rest))
          known(d.at, std::min(length, double(*row + (t->stepped() ? 1 : 0))));
      }
  }
  const auto place = [&](const std::string& at) -> Instant {
    const double t = clock(at);
    if (!std::isfinite(t) || line.empty() || t > line.rbegin()->first || (timed && t == line.rbegin()->first))
      return {Place::after, 0};
    const auto next = line.lower_bound(t);
    if (next == line.begin() && (timed || t < next->first)) return {Place::before, 0};
    if (next->first == t) return {Place::during, next->second};
    const auto last = std::prev(next);
    return {
        Place::during,
        last->second + (timed ? (next->second - last->second) * (t - last->first) / (next->first - last->first) : 0)};
  };
  for (const Event& e : record.events) {
    out.push_back({Moment::Lane::did, Moment::Tone::plain, place_of(e, m, record, timed, length), event_words(e)});
  }
  // The logbook holds every field that was typed: the last before the run, the first of it and after it say enough.
  constexpr size_t kMost = 4;
  std::map<Place, std::vector<Moment>> lines;
  for (const Deed& d : worked.deeds) {
    const Instant when = place(d.at);
    lines[when.place].push_back({Moment::Lane::did, Moment::Tone::plain, when, d.words});
  }
  for (auto& [where, all] : lines) {
    const size_t more = all.size() > kMost + 1 ? all.size() - kMost : 0;
    const bool first = where == Place::before;  // what is left out comes before what is shown
    if (more > 0) {
      const Moment rest{Moment::Lane::did, Moment::Tone::plain, first ? all[more - 1].when : all[kMost].when,
                        std::to_string(more) + " lines more in the logbook"};
      first ? all.erase(all.begin(), all.begin() + long(more)) : all.erase(all.begin() + long(kMost), all.end());
      all.insert(first ? all.begin() : all.end(), rest);
    }
    out.insert(out.end(), all.begin(), all.end());
  }
  for (const Answer& a : record.answers) {
    const bool accepted = a.remedy == "accept";
    out.push_back({Moment::Lane::did, accepted ? Moment::Tone::near : Moment::Tone::good, place(a.at),
                   (accepted ? "accepted " : "answered ") + a.code + (a.reason.empty() ? "" : ": “" + a.reason + "”")});
  }
  std::stable_sort(out.begin(), out.end(), [](const Moment& a, const Moment& b) {
    return a.when.place != b.when.place ? a.when.place < b.when.place : a.when.at < b.when.at;
  });
  return out;
}

}  // namespace fortitor::practice
