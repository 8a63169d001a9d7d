#include "app/stages/how_panel.h"

#include <QGridLayout>
#include <QStyle>
#include <algorithm>

#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "core/methods/support/settings.h"

namespace fortitor {
namespace {

using parts::qs;

QString usual_of(const FieldSpec& f) {
  if (!f.usual.empty()) return qs(f.usual);
  if (f.first_is_usual && !f.choices.empty()) return qs(f.choices.front().label);
  return "none";
}

}  // namespace

HowPanel::HowPanel(Workbench* bench, QWidget* parent) : QFrame(parent), bench_(bench) {
  setObjectName("sheet");
  auto* column = parts::column(this, 12, 8);
  column->addWidget(parts::label("How it is computed", "title"));
  lead_ = parts::label("", "hint");
  column->addWidget(lead_);
  auto* content = new QWidget;
  content->setObjectName("plain");
  grid_ = new QGridLayout(content);
  grid_->setContentsMargins(0, 0, 6, 0);
  grid_->setHorizontalSpacing(8);
  grid_->setVerticalSpacing(2);
  grid_->setColumnStretch(0, 1);
  column->addWidget(parts::scroller(content), 1);
  setFixedWidth(int(286 * std::min(1.4, theme::scale())));
}

void HowPanel::rebuild() {
  parts::clear(grid_);
  for (int i = 0; i < grid_->rowCount(); ++i) grid_->setRowStretch(i, 0);
  rows_.clear();
  if (!bench_->has_specimen()) return;
  int line = 0;
  for (const FieldSpec* f : settings_of_evaluation(bench_->method(), bench_->record())) {
    auto* edit = new FieldEdit(bench_, *f);
    auto* usual = parts::label("", "hint");
    auto* back = parts::button("as usual", "usual:" + qs(f->path), "flat");
    back->setAccessibleName(spoken(qs(f->label) + " as usual"));
    connect(back, &QPushButton::clicked, this, [this, f] { bench_->set_field(*f, {}); });
    grid_->addWidget(edit, line, 0, 1, 2);
    grid_->addWidget(usual, line + 1, 0);
    grid_->addWidget(back, line + 1, 1, Qt::AlignRight | Qt::AlignTop);
    grid_->setRowMinimumHeight(line + 2, 6);
    line += 3;
    rows_.push_back({f, edit, usual, back});
  }
  grid_->setRowStretch(line, 1);
  refresh();
}

void HowPanel::refresh() {
  if (!bench_->has_specimen()) return;
  const auto wanted = settings_of_evaluation(bench_->method(), bench_->record());
  // A choice opens or closes others.
  const bool same = std::equal(wanted.begin(), wanted.end(), rows_.begin(), rows_.end(),
                               [](const FieldSpec* a, const Row& b) { return a == b.field; });
  if (!same) return rebuild();
  int others = 0;
  for (const Row& r : rows_) {
    const bool other = other_than_usual(*r.field, bench_->record().fields);
    others += other;
    r.edit->refresh();
    r.usual->setText(spoken("usual: " + usual_of(*r.field)));
    r.usual->setObjectName(other ? "wordNear" : "hint");
    r.usual->style()->unpolish(r.usual);
    r.usual->style()->polish(r.usual);
    r.usual->setVisible(other);  // otherwise the field itself says it
    r.back->setVisible(other);
  }
  lead_->setText(spoken(bench_->what_if()
                            ? QString("Tried beside the original, which is drawn paler: keep it or drop it after.")
                        : others == 0 ? QString("Everything as usual.")
                                      : QString::number(others) + (others == 1 ? " choice is" : " choices are") +
                                            " other than usual. Each is on the certificate."));
}

}  // namespace fortitor
