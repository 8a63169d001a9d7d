#include "tests/coverage/curves.h"

#include <algorithm>
#include <cmath>
#include <memory>
#include <numbers>

#include "core/bench/records.h"
#include "core/methods/method.h"
#include "core/quantity/parse.h"
#include "core/standin/benches.h"

namespace fortitor::coverage {

double Metal::stress(double p) const {
  if (upper > 0) {
    // The transient falls to its trough within a tenth of a per cent, then the band runs with small serrations.
    constexpr double kTrough = 0.001;
    if (p < kTrough) {
      const double trough = yield - 0.006 * yield;
      return upper + (trough - upper) * std::sin(0.5 * std::numbers::pi * p / kTrough);
    }
    constexpr double kFirst = 0.0021;
    if (p < kFirst) return yield - 0.006 * yield * (kFirst - p) / (kFirst - kTrough);
    if (p < plateau_end)
      return yield + 0.004 * yield * std::min(1.0, (plateau_end - p) / 0.002) *
                         (0.5 - 0.5 * std::cos(2 * std::numbers::pi * p / kFirst));
  }
  const double from = upper > 0 ? plateau_end : 0.0;
  if (p <= uniform) return strength - (strength - yield) * std::pow(1 - (p - from) / (uniform - from), power);
  const double u = (p - uniform) / (broken - uniform);
  return strength * (1 - fall * u * u);
}

double Metal::plastic_at(double e) const {
  double low = 0, high = broken;
  for (int i = 0; i < 60; ++i) {
    const double p = 0.5 * (low + high);
    (strain(p) < e ? low : high) = p;
  }
  return 0.5 * (low + high);
}

Trace Metal::run(double rate, double rate_after, double hertz, double change_at) const {
  Trace t;
  t.rate = rate;
  const double dt = 1 / hertz, top = upper > 0 ? upper : yield, elastic = top / modulus;
  double e = 0;
  for (double time = 0;; time += dt) {
    if (time > 1) e += (e < change_at ? rate : rate_after) * dt;
    double s = modulus * e;
    if (e > elastic) {
      const double p = plastic_at(e);
      if (p >= broken * (1 - 1e-9)) break;
      s = stress(p);
    }
    t.time.push_back(time);
    t.strain.push_back(e);
    t.stress.push_back(s);
  }
  const double last = t.time.back(), at = t.strain.back();
  for (int i = 1; i <= 10; ++i) {
    t.time.push_back(last + i * dt);
    t.strain.push_back(at);
    t.stress.push_back(0);
  }
  return t;
}

double Metal::work_to(double plastic) const {
  const double top = upper > 0 ? upper : yield;
  double work = 0.5 * top * top / modulus;
  const int n = 40000;
  for (int i = 0; i < n; ++i) {
    const double a = plastic * i / n, b = plastic * (i + 1) / n;
    work += 0.5 * (stress(a) + stress(b)) * (strain(b) - strain(a));
  }
  return work;
}

Recorded record_trace(const Trace& t, double area, double length, double parallel, double stiffness,
                      const Recorder& how, Draw& draw) {
  Recorded r;
  r.force_scale = 1 + draw.within(how.force_class / 100);
  r.strain_scale = 1 + draw.within(how.strain_class / 100);
  r.time = t.time;
  for (size_t i = 0; i < t.time.size(); ++i) {
    const double force = t.stress[i] * area;
    r.force.push_back(force * r.force_scale + draw.normal(how.force_noise));
    r.extension.push_back(t.strain[i] * length * r.strain_scale + draw.normal(how.strain_noise * length));
    const double frame = stiffness > 0 ? force / stiffness : 0;
    r.crosshead.push_back(counted(t.strain[i] * parallel + frame + draw.normal(how.travel_noise), 1e-3));
  }
  return r;
}

TestRecord piece_of(const std::string& method, const std::vector<std::pair<std::string, std::string>>& fields) {
  TestRecord r;
  r.method = method;
  r.fields.set("specimen.id", std::string("C-1"));
  for (const auto& [path, text] : fields) standin::type_into(r, path, text);
  return r;
}

void give(TestRecord& r, const std::vector<std::pair<std::string, std::vector<double>>>& channels) {
  auto s = std::make_shared<Samples>();
  for (const auto& [name, values] : channels) s->channels.push_back({name, values});
  r.run.set_samples(s);
}

void stop(TestRecord& r, const std::vector<std::pair<std::string, std::string>>& readings) {
  const TableSpec& table = *methods::find(r.method)->keyed_table();
  Row row;
  for (const auto& [column, text] : readings) {
    const FieldSpec& f = table.control && table.control->path == column ? *table.control : *table.column(column);
    if (f.kind == FieldKind::quantity || f.kind == FieldKind::readings)
      row.cells.set(column, reading_of(parse_quantity(text, f.dimension).value()));
    else if (f.kind == FieldKind::flag)
      row.cells.set(column, text == "true");
    else
      row.cells.set(column, text);
  }
  r.run.tables[table.id].push_back(row);
}

}  // namespace fortitor::coverage
