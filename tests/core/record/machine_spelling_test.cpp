// The same three columns in every spelling that was seen: whatever the separator, the marks, the units' place, the
// language, what stands before, between and behind, the same numbers come out.
#include <gtest/gtest.h>

#include <cmath>
#include <fstream>
#include <functional>
#include <random>

#include "core/methods/method.h"
#include "core/record/machine_file.h"
#include "core/record/mapping.h"
#include "tests/c_text.h"

namespace fortitor::machine_spelling_test {
namespace {

struct Spelling {
  char separator, decimal, group;
  int units;  ///< 0 [ ], 1 ( ), 2 { }, 3 own row, 4 own row in brackets, 5 slash, 6 "in"
  size_t language;
  bool clock, quotes, remarks, preamble, summary, returns, temperature;
  int specimens;
};

const std::vector<std::vector<std::string>> kNames = {{"Time", "Load", "Extension"},
                                                      {"Zeit", "Prüfkraft", "Längenänderung"},
                                                      {"Tempo", "Carico", "Allungamento"},
                                                      {"Temps", "Force", "Extensomètre"},
                                                      {"Tiempo", "Fuerza", "Alargamiento"}};

std::string number(double v, int places, const Spelling& s) {
  char text[48];
  c_snprintf(text, sizeof text, "%.*f", places, v);
  std::string out(text);
  const size_t point = out.find('.');
  out[point] = s.decimal;
  if (s.group != 0)
    for (size_t at = point; at > 3; at -= 3) out.insert(at - 3, 1, s.group);
  return out;
}

struct Truth {
  std::vector<double> time, force, extension;  ///< s, N, mm
};

std::string written(const Spelling& s, std::mt19937& random, std::vector<Truth>& truths) {
  const std::string nl = s.returns ? "\r\n" : "\n", sep = s.separator == ' ' ? "   " : std::string(1, s.separator);
  std::string out;
  auto line = [&](std::vector<std::string> cells, bool quoted) {
    for (size_t i = 0; i < cells.size(); ++i)
      out += (i > 0 ? sep : "") + (quoted && s.quotes ? "\"" + cells[i] + "\"" : cells[i]);
    out += nl;
  };
  if (s.preamble) {
    line({"Bench", "4"}, false);
    line({"Width", number(12.5, 1, s), "mm"}, false);
    out += nl;
  }
  for (int k = 1; k <= s.specimens; ++k) {
    if (s.specimens > 1) line({"Specimen", std::to_string(k)}, false);
    std::vector<std::string> names = kNames[s.language], units = {s.clock ? "h:min:s" : "s", "kN", "mm"}, row;
    for (size_t i = 0; i < 3; ++i) {
      const std::string& u = units[i];
      const std::string with[] = {" [" + u + "]", " (" + u + ")", " {" + u + "}", "", "", "/" + u, " in " + u};
      row.push_back(s.units == 4 ? "(" + u + ")" : u);
      names[i] += with[s.units];
    }
    if (s.remarks) {
      names.insert(names.begin() + 1, "Remark");
      row.insert(row.begin() + 1, "");
    }
    if (s.temperature) {
      names.push_back("Temp");
      names.back() += std::vector<std::string>{" [°C]", " (°C)", " {°C}", "", "", "/°C", " in °C"}[size_t(s.units)];
      row.push_back(s.units == 4 ? "(°C)" : "°C");
    }
    line(names, true);
    if (s.units == 3 || s.units == 4) line(row, true);
    Truth t;
    const int n = 30 + int(random() % 80);
    const double top = (random() % 2 ? 2.5e6 : 900.0);
    for (int i = 0; i < n; ++i) {
      const double time = 0.1 * i, force = top * (1 - std::pow(1 - double(i) / n, 2)), ext = 0.031 * i;
      std::string at = number(time, 2, s);
      if (s.clock) {
        char text[40];
        c_snprintf(text, sizeof text, "11:59:%04.1f", 40 + std::fmod(time, 20));
        if (time >= 20) c_snprintf(text, sizeof text, "12:00:%04.1f", time - 20);
        at = text;
        at[at.find('.')] = s.decimal;
      }
      std::vector<std::string> cells = {at, number(force / 1000, 4, s), number(ext, 5, s)};
      if (s.remarks) cells.insert(cells.begin() + 1, i % 7 == 3 ? "hold" : "");
      if (s.temperature) cells.push_back(number(23 + 0.1 * (i % 3), 1, s));
      line(cells, true);
      t.time.push_back(time);
      t.force.push_back(force);
      t.extension.push_back(ext);
    }
    truths.push_back(t);
    if (k < s.specimens) out += nl;
  }
  if (s.summary) {
    out += nl;
    line({"Maximum", number(12.5, 1, s), "kN"}, false);
    line({"End of data"}, false);
  }
  return out;
}

TEST(MachineSpelling, TheNumbersAreTheSameHoweverTheyAreWritten) {
  std::mt19937 random(20261125);
  auto one_in = [&](unsigned n) { return random() % n == 0; };
  for (int round = 0; round < 400; ++round) {
    Spelling s{};
    s.decimal = one_in(2) ? ',' : '.';
    s.separator = std::string(s.decimal == '.' ? ";\t|, " : ";\t| ")[random() % (s.decimal == '.' ? 5 : 4)];
    const bool blanks = s.separator == ' ';
    s.units = blanks ? 3 + int(random() % 2) : int(random() % 7);
    s.language = random() % kNames.size();
    s.clock = !blanks && one_in(3);
    s.quotes = !blanks && one_in(4);
    s.remarks = !blanks && one_in(4);
    s.preamble = one_in(2);
    s.summary = one_in(2);
    s.returns = one_in(2);
    s.temperature = one_in(3);
    s.specimens = one_in(3) ? 3 : 1;
    const char other = s.decimal == ',' ? '.' : ',';
    s.group = blanks                                            ? 0
              : one_in(4)                                       ? '\''
              : one_in(4)                                       ? ' '
              : one_in(3) && (other != s.separator || s.quotes) ? other
                                                                : 0;
    std::vector<Truth> truths;
    const std::string text = written(s, random, truths);
    const auto file = machine_file(text);
    ASSERT_TRUE(file) << round << ": " << file.error().message << "\n" << text.substr(0, 400);
    ASSERT_EQ(file->blocks.size(), truths.size()) << round << "\n" << text.substr(0, 400);
    for (size_t k = 0; k < truths.size(); ++k) {
      const CsvTable& table = file->blocks[k].table;
      const Method& m = *methods::find("tension-metal");
      const auto samples = samples_from_table(table, guess_mapping(table.dialect, m), m);
      ASSERT_TRUE(samples) << round << ": " << samples.error().message << "\n" << text.substr(0, 400);
      for (const auto& [name, want] :
           {std::pair{"time", &truths[k].time}, {"force", &truths[k].force}, {"extension", &truths[k].extension}}) {
        const Channel* c = (*samples)->find(name);
        ASSERT_NE(c, nullptr) << round << " " << name << "\n" << text.substr(0, 400);
        ASSERT_EQ(c->values.size(), want->size()) << round << " " << name;
        for (size_t i = 0; i < want->size(); ++i)
          ASSERT_NEAR(c->values[i], (*want)[i], 0.06 + 1e-9 * std::abs((*want)[i])) << round << " " << name << " " << i;
      }
      EXPECT_EQ((*samples)->channels.size(), 3u) << round << ": a temperature is no strain\n" << text.substr(0, 400);
    }
  }
}

// One row of a hundred is damaged in some way, at the beginning, in the middle, at the end: a sentence, or every row.
TEST(MachineSpelling, ADamagedRowIsSaidWhereverItStands) {
  const std::string path = testing::TempDir() + "fortitor-damaged.csv";
  using Cells = std::vector<std::string>;
  const std::vector<std::function<Cells(Cells)>> damages = {
      [](Cells c) {
        return Cells{c[0], c[1]};
      },
      [](Cells c) {
        return Cells{c[1], c[2]};
      },
      [](Cells c) {
        return Cells{c[0], c[1], c[2], "7.5"};
      },
      [](Cells c) {
        return Cells{c[0], "x7", c[2]};
      },
      [](Cells c) {
        return Cells{"x", c[1], c[2]};
      },
      [](Cells) {
        return Cells{"a", "b", "c"};
      },
      [](Cells c) {
        return Cells{c[0] + c[1], c[2]};
      },
      [](Cells c) { return Cells{c[0]}; },
      [](Cells c) {
        return Cells{c[0], "1.2.3", c[2]};
      },
  };
  for (size_t d = 0; d < damages.size(); ++d)
    for (int at : {0, 1, 2, 3, 50, 97, 98, 99}) {
      std::string text = "Time [s];Force [N];Ext [mm]\n";
      for (int i = 0; i < 100; ++i) {
        Cells cells = {std::to_string(i) + ".0", std::to_string(3 * i) + ".5", std::to_string(i) + ".25"};
        if (i == at) cells = damages[d](cells);
        for (size_t c = 0; c < cells.size(); ++c) text += (c > 0 ? ";" : "") + cells[c];
        text += "\n";
      }
      std::ofstream(path, std::ios::binary) << text;
      const auto file = read_machine_file(path);
      if (!file) continue;
      const CsvTable& t = file->blocks.front().table;
      // Said in a note, or seen at once: without the names of its columns nothing is taken for a channel.
      const bool said = !file->notes.empty() || guess_mapping(t.dialect, *methods::find("tension-metal")).empty();
      EXPECT_TRUE(said || (file->blocks.size() == 1 && t.rows() == 100)) << "damage " << d << " at " << at;
    }
}

}  // namespace
}  // namespace fortitor::machine_spelling_test
