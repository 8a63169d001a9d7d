#include "app/model/field_host.h"

#include "core/bench/material.h"
#include "core/record/json.h"

namespace fortitor {

Outcome<FieldValue> FieldHost::parse_field(const FieldSpec& field, const QString& typed) const {
  const std::string text = typed.trimmed().toStdString();
  const Unit* own = field.unit.empty() ? nullptr : &bare_unit(field, units());
  switch (field.kind) {
    case FieldKind::text:
    case FieldKind::picture:
    case FieldKind::choice:
    case FieldKind::choices: return FieldValue(text);
    case FieldKind::date: {
      auto day = parse_day(text, today(), field.sense);
      if (!day) return day.error();
      return FieldValue(*day);
    }
    case FieldKind::flag: return FieldValue(text == "true");
    case FieldKind::number: {
      auto q = parse_quantity(text, Dimension::none, {units(), nullptr});
      if (!q) return q.error();
      return FieldValue(q->value);
    }
    case FieldKind::readings:
    case FieldKind::texts: {
      // A list of readings that no sketch shows is typed as one line: "10.02; 10.01; 10.03".
      if (field.kind == FieldKind::readings && !typed.contains(';')) break;
      Readings list;
      for (const QString& part : typed.split(';', Qt::SkipEmptyParts)) {
        if (field.kind == FieldKind::readings && part.trimmed() == "missed") {
          list.push_back({});
          list.back().typed = "missed";
          continue;
        }
        auto q = parse_quantity(part.toStdString(), field.dimension, {units(), own});
        if (!q) return q.error();
        list.push_back(readable(reading_of(*q), field.dimension));
        if (const auto broken = broken_rule(list.back(), field); broken && field.kind == FieldKind::readings)
          return InputError{*broken + ".", {}};
      }
      return FieldValue(list);
    }
    case FieldKind::quantity: break;
  }
  auto q = parse_quantity(text, field.dimension, {units(), own});
  if (!q) return q.error();
  if (q->value < 0 && field.dimension == Dimension::length && !field.may_be_negative)
    return InputError{field.label + " cannot be negative.", {}};
  const Reading reading = readable(reading_of(*q), field.dimension);
  if (const auto broken = broken_rule(reading, field)) return InputError{*broken + ".", {}};
  return FieldValue(reading);
}

void FieldHost::set_field(const FieldSpec& field, const QString& typed) {
  const QString what = QString::fromStdString(field.label);
  if (typed.trimmed().isEmpty()) {
    if (record().fields.has(field.path)) edit(what + " cleared", [&](TestRecord& r) { r.fields.erase(field.path); });
    return;
  }
  auto value = parse_field(field, typed);
  if (!value) {
    say(what + ": " + QString::fromStdString(value.error().message));
    return;
  }
  const FieldValue* now = record().fields.find(field.path);
  if (now != nullptr && *now == *value) return;
  if (const Method* m = host_method(); m != nullptr && field.from_reference)
    return edit(what + ": " + typed,
                [&](TestRecord& r) { material::set(r, *m, field, std::get<std::string>(*value)); });
  edit(what + ": " + typed, [&](TestRecord& r) { r.fields.set(field.path, *value); });
}

}  // namespace fortitor
