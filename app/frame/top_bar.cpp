#include "app/frame/top_bar.h"

#include <QEvent>
#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QPainterPath>
#include <QPushButton>

#include "app/theme/parts.h"
#include "app/theme/theme.h"

namespace fortitor {

using theme::Ink;

namespace {
constexpr const char* kFind = "Find or do…   Ctrl K";
}

TopBar::TopBar(QWidget* parent) : QWidget(parent) {
  setFixedHeight(int(46 * std::min(1.5, theme::scale())));
  auto* layout = new QHBoxLayout(this);
  layout->setContentsMargins(60, 6, 16, 6);
  layout->setSpacing(14);
  auto* name = new QLabel("Fortitor");
  name->setStyleSheet("color:#FBFAF6;font-weight:700;font-size:15px;background:transparent");
  layout->addWidget(name);
  place_ = new QLabel;
  place_->setTextFormat(Qt::PlainText);
  place_->setStyleSheet("color:#D5D9DC;background:transparent");
  layout->addSpacing(6);
  layout->addWidget(place_, 1);
  auto pill = [&](const QString& text, const QString& key, const QString& style) {
    auto* b = new QPushButton(spoken(text));
    b->setProperty("key", key);
    b->setCursor(Qt::PointingHandCursor);
    b->setFocusPolicy(Qt::TabFocus);
    b->setStyleSheet("QPushButton{" + style + "} QPushButton:focus{border:2px solid #E0B84C}");
    layout->addWidget(b);
    return b;
  };
  find_ = pill(kFind, "top-find",
               "background:#30414F;color:#C3CBD1;border:1px solid #30414F;text-align:left;min-width:130px;padding:6px "
               "12px;font-weight:400");
  // It gives way to what instruments show; its key goes before its words are cut.
  find_->installEventFilter(this);
  find_->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
  find_->setMaximumWidth(theme::px(256));
  layout->setStretchFactor(find_, 1);
  live_ = new QHBoxLayout;
  live_->setSpacing(8);
  layout->addLayout(live_);
  pills_ = new QHBoxLayout;
  pills_->setSpacing(8);
  layout->addLayout(pills_);
  const QString round =
      "background:transparent;color:#F3F0E8;border:1px solid #5B6B78;border-radius:13px;padding:4px 12px";
  book_ = pill("", "top-book", round);
  book_->hide();
  connect(book_, &QPushButton::clicked, this, &TopBar::book_wanted);
  units_ = pill("SI", "top-units", round);
  operator_ = pill("", "top-operator", round);
  find_->setAccessibleName(spoken("Find or do"));
  units_->setAccessibleName(spoken("Unit set"));
  operator_->setAccessibleName(spoken("Operator"));
  units_->setToolTip(spoken("Display units: SI, US customary, kgf (Ctrl U)"));
  operator_->setToolTip(spoken("Who stands at the bench"));
  connect(find_, &QPushButton::clicked, this, &TopBar::find_wanted);
  connect(units_, &QPushButton::clicked, this, &TopBar::units_wanted);
  connect(operator_, &QPushButton::clicked, this, &TopBar::operator_wanted);
}

void TopBar::set_book(const QString& name, bool there, const QString& tip) {
  book_->setVisible(!name.isEmpty());
  book_->setText(spoken((there ? "● " : "○ ") + name));
  book_->setAccessibleName(spoken(there ? "Shared book " + name : "Shared book " + name + ", its server is away"));
  book_->setToolTip(spoken(theme::plain_tip(tip.isEmpty() ? "This book is shared with other benches." : tip)));
  const QString style = QString(
                            "QPushButton{background:transparent;color:%1;border:1px solid %2;border-radius:13px;"
                            "padding:4px 12px} QPushButton:focus{border:2px solid #E0B84C}")
                            .arg(there ? "#BFE3CE" : "#F6C9A8", there ? "#5E8F73" : "#D08A55");
  if (book_->styleSheet() != style) book_->setStyleSheet(style);
}

void TopBar::set_place(const QString& place) {
  place_->setText(spoken(place));
}
void TopBar::set_units(const QString& text) {
  units_->setText(spoken(text));
}
void TopBar::set_operator(const QString& name) {
  operator_->setText(name);
}
QPushButton* TopBar::add_pill(const QString& text, const QString& key, const QString& tip, bool over) {
  auto* b = new QPushButton(spoken(text));
  b->setProperty("key", key);
  b->setAccessibleName(spoken(text));
  b->setToolTip(spoken(tip));
  const QString fill = over ? "#7FBF9C" : "#E0B84C";
  b->setStyleSheet("QPushButton{background:" + fill +
                   ";color:#22303C;border:0;border-radius:13px;padding:5px 12px;font-weight:600} "
                   "QPushButton:focus{border:2px solid #FBFAF6}");
  pills_->addWidget(b);
  return b;
}

void TopBar::set_live(const std::vector<Live>& live) {
  constexpr size_t kMost = 2;
  const size_t n = std::min(kMost, live.size());
  if (live_pills_.size() != n) {
    parts::clear(live_);
    live_pills_.clear();
    for (size_t i = 0; i < n; ++i) {
      auto* b = new QPushButton;
      b->setProperty("key", "live:" + live[i].name);
      b->setToolTip(spoken(theme::plain_tip("What " + live[i].name + " shows. F8 takes it into the field in hand.")));
      connect(b, &QPushButton::clicked, this, [this, item = live[i].item] { emit item_wanted(item); });
      live_->addWidget(b);
      live_pills_.push_back(b);
    }
  }
  for (size_t i = 0; i < n; ++i) {
    live_pills_[i]->setText(spoken(live[i].name + "  " + live[i].value));
    live_pills_[i]->setAccessibleName(spoken(live[i].name + " shows " + live[i].value));
    const QString style =
        QString(
            "QPushButton{background:#22303C;color:%1;border:1px solid %2;border-radius:13px;padding:4px "
            "12px;font-weight:600} QPushButton:focus{border:2px solid #FBFAF6}")
            .arg(live[i].steady ? "#FBFAF6" : "#C3CBD1", live[i].steady ? "#7FBF9C" : "#E0B84C");
    if (live_pills_[i]->styleSheet() != style) live_pills_[i]->setStyleSheet(style);
    live_pills_[i]->ensurePolished();
    live_pills_[i]->setMinimumWidth(live_pills_[i]->sizeHint().width());  // Find gives way, not the figure
  }
}

void TopBar::set_running(const std::vector<RunningTimer>& timers, const std::vector<LongRun>& rigs) {
  parts::clear(pills_);
  constexpr size_t kMost = 3;
  for (size_t i = 0; i < std::min(kMost, timers.size()); ++i) {
    const RunningTimer& t = timers[i];
    auto* b =
        add_pill(t.text(), "timer:" + parts::qs(t.row.code),
                 t.left > 0 ? "Opens the specimen." : "Over. Opens the specimen and takes the time over.", t.left <= 0);
    connect(b, &QPushButton::clicked, this, [this, row = t.row] { emit timer_wanted(row.specimen, row.id); });
  }
  for (size_t i = 0; timers.size() + i < kMost && i < rigs.size(); ++i) {
    auto* b = add_pill(rigs[i].text(), "rig:" + parts::qs(rigs[i].code), "The rig runs. Opens the record.", false);
    connect(b, &QPushButton::clicked, this, [this, of = rigs[i].specimen] { emit rig_wanted(of); });
  }
}

QRect TopBar::find_area() const {
  return find_->geometry();
}

bool TopBar::eventFilter(QObject* watched, QEvent* event) {
  if (watched == find_ && event->type() == QEvent::Resize) {
    constexpr int kSides = 28;  // px: the padding of its style and its border
    const QString whole = spoken(kFind), words = whole.section("   ", 0, 0);
    const bool fits = find_->fontMetrics().horizontalAdvance(whole) + kSides <= find_->width();
    if (const QString& text = fits ? whole : words; find_->text() != text) find_->setText(text);
  }
  return QWidget::eventFilter(watched, event);
}

void TopBar::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.fillRect(rect(), theme::color(Ink::bar));
  p.setRenderHint(QPainter::Antialiasing);
  // The mark: a waisted bar.
  const double cy = height() / 2.0;
  QPainterPath mark(QPointF(17, cy - 8));
  mark.lineTo(25, cy - 8);
  mark.cubicTo(26, cy - 4, 32, cy - 4, 33, cy - 8);
  mark.lineTo(41, cy - 8);
  mark.lineTo(41, cy + 8);
  mark.lineTo(33, cy + 8);
  mark.cubicTo(32, cy + 4, 26, cy + 4, 25, cy + 8);
  mark.lineTo(17, cy + 8);
  mark.closeSubpath();
  p.setPen(Qt::NoPen);
  p.setBrush(QColor("#E0B84C"));
  p.drawPath(mark);
}

}  // namespace fortitor
