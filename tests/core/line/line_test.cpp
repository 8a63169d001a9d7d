// Lines of devices that are made at random and known: what is proposed from twenty of them reads the next fifty right.
#include "core/line/line.h"

#include <gtest/gtest.h>

#include <cmath>
#include <random>

#include "core/line/teach.h"
#include "core/quantity/plain.h"

namespace fortitor::line::line_test {
namespace {

// A device as somebody builds one: what it sends, and what each line means.
struct Device {
  enum class Kind { value_unit, sign_value_unit_status, columns, keyed, json } kind = Kind::value_unit;
  std::vector<std::string> units;
  int decimals = 3;
  char decimal = '.', separator = ' ';
  bool head = false, status = false, clock = false, joined_unit = false, sign = false;
  Sum sum = Sum::none;
  char sum_mark = '*';
  std::vector<std::string> names;
};

struct Sent {
  std::string text;
  std::vector<double> values;
  State state = State::unsaid;
};

class Maker {
 public:
  explicit Maker(unsigned seed) : random_(seed) {}
  Device device() {
    Device d;
    d.kind = Device::Kind(pick(5));
    const std::vector<std::vector<std::string>> kUnits = {{"mm"}, {"g"}, {"kg"}, {"N"}, {"kN"}, {"µm"}, {"J"}, {"in"}};
    d.decimals = int(1 + pick(4));
    d.decimal = pick(4) == 0 ? ',' : '.';
    d.sign = pick(2) == 0;
    d.sum = pick(3) == 0 ? Sum(1 + pick(3)) : Sum::none;
    d.sum_mark = pick(2) == 0 ? '*' : '#';
    const size_t n =
        d.kind == Device::Kind::value_unit || d.kind == Device::Kind::sign_value_unit_status ? 1 : 1 + pick(4);
    for (size_t i = 0; i < n; ++i) {
      d.units.push_back(kUnits[pick(kUnits.size())][0]);
      d.names.push_back(std::vector<std::string>{"F", "x", "e1", "e2", "T"}[i]);
    }
    switch (d.kind) {
      case Device::Kind::value_unit: d.joined_unit = pick(2) == 0; break;
      case Device::Kind::sign_value_unit_status:
        d.status = true;
        d.separator = std::vector<char>{',', ' ', ';'}[pick(3)];
        break;
      case Device::Kind::columns:
        d.separator = std::vector<char>{',', ';', '\t', ' '}[pick(4)];
        d.clock = n > 1 && pick(2) == 0;
        d.head = pick(2) == 0;
        break;
      case Device::Kind::keyed: d.separator = std::vector<char>{';', ',', ' '}[pick(3)]; break;
      case Device::Kind::json:
        d.sum = Sum::none;
        d.decimal = '.';
        d.status = pick(2) == 0;
        break;
    }
    if (d.separator == ',' && d.decimal == ',') d.separator = ';';
    return d;
  }
  // A value that a display shows: so many decimals, never the same twice in a row.
  double value(const Device& d) {
    const double step = std::pow(10.0, -d.decimals);
    return std::round((double(pick(200000)) / 1000.0 - (d.sign ? 90 : 0)) / step) * step;
  }
  std::string written(const Device& d, double v) {
    std::string out = plain::fixed(v, d.decimals);
    if (d.sign && v >= 0)
      out = (d.kind == Device::Kind::sign_value_unit_status && d.separator != ' ' ? "+  " : "+") + out;
    for (char& c : out)
      if (c == '.') c = d.decimal;
    return out;
  }
  Sent line(const Device& d, int n) {
    Sent s;
    std::vector<double> v;
    for (size_t i = 0; i < d.units.size(); ++i) v.push_back(value(d));
    if (d.clock) v[0] = 0.02 * n;
    s.values = v;
    const std::string part = d.separator == ' ' ? " " : std::string(1, d.separator);
    switch (d.kind) {
      case Device::Kind::value_unit: s.text = written(d, v[0]) + (d.joined_unit ? "" : " ") + d.units[0]; break;
      case Device::Kind::sign_value_unit_status: {
        const bool moving = pick(3) == 0;
        s.state = moving ? State::moving : State::stable;
        s.text = std::string(moving ? "US" : "ST") + part + written(d, v[0]) + " " + d.units[0];
        break;
      }
      case Device::Kind::columns:
        for (size_t i = 0; i < v.size(); ++i)
          s.text += (i > 0 ? part : "") + (d.clock && i == 0 ? number(d, v[0], 3) : written(d, v[i]));
        break;
      case Device::Kind::keyed:
        for (size_t i = 0; i < v.size(); ++i)
          s.text += (i > 0 ? part : "") + d.names[i] + "=" + written(d, v[i]) + " " + d.units[i];
        break;
      case Device::Kind::json:
        s.text = "{";
        for (size_t i = 0; i < v.size(); ++i)
          s.text += (i > 0 ? ", " : "") + std::string("\"") + d.names[i] + "\": " + plain::fixed(v[i], d.decimals);
        if (d.units.size() == 1) s.text += ", \"unit\": \"" + d.units[0] + "\"";
        if (d.status) {
          const bool moving = pick(3) == 0;
          s.state = moving ? State::moving : State::stable;
          s.text += std::string(", \"status\": \"") + (moving ? "moving" : "stable") + "\"";
        }
        s.text += "}";
        break;
    }
    if (d.sum != Sum::none) s.text += std::string(1, d.sum_mark) + sum_of(s.text, d.sum);
    return s;
  }
  std::string head(const Device& d) {
    std::string out;
    for (size_t i = 0; i < d.units.size(); ++i)
      out += (i > 0 ? std::string(1, d.separator) : "") +
             (d.clock && i == 0 ? std::string("t[s]") : d.names[i] + "[" + d.units[i] + "]");
    return out;
  }
  size_t pick(size_t n) { return std::uniform_int_distribution<size_t>(0, n - 1)(random_); }

