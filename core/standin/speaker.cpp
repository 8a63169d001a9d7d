#include "core/standin/speaker.h"

#include <algorithm>
#include <cmath>
#include <random>

#include "core/line/line.h"
#include "core/quantity/plain.h"
#include "core/standin/tension_bench.h"

namespace fortitor::standin {
namespace {

constexpr double kPi = 3.14159265358979323846;

// Noise of line `n` that is the same whenever it is asked for.
double noise(uint64_t seed, size_t n, double scale) {
  std::mt19937_64 random(seed * 1000003 + n);
  return std::normal_distribution<double>(0, scale)(random);
}

std::string with_comma(std::string text) {
  for (char& c : text)
    if (c == '.') c = ',';
  return text;
}

std::string signed_text(double v, int decimals, int width) {
  std::string digits = plain::fixed(std::abs(v), decimals);
  if (int(digits.size()) < width) digits.insert(0, size_t(width) - digits.size(), ' ');
  return (v < 0 ? "-" : "+") + digits;
}

// Single readings: a value that settles, is read, and is another one every few seconds.
class Gauge : public Speaker {
 public:
  Gauge(const SpeakerOptions& o, double rate) : o_(o) { rate_ = rate; }
  std::string line(size_t n) override {
    const size_t turn = n / 40, at = n % 40;
    std::mt19937_64 random(o_.seed * 977 + turn);
    const auto between = [&](double a, double b) { return std::uniform_real_distribution<double>(a, b)(random); };
    const bool settled = at >= 12;
    const double swing = settled ? 0 : std::exp(-double(at) / 4) * std::sin(double(at));
    if (o_.name == "balance") {
      const double v = between(5, 180) * (1 + 0.3 * swing);
      const std::string unit = o_.faults.count("wrong-unit") ? "kg" : "g";
      if (o_.form == 0) return std::string(settled ? "ST," : "US,") + signed_text(v, 3, 9) + " " + unit + "\r\n";
      return "{\"m\": " + plain::fixed(v, 3) + ", \"unit\": \"" + unit + "\", \"status\": \"" +
             (settled ? "stable" : "moving") + "\"}\n";
    }
    if (o_.name == "caliper") {
      // Speaks when its button is pushed: once a turn.
      if (at != 20) return {};
      const double v = between(5, 60);
      const std::string unit = o_.faults.count("wrong-unit") ? "in" : "mm";
      return o_.form == 0 ? plain::fixed(v, 2) + " " + unit + "\r" : with_comma(plain::fixed(v, 2)) + unit + "\r\n";
    }
    if (o_.name == "dial-gauge") {
      const double v = between(0, 12) + 0.05 * swing;
      const std::string text = "D=" + plain::fixed(v, 3) + " mm";
      return o_.form == 0 ? text + "\r\n" : signed_text(v, 3, 7) + " mm\r\n";
    }
    if (o_.name == "hardness-tester") {
      if (at != 20) return {};
      const double v = between(20, 62);
      return o_.form == 0 ? "HRC=" + plain::fixed(v, 1) + "\r\n"
                          : "ST;" + plain::fixed(v, 1) + ";" + std::to_string(turn + 1) + "\n";
    }
    // pendulum
    if (at != 20) return {};
    const double v = between(8, 180);
    return o_.form == 0 ? plain::fixed(v, 1) + " J\r\n" : "{\"energy\": " + plain::fixed(v, 1) + ", \"unit\": \"J\"}\n";
  }

 private:
  SpeakerOptions o_;
};

// Columns for a run: what a stand-in machine recorded, sent again line by line.
class Stream : public Speaker {
 public:
  struct Column {
    std::string name, unit;
    int decimals;
    std::vector<double> values;
  };
  Stream(const SpeakerOptions& o, double rate, std::vector<Column> columns) : o_(o), columns_(std::move(columns)) {
    rate_ = rate;
  }
  std::string head() const override {
    std::string out;
    for (const Column& c : columns_)
      out += (out.empty() ? "" : o_.form == 0 ? ";" : "\t") + c.name + " [" + c.unit + "]";
    return out + "\r\n";
  }
  bool done(size_t n) const override { return n >= columns_.front().values.size(); }
  std::string line(size_t n) override {
    std::string out;
    for (const Column& c : columns_) {
      const std::string text = plain::fixed(c.values[n], c.decimals);
      out += (out.empty() ? "" : o_.form == 0 ? ";" : "\t") + (o_.form == 0 ? text : with_comma(text));
    }
    if (o_.form == 0) out += "*" + line::sum_of(out, line::Sum::exclusive_or);
    return out + (o_.form == 0 ? "\r\n" : "\n");
  }
  SamplesPtr truth() const override {
    auto s = std::make_shared<Samples>();
    for (const Column& c : columns_) s->channels.push_back({c.name, c.values});
    return s;
  }

