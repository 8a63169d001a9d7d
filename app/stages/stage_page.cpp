#include "app/stages/stage_page.h"

#include "app/theme/parts.h"

namespace fortitor {

std::vector<const FieldSpec*> StagePage::fields_of_stage() const {
  std::vector<const FieldSpec*> out;
  for (const FieldSpec& f : bench_->method().fields)
    if (f.stage == stage_ && !f.brought && !f.of_item && field_applies(f, bench_->record())) out.push_back(&f);
  return out;
}

std::vector<const FieldSpec*> StagePage::fields_of_item() const {
  std::vector<const FieldSpec*> out;
  for (const FieldSpec& f : bench_->method().fields)
    if (f.of_item) out.push_back(&f);
  return out;
}

QWidget* StagePage::guide_sheet() const {
  const StageGuide& guide = bench_->method().guide(stage_);
  auto* sheet = parts::sheet();
  auto* layout = parts::column(sheet, 14, 8);
  layout->addWidget(parts::label(parts::qs(guide.lead), "title"));
  for (const auto& line : guide.guidance) layout->addWidget(parts::label(parts::qs(line)));
  if (!guide.cautions.empty()) {
    layout->addSpacing(4);
    layout->addWidget(parts::label("Take care", "title"));
    for (const auto& line : guide.cautions) layout->addWidget(parts::label("△  " + parts::qs(line), "caution"));
  }
  layout->addStretch();
  auto* photograph = parts::button("Photograph the piece…", "stage-photograph");
  connect(photograph, &QPushButton::clicked, bench_, &Workbench::ask_photograph);
  layout->addWidget(photograph, 0, Qt::AlignLeft);
  return sheet;
}

}  // namespace fortitor
