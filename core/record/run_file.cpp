#include <cmath>
#include <cstdlib>
#include <filesystem>

#include "core/record/csv.h"
#include "core/record/json.h"
#include "core/record/mapping.h"

namespace fortitor {

const Dimension* channel_dimension(const std::string& name) {
  using D = Dimension;
  static const std::map<std::string, Dimension> known = {
      {"time", D::time},
      {"force", D::force},
      {"extension", D::length},
      {"crosshead", D::length},
      {"displacement", D::length},
      {"deflection", D::length},
      {"strain", D::strain},
      {"strain_lateral", D::strain},
      {"strain_long", D::microstrain},
      {"strain_lat", D::microstrain},
      {"strain_front", D::microstrain},
      {"strain_back", D::microstrain},
      {"strain_front_1", D::microstrain},
      {"strain_back_1", D::microstrain},
      {"strain_front_2", D::microstrain},
      {"strain_back_2", D::microstrain},
      {"torque", D::torque},
      {"angle", D::angle},
      {"strain_45", D::microstrain},
      {"strain_minus_45", D::microstrain},
  };
  const auto it = known.find(name);
  return it == known.end() ? nullptr : &it->second;
}

Outcome<SamplesPtr> samples_from_table(const CsvTable& table, const std::map<std::string, ChannelSource>& mapping) {
  auto samples = std::make_shared<Samples>();
  const auto& names = table.dialect.columns;
  for (const auto& [channel, source] : mapping) {
    const Dimension* d = channel_dimension(channel);
    if (d == nullptr) return InputError{"“" + channel + "” is no channel of a run.", {}};
    size_t column = names.size();
    for (size_t i = 0; i < names.size(); ++i)
      if (names[i] == source.column) column = i;
    if (column == names.size()) {  // "3" means the third column, for files without names
      const long n = std::strtol(source.column.c_str(), nullptr, 10);
      if (n >= 1 && size_t(n) <= names.size()) column = size_t(n - 1);
    }
    if (column == names.size()) {
      std::string list;
      for (const auto& n : names) list += (list.empty() ? "" : ", ") + n;
      return InputError{"has no column “" + source.column + "” for " + channel + "; its columns are " + list + ".", {}};
    }
    const std::string unit_text = source.unit.empty() ? table.dialect.units[column] : source.unit;
    const Unit* unit = find_unit(unit_text, *d);
    if (unit == nullptr) {
      return InputError{"the unit of column “" + source.column + "” (" +
                            (unit_text.empty() ? "none given" : unit_text) + ") is not " +
                            std::string(dimension_phrase(*d)) + ".",
                        {}};
    }
    Channel c{channel, table.columns[column]};
    if (unit->factor != 1 || unit->offset != 0)
      for (double& v : c.values) v = v * unit->factor + unit->offset;
    samples->channels.push_back(std::move(c));
  }
  return SamplesPtr(samples);
}

Outcome<Done> load_run_file(TestRecord& record, const std::string& folder) {
  if (record.run.file.empty() || record.run.samples) return Done{};
  const std::string path = (std::filesystem::path(folder) / record.run.file).string();
  auto text = read_file(path);
  if (!text) return text.error();
  auto table = parse_csv(*text);
  if (!table) return InputError{path + ": " + table.error().message, {}};
  if (record.run.mapping.empty()) record.run.mapping = guess_mapping(table->dialect);
  auto samples = samples_from_table(*table, record.run.mapping);
  if (!samples) return InputError{path + ": " + samples.error().message, {}};
  record.run.samples = *samples;
  return Done{};
}

Outcome<TestRecord> load_record(const std::string& path) {
  auto text = read_file(path);
  if (!text) return text.error();
  auto record = record_from_json(*text);
  if (!record) return InputError{path + ": " + record.error().message, {}};
  auto loaded = load_run_file(*record, std::filesystem::path(path).parent_path().string());
  if (!loaded) return loaded.error();
  return record;
}

std::string samples_to_csv(const Samples& samples) {
  std::string out, units;
  for (const Channel& c : samples.channels) {
    const Dimension* d = channel_dimension(c.name);
    out += (out.empty() ? "" : ",") + c.name;
    std::string unit(d != nullptr ? internal_symbol(*d) : "");
    if (d != nullptr && base_dimension(*d) == Dimension::angle) unit = "rad";
    if (unit == "ratio") unit = "strain";
    units += (units.empty() ? "" : ",") + unit;
  }
  out += "\n" + units + "\n";
  char buffer[40];
  for (size_t i = 0; i < samples.size(); ++i) {
    for (size_t c = 0; c < samples.channels.size(); ++c) {
      if (c > 0) out += ',';
      const double v = samples.channels[c].values[i];
      if (!std::isfinite(v)) continue;
      std::snprintf(buffer, sizeof buffer, "%.9g", v);
      out += buffer;
    }
    out += '\n';
  }
  return out;
}

}  // namespace fortitor
