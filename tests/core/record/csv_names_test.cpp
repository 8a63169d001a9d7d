// Columns of one name are told apart, in file and mapping.
#include <gtest/gtest.h>

#include "core/methods/method.h"
#include "core/record/csv.h"
#include "core/record/mapping.h"

namespace fortitor::csv_names_test {
namespace {

TEST(CsvNames, TheSecondOfANameIsNumbered) {
  const auto t = parse_csv("t,F,F,e,F\ns,kN,N,mm,kN\n0,1,1000,0,9\n1,2,2000,1,9\n");
  ASSERT_TRUE(t) << t.error().message;
  EXPECT_EQ(t->dialect.columns, (std::vector<std::string>{"t", "F", "F (2)", "e", "F (3)"}));
  const Schema& metal = *methods::find("tension-metal");
  for (const auto& [name, unit] : {std::pair{"F", "kN"}, {"F (2)", "N"}}) {
    const auto s = samples_from_table(*t, {{"time", {"t", ""}}, {"force", {name, unit}}}, metal);
    ASSERT_TRUE(s) << s.error().message;
    EXPECT_EQ((*s)->find("force")->values[1], 2000) << name << ": data and unit of one and the same column";
  }
}

TEST(CsvNames, NamesWithUnitsInThemAreToldApartToo) {
  const auto d = sniff_csv("Load [kN],Load [kN],t\n1,2,0\n3,4,1\n");
  ASSERT_TRUE(d);
  EXPECT_EQ(d->columns[0], "Load");
  EXPECT_EQ(d->columns[1], "Load (2)");
  EXPECT_EQ(d->units[1], "kN");
}

}  // namespace
}  // namespace fortitor::csv_names_test
