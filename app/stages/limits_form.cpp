#include "app/stages/limits_form.h"

#include <QComboBox>
#include <QGridLayout>
#include <algorithm>
#include <cmath>

#include "app/stages/reading_edit.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "core/record/json.h"
#include "core/series/series.h"

namespace fortitor {

using parts::qs;

Limitable Limitable::pieces_of(const Method& method) {
  return {method.limit_keys, method.result, [&method](const TestRecord& r) {
            std::vector<ResultSpec> out;
            for (const ResultSpec& spec : method.reported(r))
              if (method.limit_dimension && method.limit_dimension(spec.key) && !spec.symbol.empty())
                out.push_back(spec);
            return out;
          }};
}

Limitable Limitable::series_under(const Method& method, const std::string& result) {
  return {series_limits_of(method, result), [&method](const std::string& key) { return series_limit(method, key); }};
}

LimitsForm::LimitsForm(FieldHost* host, Limitable of, QWidget* parent)
    : QWidget(parent), host_(host), of_(std::move(of)) {
  setObjectName("plain");
  auto* column = parts::column(this, 0, 6);
  grid_ = new QGridLayout;
  grid_->setContentsMargins(0, 0, 0, 0);
  grid_->setHorizontalSpacing(8);
  grid_->setVerticalSpacing(6);
  grid_->addWidget(parts::label("at least", "hint"), 0, 1);
  grid_->addWidget(parts::label("at most", "hint"), 0, 2);
  grid_->setColumnStretch(0, 1);
  column->addLayout(grid_);
  others_ = new QComboBox;
  others_->setAccessibleName(spoken("A limit on another result"));
  others_->setProperty("key", "limit-other");
  column->addWidget(others_, 0, Qt::AlignLeft);
  connect(others_, &QComboBox::activated, this, [this](int at) {
    const std::string key = others_->itemData(at).toString().toStdString();
    if (key.empty()) return;
    add_line(key);
    lines_.back().min->setFocus();
  });
  others_->setVisible(bool(of_.others));
  for (const std::string& key : of_.first) add_line(key);
  refresh();
}

void LimitsForm::add_line(const std::string& key) {
  const auto spec = of_.result(key);
  if (!spec) return;
  int row = grid_->rowCount();
  auto* name = parts::label(qs(plain_symbol(spec->symbol)) + "  " + qs(spec->name));
  // A long word of another language must not push the fields out of sight.
  name->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
  name->setMinimumWidth(int(90 * theme::scale()));
  name->setToolTip(name->text());
  // One that is longer than its column stands above its fields.
  constexpr double kColumn = 115;
  int longest = 0;
  for (const QString& word : name->text().split(' '))
    longest = std::max(longest, name->fontMetrics().horizontalAdvance(word));
  const bool above = longest > kColumn * theme::scale();
  grid_->addWidget(name, row, 0, 1, above ? 3 : 1);
  if (above) ++row;
  Line line{key, new QLineEdit, new QLineEdit};
  for (QLineEdit* e : {line.min, line.max}) {
    e->setObjectName("number");
    e->setFixedWidth(int(88 * theme::scale()));
    e->setAccessibleName(spoken(qs(spec->name) + (e == line.min ? ", at least" : ", at most")));
    e->setProperty("key", qs("limit:" + key) + (e == line.min ? ":min" : ":max"));
    grid_->addWidget(e, row, e == line.min ? 1 : 2);
    connect(e, &QLineEdit::editingFinished, this, [this, line, e] { keep(line, e == line.min); });
  }
  lines_.push_back(line);
  offer_others();
}

// Those of common use stand first; any other number of the method is added by its name.
void LimitsForm::offer_others() {
  if (!of_.others) return;
  others_->clear();
  others_->addItem(spoken("A limit on…"), QString());
  for (const ResultSpec& spec : of_.others(host_->record())) {
    const bool there = std::any_of(lines_.begin(), lines_.end(), [&](const Line& l) { return l.key == spec.key; });
    if (!there) others_->addItem(spoken(qs(plain_symbol(spec.symbol)) + "  " + qs(spec.name)), qs(spec.key));
  }
}

void LimitsForm::keep(const Line& line, bool min) {
  QLineEdit* e = min ? line.min : line.max;
  if (!e->isModified()) return;
  e->setModified(false);
  const auto spec = of_.result(line.key);
  const QString typed = e->text().trimmed();
  std::optional<Reading> bound;
  if (!typed.isEmpty()) {
    // 22 is 22 %; 0.22 may be 22 % or 0.22 % and is asked back, as it is in a record.
    const TypingContext context{host_->units(), nullptr};
    const auto plain = parse_quantity(typed.toStdString(), spec->dimension, context);
    const bool ratio = plain && !plain->unit_typed && base_dimension(spec->dimension) == Dimension::strain &&
                       std::abs(plain->value) < 0.01;
    const auto read = ratio   ? read_limit(typed.toStdString(), spec->dimension, context)
                      : plain ? Outcome<Reading>(reading_of(*plain))
                              : Outcome<Reading>(plain.error());
    if (!read) {
      host_->say(qs(spec->name) + ": " + qs(read.error().message));
      e->setModified(true);
      return;
    }
    bound = readable(*read, spec->dimension);
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
  // What the record limits beyond the usual, out of a file or by the series, is seen too.
  for (const auto& [key, limit] : host_->record().limits)
    if (of_.result(key) &&
        std::none_of(lines_.begin(), lines_.end(), [&, k = key](const Line& l) { return l.key == k; }))
      add_line(key);
  for (const Line& line : lines_) {
    const auto it = host_->record().limits.find(line.key);
    const auto spec = of_.result(line.key);
    for (bool min : {true, false}) {
      QLineEdit* e = min ? line.min : line.max;
      if (e->isModified()) continue;
      const std::optional<Reading> bound = it == host_->record().limits.end() ? std::nullopt
                                           : min                              ? it->second.min
                                                                              : it->second.max;
      e->setText(bound ? shown_reading(*bound, spec->dimension, host_->units()) : QString());
      e->setToolTip(spoken(bound ? "Typed: " + qs(bound->typed) : QString()));
      e->setCursorPosition(0);
    }
  }
}

}  // namespace fortitor
