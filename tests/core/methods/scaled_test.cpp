// The same piece three times the size: what is computed of it goes with its dimensions.
#include <algorithm>
#include <cmath>
#include <functional>

#include "tests/core/methods/method_records.h"

namespace fortitor::scaled_test {
namespace {

struct Scale {
  const char* what;
  double length, stress, time;
};

// How much a quantity grows with the piece: powers of length, stress and time.
double factor(Dimension dimension, const Scale& s) {
  using D = Dimension;
  auto of = [&](int l, int f, int t) { return std::pow(s.length, l) * std::pow(s.stress, f) * std::pow(s.time, t); };
  switch (dimension) {
    case D::length: return of(1, 0, 0);
    case D::area: return of(2, 0, 0);
    case D::section_modulus: return of(3, 0, 0);
    case D::second_moment: return of(4, 0, 0);
    case D::force:
    case D::impact_width: return of(2, 1, 0);
    case D::stress:
    case D::modulus:
    case D::energy_density: return of(0, 1, 0);
    case D::energy:
    case D::torque: return of(3, 1, 0);
    case D::stiffness:
    case D::impact_area:
    case D::impact_strength: return of(1, 1, 0);
    case D::time: return of(0, 0, 1);
    case D::mass: return of(1, 1, 2);
    case D::density: return of(-2, 1, 2);
    case D::speed: return of(1, 0, -1);
    case D::frequency:
    case D::strain_rate: return of(0, 0, -1);
    case D::force_rate: return of(2, 1, -1);
    case D::stress_rate: return of(0, 1, -1);
    default: return 1;
  }
}

void scale(Reading& r, double by) {
  if (r.value) r.value = *r.value * by;
  r.resolution *= by;
}

void scale(Fields& fields, const std::function<const FieldSpec*(const std::string&)>& spec, const Scale& s) {
  const auto all = fields.all();
  for (const auto& [path, value] : all) {
    const FieldSpec* f = spec(path);
    if (f == nullptr) continue;
    const double by = factor(f->dimension, s);
    if (const auto* one = std::get_if<Reading>(&value)) {
      Reading r = *one;
      scale(r, by);
      fields.set(path, r);
    }
    if (const auto* list = std::get_if<Readings>(&value)) {
      Readings out = *list;
      for (Reading& r : out) scale(r, by);
      fields.set(path, out);
    }
  }
}

TestRecord scaled(const Method& m, TestRecord r, const Scale& s) {
  scale(
      r.fields, [&](const std::string& path) { return m.field(path); }, s);
  for (auto& [key, limit] : r.limits) {
    const auto spec = m.result(key);
    if (!spec) continue;
    for (auto* bound : {&limit.min, &limit.max})
      if (*bound) scale(**bound, factor(spec->dimension, s));
  }
  for (Event& e : r.events) e.at *= s.time;
  for (Segment& segment : r.run.segments) {
    if (!segment.samples) continue;
    auto samples = std::make_shared<Samples>(*segment.samples);
    for (Channel& c : samples->channels) {
      const double by = m.channel(c.name) == nullptr ? 1 : factor(m.channel(c.name)->dimension, s);
      for (double& v : c.values) v *= by;
    }
    segment.samples = samples;
  }
  for (auto& [id, rows] : r.run.tables) {
    const TableSpec* table = m.table(id);
    for (Row& row : rows)
      scale(
          row.cells,
          [&](const std::string& name) {
            return table->control && table->control->path == name ? &*table->control : table->column(name);
          },
          s);
  }
  return r;
}

class Scaled : public testing::TestWithParam<const Method*> {};

// Stress does not know how large the piece is: results scale as their dimensions do. Weight does not, nor does the
// seating force of a plate; slopes per kN are counted without a dimension.
TEST_P(Scaled, ResultsGoWithTheSize) {
  const Method& m = *GetParam();
  standin::SimulateOptions o;
  o.method = m.id;
  o.seed = 32;
  o.sampling = some_thousand_rows(m);
  TestRecord r = standin::find_bench(m.standin)->simulate(o);
  r.method = m.id;
  const Scale s{"three times the size", 3, 1, 1};
  const Evaluation one = methods::evaluate(r, {.uncertainty = false}),
                   other = methods::evaluate(scaled(m, r, s), {.uncertainty = false});
  for (const ResultValue& v : one.results) {
    if (m.id.starts_with("hardness") || m.id == "density" || m.id == "drop-impact" ||
        v.spec.key.starts_with("slope_") || v.spec.key == "bending_seating" || !v.text.empty() ||
        !std::isfinite(v.value))
      continue;
    const ResultValue* w = other.find(v.spec.key);
    ASSERT_NE(w, nullptr) << v.spec.key;
    EXPECT_NEAR(w->value, v.value * factor(v.spec.dimension, s),
                2e-3 * std::abs(v.value) * factor(v.spec.dimension, s) + 1e-9)
        << v.spec.key;
  }
}

INSTANTIATE_TEST_SUITE_P(OfEveryMethod, Scaled, testing::ValuesIn(methods::all().begin(), methods::all().end()),
                         method_test_name);

}  // namespace
}  // namespace fortitor::scaled_test