 private:
  SpeakerOptions o_;
  std::vector<Column> columns_;
};

// A bar that is pulled, after the frame stood still for `rest` s.
std::vector<Stream::Column> frame_columns(uint64_t seed, double rest, double rate) {
  const size_t still = size_t(std::max(0.0, rest) * rate);
  const TestRecord r = simulate_tension({.seed = seed});
  const Samples& s = *r.run.samples();
  std::vector<Stream::Column> out;
  for (const auto& [name, sent, unit, factor, decimals] : {std::tuple("time", "t", "s", 1.0, 3),
                                                           {"force", "force", "N", 1.0, 1},
                                                           {"extension", "ext", "mm", 1.0, 5},
                                                           {"crosshead", "pos", "mm", 1.0, 4}}) {
    const Channel* c = s.find(name);
    if (c == nullptr) continue;
    Stream::Column column{sent, unit, decimals, {}};
    double last = 0;
    const bool clock = name == std::string("time");
    for (size_t i = 0; i < still; ++i) column.values.push_back(clock ? double(i) / rate : c->values.front() * factor);
    const double before = clock ? double(still) / rate : 0;
    for (double v : c->values) {
      if (std::isfinite(v)) last = before + v * factor;  // an extensometer that is off sends its last value
      column.values.push_back(last);
    }
    out.push_back(std::move(column));
  }
  return out;
}

std::vector<Stream::Column> wave_columns(const SpeakerOptions& o, double rate, size_t n) {
  std::vector<Stream::Column> out = {{"t", "s", 4, {}}};
  const bool rig = o.name == "rig", torsion = o.name == "torsion-bench";
  if (rig)
    out.insert(out.end(), {{"force", "kN", 3, {}}, {"count", "1", 0, {}}});
  else if (torsion)
    out.insert(out.end(), {{"angle", "°", 3, {}}, {"torque", "N·m", 3, {}}});
  else
    for (const char* gauge : {"e1", "e2", "e3", "e4"}) out.push_back({gauge, "µε", 1, {}});
  for (size_t i = 0; i < n; ++i) {
    const double t = double(i) / rate;
    out[0].values.push_back(t);
    if (rig) {
      out[1].values.push_back(5 + 4 * std::sin(2 * kPi * 8 * t) + noise(o.seed, i, 0.004));
      out[2].values.push_back(std::floor(8 * t));
    } else if (torsion) {
      out[1].values.push_back(0.6 * t);
      out[2].values.push_back(40 * (1 - std::exp(-0.6 * t / 6)) + noise(o.seed, i, 0.01));
    } else {
      for (size_t c = 1; c < out.size(); ++c)
        out[c].values.push_back(double(c) * 300 * std::min(1.0, t / 20) + noise(o.seed + c, i, 0.6));
    }
  }
  if (rig) out.pop_back();
  return out;
}

// What a wire does to lines.
class Faulty : public Speaker {
 public:
  Faulty(std::unique_ptr<Speaker> inner, const SpeakerOptions& o) : inner_(std::move(inner)), o_(o) {
    rate_ = inner_->rate() * (o.faults.count("fast") ? 5 : 1);
  }
  std::string head() const override { return inner_->head(); }
  bool done(size_t n) const override { return inner_->done(n); }
  SamplesPtr truth() const override { return inner_->truth(); }
  std::string line(size_t n) override {
    const double second = double(n) / inner_->rate();
    std::mt19937_64 random(o_.seed * 31 + n);
    const unsigned dice = unsigned(random() % 100);
    if (o_.faults.count("unplugged") && second >= 4 && second < 7) return {};
    if (o_.faults.count("silent") && second >= 5) return {};
    std::string out = inner_->line(n);
    if (out.empty()) return out;
    if (o_.faults.count("counter-jump") && dice < 2) return {};
    if (o_.faults.count("half-lines") && dice < 5) return out.substr(0, out.size() / 2);
    if (o_.faults.count("garbage") && dice < 5) {
      for (char& c : out)
        if (c != '\n' && c != '\r') c = char(128 + random() % 120);
      return out;
    }
    return out;
  }

 private:
  std::unique_ptr<Speaker> inner_;
  SpeakerOptions o_;
};

}  // namespace

const std::vector<SpeakerKind>& speakers() {
  static const std::vector<SpeakerKind> all = {
      {"balance", "a balance: mass, stable or moving", 10},
      {"caliper", "a caliper: a length when its button is pushed", 10},
      {"dial-gauge", "a dial gauge: a length that settles", 10},
      {"hardness-tester", "a hardness tester: HRC after each indent", 10},
      {"pendulum", "a pendulum: the energy of a blow", 10},
      {"strain-box", "four strain gauges, 100 lines a second", 100, true},
      {"frame", "a frame that pulls a bar: time, force, extension, crosshead", 50, true},
      {"torsion-bench", "a torsion bench: time, angle, torque", 50, true},
      {"rig", "a rig: time and force, 200 lines a second", 200, true}};
  return all;
}

const std::vector<std::string>& speaker_faults() {
  static const std::vector<std::string> all = {"half-lines",   "garbage",   "wrong-unit", "silent",
                                               "counter-jump", "unplugged", "fast"};
  return all;
}

Outcome<std::unique_ptr<Speaker>> make_speaker(const SpeakerOptions& o) {
  const auto kind =
      std::find_if(speakers().begin(), speakers().end(), [&](const SpeakerKind& k) { return k.name == o.name; });
  if (kind == speakers().end()) {
    std::string names;
    for (const SpeakerKind& k : speakers()) names += (names.empty() ? "" : ", ") + k.name;
    return InputError{"there is no stand-in “" + o.name + "”; there are " + names, {}};
  }
  if (o.form != 0 && o.form != 1) return InputError{"a stand-in speaks in form 0 or 1", {}};
  for (const std::string& fault : o.faults)
    if (std::find(speaker_faults().begin(), speaker_faults().end(), fault) == speaker_faults().end())
      return InputError{"there is no fault “" + fault + "”", {}};
  std::unique_ptr<Speaker> s;
  constexpr size_t kSeconds = 600;
  if (!kind->stream)
    s = std::make_unique<Gauge>(o, kind->rate);
  else if (o.name == "frame")
    s = std::make_unique<Stream>(o, kind->rate, frame_columns(o.seed, o.rest, kind->rate));
  else
    s = std::make_unique<Stream>(o, kind->rate, wave_columns(o, kind->rate, size_t(kind->rate) * kSeconds));
  if (!o.faults.empty()) s = std::make_unique<Faulty>(std::move(s), o);
  return s;
}

}  // namespace fortitor::standin
