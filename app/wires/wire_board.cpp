#include "app/wires/wire_board.h"

#include <QApplication>
#include <QKeyEvent>
#include <QLineEdit>
#include <QTimer>

#include "app/stages/reading_edit.h"
#include "app/theme/parts.h"

namespace fortitor {
namespace {

using parts::qs;

constexpr size_t kLinesShown = 24;  // lines that the panel shows, and a format is proposed from
constexpr size_t kToPropose = 3;    // lines from which a format can be told
constexpr size_t kToBeSure = 20;    // and from which it is not told anew
constexpr qint64 kFresh = 3000;     // ms: an older value is not what the instrument shows now

}  // namespace

const line::Value* LiveItem::leading() const {
  if (!last || !format) return nullptr;
  const line::Value* first = nullptr;
  for (const line::Value& v : last->values) {
    if (v.channel == format->time || v.channel == format->counter) continue;
    if (first == nullptr) first = &v;
    for (Dimension d : {Dimension::force, Dimension::torque})
      if (!v.unit.empty() && find_unit(v.unit, d) != nullptr && find_unit(v.unit, d)->dimension == d) return &v;
  }
  return first;
}

WireBoard::WireBoard(Workbench* bench, QObject* parent) : QObject(parent), bench_(bench) {
  connect(qApp, &QApplication::focusChanged, this, [this](QWidget* before, QWidget* now) {
    tell(qobject_cast<QLineEdit*>(before), false);
    tell(qobject_cast<QLineEdit*>(now), true);
  });
  auto* beat = new QTimer(this);
  beat->setSingleShot(true);
  beat->setInterval(100);
  connect(this, &WireBoard::changed, beat, [beat] {
    if (!beat->isActive()) beat->start();
  });
  connect(beat, &QTimer::timeout, this, &WireBoard::to_be_shown);
}

// A field in hand says whom it hears, where it would stand empty; what it said before comes back when it is left.
void WireBoard::tell(QLineEdit* field, bool in_hand) const {
  constexpr const char* kBefore = "said before";
  if (field == nullptr) return;
  if (const QVariant before = field->property(kBefore); before.isValid()) {
    field->setPlaceholderText(spoken(before.toString()));
    field->setProperty(kBefore, QVariant());
  }
  if (!in_hand) return;
  QStringList heard;
  for (const auto& [id, line] : wires_)
    if (line->live.open && value_for(field, line->live) != nullptr) heard << qs(line->live.name);
  if (heard.isEmpty()) return;
  field->setProperty(kBefore, field->placeholderText());
  field->setPlaceholderText(spoken(heard.join(" or ") + (heard.size() == 1 ? ", F8" : "")));
}

WireBoard::~WireBoard() {
  for (auto& [id, line] : wires_) {
    line->thread->quit();
    line->thread->wait();
  }
}

void WireBoard::reload() {
  const auto kit = bench_->book()->kit();
  if (!kit) return;
  std::map<Id, const kit::Item*> wanted;
  for (const kit::Item& i : *kit)
    if (!i.is_bench() && !i.retired() && !i.fields.text("settings.wire").empty()) wanted[i.id] = &i;
  for (auto it = wires_.begin(); it != wires_.end();) {
    const auto w = wanted.find(it->first);
    if (w != wanted.end() && w->second->fields.text("settings.wire") == it->second->live.where) {
      ++it;
      continue;
    }
    it->second->thread->quit();
    it->second->thread->wait();
    it = wires_.erase(it);
  }
  for (const auto& [id, item] : wanted) {
    auto& slot = wires_[id];
    const bool fresh = slot == nullptr;
    if (fresh) slot = std::make_unique<Line>();
    LiveItem& live = slot->live;
    live.item = id;
    live.name = item->name();
    live.where = item->fields.text("settings.wire");
    live.by_button = item->fields.text("settings.takes") == "button";
    if (const std::string kept = item->fields.text("settings.line"); !kept.empty())
      if (const auto f = line::format_from_json(kept)) {
        live.format = *f;
        live.proposed = false;
      }
    if (!fresh) continue;
    if (const QString fault = Wire::fault(qs(live.where)); !fault.isEmpty()) {
      live.why = fault;
    }
    slot->thread = new QThread(this);
    slot->wire = new Wire(qs(live.where));
    slot->wire->moveToThread(slot->thread);
    connect(slot->thread, &QThread::finished, slot->wire, &QObject::deleteLater);
    connect(slot->wire, &Wire::came, this, [this, id = id](const WireLines& lines) { heard(id, lines); });
    connect(slot->wire, &Wire::state, this, [this, id = id](bool open, const QString& why) {
      const auto it = wires_.find(id);
      if (it == wires_.end()) return;
      it->second->live.open = open;
      it->second->live.was_open = it->second->live.was_open || open;
      if (!open) it->second->live.moved.clear();
      it->second->live.why = why;
      emit changed();
    });
    // A run takes its lines in the thread of the wire: whatever the window does meanwhile, none waits for it.
    connect(slot->wire, &Wire::came, slot->wire, [box = slot->box](const WireLines& lines) {
      for (const WireLine& l : lines) box->put(l.text, double(l.at) / 1000);
    });
    connect(slot->wire, &Wire::state, slot->wire,
            [box = slot->box](bool open, const QString& why) { box->set_open(open, why.toStdString()); });
    if (live.why.isEmpty()) connect(slot->thread, &QThread::started, slot->wire, &Wire::begin);
    slot->thread->start();
  }
  emit changed();
}

const LiveItem* WireBoard::find(Id item) const {
  const auto it = wires_.find(item);
  return it == wires_.end() ? nullptr : &it->second->live;
}

std::shared_ptr<LineBox> WireBoard::box(Id item) const {
  const auto it = wires_.find(item);
  return it == wires_.end() ? nullptr : it->second->box;
}

std::vector<const LiveItem*> WireBoard::items() const {
  std::vector<const LiveItem*> out;
  for (const auto& [id, line] : wires_) out.push_back(&line->live);
  return out;
}

std::vector<WiredValue> WireBoard::values(const std::vector<Id>& items, const Schema& schema) const {
  constexpr double kSilence = 1;  // s: an instrument that says less often is not watched
  std::vector<WiredValue> out;
  const qint64 now = steady_ms();
  for (Id id : items) {
    const LiveItem* live = find(id);
    if (live == nullptr || !live->format || !live->last) continue;
    const auto channels = heard_channels(*live->format, schema, &*live->last);
    for (const line::Value& v : live->last->values) {
      if (v.channel == live->format->time || v.channel == live->format->counter) continue;
      WiredValue one{live->name, {}, v, live->open && live->last->good() && now - live->last_at <= kFresh};
      if (const auto c = channels.find(v.channel); c != channels.end()) one.channel = c->second;
      if (const auto m = live->moved.find(v.channel); m != live->moved.end())
        one.known = m->second.over(double(now) / 1000, kSettling, kSilence, one.low, one.high);
      out.push_back(std::move(one));
    }
  }
  return out;
}

void WireBoard::heard(Id id, const WireLines& lines) {
  const auto it = wires_.find(id);
  if (it == wires_.end()) return;
  LiveItem& live = it->second->live;
  for (const WireLine& l : lines) {
    live.lines.push_back(l.text);
    if (live.lines.size() > kLinesShown) live.lines.pop_front();
  }
  // What came before the format was known is shown too; only what comes now is pushed into a field by its button.
  size_t fresh = lines.size();
  WireLines all = lines;
  // Three lines tell most of a format, twenty all of it: a clock is seen as one, every word of status has come.
  const bool unsure = !live.format || (live.proposed && live.told_from < kToBeSure);
  if (unsure && live.lines.size() >= kToPropose && live.lines.size() > live.told_from) {
    fresh = live.format ? std::min(lines.size(), live.lines.size()) : 0;
    if (auto f = line::propose({live.lines.begin(), live.lines.end()})) {
      live.format = std::move(*f);
      live.proposed = true;
      live.told_from = live.lines.size();
      live.good = live.bad = 0;
      all.clear();
      for (const std::string& text : live.lines) all.push_back({text, lines.back().at});
    }
  }
  if (!live.format) return emit changed();
  for (size_t i = 0; i < all.size(); ++i) {
    line::Reading r = line::read(*live.format, all[i].text);
    ++(r.state == line::State::bad ? live.bad : live.good);
    if (r.state == line::State::bad) continue;
    if (!r.good()) live.moved.clear();
    if (r.good())
      for (const line::Value& v : r.values) live.moved[v.channel].put(double(all[i].at) / 1000, v.value);
    live.last = std::move(r);
    live.last_at = all[i].at;
    if (!live.by_button || !live.last->good() || i + fresh < all.size()) continue;
    if (auto* field = qobject_cast<QLineEdit*>(QApplication::focusWidget()))
      if (const line::Value* v = value_for(field, live)) type(field, live, *v);
  }
  emit changed();
}

// The value of an item whose dimension is that of the field; where a field says none, the only one.
const line::Value* WireBoard::value_for(const QLineEdit* field, const LiveItem& item) const {
  if (!item.last) return nullptr;
  const auto* reading = qobject_cast<const ReadingEdit*>(field);
  const QVariant said = field->property("dimension");
  const std::optional<Dimension> wanted = reading != nullptr ? std::optional(base_dimension(reading->field().dimension))
                                          : said.isValid()   ? std::optional(base_dimension(Dimension(said.toInt())))
                                                             : std::nullopt;
  if (!wanted) return nullptr;
  for (const line::Value& v : item.last->values) {
    if (v.channel == item.format->time || v.channel == item.format->counter) continue;
    const Unit* unit = find_unit(v.unit, *wanted);
    if (unit != nullptr ? unit->dimension == *wanted : v.unit.empty() && item.last->values.size() == 1) return &v;
  }
  return nullptr;
}

// The way of a hand: the text with its unit, then Enter. Whatever would be asked of typed text is asked of this.
void WireBoard::type(QLineEdit* field, const LiveItem& item, const line::Value& value) {
  field->selectAll();
  field->insert(qs(value.typed));
  field->setModified(true);
  bench_->hear_from(item.name);
  QKeyEvent down(QEvent::KeyPress, Qt::Key_Return, Qt::NoModifier),
      up(QEvent::KeyRelease, Qt::Key_Return, Qt::NoModifier);
  QApplication::sendEvent(field, &down);
  QApplication::sendEvent(field, &up);
  bench_->hear_from({});
}

void WireBoard::take_into(QLineEdit* field) {
  if (field == nullptr) return emit said("No field is in hand that could take a reading.");
  if (wires_.empty()) return emit said("No item of the Kit has a wire yet: enter it on its card.");
  const qint64 now = steady_ms();
  const LiveItem* best = nullptr;
  const line::Value* value = nullptr;
  QString why = "No instrument on a wire measures what this field wants.";
  for (const auto& [id, line] : wires_) {
    const line::Value* v = value_for(field, line->live);
    if (v == nullptr) continue;
    const bool old = !line->live.by_button && now - line->live.last_at > kFresh;
    if (old || !line->live.last->good()) {
      why = qs(line->live.name) +
            (old ? " has been silent: nothing was taken."
                 : " is " + qs(line::state_word(line->live.last->state)) + ": that is no reading yet.");
      continue;
    }
    if (best != nullptr)
      return emit said("Two instruments measure what this field wants (" + qs(best->name) + ", " + qs(line->live.name) +
                       "): push the button of the one that is meant.");
    best = &line->live;
    value = v;
  }
  if (best == nullptr) return emit said(why);
  emit said("");
  type(field, *best, *value);
}

void WireBoard::try_format(Id id, const line::Format& format) {
  const auto it = wires_.find(id);
  if (it == wires_.end()) return;
  LiveItem& live = it->second->live;
  live.format = format;
  live.proposed = true;
  live.told_from = kToBeSure;  // a hand knows better than the next lines
  live.good = live.bad = 0;
  live.moved.clear();
  for (const std::string& text : live.lines) {
    line::Reading r = line::read(format, text);
    ++(r.state == line::State::bad ? live.bad : live.good);
    if (r.state != line::State::bad) live.last = std::move(r);
  }
  emit changed();
}

void WireBoard::keep_format(Id id) {
  const auto it = wires_.find(id);
  const auto kit = bench_->book()->kit();
  if (it == wires_.end() || !it->second->live.format || !kit) return;
  for (kit::Item item : *kit) {
    if (item.id != id) continue;
    item.fields.set("settings.line", line::format_to_json(*it->second->live.format));
    const auto kept = bench_->book()->save_item(item, "line format kept: " + item.name());
    if (!kept) return emit said(qs(kept.error().message));
    it->second->live.proposed = false;
    emit changed();
  }
}

}  // namespace fortitor
