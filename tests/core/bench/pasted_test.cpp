// Tables of readings as people paste them: what they say is known by who wrote them here.
#include "core/bench/pasted.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <random>

#include "core/methods/method.h"
#include "core/quantity/plain.h"

namespace fortitor::pasted_test {
namespace {

const TableSpec& table_of(const char* method) {
  return *methods::find(method)->keyed_table();
}

std::string uses(const char* text, const TableSpec& table) {
  const auto pasted = read_pasted(text);
  if (!pasted) return pasted.error().message;
  std::string out;
  for (const PastedUse& u : guess_use(*pasted, table)) out += u.column + (u.unit.empty() ? "" : " " + u.unit) + ";";
  return out;
}

TEST(Pasted, CellsArePartedAsSpreadsheetsPartThem) {
  const auto n = [](const char* text) {
    const auto t = read_pasted(text);
    return t ? std::to_string(t->names.size()) + "x" + std::to_string(t->cells.size()) : t.error().message;
  };
  EXPECT_EQ(n("100\t0.21\n200\t0.43\n"), "2x2");
  EXPECT_EQ(n("100;0,21\r\n200;0,43\r\n"), "2x2");
  EXPECT_EQ(n("100,0.21\n200,0.43"), "2x2");
  EXPECT_EQ(n("43,2\n44,1\n43,9"), "1x3") << "decimal commas part nothing";
  EXPECT_EQ(n("62.9\n\n63.1\n"), "1x2");
  EXPECT_EQ(n("Load (N)\tDial\n100\t0.21\n"), "2x1");
  EXPECT_EQ(n("Load\tDial\nN\tmm\n100\t0.21\n"), "2x1");
  EXPECT_EQ(n(" \n"), "There is nothing to paste.");
}

TEST(Pasted, ColumnsAreFoundByNameSymbolAndUnit) {
  const TableSpec& bending = table_of("flexure-beam");
  ASSERT_TRUE(bending.control);
  const std::string load = bending.control->path, dial = bending.columns[0].path;
  EXPECT_EQ(uses("Last (N);Durchbiegung (mm)\n100;0,21\n200;0,43", bending), load + " N;" + dial + " mm;");
  EXPECT_EQ(uses("Deflection [mm],Load [kN],Remark\n0.21,0.1,a\n0.43,0.2,b", bending), dial + " mm;" + load + " kN;;");
  EXPECT_EQ(uses("a;b\n100;0.21\n200;0.43", bending), ";;") << "a letter is no name";
  EXPECT_EQ(uses("100\t0.21\n200\t0.43", bending), load + ";" + dial + ";") << "in the order of work";
}

TEST(Pasted, RowsAreWhatWouldHaveBeenKeyed) {
  const TableSpec& bending = table_of("flexure-beam");
  const auto pasted = read_pasted("Load (kN)\tDeflection (mm)\n0.1\t0,21\n0.2\tmissed\n0.3\t0.65 mm\n\t\n");
  ASSERT_TRUE(pasted);
  const auto rows = rows_of(*pasted, guess_use(*pasted, bending), bending, UnitSet::si);
  ASSERT_TRUE(rows) << rows.error().message;
  ASSERT_EQ(rows->size(), 3u);
  EXPECT_NEAR((*rows)[0].number(bending.control->path).value(), 100, 1e-9);
  EXPECT_NEAR((*rows)[0].number(bending.columns[0].path).value(), 0.21, 1e-12);
  EXPECT_FALSE((*rows)[1].number(bending.columns[0].path).has_value());
  EXPECT_NEAR((*rows)[2].number(bending.columns[0].path).value(), 0.65, 1e-12);
}

TEST(Pasted, SeveralColumnsFillOneListOfReadings) {
  for (const Method* m : methods::all()) {
    const TableSpec* t = m->keyed_table();
    if (t == nullptr || t->columns.empty() || t->columns[0].kind != FieldKind::readings) continue;
    const FieldSpec& c = t->columns[0];
    const std::vector<PastedUse> use = {{c.path, {}}, {c.path, {}}};
    PastedTable two;
    two.names = two.units = {"", ""};
    two.cells = {{"41.2", "41.6"}, {"40.9", "41.1"}};
    const auto rows = rows_of(two, use, *t, UnitSet::si);
    ASSERT_TRUE(rows) << m->id << ": " << rows.error().message;
    ASSERT_EQ((*rows)[0].cells.readings(c.path).size(), 2u) << m->id;
  }
}

TEST(Pasted, WhatCannotBeReadNamesItsRowAndColumn) {
  const TableSpec& bending = table_of("flexure-beam");
  const auto pasted = read_pasted("Load (N)\tDeflection (mm)\n100\t0.21\n200\t0.4.3\n");
  ASSERT_TRUE(pasted);
  const auto rows = rows_of(*pasted, guess_use(*pasted, bending), bending, UnitSet::si);
  ASSERT_FALSE(rows);
  EXPECT_NE(rows.error().message.find("Row 2, Deflection"), std::string::npos) << rows.error().message;
  EXPECT_FALSE(rows_of(*pasted, {{}, {}}, bending, UnitSet::si));
  const std::string dial = bending.columns[0].path;
  ASSERT_NE(bending.columns[0].kind, FieldKind::readings);
  EXPECT_FALSE(rows_of(*pasted, {{dial, ""}, {dial, ""}}, bending, UnitSet::si));
}

TEST(Pasted, OneColumnAloneIsWhatIsRead) {
  for (const Method* m : methods::all()) {
    const TableSpec* t = m->keyed_table();
    if (t == nullptr) continue;
    const std::string use = uses("43.1\n43.4\n42.9", *t);
    EXPECT_TRUE(!t->control || use != t->control->path + ";") << m->id;
    EXPECT_NE(use, ";") << m->id;
  }
}

TEST(Pasted, ATickIsATickInAnyLanguage) {
  const TableSpec& points = table_of("fatigue-constant");
  const auto pasted = read_pasted("stress range (MPa);cycles;run-out\n120;1200000;\n80;10000000;ja\n");
  ASSERT_TRUE(pasted);
  const auto rows = rows_of(*pasted, guess_use(*pasted, points), points, UnitSet::si);
  ASSERT_TRUE(rows) << rows.error().message;
  EXPECT_NEAR((*rows)[0].number("range").value(), 120, 1e-9);
  EXPECT_NEAR((*rows)[1].number("cycles").value(), 1e7, 1e-3);
  EXPECT_FALSE((*rows)[0].has("runout"));
  EXPECT_TRUE((*rows)[1].has("runout"));
}

TEST(Pasted, WhatIsNeitherYesNorNoIsAskedBack) {
  const TableSpec& points = table_of("fatigue-constant");
  const auto ticked = [&](const char* cell) {
    const auto pasted = read_pasted(std::string("stress range (MPa);cycles;run-out\n80;10000000;") + cell + "\n");
    const auto rows = rows_of(*pasted, guess_use(*pasted, points), points, UnitSet::si);
    return !rows ? std::string("asked back") : (*rows)[0].has("runout") ? "ran out" : "broke";
  };
  for (const char* yes : {"x", "yes", "ja", "Oui", "1", "run-out", "RUN-OUT"}) EXPECT_EQ(ticked(yes), "ran out") << yes;
  for (const char* no : {"no", "nein", "0", "-", ""}) EXPECT_EQ(ticked(no), "broke") << no;
  for (const char* other : {"→", "survived", "DL"}) EXPECT_EQ(ticked(other), "asked back") << other;
}

// Tables as people would write them, from numbers that are known: other separators, decimal marks, units, orders of
// columns, missed cells, further columns. What is read is what was written, or it is asked back; never another number.
TEST(Pasted, AThousandTablesGiveWhatWasWrittenOrAreAskedBack) {
  const TableSpec& t = table_of("flexure-beam");
  std::mt19937 random(7);
  const auto one_of = [&](size_t n) { return size_t(random() % n); };
  const std::pair<const char*, double> loads[] = {{"N", 1}, {"kN", 1e3}, {"lbf", 4.4482216152605}};
  const std::pair<const char*, double> dials[] = {{"mm", 1}, {"µm", 1e-3}, {"in", 25.4}};
  const char* load_names[] = {"Load", "Last", "Force", "Carico", "Charge", "Carga", "LOAD"};
  const char* dial_names[] = {"Deflection", "Durchbiegung", "Freccia", "flèche", "Dial gauge"};
  int read = 0;
  for (int trial = 0; trial < 1000; ++trial) {
    const auto [lu, lf] = loads[one_of(3)];
    const auto [du, df] = dials[one_of(3)];
    const char separator = "\t;,"[one_of(3)];
    const bool comma = separator != ',' && one_of(2) == 0, swapped = one_of(2) == 0, more = one_of(3) == 0;
    const int units_in = int(one_of(3));  // in the name, in a line of their own, in every cell
    const auto cell = [&](double v, const char* unit) {
      std::string c = plain::general(v, 6);
      if (comma) std::replace(c.begin(), c.end(), '.', ',');
      return units_in == 2 ? c + " " + unit : c;
    };
    const auto line = [&](std::string a, std::string b, const std::string& c) {
      if (swapped) std::swap(a, b);
      return a + separator + b + (more ? separator + c : std::string()) + "\n";
    };
    const auto head = [&](const char* name, const char* unit) {
      return units_in == 0 ? std::string(name) + " (" + unit + ")" : std::string(name);
    };
    std::string text = line(head(load_names[one_of(7)], lu), head(dial_names[one_of(5)], du), "Remark");
    if (units_in == 1) text += line(lu, du, "");
    std::vector<std::pair<double, std::optional<double>>> truth;
    for (int r = 0, n = 1 + int(one_of(8)); r < n; ++r) {
      const double load = (r + 1) * 12.5, dial = 0.05 + 0.37 * r;
      const bool missed = one_of(6) == 0;
      text += line(cell(load, lu), missed ? "missed" : cell(dial, du), "ok");
      truth.push_back({load * lf, missed ? std::nullopt : std::optional(dial * df)});
    }
    const auto pasted = read_pasted(text);
    ASSERT_TRUE(pasted) << text;
    const auto rows = rows_of(*pasted, guess_use(*pasted, t), t, UnitSet::si);
    if (!rows) continue;
    ++read;
    ASSERT_EQ(rows->size(), truth.size()) << text;
    for (size_t r = 0; r < truth.size(); ++r) {
      ASSERT_TRUE((*rows)[r].number(t.control->path)) << text;
      EXPECT_NEAR(*(*rows)[r].number(t.control->path), truth[r].first, 1e-6 * truth[r].first) << text;
      const auto dial = (*rows)[r].number(t.columns[0].path);
      ASSERT_EQ(dial.has_value(), truth[r].second.has_value()) << text;
      if (dial) {
        EXPECT_NEAR(*dial, *truth[r].second, 1e-6 * *truth[r].second) << text;
      }
    }
  }
  EXPECT_GT(read, 950) << "too much is asked back";
}

}  // namespace
}  // namespace fortitor::pasted_test
