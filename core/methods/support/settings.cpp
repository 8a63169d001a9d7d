#include "core/methods/support/settings.h"

#include <algorithm>

namespace fortitor {
namespace {

bool asked_before(const std::string& path) {
  return path == "settings.decision" || path == "settings.compared" || path == "settings.convert_to";
}

bool of_the_number_written(const FieldSpec* f) {
  return asked_before(f->path) || f->path == "settings.rounding" || f->path == "settings.figures";
}

}  // namespace

std::vector<const FieldSpec*> settings_of_evaluation(const Method& method, const TestRecord& record) {
  std::vector<const FieldSpec*> out;
  for (const FieldSpec& f : method.fields) {
    const bool elsewhere = f.path == "settings.series.left_out" || f.path.ends_with(".what_if");
    const bool wanted = (f.stage == Stage::evaluate && !elsewhere) || asked_before(f.path);
    if (wanted && field_applies(f, record)) out.push_back(&f);
  }
  // The schools first, each with what it asks for behind it; how the number is written and compared last.
  const auto place = [&](const FieldSpec* f) -> size_t {
    for (size_t i = 0; i < method.schools.size(); ++i) {
      if (method.schools[i].setting == f->path) return 2 * i;
      if (method.schools[i].setting == f->when_path) return 2 * i + 1;
    }
    return 2 * method.schools.size() + (of_the_number_written(f) ? 1 : 0);
  };
  std::stable_sort(out.begin(), out.end(), [&](const FieldSpec* a, const FieldSpec* b) { return place(a) < place(b); });
  return out;
}

bool other_than_usual(const FieldSpec& field, const Fields& fields) {
  if (!fields.has(field.path)) return false;
  return !(field.first_is_usual && !field.choices.empty() && fields.text(field.path) == field.choices.front().value);
}

}  // namespace fortitor
