#include <cmath>
#include <cstdio>
#include <filesystem>

#include "cli/commands.h"
#include "core/spectrum/drive_file.h"
#include "core/spectrum/spectrum.h"
#include "report/page.h"

namespace fortitor::cli {
namespace {

// Typed quantities of the command line; bare numbers in the unit that section 13 names.
Outcome<Done> set_quantity(TestRecord& r, const char* path, const std::string& typed, const char* bare) {
  if (typed.empty()) return Done{};
  const FieldSpec* field = spectrum::schema().field(path);
  std::string text = typed;
  if (text.find_first_not_of("+-0123456789.,eE ") == std::string::npos && *bare != 0) text += std::string(" ") + bare;
  const auto q = parse_quantity(text, field->dimension);
  if (!q) return InputError{"“" + typed + "”: " + q.error().message, {}};
  r.fields.set(path, reading_of(*q));
  return Done{};
}

}  // namespace

int spectrum(const SpectrumOptions& o) {
  TestRecord r;
  r.method = spectrum::kMethod;
  r.fields.set("specimen.id",
               o.files.size() == 1 ? std::filesystem::path(o.files.front()).stem().string() : std::string("spectrum"));
  double week = 0;
  for (const std::string& file : o.files) {
    Row row;
    row.cells.set("file", file);
    row.cells.set("week", ++week);
    row.cells.set("name", std::filesystem::path(file).filename().string());
    r.run.tables["sources"].push_back(row);
  }
  if (!o.format.empty() && o.format != "csv" && o.format != "f32" && o.format != "f64")
    return bad_input("--format: “" + o.format + "” is none of csv, f32, f64");
  if (!o.format.empty()) r.fields.set("settings.format", o.format);
  if (!o.column.empty()) r.fields.set("settings.column", o.column);
  if (o.count == "three-point" || o.count == "four-point")
    r.fields.set("settings.count", o.count);
  else if (!o.count.empty())
    return bad_input("--count: “" + o.count + "” is none of four-point, three-point");
  if (o.level == "quiet" || o.level == "squares" || o.level == "none")
    r.fields.set("settings.level", o.level);
  else if (!o.level.empty())
    return bad_input("--level: “" + o.level + "” is none of squares, quiet, none");
  if (o.leave_out) r.fields.set("settings.spikes", std::string("leave-out"));
  auto number = [&](const char* path, const std::optional<double>& v) {
    if (v) r.fields.set(path, *v);
  };
  number("settings.scale", o.scale);
  number("settings.sentinel", o.sentinel);
  number("settings.p", o.p);
  number("settings.share", o.share);
  number("settings.m", o.m);
  number("settings.levels", o.levels);
  number("settings.length", o.length);
  number("settings.seed", o.seed);
  struct Typed {
    const char *option, *path, *bare;
    const std::string& text;
  };
  for (const Typed& t : {Typed{"--rate", "settings.rate", "Hz", o.rate},
                         {"--block", "settings.block", "h", o.block},
                         {"--cut", "settings.cut", "Hz", o.cut},
                         {"--gate", "settings.gate", "µε", o.gate},
                         {"--modulus", "settings.modulus", "MPa", o.modulus},
                         {"--detail", "settings.detail", "MPa", o.detail},
                         {"--area", "settings.area", "mm²", o.area},
                         {"--frequency", "settings.rig.frequency", "Hz", o.frequency}})
    if (const auto done = set_quantity(r, t.path, t.text, t.bare); !done)
      return bad_input(std::string(t.option) + ": " + done.error().message);
  const auto settings = spectrum::settings_of(r);
  if (!settings) return bad_input(settings.error().message);
  spectrum::Spectrum s;
  spectrum::ComputeOptions options;
  const bool drive = !o.synth.empty();
  options.until = drive || o.study ? spectrum::ChainStep::drive : spectrum::ChainStep::cut;
  options.study = o.study;
  options.keep_extremes = false;
  options.losses = false;
  if (const auto done = spectrum::compute(s, *settings, options); !done) return bad_input(done.error().message);
  if (drive) {
    const double area = r.fields.number("settings.area").value_or(0);
    const spectrum::DriveScale scale{area > 0 ? settings->modulus * 1e-6 * area : 0, 0, 7};
    const bool csv = std::filesystem::path(o.synth).extension() == ".csv";
    const auto written = page::write_new(csv ? spectrum::drive_csv(s.drive, scale, settings->seed)
                                             : spectrum::drive_binary(s.drive, scale, settings->seed),
                                         o.synth);
    if (!written) return bad_input(written.error().message);
  }
  if (o.json) {
    std::printf("%s\n", spectrum::to_json(s, r).c_str());
    return 0;
  }
  const Evaluation e = spectrum::evaluation_of(s, r);
  std::vector<Evaluation> weeks;
  if (s.weeks.size() > 1)
    for (const spectrum::Week& w : s.weeks) weeks.push_back(spectrum::evaluation_of_week(s, w));
  for (const ResultValue& v : e.results) {
    std::printf("  %-48s %14s %s", v.spec.name.c_str(), spectrum::shown(v, UnitSet::si).c_str(),
                padded(spectrum::shown_uncertainty(v, UnitSet::si), 10).c_str());
    for (const Evaluation& of : weeks)
      if (const ResultValue* one = of.find(v.spec.key))
        std::printf("  %12s", spectrum::shown(*one, UnitSet::si).c_str());
    std::printf("\n");
  }
  for (const Finding& f : e.findings) std::printf("%s\n", f.message.c_str());
  return 0;
}

}  // namespace fortitor::cli
