#include "app/stages/field_form.h"

#include <QGridLayout>
#include <QResizeEvent>
#include <algorithm>

#include "app/theme/parts.h"

namespace fortitor {

FieldForm::FieldForm(FieldHost* host, QWidget* parent) : QWidget(parent), host_(host) {
  auto* grid = new QGridLayout(this);
  setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Maximum);
  grid->setContentsMargins(0, 0, 0, 0);
  grid->setHorizontalSpacing(12);
  grid->setVerticalSpacing(8);
}

void FieldForm::show_fields(const std::vector<const FieldSpec*>& fields, int columns) {
  parts::clear(layout());
  edits_.clear();
  whole_.clear();
  columns_ = std::max(1, columns);  // of no fields there may be none
  for (const FieldSpec* f : fields) {
    edits_.push_back(new FieldEdit(host_, *f, this));
    if (columns_ > 1) edits_.back()->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);  // columns are equal
  }
  auto* grid = static_cast<QGridLayout*>(layout());
  for (int c = 0; c < columns_; ++c) grid->setColumnStretch(c, 1);
  arrange();
}

constexpr int kPair = 2;  // more beside each other are a strip, which stays one row

// Only what is wide moves, so that a form keeps its shape while a window is pulled.
void FieldForm::arrange() {
  auto* grid = static_cast<QGridLayout*>(layout());
  const int column = (contentsRect().width() - (columns_ - 1) * grid->horizontalSpacing()) / columns_;
  std::vector<bool> whole;
  for (const FieldEdit* e : edits_)
    whole.push_back(columns_ == kPair && std::max(e->wanted_width(), e->minimumSizeHint().width()) > column);
  for (FieldEdit* e : edits_) e->open_wide();
  if (whole == whole_) return;
  whole_ = whole;
  for (FieldEdit* e : edits_) grid->removeWidget(e);
  int row = 0, at = 0;
  for (size_t i = 0; i < edits_.size(); ++i) {
    if (whole_[i] && at > 0) ++row, at = 0;
    grid->addWidget(edits_[i], row, at, 1, whole_[i] ? columns_ : 1);
    at = whole_[i] ? columns_ : at + 1;
    if (at == columns_) ++row, at = 0;
  }
}

void FieldForm::resizeEvent(QResizeEvent* event) {
  QWidget::resizeEvent(event);
  arrange();
}

// Only now its parts have the letters they are shown in.
void FieldForm::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  arrange();
}

void FieldForm::refresh() {
  for (FieldEdit* e : edits_) e->refresh();
}

}  // namespace fortitor
