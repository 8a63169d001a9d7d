#include "app/series/series_head.h"

#include <QAbstractItemView>
#include <QHBoxLayout>
#include <QPushButton>

#include "app/theme/flow.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"

namespace fortitor {

using parts::qs;

SeriesHead::SeriesHead(QWidget* parent) : QWidget(parent) {
  // One row where the letters leave room for it, else two.
  auto* rows = parts::column(this, 0, 6);
  QHBoxLayout* row = nullptr;
  const auto begin = [&] {
    row = new QHBoxLayout;
    row->setSpacing(7);
    rows->addLayout(row);
  };
  const auto add = [&](const char* words, QWidget* w) {
    auto* l = parts::label(words, "quiet");
    l->setWordWrap(false);
    row->addWidget(l);
    row->addWidget(w);
    row->addSpacing(8);
  };
  begin();
  add("Result", keys_ = box("series-key", "Result of the series", "settings.result", 170));
  add("against", against_ = box("series-against", "Another result against it", "settings.against", 96));
  add("Groups by", groups_ = box("series-groups", "Groups of pieces", "settings.group_by", 96));
  add("alike ±", margin_ = edit("series-margin", "Groups are alike within", "settings.margin"));
  if (theme::scale() > 1.1 || !tongue().english()) {  // longer words want a second row
    row->addStretch();
    begin();
  }
  add("Mean ±", interval_ = edit("series-interval", "Interval of the mean wanted", "settings.interval"));
  add("Over time", over_ = box("series-over", "Pieces of the chart over time", "settings.over", 104));
  over_->addItem(spoken("this series"), "");
  over_->addItem(spoken("its material, whole book"), "book");
  over_->view()->setMinimumWidth(int(190 * theme::scale()));
  over_->setToolTip(spoken(
      "Individuals and their steps in the order of testing: of this series, or of every piece of its material tested "
      "by this method."));
  margin_->setToolTip(spoken("Two groups within this margin are equivalent: 20 MPa, or 5 % of the mean."));
  interval_->setToolTip(spoken("How many pieces give the mean within this 95 % interval: 5 MPa, or 1 % of the mean."));
  row->addStretch();
}

QComboBox* SeriesHead::box(const char* key, const char* name, const char* path, int width) {
  auto* b = new QComboBox;
  b->setProperty("key", key);
  b->setAccessibleName(spoken(name));
  b->setMinimumWidth(width);
  b->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  connect(b, &QComboBox::activated, this, [this, b, path] { emit chosen(path, b->currentData().toString()); });
  return b;
}

QLineEdit* SeriesHead::edit(const char* key, const char* name, const char* path) {
  auto* e = new QLineEdit;
  e->setProperty("key", key);
  e->setAccessibleName(spoken(name));
  e->setPlaceholderText(spoken("5 %"));
  e->setFixedWidth(int(62 * theme::scale()));
  connect(e, &QLineEdit::editingFinished, this, [this, e, path] {
    if (e->isModified()) emit chosen(path, e->text().trimmed());
    e->setModified(false);
  });
  return e;
}

void SeriesHead::show_view(const SeriesView& view) {
  auto words = [](const ResultSpec& spec) { return qs(plain_symbol(spec.symbol) + "  " + spec.name); };
  keys_->clear();
  against_->clear();
  against_->addItem(spoken("nothing"), "");
  const std::string against = view.settings.fields.text("settings.against");
  auto offer = [&](const std::string& key) {
    const auto spec = view.method->result(key);
    if (!spec || keys_->findData(qs(key)) >= 0) return;
    keys_->addItem(spoken(words(*spec)), qs(key));
    if (key != view.key) against_->addItem(spoken(words(*spec)), qs(key));
  };
  for (const std::string& key : view.method->limit_keys) offer(key);
  offer(view.key);
  // Behind those that are limited: whatever its pieces have a number of.
  for (const Evaluation& e : view.evaluations)
    for (const ResultValue& r : e.results)
      if (!r.is_text()) offer(r.spec.key);
  if (!against.empty()) offer(against);
  keys_->setCurrentIndex(keys_->findData(qs(view.key)));
  against_->setCurrentIndex(std::max(0, against_->findData(qs(against))));
  against_->setEnabled(against_->count() > 1);
  groups_->clear();
  groups_->addItem(spoken("none"), "");
  for (const Choice& by : view.groupings) groups_->addItem(spoken(qs(by.label)), qs(by.value));
  groups_->setCurrentIndex(std::max(0, groups_->findData(qs(view.settings.fields.text("settings.group_by")))));
  groups_->setEnabled(groups_->count() > 1);
  margin_->setEnabled(groups_->currentIndex() > 0);
  margin_->setText(qs(view.settings.fields.text("settings.margin")));
  over_->setCurrentIndex(std::max(0, over_->findData(qs(view.settings.fields.text("settings.over")))));
  interval_->setText(qs(view.settings.fields.text("settings.interval")));
}

FigureTabs::FigureTabs(QWidget* parent) : QWidget(parent) {
  auto* row = new FlowLayout(4, this);
  row->setContentsMargins(0, 0, 0, 0);
}

void FigureTabs::show_figures(const std::vector<Figure>& figures) {
  QLayout* row = layout();
  parts::clear(row);
  shown_.clear();
  at_ = 0;
  for (const Figure& f : figures)
    for (const Panel& p : f.panels) {
      Figure one = f;
      one.panels = {p};
      if (p.name == name_) at_ = shown_.size();
      shown_.push_back(std::move(one));
    }
  for (size_t i = 0; i < shown_.size() && shown_.size() > 1; ++i) {
    const std::string name = shown_[i].panels.front().name;
    auto* b = parts::button(qs(name.empty() ? shown_[i].title : name),
                            "series-figure-" + qs(name).toLower().replace(' ', '-'));
    b->setCheckable(true);
    b->setAutoExclusive(true);
    b->setChecked(i == at_);
    b->setToolTip(spoken(qs(shown_[i].title)));
    connect(b, &QPushButton::clicked, this, [this, i, name] {
      at_ = i;
      name_ = name;
      emit picked();
    });
    row->addWidget(b);
  }
  setVisible(shown_.size() > 1);
}

}  // namespace fortitor
