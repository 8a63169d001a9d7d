#include "core/standin/heard_machine.h"

#include <algorithm>
#include <cmath>
#include <set>

#include "core/quantity/format.h"

namespace fortitor {
namespace {

constexpr double kSilence = 1;     // s without a line after which it is said
constexpr double kBefore = 2;      // s kept from before the force moved
constexpr size_t kLeastKept = 32;  // … and at least so many samples: a steady pull is told from its own steps
constexpr size_t kToKnowZero = 5;  // samples from which the standing force is known
constexpr double kMoved = 8;       // standard deviations of the standing force that are a movement
constexpr size_t kMovedFor = 3;    // samples in a row
constexpr double kFallen = 0.25;   // of the peak, within kSudden of having been at kHeld of it: a break
constexpr double kHeld = 0.6;
constexpr double kSudden = 0.3;     // s
constexpr double kAboveNoise = 10;  // times what is usual off the line (1.65 standard deviations): more than noise …
constexpr size_t kSteps = 64;       // … of so many samples
constexpr size_t kFewestSteps = 12;
constexpr double kAfterBreak = 0.5;  // s recorded after a break
constexpr double kUnloaded = 0.03;   // of the peak, for kRest: the piece was unloaded
constexpr double kRest = 5;          // s
constexpr double kBreath = 1e-4;     // s between lines of one arrival
constexpr double kGap = 4;           // usual distances of lines that are a gap …
constexpr double kLeastGap = 0.05;   // … of at least so many seconds

std::optional<double> in_internal(const line::Value& v, Dimension d) {
  if (d == Dimension::none) return v.value;
  const Unit* unit = v.unit.empty() && d == Dimension::time ? find_unit("s", d) : find_unit(v.unit, d);
  if (unit == nullptr) return std::nullopt;
  return from_unit(v.value, unit->symbol, d);
}

class HeardMachine : public Machine {
 public:
  HeardMachine(std::vector<Ear> ears, std::vector<MachineChannel> channels, size_t led)
      : ears_(std::move(ears)), channels_(std::move(channels)), led_(led) {
    status_.listened = true;
    for (const Ear& e : ears_) e.box->listen(true);
    others_.resize(ears_.size());
    oldest_.resize(ears_.size());
    for (const MachineChannel& c : channels_) status_.extensometer = status_.extensometer || c.name == "extension";
  }
  ~HeardMachine() override {
    for (const Ear& e : ears_) e.box->listen(false);
  }

  Outcome<Done> command(MachineCommand c, double) override {
    switch (c) {
      case MachineCommand::start:
        if (status_.now.empty()) return InputError{ears_.front().name + " has not said anything yet.", {}};
        begin();
        return Done{};
      case MachineCommand::hold:
        if (armed_) end("ended by hand");
        return Done{};
      case MachineCommand::remove_extensometer: status_.extensometer = false; return Done{};
      case MachineCommand::jog_stop: return Done{};
      default: break;
    }
    return InputError{
        "The program only listens: the machine is driven, and stopped, at its own controls and its own emergency stop.",
        {}};
  }
  Outcome<Done> program(const MachineProgram&) override { return Done{}; }
  MachineStatus status() const override { return status_; }
  std::vector<MachineChannel> channels() const override { return channels_; }
  std::vector<MachineControl> controls() const override {
    return {{MachineCommand::remove_extensometer, "Extensometer off", 'X'}};
  }

