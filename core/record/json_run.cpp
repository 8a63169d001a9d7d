// The "run" of a record document: segments with channels, tables, single values.
#include <cmath>
#include <limits>

#include <algorithm>
#include <map>

#include "core/record/json_value.h"

namespace fortitor::record_json {
namespace {

Failure read_channels(const Json& j, const std::string& where, const Schema& schema, Segment& segment) {
  if (!j.is_object()) return at(where, "expected an object");
  auto samples = std::make_shared<Samples>();
  bool first = true;
  size_t rows = 0;
  for (const auto& [name, value] : j.items()) {
    const std::string here = where + "." + name;
    const ChannelSpec* channel = schema.channel(name);
    if (channel == nullptr) return at(here, "unknown channel");
    const Dimension d = channel->dimension;
    if (!value.is_object()) return at(here, "expected an object");
    ChannelSource source;
    const Json* values = nullptr;
    for (const auto& [key, inner] : value.items()) {
      if (key == "column") {
        if (inner.is_number_unsigned())
          source.column = inner.dump();
        else if (Failure f = read_text(inner, here + ".column", source.column))
          return f;
      } else if (key == "unit") {
        if (Failure f = read_text(inner, here + ".unit", source.unit)) return f;
      } else if (key == "values") {
        values = &inner;
      } else {
        return at(here + "." + key, "unknown");
      }
    }
    const Unit* unit = nullptr;
    if (!source.unit.empty()) {
      unit = find_unit(source.unit, d);
      if (unit == nullptr)
        return at(here + ".unit", "“" + source.unit + "” is no unit of " + std::string(dimension_phrase(d)));
    }
    if (values != nullptr) {
      if (!segment.file.empty()) return at(here + ".values", "a run has a file or values, not both");
      if (unit == nullptr && d != Dimension::none) return at(here + ".unit", "missing");
      if (!values->is_array()) return at(here + ".values", "expected a list of numbers");
      if (!first && values->size() != rows)
        return at(here + ".values", "has " + std::to_string(values->size()) + " values where other channels have " +
                                        std::to_string(rows));
      rows = values->size();
      first = false;
      Channel c{name, {}};
      c.values.reserve(rows);
      for (size_t i = 0; i < rows; ++i) {
        const Json& v = (*values)[i];
        if (v.is_null())
          c.values.push_back(std::numeric_limits<double>::quiet_NaN());
        else if (v.is_number())
          c.values.push_back(unit == nullptr ? v.get<double>() : v.get<double>() * unit->factor + unit->offset);
        else
          return at(here + ".values[" + std::to_string(i) + "]", "expected a number or null");
      }
      samples->channels.push_back(std::move(c));
    } else if (source.column.empty()) {
      return at(here, "needs a column or values");
    } else {
      segment.mapping[name] = source;
    }
  }
  // In the order in which the method names them, whatever the order of the document.
  std::map<std::string, size_t> places;
  for (const ChannelSpec& c : schema.channels) places.emplace(c.name, places.size());
  for (const SegmentSpec& spec : schema.segments)
    for (const ChannelSpec& c : spec.channels) places.emplace(c.name, places.size());
  auto place = [&](const Channel& c) { return places.at(c.name); };
  std::stable_sort(samples->channels.begin(), samples->channels.end(),
                   [&](const Channel& a, const Channel& b) { return place(a) < place(b); });
  if (!samples->channels.empty()) segment.samples = samples;
  return std::nullopt;
}

Failure read_row(const Json& j, const std::string& here, const TableSpec& table, Row& row, const Faults& faults) {
  if (!j.is_object()) return at(here, "expected an object");
  for (const auto& [key, value] : j.items()) {
    if (key == "doubtful") {  // how records of version 0.1 marked a stop
      if (!value.is_boolean()) return at(here + ".doubtful", "expected true or false");
      if (value.get<bool>()) row.state = Row::State::doubtful;
      continue;
    }
    if (key == "state") {
      std::string word;
      if (Failure f = read_text(value, here + ".state", word)) return f;
      bool known = false;
      for (const Row::State s : {Row::State::used, Row::State::set_aside, Row::State::doubtful})
        if (word == row_state_word(s)) {
          row.state = s;
          known = true;
        }
      if (!known) return at(here + ".state", "“" + word + "” is none of used, set aside, doubtful");
      continue;
    }
    if (key == "note") {
      if (Failure f = read_text(value, here + ".note", row.note)) return f;
      continue;
    }
    const FieldSpec* column = table.column(key);
    const std::string place = here + "." + key;
    const auto v =
        column == nullptr ? Outcome<FieldValue>(at(place, "unknown")) : read_field(value, *column, place, faults);
    if (v)
      row.cells.set(key, *v);
    else if (Failure f = faults.take(v.error(), false))
      return f;
  }
  return std::nullopt;
}

// Rows, or plain values of one column (TableSpec::lists).
Failure read_rows(const Json& j, const std::string& here, const TableSpec& table, const FieldSpec* plain, Rows& rows,
                  const Faults& faults) {
  if (!j.is_array()) return at(here, "expected a list");
  for (size_t i = 0; i < j.size(); ++i) {
    Row row;
    if (plain != nullptr && !j[i].is_object()) {
      if (const auto v = read_field(j[i], *plain, here + "[" + std::to_string(i) + "]", faults))
        row.cells.set(plain->path, *v);
      else if (Failure f = faults.take(v.error(), false))
        return f;
      rows.push_back(std::move(row));
      continue;
    }
    if (Failure f = read_row(j[i], here + "[" + std::to_string(i) + "]", table, row, faults)) return f;
    rows.push_back(std::move(row));
  }
  return std::nullopt;
}

// A named segment: an object with `file` and `channels`.
Failure read_segment(const Json& j, const std::string& here, const Schema& schema, Segment segment, Run& run) {
  if (!j.is_object()) return at(here, "expected an object");
  if (j.contains("file"))
    if (Failure f = read_text(j["file"], here + ".file", segment.file)) return f;
  for (const auto& [key, value] : j.items()) {
    if (key == "file") continue;
    if (key != "channels") return at(here + "." + key, "unknown");
    if (Failure f = read_channels(value, here + ".channels", schema, segment)) return f;
  }
  run.segments.push_back(std::move(segment));
  return std::nullopt;
}

}  // namespace

namespace {

// The table that has plain lists under this key, and the column they fill.
const TableSpec* listed_in(const Schema& schema, const std::string& key, const FieldSpec*& column) {
  for (const TableSpec& t : schema.tables)
    for (const auto& [name, path] : t.lists)
      if (name == key) {
        column = t.column(path);
        return &t;
      }
  return nullptr;
}

}  // namespace

Failure read_run(const Json& j, const Schema& schema, TestRecord& record, const Faults& faults) {
  if (!j.is_object()) return at("run", "expected an object");
  Run& run = record.run;
  if (j.contains("file"))
    if (Failure f = read_text(j["file"], "run.file", run.segment().file)) return f;
  Json values = Json::object();  // what is left are fields under "run."
  for (const auto& [key, value] : j.items()) {
    const std::string here = "run." + key;
    const FieldSpec* plain = nullptr;
    if (key == "file") continue;
    if (key == "stopped") {
      if (Failure f = read_text(value, here, run.stopped)) return f;
    } else if (key == "open") {
      if (!value.is_boolean()) return at(here, "expected true or false");
      run.open = value.get<bool>();
    } else if (key == "channels") {
      if (Failure f = read_channels(value, here, schema, run.segment())) return f;
    } else if (const TableSpec* listed = listed_in(schema, key, plain)) {
      if (!run.rows(listed->id).empty() && !value.empty())
        return at(here, "the rows of " + listed->id + " are given once already");
      if (Failure f = read_rows(value, here, *listed, plain, run.tables[listed->id], faults)) return f;
    } else if (const TableSpec* table = schema.table(key)) {
      if (Failure f = read_rows(value, here, *table, nullptr, run.tables[key], faults)) return f;
    } else {
      const SegmentSpec* segment = nullptr;
      for (const SegmentSpec& s : schema.segments)
        if (s.id == key) segment = &s;
      if (segment == nullptr) {
        values[key] = value;
        continue;
      }
      if (segment->repeated != value.is_array())
        return at(here, segment->repeated ? "expected a list" : "expected an object");
      if (!segment->repeated) {
        if (Failure f = read_segment(value, here, schema, {key, {}, {}, nullptr}, run)) return f;
        continue;
      }
      for (size_t i = 0; i < value.size(); ++i)
        if (Failure f =
                read_segment(value[i], here + "[" + std::to_string(i) + "]", schema, {key, {}, {}, nullptr}, run))
          return f;
    }
  }
  return read_fields(values, "run", schema, record.fields, faults);
}

}  // namespace fortitor::record_json
