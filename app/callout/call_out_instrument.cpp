// The call-out sheet with an instrument: it stands where figure and drawing stood, and what it shows is judged before
// it is kept.
#include <cmath>

#include "app/callout/call_out_panel.h"
#include "app/callout/call_out_sheet.h"
#include "app/callout/so_far.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "core/record/keyed.h"

namespace fortitor {

using parts::qs;

void CallOutSheet::build_instrument() {
  machine_row_ = SIZE_MAX;
  const std::string& wanted = bench_->method().keyed_table()->instrument;
  if (instrument_ != nullptr) {
    instrument_->hide();
    instrument_->deleteLater();
    instrument_ = nullptr;
  }
  auto made = make_instrument(wanted);
  // The machine that swings is what is looked at; what helps to read its pieces stands beside the rows.
  const bool through = made != nullptr && made->holds_piece(), beside = made != nullptr && !through;
  figure_->set_first_panel_only(!through);
  figure_->setMinimumSize(220, through ? 150 : beside ? 170 : 0);
  sketch_->setMinimumSize(through ? 200 : 260, through ? 110 : 150);
  instrument_ = made.release();
  left_->removeWidget(figure_);
  lower_->removeWidget(figure_);
  left_->setStretchFactor(drawing_, beside ? 5 : 2);
  if (through) {
    left_->insertWidget(0, instrument_, 5);
    lower_->insertWidget(0, figure_, 1);
  } else {
    left_->insertWidget(beside ? 1 : 0, figure_, 3);
  }
  if (instrument_ == nullptr) return;
  if (beside) beside_->addWidget(instrument_, 0);
  connect(instrument_, &Instrument::says, bench_, &Workbench::say);
  connect(instrument_, &Instrument::changed, this, &CallOutSheet::refresh);
  live_ = new SoFar(&bench_->tasks(), instrument_);
  connect(live_, &SoFar::known, this, &CallOutSheet::refresh);
}

void CallOutSheet::look_into_instrument() {
  if (instrument_ == nullptr) return;
  const QSignalBlocker quiet(instrument_);
  instrument_->ask(now_, bench_->record(), bench_->units());
  instrument_->look(machine_ && machine_row_ == now_.row ? machine_.get() : nullptr);
}

bool CallOutSheet::instrument_key(const QKeyEvent& event) {
  return instrument_ != nullptr && panel_->entry()->isEnabled() && instrument_->take_key(event);
}

std::optional<TestRecord> CallOutSheet::with_reading(const QString& typed) const {
  const FieldSpec& column = now_.table.columns[std::min(now_.column, now_.table.columns.size() - 1)];
  const auto reading = read_keyed(typed.toStdString(), column, {bench_->units(), &bare_unit(column, bench_->units())});
  if (!reading) return std::nullopt;
  TestRecord r = bench_->record();
  CallOut now = now_;
  call_out::keep(r, now, *reading);
  // What is not read yet is taken to be as what is: a square print has two like diagonals.
  Rows& rows = r.run.tables[now.table.id];
  if (now.row >= rows.size()) return std::nullopt;
  Row& row = rows[now.row];
  const Readings pattern = row.cells.readings(column.path);
  for (const FieldSpec& c : now.table.columns)
    if (column.kind == FieldKind::readings && !c.planned && !cell_complete(row, c) && cell_complete(row, column) &&
        c.kind == column.kind)
      row.cells.set(c.path, pattern);
  return r;
}

void CallOutSheet::show_so_far(CallOutPanel::Text& text) {
  const QString typed = instrument_->reading();
  if (text.ended) return;
  if (!instrument_->headline().isEmpty()) text.stop = instrument_->headline();
  if (typed.isEmpty() || !instrument_->holds_piece()) return;
  auto with = with_reading(typed);
  if (!with) return;
  const Row* row = now_.row < with->run.rows(now_.table.id).size() ? &with->run.rows(now_.table.id)[now_.row] : nullptr;
  bool counted = false;
  const double line = typed.toDouble(&counted);
  text.line.clear();
  // How far the second of two like cells is from the first: an uneven print shows at once.
  QString differ;
  if (now_.column > 0 && counted && row != nullptr) {
    const FieldSpec &first = now_.table.columns[now_.column - 1], &second = now_.table.columns[now_.column];
    const bool alike = first.wanted == second.wanted;
    const auto a = alike ? cell_value(*row, first, *with) : std::nullopt,
               b = alike ? cell_value(*row, second, *with) : std::nullopt;
    if (a && b && *a + *b > 0)
      differ = " The two differ by " + qs(significant(200 * std::abs(*a - *b) / (*a + *b), 2)) + " %.";
  }
  SoFar::Asked asked{quint64(bench_->specimen()), now_.row, typed, std::move(*with), {}};
  if (counted)
    if (auto next = with_reading(qs(plain_number(line + 1, 8)))) asked.further = std::move(*next);
  const auto so_far = live_->about(std::move(asked));
  if (!so_far && !live_->coming()) return;
  text.head = row_name(now_.row).left(1).toUpper() + row_name(now_.row).mid(1) + " of " +
              QString::number(std::max(now_.table.usual, now_.row + 1)) + ", so far";
  if (!so_far) {
    text.stop = "…";
    return;
  }
  text.stop = qs(significant(so_far->value, 3)) + " " + so_far->name;
  if (std::isfinite(so_far->further))
    text.line = "One division more or less changes it by " +
                qs(significant(std::abs(so_far->further - so_far->value), 2)) + ".";
  text.line += differ;
  if (!so_far->alarm.isEmpty()) text.alarm = so_far->alarm;
}

void CallOutSheet::show_room() {
  const Method& m = bench_->method();
  room_->setVisible(bool(m.clearances));
  if (!m.clearances) return;
  QString rows;
  for (const Clearance& c : m.clearances(bench_->record(), now_.row)) {
    auto words = [&](double v) {
      return c.dimension == Dimension::none ? qs(plain_number(v, 3))
                                            : qs(format_value(v, c.dimension, bench_->units(), 3));
    };
    const QString tone = theme::color(c.holds() ? theme::Ink::meets : theme::Ink::fails).name();
    rows += "<tr><td>" + qs(c.what).toHtmlEscaped() +
            "</td><td align='right'>&nbsp;&nbsp;<span style='font-family:JetBrains Mono'>" + words(c.has) +
            "</span></td><td align='right'>&nbsp;&nbsp;" + (c.at_most ? "≤ " : "≥ ") + words(c.needs) +
            "</td><td>&nbsp;&nbsp;<b style='color:" + tone + "'>" + (c.holds() ? "✓" : "✕") + "</b></td></tr>";
  }
  room_->setText(spoken(rows.isEmpty() ? QString() : "<b>Room for it</b><table>" + rows + "</table>"));
}

}  // namespace fortitor
