#include "core/standin/bridge.h"

#include <fcntl.h>
#include <unistd.h>

#include <algorithm>
#include <cerrno>
#include <cmath>
#include <cstring>
#include <random>

#include "core/parallel.h"

namespace fortitor::standin {
namespace {

constexpr double kPiece =
    600;                     // s made at a time: vehicles of one piece know nothing of another's, but for their tails
constexpr double kTail = 4;  // s a vehicle is felt for

// One passage: when its first axle comes, how fast, what its axles weigh and where they sit.
struct Vehicle {
  double at = 0, speed = 0, swing = 0;  ///< s, m/s, share of the dynamic part
  double axles[6] = {}, places[6] = {};
  int count = 0;
};

double uniform(std::mt19937_64& r) {
  return double(r() >> 11) * 0x1.0p-53;
}
double normal(std::mt19937_64& r) {
  return std::sqrt(-2 * std::log(1 - uniform(r))) * std::cos(2 * M_PI * uniform(r));
}

// Share of the day's traffic at an hour: little at night, two crests.
double crest(double hour, bool lorry) {
  const double day = std::exp(-std::pow((hour - 10) / 3.2, 2)) + 0.8 * std::exp(-std::pow((hour - 16) / 2.6, 2));
  return (lorry ? 0.15 : 0.06) + day;
}

std::vector<Vehicle> vehicles_of(const BridgeTraffic& t, size_t piece) {
  std::mt19937_64 r(t.seed * 1000003 + piece * 7919 + 17);
  std::vector<Vehicle> out;
  const double begin = double(piece) * kPiece, hour = std::fmod(begin / 3600, 24);
  const int day = int(begin / 86400) % 7;
  const double weekend = day >= 5 ? 0.35 : 1;
  for (const bool lorry : {true, false}) {
    // crest() averages to about 0.58 (0.48) over the day.
    const double mean =
        (lorry ? t.lorries * weekend : t.cars) * kPiece / 86400 * crest(hour, lorry) / (lorry ? 0.58 : 0.48);
    for (double at = -std::log(1 - uniform(r)) / std::max(mean, 1e-9) * kPiece; at < kPiece;
         at += -std::log(1 - uniform(r)) / std::max(mean, 1e-9) * kPiece) {
      Vehicle v;
      v.at = begin + at;
      v.speed = lorry ? 13 + 3 * uniform(r) : 14 + 5 * uniform(r);
      v.swing = 0.05 + 0.1 * uniform(r);
      if (lorry) {
        // Empty, half and full; a tractor with a trailer, or a rigid one.
        const double load = (uniform(r) < 0.35  ? 0.35
                             : uniform(r) < 0.6 ? 0.7
                                                : 1.0) *
                            (0.85 + 0.3 * uniform(r)) * t.heaviest;
        const bool trailer = uniform(r) < 0.6;
        const double places[] = {0, 3.6, 9.0, 10.3, 11.6}, rigid[] = {0, 4.2, 5.5};
        v.count = trailer ? 5 : 3;
        for (int a = 0; a < v.count; ++a) {
          v.places[a] = trailer ? places[a] : rigid[a];
          v.axles[a] = (a == 0 ? 0.75 : 1.0) * load * 34 * (trailer ? 1 : 1.1) * (1 + 0.06 * normal(r));
        }
      } else {
        v.count = 2;
        v.places[1] = 2.7;
        for (int a = 0; a < 2; ++a) v.axles[a] = 2.2 + 1.2 * uniform(r);
      }
      out.push_back(v);
    }
  }
  return out;
}

// The influence of an axle at the bracket: a short dip of the rib, and the far smaller one of the span.
void add_vehicle(const Vehicle& v, double begin, double rate, std::vector<float>& x) {
  const double width = 0.9, span = 11;  // m
  const std::ptrdiff_t n = std::ptrdiff_t(x.size());
  for (int a = 0; a < v.count; ++a) {
    const double centre = v.at + (v.places[a] + 1.5 * span) / v.speed;
    const std::ptrdiff_t from =
        std::max<std::ptrdiff_t>(0, std::ptrdiff_t(std::floor((centre - 1.5 * span / v.speed - begin) * rate)));
    const std::ptrdiff_t to =
        std::min<std::ptrdiff_t>(n, std::ptrdiff_t(std::ceil((centre + 1.5 * span / v.speed - begin) * rate)));
    for (std::ptrdiff_t i = from; i < to; ++i) {
      const double s = ((begin + double(i) / rate) - centre) * v.speed;
      const double local = std::exp(-0.5 * s * s / (width * width));
      const double whole = std::abs(s) < span ? 0.18 * (1 - std::abs(s) / span) : 0;
      const double bounce = 1 + v.swing * std::sin(2 * M_PI * 2.7 * (s + 16) / v.speed);
      x[size_t(i)] -= float(v.axles[a] * (local + whole) * bounce);
    }
  }
}

std::vector<float> piece_of(const BridgeTraffic& t, size_t piece, size_t samples) {
  const double begin = double(piece) * kPiece;
  std::vector<float> x(samples);
  // Temperature: the day, a little of the week, sun on the plate.
  const auto warmth = [&](double s) {
    const double hour = s / 3600;
    return 38 * std::sin(2 * M_PI * (hour - 9) / 24) + 9 * std::sin(2 * M_PI * hour / 160 + double(t.seed % 7)) +
           4 * std::sin(2 * M_PI * hour / 5.3);
  };
  const size_t step = size_t(std::max(1.0, 2 * t.rate));  // straight over two seconds: nothing slow is lost
  for (size_t i = 0; i < samples; i += step) {
    const double here = warmth(begin + double(i) / t.rate), next = warmth(begin + double(i + step) / t.rate),
                 slope = (next - here) / double(step);
    for (size_t k = i; k < std::min(samples, i + step); ++k) x[k] = float(here + slope * double(k - i));
  }
  if (piece > 0)
    for (const Vehicle& v : vehicles_of(t, piece - 1))
      if (v.at > begin - kTail) add_vehicle(v, begin, t.rate, x);
  for (const Vehicle& v : vehicles_of(t, piece)) add_vehicle(v, begin, t.rate, x);
  // Noise from a quick generator: twelve bits thrice make a bell that is good to four deviations.
  uint64_t state = t.seed * 0x9E3779B97F4A7C15 + piece * 0xD1B54A32D192ED03 + 1;
  const float noise = float(t.noise * 2 / 4096), digit = float(t.digit), whole = digit > 0 ? 1 / digit : 0;
  for (float& v : x) {
    state ^= state << 13;
    state ^= state >> 7;
    state ^= state << 17;
    const int sum = int(state & 4095) + int(state >> 12 & 4095) + int(state >> 24 & 4095) - 3 * 2048;
    v += noise * float(sum);
    if (digit > 0) v = std::nearbyint(v * whole) * digit;
  }
  return x;
}

// What goes wrong with a logger, by the time of the whole history.
void spoil(const BridgeTraffic& t, uint64_t from, std::vector<float>& x, uint64_t total) {
  std::mt19937_64 r(t.seed * 69069 + 5);
  const double weeks = t.hours / 168;
  auto part = [&](uint64_t at, uint64_t count, const std::function<float(float)>& to) {
    for (uint64_t i = std::max(at, from); i < std::min(at + count, from + x.size()); ++i) x[i - from] = to(x[i - from]);
  };
  const int gaps = int(std::ceil(t.gaps * weeks)), spikes = int(std::ceil(t.spikes * weeks));
  for (int g = 0; g < gaps && t.gaps > 0; ++g) {
    const uint64_t at = uint64_t(uniform(r) * double(total)), count = uint64_t(t.rate * (60 + 1200 * uniform(r)));
    part(at, std::min<uint64_t>(count, total / 50), [](float) { return NAN; });
  }
  for (int s = 0; s < spikes && t.spikes > 0; ++s) {
    const uint64_t at = uint64_t(uniform(r) * double(total));
    const float high = float((uniform(r) < 0.5 ? -1 : 1) * (400 + 300 * uniform(r)));
    part(at, 1, [high](float v) { return v + high; });
  }
  if (t.stuck) {
    const uint64_t at = uint64_t((0.3 + 0.4 * uniform(r)) * double(total)),
                   count = std::min<uint64_t>(uint64_t(t.rate * 400), total / 40);
    const float value = float(std::round(20 * uniform(r)));
    part(at, count, [value](float) { return value; });
  }
}

}  // namespace

void bridge_history(const BridgeTraffic& t, const std::function<bool(const std::vector<float>&)>& take) {
  const uint64_t total = uint64_t(std::max(1.0, std::round(t.hours * 3600 * t.rate))),
                 per = uint64_t(std::max(1.0, std::round(kPiece * t.rate)));
  const size_t pieces = size_t((total + per - 1) / per);
  Crew crew;
  Ahead<std::vector<float>> made(crew, pieces, 2 * threads_of(), [&](size_t k) {
    const uint64_t from = uint64_t(k) * per;
    std::vector<float> x = piece_of(t, k, size_t(std::min(per, total - from)));
    spoil(t, from, x, total);
    return x;
  });
  for (size_t k = 0; k < pieces; ++k)
    if (!take(made.next())) return;
}

Outcome<Done> write_bridge_history(const BridgeTraffic& t, const std::string& path,
                                   const std::function<bool(double)>& progress) {
  if (!(t.rate >= 1 && t.rate <= 5000) || !(t.hours > 0 && t.hours <= 24 * 366))
    return InputError{"A history wants 1 to 5000 samples a second over up to a year.", {}};
  const int fd = ::open(path.c_str(), O_WRONLY | O_CREAT | O_EXCL | O_CLOEXEC, 0644);
  if (fd < 0) return InputError{path + ": cannot be made: " + std::strerror(errno) + ".", {}};
  const double total = std::max(1.0, std::round(t.hours * 3600 * t.rate));
  double written = 0;
  std::string wrong;
  bridge_history(t, [&](const std::vector<float>& x) {
    const char* at = reinterpret_cast<const char*>(x.data());
    for (size_t bytes = x.size() * 4; bytes > 0;) {
      const ssize_t n = ::write(fd, at, bytes);
      if (n < 0 && errno == EINTR) continue;
      if (n <= 0) {
        wrong = std::strerror(errno);
        return false;
      }
      at += n;
      bytes -= size_t(n);
    }
    written += double(x.size());
    if (progress && !progress(written / total)) {
      wrong = "the writing was stopped";
      return false;
    }
    return true;
  });
  if (::close(fd) != 0 && wrong.empty()) wrong = std::strerror(errno);
  if (wrong.empty()) return Done{};
  ::unlink(path.c_str());  // half a history is none
  return InputError{path + ": could not be written: " + wrong + ".", {}};
}

}  // namespace fortitor::standin
