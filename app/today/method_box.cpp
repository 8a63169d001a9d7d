#include "app/today/method_box.h"

#include <QKeyEvent>
#include <QPainter>
#include <algorithm>

#include "app/sketches/sketch.h"
#include "app/theme/flow.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"

namespace fortitor {

using parts::qs;

namespace {

constexpr QSizeF kDrawn{480, 290};  // px at which a sketch is drawn; a card shows it smaller, words and all
constexpr double kCard = 168, kPicture = 86;
constexpr int kAcross = 6, kGap = 8;  // cards on a line

// A bench by what is at the head of its equipment.
QString bench_of(const Method& m) {
  const std::string first = m.equipment.empty() ? "" : m.equipment.front().id;
  for (const auto& [slot, words] : {std::pair{"frame", "Universal frame"},
                                    {"torque_cell", "Torsion bench"},
                                    {"scale", "Balance"},
                                    {"hardness_machine", "Hardness tester"},
                                    {"hammer", "Pendulum"},
                                    {"drop_tower", "Drop tower"}})
    if (first == slot) return words;
  return m.equipment.empty() ? QString("Others") : qs(m.equipment.front().label);
}

// Benches in the order in which their methods come.
std::vector<std::pair<QString, std::vector<const Method*>>> by_bench() {
  std::vector<std::pair<QString, std::vector<const Method*>>> out;
  for (const Method* m : methods::all()) {
    const QString bench = bench_of(*m);
    auto it = std::find_if(out.begin(), out.end(), [&](const auto& b) { return b.first == bench; });
    if (it == out.end()) it = out.insert(out.end(), {bench, {}});
    it->second.push_back(m);
  }
  return out;
}

}  // namespace

MethodCard::MethodCard(const Method* method, QWidget* parent) : QAbstractButton(parent), method_(method) {
  setText(spoken(qs(method->name)));
  setAccessibleName(spoken(qs(method->name)));
  setAccessibleDescription(spoken(qs(method->standard)));
  setProperty("key", "method:" + qs(method->id));
  setFocusPolicy(Qt::StrongFocus);
  setCursor(Qt::PointingHandCursor);
}

QSize MethodCard::sizeHint() const {
  const double s = theme::scale();
  return QSize(int(kCard * s), int((kPicture + 46) * s));
}

void MethodCard::enterEvent(QEnterEvent* event) {
  setFocus();
  QAbstractButton::enterEvent(event);
}

void MethodCard::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const double s = theme::scale();
  const QRectF box = QRectF(rect()).adjusted(1, 1, -1, -1);
  p.setPen(
      QPen(hasFocus() ? theme::color(theme::Ink::action) : theme::color(theme::Ink::hairline), hasFocus() ? 2 : 1));
  p.setBrush(theme::color(theme::Ink::sheet));
  p.drawRoundedRect(box, 6, 6);
  if (const auto sketch = make_sketch(method_->card_sketch.empty() ? method_->prepare_sketch : method_->card_sketch)) {
    const TestRecord none = [&] {
      TestRecord r;
      r.method = method_->id;
      return r;
    }();
    const QRectF room = box.adjusted(8, 6, -8, -46 * s);
    const double shrink = std::min(room.width() / kDrawn.width(), room.height() / kDrawn.height());
    p.save();
    p.setClipRect(room);
    p.translate(room.center() - QPointF(kDrawn.width(), kDrawn.height()) * shrink / 2);
    p.scale(shrink, shrink);
    const SketchState state{.record = none, .focus = {}};
    sketch->paint(p, QRectF(QPointF(0, 0), kDrawn), state);
    p.restore();
  }
  p.setFont(theme::words(12.5, QFont::DemiBold));
  p.setPen(theme::color(theme::Ink::ink));
  const QRectF words = QRectF(box.left() + 8, box.bottom() - 42 * s, box.width() - 16, 20 * s);
  const bool fits = p.fontMetrics().horizontalAdvance(spoken(qs(method_->name))) <= words.width();
  p.drawText(words, Qt::AlignLeft | Qt::AlignVCenter,
             p.fontMetrics().elidedText(spoken(qs(fits ? method_->name : method_->short_name)), Qt::ElideRight,
                                        int(words.width())));
  p.setFont(theme::words(11));
  p.setPen(theme::color(theme::Ink::quiet));
  p.drawText(words.translated(0, 18 * s), Qt::AlignLeft | Qt::AlignVCenter,
             p.fontMetrics().elidedText(spoken(qs(method_->standard)), Qt::ElideRight, int(words.width())));
}

