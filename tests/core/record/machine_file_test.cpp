// Files of machines as they are in the world: what must be found in each, and what is refused with a sentence.
#include "core/record/machine_file.h"

#include <gtest/gtest.h>

#include <cmath>
#include <fstream>
#include <nlohmann/json.hpp>
#include <sstream>

#include "tests/c_text.h"
#include "tests/core/record/machine_blocks.h"

namespace fortitor::machine_file_test {
namespace {

using namespace machine_blocks;

MachineFile read(const std::string& text) {
  auto file = machine_file(text);
  EXPECT_TRUE(file) << (file ? "" : file.error().message);
  return file ? *file : MachineFile{};
}

std::string rows(int n, const std::string& pattern, double scale = 1) {
  // Pattern: {t}, {f} with a point, {t,}, {f,} with a comma.
  std::string out;
  for (int i = 0; i < n; ++i) {
    char t[32], f[32];
    c_snprintf(t, sizeof t, "%.1f", 0.1 * i);
    c_snprintf(f, sizeof f, "%.3f", scale * i * 1.25);
    std::string line = pattern;
    for (const auto& [key, value] :
         {std::pair<std::string, std::string>{"{t}", t}, {"{f}", f}, {"{t,}", t}, {"{f,}", f}}) {
      std::string v = value;
      if (key.find(',') != std::string::npos) std::replace(v.begin(), v.end(), '.', ',');
      for (size_t at = line.find(key); at != std::string::npos; at = line.find(key)) line.replace(at, key.size(), v);
    }
    out += line + "\n";
  }
  return out;
}

TEST(MachineFiles, OfTheReference) {
  std::ifstream in(FORTITOR_TEST_DATA "/import/expected.json");
  const auto all = nlohmann::json::parse(in);
  ASSERT_GT(all.size(), 5u);
  for (const auto& [name, want] : all.items()) {
    const auto file = read_machine_file(FORTITOR_TEST_DATA "/import/" + want["file"].get<std::string>());
    ASSERT_TRUE(file) << name << ": " << file.error().message;
    EXPECT_EQ(file->blocks.size(), want.value("blocks", size_t(1))) << name;
    const SamplesPtr s = samples_of(file->blocks.front());
    EXPECT_EQ(s->size(), want["rows"].get<size_t>()) << name;
    if (want.contains("second_rows")) {
      EXPECT_EQ(file->blocks[1].table.rows(), want["second_rows"].get<size_t>()) << name;
    }
    for (const auto& [c, numbers] : want["channels"].items()) {
      const auto& v = channel(s, c.c_str());
      ASSERT_FALSE(v.empty()) << name << " " << c;
      const double most = *std::max_element(v.begin(), v.end());
      EXPECT_NEAR(v.front(), numbers[0].get<double>(), 1e-4 * std::abs(most)) << name << " " << c;
      EXPECT_NEAR(v.back(), numbers[1].get<double>(), 1e-4 * std::abs(most)) << name << " " << c;
      EXPECT_NEAR(most, numbers[2].get<double>(), 1e-4 * std::abs(most)) << name << " " << c;
    }
  }
}

TEST(MachineFiles, AStatedSeparatorIsTaken) {
  const MachineFile f = read("sep=|\nTime [s]|Force [N]\n" + rows(30, "{t}|{f}"));
  EXPECT_EQ(f.separator, "|");
  EXPECT_EQ(channel(samples_of(f.blocks[0]), "force").size(), 30u);
}

TEST(MachineFiles, UnitsStandInBracketsOfAnyKind) {
  for (const char* head :
       {"Time [s];Force [kN]", "Time (s);Force (kN)", "Time {s};Force {kN}", "Time <s>;Force <kN>", "Time/s;Force/kN",
        "Time / s;Force / kN", "Time in s;Force in kN", "Time s;Force kN", "Time, s;Force, kN", "Time;Force\ns;kN",
        "Time;Force\n[s];[kN]", "Time;Force\n\n(s);(kN)\n"}) {
    const MachineFile f = read(std::string(head) + "\n" + rows(20, "{t};{f}"));
    const SamplesPtr s = samples_of(f.blocks[0]);
    ASSERT_EQ(channel(s, "force").size(), 20u) << head;
    EXPECT_DOUBLE_EQ(channel(s, "force").back(), 19 * 1250.0) << head;
    EXPECT_NEAR(channel(s, "time").back(), 1.9, 1e-12) << head;
  }
  const MachineFile stress = read("Time s;Stress N/mm²\n" + rows(20, "{t};{f}"));
  EXPECT_EQ(stress.blocks[0].table.dialect.units[1], "N/mm²");
  EXPECT_EQ(stress.blocks[0].table.dialect.columns[1], "Stress");
}

TEST(MachineFiles, GroupsOfThreeAreNoDecimals) {
  const MachineFile us =
      read("Time (s)\tLoad (N)\n0.0\t0.0\n0.1\t999.5\n0.2\t1,234.5\n0.3\t12,345.0\n0.4\t1,234,567.5\n");
  EXPECT_DOUBLE_EQ(channel(samples_of(us.blocks[0]), "force")[3], 12345);
  const MachineFile de = read("Zeit (s);Kraft (N)\n0,0;0,0\n0,1;999,5\n0,2;1.234,5\n0,3;12.345,0\n");
  EXPECT_DOUBLE_EQ(channel(samples_of(de.blocks[0]), "force")[3], 12345);
  const MachineFile ch = read("Zeit (s);Kraft (N)\n0.0;0.0\n0.1;999.5\n0.2;1'234.5\n0.3;12'345.0\n");
  EXPECT_DOUBLE_EQ(channel(samples_of(ch.blocks[0]), "force")[3], 12345);
}

TEST(MachineFiles, AClockRunsOverMidnightAndKeepsItsDate) {
  const MachineFile f = read(
      "Date;Time;Force [N]\n23.11.2026;23:59:59.0;1\n23.11.2026;23:59:59.5;2\n24.11.2026;00:00:00.0;3\n"
      "24.11.2026;00:00:00.5;4\n");
  const SamplesPtr s = samples_of(f.blocks[0]);
  EXPECT_EQ(channel(s, "time"), (std::vector<double>{0, 0.5, 1, 1.5}));
  EXPECT_EQ(channel(s, "force"), (std::vector<double>{1, 2, 3, 4}));
  const MachineFile joined = read("Time;Force [N]\n2026-11-23 23:59:59.0,5\n2026-11-23 23:59:59.5,6\n");
  (void)joined;
}

TEST(MachineFiles, PreamblesTextColumnsAndBlankCells) {
  const MachineFile f = read(
      "Tarnfell test bench\nOperator: R. Vale\nWidth;12.5;mm\nArea;100;mm²\n\nNo;Remark;Time [s];Force [N]\n"
      "1;;0.0;\n2;zero set;0.1;1.5\n3;;0.2;3\n4;;;4.5\n5;hold;0.4;6\n");
  const SamplesPtr s = samples_of(f.blocks[0]);
  EXPECT_EQ(s->size(), 5u);
  EXPECT_TRUE(std::isnan(channel(s, "force")[0]));
  EXPECT_TRUE(std::isnan(channel(s, "time")[3]));
  EXPECT_DOUBLE_EQ(channel(s, "force")[4], 6);
}

TEST(MachineFiles, AlignedColumns) {
  std::string text = "     Time s    Load cell kN    Position mm\n";
  for (int i = 0; i < 12; ++i) {
    char line[80];
    c_snprintf(line, sizeof line, "%10.2f %14.3f %14.4f\n", 0.1 * i, 0.5 * i, 0.01 * i);
    text += line;
  }
  const MachineFile f = read(text);
  EXPECT_EQ(f.separator, "blanks");
  const SamplesPtr s = samples_of(f.blocks[0]);
  EXPECT_DOUBLE_EQ(channel(s, "force").back(), 5500);
  EXPECT_NEAR(channel(s, "crosshead").back(), 0.11, 1e-12);
}

// Blanks that part thousands part no columns where a mark does; where none does they still may.
TEST(MachineFiles, BlanksInsideNumbersPartNothingWhereAMarkDoes) {
  std::string grouped = "Event\tTime (s)\tLoad (N)\tExtension (µm)\n", mixed = "Time s\tLoad N   Position mm\tExt mm\n";
  for (int i = 0; i < 12; ++i) {
    char line[80];
    c_snprintf(line, sizeof line, "%s\t%d,0\t%d 396,2\t%d 400,7\n", i == 3 ? "Start" : "", i, i + 1, i + 2);
    grouped += line;
    c_snprintf(line, sizeof line, "%.1f\t%.2f   %.3f\t%.3f\n", 0.1 * i, 5.0 * i, 0.2 * i, 0.01 * i);
    mixed += line;
  }
  const MachineFile f = read(grouped);
  EXPECT_EQ(f.separator, "tab");
  ASSERT_EQ(f.blocks.size(), 1u);
  const SamplesPtr s = samples_of(f.blocks[0]);
  EXPECT_DOUBLE_EQ(channel(s, "force").back(), 12396.2);
  EXPECT_NEAR(channel(s, "extension").back(), 13.4007, 1e-12);
  const MachineFile m = read(mixed);
  EXPECT_EQ(m.separator, "blanks");
  EXPECT_EQ(m.blocks[0].table.columns.size(), 4u);
}

TEST(MachineFiles, SummariesBehindTheNumbersAreSaidAndLeftOut) {
  const MachineFile f = read("Time [s],Force [N]\n" + rows(200, "{t},{f}") +
                             "\nMaximum,248.75\nBreak,240\nMean of 3,241\nsigned: R. Vale\n");
  ASSERT_EQ(f.blocks.size(), 1u);
  EXPECT_EQ(f.blocks[0].table.rows(), 200u);
  ASSERT_EQ(f.notes.size(), 1u);
  EXPECT_NE(f.notes[0].find("4 lines"), std::string::npos) << f.notes[0];
  const MachineFile table = read("Time [s];Force [N]\n" + rows(300, "{t};{f}") +
                                 "\nResults\nNo;Rm;A\n1;523.4;23.1\n2;519.8;22.9\n3;521.0;23.0\n");
  EXPECT_EQ(table.blocks.size(), 1u) << "a small table beside 300 readings is a summary";
}

TEST(MachineFiles, SpecimensUnderOneAnother) {
  std::string text = "Series of bars\n";
  for (int k = 1; k <= 3; ++k)
    text += "\nSpecimen: " + std::to_string(k) + "\nTime;Load\ns;kN\n" + rows(40 + k, "{t};{f}", k);
  const MachineFile f = read(text);
  ASSERT_EQ(f.blocks.size(), 3u);
  for (size_t k = 0; k < 3; ++k) {
    EXPECT_EQ(f.blocks[k].title, "Specimen: " + std::to_string(k + 1));
    EXPECT_EQ(f.blocks[k].table.rows(), 41 + k);
    EXPECT_NEAR(channel(samples_of(f.blocks[k]), "force").back(), double(k + 1) * 1250 * double(40 + k), 1e-6);
  }
  // Without names of their own the later ones take those of the first.
  const MachineFile bare = read("Time [s];Load [kN]\n" + rows(30, "{t};{f}") + "\nSpecimen 2\n" + rows(25, "{t};{f}"));
  ASSERT_EQ(bare.blocks.size(), 2u);
  EXPECT_EQ(bare.blocks[1].table.dialect.columns[1], "Load");
  EXPECT_EQ(bare.blocks[1].table.dialect.units[1], "kN");
}

TEST(MachineFiles, RowsInAnotherSpellingAboveThePlainOnesAreNotTakenForAHeader) {
  std::string text = "Specimen 1\nTime [s];Force [N]\n";
  for (int i = 0; i < 60; ++i) text += std::to_string(i) + ".0;1'" + std::to_string(200 + i) + ".5\n";
  text += "Specimen 2\nTime [s];Force [N]\n" + rows(80, "{t};{f}");
  const std::string path = testing::TempDir() + "fortitor-spelled.csv";
  std::ofstream(path, std::ios::binary) << text;
  const auto file = read_machine_file(path);
  ASSERT_TRUE(file) << file.error().message;
  ASSERT_EQ(file->blocks.size(), 2u) << "none of the two may be lost";
  EXPECT_EQ(file->blocks[0].table.rows(), 60u);
  EXPECT_FALSE(read_csv(path)) << "the reader of plain tables passes it on";
}

TEST(MachineFiles, SpecimensBesideOneAnother) {
  std::string text = "Time [s];Force [N];Time [s];Force [N]\n";
  for (int i = 0; i < 30; ++i) {
    text += std::to_string(i) + ";" + std::to_string(10 * i) + ";";
    text += i < 20 ? std::to_string(i) + ";" + std::to_string(7 * i) + "\n" : ";\n";
  }
  const MachineFile f = read(text);
  ASSERT_EQ(f.blocks.size(), 2u);
  EXPECT_EQ(f.blocks[0].table.rows(), 30u);
  EXPECT_EQ(f.blocks[1].table.rows(), 20u);
  EXPECT_DOUBLE_EQ(channel(samples_of(f.blocks[1]), "force").back(), 133);
}

TEST(MachineFiles, GaugesOfOneNameAreNoSpecimens) {
  for (const char* head : {"Gauge;Gauge;Gauge;Gauge", "Strain (1);Strain (2);Strain (3);Strain (4)"}) {
    std::string text = std::string(head) + "\n";
    for (int i = 0; i < 20; ++i) text += "1;2;3;" + std::to_string(i) + "\n";
    const MachineFile f = read(text);
    ASSERT_EQ(f.blocks.size(), 1u) << head;
    EXPECT_EQ(f.blocks[0].table.columns.size(), 4u) << head;
  }
}

TEST(MachineFiles, ARowWithACellTooManyIsNeverPassedOver) {
  for (const char* behind : {"", "3.0;4.0\n3.1;4.1\n3.2;4.2\n3.3;4.3\n"}) {
    const auto file = machine_file("Time [s];Force [N]\n" + rows(30, "{t};{f}") + "3.0;4;0\n" + behind);
    ASSERT_FALSE(file);
    EXPECT_NE(file.error().message.find("line 32: the row has 3 cells where 2 were expected"), std::string::npos)
        << file.error().message;
  }
}

TEST(MachineFiles, AWordAmongTheNumbersIsNeverPassedOver) {
  const auto file = machine_file("Time [s];Force [N]\n" + rows(30, "{t};{f}") + "3.0;4o.0\n" + rows(30, "{t};{f}"));
  ASSERT_FALSE(file);
  EXPECT_NE(file.error().message.find("line 32, column 2: “4o.0” is not a number"), std::string::npos)
      << file.error().message;
  const auto at_end = machine_file("t,F\ns,kN\n0,1\n1,2\n2,3\n3,drei\n");
  ASSERT_FALSE(at_end);
  EXPECT_NE(at_end.error().message.find("line 6, column 2"), std::string::npos);
  EXPECT_TRUE(machine_file("t,F\ns,kN\n0,1\n1,2\n2,3\nmost,3\n")) << "a line that begins with a word is a summary";
}

TEST(MachineFiles, HeadersInFiveLanguages) {
  for (const auto& [head, wanted] :
       {std::pair{"Time (s);Load (N);Extension (mm);Crosshead (mm)", "time force extension crosshead"},
        {"Zeit (s);Prüfkraft (N);Feindehnung (mm);Traversenweg (mm)", "time force extension crosshead"},
        {"Zeit (s);Kraft (N);Ansetzaufnehmer (mm);Kolbenweg (mm)", "time force extension crosshead"},
        {"Tempo (s);Forza (N);Estensimetro (mm);Corsa traversa (mm)", "time force extension crosshead"},
        {"Temps (s);Charge (N);Extensomètre (mm);Déplacement traverse (mm)", "time force extension crosshead"},
        {"Tiempo (s);Fuerza (N);Extensómetro (mm);Desplazamiento (mm)", "time force extension crosshead"},
        {"Tiempo (s);Carga (N);Deformación (%);Recorrido (mm)", "time force strain crosshead"},
        {"Temps (s);Effort (N);Allongement (mm);Course (mm)", "time force extension crosshead"},
        {"Tempo (s);Carico (N);Allungamento (mm);Spostamento (mm)", "time force extension crosshead"},
        {"Time (s);Force (N);Strain 1 (%);Stroke (mm)", "time force strain crosshead"}}) {
    std::string text = std::string(head) + "\n";
    for (int i = 0; i < 10; ++i)
      text += std::to_string(i) + ";" + std::to_string(2 * i) + ";" + std::to_string(3 * i) + ";" +
              std::to_string(4 * i) + "\n";
    const SamplesPtr s = samples_of(read(text).blocks[0]);
    std::istringstream names(wanted);
    int factor = 1;
    for (std::string name; names >> name; ++factor) {
      const auto& v = channel(s, name.c_str());
      ASSERT_EQ(v.size(), 10u) << head << " " << name;
      const double percent = name == "strain" ? 0.01 : 1;
      EXPECT_NEAR(v.back(), 9.0 * factor * percent, 1e-9) << head << " " << name;
    }
  }
}

TEST(MachineFiles, GuessesSayHowSureTheyAre) {
  const MachineFile f = read("Time [s];Ch1 [kN];Load\n" + [] {
    std::string t;
    for (int i = 0; i < 10; ++i) t += std::to_string(i) + ";" + std::to_string(i) + ";" + std::to_string(i) + "\n";
    return t;
  }());
  const auto g = guess_channels(f.blocks[0].table.dialect, metal());
  EXPECT_TRUE(g.at("time").sure);
  EXPECT_EQ(g.at("force").source.column, "Load");
  EXPECT_FALSE(g.at("force").sure) << "a name without a unit";
}

// A column of another quantity in a unit of a channel is left out, not taken for it.
TEST(MachineFiles, WhatStandsBesideATestIsNoChannelOfIt) {
  for (const char* beside :
       {"Humidity (%)", "Hr, %", "Rel. Feuchte [%]", "Umidità (%)", "Battery %", "Ch7 (%)", "Width (mm)",
        "Sollwert (mm)", "Épaisseur (mm)", "Diámetro (mm)", "Temperature (°C)", "T2 (°C)"}) {
    std::string text = std::string("Time (s);Force (kN);Extension (mm);") + beside + "\n";
    for (int i = 0; i < 10; ++i) {
      const std::string n = std::to_string(i);
      text.append(n).append(";").append(n).append(";").append(n).append(";45\n");
    }
    EXPECT_EQ(samples_of(read(text).blocks[0])->channels.size(), 3u) << beside;
  }
  EXPECT_EQ(read("Load, kN;Time, s\n1;0\n2;1\n3;2\n").blocks[0].table.dialect.columns[0], "Load");
  // What was asked of the machine stands before what it did, and is not taken for it.
  for (const auto& [asked, did] : {std::pair{"Sollkraft (kN)", "Kraft (kN)"},
                                   {"Force setpoint (kN)", "Force (kN)"},
                                   {"Consigne force (kN)", "Force (kN)"},
                                   {"Load command (kN)", "Load (kN)"}}) {
    std::string text = std::string(asked) + ";" + did + ";Sollweg (mm);Time (s)\n";
    for (int i = 0; i < 10; ++i) text += "7;" + std::to_string(i) + ";3;" + std::to_string(i) + "\n";
    const auto map = guess_mapping(read(text).blocks[0].table.dialect, metal());
    ASSERT_EQ(map.count("force"), 1u) << asked;
    EXPECT_EQ(map.at("force").column + " (kN)", did);
    EXPECT_EQ(map.count("crosshead"), 0u);
  }
  // Where nothing else tells, the unit does, and says that it is a guess.
  std::string text = "Time (s);Kracht (kN);Ch7 (%);Ch8 (mm)\n";
  for (int i = 0; i < 10; ++i) text += "1;2;3;4\n";
  const auto g = guess_channels(read(text).blocks[0].table.dialect, metal());
  ASSERT_EQ(g.count("strain") + g.count("crosshead") + g.count("force"), 3u);
  EXPECT_FALSE(g.at("strain").sure || g.at("crosshead").sure || g.at("force").sure);
}

TEST(MachineFiles, NothingToReadIsASentence) {
  for (const char* text : {"", "\n\n", "only words\nand more\n", "a;b;c\nd;e;f\n"})
    EXPECT_FALSE(machine_file(text)) << text;
  EXPECT_FALSE(read_machine_file("/no/such/file.csv"));
  EXPECT_FALSE(workbook_text("PK\x03\x04 and nothing more"));
  int asked = 0;
  const auto stopped = machine_file("Zeit;Kraft\n" + rows(30, "{t,};{f,}"), [&](double) { return ++asked > 5; });
  EXPECT_FALSE(stopped);
}

}  // namespace
}  // namespace fortitor::machine_file_test
