// The card of the item picked: what is known of it, what used it, its checks, what can be done.
#include <QDesktopServices>
#include <QDir>
#include <QFileDialog>
#include <QInputDialog>
#include <QSaveFile>
#include <QUrl>

#include "app/figures/figure_view.h"
#include "app/kit/kit_page.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "core/quantity/date.h"

namespace fortitor {

using parts::qs;

void KitPage::show_item(const kit::Item& item) {
  form_ = nullptr;
  parts::clear(card_);
  const EquipmentSlot* kind = kit::find_kind(item.kind);
  card_->addWidget(parts::label(qs(item.name()), "heading"));
  const std::string rating = kit::rating_words(item, units());
  card_->addWidget(
      parts::label(qs((kind != nullptr ? kind->label : "Bench") + (rating.empty() ? "" : " · " + rating)), "quiet"));
  const std::string note = item.fields.text("settings.note");
  if (!item.is_bench()) {
    const kit::State state = kit::state_on(item, today());
    card_->addWidget(parts::label(qs(kit::state_words(item, today())),
                                  state == kit::State::overdue || state == kit::State::held ? "error"
                                  : state == kit::State::soon                               ? "caution"
                                                                                            : "title"));
    auto line = [&](const char* words, const std::string& value) {
      if (!value.empty()) card_->addWidget(parts::label(QString(words) + "  " + qs(value), ""));
    };
    line("Serial mark", item.fields.text(item.path("serial")));
    line("Calibrated", day_words(item.fields.text(item.path("calibrated"))));
    line("Certificate", item.fields.text(item.path("certificate")));
    line("Used by", item.fields.text("settings.who"));
  }
  if (!note.empty()) card_->addWidget(parts::label(qs(note), "hint"));
  if (item.is_bench()) {
    for (const kit::Item& i : items_)
      if (item.holds(i)) card_->addWidget(parts::label(qs(i.name() + "  " + kit::state_words(i, today())), ""));
  } else {
    add_wire(item);
    add_uses(item);
    add_checks(item);
    add_benches(item);
  }
  add_actions(item);
  card_->addStretch();
}

// What comes in on its wire, what its lines are taken for, and the format to keep.
void KitPage::add_wire(const kit::Item& item) {
  if (wires_ == nullptr || item.fields.text("settings.wire").empty()) return;
  card_->addSpacing(6);
  card_->addWidget(parts::label("Listen", "title"));
  teach_ = new TeachPanel(wires_, item.id);
  connect(teach_, &TeachPanel::keep_wanted, this, [this, id = item.id] {
    if (may_change()) wires_->keep_format(id);
  });
  card_->addWidget(teach_);
  card_->addWidget(parts::label("△  The program only listens: guard, stop and limits are the machine's.", "caution"));
}

void KitPage::add_uses(const kit::Item& item) {
  card_->addSpacing(6);
  card_->addWidget(parts::label("Records", "title"));
  const auto uses = bench_->book()->uses(item);
  const std::string since = item.fields.text(item.path("calibrated")), due = item.due();
  int after = 0, since_then = 0;
  for (const ItemUse& u : uses) {
    if (u.tested_at.empty()) continue;
    if (!since.empty() && u.tested_at.substr(0, 10) >= since) ++since_then;
    if (!due.empty() && u.tested_at.substr(0, 10) > due) ++after;
  }
  QString words =
      uses.empty()
          ? QString("No record names it yet.")
          : QString::number(uses.size()) + (uses.size() == 1 ? " record names it" : " records name it") +
                (since.empty() ? QString(".") : ", " + QString::number(since_then) + " tested since its calibration.");
  card_->addWidget(parts::label(words, "quiet"));
  if (after > 0)
    card_->addWidget(parts::label(
        QString::number(after) + (after == 1 ? " was tested" : " were tested") + " after its calibration had ended.",
        "error"));
  for (size_t i = 0; i < std::min<size_t>(uses.size(), 5); ++i) {
    auto* b = parts::button(qs(uses[i].code), "kit-use:" + QString::number(uses[i].specimen));
    connect(b, &QPushButton::clicked, this, [this, id = uses[i].specimen] { emit desk_wanted("specimen", id, -1); });
    card_->addWidget(b);
  }
  if (uses.size() > 5)
    card_->addWidget(
        parts::label(QString::number(uses.size() - 5) + " more; the logbook finds them by its mark.", "hint"));
  if (!uses.empty()) {
    auto* mark = parts::button("It was off: mark what it touched…", "kit-mark");
    connect(mark, &QPushButton::clicked, this, [this, item] { mark_records(item); });
    card_->addWidget(mark);
  }
}

// One act for everything an item touched when it turns out to be off.
void KitPage::mark_records(const kit::Item& item) {
  bool ok = false;
  const QString reason = QInputDialog::getText(this, spoken("Mark the records of " + qs(item.name())),
                                               spoken("What was wrong with it?"), QLineEdit::Normal, {}, &ok)
                             .trimmed();
  if (!ok) return;
  const QString typed =
      QInputDialog::getText(this, spoken("Mark the records of " + qs(item.name())),
                            spoken("Tested since which day? Empty: all of them."), QLineEdit::Normal, {}, &ok)
          .trimmed();
  if (!ok) return;
  std::string since;
  if (!typed.isEmpty()) {
    const auto day = parse_day(typed.toStdString(), today(), DaySense::past);
    if (!day) return say(qs(day.error().message));
    since = *day;
  }
  const auto marked = bench_->book()->mark_uses(item, since, reason.toStdString());
  if (!marked) return say(qs(marked.error().message));
  if (bench_->has_specimen()) bench_->select(bench_->specimen());
  bench_->touch_docket();
  say(QString::number(*marked) + (*marked == 1 ? " record is" : " records are") + " marked and want" +
      (*marked == 1 ? "s" : "") + " a word before sign-off.");
  QMetaObject::invokeMethod(
      this, [this] { reload(); }, Qt::QueuedConnection);
}

void KitPage::add_checks(const kit::Item& item) {
  card_->addSpacing(6);
  card_->addWidget(parts::label("Daily checks", "title"));
  const std::vector<kit::DailyCheck> checks = bench_->book()->checks_of(item);
  const std::string words = kit::words_of(checks);
  card_->addWidget(parts::label(
      words.empty() ? QString("A free swing, a reference block, a zero: noted here, drawn over time.") : qs(words),
      words.find("beyond") != std::string::npos ? "error" : "quiet"));
  if (const Figure f = kit::figure_of(checks, item.name()); !f.empty()) {
    auto* view = new FigureView;
    view->setProperty("key", "kit-check-figure");
    view->setFixedHeight(int(150 * theme::scale()));
    view->show_figure(f, units());
    card_->addWidget(view);
  }
  auto* row = new QHBoxLayout;
  auto* value = new QLineEdit;
  value->setProperty("key", "kit-check");
  value->setPlaceholderText(spoken("62.8, 0.4 J"));
  value->setAccessibleName(spoken("Value of today's check"));
  auto* note = new QLineEdit;
  note->setProperty("key", "kit-check-note");
  note->setPlaceholderText(spoken("a note"));
  note->setAccessibleName(spoken("Note to the check"));
  row->addWidget(value);
  row->addWidget(note);
  auto* keep = parts::button("Note it", "kit-check-keep");
  row->addWidget(keep);
  card_->addLayout(row);
  const auto add = [this, item, value, note] {
    const auto kept =
        bench_->book()->add_daily_check(item, {bench_->clock().utc(), value->text().trimmed().toStdString(),
                                               bench_->book()->operator_name(), note->text().trimmed().toStdString()});
    if (!kept) return say(qs(kept.error().message));
    say("");
    QMetaObject::invokeMethod(
        this, [this] { reload(); }, Qt::QueuedConnection);
  };
  connect(keep, &QPushButton::clicked, this, add);
  connect(value, &QLineEdit::returnPressed, this, add);
  connect(note, &QLineEdit::returnPressed, this, add);
}

void KitPage::add_benches(const kit::Item& item) {
  QStringList on;
  for (const kit::Item& b : items_)
    if (b.holds(item)) on << qs(b.name());
  if (on.isEmpty()) return;
  card_->addSpacing(6);
  card_->addWidget(parts::label("Benches", "title"));
  card_->addWidget(parts::label(on.join(" · "), "quiet"));
}

void KitPage::add_actions(const kit::Item& item) {
  card_->addSpacing(8);
  const bool retired = item.retired(), held = !item.held().empty();
  auto add = [&](const QString& words, const QString& key, const char* role, auto act) {
    auto* b = parts::button(words, key, role);
    connect(b, &QPushButton::clicked, this, act);
    card_->addWidget(b);
  };
  add("Edit…", "kit-edit", "primary", [this, item] { show_form(item); });
  if (!item.is_bench()) {
    const std::vector<std::string> papers = bench_->book()->certificates(item);
    if (!papers.empty())
      add("Open " + qs(papers.back()), "kit-paper-open", "",
          [this, item, name = qs(papers.back()), number = papers.size() - 1] {
            // A copy to look at; what counts lies in the book.
            const QByteArray bytes = bench_->book()->certificate(item, number);
            const QString path = QDir::temp().filePath(QFileInfo(name).fileName());
            QSaveFile copy(path);
            if (!copy.open(QIODevice::WriteOnly) || copy.write(bytes) != bytes.size() || !copy.commit())
              return say(path + " cannot be written: " + copy.errorString() + ".");
            QDesktopServices::openUrl(QUrl::fromLocalFile(path));
          });
    add(!papers.empty() ? "Attach a newer certificate…" : "Attach its certificate…", "kit-paper", "", [this, item] {
      const QString path =
          QFileDialog::getOpenFileName(this, spoken("Certificate of " + qs(item.name())), {},
                                       parts::file_kinds("Certificates", "*.pdf *.png *.jpg *.jpeg *.txt"));
      if (!path.isEmpty()) attach(item, path);
    });
  }
  if (!item.is_bench() && !retired) {
    add(held ? "Back in use" : "Hold…", "kit-hold", "", [this, item, held] {
      if (held)
        return change(item, "back in use: " + qs(item.name()), [](kit::Item& i) { i.fields.erase(i.path("held")); });
      bool ok = false;
      const QString why = QInputDialog::getText(this, spoken("Hold " + qs(item.name())),
                                                spoken("Why must it not be used?"), QLineEdit::Normal, {}, &ok)
                              .trimmed();
      if (!ok) return;
      if (why.isEmpty()) return say("An item is held for a reason: nothing was changed.");
      change(item, "held: " + qs(item.name()), [&](kit::Item& i) { i.fields.set(i.path("held"), why.toStdString()); });
    });
  }
  add(retired ? "Take into use again" : "Retire", "kit-retire", "", [this, item, retired] {
    change(item, (retired ? "in use again: " : "retired: ") + qs(item.name()),
           [&](kit::Item& i) { i.set_retired(!retired); });
  });
}

}  // namespace fortitor
