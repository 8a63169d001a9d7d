#include <cmath>
#include <filesystem>

#include "core/quantity/plain.h"
#include "core/record/bounds.h"
#include "core/record/csv.h"
#include "core/record/json.h"
#include "core/record/machine_file.h"
#include "core/record/mapping.h"

namespace fortitor {

Outcome<SamplesPtr> samples_from_table(const CsvTable& table, const std::map<std::string, ChannelSource>& mapping,
                                       const Schema& schema) {
  auto samples = std::make_shared<Samples>();
  const auto& names = table.dialect.columns;
  for (const auto& [channel, source] : mapping) {
    const ChannelSpec* spec = schema.channel(channel);
    if (spec == nullptr) return InputError{"“" + channel + "” is no channel of a run.", {}};
    size_t column = names.size();
    for (size_t i = names.size(); i-- > 0;)
      if (names[i] == source.column) column = i;
    if (column == names.size()) {  // "3" means the third column, for files without names
      const auto n = plain::whole(source.column);
      if (n && *n >= 1 && size_t(*n) <= names.size()) column = size_t(*n - 1);
    }
    if (column == names.size()) {
      std::string list;
      for (const auto& n : names) list += (list.empty() ? "" : ", ") + n;
      return InputError{"has no column “" + source.column + "” for " + channel + "; its columns are " + list + ".", {}};
    }
    const std::string unit_text = source.unit.empty() ? table.dialect.units[column] : source.unit;
    const Unit* unit = find_unit(unit_text, spec->dimension);
    if (unit == nullptr && spec->dimension != Dimension::none) {
      return InputError{"the unit of column “" + source.column + "” (" +
                            (unit_text.empty() ? "none given" : unit_text) + ") is not " +
                            std::string(dimension_phrase(spec->dimension)) + ".",
                        {}};
    }
    Channel c{channel, table.columns[column]};
    if (unit != nullptr && (unit->factor != 1 || unit->offset != 0))
      for (double& v : c.values) v = v * unit->factor + unit->offset;
    samples->channels.push_back(std::move(c));
  }
  return SamplesPtr(samples);
}

namespace {

// The file of a run lies inside the record's folder and is a plain file: no device, no pipe, no link out of it.
Outcome<std::string> path_inside(const std::string& folder, const std::string& name) {
  namespace fs = std::filesystem;
  std::error_code error;
  const fs::path home = fs::weakly_canonical(folder.empty() ? fs::path(".") : fs::path(folder), error);
  const fs::path path = fs::path(folder) / name;
  const auto refuse = [&](const std::string& why) { return InputError{path.string() + ": " + why, {}}; };
  if (fs::path(name).is_absolute()) return refuse("run.file must name a file beside the record.");
  const fs::path real = fs::weakly_canonical(path, error);
  const auto [in_home, at] = std::mismatch(home.begin(), home.end(), real.begin(), real.end());
  if (error || in_home != home.end()) return refuse("lies outside the folder of the record and is not read.");
  if (!fs::exists(real, error)) return refuse("cannot be opened: there is no such file.");
  if (!fs::is_regular_file(real, error)) return refuse("is no plain file and is not read.");
  return path.string();
}

// A plain table at full speed; a machine's file that is none is read as the import reads it, if it holds one specimen.
Outcome<CsvTable> table_of(const std::string& path) {
  auto plain = read_csv(path);
  if (plain) return plain;
  auto file = read_machine_file(path);
  if (!file) return plain.error();
  if (file->blocks.size() > 1)
    return InputError{
        path + ": holds " + std::to_string(file->blocks.size()) + " tables; a record wants a file of its own run.", {}};
  return std::move(file->blocks.front().table);
}

}  // namespace

Outcome<Done> load_run_files(TestRecord& record, const std::string& folder, const Schema& schema) {
  for (Segment& segment : record.run.segments) {
    if (segment.file.empty() || segment.samples) continue;
    const auto path = path_inside(folder, segment.file);
    if (!path) return path.error();
    auto table = table_of(*path);
    if (!table) return table.error();
    if (segment.mapping.empty()) segment.mapping = guess_mapping(table->dialect, schema);
    auto samples = samples_from_table(*table, segment.mapping, schema);
    if (!samples) return InputError{*path + ": " + samples.error().message, {}};
    segment.samples = *samples;
  }
  return Done{};
}

Outcome<TestRecord> read_record_file(const std::string& path, const Schemas& schemas) {
  auto text = read_file(path, kMostJson);
  if (!text) return text.error();
  auto record = read_record(*text, schemas);
  if (!record) return InputError{path + ": " + record.error().message, {}};
  auto loaded = load_run_files(*record, std::filesystem::path(path).parent_path().string(), *schemas(record->method));
  if (!loaded) return loaded.error();
  return record;
}

std::string samples_to_csv(const Samples& samples, const Schema& schema, int digits) {
  std::string out, units;
  for (const Channel& c : samples.channels) {
    out += (out.empty() ? "" : ",") + c.name;
    units += (units.empty() ? "" : ",") + written_unit(schema.channel(c.name));
  }
  out += "\n" + units + "\n";
  for (size_t i = 0; i < samples.size(); ++i) {
    for (size_t c = 0; c < samples.channels.size(); ++c) {
      if (c > 0) out += ',';
      const double v = samples.channels[c].values[i];
      if (!std::isfinite(v)) continue;
      out += digits >= 17 ? plain::shortest(v) : plain::general(v, digits);
    }
    out += '\n';
  }
  return out;
}

}  // namespace fortitor
