// Spectra with settings drawn at random: all that is told of each kept as one line.
#include <gtest/gtest.h>
#include <unistd.h>

#include <filesystem>
#include <sstream>

#include "core/quantity/parse.h"
#include "core/spectrum/drive_file.h"
#include "core/spectrum/spectrum.h"
#include "core/standin/bridge.h"
#include "tests/core/methods/chance.h"
#include "tests/core/methods/kept_text.h"
#include "tests/core/methods/short_text.h"

namespace fortitor::varied_spectrum_test {
namespace {

TEST(KeptNumbersVariedSpectra, OfSettingsAtRandom) {
  namespace fs = std::filesystem;
  const fs::path folder = fs::temp_directory_path() / ("fortitor-varied-spectra-" + std::to_string(::getpid()));
  fs::create_directories(folder);
  std::ostringstream out;
  for (uint64_t seed = 1; seed <= 60; ++seed) {
    Chance chance(seed);
    spectrum::Settings set;
    for (size_t i = 1 + chance.below(3); i > 0; --i) {
      standin::BridgeTraffic t;
      t.seed = seed * 10 + i;
      t.rate = 10 + double(chance.below(20));
      t.hours = 0.3 + 0.7 * chance.share();
      t.heaviest = 0.3 + 2 * chance.share();
      t.noise = chance.share();
      t.gaps = double(chance.below(300));
      t.spikes = double(chance.below(600));
      t.stuck = chance.below(2) == 0;
      fatigue::SignalSpec spec;
      spec.files = {(folder / (std::to_string(seed) + "-" + std::to_string(i) + ".f32")).string()};
      spec.rate = t.rate;
      ASSERT_TRUE(standin::write_bridge_history(t, spec.files[0]));
      set.weeks.push_back(spec);
    }
    const std::vector<std::string> levels = {"squares", "quiet", "none"}, counts = {"four-point", "three-point"};
    set.level = chance.of(levels);
    set.count = chance.of(counts);
    set.block = 100 + 1500 * chance.share();
    set.cut = chance.below(4) == 0 ? 0 : 0.5 + 5 * chance.share();
    set.leave_out = chance.below(2) == 0;
    set.gate = 0.2 + 4 * chance.share();
    set.p = 0.0005 + 0.05 * chance.share();
    set.share = 0.05 + 0.9 * chance.share();
    set.category = 20 + 100 * chance.share();
    set.m = 3 + 2 * chance.share();
    set.d = 0.3 + chance.share();
    set.levels = 8 + int(chance.below(80));
    set.length = 300 + chance.below(2000);
    set.seed = seed;
    spectrum::Spectrum s;
    const auto done = spectrum::compute(s, set);
    out << "== " << seed << " " << s.weeks.size() << "\n";
    if (!done) {
      out << done.error().message << "\n";
      continue;
    }
    TestRecord record;
    record.method = spectrum::kMethod;
    const auto put = [&](const char* path, double v) {
      Reading r;
      r.typed = "varied";
      r.value = v;
      if (chance.below(3) > 0) record.fields.set(path, r);
    };
    put("settings.area", 10 + 500 * chance.share());
    put("settings.rig.force", 1000 + 30000 * chance.share());
    put("settings.rig.rate", 1000 + 1e6 * chance.share());
    put("settings.rig.frequency", 1 + 30 * chance.share());
    put("settings.thermal.range", 1e-4 * chance.share());
    for (size_t i = chance.below(4); i > 0; --i) {
      Row row;
      for (const FieldSpec& f : spectrum::schema().table("blocks")->columns)
        if (f.kind == FieldKind::quantity || f.kind == FieldKind::number) {
          Reading r;
          r.typed = "varied";
          r.value = f.dimension == Dimension::none ? 1e4 * std::pow(10, 2 * chance.share()) : 300e-6 * (0.5 + chance.share());
          f.kind == FieldKind::number ? row.cells.set(f.path, *r.value) : row.cells.set(f.path, r);
        }
      if (chance.below(4) == 0) row.state = Row::State::set_aside;
      record.run.tables["blocks"].push_back(row);
    }
    const Evaluation e = spectrum::evaluation_of(s, record);
    out << shortest_text(e);
    for (const ResultValue& r : e.results) out << " " << num(r.value);
    for (const Finding& f : e.findings) out << " " << f.code;
    out << "\n" << shortest_text(spectrum::evaluation_of_week(s, s.weeks.back())) << "\n";
    for (int step = 0; step < spectrum::kSteps; ++step)
      for (const Figure& f : spectrum::figures_of(s, spectrum::ChainStep(step), s.weeks.size() - 1)) out << figure_text(f, {});
    out << figure_text(spectrum::life_figure(s, record), {});
    Told drive;
    drive.add(spectrum::drive_csv(s.drive, {0.021 * 300, 10, 1}, 1));
    out << "drive " << drive.text() << "\n";
  }
  fs::remove_all(folder);
  hold_kept("varied-spectra", out.str());
}

}  // namespace
}  // namespace fortitor::varied_spectrum_test