  MachineColumns advance(double seconds) override {
    out_.assign(channels_.size(), {});
    bool any = false;
    // The others first: a sample of the first takes their nearest earlier values.
    for (size_t i = 1; i < ears_.size(); ++i)
      for (const LineBox::Line& l : ears_[i].box->take()) remember(i, l);
    for (const LineBox::Line& l : ears_.front().box->take()) any = hear(l) || any;
    const auto [open, why] = ears_.front().box->open();
    if (any) {
      silent_ = 0;
    } else {
      silent_ += seconds;
      // An old reading is not what the machine shows now.
      if (silent_ > kSilence) std::erase_if(status_.now, [](const auto& one) { return one.first != "time"; });
      if (silent_ > kSilence && armed_ && status_.state == MachineState::running) {
        status_.state = MachineState::holding;
        status_.message = ears_.front().name +
                          (open ? " is silent" : " is not to be heard" + (why.empty() ? "" : " (" + why + ")")) +
                          ". Everything that came is kept; it goes on by itself.";
      }
    }
    return std::move(out_);
  }

 private:
  struct Sample {
    double arrived = 0;
    std::vector<double> values;  ///< by channel; values[0]: time of the device or of arrival
    std::string gap = {};        ///< what is missing before it
  };

  // Values of a line in internal units; nothing for a line that says nothing of the run.
  std::optional<Sample> sample_of(const Ear& ear, const LineBox::Line& l) {
    const line::Reading r = line::read(ear.format, l.text);
    if (r.state == line::State::bad) return std::nullopt;
    Sample s{l.at, std::vector<double>(channels_.size(), NAN)};
    s.values[0] = l.at;
    bool any = false;
    for (const line::Value& v : r.values) {
      if (!ear.format.time.empty() && v.channel == ear.format.time) {
        if (const auto t = in_internal(v, Dimension::time)) s.values[0] = *t;
        continue;
      }
      if (!ear.format.counter.empty() && v.channel == ear.format.counter) {
        count_ = v.value;
        continue;
      }
      const auto to = ear.channels.find(v.channel);
      if (to == ear.channels.end() || r.state == line::State::overload) continue;
      for (size_t c = 1; c < channels_.size(); ++c)
        if (channels_[c].name == to->second)
          if (const auto x = in_internal(v, channels_[c].dimension)) {
            s.values[c] = *x;
            any = true;
            line::Value step = v;
            step.value = v.resolution;
            if (c == led_) resolution_ = in_internal(step, channels_[c].dimension).value_or(0);
          }
    }
    return any ? std::optional(std::move(s)) : std::nullopt;
  }

  void remember(size_t ear, const LineBox::Line& l) {
    if (auto s = sample_of(ears_[ear], l)) {
      others_[ear].push_back(std::move(*s));
      if (others_[ear].size() > 4096) others_[ear].pop_front();
    }
  }

  void take_others(Sample& s) {
    for (size_t i = 1; i < ears_.size(); ++i) {
      auto& queue = others_[i];
      while (queue.size() > 1 && queue[1].arrived <= s.arrived) queue.pop_front();
      if (queue.empty() || queue.front().arrived > s.arrived) continue;
      // What a device said before it fell silent is not what it shows now.
      const double age = s.arrived - queue.front().arrived;
      const bool silent = age > kSilence;
      if (silent != (silent_others_.count(i) > 0)) {
        if (silent)
          silent_others_.insert(i);
        else
          silent_others_.erase(i);
        if (moved_ || silent)
          status_.happened.push_back(
              {moved_ ? run_time(s.values[0]) : 0, "gap", ears_[i].name + (silent ? " is silent" : " speaks again")});
      }
      if (silent) continue;
      if (armed_) oldest_[i] = std::max(oldest_[i], age);
      for (size_t c = 1; c < channels_.size(); ++c)
        if (std::isnan(s.values[c])) s.values[c] = queue.front().values[c];
    }
    std::string who;
    for (size_t i : silent_others_) who += (who.empty() ? "" : ", ") + ears_[i].name;
    if (status_.state == MachineState::running && (moved_ || !who.empty()))
      status_.message =
          who.empty() ? std::string()
                      : who + (silent_others_.size() > 1 ? " are" : " is") + " silent: what it measures is left out.";
  }

