// Numbers and letters that no locale changes.
#include "core/quantity/plain.h"

#include <gtest/gtest.h>

#include <clocale>
#include <cmath>
#include <limits>
#include <random>

#include "core/bench/records.h"
#include "core/evaluation/evaluation_json.h"
#include "core/methods/method.h"
#include "core/quantity/format.h"
#include "core/quantity/parse.h"
#include "core/standin/benches.h"
#include "core/standin/tension_bench.h"

namespace fortitor::plain_test {
namespace {

// Puts a locale on for as long as it lives; false where the machine does not have it.
class Locale {
 public:
  explicit Locale(const char* name)
      : before_(std::setlocale(LC_ALL, nullptr)), there_(std::setlocale(LC_ALL, name) != nullptr) {}
  ~Locale() { std::setlocale(LC_ALL, before_.c_str()); }
  explicit operator bool() const { return there_; }

 private:
  std::string before_;
  bool there_;
};

constexpr const char* kLocales[] = {"de_DE.UTF-8", "it_IT.UTF-8", "tr_TR.UTF-8"};

TEST(Plain, NumbersAreReadWhole) {
  EXPECT_EQ(plain::number("1.5"), 1.5);
  EXPECT_EQ(plain::number(" +2e3 "), 2000);
  EXPECT_EQ(plain::number("-.5"), -0.5);
  EXPECT_EQ(plain::whole("007"), 7);
  for (const char* no : {"", " ", "1,5", "1.5 mm", "+-3", "+", "e5", "0x10", "1e999", "--1"})
    EXPECT_FALSE(plain::number(no)) << no;
  for (const char* no : {"", "1.0", "99999999999999999999", "one"}) EXPECT_FALSE(plain::whole(no)) << no;
  std::string_view rest = " 2.5 mm";
  EXPECT_EQ(plain::take_number(rest), 2.5);
  EXPECT_EQ(rest, " mm");
  EXPECT_FALSE(plain::take_number(rest));
  EXPECT_EQ(rest, "mm") << "blanks alone are gone";
}

TEST(Plain, WritesWhatCWrites) {
  std::mt19937_64 random(7);
  std::uniform_real_distribution<double> mantissa(-10, 10);
  std::uniform_int_distribution<int> exponent(-300, 300), digits(1, 17), places(0, 20);
  char buffer[512];
  ASSERT_NE(std::setlocale(LC_NUMERIC, "C"), nullptr);
  for (int i = 0; i < 3000; ++i) {
    const double v = mantissa(random) * std::pow(10.0, exponent(random));
    const int d = digits(random), p = places(random);
    std::snprintf(buffer, sizeof buffer, "%.*g", d, v);
    EXPECT_EQ(plain::general(v, d), buffer);
    if (std::abs(v) < 1e20) {
      std::snprintf(buffer, sizeof buffer, "%.*f", p, v);
      EXPECT_EQ(plain::fixed(v, p), buffer);
    }
    EXPECT_EQ(plain::number(plain::shortest(v)), v);
  }
  EXPECT_EQ(plain::fixed(std::numeric_limits<double>::max(), 0).size(), 309u);
  EXPECT_EQ(plain::padded(7, 2), "07");
  EXPECT_EQ(plain::padded(-7, 3), "-007");
  EXPECT_EQ(plain::padded(1234, 2), "1234");
}

TEST(Plain, LettersAreThoseOfEnglish) {
  EXPECT_EQ(plain::lower("IZOD Ü"), "izod Ü");
  EXPECT_EQ(plain::upper('i'), 'I');
  for (int c = -128; c < 128; ++c) {
    EXPECT_EQ(plain::is_digit(char(c)), c >= '0' && c <= '9');
    EXPECT_FALSE(c < 0 && (plain::is_letter(char(c)) || plain::is_space(char(c))))
        << "a byte of a longer letter is none";
  }
}

// The same numbers, typed, computed and written, whatever locale an application has set.
TEST(Plain, NoLocaleMovesANumber) {
  struct Said {
    std::string record, evaluation, typed, methods;
    bool operator==(const Said&) const = default;
  };
  const auto said = [] {
    Said s;
    const TestRecord r = standin::simulate_tension({.seed = 5});
    s.record = record_to_json(r);
    const auto back = record_from_json(s.record);
    s.evaluation = back ? evaluation_to_json(methods::evaluate(*back), back->fields, 1) : back.error().message;
    for (const char* typed : {"12.5 mm", "12,5 mm", "2 5/8 in", "1e-3 m", "IZOD"}) {
      const auto q = parse_quantity(typed, Dimension::length);
      s.typed += (q ? fixed(q->value, 6) + " " + significant(q->value, 4) : q.error().message) + "\n";
    }
    for (const Method* m : methods::all()) {
      standin::SimulateOptions options;
      options.method = m->id;
      const TestRecord piece = standin::find_bench(m->standin)->simulate(options);
      s.methods += evaluation_to_json(methods::evaluate(piece), piece.fields, -1);
    }
    return s;
  };
  std::setlocale(LC_ALL, "C");
  const Said usual = said();
  ASSERT_NE(usual.evaluation.find("\"rm\""), std::string::npos);
  int tried = 0;
  for (const char* name : kLocales)
    if (const Locale other{name}) {
      ++tried;
      EXPECT_TRUE(said() == usual) << name;
    }
  if (tried == 0) GTEST_SKIP() << "scripts/setup makes de_DE, it_IT and tr_TR";
}

}  // namespace
}  // namespace fortitor::plain_test
