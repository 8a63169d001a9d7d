#include "core/standin/heard_machine.h"

#include <algorithm>
#include <cmath>
#include <set>

#include "core/quantity/format.h"
#include "core/standin/force_watch.h"

namespace fortitor {
namespace {

constexpr double kSilence = 1;      // s without a line after which it is said
constexpr double kBefore = 2;       // s kept from before the force moved
constexpr size_t kLeastKept = 32;   // … and at least so many samples: a steady pull is told from its own steps
constexpr double kLook = 0.01;      // s from one look for a movement to the next
constexpr double kBreath = 1e-4;    // s between lines of one arrival
constexpr double kGap = 4;          // usual distances of lines that are a gap …
constexpr double kLeastGap = 0.05;  // … of at least so many seconds

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
    oldest_.assign(ears_.size(), 0);
    silent_others_.clear();  // who is silent already is said in this run too
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

  void look_for_start() {
    // A hundred times a second, however often the device speaks: what it said meanwhile is kept.
    if (std::abs(before_.back().values[0] - looked_at_) < kLook) return;
    looked_at_ = before_.back().values[0];
    std::vector<double> force;
    for (const Sample& s : before_) force.push_back(led(s));
    const auto standing = movement(force, resolution_);
    if (!standing) return;
    end_ = EndWatch(*standing);
    moved_ = true;
    status_.message.clear();
    origin_ = before_.front().values[0];
    before_.front().gap.clear();  // what was missing before the run belongs to none
    for (const Sample& s : before_) give(s);
    before_.clear();
  }

  void look_for_end(const Sample& s) {
    switch (end_.look(s.values[0], led(s))) {
      case EndWatch::Says::goes_on: return;
      case EndWatch::Says::broke:
        status_.broken = true;
        status_.message.clear();
        return;
      case EndWatch::Says::over_broken: return end("");
      case EndWatch::Says::over_unloaded: return end("unloaded");
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
  std::deque<Sample> before_;                      // before the force moved
  std::optional<std::pair<double, double>> last_;  // time and arrival of the newest sample
  std::optional<double> count_, last_count_;
  double shift_ = 0, usual_ = 0, silent_ = 0, origin_ = 0;
  double looked_at_ = -1e300;  // s, by the clock of the samples
  double resolution_ = 0;      // of the force
  EndWatch end_;
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
