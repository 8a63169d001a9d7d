// What is answered to a finding.
#include "app/model/workbench.h"

namespace fortitor {

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
    r.answers.push_back({f.code, remedy.id, reason.toStdString(), book_->operator_name(), clock().utc()});
  });
}

}  // namespace fortitor
