#include "core/bench/import_session.h"

#include <algorithm>
#include <cmath>

#include "core/json/json.h"
#include "core/quantity/date.h"

namespace fortitor {
namespace {

double peak_of(const std::vector<double>& column) {
  double most = NAN;
  for (double v : column)
    if (std::isfinite(v) && !(std::abs(v) <= std::abs(most))) most = v;
  return most;
}

std::optional<std::map<std::string, ChannelSource>> read_memory(const std::string& kept) {
  const auto j = Json::read(kept);
  if (!j.is_object()) return std::nullopt;
  std::map<std::string, ChannelSource> known;
  for (const auto& [channel, source] : j.items()) {
    if (!source.is_object() || !source.contains("column") || !source.contains("unit") ||
        !source["column"].is_string() || !source["unit"].is_string())
      return std::nullopt;
    known[channel] = {source["column"].get<std::string>(), source["unit"].get<std::string>()};
  }
  return known;
}

std::string unit_in(const CsvDialect& d, const std::string& column) {
  const auto at = std::find(d.columns.begin(), d.columns.end(), column);
  return at == d.columns.end() ? std::string() : d.units[size_t(at - d.columns.begin())];
}

}  // namespace

Outcome<std::shared_ptr<ImportSession>> ImportSession::read(const std::string& path,
                                                            const std::function<bool(double)>& heard) {
  auto file = read_machine_file(path, heard);
  if (!file) return file.error();
  return std::make_shared<ImportSession>(std::move(*file));
}

ImportSession::ImportSession(MachineFile file) : file_(std::make_shared<MachineFile>(std::move(file))) {
  for (const MachineBlock& b : file_->blocks) {
    peaks_.emplace_back();
    for (const auto& column : b.table.columns) peaks_.back().push_back(peak_of(column));
  }
}

std::string ImportSession::block_words(size_t block) const {
  const MachineBlock& b = file_->blocks[block];
  return (b.title.empty() ? "Table " + std::to_string(block + 1) : b.title) + " · " + std::to_string(b.table.rows()) +
         " rows";
}

void ImportSession::choose(size_t block, const Schema& schema, const std::optional<std::string>& remembered) {
  block_ = block;
  const CsvDialect& d = table().dialect;
  auto map = guess_mapping(d, schema);
  const auto known = remembered ? read_memory(*remembered) : std::nullopt;
  as_remembered_ = known.has_value();
  if (known) map = *known;
  columns_.clear();
  for (size_t i = 0; i < d.columns.size(); ++i) {
    Column c{d.columns[i], d.units[i], {}, peaks_[block][i]};
    for (const auto& [channel, source] : map) {
      if (source.column != c.name || schema.channel(channel) == nullptr) continue;
      c.channel = channel;
      if (!source.unit.empty()) c.unit = source.unit;
    }
    columns_.push_back(std::move(c));
  }
}

std::map<std::string, ChannelSource> ImportSession::mapping() const {
  std::map<std::string, ChannelSource> out;
  for (const Column& c : columns_)
    if (!c.channel.empty()) out[c.channel] = {c.name, c.unit};
  return out;
}

std::string ImportSession::memory() const {
  Json memory = Json::object();
  for (const auto& [channel, source] : mapping()) memory[channel] = {{"column", source.column}, {"unit", source.unit}};
  return memory.dump();
}

std::string ImportSession::missing(const Schema& schema) const {
  const auto map = mapping();
  for (const ChannelSpec& c : schema.channels)
    if (c.required && !map.contains(c.name)) return c.label;
  return {};
}

std::string ImportSession::words() const {
  const CsvDialect& d = table().dialect;
  std::string words = std::to_string(table().rows()) + " rows, " + std::to_string(d.columns.size()) + " columns, " +
                      (d.decimal == ',' ? "decimal comma" : "decimal point") +
                      (file_->encoding == "utf-8" ? "" : ", " + file_->encoding) + ". " +
                      (as_remembered_ ? "Mapped as last time." : "Mapped by name and unit: check it on the curve.");
  if (const FileSays said = says(block_); !said.tested_at.empty() || !said.operator_name.empty())
    words += " It says: tested" + (said.tested_at.empty() ? "" : " " + day_words(said.tested_at.substr(0, 10))) +
             (said.operator_name.empty() ? "" : " by " + said.operator_name) + ".";
  for (const std::string& note : file_->notes) words += " " + note;
  return words;
}

size_t ImportSession::rows(const std::vector<size_t>& blocks) const {
  size_t n = 0;
  for (size_t b : blocks) n += file_->blocks[b].table.rows();
  return n;
}

// A further table of the file may have its columns in units of its own: those count, unless somebody typed others for
// the table that is shown, which then say nothing about this one.
ImportSession::Conversion ImportSession::conversion(const std::vector<size_t>& blocks, const Schema& schema) const {
  return [blocks, file = file_, shown = block_, mapped = mapping(),
          method = &schema]() -> Outcome<std::vector<SamplesPtr>> {
    const CsvDialect& in_hand = file->blocks[shown].table.dialect;
    std::vector<SamplesPtr> out;
    for (size_t block : blocks) {
      const CsvTable& table = file->blocks[block].table;
      auto map = mapped;
      for (auto& [channel, source] : map) {
        const std::string here = unit_in(in_hand, source.column), own = unit_in(table.dialect, source.column);
        if (own == here) continue;
        if (source.unit != here)
          return InputError{"“" + source.column + "” is in " + own + " here and in " + here +
                                " in the table that is shown: import the two one by one.",
                            {std::to_string(out.size())}};
        source.unit = own;
      }
      const auto samples = samples_from_table(table, map, *method);
      if (!samples) return InputError{samples.error().message, {std::to_string(out.size())}};
      out.push_back(*samples);
    }
    return out;
  };
}

}  // namespace fortitor
