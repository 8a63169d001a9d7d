#include <cmath>
#include <nlohmann/json.hpp>

#include "core/record/json.h"

namespace fortitor {
namespace {

using Json = nlohmann::ordered_json;

Json reading_json(const Reading& r) {
  return r.missed() ? Json(nullptr) : Json(r.typed);
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

Json station_json(const std::map<std::string, Reading>& readings) {
  Json j = Json::object();
  for (const auto& [name, reading] : readings) j[name] = reading_json(reading);
  return j;
}

Json run_json(const Run& run) {
  Json j = Json::object();
  if (!run.file.empty()) j["file"] = run.file;
  for (const auto& [name, source] : run.mapping) {
    if (run.file.empty()) break;
    Json channel = {{"column", source.column}};
    if (!source.unit.empty()) channel["unit"] = source.unit;
    j["channels"][name] = channel;
  }
  if (run.file.empty() && run.samples) {
    for (const Channel& c : run.samples->channels) {
      const Dimension* d = channel_dimension(c.name);
      std::string unit(d != nullptr ? internal_symbol(*d) : "");
      if (d != nullptr && base_dimension(*d) == Dimension::angle) unit = "rad";
      Json values = Json::array();
      for (double v : c.values) values.push_back(std::isfinite(v) ? Json(v) : Json(nullptr));
      j["channels"][c.name] = {{"unit", unit}, {"values", std::move(values)}};
    }
  }
  for (const Station& s : run.stations) {
    Json station = station_json(s.readings);
    if (s.doubtful) station["doubtful"] = true;
    if (!s.note.empty()) station["note"] = s.note;
    j["stations"].push_back(std::move(station));
  }
  if (!run.unload.empty()) j["unload"] = station_json(run.unload);
  for (const auto& [name, reading] : run.values) j[name] = reading_json(reading);
  if (!run.stopped.empty()) j["stopped"] = run.stopped;
  if (run.open) j["open"] = true;
  return j;
}

}  // namespace

std::string record_to_json(const TestRecord& record, int indent) {
  Json j = {{"fortitor", "record/1"}, {"method", record.method}};
  if (!record.job.empty()) j["job"] = record.job;
  if (!record.series.empty()) j["series"] = record.series;
  if (!record.operator_name.empty()) j["operator"] = record.operator_name;
  if (!record.tested_at.empty()) j["tested_at"] = record.tested_at;
  for (const char* section : {"specimen", "conditions", "equipment", "settings"}) {
    const std::string prefix = std::string(section) + ".";
    for (const auto& [path, value] : record.fields.all())
      if (path.compare(0, prefix.size(), prefix) == 0) set_path(j, path, value_json(value));
  }
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
  if (!record.run.empty() || !record.run.file.empty()) j["run"] = run_json(record.run);
  return j.dump(indent, ' ', false, Json::error_handler_t::replace);
}

}  // namespace fortitor