MethodCards::MethodCards(QWidget* parent) : QFrame(parent, Qt::Popup) {
  setObjectName("page");
  auto* column = parts::column(this, 16, 6);
  auto* content = new QWidget;
  content->setObjectName("plain");
  // A bench of a few methods stands beside the next; the frame has lines of its own.
  auto* benches = new FlowLayout(14, content);
  for (const auto& [bench, all] : by_bench()) {
    auto* group = new QWidget;
    group->setObjectName("plain");
    auto* list = parts::column(group, 0, 6);
    list->addWidget(parts::label(bench, "title"));
    auto* row = new QWidget;
    row->setObjectName("plain");
    const int across = int(std::min<size_t>(all.size(), kAcross));
    row->setFixedWidth(int(across * (kCard * theme::scale() + kGap)));
    auto* flow = new FlowLayout(kGap, row);
    for (const Method* m : all) {
      auto* card = new MethodCard(m);
      connect(card, &QAbstractButton::clicked, this, [this, m] {
        emit taken(qs(m->id));
        close();
      });
      flow->addWidget(card);
      cards_.push_back(card);
    }
    list->addWidget(row);
    benches->addWidget(group);
  }
  column->addWidget(parts::scroller(content), 1);
}

void MethodCards::show_over(QWidget* window, const std::string& chosen) {
  const QSize room = window->size() - QSize(80, 90);
  resize(std::min(room.width(), int(1120 * theme::scale())), std::min(room.height(), int(720 * theme::scale())));
  move(window->mapToGlobal(QPoint((window->width() - width()) / 2, (window->height() - height()) / 2 + 10)));
  theme::dress(this);
  show();
  for (MethodCard* c : cards_)
    if (c->method()->id == chosen) c->setFocus();
}

// The nearest card on that side.
MethodCard* MethodCards::beside(const MethodCard* from, int key) const {
  const auto centre = [this](const MethodCard* c) { return c->mapTo(this, c->rect().center()); };
  const QPoint at = centre(from);
  MethodCard* best = nullptr;
  double least = HUGE_VAL;
  for (MethodCard* c : cards_) {
    const QPoint d = centre(c) - at;
    const bool ahead = key == Qt::Key_Right  ? d.x() > 0 && std::abs(d.y()) < from->height() / 2
                       : key == Qt::Key_Left ? d.x() < 0 && std::abs(d.y()) < from->height() / 2
                       : key == Qt::Key_Down ? d.y() > from->height() / 2
                                             : d.y() < -from->height() / 2;
    const double far = std::hypot(key == Qt::Key_Up || key == Qt::Key_Down ? 0.3 * d.x() : d.x(), d.y());
    if (!ahead || far >= least) continue;
    least = far;
    best = c;
  }
  return best;
}

void MethodCards::keyPressEvent(QKeyEvent* event) {
  auto* card = qobject_cast<MethodCard*>(focusWidget());
  switch (event->key()) {
    case Qt::Key_Escape: close(); return;
    case Qt::Key_Return:
    case Qt::Key_Enter:
      if (card != nullptr) card->click();
      return;
    case Qt::Key_Left:
    case Qt::Key_Right:
    case Qt::Key_Up:
    case Qt::Key_Down:
      if (MethodCard* next = card != nullptr ? beside(card, event->key()) : cards_.front()) next->setFocus();
      return;
    default: QFrame::keyPressEvent(event);
  }
}

MethodBox::MethodBox(QWidget* parent) : QComboBox(parent) {
  for (const Method* m : methods::all()) addItem(spoken(qs(m->name) + "  (" + qs(m->standard) + ")"), qs(m->id));
}

void MethodBox::showPopup() {
  if (cards_ == nullptr) {
    cards_ = new MethodCards(this);
    connect(cards_, &MethodCards::taken, this, [this](const QString& id) { setCurrentIndex(findData(id)); });
  }
  cards_->show_over(window(), currentData().toString().toStdString());
}

}  // namespace fortitor
