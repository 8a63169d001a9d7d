// The call-out sheet with machine and gauges on wires: what they say stands beside the stop, and when everything stands
// the whole stop is read in one act.
#include "app/callout/call_out_panel.h"
#include "app/callout/call_out_sheet.h"
#include "app/theme/parts.h"
#include "app/wires/wire_board.h"
#include "core/practice/practice.h"
#include "core/record/keyed.h"

namespace fortitor {

using parts::qs;
using Phase = CallOut::Phase;
using State = WiredStop::State;

void CallOutSheet::listen_to(WireBoard* wires) {
  wires_ = wires;
  auto* beat = new QTimer(this);
  beat->setInterval(200);
  connect(beat, &QTimer::timeout, this, [this] {
    if (isVisible()) look_at_wires();
  });
  beat->start();
}

// The instruments chosen at Set up where some of them are on wires, else all that are.
std::vector<Id> CallOutSheet::wired_items() const {
  std::vector<Id> chosen, all;
  const auto kit = bench_->book()->kit();
  for (const EquipmentSlot& slot : bench_->method().equipment) {
    const kit::Item* item = kit ? kit::used_in(bench_->record(), slot.id, *kit) : nullptr;
    if (item != nullptr && wires_->find(item->id) != nullptr) chosen.push_back(item->id);
  }
  for (const LiveItem* item : wires_->items()) all.push_back(item->item);
  return chosen.empty() ? all : chosen;
}

void CallOutSheet::look_at_wires() {
  const bool may = wires_ != nullptr && !wires_->items().empty() && bench_->has_specimen() && now_.table.stepped() &&
                   panel_->entry()->isEnabled() && !practice::is_practice(bench_->record());
  wired_ = {};
  if (may) {
    // Which instruments they are is read from the book for each piece, and when others come or go.
    if (wired_for_ != bench_->specimen() || wired_count_ != wires_->items().size()) {
      wired_for_ = bench_->specimen();
      wired_count_ = wires_->items().size();
      wired_items_ = wired_items();
    }
    const std::vector<WiredValue> values = wires_->values(wired_items_, bench_->method());
    const auto other = other_stop_ ? other_stop_->value : std::nullopt;
    wired_ = wired_stop(now_, values, other);
    heard_ = values;
  }
  show_wires();
  const bool by_itself = takes_ && (now_.phase == Phase::reading || now_.phase == Phase::unloading);
  if (by_itself && typing_ == Typing::reading && panel_->entry()->text().isEmpty()) take_stop();
}

void CallOutSheet::show_wires() {
  if (wired_.words.empty() && !wired_.control) return panel_->show_wires({}, {}, false);
  QStringList says;
  const auto add = [&](const WiredValue& v, const QString& label) {
    says << label.toHtmlEscaped() + " <b>" + qs(v.value.typed).toHtmlEscaped() + "</b>";
  };
  if (wired_.control) add(heard_[*wired_.control], qs(heard_[*wired_.control].item));
  for (size_t c = 0; c < wired_.reads.size(); ++c)
    if (wired_.reads[c]) add(heard_[*wired_.reads[c]], qs(now_.table.columns[c].label));
  QString words = qs(wired_.words).toHtmlEscaped();
  if (wired_.state != State::unwired)
    words += now_.phase == Phase::not_begun ? " F8 takes the first stop, the others are taken when they stand."
             : takes_                       ? " It is taken when it stands; A waits for F8 instead."
                                            : " F8 takes it; A takes by itself.";
  panel_->show_wires(says, words, wired_.state == State::stands);
  standin_->setVisible(standin_->isVisible() && says.isEmpty());
  if (!says.isEmpty())
    caution_->setText(spoken("△  The program only listens: guard, emergency stop and limits are the machine's own."));
}

bool CallOutSheet::take_stop() {
  if (wired_.state != State::stands) return false;
  std::map<std::string, Reading> readings;
  QStringList who;
  const std::string at = bench_->clock().local();
  const auto take = [&](const WiredValue& v, const FieldSpec& field) -> std::optional<Reading> {
    auto q = read_keyed(v.value.typed, field, {bench_->units(), &bare_unit(field, bench_->units())});
    if (!q) {
      bench_->say(qs(q.error().message));
      return std::nullopt;
    }
    q->source = v.item + ", " + at;
    if (!who.contains(qs(v.item))) who << qs(v.item);
    return *q;
  };
  const auto control = take(heard_[*wired_.control], *now_.table.control);
  if (!control) return false;
  for (size_t c = 0; c < wired_.reads.size(); ++c) {
    if (!wired_.reads[c]) continue;
    const auto reading = take(heard_[*wired_.reads[c]], now_.table.columns[c]);
    if (!reading) return false;
    readings[now_.table.columns[c].path] = *reading;
  }
  other_stop_.reset();
  shown_.clear();
  wired_ = {};
  const QString what = now_.phase == Phase::unloading ? QString("readings after unloading") : row_name(now_.row);
  change(what + " at " + qs(control->typed) + ", heard from " + who.join(", "),
         [&](TestRecord& r) { call_out::keep_all(bench_->method(), r, readings, control); });
  bench_->say("");
  return true;
}

}  // namespace fortitor