  bool hear(const LineBox::Line& l) {
    count_.reset();
    auto s = sample_of(ears_.front(), l);
    if (!s) return false;
    if (!follows(*s, s->gap)) return true;  // said twice
    take_others(*s);
    for (size_t c = 1; c < channels_.size(); ++c)
      if (std::isfinite(s->values[c]))
        status_.now[channels_[c].name] = s->values[c];
      else
        status_.now.erase(channels_[c].name);
    if (!armed_) {
      before_.push_back(std::move(*s));
      trim();
      return true;
    }
    if (status_.state == MachineState::holding) {
      status_.state = MachineState::running;
      status_.message = moved_ ? "" : kWaits;
    }
    if (!moved_) {
      before_.push_back(std::move(*s));
      look_for_start();
      trim();
      return true;
    }
    give(*s);
    look_for_end(*s);
    return true;
  }

  // Whether a sample comes after the one before; what is missing between them is said in `gap`.
  bool follows(Sample& s, std::string& gap) {
    // Without a clock of the device lines that came in one breath have one arrival: they are in order, and none is
    // said twice because of it.
    const bool by_arrival = ears_.front().format.time.empty();
    if (by_arrival && last_) s.values[0] = std::max(s.values[0], last_->first + kBreath);
    if (!last_) {
      last_ = {s.values[0], s.arrived};
      last_count_ = count_;
      return true;
    }
    double step = s.values[0] + shift_ - last_->first;
    if (count_ && last_count_) {
      const double counted = *count_ - *last_count_;
      if (counted == 0) return false;
      if (counted > 1 && counted < 1e6) gap = std::to_string(std::lround(counted - 1)) + " lines lost";
      if (counted < 0) gap = "the device began to count anew";
    } else if (step == 0 && !by_arrival) {
      return false;
    }
    const double arrived = s.arrived - last_->second;
    if (step < 0 || step > arrived + 3600) {  // its clock was set anew: arrival says how long it took
      shift_ += std::max(arrived, 1e-6) - step;
      step = std::max(arrived, 1e-6);
      if (gap.empty()) gap = "the clock of the device began anew, " + significant(step, 2) + " s by arrival";
    }
    s.values[0] += shift_;
    // Where lines are counted, the count alone says what is missing: a device may well send more slowly for a while.
    // By arrival only a silence is one: lines come in bursts.
    const bool long_pause = by_arrival ? step > kSilence : usual_ > 0 && step > kGap * usual_ && step > kLeastGap;
    if (!count_ && long_pause && gap.empty()) gap = significant(step, 2) + " s without samples";
    usual_ = usual_ > 0 ? usual_ + (std::min(step, 4 * usual_) - usual_) / 16 : step;
    last_ = {s.values[0], s.arrived};
    last_count_ = count_;
    return true;
  }

  void begin() {
    armed_ = true;
    moved_ = false;
    peak_ = 0;
    off_line_.clear();
    last_forces_ = {NAN, NAN};
    oldest_.assign(ears_.size(), 0);
    broken_at_.reset();
    resting_since_.reset();
    status_.broken = false;
    status_.happened.clear();
    status_.state = MachineState::running;
    status_.message = kWaits;
  }

  // One clock for all: how old the values of the other devices were at most, beside those of the first.
  void end(const std::string& why) {
    for (size_t i = 1; i < ears_.size(); ++i)
      if (moved_ && oldest_[i] > 0)
        status_.happened.push_back({last_ ? run_time(last_->first) : 0, "clock",
                                    ears_[i].name + ": its values are up to " + significant(oldest_[i], 2) +
                                        " s older than those of " + ears_.front().name});
    armed_ = false;
    before_.clear();
    status_.state = MachineState::idle;
    status_.message = why;
  }

  double led(const Sample& s) const { return s.values[led_]; }