 private:
  static std::string number(const Device& d, double v, int decimals) {
    std::string out = plain::fixed(v, decimals);
    for (char& c : out)
      if (c == '.') c = d.decimal;
    return out;
  }
  std::mt19937 random_;
};

TEST(LineFormats, AreProposedRightForTwoHundredDevices) {
  for (unsigned seed = 1; seed <= 200; ++seed) {
    Maker maker(seed);
    const Device d = maker.device();
    std::vector<std::string> lines;
    if (d.head) lines.push_back(maker.head(d));
    int n = 0;
    for (; n < 20; ++n) lines.push_back(maker.line(d, n).text);
    const auto f = propose(lines);
    ASSERT_TRUE(f) << seed << ": " << f.error().message << "\n" << lines.back();
    const auto again = format_from_json(format_to_json(*f));
    ASSERT_TRUE(again) << seed << ": " << again.error().message;
    EXPECT_EQ(*again, *f) << seed << ": " << format_to_json(*f);
    for (; n < 70; ++n) {
      const Sent s = maker.line(d, n);
      const Reading r = read(*again, s.text);
      ASSERT_EQ(state_word(r.state), state_word(s.state)) << seed << ": " << s.text << " — " << r.why << "\n"
                                                          << format_to_json(*f);
      if (!r.good()) continue;
      ASSERT_EQ(r.values.size(), s.values.size()) << seed << ": " << s.text << "\n" << format_to_json(*f);
      for (size_t i = 0; i < s.values.size(); ++i) {
        EXPECT_NEAR(r.values[i].value, s.values[i], 1e-9) << seed << ": " << s.text;
        const bool says_unit = d.kind != Device::Kind::columns && !(d.kind == Device::Kind::json && d.units.size() > 1);
        if (says_unit) {
          EXPECT_EQ(r.values[i].unit, d.units[i]) << seed << ": " << s.text << "\n" << format_to_json(*f);
        }
        if (d.kind == Device::Kind::columns && d.head && !(d.clock && i == 0)) {
          EXPECT_EQ(r.values[i].unit, d.units[i]) << seed;
        }
        if (!(d.clock && i == 0)) {
          EXPECT_NEAR(r.values[i].resolution, std::pow(10.0, -d.decimals), 1e-12) << seed << ": " << s.text;
        }
      }
      if (d.clock) {
        EXPECT_EQ(r.values[0].channel, "time") << seed << ": " << format_to_json(*f);
      }
    }
    if (d.sum != Sum::none) {
      Sent s = maker.line(d, n);
      s.text[s.text.find_first_of("0123456789")] = 'x';
      EXPECT_EQ(read(*f, s.text).state, State::bad) << seed << ": " << s.text;
    }
  }
}

// Whatever part of whatever line is pointed at: what it is said to be is what is read there from then on, in every line
// that follows, and the other parts stay what they were.
TEST(LineFormats, AreTaughtByPointingAtTheirParts) {
  int taught = 0;
  for (unsigned seed = 1; seed <= 200; ++seed) {
    Maker maker(seed);
    const Device d = maker.device();
    std::vector<std::string> lines;
    if (d.head) lines.push_back(maker.head(d));
    std::vector<Sent> later;
    for (int n = 0; n < 20; ++n) lines.push_back(maker.line(d, n).text);
    for (int n = 20; n < 40; ++n) later.push_back(maker.line(d, n));
    const auto f = propose(lines);
    ASSERT_TRUE(f) << seed;
    const std::string& shown = lines.back();
    const auto pieces = pieces_of(*f, shown);
    ASSERT_FALSE(pieces.empty()) << seed << ": " << shown;
    size_t values = 0;
    for (size_t i = 0; i < pieces.size(); ++i) {
      SCOPED_TRACE(std::to_string(seed) + ": " + shown + " part " + std::to_string(i) + " " + format_to_json(*f));
      const Piece& p = pieces[i];
      if (p.use == Use::value || p.use == Use::clock) {
        const size_t which = values++;
        const auto renamed = teach(*f, shown, i, {Use::value, "told", p.use == Use::clock ? "ms" : ""});
        ASSERT_TRUE(renamed) << renamed.error().message;
        ++taught;
        EXPECT_EQ(pieces_of(*renamed, shown)[i].channel, "told");
        const auto again = format_from_json(format_to_json(*renamed));
        ASSERT_TRUE(again && *again == *renamed);
        for (const Sent& s : later) {
          const Reading r = read(*renamed, s.text), was = read(*f, s.text);
          ASSERT_EQ(r.state, was.state) << s.text << " " << r.why;
          if (!r.good()) continue;
          ASSERT_NE(r.find("told"), nullptr) << s.text;
          EXPECT_NEAR(r.find("told")->value, s.values[which], 1e-9) << s.text;
          for (const Value& v : was.values) EXPECT_TRUE(v.channel == p.channel || r.find(v.channel)->typed == v.typed);
        }
        // Left out, the others are read as before and it is not.
        const auto without = teach(*f, shown, i, {Use::nothing, "", ""});
        ASSERT_TRUE(without);
        EXPECT_EQ(without->fields.size() + 1, f->fields.size());
        for (const Sent& s : later) {
          const Reading r = read(*without, s.text), was = read(*f, s.text);
          ASSERT_EQ(r.state, was.state) << s.text << " " << r.why;
          if (!r.good()) continue;
          for (const Value& v : was.values) EXPECT_EQ(r.find(v.channel) == nullptr, v.channel == p.channel) << s.text;
        }
        // And told again, it is there again.
        const auto back = teach(*without, shown, i, {Use::value, "back", "N"});
        ASSERT_TRUE(back) << back.error().message;
        for (const Sent& s : later)
          if (const Reading r = read(*back, s.text); r.good()) {
            EXPECT_NEAR(r.find("back")->value, s.values[which], 1e-9);
          }
        if (f->fields.size() > 1) {
          EXPECT_FALSE(teach(*f, shown, i, {Use::value, f->fields[which == 0 ? 1 : 0].channel, ""}));
        }
        EXPECT_FALSE(teach(*f, shown, i, {Use::value, "told", "zz"}));
        EXPECT_FALSE(teach(*f, shown, i, {Use::value, "", ""}));
        EXPECT_FALSE(teach(*f, shown, i, {Use::status, "", ""}));
      } else if (!p.number) {
        EXPECT_FALSE(teach(*f, shown, i, {Use::value, "told", "mm"})) << "a word is no number";
      }
    }
    EXPECT_EQ(values, f->fields.size()) << seed << ": every value can be pointed at: " << shown;
    EXPECT_FALSE(teach(*f, shown, pieces.size(), {Use::value, "told", ""}));
  }
  EXPECT_GT(taught, 300);
}

TEST(LineFormats, AClockSaysTimesAndACounterCounts) {
  const auto f = propose({"512;20.1;3", "518;20.4;9", "511;20.9;1", "540;20.2;7"});
  ASSERT_TRUE(f) << f.error().message;
  const std::string line = "512;20.1;3";
  auto mm = teach(*f, line, 0, {Use::value, "x", "mm"});
  ASSERT_TRUE(mm);
  const auto clock = teach(*mm, line, 0, {Use::clock, "", ""});
  ASSERT_TRUE(clock) << clock.error().message;
  EXPECT_EQ(pieces_of(*clock, line)[0].use, Use::clock);
  EXPECT_EQ(pieces_of(*clock, line)[0].unit, "s") << "a millimetre is no time";
  const auto ms = teach(*clock, line, 0, {Use::clock, "", "ms"});
  ASSERT_TRUE(ms);
  EXPECT_EQ(read(*ms, "900;1.0;2").find("time")->unit, "ms");
  EXPECT_FALSE(teach(*f, line, 0, {Use::clock, "", "mm"}));
  EXPECT_FALSE(teach(*ms, line, 1, {Use::clock, "", ""})) << "there is one clock";
  const auto counter = teach(*mm, line, 0, {Use::counter, "", ""});
  ASSERT_TRUE(counter);
  EXPECT_EQ(read(*counter, line).find("counter")->unit, "");
  const auto said = propose({"1.0 mm", "2.0 mm", "3.1 mm"});
  EXPECT_FALSE(teach(*said, "1.0 mm", 0, {Use::counter, "", ""}));
  EXPECT_FALSE(teach(*said, "1.0 mm", 0, {Use::clock, "", ""}));
}

TEST(LineFormats, HalfLinesAndGarbageAreCountedNeverGuessed) {
  const auto f = propose({"ST,+  12.034 g", "US,+  12.031 g", "ST,+  12.030 g", "ST,-   0.002 g"});
  ASSERT_TRUE(f) << f.error().message;
  EXPECT_DOUBLE_EQ(read(*f, "ST,-   0.002 g").find("1")->value, -0.002);
  EXPECT_EQ(read(*f, "ST,-   0.002 g").find("1")->typed, "-0.002 g");
  for (const char* wrong :
       {"", "ST", "ST,", "ST,+  12.0", "ST,+  12.034", "ST,+  12.034 g,", "QQ,+  12.034 g", "ST,+  12.0.34 g",
        "ST,+  12,034 g", "ST,+  1 2.034 g", "ST,+  12.034 zz", "T,+  12.034 g", "ST,+  nan g"})
    EXPECT_EQ(read(*f, wrong).state, State::bad) << wrong;
  EXPECT_EQ(read(*f, "US,+  12.034 g").state, State::moving);
  EXPECT_FALSE(read(*f, "US,+  12.034 g").good());
}

TEST(LineFormats, OverloadIsNoReading) {
  const auto f = propose({"ST 12.0 kg", "OL 12.1 kg", "ST 12.2 kg", "US 12.2 kg"});
  ASSERT_TRUE(f);
  EXPECT_EQ(read(*f, "OL 99.9 kg").state, State::overload);
  EXPECT_TRUE(read(*f, "OL 99.9 kg").values.empty());
  EXPECT_EQ(read(*f, "OL").state, State::overload);
}

// A word behind the value where there is something to say, and nothing else.
TEST(LineFormats, AStatusBehindSomeLinesIsUnderstood) {
  const auto f = propose({"12.50 kg", "12.51 kg US", "12.52 kg", "0.00 kg OL", "12.52 kg", "12.53 kg US"});
  ASSERT_TRUE(f) << f.error().message;
  EXPECT_EQ(read(*f, "12.52 kg").state, State::unsaid);
  EXPECT_TRUE(read(*f, "12.52 kg").good());
  EXPECT_DOUBLE_EQ(read(*f, "12.52 kg").values[0].value, 12.52);
  EXPECT_EQ(read(*f, "12.51 kg US").state, State::moving);
  EXPECT_EQ(read(*f, "99.99 kg OL").state, State::overload);
  EXPECT_TRUE(read(*f, "99.99 kg OL").values.empty());
  EXPECT_EQ(read(*f, "12.52 kg XX").state, State::bad);
  EXPECT_EQ(read(*f, "12.52 zz").state, State::bad);
  const auto again = format_from_json(format_to_json(*f));
  ASSERT_TRUE(again);
  EXPECT_EQ(*again, *f);
}

TEST(LineFormats, WhatHasNothingInCommonIsRefused) {
  EXPECT_FALSE(propose({}));
  EXPECT_FALSE(propose({"hello", "world", "again"}));
  EXPECT_FALSE(propose({"1.0 mm", "2.0 mm"}));
  EXPECT_FALSE(propose({"1.0 mm", "a=2, b", "{\"x\": 3}", "7;8;9", "boot 3"}));
  for (const char* wrong : {"{}", "[]", R"({"fortitor": "line/1"})",
                            R"({"fortitor": "line/1", "fields": [{"channel": "1", "unit": "zz"}]})",
                            R"({"fortitor": "line/1", "fields": [{"channel": "1", "colour": 1}]})",
                            R"({"fortitor": "line/1", "fields": [], "x": 1})"})
    EXPECT_FALSE(format_from_json(wrong)) << wrong;
}

// Known sums: CRC-16/MODBUS of "123456789" is 4B37, its bytes come to DD modulo 256, and to 31 by exclusive or.
TEST(LineFormats, SumsAreThoseOfTheirDefinition) {
  EXPECT_EQ(sum_of("123456789", Sum::crc16), "4B37");
  EXPECT_EQ(sum_of("123456789", Sum::sum), "DD");
  EXPECT_EQ(sum_of("123456789", Sum::exclusive_or), "31");
}

TEST(Splitter, LinesComeWholeHoweverTheyArrive) {
  std::mt19937 random(3);
  for (int round = 0; round < 200; ++round) {
    std::vector<std::string> wanted;
    std::string bytes;
    const char* ends[] = {"\n", "\r\n", "\r"};
    for (int i = 0; i < 40; ++i) {
      wanted.push_back("line " + std::to_string(random() % 100000));
      bytes += wanted.back() + ends[random() % 3];
    }
    Splitter s;
    std::vector<std::string> got;
    for (size_t at = 0; at < bytes.size();) {
      const size_t n = 1 + random() % 13;
      s.put(bytes.substr(at, n));
      at += n;
      while (auto l = s.next()) got.push_back(*l);
    }
    EXPECT_EQ(got, wanted);
  }
  Splitter s;
  s.put(std::string(10000, 'x'));
  EXPECT_FALSE(s.next());
  s.put("y\nnext\n");
  EXPECT_EQ(*s.next(), "next");
  EXPECT_EQ(s.given_up(), 1u);
}

// A hundred thousand lines of bytes that no instrument sent: no crash, and no number out of what is not of the format.
TEST(LineFormats, FuzzedLinesAreBadOrRight) {
  const auto f = propose({"F=12.03 kN; x=1.204 mm", "F=12.04 kN; x=1.205 mm", "F=12.05 kN; x=1.207 mm"});
  ASSERT_TRUE(f);
  std::mt19937 random(9);
  const std::string good = "F=12.05 kN; x=1.207 mm";
  for (int i = 0; i < 100000; ++i) {
    std::string text = good;
    for (unsigned k = 0, all = 1 + random() % 3; k < all; ++k) {
      const size_t at = random() % text.size();
      if (random() % 3 == 0)
        text.erase(at, 1);
      else if (random() % 2 == 0)
        text[at] = char(random() % 256);
      else
        text.insert(at, 1, char(32 + random() % 95));
      if (text.empty()) break;
    }
    const Reading r = read(*f, text);
    if (!r.good()) continue;
    ASSERT_EQ(r.values.size(), 2u) << text;
    for (const Value& v : r.values) ASSERT_TRUE(std::isfinite(v.value)) << text;
  }
}

}  // namespace
}  // namespace fortitor::line::line_test
