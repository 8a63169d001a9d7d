#include "app/callout/rig_view.h"

#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/theme/parts.h"
#include "app/theme/theme.h"

namespace fortitor {

using parts::qs;
using theme::Ink;

QString grouped_count(double n) {
  QString s = QString::number(std::floor(n), 'f', 0);
  for (int i = int(s.size()) - 3; i > 0; i -= 3) s.insert(i, QChar(0x2009));
  return s;
}

namespace {

QString lasting(double seconds) {
  if (seconds < 90 * 60) return QString::number(std::ceil(seconds / 60), 'f', 0) + " min";
  if (seconds < 48 * 3600) return QString::number(seconds / 3600, 'f', 1) + " h";
  return QString::number(seconds / 86400, 'f', 1) + " days";
}

constexpr int kPicture = 78;  // px across that the gauges take at the right

}  // namespace

RigView::RigView(Workbench* bench, LongRuns* runs, QWidget* parent) : QFrame(parent), bench_(bench), runs_(runs) {
  setObjectName("sheet");
  setAccessibleName(spoken("Rig"));
  auto* outer = parts::column(this, 12, 4);
  outer->setContentsMargins(12, 10, 12 + kPicture * 2, 10);
  count_ = parts::label("", "mono");
  count_->setAccessibleName(spoken("State of the rig"));
  outer->addWidget(count_);
  words_ = parts::label("", "quiet");
  outer->addWidget(words_);
  auto* row = new QHBoxLayout;
  row->setSpacing(6);
  switch_ = parts::button("Start the rig", "rig-switch");
  switch_->setFocusPolicy(Qt::TabFocus);
  connect(switch_, &QPushButton::clicked, this, &RigView::switch_over);
  row->addWidget(switch_);
  row->addSpacing(8);
  auto* hint = parts::label("stand-in", "hint");
  hint->setWordWrap(false);
  row->addWidget(hint);
  for (double hurry : {1.0, 1000.0, 100000.0}) {
    auto* b = parts::button("× " + grouped_count(hurry), "rig-hurry-" + QString::number(hurry, 'f', 0));
    b->setCheckable(true);
    b->setFocusPolicy(Qt::TabFocus);
    b->setAccessibleName(spoken("Stand-in runs " + grouped_count(hurry) + " times as fast"));
    connect(b, &QPushButton::clicked, this, [this, hurry] { runs_->set_hurry(bench_->specimen(), hurry); });
    b->setProperty("hurry", hurry);
    hurries_.push_back(b);
    row->addWidget(b);
  }
  row->addStretch();
  outer->addLayout(row);
  connect(runs_, &LongRuns::changed, this, [this] {
    if (isVisible()) refresh();
  });
}

void RigView::show_row(size_t row) {
  row_ = row;
  refresh();
}

void RigView::switch_over() {
  const LongRun* run = runs_->of(bench_->specimen());
  bench_->say("");
  if (run == nullptr) {
    if (const auto started = runs_->start(row_); !started) bench_->say(qs(started.error().message));
  } else if (run->halted) {
    runs_->go_on(bench_->specimen());
  } else {
    runs_->halt(bench_->specimen());
  }
}

void RigView::refresh() {
  const LongRun* run = runs_->of(bench_->specimen());
  count_->setStyleSheet(
      QString("font-family:'JetBrains Mono';font-weight:700;font-size:%1px").arg(qRound(17 * theme::scale())));
  const double hurry = run != nullptr ? run->hurry : runs_->hurry();
  for (QPushButton* b : hurries_) b->setChecked(b->property("hurry").toDouble() == hurry);
  if (run == nullptr) {
    count_->setText(spoken("The rig stands"));
    words_->setText(spoken("It runs point " + QString::number(row_ + 1) +
                           " by itself and writes it down, also while other work is done."));
    switch_->setText(spoken("Start point " + QString::number(row_ + 1)));
  } else {
    count_->setText(spoken(run->halted ? "The rig is halted" : "The rig runs"));
    const double left = (run->order.most - run->status.cycles) / run->order.frequency;
    words_->setText(spoken("point " + QString::number(run->order.row + 1) + " of " + qs(run->code) + " at " +
                           QString::number(run->order.frequency) + " Hz, at most " + lasting(std::max(0.0, left)) +
                           " to run out; stiffness " + QString::number(100 * run->status.stiffness, 'f', 0) + " %" +
                           "."));
    switch_->setText(spoken(run->halted ? "Go on" : "Halt"));
  }
  update();
}

// Gauges along the toe over the cycles so far, every one against where it began.
void RigView::paintEvent(QPaintEvent* event) {
  QFrame::paintEvent(event);
  const LongRun* run = runs_->of(bench_->specimen());
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const QRectF a(width() - kPicture * 2 - 4, 12, kPicture * 2 - 8, height() - 24);
  p.setPen(QPen(theme::color(Ink::hairline), 1));
  p.drawLine(a.bottomLeft(), a.bottomRight());
  p.drawLine(a.bottomLeft(), a.topLeft());
  p.setFont(theme::words(11));
  p.setPen(theme::color(Ink::quiet));
  const Samples s = run != nullptr && run->machine ? LongRuns::gauges_of(*run, bench_->record()) : Samples{};
  if (s.channels.size() < 2) {
    p.drawText(a.adjusted(6, 0, 0, -4), Qt::AlignCenter | Qt::TextWordWrap,
               spoken(run == nullptr ? "gauges show here" : "no gauges: their number stands at Set up"));
    return;
  }
  double low = HUGE_VAL, high = -HUGE_VAL;
  for (size_t g = 1; g < s.channels.size(); ++g)
    for (double v : s.channels[g].values) low = std::min(low, v), high = std::max(high, v);
  const double last = std::max(1.0, s.channels[0].values.back()), room = std::max(1e-6, high - low);
  for (size_t g = 1; g < s.channels.size(); ++g) {
    QPolygonF line;
    for (size_t i = 0; i < s.size(); ++i)
      line << QPointF(a.left() + a.width() * s.channels[0].values[i] / last,
                      a.bottom() - 4 - (a.height() - 8) * (s.channels[g].values[i] - low) / room);
    p.setPen(QPen(theme::temper(int(g % 7)), 1.6));
    p.drawPolyline(line);
  }
}

}  // namespace fortitor
