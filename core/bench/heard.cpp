#include "core/bench/heard.h"

namespace fortitor {
namespace {

void mark(const Reading* before, Reading& after, const std::string& source) {
  if (after.missed()) return;
  const bool same = before != nullptr && before->typed == after.typed && before->value == after.value;
  if (same) {  // the list it stands in was typed anew around it
    after.source = before->source;
    after.heard = before->heard;
  } else if (!source.empty()) {
    after.source = source;
    after.heard.clear();
  } else if (before != nullptr && !before->source.empty()) {
    after.source = before->source;
    after.heard = before->heard.empty() ? before->typed : before->heard;
    if (after.heard == after.typed) after.heard.clear();  // back to what was heard
  }
}

void mark(const Fields& before, Fields& after, const std::string& source) {
  for (const auto& [path, value] : std::map<std::string, FieldValue>(after.all())) {
    const Readings was = before.readings(path);
    if (const auto* one = std::get_if<Reading>(&value)) {
      Reading marked = *one;
      mark(was.empty() ? nullptr : &was.front(), marked, source);
      if (!(marked == *one)) after.set(path, marked);
    } else if (const auto* list = std::get_if<Readings>(&value)) {
      Readings marked = *list;
      for (size_t i = 0; i < marked.size(); ++i) mark(i < was.size() ? &was[i] : nullptr, marked[i], source);
      if (!(marked == *list)) after.set(path, std::move(marked));
    }
  }
}

}  // namespace

void mark_heard(const TestRecord& before, TestRecord& after, const std::string& source) {
  mark(before.fields, after.fields, source);
  for (auto& [table, rows] : after.run.tables) {
    const Rows& was = before.run.rows(table);
    for (size_t i = 0; i < rows.size(); ++i) mark(i < was.size() ? was[i].cells : Fields{}, rows[i].cells, source);
  }
}

}  // namespace fortitor