  // The force as it stands before it moves: the mean of the older half, and the noise by the steps from sample to
  // sample, which a force that moves already does not hide (half the median step of a normal is 0.954 of its sd;
  // von Neumann 1941 for the idea).
  void look_for_start() {
    if (before_.size() < kToKnowZero + kMovedFor || !std::isfinite(led(before_.back()))) return;
    double sum = 0, digit = 0;
    size_t n = 0;
    std::vector<double> steps;
    for (size_t i = 0; i < before_.size(); ++i) {
      const double f = led(before_[i]);
      if (i < std::max(kToKnowZero, before_.size() / 2) && std::isfinite(f)) sum += f, ++n;
      const double step = i > 0 ? std::abs(f - led(before_[i - 1])) : NAN;
      if (!std::isfinite(step)) continue;
      steps.push_back(step);
      // Where it stands still to the last digit, its digit is the least movement.
      if (step > 0 && (digit == 0 || step < digit)) digit = step;
    }
    if (n < kToKnowZero || steps.empty()) return;
    std::nth_element(steps.begin(), steps.begin() + long(steps.size() / 2), steps.end());
    // A display that holds its nought still has noise that nobody sees before it moves.
    threshold_ = std::max({kMoved * steps[steps.size() / 2] / 0.954, 2 * digit, 2 * resolution_});
    zero_ = sum / double(n);
    for (size_t i = before_.size() - kMovedFor; i < before_.size(); ++i)
      if (!(std::abs(led(before_[i]) - zero_) > threshold_)) return;
    moved_ = true;
    status_.message.clear();
    origin_ = before_.front().values[0];
    before_.front().gap.clear();  // what was missing before the run belongs to none
    for (const Sample& s : before_) give(s);
    before_.clear();
  }

  void look_for_end(const Sample& s) {
    const double t = s.values[0], said = std::abs(led(s) - zero_);
    if (!std::isfinite(said)) return;
    // How far a sample stands off the straight line of the two before it: of a pull nothing, of noise all there is.
    const auto& [before_last, last] = last_forces_;
    const bool third = !std::isnan(before_last);
    if (third) off_line_.push_back(std::abs(said - 2 * last + before_last));
    if (off_line_.size() > kSteps) off_line_.pop_front();
    // The middle one of three: a single sample that stands out is neither a peak nor a fall.
    const double f = third ? std::max(std::min(said, last), std::min(std::max(said, last), before_last)) : said;
    last_forces_ = {last, said};
    if (!third) return;
    peak_ = std::max(peak_, f);
    recent_.push_back({t, f});
    while (recent_.size() > 1 && t - recent_.front().first > kSudden) recent_.pop_front();
    if (broken_at_) {
      if (t - *broken_at_ >= kAfterBreak) end("");
      return;
    }
    if (off_line_.size() < kFewestSteps) return;
    std::vector<double> sorted(off_line_.begin(), off_line_.end());
    std::nth_element(sorted.begin(), sorted.begin() + long(sorted.size() / 2), sorted.end());
    if (peak_ < std::max(4 * threshold_, kAboveNoise * sorted[sorted.size() / 2])) return;
    const bool held =
        std::any_of(recent_.begin(), recent_.end(), [&](const auto& r) { return r.second > kHeld * peak_; });
    if (f < kFallen * peak_ && held) {
      broken_at_ = t;
      status_.broken = true;
      status_.message.clear();
    }
    if (f > kUnloaded * peak_) {
      resting_since_.reset();
    } else if (!resting_since_) {
      resting_since_ = t;
    } else if (t - *resting_since_ > kRest) {
      end("unloaded");
    }
  }

  double run_time(double t) const { return t - origin_; }
  void give(const Sample& s) {
    if (!s.gap.empty()) status_.happened.push_back({run_time(s.values[0]), "gap", s.gap});
    for (size_t c = 0; c < channels_.size(); ++c) out_[c].push_back(c == 0 ? run_time(s.values[0]) : s.values[c]);
    status_.now["time"] = run_time(s.values[0]);
  }
  void trim() {
    while (before_.size() > kLeastKept && before_.back().values[0] - before_.front().values[0] > kBefore)
      before_.pop_front();
  }

