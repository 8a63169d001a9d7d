// Curves and channels as they come: short and long, of whole numbers with many equal ones, noisy, coarse, looped, with
// gaps, and all that is read off them kept as text.
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <sstream>

#include "core/curve/faults.h"
#include "core/curve/shape.h"
#include "core/curve/signal.h"
#include "core/curve/stations.h"
#include "tests/core/methods/chance.h"
#include "tests/core/methods/kept_text.h"
#include "tests/core/methods/short_text.h"

namespace fortitor::varied_curve_test {
namespace {

struct Drawn {
  std::vector<double> time, strain, stress;
  size_t peak = 0;
};

// Elastic, then a plateau or hardening or both, with or without a loop, noise, counts, a break.
Drawn draw(Chance& chance) {
  Drawn d;
  const double modulus = 100e3, yield = 200 + double(chance.below(200)), step = std::pow(10, -5.3 + 1.8 * chance.share());
  const size_t kind = chance.below(4);
  const double noise = chance.below(2) == 0 ? 0 : std::pow(10, -1 + 1.5 * chance.share()), strain_noise = chance.below(3) == 0 ? 2e-6 : 0;
  const double drop = kind == 1 ? 0.97 + 0.04 * chance.share() : 1, end = 0.01 + 0.03 * chance.share();
  const double loop_at = chance.below(4) == 0 ? (0.3 + 0.6 * chance.share()) * yield / modulus : 1;
  double e = 0, t = 0;
  bool down = false, looped = false;
  const auto add = [&](double x, double s) {
    d.time.push_back(t += 0.1);
    d.strain.push_back(x + strain_noise * chance.normal());
    d.stress.push_back(s + noise * chance.normal());
  };
  while (e < end && d.time.size() < 3000) {
    const double elastic = yield / modulus;
    double s = modulus * e;
    if (e > elastic) {
      if (kind == 0) s = yield + 2000 * (e - elastic);
      if (kind == 1) s = e < elastic + 0.008 ? drop * yield : drop * yield + 3000 * (e - elastic - 0.008);
      if (kind == 2) s = yield * (1 + 0.3 * (1 - std::exp(-(e - elastic) * 300)));
      if (kind == 3) s = yield;
    }
    add(e, s);
    if (!looped && e > loop_at) {
      looped = true;
      for (int i = 1; i <= 20; ++i) add(e - 0.02 * i * e, s * (1 - 0.02 * i));
      for (int i = 20; i > 0; --i) add(e - 0.02 * i * e, s * (1 - 0.02 * i));
    }
    e += step * (down ? -1 : 1);
  }
  if (chance.below(3) == 0) {  // in counts
    const double count = double(1 + chance.below(4));
    for (double& s : d.stress) s = count * std::round(s / count);
  }
  const size_t falls = chance.below(4);
  for (size_t i = 0; i < falls; ++i) add(e + step * double(i), d.stress.back() * (i == 0 ? 0.55 + 0.2 * chance.share() : 0.3));
  d.peak = size_t(std::max_element(d.stress.begin(), d.stress.end()) - d.stress.begin());
  return d;
}

void write(std::ostream& out, const char* name, const std::optional<ElasticWindow>& w) {
  if (w) out << " " << name << " " << w->first << "…" << w->last << " " << num(w->line.slope) << " " << num(w->line.intercept) << " " << num(w->line.slope_error) << " " << num(w->spread) << (w->poor ? " poor" : "") << (w->loop ? " loop" : "");
}

TEST(KeptNumbersVariedCurves, LandmarksOfRuns) {
  const auto said = [](uint64_t seed) {
    std::ostringstream out;
    Chance chance(seed);
    const Drawn d = draw(chance);
    const size_t n = d.stress.size();
    out << "== " << seed << " " << n << " peak " << d.peak;
    const auto broke = find_break(d.time, d.stress, d.peak);
    const size_t end = broke ? broke->last_loaded + 1 : n;
    if (broke) out << " broke " << broke->last_loaded << " " << broke->fallen;
    const double top = d.stress[d.peak];
    write(out, "auto", auto_window(d.strain, d.stress, d.peak, top, false));
    const auto w = auto_window(d.strain, d.stress, d.peak, 0.8 * top, true);
    write(out, "steep", w);
    write(out, "between", window_between(d.strain, d.stress, d.peak, 0.5 * top, 0.2 * top));
    out << "\n ";
    if (w) {
      const double origin = -w->line.intercept / w->line.slope;
      for (double offset : {0.0005, 0.002, 0.01})
        if (const auto c = offset_crossing(d.strain, d.stress, w->line.slope, origin, offset, w->last, end)) out << " at " << num(c->strain) << " " << num(c->stress) << " " << c->index;
      if (const auto y = find_yielding(d.strain, d.stress, *w, end))
        out << " yields " << y->upper << " " << y->lower << " " << num(y->plateau) << " " << y->plateau_end << (y->transient_left_out ? " left out" : "");
    }
    const double noise = noise_of(d.stress, 0, n);
    const Stretch flat = flat_top(d.stress, d.peak, std::max(0.5, 3 * noise), end);
    const TopPlace place = top_place(d.strain, d.stress, d.peak, noise, end);
    out << " flat " << flat.first << "…" << flat.last << " " << place.stretch.first << "…" << place.stretch.last << " " << num(place.standard) << " " << num(middle_of(d.strain, place.stretch));
    out << " noise " << num(noise) << " " << num(noise_of_bent(d.stress, 0, n)) << " " << num(noise_of(d.strain, 3, n / 2)) << " work " << num(work_under(d.strain, d.stress, 0, d.peak));
    for (size_t half : {0u, 3u})
      if (const auto v = value_at(d.strain, d.stress, 0.003, 2, n, half)) out << " reads " << num(*v);
    if (const auto line = fit_line(d.strain, d.stress, n / 8, n / 4)) out << " line " << num(line->slope) << " " << num(line->r2) << " " << num(line->residual_sd);
    if (const auto q = quadratic_term(std::vector(d.strain.begin(), d.strain.begin() + long(n / 3)), std::vector(d.stress.begin(), d.stress.begin() + long(n / 3)))) out << " bend " << num(q->coefficient) << " " << num(q->t) << " " << num(q->p);
    out << "\n";
    return out.str();
  };
  std::string now;
  for (uint64_t seed = 1; seed <= 250; ++seed) now += said(seed);
  hold_kept("varied-curves", now + summed(251, 1000, said));
}

TEST(KeptNumbersVariedCurves, StopsOnAndOffTheirLine) {
  const auto said = [](uint64_t seed) {
    std::ostringstream out;
    Chance chance(seed + 4000);
    LoadingPath p;
    const size_t n = chance.below(24), bends = chance.below(n + 1), off = chance.below(n + 1);
    const double count = chance.below(2) == 0 ? 0.01 : 0.001;
    for (size_t i = 0; i < n; ++i) {
      const double load = 250 * double(i);
      double y = 0.002 * load + 0.3 * count * chance.normal();
      if (i > bends) y += 0.02 * std::pow(double(i - bends), 1.5);
      if (i == off) y += 0.1 * chance.normal();
      if (seed > 250 && i == off + 1) y += 0.1 * chance.normal();  // two in a row
      p.load.push_back(load);
      p.response.push_back(count * std::round(y / count));
      p.count.push_back(count);
      p.station.push_back(i);
    }
    out << "== " << seed << " " << n;
    for (size_t i = 0; i < n; ++i)
      if (const auto d = departure_of(p, i, n)) out << (d->off ? " off " : " ") << num(d->studentized);
    out << "\n ";
    for (const std::optional<double>& tolerance : {std::optional<double>(), std::optional(0.02)}) {
      const OffLine o = off_line(p, tolerance);
      out << " alone";
      for (size_t i : o.alone) out << " " << i;
      if (o.newest) out << " newest " << *o.newest;
      if (o.lasting) out << " lasting " << *o.lasting;
      for (const Departure& d : o.departures) out << " " << num(d.residual) << "/" << num(d.allowed);
    }
    for (double tolerance : {0.005, 0.02, 0.1}) {
      if (const auto l = straight_to(p, tolerance)) out << " to " << l->last << " " << num(l->load) << " " << num(l->line.slope);
      if (const auto l = straight_to_deviation(p, tolerance)) out << " bent " << l->last << " " << num(l->load) << " " << num(l->response);
    }
    for (double load : {0.0, 251.0, 1000.0, 1e6})
      if (const auto l = straight_to_load(p, load)) out << " by " << l->last << " " << num(l->line.slope);
    const LoadingPath few = thinned(p, 7);
    out << " thinned " << few.size() << " " << num(few.size() > 0 ? few.response.back() : 0) << "\n";
    return out.str();
  };
  std::string now;
  for (uint64_t seed = 1; seed <= 400; ++seed) now += said(seed);
  hold_kept("varied-stops", now + summed(401, 3000, said));
}

TEST(KeptNumbersVariedCurves, ChannelsAreCleaned) {
  const auto said = [](uint64_t seed) {
    std::ostringstream out;
    Chance chance(seed + 8000);
    Samples s;
    const size_t n = chance.below(6) == 0 ? chance.below(12) : 30 + chance.below(300), quiet = chance.below(40);
    const double sign = chance.below(5) == 0 ? -1 : 1, travel_sign = chance.below(4) == 0 ? -1 : 1, zero = chance.below(2) == 0 ? 0 : 40 * chance.normal();
    Channel time{"time", {}}, force{"force", {}}, strain{"strain", {}}, crosshead{"crosshead", {}};
    for (size_t i = 0; i < n; ++i) {
      const double x = i < quiet ? 0 : double(i - quiet);
      time.values.push_back(0.1 * double(i));
      force.values.push_back(sign * (20 * x + zero + (chance.below(2) == 0 ? 1 : 0) * chance.normal()));
      strain.values.push_back(travel_sign * 1e-5 * x + 1e-7 * chance.normal());
      crosshead.values.push_back(travel_sign * 0.01 * std::floor(x / 3));
    }
    for (size_t k = chance.below(4); k > 0 && n > 30; --k) {
      const size_t at = chance.below(n - 12);
      switch (chance.below(9)) {
        case 0: force.values[at] = NAN; break;
        case 1: time.values[at] = NAN; break;
        case 2: std::swap(time.values[at], time.values[at + 5]); break;
        case 3: for (size_t i = at; i < at + 4; ++i) time.values[i] = time.values[at]; break;
        case 4: time.values[at + 1] = time.values[at], force.values[at + 1] = force.values[at], strain.values[at + 1] = strain.values[at], crosshead.values[at + 1] = crosshead.values[at]; break;
        case 5: for (size_t i = at; i < n; ++i) force.values[i] += 900; break;
        case 6: for (size_t i = at; i < std::min(n, at + n / 4); ++i) strain.values[i] = strain.values[at]; break;
        case 7: for (double& v : strain.values) v += 3e-5 * chance.normal(); break;
        default: for (size_t i = at; i < n; ++i) force.values[i] -= 500 * sign;
      }
    }
    if (chance.below(8) != 0) s.channels.push_back(time);
    s.channels.push_back(force);
    if (chance.below(5) != 0) s.channels.push_back(strain);
    if (chance.below(5) != 0) s.channels.push_back(crosshead);
    Signals c = clean(s);
    double sums[4] = {0, 0, 0, 0};
    const std::vector<double>* all[] = {&c.time, &c.force, &c.strain, &c.crosshead};
    for (int k = 0; k < 4; ++k)
      for (size_t i = 0; i < all[k]->size(); ++i)
        if (std::isfinite((*all[k])[i])) sums[k] += (*all[k])[i] * double(i % 5 + 1);
    out << "== " << seed << " " << n << " keeps " << c.size() << " " << c.dropped << " " << c.duplicates << (c.sorted_by_us ? " sorted" : "") << (c.clock_coarse ? " coarse" : "") << (c.time_invented ? " invented" : "") << (c.sign_flipped ? " turned" : "")
        << (c.strain_flipped ? " strain turned" : "");
    for (double v : sums) out << " " << num(v);
    for (const ChannelFault& f : channel_faults(s)) out << " fault " << int(f.kind) << " " << f.channel << " " << num(f.from) << " " << num(f.to) << " " << num(f.value);
    out << " quiet " << quiet_stretch({&c.force, &c.strain, &c.crosshead});
    for (bool keep : {false, true}) {
      std::vector<double> f = c.force;
      const ForceZero z = take_zero(f, {&c.strain, &c.crosshead}, keep);
      out << " zero " << num(z.value) << " " << num(z.error) << " " << z.quiet << (z.beyond ? " beyond" : "") << (z.off ? " off" : "") << " " << num(f.empty() ? 0 : f.back());
    }
    out << "\n";
    return out.str();
  };
  std::string now;
  for (uint64_t seed = 1; seed <= 200; ++seed) now += said(seed);
  hold_kept("varied-channels", now + summed(201, 3000, said));
}

}  // namespace
}  // namespace fortitor::varied_curve_test
