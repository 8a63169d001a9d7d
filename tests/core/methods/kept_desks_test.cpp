// What desks say and draw, kept as text like the methods: spectra with every picture, the Slate, practice.
#include <gtest/gtest.h>
#include <unistd.h>

#include <cmath>
#include <filesystem>
#include <fstream>
#include <sstream>

#include "core/practice/practice.h"
#include "core/quantity/parse.h"
#include "core/slate/slate.h"
#include "core/spectrum/drive_file.h"
#include "core/spectrum/spectrum.h"
#include "core/standin/benches.h"
#include "core/standin/bridge.h"
#include "tests/core/methods/kept_text.h"
#include "tests/core/methods/method_records.h"

namespace fortitor::kept_desks_test {
namespace {

TEST(KeptNumbersDesks, SpectraWithEveryPicture) {
  namespace fs = std::filesystem;
  const fs::path folder = fs::temp_directory_path() / ("fortitor-kept-" + std::to_string(::getpid()));
  fs::create_directories(folder);
  std::vector<std::string> files;
  for (uint64_t seed : {1u, 2u}) {
    standin::BridgeTraffic t;
    t.seed = seed;
    t.rate = 20;
    t.hours = 4;
    files.push_back((folder / ("week-" + std::to_string(seed) + ".f32")).string());
    ASSERT_TRUE(standin::write_bridge_history(t, files.back()));
  }
  TestRecord record;
  record.method = spectrum::kMethod;
  const auto typed = [&](const char* path, const char* text) {
    record.fields.set(path, reading_of(parse_quantity(text, spectrum::schema().field(path)->dimension).value()));
  };
  typed("settings.area", "300 mm²");
  typed("settings.rig.force", "10 kN");
  typed("settings.rig.frequency", "10 Hz");
  std::ostringstream out;
  for (int way = 0; way < 5; ++way) {
    spectrum::Settings set;
    for (const std::string& f : files) {
      fatigue::SignalSpec spec;
      spec.files = {f};
      spec.rate = 20;
      set.weeks.push_back(spec);
    }
    set.length = 2000;
    set.block = 1800;
    if (way == 1) set.level = "quiet", set.leave_out = true;
    if (way == 2) set.count = "three-point", set.cut = 4, set.levels = 16;
    if (way == 2) set.p = 0.0123456, set.share = 0.98765;
    if (way == 3) set.level = "none", set.cut = 0, set.weeks.resize(1);
    if (way == 4) set.weeks.resize(1);  // a drift of one week alone
    spectrum::Spectrum s;
    const auto done = spectrum::compute(s, set);
    ASSERT_TRUE(done) << done.error().message;
    if (way == 1) {
      const auto study = spectrum::study_blocks(s, 10000);
      ASSERT_TRUE(study);
      s.study = *study;
      for (const spectrum::BlockLength& l : s.study)
        out << l.length << " transitions: " << l.mean << " " << l.least << " " << l.largest << " " << l.within << " of "
            << l.of << "\n";
    }
    Evaluation e = spectrum::evaluation_of(s, record);
    for (int step = 0; step < spectrum::kSteps; ++step) {
      out << "step " << spectrum::name_of(spectrum::ChainStep(step)) << ": "
          << spectrum::words_of(s, spectrum::ChainStep(step)) << "\n";
      for (Figure& f : spectrum::figures_of(s, spectrum::ChainStep(step), s.weeks.size() - 1))
        e.figures.push_back(std::move(f));
    }
    e.figures.push_back(spectrum::life_figure(s, record));
    out << "== way " << way << "\n" << kept_text(e) << kept_text(spectrum::evaluation_of_week(s, s.weeks.front()));
    const std::string drive = spectrum::drive_csv(s.drive, {0.021 * 300, 10, 1}, 1);
    out << drive.substr(0, 400) << "\n";
  }
  fs::remove_all(folder);
  hold_kept("spectrum", out.str());
}

TEST(KeptNumbersDesks, EveryCalculator) {
  std::ostringstream out;
  for (const slate::Calculator& c : slate::calculators()) {
    out << "== " << c.id << " " << c.title << " " << c.caution << "\n";
    for (const slate::Input& i : c.inputs)
      out << i.key << " " << i.label << " " << i.hint << " " << i.path << (i.optional ? " optional" : "") << "\n";
    const auto line = slate::read_line(c.example);
    ASSERT_TRUE(line);
    const auto lines = slate::work(c, line->inputs);
    ASSERT_TRUE(lines) << c.example;
    const auto say = [&](const std::vector<slate::Line>& of) {
      for (const slate::Line& l : of)
        out << l.name << " | " << l.step.expression << " | " << l.step.with << " | "
            << slate::value_words(l, UnitSet::si) << " | " << slate::value_words(l, UnitSet::us) << " | "
            << l.step.source << "\n";
    };
    say(*lines);
    // The same at no round number, with every digit that is shown; and without each that may be left out.
    const auto read = slate::read_inputs(c, line->inputs);
    ASSERT_TRUE(read) << c.example;
    slate::Inputs off = *read;
    for (auto& [key, v] : off.numbers) v *= 1.0027182818;
    std::vector<slate::Inputs> ways = {off};
    for (const slate::Input& i : c.inputs) {
      if (!i.optional || (!off.has(i.key) && off.words.count(i.key) == 0)) continue;
      ways.push_back(off);
      ways.back().numbers.erase(i.key);
      ways.back().words.erase(i.key);
    }
    for (const slate::Inputs& way : ways) {
      const auto worked = c.work(way);
      if (worked)
        say(*worked);
      else
        out << worked.error().message << "\n";
    }
  }
  hold_kept("slate", out.str());
}

TEST(KeptNumbersDesks, DebriefsOfCarefulHands) {
  std::ostringstream out;
  for (const practice::Task& t : practice::tasks()) {
    out << "== " << t.id << " " << t.title << " " << t.method << " " << t.words << "\n";
    for (uint64_t seed : {3u}) {
      standin::SimulateOptions o;
      o.method = t.method;
      o.piece = t.piece;
      o.sampling = some_thousand_rows(*methods::find(t.method));
      o.seed = seed;
      o.faults = practice::draw(t, seed);
      TestRecord r = standin::find_bench(methods::find(t.method)->standin)->simulate(o);
      r.method = t.method;
      r.fields.set("equipment.standin.practice", t.id + ":" + std::to_string(seed));
      const practice::Debrief d = practice::debrief(r, methods::evaluate(r));
      for (const practice::Row& row : d.rows)
        out << row.key << " " << format_value(row.yours, row.dimension, UnitSet::si, row.figures) << " "
            << format_value(row.truth, row.dimension, UnitSet::si, row.figures) << (row.off ? " off" : "") << "\n";
      for (const practice::Hidden& h : d.hidden) {
        out << "hidden " << h.id << " " << h.words << " | " << h.how << " | " << h.cost << " |";
        for (const std::string& s : h.shows) out << " " << s;
        out << "\n";
      }
      for (const practice::Moment& m : d.moments)
        out << "lane " << int(m.lane) << " tone " << int(m.tone) << " place " << int(m.when.place) << " "
            << plain_number(m.when.at, 5) << " " << m.words << "\n";
    }
  }
  hold_kept("practice", out.str());
}

}  // namespace
}  // namespace fortitor::kept_desks_test
