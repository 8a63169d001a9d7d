#include "core/bench/common.h"

#include <algorithm>

namespace fortitor::common {
namespace {

bool same(const FieldValue* a, const FieldValue* b) {
  return (a == nullptr) == (b == nullptr) && (a == nullptr || *a == *b);
}

// "equipment.load_cell." for a field of a slot, else nothing.
std::string slot_of(const std::string& path) {
  if (path.rfind("equipment.", 0) != 0) return {};
  return path.substr(0, path.find('.', 10) + 1);
}

void copy(Fields& to, const Fields& from, const std::string& path) {
  if (const FieldValue* v = from.find(path))
    to.set(path, *v);
  else
    to.erase(path);
}

}  // namespace

std::vector<const FieldSpec*> fields_of(const Method& method) {
  std::vector<const FieldSpec*> out;
  for (const FieldSpec& f : method.fields)
    if (holds_for_series(f)) out.push_back(&f);
  return out;
}

bool of_pieces(const std::string& limit_key) {
  return limit_key.find('.') == std::string::npos;
}

bool any(const TestRecord& record, const Method& method) {
  const auto all = fields_of(method);
  return std::any_of(record.limits.begin(), record.limits.end(), [](const auto& l) { return of_pieces(l.first); }) ||
         std::any_of(all.begin(), all.end(), [&](const FieldSpec* f) { return record.fields.has(f->path); });
}

int take_over(TestRecord& to, const TestRecord& from, const Method& method) {
  int n = 0;
  const TestRecord before = to;
  for (const FieldSpec* f : fields_of(method)) {
    const std::string slot = slot_of(f->path);
    const bool own =
        slot.empty() ? before.fields.has(f->path) : before.fields.any_under(slot.substr(0, slot.size() - 1));
    const FieldValue* v = from.fields.find(f->path);
    if (own || v == nullptr) continue;
    to.fields.set(f->path, *v);
    ++n;
  }
  for (const auto& [key, limit] : from.limits)
    if (of_pieces(key)) n += to.limits.emplace(key, limit).second ? 1 : 0;
  return n;
}

void set(TestRecord& to, const TestRecord& from, const Method& method) {
  for (const FieldSpec* f : fields_of(method)) copy(to.fields, from.fields, f->path);
  std::erase_if(to.limits, [](const auto& l) { return of_pieces(l.first); });
  for (const auto& [key, limit] : from.limits)
    if (of_pieces(key)) to.limits[key] = limit;
}

void adopt(TestRecord& piece, const TestRecord& series, const Method& method) {
  for (const FieldSpec* f : fields_of(method)) {
    const std::string slot = slot_of(f->path);
    if (slot.empty() ? series.fields.has(f->path) : series.fields.any_under(slot.substr(0, slot.size() - 1)))
      copy(piece.fields, series.fields, f->path);
  }
  for (const auto& [key, limit] : series.limits)
    if (of_pieces(key)) piece.limits[key] = limit;
}

bool follow(TestRecord& piece, const TestRecord& before, const TestRecord& now, const Method& method) {
  const TestRecord was = piece;
  // A slot is followed as a whole: a cell of the piece's own keeps its own class.
  auto followed = [&](const std::string& slot) {
    for (const FieldSpec* f : fields_of(method))
      if (slot_of(f->path) == slot && was.fields.has(f->path) &&
          !same(was.fields.find(f->path), before.fields.find(f->path)))
        return false;
    return true;
  };
  bool changed = false;
  for (const FieldSpec* f : fields_of(method)) {
    const FieldValue *old = before.fields.find(f->path), *value = now.fields.find(f->path),
                     *own = was.fields.find(f->path);
    if (same(old, value) || same(own, value)) continue;
    const std::string slot = slot_of(f->path);
    if (slot.empty() ? own != nullptr && !same(own, old) : !followed(slot)) continue;
    copy(piece.fields, now.fields, f->path);
    changed = true;
  }
  auto limit_of = [](const TestRecord& r, const std::string& key) {
    const auto it = r.limits.find(key);
    return it == r.limits.end() ? Limit{} : it->second;
  };
  std::vector<std::string> keys;
  for (const TestRecord* r : {&before, &now})
    for (const auto& [key, limit] : r->limits)
      if (of_pieces(key)) keys.push_back(key);
  for (const std::string& key : keys) {
    const Limit old = limit_of(before, key), value = limit_of(now, key), own = limit_of(was, key);
    if (old == value || own == value || !(own == old || own == Limit{})) continue;
    if (value == Limit{})
      piece.limits.erase(key);
    else
      piece.limits[key] = value;
    changed = true;
  }
  return changed;
}

std::vector<std::string> differences(const TestRecord& piece, const TestRecord& series, const Method& method) {
  std::vector<std::string> out;
  for (const FieldSpec* f : fields_of(method))
    if (!f->brought && series.fields.has(f->path) && !same(piece.fields.find(f->path), series.fields.find(f->path)))
      out.push_back(f->label);
  for (const auto& [key, limit] : series.limits) {
    const auto it = piece.limits.find(key);
    if (!of_pieces(key) || (it != piece.limits.end() && it->second == limit)) continue;
    const auto spec = method.result(key);
    out.push_back("limit of " + (spec ? spec->name : key));
  }
  return out;
}

}  // namespace fortitor::common
