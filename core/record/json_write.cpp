#include <algorithm>
#include <cmath>

#include "core/json/json.h"
#include "core/quantity/plain.h"
#include "core/record/json.h"

namespace fortitor {
namespace {

Json reading_json(const Reading& r) {
  if (r.missed()) return nullptr;
  if (r.source.empty() && !(r.standard > 0)) return r.typed;
  Json j = {{"typed", r.typed}};
  if (!r.source.empty()) j["source"] = r.source;
  if (!r.heard.empty()) j["heard"] = r.heard;
  // Distances alone are read on photographs.
  if (r.standard > 0) j["uncertainty"] = plain::shortest(r.standard) + " mm";
  return j;
}

Json value_json(const FieldValue& v) {
  if (const auto* s = std::get_if<std::string>(&v)) return *s;
  if (const auto* r = std::get_if<Reading>(&v)) return reading_json(*r);
  if (const auto* d = std::get_if<double>(&v)) return *d;
  if (const auto* b = std::get_if<bool>(&v)) return *b;
  Json list = Json::array();
  for (const Reading& r : std::get<Readings>(v)) list.push_back(reading_json(r));
  return list;
}

void set_path(Json& root, const std::string& path, Json value) {
  Json* at = &root;
  size_t start = 0;
  for (size_t dot = path.find('.'); dot != std::string::npos; dot = path.find('.', start)) {
    at = &(*at)[path.substr(start, dot - start)];
    start = dot + 1;
  }
  (*at)[path.substr(start)] = std::move(value);
}

void put_fields(Json& j, const Fields& fields, const std::string& section, const Schema& schema) {
  const std::string prefix = section + ".";
  for (const auto& [path, value] : fields.all()) {
    if (path.compare(0, prefix.size(), prefix) != 0) continue;
    const FieldSpec* spec = schema.field(path);
    const bool list = spec != nullptr && spec->kind == FieldKind::choices;
    set_path(j, path, list ? Json(words_of(fields.text(path))) : value_json(value));
  }
}

Json row_json(const Row& row, const TableSpec* table) {
  Json j = Json::object();
  // The control first, then what was read: as a person reads the line.
  if (table != nullptr && table->control && row.has(table->control->path))
    j[table->control->path] = value_json(*row.cells.find(table->control->path));
  for (const auto& [name, value] : row.cells.all()) j[name] = value_json(value);
  if (!row.used()) j["state"] = row_state_word(row.state);
  if (!row.note.empty()) j["note"] = row.note;
  return j;
}

// Key and column of the plain list that says all that these rows hold; null when rows are needed.
const std::pair<std::string, std::string>* plain_list(const Rows& rows, const TableSpec* table) {
  if (table == nullptr || rows.empty()) return nullptr;
  for (const auto& list : table->lists)
    if (std::all_of(rows.begin(), rows.end(), [&](const Row& r) {
          return r.used() && r.note.empty() && r.cells.all().size() == 1 && r.has(list.second);
        }))
      return &list;
  return nullptr;
}

Json segment_json(const Segment& s, const Schema& schema) {
  Json j = Json::object();
  if (!s.file.empty()) j["file"] = s.file;
  for (const auto& [name, source] : s.mapping) {
    if (s.file.empty()) break;
    Json channel = {{"column", source.column}};
    if (!source.unit.empty()) channel["unit"] = source.unit;
    j["channels"][name] = channel;
  }
  if (s.file.empty() && s.samples) {
    for (const Channel& c : s.samples->channels) {
      Json values = Json::array();
      for (double v : c.values) values.push_back(std::isfinite(v) ? Json(v) : Json(nullptr));
      j["channels"][c.name] = {{"unit", written_unit(schema.channel(c.name))}, {"values", std::move(values)}};
    }
  }
  return j;
}

Json run_json(const TestRecord& record, const Schema& schema) {
  const Run& run = record.run;
  Json j = Json::object();
  if (const Segment* main = run.find_segment()) j = segment_json(*main, schema);
  for (const SegmentSpec& spec : schema.segments)
    for (const Segment& s : run.segments) {
      if (s.name != spec.id) continue;
      if (spec.repeated)
        j[spec.id].push_back(segment_json(s, schema));
      else
        j[spec.id] = segment_json(s, schema);
    }
  for (const auto& [id, rows] : run.tables) {
    const TableSpec* table = schema.table(id);
    const auto* plain = plain_list(rows, table);
    for (const Row& row : rows)
      if (plain != nullptr)
        j[plain->first].push_back(value_json(*row.cells.find(plain->second)));
      else
        j[id].push_back(row_json(row, table));
  }
  if (!run.stopped.empty()) j["stopped"] = run.stopped;
  if (run.open) j["open"] = true;
  return j;
}

}  // namespace

std::string written_unit(const ChannelSpec* channel) {
  if (channel == nullptr || channel->dimension == Dimension::none) return {};
  if (base_dimension(channel->dimension) == Dimension::angle) return "rad";
  const std::string unit(internal_symbol(channel->dimension));
  return unit == "ratio" ? "strain" : unit;
}

std::string write_record(const TestRecord& record, const Schema& schema, int indent) {
  Json j = {{"fortitor", "record/1"}, {"method", record.method}};
  if (!record.job.empty()) j["job"] = record.job;
  if (!record.series.empty()) j["series"] = record.series;
  if (!record.operator_name.empty()) j["operator"] = record.operator_name;
  if (!record.tested_at.empty()) j["tested_at"] = record.tested_at;
  for (const char* section : {"specimen", "conditions", "equipment", "settings"})
    put_fields(j, record.fields, section, schema);
  for (const auto& [key, limit] : record.limits) {
    Json l = Json::object();
    if (limit.min) l["min"] = reading_json(*limit.min);
    if (limit.max) l["max"] = reading_json(*limit.max);
    j["limits"][key] = l;
  }
  for (const Event& e : record.events) {
    Json event = {{"at", Json(e.at).dump() + " s"}, {"kind", e.kind}};
    if (!e.note.empty()) event["note"] = e.note;
    j["events"].push_back(std::move(event));
  }
  for (const Answer& a : record.answers)
    j["answers"].push_back({{"code", a.code}, {"remedy", a.remedy}, {"reason", a.reason}, {"by", a.by}, {"at", a.at}});
  if (!record.run.segments.empty() || record.run.row_count() > 0 || !record.run.stopped.empty() || record.run.open) {
    Json run = run_json(record, schema);
    if (!run.empty()) j["run"] = std::move(run);
  }
  put_fields(j, record.fields, "run", schema);
  return j.dump(indent);
}

}  // namespace fortitor
