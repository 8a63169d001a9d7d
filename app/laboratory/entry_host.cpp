#include "app/laboratory/entry_host.h"

#include "app/theme/parts.h"
#include "store/signing.h"

namespace fortitor {

void EntryHost::take(const lab::Entry& entry) {
  entry_ = entry;
  draft_ = TestRecord{};
  draft_.fields = entry.fields;
}

std::vector<const FieldSpec*> EntryHost::shown() const {
  std::vector<const FieldSpec*> out;
  for (const FieldSpec& f : lab::schema(entry_.kind).fields)
    if (!f.brought && field_applies(f, draft_)) out.push_back(&f);
  return out;
}

// What has no name yet is held until it has one: nobody loses what was typed before it.
void EntryHost::edit(const QString&, const std::function<void(TestRecord&)>& change) {
  TestRecord after = draft_;
  change(after);
  lab::Entry e = entry_;
  e.fields = after.fields;
  if (lab::schema(e.kind).field("settings.name") != nullptr) e.name = e.text("name");
  if (e.name.empty() && e.id == 0) {
    draft_ = after;
    entry_.fields = after.fields;
    return emit changed();
  }
  Papers papers(*bench_->book());
  const bool keeps = e.kind == lab::kPerson || e.kind == lab::kHead || e.kind == lab::kTemplate;
  if (const auto allowed = may(papers, bench_->book()->operator_name(), "keeps"); keeps && !allowed) {
    say(parts::qs(allowed.error().message));
    return emit changed();
  }
  const auto kept = papers.save(e);
  if (!kept) {
    say(parts::qs(kept.error().message));
    return emit changed();
  }
  say("");
  e.id = *kept;
  entry_ = e;
  draft_ = after;
  emit changed();
}

}  // namespace fortitor
