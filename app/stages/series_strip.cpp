#include "app/stages/series_strip.h"

#include <QStyle>

#include "app/theme/parts.h"
#include "core/bench/common.h"

namespace fortitor {

using parts::qs;

SeriesStrip::SeriesStrip(Workbench* bench, bool wide, QWidget* parent) : QWidget(parent), bench_(bench) {
  setObjectName("plain");
  auto* layout = new QBoxLayout(wide ? QBoxLayout::LeftToRight : QBoxLayout::TopToBottom, this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(wide ? 12 : 4);
  words_ = parts::label("", "hint");
  words_->setAccessibleName(spoken("How the piece stands to its series"));
  layout->addWidget(words_, wide ? 1 : 0);
  auto* row = new QHBoxLayout;
  row->setSpacing(8);
  hold_ = parts::button("Hold for the series", "series-hold");
  hold_->setToolTip(
      spoken("Material, limits, equipment, speed and rules as this piece has them hold for every piece."));
  as_series_ = parts::button("As the series", "series-as");
  as_series_->setToolTip(spoken("Takes back where this piece differs."));
  last_ = parts::button("As the last piece", "series-last");
  last_->setToolTip(spoken("Takes over from the piece run last what this one lacks."));
  for (QPushButton* b : {hold_, as_series_, last_}) row->addWidget(b);
  if (!wide) row->addStretch();
  layout->addLayout(row);
  connect(hold_, &QPushButton::clicked, bench, &Workbench::hold_for_series);
  connect(as_series_, &QPushButton::clicked, bench, &Workbench::as_the_series);
  connect(last_, &QPushButton::clicked, bench, &Workbench::take_over_from_last);
}

void SeriesStrip::refresh() {
  if (!bench_->has_specimen()) return;
  const Method& m = bench_->method();
  const TestRecord& series = *bench_->series_common();
  const bool held = common::any(series, m), there = common::any(bench_->record(), m);
  const auto differ = common::differences(bench_->record(), series, m);
  TestRecord would = series;
  common::set(would, bench_->record(), m);
  const bool news = would.fields != series.fields || would.limits != series.limits;
  QString words;
  if (!held)
    words = there ? "Nothing is held for the series yet: each piece stands for itself."
                  : "What is entered here once can be held for every piece of the series.";
  else if (differ.empty())
    words = news ? "As the series, and more." : "As the series.";
  else
    words = "Differs from the series: " + qs(differ.front()) +
            (differ.size() > 1 ? " and " + QString::number(differ.size() - 1) + " more" : QString()) + ".";
  words_->setText(spoken(words));
  words_->setObjectName(differ.empty() ? "hint" : "caution");
  words_->style()->unpolish(words_);
  words_->style()->polish(words_);
  const bool open = !bench_->signed_off();
  hold_->setVisible(open && there && news);
  as_series_->setVisible(open && !differ.empty());
  last_->setVisible(open && !there);
  setVisible(hold_->isVisibleTo(this) || as_series_->isVisibleTo(this) || last_->isVisibleTo(this) || held);
}

}  // namespace fortitor
