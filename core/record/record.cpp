#include "core/record/record.h"

#include <algorithm>
#include <limits>

#include "core/record/field.h"

namespace fortitor {

Reading reading_of(const Quantity& q) {
  return {q.text(), q.value, q.resolution};
}

const FieldValue* Fields::find(const std::string& path) const {
  const auto it = values_.find(path);
  return it == values_.end() ? nullptr : &it->second;
}

bool Fields::any_under(const std::string& prefix) const {
  const auto it = values_.lower_bound(prefix + ".");
  return it != values_.end() && it->first.compare(0, prefix.size() + 1, prefix + ".") == 0;
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

const Reading* Fields::reading(const std::string& path) const {
  const FieldValue* v = find(path);
  if (v == nullptr) return nullptr;
  if (const auto* one = std::get_if<Reading>(v)) return one;
  if (const auto* list = std::get_if<Readings>(v)) return list->size() == 1 ? &list->front() : nullptr;
  return nullptr;
}

SamplesPtr Run::samples(const std::string& name, size_t index) const {
  for (const Segment& s : segments)
    if (s.name == name && index-- == 0) return s.samples;
  return nullptr;
}

void Run::set_samples(SamplesPtr samples, const std::string& name) {
  if (samples || find_segment(name) != nullptr) segment(name).samples = std::move(samples);
}

Segment& Run::segment(const std::string& name) {
  for (Segment& s : segments)
    if (s.name == name) return s;
  segments.push_back({name, {}, {}, nullptr});
  return segments.back();
}

const Segment* Run::find_segment(const std::string& name) const {
  for (const Segment& s : segments)
    if (s.name == name) return &s;
  return nullptr;
}

const Rows& Run::rows(const std::string& table) const {
  static const Rows none;
  const auto it = tables.find(table);
  return it == tables.end() ? none : it->second;
}

size_t Run::row_count() const {
  size_t n = 0;
  for (const auto& [id, rows] : tables) n += rows.size();
  return n;
}

bool Run::has_samples() const {
  for (const Segment& s : segments)
    if (s.samples) return true;
  return false;
}

void Run::drop_samples() {
  for (Segment& s : segments) s.samples = nullptr;
}

const Answer* TestRecord::answer(const std::string& code) const {
  for (auto it = answers.rbegin(); it != answers.rend(); ++it)
    if (it->code == code) return &*it;
  return nullptr;
}

std::string_view row_state_word(Row::State state) {
  switch (state) {
    case Row::State::set_aside: return "set aside";
    case Row::State::doubtful: return "doubtful";
    case Row::State::used: break;
  }
  return "used";
}

bool TestRecord::has_run() const {
  if (run.has_samples() || run.open) return true;
  // What is drawn of a piece (core/record/field.h, TableSpec::stage) may be drawn before its file is brought.
  for (const auto& [id, rows] : run.tables)
    if (id != "drawn" && !rows.empty()) return true;
  const auto& all = fields.all();
  // A tick, and what belongs to the machine ("run.pendulum.mass"), is known before; single values are read.
  for (auto it = all.lower_bound("run."); it != all.end() && it->first.compare(0, 4, "run.") == 0; ++it)
    if (!std::holds_alternative<bool>(it->second) &&
        (it->first.find('.', 4) == std::string::npos || it->first.compare(0, 11, "run.unload.") == 0))
      return true;
  return false;
}

bool mark_row(TestRecord& record, const std::string& path, const std::string& typed) {
  const std::string prefix = "run.", tail = ".state";
  const size_t dot = path.find('.', prefix.size());
  if (path.compare(0, prefix.size(), prefix) != 0 || dot == std::string::npos || path.size() <= dot + 1 + tail.size() ||
      path.compare(path.size() - tail.size(), tail.size(), tail) != 0)
    return false;
  const auto table = record.run.tables.find(path.substr(prefix.size(), dot - prefix.size()));
  if (table == record.run.tables.end()) return false;
  size_t row = 0;
  for (size_t i = dot + 1; i < path.size() - tail.size(); ++i) {
    if (path[i] < '0' || path[i] > '9' || row > 1000000) return false;
    row = 10 * row + size_t(path[i] - '0');
  }
  if (row >= table->second.size()) return false;
  for (const Row::State s : {Row::State::used, Row::State::set_aside, Row::State::doubtful})
    if (typed == row_state_word(s)) {
      table->second[row].state = s;
      return true;
    }
  return false;
}

const FieldSpec* TableSpec::column(const std::string& name) const {
  if (control && control->path == name) return &*control;
  for (const FieldSpec& c : columns)
    if (c.path == name) return &c;
  return nullptr;
}

TableSpec TableSpec::for_record(const TestRecord& record) const {
  TableSpec t = *this;
  std::erase_if(t.columns, [&](const FieldSpec& c) { return !field_applies(c, record); });
  std::erase_if(t.marks, [&](const RowMark& m) {
    if (std::none_of(t.columns.begin(), t.columns.end(), [&](const FieldSpec& c) { return c.path == m.column; }))
      return true;
    const size_t is = m.when.find('=');
    return is != std::string::npos && record.fields.text(m.when.substr(0, is)) != m.when.substr(is + 1);
  });
  return t;
}

const Unit& bare_unit(const FieldSpec& field, UnitSet set) {
  const Unit* own = field.unit.empty() ? nullptr : find_unit(field.unit, field.dimension);
  return own != nullptr ? *own : display_unit(field.dimension, set, 0);
}

std::vector<std::string> words_of(const std::string& kept) {
  std::vector<std::string> out;
  for (size_t at = 0; at < kept.size();) {
    const size_t end = std::min(kept.find(';', at), kept.size());
    if (end > at) out.push_back(kept.substr(at, end - at));
    at = end + 1;
  }
  return out;
}

std::string kept_words(const std::vector<std::string>& words) {
  std::string out;
  for (const std::string& w : words) out += (out.empty() ? "" : ";") + w;
  return out;
}

bool holds_for_series(const FieldSpec& f) {
  if (f.common) return *f.common;
  if (f.kind == FieldKind::picture || f.kind == FieldKind::readings || f.kind == FieldKind::flag ||
      f.stage == Stage::run)
    return false;
  if (f.stage == Stage::prepare || f.stage == Stage::set_up || f.path.rfind("equipment.", 0) == 0) return true;
  return f.stage == Stage::measure && f.kind == FieldKind::choice;
}

bool field_applies(const FieldSpec& f, const TestRecord& r) {
  if (f.when_path.empty()) return true;
  if (f.when_at_least > 0) return r.fields.number(f.when_path).value_or(0) >= f.when_at_least;
  const FieldValue* v = r.fields.find(f.when_path);
  if (v == nullptr && f.when_default) return true;
  if (const auto* flag = v != nullptr ? std::get_if<bool>(v) : nullptr)
    return f.when_value == (*flag ? "true" : "false");
  // One value, or several parted by bars.
  const std::string is = r.fields.text(f.when_path);
  for (size_t at = 0; at <= f.when_value.size();) {
    const size_t end = std::min(f.when_value.find('|', at), f.when_value.size());
    if (f.when_value.compare(at, end - at, is) == 0) return true;
    at = end + 1;
  }
  return false;
}

const FieldSpec* Schema::field(const std::string& path) const {
  for (const FieldSpec& f : fields)
    if (f.path == path) return &f;
  return nullptr;
}

const TableSpec* Schema::table(const std::string& wanted) const {
  for (const TableSpec& t : tables)
    if (t.id == wanted) return &t;
  return nullptr;
}

const ChannelSpec* Schema::channel(const std::string& name) const {
  for (const ChannelSpec& c : channels)
    if (c.name == name) return &c;
  for (const SegmentSpec& s : segments)
    for (const ChannelSpec& c : s.channels)
      if (c.name == name) return &c;
  return nullptr;
}

}  // namespace fortitor
