// What a spectrum is made with, as typed fields.
#include <cmath>

#include "core/methods/support/fields.h"
#include "core/record/json.h"
#include "core/spectrum/spectrum.h"

namespace fortitor::spectrum {

using D = Dimension;

const Schema& schema() {
  static const Schema s = [] {
    using namespace fortitor::fields;
    Schema out;
    out.id = kMethod;
    const Stage raw = Stage::prepare, work = Stage::evaluate;
    auto add = [&](FieldSpec f) { out.fields.push_back(std::move(f)); };
    add(text("specimen.id", raw));
    add(text("specimen.note", raw));
    add(quantity("settings.rate", D::frequency, raw));
    add(choice("settings.format", raw, {"auto", "csv", "f32", "f64"}, true));
    add(text("settings.column", raw));
    FieldSpec scale = number("settings.scale", raw);
    scale.may_be_negative = true;
    add(scale);
    FieldSpec sentinel = number("settings.sentinel", raw);
    sentinel.may_be_negative = sentinel.may_be_zero = true;
    add(sentinel);
    add(quantity("settings.block", D::time, work));
    add(choice("settings.level", work, {"squares", "quiet", "none"}, true));
    FieldSpec cut = quantity("settings.cut", D::frequency, work);
    cut.may_be_zero = true;
    add(cut);
    add(choice("settings.spikes", work, {"keep", "leave-out"}, true));
    FieldSpec gate = quantity("settings.gate", D::microstrain, work);
    gate.may_be_zero = true;
    add(gate);
    add(choice("settings.count", work, {"four-point", "three-point"}, true));
    add(number("settings.p", work));
    FieldSpec share = number("settings.share", work);
    share.may_be_zero = true;
    add(share);
    add(quantity("settings.modulus", D::modulus, work, "E"));
    add(quantity("settings.detail", D::stress, work, "Δσ_C"));
    add(number("settings.m", work));
    add(number("settings.d", work));
    add(number("settings.levels", work));
    add(number("settings.length", work));
    add(number("settings.seed", work));
    add(quantity("settings.area", D::area, work, "A"));
    add(quantity("settings.thermal.range", D::microstrain, work));
    add(number("settings.thermal.cycles", work));
    add(quantity("settings.rig.force", D::force, work));
    add(quantity("settings.rig.rate", D::force_rate, work));
    add(quantity("settings.rig.frequency", D::frequency, work, "f"));
    TableSpec sources;
    sources.id = "sources";
    FieldSpec file = text("file", raw), week = number("week", raw), sha = text("sha256", raw), name = text("name", raw);
    FieldSpec samples = number("samples", raw);
    sources.columns = {file, week, name, samples, sha};
    // Lives of blocks from tests, for the life figure.
    TableSpec blocks;
    blocks.id = "blocks";
    FieldSpec largest = quantity("range", D::stress, work), cycles = number("cycles", work),
              out_flag = flag("runout", work);
    blocks.columns = {largest, cycles, out_flag};
    out.tables = {sources, blocks};
    say_schema(out);
    out.limit_dimension = [](const std::string&) { return std::nullopt; };
    return out;
  }();
  return s;
}

Outcome<TestRecord> record_from_json(std::string_view json, bool stored) {
  return (stored ? read_stored_record : read_record)(
      json, [](const std::string& id) { return id == kMethod ? &schema() : nullptr; });
}

std::string record_to_json(const TestRecord& record) {
  TestRecord r = record;
  r.method = kMethod;
  return write_record(r, schema(), -1);
}

Outcome<Settings> settings_of(const TestRecord& r) {
  const Fields& f = r.fields;
  Settings s;
  auto number = [&](const char* path, double& to) {
    if (const auto v = f.number(path)) to = *v;
  };
  fatigue::SignalSpec common;
  number("settings.rate", common.rate);
  if (const std::string format = f.text("settings.format"); format != "auto") common.format = format;
  common.column = f.text("settings.column");
  number("settings.scale", common.scale);
  if (const auto v = f.number("settings.sentinel")) common.sentinel = *v;
  // Files of one week follow one another; a week without a number is a week of its own.
  std::vector<double> weeks;
  for (const Row& row : r.run.rows("sources")) {
    const std::string file = row.cells.text("file");
    if (file.empty() || !row.used()) continue;
    const auto week = row.number("week");
    size_t k = 0;
    while (k < weeks.size() && !(week && weeks[k] == *week)) ++k;
    if (k == weeks.size()) {
      weeks.push_back(week.value_or(NAN));
      s.weeks.push_back(common);
      s.names.push_back(row.cells.text("name"));
    }
    s.weeks[k].files.push_back(file);
  }
  number("settings.block", s.block);
  if (const std::string level = f.text("settings.level"); !level.empty()) s.level = level;
  number("settings.cut", s.cut);
  s.leave_out = f.text("settings.spikes") == "leave-out";
  if (const auto v = f.number("settings.gate")) s.gate = *v * 1e6;
  if (const std::string count = f.text("settings.count"); !count.empty()) s.count = count;
  number("settings.p", s.p);
  number("settings.share", s.share);
  number("settings.modulus", s.modulus);
  number("settings.detail", s.category);
  number("settings.m", s.m);
  number("settings.d", s.d);
  double levels = s.levels, length = double(s.length), seed = double(s.seed);
  number("settings.levels", levels);
  number("settings.length", length);
  number("settings.seed", seed);
  auto wrong = [](const char* words) { return InputError{words, {}}; };
  if (!(s.block > 0)) return wrong("The block of the level must be longer than nothing.");
  if (!(s.cut >= 0)) return wrong("The cut of the filter must not be negative; 0 does not smooth.");
  if (!(s.gate >= 0)) return wrong("The gate must not be negative.");
  if (!(s.p > 0 && s.p < 1))
    return wrong("The share of cycles that exceed the range must lie between 0 and 1, such as 0.002.");
  if (!(s.share >= 0 && s.share < 1)) return wrong("The cut must lie between 0 and 1 of the range, such as 0.25.");
  if (!(s.modulus > 0)) return wrong("The modulus must be more than 0.");
  if (!(s.category > 0)) return wrong("The detail category must be more than 0.");
  if (!(s.m >= 1 && s.m <= 20)) return wrong("The slope of the life line must lie between 1 and 20.");
  if (!(s.d > 0 && s.d <= 10)) return wrong("The damage at failure must lie between 0 and 10.");
  if (!(levels >= 4 && levels <= 512)) return wrong("The chain wants between 4 and 512 levels.");
  if (!(length >= 100 && length <= 2e7)) return wrong("The drive may have between 100 and 20 million transitions.");
  if (!(seed >= 0 && seed <= 9e15)) return wrong("The seed must be a whole number from 0.");
  s.levels = int(levels);
  s.length = size_t(length);
  s.seed = uint64_t(seed);
  return s;
}

}  // namespace fortitor::spectrum
