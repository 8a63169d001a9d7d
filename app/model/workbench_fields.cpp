// What a person types for a field, and what is answered to a finding.
#include "app/model/workbench.h"

namespace fortitor {

Outcome<FieldValue> Workbench::parse_field(const FieldSpec& field, const QString& typed) const {
  const std::string text = typed.trimmed().toStdString();
  const Unit* own = field.unit.empty() ? nullptr : &bare_unit(field, units_);
  switch (field.kind) {
    case FieldKind::text:
    case FieldKind::choice: return FieldValue(text);
    case FieldKind::flag: return FieldValue(text == "true");
    case FieldKind::number: {
      auto q = parse_quantity(text, Dimension::none, {units_, nullptr});
      if (!q) return q.error();
      return FieldValue(q->value);
    }
    case FieldKind::texts: {
      Readings list;
      for (const QString& part : typed.split(';', Qt::SkipEmptyParts)) {
        auto q = parse_quantity(part.toStdString(), field.dimension, {units_, own});
        if (!q) return q.error();
        list.push_back(reading_of(*q));
      }
      return FieldValue(list);
    }
    case FieldKind::quantity:
    case FieldKind::readings: break;
  }
  auto q = parse_quantity(text, field.dimension, {units_, own});
  if (!q) return q.error();
  if (q->value < 0 && field.dimension == Dimension::length) return InputError{field.label + " cannot be negative.", {}};
  return FieldValue(reading_of(*q));
}

void Workbench::set_field(const FieldSpec& field, const QString& typed) {
  const QString what = QString::fromStdString(field.label);
  if (typed.trimmed().isEmpty()) {
    if (record_.fields.has(field.path)) edit(what + " cleared", [&](TestRecord& r) { r.fields.erase(field.path); });
    return;
  }
  auto value = parse_field(field, typed);
  if (!value) {
    emit message(what + ": " + QString::fromStdString(value.error().message));
    return;
  }
  const FieldValue* now = record_.fields.find(field.path);
  if (now != nullptr && *now == *value) return;
  edit(what + ": " + typed, [&](TestRecord& r) { r.fields.set(field.path, *value); });
}

void Workbench::answer(const Finding& finding, const Remedy& remedy, const QString& reason) {
  const Finding f = finding;
  edit(QString::fromStdString("answered " + f.code + ": " + remedy.label), [&](TestRecord& r) {
    for (const auto& [path, typed] : remedy.settings) {
      if (mark_row(r, path, typed)) continue;
      const FieldSpec* field = method_->field(path);
      if (field == nullptr) continue;
      if (const auto value = parse_field(*field, QString::fromStdString(typed))) r.fields.set(path, *value);
    }
    std::erase_if(r.answers, [&](const Answer& a) { return a.code == f.code; });
    r.answers.push_back({f.code, remedy.id, reason.toStdString(), book_->operator_name(), utc_now()});
  });
}

}  // namespace fortitor
