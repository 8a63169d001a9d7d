#include "app/stages/early_leave.h"

#include <QHBoxLayout>
#include <QLineEdit>
#include <QPushButton>

#include "app/theme/parts.h"

namespace fortitor {

EarlyLeave::EarlyLeave(Workbench* bench, TimerBoard* timers, QWidget* parent)
    : QWidget(parent), bench_(bench), timers_(timers) {
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(0, 0, 0, 0);
  reason_ = new QLineEdit;
  reason_->setProperty("key", "early-reason");
  reason_->setPlaceholderText(spoken("Why it may be run before its time"));
  reason_->setAccessibleName(spoken("Why it may be run before its time"));
  auto* button = parts::button("Run it all the same", "early-accept");
  row->addWidget(reason_, 1);
  row->addWidget(button);
  connect(button, &QPushButton::clicked, this, &EarlyLeave::accept);
  connect(reason_, &QLineEdit::returnPressed, this, &EarlyLeave::accept);
}

void EarlyLeave::accept() {
  if (reason_->text().trimmed().isEmpty()) return bench_->say("A reason is wanted: it stays with the record.");
  timers_->accept_early(reason_->text());
  reason_->clear();
  bench_->say("");
  emit given();
}

}  // namespace fortitor
