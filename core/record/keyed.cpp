#include "core/record/keyed.h"

#include <algorithm>
#include <cmath>

namespace fortitor {
namespace {

// "5:42.5": marks of the drum and divisions.
Outcome<Reading> read_drum(const std::string& text, size_t colon, int drum) {
  auto marks = parse_quantity(text.substr(0, colon), Dimension::none);
  auto fine = parse_quantity(text.substr(colon + 1), Dimension::none);
  if (!marks || !fine)
    return InputError{"“" + text + "” is no reading of the drum: marks, a colon, divisions, such as 5:42.5.", {}};
  if (marks->value < 0 || marks->value != std::floor(marks->value))
    return InputError{"“" + text + "”: marks are whole numbers.", {}};
  if (fine->value < 0 || fine->value >= drum)
    return InputError{
        "“" + text + "”: a mark has " + std::to_string(drum) + " divisions, so the drum shows less than that.", {}};
  Reading r;
  r.typed = text;
  r.value = marks->value * drum + fine->value;
  r.resolution = fine->resolution;
  r.counted = true;
  return r;
}

Readings list_of(const Row& row, const FieldSpec& column) {
  return row.cells.readings(column.path);
}

}  // namespace

Outcome<Reading> read_keyed(const std::string& text, const FieldSpec& field, const TypingContext& context) {
  if (field.division_path.empty()) {
    auto q = parse_quantity(text, field.dimension, context);
    if (!q) return q.error();
    return reading_of(*q);
  }
  if (const size_t colon = text.find(':'); colon != std::string::npos && field.drum > 0)
    return read_drum(text, colon, field.drum);
  if (auto count = parse_quantity(text, Dimension::none)) {
    if (count->value < 0) return InputError{"“" + text + "”: a drum counts from zero.", {}};
    Reading r = reading_of(*count);
    r.counted = true;
    return r;
  }
  auto q = parse_quantity(text, field.dimension, context);
  if (!q) return q.error();
  return reading_of(*q);
}

bool cell_complete(const Row& row, const FieldSpec& column) {
  if (column.kind != FieldKind::readings) return row.has(column.path);
  const Readings list = list_of(row, column);
  if (list.empty()) return false;
  const bool length = !column.division_path.empty() && !list.front().missed() && !list.front().counted;
  return length || list.front().missed() || int(list.size()) >= column.wanted;
}

std::optional<double> cell_value(const Row& row, const FieldSpec& column, const TestRecord& record) {
  if (!row.has(column.path) || !cell_complete(row, column)) return std::nullopt;
  const Readings list = list_of(row, column);
  if (list.empty()) return std::nullopt;
  for (const Reading& r : list)
    if (r.missed()) return std::nullopt;
  const bool counted = list.front().counted;
  for (const Reading& r : list)
    if (r.counted != counted) return std::nullopt;  // a length and a count of divisions make nothing
  if (!counted) {
    double sum = 0;
    for (const Reading& r : list) sum += *r.value;
    return sum / double(list.size());
  }
  const auto division = record.fields.number(column.division_path);
  if (!division) return std::nullopt;
  if (list.size() < 2) return *list.front().value * *division;
  return std::abs(*list[1].value - *list[0].value) * *division;
}

}  // namespace fortitor
