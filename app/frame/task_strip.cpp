#include "app/frame/task_strip.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QProgressBar>
#include <QPushButton>
#include <cmath>

#include "app/theme/parts.h"

namespace fortitor {
namespace {

constexpr int kPatienceMs = 300;  // what is over sooner would only flicker
constexpr int kTickMs = 120;

}  // namespace

TaskStrip::TaskStrip(TaskBoard* board, QWidget* parent) : QFrame(parent), board_(board) {
  setObjectName("sheet");
  setAccessibleName(spoken("What is going on"));
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(12, 5, 8, 5);
  row->setSpacing(12);
  words_ = parts::label("");
  words_->setWordWrap(false);
  row->addWidget(words_);
  bar_ = new QProgressBar;
  bar_->setTextVisible(false);
  bar_->setFixedHeight(6);
  row->addWidget(bar_, 1);
  cancel_ = parts::button("Stop it", "task-cancel");
  cancel_->setFocusPolicy(Qt::TabFocus);
  row->addWidget(cancel_);
  hide();
  connect(cancel_, &QPushButton::clicked, this, [this] {
    if (!board_->tasks().empty()) board_->cancel(board_->tasks().front());
    refresh();
  });
  tick_.setInterval(kTickMs);
  connect(&tick_, &QTimer::timeout, this, &TaskStrip::refresh);
  patience_.setSingleShot(true);
  patience_.setInterval(kPatienceMs);
  connect(&patience_, &QTimer::timeout, this, [this] {
    if (board_->tasks().empty()) return;
    tick_.start();
    refresh();
  });
  connect(board, &TaskBoard::changed, this, [this] {
    if (board_->tasks().empty()) {
      patience_.stop();
      tick_.stop();
      hide();
    } else if (!isVisible() && !patience_.isActive()) {
      patience_.start();
    }
  });
}

void TaskStrip::refresh() {
  if (board_->tasks().empty()) return hide();
  const Task& t = *board_->tasks().front();
  const size_t more = board_->tasks().size() - 1;
  words_->setText(spoken(t.words()) + (t.stopped() ? ", " + spoken("stopping") : QString()) +
                  (more > 0 ? " (" + spoken("and " + QString::number(more) + " more") + ")" : QString()));
  const double progress = t.progress();
  if (shown_ != &t) {
    shown_ = &t;
    since_.start();
  }
  // How long it may take still, once that can be told.
  if (const double spent = double(since_.elapsed()) / 1e3; progress > 0.05 && progress < 1 && spent > 0.5) {
    const int left = int(std::ceil(spent * (1 - progress) / progress));
    const QString time = left < 60
                             ? QString::number(left) + " s"
                             : QString::number(left / 60) + ":" + QString("%1 min").arg(left % 60, 2, 10, QChar('0'));
    words_->setText(words_->text() + "   " + spoken(time + " left"));
  }
  bar_->setRange(0, progress < 0 ? 0 : 1000);
  if (progress >= 0) bar_->setValue(int(1000 * progress));
  cancel_->setEnabled(!t.stopped());
  show();
}

}  // namespace fortitor
