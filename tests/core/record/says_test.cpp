// What machines' files say of themselves, in five languages; and which method they are for.
#include "core/record/says.h"

#include <gtest/gtest.h>

#include "core/bench/propose.h"
#include "core/record/mapping.h"

namespace fortitor::says_test {
namespace {

const char* const kRows = "0;0;0\n0,1;0,5;0,01\n0,2;1,0;0,02\n0,3;1,5;0,03\n0,4;2,0;0,04\n";

MachineFile read(const std::string& text) {
  auto file = machine_file(text);
  EXPECT_TRUE(file) << (file ? "" : file.error().message);
  return file ? *file : MachineFile{};
}

TEST(Says, GermanAndItalianAndFrenchAndSpanish) {
  struct Case {
    const char *head, *piece, *person, *at;
  };
  for (const Case& c : std::initializer_list<Case>{
           {"Bediener;R. Vale\nDatum;24.11.2026\nUhrzeit;14:12:33\nProben-Nr.;B-1\nDurchmesser (mm);10,025\n"
            "Anfangsmesslänge;50;mm\nZeit;Kraft;Weg\ns;kN;mm\n",
            "B-1", "R. Vale", "2026-11-24T14:12:33"},
           {"Operatore;I. Sorg\nData prova;3.12.2026\nProvino;B-1\nDiametro [mm];10,025\nLunghezza iniziale;50 mm\n"
            "Tempo;Forza;Corsa\ns;kN;mm\n",
            "B-1", "I. Sorg", "2026-12-03"},
           {"Opérateur;A. Moor\nDate d'essai;2026-11-24 9:05\nÉprouvette;B-1\nDiamètre (mm);10,025\n"
            "Longueur initiale;50;mm\nTemps;Force;Course\ns;kN;mm\n",
            "B-1", "A. Moor", "2026-11-24T09:05"},
           {"Operador;A. Moor\nFecha;24/11/2026\nProbeta;B-1\nDiámetro (mm);10,025\nLongitud inicial;50 mm\n"
            "Tiempo;Fuerza;Carrera\ns;kN;mm\n",
            "B-1", "A. Moor", "2026-11-24"}}) {
    const FileSays says = file_says(read(std::string(c.head) + kRows));
    EXPECT_EQ(says.piece, c.piece) << c.head;
    EXPECT_EQ(says.operator_name, c.person) << c.head;
    EXPECT_EQ(says.tested_at, c.at) << c.head;
    EXPECT_EQ(says.sizes.at("diameter"), std::vector<std::string>{"10.025 mm"}) << c.head;
    EXPECT_EQ(says.gauge_length, "50 mm") << c.head;
  }
}

TEST(Says, EnglishLinesBehindMarksAndInOneCell) {
  const MachineFile file = read(
      "# Specimen: HB-7\n# Operator: R. Vale\n# Date: 2026-11-24 2:12 PM\n# Width: 12.51 mm\n# Thickness 1: 3.02 mm\n"
      "# Thickness 2: 3.04 mm\n# Test speed: 2.5 mm/min\n# time, load, stroke\n# s, kN, mm\n0,0,0\n0.1,0.5,0.01\n"
      "0.2,1.0,0.02\n0.3,1.5,0.03\n");
  const FileSays says = file_says(file);
  EXPECT_EQ(says.piece, "HB-7");
  EXPECT_EQ(says.operator_name, "R. Vale");
  EXPECT_EQ(says.tested_at, "2026-11-24T14:12");
  EXPECT_EQ(says.sizes.at("width"), std::vector<std::string>{"12.51 mm"});
  EXPECT_EQ(says.sizes.at("thickness"), (std::vector<std::string>{"3.02 mm", "3.04 mm"}));
  EXPECT_EQ(says.rate, "2.5 mm/min");
  const CsvDialect& d = file.blocks[0].table.dialect;
  EXPECT_EQ(d.columns, (std::vector<std::string>{"time", "load", "stroke"})) << "names behind the mark of a comment";
  EXPECT_EQ(d.units, (std::vector<std::string>{"s", "kN", "mm"}));
}

TEST(Says, WhatIsNotCertainIsLeftOut) {
  auto day = [](const std::string& date) {
    return file_says(read("Date;" + date + "\nTime;Force;Ext\ns;kN;mm\n" + kRows)).tested_at;
  };
  EXPECT_EQ(day("11/24/2026"), "2026-11-24");
  EXPECT_EQ(day("24/11/2026"), "2026-11-24");
  EXPECT_EQ(day("3/4/2026"), "") << "April or March by country";
  EXPECT_EQ(day("4/4/2026"), "2026-04-04");
  EXPECT_EQ(day("soon"), "");
  EXPECT_EQ(day("31.2.2026"), "");
  EXPECT_TRUE(file_says(read(std::string("Time;Force;Ext\ns;kN;mm\n") + kRows)).empty());
}

TEST(Says, EachBlockItsOwnPiece) {
  const MachineFile file =
      read(std::string("Operator;R. Vale\nSpecimen;1\nDiameter;10.01;mm\nTime;Load;Ext\ns;kN;mm\n") + kRows +
           "\nSpecimen;2\nDiameter;10.03;mm\nTime;Load;Ext\ns;kN;mm\n" + kRows);
  ASSERT_EQ(file.blocks.size(), 2u);
  EXPECT_EQ(file_says(file, 0).piece, "1");
  EXPECT_EQ(file_says(file, 1).piece, "2");
  EXPECT_EQ(file_says(file, 1).operator_name, "R. Vale") << "stands above all of them";
  EXPECT_EQ(file_says(file, 1).sizes.at("diameter"), std::vector<std::string>{"10.03 mm"});
}

TEST(Says, AClockWithoutAUnitCountsSecondsUnsure) {
  const MachineFile file = read("Time;Force (kN);Ext (mm)\n" + std::string(kRows));
  const auto guesses = guess_channels(file.blocks[0].table.dialect, *methods::find("tension-metal"));
  EXPECT_EQ(guesses.at("time").source.unit, "s");
  EXPECT_FALSE(guesses.at("time").sure);
}

TEST(Propose, TheTitleOrTheColumnsSayWhichMethod) {
  auto proposed = [](const std::string& title, const std::string& names) {
    return propose_method(read(title + "\n" + names + "\n" + kRows)).method->id;
  };
  EXPECT_EQ(proposed("Zugversuch", "Zeit [s];Kraft [kN];Weg [mm]").rfind("tension-", 0), 0u);
  EXPECT_EQ(proposed("Compression test", "Time [s];Force [kN];Crosshead [mm]"), "compression-solid");
  EXPECT_EQ(file_says(read("Largest extension;5 mm\nTime [s];Force [kN];Crosshead [mm]\n" + std::string(kRows))).kind,
            "")
      << "an extension is no tension";
  EXPECT_EQ(proposed("Drop tower", "Time [ms];Force [kN];Remark [mm]").empty(), false);
}

TEST(Propose, SizesGoWhereTheMethodHasThem) {
  EXPECT_EQ(size_path(*methods::find("tension-metal"), "diameter"), "specimen.section.diameter");
  EXPECT_EQ(size_path(*methods::find("flatwise-tension"), "width"), "specimen.width");
  EXPECT_EQ(size_path(*methods::find("hardness-rockwell"), "diameter"), "");
}

}  // namespace
}  // namespace fortitor::says_test
