// Pieces of the hardness methods: prints whose size follows from a known hardness.
#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/quantity/parse.h"
#include "core/standin/benches.h"
#include "tests/coverage/curves.h"

namespace fortitor::coverage {
namespace {

double spread_of(const std::vector<double>& v) {
  return *std::max_element(v.begin(), v.end()) - *std::min_element(v.begin(), v.end());
}

double from_kgf(double v) {
  return v * kStandardGravity;
}

// What a print of a Vickers pyramid measures: d of HV = 0.1891·F/d², mm.
double vickers_print(double hardness, double newton) {
  return std::sqrt(0.1891 * newton / hardness);
}

}  // namespace

Piece rockwell(uint64_t seed) {
  Draw draw(seed);
  TestRecord r = piece_of("hardness-rockwell", {{"specimen.scale", "C"}, {"specimen.family", "alloy steel"}});
  const double hardness = draw.between(25, 64), scatter = draw.between(0.15, 0.5), tolerance = 1;
  const double off = draw.within(tolerance), block = counted(hardness + draw.within(4), 0.1);
  standin::type_into(r, "specimen.block.certified", typed(block, 0.1, ""));
  standin::type_into(r, "specimen.block.tolerance", "1.0");
  Readings on_block;
  std::vector<double> shown_block;
  for (int i = 0; i < 5; ++i) {
    shown_block.push_back(block + off + draw.normal(0.15));
    on_block.push_back(reading_of(parse_quantity(typed(shown_block.back(), 0.1, ""), Dimension::none).value()));
  }
  r.fields.set("specimen.block.readings", on_block);
  std::vector<double> at;
  for (int i = 0; i < 5; ++i) {
    at.push_back(hardness + draw.normal(scatter));
    stop(r, {{"hr", typed(at.back() + off, 0.1, "")}});
  }
  Piece p;
  p.truth["hr"] = hardness;
  p.truth["hr_sd"] = scatter;
  p.truth["hr_range"] = spread_of(at);
  p.truth["depth"] = (100 - hardness) * 0.002;
  p.truth["min_thickness"] = 10 * p.truth["depth"];
  p.truth["block_error"] = off;
  p.truth["block_repeatability"] = spread_of(shown_block);
  p.record = std::move(r);
  return p;
}

Piece brinell(uint64_t seed) {
  Draw draw(seed);
  TestRecord r = piece_of("hardness-brinell", {{"specimen.ball", "10 mm"},
                                               {"specimen.force", "3000 kgf"},
                                               {"specimen.dwell", "12 s"},
                                               {"specimen.family", "carbon steel"}});
  const double hardness = draw.between(120, 350), scatter = draw.between(0.003, 0.012) * hardness;
  const double off = 1 + draw.within(0.03), force = from_kgf(3000) * (1 + draw.within(0.01));
  auto print = [&](double hb) {
    // d of HB = 0.102·2F/(πD(D − √(D² − d²))).
    const double root = 10 - 0.102 * 2 * force / (std::numbers::pi * 10 * hb);
    return std::sqrt(100 - root * root);
  };
  std::vector<double> at, sizes;
  for (int i = 0; i < 5; ++i) {
    at.push_back(hardness + draw.normal(scatter));
    sizes.push_back(print(at.back() * off));
    Row one;
    Readings both;
    for (int k = 0; k < 2; ++k)
      both.push_back(
          reading_of(parse_quantity(typed(sizes.back() + draw.within(0.005), 0.01, "mm"), Dimension::length).value()));
    one.cells.set("d", both);
    r.run.tables["indents"].push_back(one);
  }
  double mean = 0;
  for (double d : sizes) mean += d / double(sizes.size());
  Piece p;
  p.truth["hb"] = hardness;
  p.truth["hb_sd"] = scatter;
  p.truth["hb_range"] = spread_of(at);
  p.truth["diameter"] = mean;
  p.truth["index"] = 0.102 * force / 100;
  p.record = std::move(r);
  return p;
}

Piece vickers(uint64_t seed) {
  Draw draw(seed);
  TestRecord r =
      piece_of("hardness-vickers",
               {{"specimen.force", "10 kgf"}, {"specimen.dwell", "12 s"}, {"specimen.family", "tool steel"}});
  const double hardness = draw.between(150, 800), scatter = draw.between(0.004, 0.015) * hardness;
  const double off = 1 + draw.within(0.03), force = from_kgf(10) * (1 + draw.within(0.01));
  const double aslant = draw.within(0.01);
  std::vector<double> at;
  double mean = 0, largest = 0;
  for (int i = 0; i < 5; ++i) {
    at.push_back(hardness + draw.normal(scatter));
    const double d = vickers_print(at.back() * off, force);
    mean += d / 5;
    largest = std::max(largest, d);
    stop(r, {{"d1", typed(d * (1 + aslant) + draw.within(0.0005), 0.001, "mm")},
             {"d2", typed(d * (1 - aslant) + draw.within(0.0005), 0.001, "mm")}});
  }
  Piece p;
  p.truth["hv"] = hardness;
  p.truth["hv_sd"] = scatter;
  p.truth["hv_range"] = spread_of(at);
  p.truth["diagonal"] = mean;
  p.truth["min_thickness"] = 1.5 * largest;
  p.truth["diagonal_asymmetry"] = 2 * std::abs(aslant);
  p.record = std::move(r);
  return p;
}

Piece case_hardened(uint64_t seed) {
  Draw draw(seed);
  TestRecord r =
      piece_of("hardness-vickers",
               {{"specimen.force", "1 kgf"}, {"specimen.dwell", "12 s"}, {"specimen.traverse.limit", "550"}});
  const double surface = draw.between(680, 780), core = draw.between(300, 420), middle = draw.between(0.6, 1.1),
               width = draw.between(0.35, 0.6), scatter = draw.between(0.005, 0.02);
  const double off = 1 + draw.within(0.03), force = from_kgf(1) * (1 + draw.within(0.01)), edge = draw.within(0.01);
  auto course = [&](double x) { return (surface + core) / 2 - (surface - core) / 2 * std::tanh((x - middle) / width); };
  for (int i = 0; i < 12; ++i) {
    const double x = 0.1 + 0.15 * i;
    const double d = vickers_print(course(x + edge) * (1 + draw.normal(scatter)) * off, force);
    stop(r, {{"d1", typed(d + draw.within(0.00005), 0.0001, "mm")},
             {"d2", typed(d + draw.within(0.00005), 0.0001, "mm")},
             {"x", typed(x, 0.01, "mm")},
             {"y", "0 mm"}});
  }
  double low = 0, high = 3;
  for (int i = 0; i < 60; ++i) {
    const double x = 0.5 * (low + high);
    (course(x) > 550 ? low : high) = x;
  }
  Piece p;
  p.truth["case_depth"] = low;
  p.truth["hv_surface"] = course(0.1);
  p.truth["hv_core"] = course(0.1 + 0.15 * 11);
  p.record = std::move(r);
  return p;
}

Piece knoop(uint64_t seed) {
  Draw draw(seed);
  TestRecord r = piece_of("hardness-knoop",
                          {{"specimen.force", "0.5 kgf"}, {"specimen.dwell", "12 s"}, {"specimen.family", "ceramic"}});
  const double hardness = draw.between(300, 2000), scatter = draw.between(0.005, 0.02) * hardness;
  const double off = 1 + draw.within(0.03), force = from_kgf(0.5) * (1 + draw.within(0.01));
  std::vector<double> at;
  double mean = 0;
  for (int i = 0; i < 5; ++i) {
    at.push_back(hardness + draw.normal(scatter));
    const double l = std::sqrt(1.451 * force / (at.back() * off));
    mean += l / 5;
    stop(r, {{"d1", typed(l + draw.within(0.00005), 0.0001, "mm")}});
  }
  Piece p;
  p.truth["hk"] = hardness;
  p.truth["hk_sd"] = scatter;
  p.truth["hk_range"] = spread_of(at);
  p.truth["diagonal"] = mean;
  p.truth["depth"] = mean / 30;
  p.truth["min_thickness"] = mean / 3;
  p.record = std::move(r);
  return p;
}

}  // namespace fortitor::coverage
