#include "app/guide/tour.h"

#include <QEvent>
#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QTimer>

#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "core/practice/practice.h"

namespace fortitor {
namespace {

constexpr int kBegins = 1;   // the step that begins the practice piece
constexpr int kRingGap = 4;  // between what is framed and its frame, pixels
constexpr int kRingLine = 3;

}  // namespace

const std::vector<TourStep>& tour_steps() {
  static const std::vector<TourStep> steps = {
      {"Today",
       "What is next at the bench stands here. Ctrl K finds any piece and does anything; F1 explains the page you are "
       "on.",
       "today", -1, "top-find"},
      {"A piece to practise on",
       "A simulated machine and a piece to measure; nothing of it is taken for a test. Begin, or Next, brings you to "
       "it.",
       "practice", -1, "practice-begin"},
      {"Prepare",
       "A piece is worked on in seven stages, from left to right; Alt 1 to Alt 7 open them. Here stand what it is, its "
       "limits, and what may hurt you.",
       "specimen", int(Stage::prepare), "fortitor::StageBar"},
      {"Measure",
       "Type onto the drawing what the instrument says: 12.02, or 0.473 in. Enter goes to the next reading, "
       "M says that one was missed.",
       "specimen", int(Stage::measure), "fortitor::SketchPad"},
      {"Set up",
       "The load path with the rating of each part, and the checklist. The way to the machine opens when nothing is "
       "missing.",
       "specimen", int(Stage::set_up), "fortitor::EquipmentPanel"},
      {"Run",
       "Every action has a key: T and B close the grips, Z zeroes the force, Space starts. Or drop a machine's file.",
       "specimen", int(Stage::run), "run-main"},
      {"Evaluate",
       "Every number unfolds into its formula with the readings put in. What does not fit is said by the Watch, with "
       "what may be done about it.",
       "specimen", int(Stage::evaluate), "fortitor::Ledger"},
      {"Sign off",
       "What is open wants a word first. Then the piece is signed, and goes onto paper; any later change wants a new "
       "signature.",
       "specimen", int(Stage::sign_off), "sign"},
      {"The debrief",
       "Once the piece has its run, this page holds it against the truth: what was hidden, what you saw of it, "
       "and what it cost.",
       "practice", -1, "practice-debrief"}};
  return steps;
}

// A frame over the window round one of its parts; takes no clicks.
class Tour::Ring : public QWidget {
 public:
  explicit Ring(QWidget* over) : QWidget(over) {
    setAttribute(Qt::WA_TransparentForMouseEvents);
    setFocusPolicy(Qt::NoFocus);
    setAccessibleName(spoken("Frame of the tour"));
  }

 protected:
  void paintEvent(QPaintEvent*) override {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(QPen(theme::temper(1), kRingLine));
    p.drawRoundedRect(QRectF(rect()).adjusted(2, 2, -2, -2), 8, 8);
  }
};

Tour::Tour(Workbench* bench, QWidget* parent) : QFrame(parent), bench_(bench) {
  setObjectName("sheet");
  setAccessibleName(spoken("Tour"));
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(14, 8, 10, 8);
  row->setSpacing(10);
  title_ = parts::label("", "title");
  title_->setWordWrap(false);
  row->addWidget(title_);
  words_ = parts::label("");
  row->addWidget(words_, 1);
  back_ = parts::button("Step back", "tour-back");
  next_ = parts::button("Next", "tour-next", "primary");
  auto* leave = parts::button("Leave the tour", "tour-leave");
  for (QPushButton* b : {back_, next_, leave}) row->addWidget(b);
  connect(back_, &QPushButton::clicked, this, [this] { go(step_ - 1); });
  connect(next_, &QPushButton::clicked, this, [this] {
    if (size_t(step_) + 1 == tour_steps().size()) return this->leave();
    go(step_ + 1);
  });
  connect(leave, &QPushButton::clicked, this, &Tour::leave);
  connect(bench, &Workbench::stage_changed, this, [this] { arrived("specimen"); });
  hide();
}

void Tour::begin() {
  go(0);
}

void Tour::leave() {
  step_ = -1;
  delete ring_;
  if (target_) target_->removeEventFilter(this);
  target_ = nullptr;
  hide();
}

void Tour::go(int step) {
  const bool begins = step == kBegins + 1 && !(bench_->has_specimen() && practice::is_practice(bench_->record()));
  if (begins) {
    // What the button does: the piece comes, and with it the step.
    for (QPushButton* b : window()->findChildren<QPushButton*>())
      if (b->property("key").toString() == tour_steps()[kBegins].at) return b->click();
  }
  const TourStep& s = tour_steps()[size_t(step)];
  step_ = step;
  const bool piece = QString(s.desk) == "specimen";
  const bool tested = step > kBegins && !piece && bench_->has_specimen() && bench_->record().has_run();
  emit desk_wanted(s.desk, piece || tested ? bench_->specimen() : 0, piece ? s.stage : -1);
  show_step();
}

void Tour::arrived(const QString& desk) {
  if (!on()) return;
  for (int i = step_; i < std::min(step_ + 2, int(tour_steps().size())); ++i) {
    const TourStep& s = tour_steps()[size_t(i)];
    if (desk != s.desk || (s.stage >= 0 && s.stage != int(bench_->stage()))) continue;
    step_ = i;
    return show_step();
  }
  put_ring();
}

void Tour::show_step() {
  const TourStep& s = tour_steps()[size_t(step_)];
  const bool last = size_t(step_) + 1 == tour_steps().size();
  title_->setText(QString("%1 / %2   %3").arg(step_ + 1).arg(tour_steps().size()).arg(spoken(s.title)));
  words_->setText(spoken(s.words));
  setAccessibleDescription(spoken(s.words));
  back_->setEnabled(step_ > 0);
  next_->setText(spoken(last ? "Done" : "Next"));
  if (!isVisible()) {
    show();
    next_->setFocus();
  }
  QTimer::singleShot(0, this, &Tour::put_ring);  // where the parts of the page are is known when it is laid out
}

QWidget* Tour::framed() const {
  if (!on()) return nullptr;
  const QString at = tour_steps()[size_t(step_)].at;
  for (QWidget* w : window()->findChildren<QWidget*>())
    if (w->isVisible() && (w->property("key").toString() == at || w->metaObject()->className() == at)) return w;
  return nullptr;
}

void Tour::put_ring() {
  if (!on()) return;
  QWidget* part = framed();
  if (part != target_) {
    if (target_) target_->removeEventFilter(this);
    if (part != nullptr) part->installEventFilter(this);
    target_ = part;
  }
  if (part == nullptr) {
    delete ring_;
    return;
  }
  if (!ring_) ring_ = new Ring(window());
  // As far as it is in sight: a part of a page that scrolls may be longer than the window.
  QRect seen(part->mapTo(window(), QPoint(0, 0)), part->size());
  for (QWidget* w = part->parentWidget(); w != nullptr && w != window(); w = w->parentWidget())
    seen &= QRect(w->mapTo(window(), QPoint(0, 0)), w->size());
  ring_->setGeometry(seen.adjusted(-kRingGap, -kRingGap, kRingGap, kRingGap));
  ring_->setVisible(!seen.isEmpty());
  ring_->raise();
}

bool Tour::eventFilter(QObject* object, QEvent* event) {
  if (object == target_) switch (event->type()) {
      case QEvent::Move:
      case QEvent::Resize:
      case QEvent::Show:
      case QEvent::Hide: QTimer::singleShot(0, this, &Tour::put_ring); break;
      default: break;
    }
  return QFrame::eventFilter(object, event);
}

}  // namespace fortitor