  static constexpr const char* kWaits = "Waits for the force to move.";
  std::vector<Ear> ears_;
  std::vector<MachineChannel> channels_;
  size_t led_;
  MachineStatus status_;
  MachineColumns out_;
  std::vector<std::deque<Sample>> others_;  // of the ears behind the first
  std::vector<double> oldest_;              // s, how old a value of each was when it was taken
  std::set<size_t> silent_others_;
  std::deque<Sample> before_;  // before the force moved
  std::deque<std::pair<double, double>> recent_;
  std::optional<std::pair<double, double>> last_;  // time and arrival of the newest sample
  std::optional<double> count_, last_count_, broken_at_, resting_since_;
  double shift_ = 0, usual_ = 0, silent_ = 0, origin_ = 0, zero_ = 0, threshold_ = 0, peak_ = 0;
  double resolution_ = 0;
  std::pair<double, double> last_forces_ = {NAN, NAN};
  std::deque<double> off_line_;
  bool armed_ = false, moved_ = false;
};

}  // namespace

void LineBox::put(std::string text, double at) {
  const std::lock_guard lock(guard_);
  if (listeners_ > 0 && lines_.size() < kMost) lines_.push_back({std::move(text), at});
}

std::vector<LineBox::Line> LineBox::take() {
  const std::lock_guard lock(guard_);
  return std::exchange(lines_, {});
}

void LineBox::listen(bool on) {
  const std::lock_guard lock(guard_);
  listeners_ = std::max(0, listeners_ + (on ? 1 : -1));
  lines_.clear();
}

void LineBox::set_open(bool open, std::string why) {
  const std::lock_guard lock(guard_);
  open_ = open;
  why_ = std::move(why);
}

std::pair<bool, std::string> LineBox::open() const {
  const std::lock_guard lock(guard_);
  return {open_, why_};
}

std::map<std::string, std::string> heard_channels(const line::Format& format, const Schema& schema,
                                                  const line::Reading* last) {
  CsvDialect columns;
  for (const line::Field& f : format.fields) {
    if (f.channel == format.time || f.channel == format.counter) continue;
    columns.columns.push_back(f.channel);
    const line::Value* said = f.unit.empty() && last != nullptr ? last->find(f.channel) : nullptr;
    columns.units.push_back(said != nullptr ? said->unit : f.unit);
  }
  std::map<std::string, std::string> out;
  for (const auto& [channel, source] : guess_mapping(columns, schema))
    if (channel != "time") out[source.column] = channel;
  return out;
}

std::unique_ptr<Machine> heard_machine(std::vector<Ear> ears, const Schema& schema) {
  const auto leads = [&](const Ear& e) {
    return std::any_of(e.channels.begin(), e.channels.end(), [&](const auto& c) {
      const ChannelSpec* spec = schema.channel(c.second);
      return spec != nullptr && (spec->dimension == Dimension::force || spec->dimension == Dimension::torque);
    });
  };
  const auto first = std::find_if(ears.begin(), ears.end(), leads);
  if (first == ears.end()) return nullptr;
  std::rotate(ears.begin(), first, first + 1);
  std::vector<MachineChannel> channels = {{"time", "time", Dimension::time}};
  size_t led = 0;
  for (const ChannelSpec& c : schema.channels) {
    bool sent = false;
    for (Ear& e : ears)
      std::erase_if(e.channels, [&](const auto& one) {
        if (one.second != c.name) return false;
        return std::exchange(sent, true);
      });
    if (!sent || c.name == "time") continue;
    if (led == 0 && (c.dimension == Dimension::force || c.dimension == Dimension::torque)) led = channels.size();
    channels.push_back({c.name, c.label, c.dimension});
  }
  if (led == 0) return nullptr;
  return std::make_unique<HeardMachine>(std::move(ears), std::move(channels), led);
}

}  // namespace fortitor
