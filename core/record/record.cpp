#include "core/record/record.h"

#include <limits>

namespace fortitor {

Reading reading_of(const Quantity& q) {
  return {q.text(), q.value, q.resolution};
}

const FieldValue* Fields::find(const std::string& path) const {
  const auto it = values_.find(path);
  return it == values_.end() ? nullptr : &it->second;
}

std::string Fields::text(const std::string& path) const {
  const FieldValue* v = find(path);
  if (v == nullptr) return {};
  const auto* s = std::get_if<std::string>(v);
  return s != nullptr ? *s : std::string();
}

std::optional<double> Fields::number(const std::string& path) const {
  const FieldValue* v = find(path);
  if (v == nullptr) return std::nullopt;
  if (const auto* r = std::get_if<Reading>(v)) return r->value;
  if (const auto* d = std::get_if<double>(v)) return *d;
  if (const auto* list = std::get_if<Readings>(v))
    if (list->size() == 1) return list->front().value;
  return std::nullopt;
}

bool Fields::flag(const std::string& path, bool otherwise) const {
  const FieldValue* v = find(path);
  if (v == nullptr) return otherwise;
  const auto* b = std::get_if<bool>(v);
  return b != nullptr ? *b : otherwise;
}

Readings Fields::readings(const std::string& path) const {
  const FieldValue* v = find(path);
  if (v == nullptr) return {};
  if (const auto* list = std::get_if<Readings>(v)) return *list;
  if (const auto* one = std::get_if<Reading>(v)) return {*one};
  return {};
}

const Channel* Samples::find(const std::string& name) const {
  for (const Channel& c : channels)
    if (c.name == name) return &c;
  return nullptr;
}

Channel& Samples::column(const std::string& name) {
  for (Channel& c : channels)
    if (c.name == name) return c;
  const size_t n = size();
  channels.push_back({name, std::vector<double>(n, std::numeric_limits<double>::quiet_NaN())});
  return channels.back();
}

std::optional<double> Station::number(const std::string& channel) const {
  const auto it = readings.find(channel);
  return it == readings.end() ? std::nullopt : it->second.value;
}

const Answer* TestRecord::answer(const std::string& code) const {
  for (auto it = answers.rbegin(); it != answers.rend(); ++it)
    if (it->code == code) return &*it;
  return nullptr;
}

bool mark_station(TestRecord& record, const std::string& path, const std::string& typed) {
  const std::string prefix = "run.stations.", tail = ".doubtful";
  if (path.compare(0, prefix.size(), prefix) != 0 || path.size() <= prefix.size() + tail.size() ||
      path.compare(path.size() - tail.size(), tail.size(), tail) != 0)
    return false;
  size_t stop = 0;
  for (size_t i = prefix.size(); i < path.size() - tail.size(); ++i) {
    if (path[i] < '0' || path[i] > '9' || stop > 100000) return false;
    stop = 10 * stop + size_t(path[i] - '0');
  }
  if (stop >= record.run.stations.size()) return false;
  record.run.stations[stop].doubtful = typed == "true";
  return true;
}

}  // namespace fortitor
