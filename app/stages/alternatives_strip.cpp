#include "app/stages/alternatives_strip.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <cmath>

#include "app/theme/parts.h"
#include "app/theme/theme.h"

namespace fortitor {

using parts::qs;

AlternativesStrip::AlternativesStrip(Workbench* bench, QWidget* parent) : QFrame(parent), bench_(bench) {
  setObjectName("sheet");
  auto* column = parts::column(this, 8, 4);
  column->setContentsMargins(12, 7, 8, 7);
  auto* row = new QHBoxLayout;
  row->setSpacing(8);
  auto* head = parts::label("What if the limit were", "title");
  head->setWordWrap(false);
  row->addWidget(head);
  earlier_ = parts::button("◀", "alternative-earlier");
  earlier_->setAccessibleName(spoken("One stop earlier"));
  later_ = parts::button("▶", "alternative-later");
  later_->setAccessibleName(spoken("One stop later"));
  label_ = parts::label("", "mono");
  label_->setWordWrap(false);
  text_ = parts::label("");
  text_->setTextFormat(Qt::RichText);
  both_ = parts::button("Keep both", "alternative-both");
  both_->setToolTip(
      spoken("The original stays; the other choice is kept beside it in the record and on the certificate."));
  row->addWidget(earlier_);
  row->addWidget(label_);
  row->addWidget(later_);
  row->addWidget(text_, 1);
  row->addWidget(both_);
  column->addLayout(row);
  kept_ = parts::label("", "hint");
  column->addWidget(kept_);
  connect(earlier_, &QPushButton::clicked, this, [this] { step(-1); });
  connect(later_, &QPushButton::clicked, this, [this] { step(1); });
  connect(both_, &QPushButton::clicked, this, &AlternativesStrip::keep_both);
}

// While a what-if is open the choices are those of the original: its own limit is among them.
const std::vector<Alternative>& AlternativesStrip::list() const {
  static const std::vector<Alternative> none;
  const auto e = bench_->original() ? bench_->original() : bench_->evaluation();
  return e ? e->alternatives : none;
}

int AlternativesStrip::current() const {
  const auto& all = list();
  if (bench_->what_if())
    for (size_t i = 0; i < all.size(); ++i)
      if (all[i].id == chosen_) return int(i);
  // The choice in force: the one whose values are the evaluation's own.
  const auto e = bench_->original() ? bench_->original() : bench_->evaluation();
  int best = -1;
  for (size_t i = 0; e && i < all.size(); ++i) {
    bool same = !all[i].values.empty();
    for (const auto& [key, value] : all[i].values) {
      const ResultValue* r = e->find(key);
      same = same && r != nullptr && std::abs(r->value - value) <= 1e-9 * std::abs(value);
    }
    if (same) best = int(i);
  }
  return best;
}

void AlternativesStrip::step(int by) {
  const auto& all = list();
  const int at = current();
  const int next = std::clamp(at + by, 0, int(all.size()) - 1);
  if (all.empty() || next == at) return;
  const Alternative a = all[size_t(next)];
  chosen_ = a.id;
  bench_->begin_what_if();
  bench_->preview([&](TestRecord& r) {
    for (const auto& [path, typed] : a.settings)
      if (const FieldSpec* f = bench_->method().field(path))
        if (const auto v = bench_->parse_field(*f, qs(typed))) r.fields.set(path, *v);
  });
  refresh();
}

void AlternativesStrip::keep_both() {
  const int at = current();
  if (at < 0 || !bench_->what_if()) return;
  const Alternative a = list()[size_t(at)];
  const std::string path = bench_->original()->alternatives_path;
  bench_->drop_preview();
  const FieldSpec* f = bench_->method().field(path);
  const auto one =
      f != nullptr ? parse_quantity(a.id, f->dimension) : Outcome<Quantity>(InputError{"no list to keep it in", {}});
  if (!one) return bench_->say("Only a picked stop can be kept beside the original.");
  bench_->edit("what-if kept beside the original: " + qs(a.label), [&](TestRecord& r) {
    Readings list = r.fields.readings(path);
    list.push_back(reading_of(*one));
    r.fields.set(path, list);
  });
}

void AlternativesStrip::refresh() {
  const auto& all = list();
  setVisible(!all.empty());
  if (all.empty()) return;
  const int at = current();
  const bool open = bench_->what_if() && at >= 0;
  earlier_->setEnabled(at > 0);
  later_->setEnabled(at + 1 < int(all.size()));
  both_->setVisible(open);
  label_->setText(spoken(at >= 0 ? qs(all[size_t(at)].label) : "–"));
  const auto base = bench_->original() ? bench_->original() : bench_->evaluation();
  QStringList parts;
  if (at >= 0 && base)
    for (const auto& [key, value] : all[size_t(at)].values) {
      const ResultValue* r = base->find(key);
      const auto spec = bench_->method().result(key);
      if (!spec || !spec->headline) continue;
      QString text = "<b>" + qs(plain_symbol(spec->symbol)) + "</b> " +
                     qs(format_value(value, spec->dimension, bench_->units(), 4));
      if (open && r != nullptr && std::abs(r->value - value) > 1e-9 * std::abs(value))
        text += " <span style='color:" + theme::color(theme::Ink::quiet).name() + "'>instead of " +
                qs(format_number(r->value, spec->dimension, bench_->units(), 4)) + "</span>";
      if (const auto v = all[size_t(at)].verdicts.find(key);
          v != all[size_t(at)].verdicts.end() && v->second != Verdict::none)
        text += ", <span style='color:" + theme::verdict_color(v->second).name() + "'>" + qs(verdict_word(v->second)) +
                "</span>";
      parts << text;
    }
  text_->setText(spoken(parts.join(" &nbsp; ")));
  QStringList kept;
  for (const Alternative& a : all)
    if (a.kept) kept << qs(a.label);
  kept_->setText(spoken("Kept beside the original: " + kept.join(", ")));
  kept_->setVisible(!kept.isEmpty());
}

}  // namespace fortitor
