// Records of every method, awkward in a structured way: a stand-in's record whose fields, rows and samples are changed
// as the bytes say. Whatever comes out must be computed without a fault, and no number may be other than a number.
#include <cmath>
#include <cstdint>
#include <cstdlib>
#include <limits>
#include <map>

#include "core/bench/records.h"
#include "core/evaluation/evaluation_json.h"
#include "core/methods/method.h"
#include "core/standin/benches.h"

namespace {

using namespace fortitor;

// Bytes taken one after the other; zeros when they are used up.
struct Bytes {
  const uint8_t* data;
  size_t size, at = 0;
  uint8_t next() { return at < size ? data[at++] : 0; }
  uint32_t word() { return uint32_t(next()) << 8 | next(); }
  bool more() const { return at < size; }
};

double awkward(Bytes& b, double was) {
  switch (b.next() % 14) {
    case 0: return 0;
    case 1: return -was;
    case 2: return was * 1e6;
    case 3: return was * 1e-6;
    case 4: return std::numeric_limits<double>::quiet_NaN();
    case 5: return std::numeric_limits<double>::infinity();
    case 6: return -std::numeric_limits<double>::infinity();
    case 7: return 1e300;
    case 8: return 1e-300;
    case 9: return std::numeric_limits<double>::denorm_min();
    case 10: return was + double(b.word()) / 100;
    case 11: return double(b.word()) - 32768;
    case 12: return was * (1 + double(b.next()) / 255);
    default: return was;
  }
}

const TestRecord& base(const Method& m, uint8_t seed) {
  static std::map<std::pair<const Method*, int>, TestRecord> kept;
  const auto key = std::pair{&m, seed % 3};
  auto it = kept.find(key);
  if (it == kept.end()) {
    standin::SimulateOptions o;
    o.seed = uint64_t(seed % 3) + 1;
    o.sampling = 10;
    TestRecord r = standin::find_bench(m.standin)->simulate(o);
    r.method = m.id;
    it = kept.emplace(key, std::move(r)).first;
  }
  return it->second;
}

void change_samples(TestRecord& r, Bytes& b) {
  const SamplesPtr was = r.run.samples();
  if (!was || was->channels.empty()) return;
  auto s = std::make_shared<Samples>(*was);
  Channel& c = s->channels[b.next() % s->channels.size()];
  const size_t n = c.values.size();
  if (n == 0) return;
  const size_t from = b.word() % n, count = 1 + b.word() % 64;
  switch (b.next() % 8) {
    case 0:
      for (size_t i = from; i < std::min(n, from + count); ++i) c.values[i] = awkward(b, c.values[i]);
      break;
    case 1: std::fill(c.values.begin(), c.values.end(), awkward(b, c.values[from])); break;
    case 2:
      for (Channel& x : s->channels) x.values.resize(std::min<size_t>(n, from % 12));  // hardly a sample
      break;
    case 3: std::swap(c.name, s->channels[b.next() % s->channels.size()].name); break;
    case 4: s->channels.erase(s->channels.begin() + long(b.next() % s->channels.size())); break;
    case 5:
      for (double& v : c.values) v = -v;
      break;
    case 6:
      for (Channel& x : s->channels) std::reverse(x.values.begin(), x.values.end());
      break;
    default:
      for (size_t i = from; i < n; ++i) c.values[i] = c.values[from];  // frozen
  }
  r.run.set_samples(s);
}

void change_field(TestRecord& r, const Method& m, Bytes& b) {
  if (m.fields.empty()) return;
  const FieldSpec& f = m.fields[b.word() % m.fields.size()];
  switch (b.next() % 4) {
    case 0: r.fields.erase(f.path); break;
    case 1: r.fields.set(f.path, Reading{"?", awkward(b, r.fields.number(f.path).value_or(1)), 0.01}); break;
    case 2: {
      Readings list;
      for (int i = b.next() % 5; i-- > 0;) list.push_back(Reading{"?", awkward(b, 10), 0.01});
      r.fields.set(f.path, list);
      break;
    }
    default:
      if (!f.choices.empty()) r.fields.set(f.path, f.choices[b.next() % f.choices.size()].value);
  }
}

void change_rows(TestRecord& r, Bytes& b) {
  for (auto& [id, rows] : r.run.tables) {
    if (rows.empty()) continue;
    const size_t at = b.word() % rows.size();
    switch (b.next() % 5) {
      case 0: rows.resize(at); break;
      case 1: rows.push_back(rows[at]); break;
      case 2: std::swap(rows[at], rows[b.word() % rows.size()]); break;
      case 3: rows[at].state = Row::State(b.next() % 3); break;
      default:
        for (const TableSpec& t : methods::find(r.method)->tables)
          if (t.id == id && !t.columns.empty()) {
            const FieldSpec& f = t.columns[b.next() % t.columns.size()];
            rows[at].cells.set(f.path, Reading{"?", awkward(b, rows[at].number(f.path).value_or(1)), 0.01});
          }
    }
  }
}

}  // namespace

extern "C" int LLVMFuzzerTestOneInput(const uint8_t* data, size_t size) {
  Bytes b{data, size};
  const auto all = methods::all();
  const Method& m = *all[b.next() % all.size()];
  TestRecord r = base(m, b.next());
  for (int i = 0; i < 12 && b.more(); ++i) {
    switch (b.next() % 4) {
      case 0: change_field(r, m, b); break;
      case 1: change_rows(r, b); break;
      default: change_samples(r, b);
    }
  }
  r.run.open = b.next() % 5 == 0;
  const Evaluation e = methods::evaluate(r);
  if (e.finding("evaluation-failed") != nullptr) std::abort();
  for (const ResultValue& v : e.results) {
    if (v.is_text()) continue;
    if (!std::isfinite(v.value) || std::isnan(v.standard_uncertainty) || v.standard_uncertainty < 0) std::abort();
  }
  evaluation_to_json(e, r.fields);
  record_to_json(r);
  m.plan(r);
  return 0;
}
