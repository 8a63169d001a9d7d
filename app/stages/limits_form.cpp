#include "app/stages/limits_form.h"

#include <QGridLayout>

#include "app/stages/field_edit.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "core/record/json.h"

namespace fortitor {

using parts::qs;

LimitsForm::LimitsForm(FieldHost* host, const Method& method, QWidget* parent)
    : QWidget(parent), host_(host), method_(method) {
  setObjectName("plain");
  auto* grid = new QGridLayout(this);
  grid->setContentsMargins(0, 0, 0, 0);
  grid->setHorizontalSpacing(8);
  grid->setVerticalSpacing(6);
  grid->addWidget(parts::label("at least", "hint"), 0, 1);
  grid->addWidget(parts::label("at most", "hint"), 0, 2);
  int n = 1;
  for (const std::string& key : method.limit_keys) {
    const auto spec = method.result(key);
    if (!spec) continue;
    grid->addWidget(parts::label(qs(plain_symbol(spec->symbol)) + "  " + qs(spec->name)), n, 0);
    Line line{key, new QLineEdit, new QLineEdit};
    for (QLineEdit* e : {line.min, line.max}) {
      e->setObjectName("number");
      e->setFixedWidth(int(88 * theme::scale()));
      e->setAccessibleName(qs(spec->name) + (e == line.min ? ", at least" : ", at most"));
      e->setProperty("key", qs("limit:" + key) + (e == line.min ? ":min" : ":max"));
      grid->addWidget(e, n, e == line.min ? 1 : 2);
      connect(e, &QLineEdit::editingFinished, this, [this, line, e] { keep(line, e == line.min); });
    }
    lines_.push_back(line);
    ++n;
  }
  grid->setColumnStretch(0, 1);
  refresh();
}

void LimitsForm::keep(const Line& line, bool min) {
  QLineEdit* e = min ? line.min : line.max;
  if (!e->isModified()) return;
  e->setModified(false);
  const auto spec = method_.result(line.key);
  const QString typed = e->text().trimmed();
  std::optional<Reading> bound;
  if (!typed.isEmpty()) {
    const auto q = parse_quantity(typed.toStdString(), spec->dimension, {host_->units(), nullptr});
    if (!q) {
      host_->say(qs(spec->name) + ": " + qs(q.error().message));
      e->setModified(true);
      return;
    }
    bound = readable(reading_of(*q), spec->dimension);
  }
  Limit wanted = host_->record().limits.count(line.key) != 0 ? host_->record().limits.at(line.key) : Limit{};
  (min ? wanted.min : wanted.max) = bound;
  if (const auto broken = broken_rule(wanted)) {  // the text stays to be mended
    host_->say(qs(spec->name) + ": " + qs(*broken) + ".");
    e->setModified(true);
    return;
  }
  host_->say("");
  host_->edit(
      "limit of " + qs(spec->name) + ": " + (min ? "at least " : "at most ") + (typed.isEmpty() ? "open" : typed),
      [&](TestRecord& r) {
        r.limits[line.key] = wanted;
        if (!wanted.min && !wanted.max) r.limits.erase(line.key);
      });
}

void LimitsForm::refresh() {
  for (const Line& line : lines_) {
    const auto it = host_->record().limits.find(line.key);
    const auto spec = method_.result(line.key);
    for (bool min : {true, false}) {
      QLineEdit* e = min ? line.min : line.max;
      if (e->isModified()) continue;
      const std::optional<Reading> bound = it == host_->record().limits.end() ? std::nullopt
                                           : min                              ? it->second.min
                                                                              : it->second.max;
      e->setText(bound ? shown_reading(*bound, spec->dimension, host_->units()) : QString());
      e->setToolTip(bound ? "Typed: " + qs(bound->typed) : QString());
      e->setCursorPosition(0);
    }
  }
}

}  // namespace fortitor
