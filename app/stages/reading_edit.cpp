#include "app/stages/reading_edit.h"

#include <QApplication>
#include <QClipboard>
#include <QKeyEvent>
#include <QRegularExpression>

#include "app/theme/parts.h"

namespace fortitor {
namespace {

using parts::mark_bad;
using parts::qs;

}  // namespace

QString shown_reading(const Reading& r, Dimension d, UnitSet set, bool with_unit) {
  if (r.missed()) return "missed";
  if (d == Dimension::none && !r.typed.empty()) return qs(r.typed);  // a plain number has no other unit
  const auto q = parse_quantity(r.typed, d, {set, nullptr});
  const Unit& unit = display_unit(d, set, *r.value);
  // Shown as typed while the unit is the one wanted: digits typed are digits meant.
  if (q && q->unit != nullptr && (q->unit->symbol == unit.symbol || (set == UnitSet::si && !q->unit->us_customary))) {
    if (with_unit || q->unit->symbol != unit.symbol) return qs(r.typed);
    QString number = qs(r.typed);
    number.chop(qs(unit.symbol).size());
    return number.trimmed().isEmpty() ? qs(r.typed) : number.trimmed();
  }
  return with_unit ? qs(format_value(*r.value, d, set, 5)) : qs(format_number(*r.value, d, set, 5));
}

ReadingEdit::ReadingEdit(Workbench* bench, const FieldSpec& field, int index, QWidget* parent)
    : QLineEdit(parent), bench_(bench), field_(field), index_(index) {
  setObjectName("reading");
  setProperty("key", qs(field.path) + "#" + QString::number(index));
  setAccessibleName(spoken(qs(field.label)) + (field.wanted > 1 ? " " + QString::number(index + 1) : ""));
  setPlaceholderText(spoken(qs(field.symbol) + (field.wanted > 1 ? QString::number(index + 1) : "")));
  refresh();
}

void ReadingEdit::refresh() {
  if (hasFocus() && isModified()) return;
  mark_bad(this, false);
  const Readings list = bench_->record().fields.readings(field_.path);
  if (index_ >= int(list.size()) || (list[size_t(index_)].missed() && field_.kind != FieldKind::readings)) {
    clear();
    setToolTip(spoken(qs(field_.hint)));
    return;
  }
  const Reading& r = list[size_t(index_)];
  setText(shown_reading(r, field_.dimension, bench_->units()));
  setToolTip(spoken(r.missed()         ? "Missed: it is never invented."
                    : r.source.empty() ? "Typed: " + qs(r.typed)
                    : r.heard.empty()
                        ? "Heard: " + qs(r.typed) + " from " + qs(r.source)
                        : "Typed: " + qs(r.typed) + " over " + qs(r.heard) + ", heard from " + qs(r.source)));
  setModified(false);
}

void ReadingEdit::store(const Reading& reading, const QString& what) {
  setModified(false);
  bench_->edit(what, [&](TestRecord& r) {
    if (field_.kind == FieldKind::quantity) {
      r.fields.set(field_.path, reading);
      return;
    }
    Readings list = r.fields.readings(field_.path);
    if (int(list.size()) <= index_) list.resize(size_t(index_) + 1);
    list[size_t(index_)] = reading;
    r.fields.set(field_.path, list);
  });
}

QString ReadingEdit::name() const {
  return qs(field_.label) + (field_.wanted > 1 ? " " + QString::number(index_ + 1) : "");
}

bool ReadingEdit::commit() {
  const QString typed = text().trimmed();
  const QString name = this->name();
  if (!isModified()) return true;
  if (typed.isEmpty()) {
    setModified(false);
    bench_->edit(name + " cleared", [&](TestRecord& r) {
      Readings list = r.fields.readings(field_.path);
      if (index_ < int(list.size())) list[size_t(index_)] = Reading{};
      while (!list.empty() && list.back().missed()) list.pop_back();
      if (list.empty() || field_.kind == FieldKind::quantity)
        r.fields.erase(field_.path);
      else
        r.fields.set(field_.path, list);
    });
    return true;
  }
  FieldSpec single = field_;
  single.kind = FieldKind::quantity;
  const auto value = bench_->parse_field(single, typed);
  if (!value) {
    mark_bad(this, true);
    bench_->say(name + ": " + qs(value.error().message));
    return false;
  }
  mark_bad(this, false);
  bench_->say("");
  store(std::get<Reading>(*value), name + " read " + typed);
  return true;
}

void ReadingEdit::keyPressEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) {
    if (commit()) {
      refresh();
      emit kept();
    }
    return;
  }
  if (event->key() == Qt::Key_M && text().isEmpty() && field_.kind == FieldKind::readings) {
    store(Reading{}, name() + " missed");
    refresh();
    emit kept();
    return;
  }
  if (event->matches(QKeySequence::Paste)) {
    const QStringList lines =
        QApplication::clipboard()->text().split(QRegularExpression("[\r\n\t]+"), Qt::SkipEmptyParts);
    if (lines.size() > 1) {
      emit column_pasted(lines);
      return;
    }
  }
  if (event->matches(QKeySequence::Undo) && !isModified()) return event->ignore();
  QLineEdit::keyPressEvent(event);
}

void ReadingEdit::focusInEvent(QFocusEvent* event) {
  QLineEdit::focusInEvent(event);
  selectAll();
}

void ReadingEdit::focusOutEvent(QFocusEvent* event) {
  QLineEdit::focusOutEvent(event);
  if (isModified() && commit()) refresh();
}

}  // namespace fortitor
