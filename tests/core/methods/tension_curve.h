// Made-up curves whose answers are known by hand, and records to put them in.
#pragma once

#include <cmath>
#include <functional>
#include <memory>

#include "core/methods/method.h"
#include "core/record/record.h"
#include "tests/core/methods/made.h"

namespace fortitor::testing_help {

inline void put(TestRecord& r, const std::string& path, const std::string& typed, Dimension d) {
  r.fields.set(path, reading_of(parse_quantity(typed, d).value()));
}

/// Round steel bar of 100 mm² with all sizes entered.
inline TestRecord bar() {
  TestRecord r;
  r.method = "tension-metal";
  r.fields.set("specimen.id", std::string("T-1"));
  r.fields.set("specimen.family", std::string("carbon steel"));
  r.fields.set("specimen.section.shape", std::string("flat"));
  r.fields.set("specimen.section.width", Readings{reading_of(parse_quantity("20.01 mm", Dimension::length).value()),
                                                  reading_of(parse_quantity("20.00 mm", Dimension::length).value()),
                                                  reading_of(parse_quantity("19.99 mm", Dimension::length).value())});
  r.fields.set("specimen.section.thickness",
               Readings{reading_of(parse_quantity("5.01 mm", Dimension::length).value()),
                        reading_of(parse_quantity("5.00 mm", Dimension::length).value()),
                        reading_of(parse_quantity("4.99 mm", Dimension::length).value())});
  put(r, "specimen.gauge_length", "50.0 mm", Dimension::length);
  put(r, "specimen.extensometer_length", "50 mm", Dimension::length);
  put(r, "specimen.parallel_length", "60 mm", Dimension::length);
  put(r, "equipment.load_cell.capacity", "100 kN", Dimension::force);
  r.fields.set("equipment.load_cell.class", std::string("1"));
  r.fields.set("equipment.extensometer.class", std::string("0.5"));
  return r;
}

struct CurveShape {
  double modulus = 200e3, yield = 300, hardening = 800, fracture_strain = 0.20;
  double toe = 0.0;   ///< strain by which the line is shifted
  double zero = 0.0;  ///< N
  size_t samples = 4000;
  bool breaks = true;
  bool crosshead = true;
};

/// Elastic line, then linear hardening: every crossing is known in closed form.
inline double stress_of(const CurveShape& s, double e) {
  const double x = std::max(0.0, e - s.toe), knee = s.yield / s.modulus;
  return x < knee ? s.modulus * x : s.yield + s.hardening * (x - knee);
}

inline void give_curve(TestRecord& r, const CurveShape& s, double area = 100.0) {
  auto out = std::make_shared<Samples>();
  Channel t{"time", {}}, f{"force", {}}, e{"extension", {}}, x{"crosshead", {}};
  auto add = [&](double time, double strain, double force) {
    t.values.push_back(time);
    f.values.push_back(force);
    e.values.push_back(strain * 50);
    x.values.push_back(strain * 60 + force / 40e3);
  };
  for (int i = 0; i < 100; ++i) add(i * 0.02, 0, s.zero);
  // Half of the samples in the first 1 % of strain.
  for (size_t i = 1; i <= s.samples; ++i) {
    const double u = double(i) / double(s.samples);
    const double strain = u < 0.5 ? 0.02 * u : 0.01 + (s.fracture_strain - 0.01) * (2 * u - 1);
    add(2 + 0.02 * double(i), strain, stress_of(s, strain) * area + s.zero);
  }
  if (s.breaks) {
    const double end = t.values.back();
    for (int i = 1; i <= 5; ++i) add(end + 0.02 * i, s.fracture_strain, s.zero);
  }
  out->channels = {t, f, e};
  if (s.crosshead) out->channels.push_back(x);
  r.run.set_samples(out);
}

/// Where the line parallel to E at this offset crosses that curve.
inline double offset_stress(const CurveShape& s, double offset) {
  const double knee = s.yield / s.modulus;
  const double e = (s.yield - s.hardening * knee + s.modulus * offset) / (s.modulus - s.hardening);
  return s.modulus * (e - offset);
}

using fortitor::value;

}  // namespace fortitor::testing_help
