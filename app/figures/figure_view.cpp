#include "app/figures/figure_view.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <cmath>

#include "app/figures/colours.h"
#include "app/figures/said_figure.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"

namespace fortitor {

using parts::qs;
using theme::Ink;

FigureColours screen_colours() {
  FigureColours c = paper_colours();
  c.ink = theme::color(Ink::ink);
  c.quiet = theme::color(Ink::quiet);
  c.grid = theme::color(Ink::grid);
  c.paper = theme::color(Ink::sheet);
  c.mark = theme::temper(2);
  c.main = theme::temper(5);
  c.window = theme::color(Ink::window);
  c.limit = theme::color(Ink::fails);
  c.alarm = theme::color(Ink::fails);
  c.action = theme::color(Ink::action);
  for (int i = 0; i < 7; ++i) c.temper[size_t(i)] = theme::temper(i);
  return c;
}

namespace {

bool same_data(const Panel& a, const Panel& b) {
  if (a.traces.size() != b.traces.size()) return false;
  for (size_t i = 0; i < a.traces.size(); ++i)
    if (a.traces[i].x != b.traces[i].x || a.traces[i].y != b.traces[i].y) return false;
  return true;
}

}  // namespace

FigureView::FigureView(QWidget* parent) : QWidget(parent) {
  setFocusPolicy(Qt::StrongFocus);
  setAccessibleName(spoken("Figure"));
  setMouseTracking(true);
}

void FigureView::show_figure(const Figure& figure, UnitSet set, const Figure* original) {
  set_ = set;
  if (figure.id != figure_.id) {
    cursor_.reset();
    zoom_.clear();
  }
  figure_ = figure;
  setAccessibleName(spoken(qs(figure.title.empty() ? std::string("Figure") : figure.title)));
  if (first_only_ && figure_.panels.size() > 1) figure_.panels.resize(1);
  for (size_t i = 0; original != nullptr && i < std::min(figure_.panels.size(), original->panels.size()); ++i) {
    if (same_data(figure_.panels[i], original->panels[i])) continue;
    std::vector<Trace> beneath = original->panels[i].traces;
    for (Trace& t : beneath) {
      t.pale = true;
      t.dash = Dash::dash_dot;
      t.label.clear();
      t.flags.clear();
    }
    figure_.panels[i].traces.insert(figure_.panels[i].traces.begin(), beneath.begin(), beneath.end());
  }
  lay_out();
}

QSize FigureView::minimumSizeHint() const {
  return {220, int(std::max(210.0, 170 * theme::scale()))};
}

std::vector<PaintedPart> FigureView::painted_parts() {
  std::vector<PaintedPart> out;
  const figure::Layout& l = laid();
  const Figure f = shown();
  for (size_t k = 0; k < f.panels.size() && k < l.frames.size(); ++k) {
    const Panel& p = f.panels[k];
    const figure::Frame& frame = l.frames[k];
    const QRect where = QRectF(frame.left, frame.top, frame.width, frame.height).toRect();
    const auto of_axis = [&](const Axis& a, double from, double to) {
      return spoken(qs(a.name)) + " " + spoken(qs(format_value(from, a.dimension, set_, 3))) + " – " +
             spoken(qs(format_value(to, a.dimension, set_, 3)));
    };
    out.push_back({spoken(qs(p.name.empty() ? f.title : p.name)),
                   of_axis(p.x, frame.x0, frame.x1) + "; " + of_axis(p.y, frame.y0, frame.y1), where,
                   QAccessible::Chart});
    for (const Mark& m : p.marks) {
      if (m.label.empty() || (m.on_demand && m.key != highlighted_)) continue;
      out.push_back({spoken(qs(m.label)),
                     m.value ? spoken(qs(format_value(*m.value, m.dimension, set_, 4))) : QString(), where,
                     QAccessible::ListItem, !m.key.empty() && m.key == highlighted_,
                     m.key.empty() ? std::function<void()>{} : [this, key = qs(m.key)] { emit picked(key); }});
    }
  }
  return out;
}

void FigureView::show_nothing(const QString& sentence) {
  figure_ = {};
  empty_sentence_ = sentence;
  lay_out();
}

void FigureView::highlight(const std::string& key) {
  highlighted_ = key;
  lay_out();
}

// A page that is built asks for it several times over; it is done once, when the figure is looked at.
void FigureView::lay_out() {
  update();
  if (stale_) return;
  stale_ = true;
  QMetaObject::invokeMethod(
      this,
      [this] {
        if (isVisible()) laid();
      },
      Qt::QueuedConnection);
}

const figure::Layout& FigureView::laid() const {
  if (stale_) const_cast<FigureView*>(this)->lay_out_now();
  return layout_;
}

bool FigureView::takes_turns() const {
  laid();
  return !turns_.empty();
}

void FigureView::lay_out_now() {
  stale_ = false;
  figure::Options o;
  o.width = width();
  o.height = height();
  o.set = set_;
  o.language = tongue().language();
  o.text_scale = theme::scale();
  o.highlight = highlighted_;
  o.cursor = cursor_;
  o.handles = true;
  o.held = grabbed_ >= 0 || hasFocus() ? chosen_ : -1;
  if (grabbed_ >= 0) o.keep = layout_.frames;  // the paper stands still under a dragging hand
  lay_turns(figure::arrangement(figure_, o) == figure::Arrangement::turns);
  const double strip = takes_turns() ? turns_.front()->height() + 4 : 0;
  o.height -= strip;
  if (grabbed_ < 0) whole_.clear();
  if (!zoom_.empty() && grabbed_ < 0) {
    whole_ = figure::lay_out(shown(), o).frames;
    o.keep = whole_;
    for (const auto& [panel, part] : zoom_)
      if (panel < o.keep.size()) o.keep[panel] = part;
  }
  layout_ = figure::lay_out(shown(), o);
  if (strip > 0) figure::move_down(layout_, strip);
}

Figure FigureView::shown() const {
  Figure f = figure_;
  if (takes_turns() && turn_ < f.panels.size()) f.panels = {figure_.panels[turn_]};
  return said_figure(std::move(f));
}

void FigureView::lay_turns(bool wanted) {
  const size_t n = wanted ? figure_.panels.size() : 0;
  turn_ = turn_ < n ? turn_ : 0;
  while (turns_.size() > n) {
    turns_.back()->deleteLater();
    turns_.pop_back();
  }
  while (turns_.size() < n) {
    const size_t i = turns_.size();
    auto* b = parts::button("", QString("panel-%1").arg(i), "", this);
    b->setCheckable(true);
    connect(b, &QPushButton::clicked, this, [this, i] { show_panel(i); });
    b->show();
    turns_.push_back(b);
  }
  int left = 0;
  for (size_t i = 0; i < n; ++i) {
    const Panel& p = figure_.panels[i];
    turns_[i]->setText(spoken(qs(p.name.empty() ? p.y.name + " over " + p.x.name : p.name)));
    turns_[i]->setChecked(i == turn_);
    turns_[i]->resize(turns_[i]->sizeHint());
    turns_[i]->move(left, 0);
    left += turns_[i]->width() + 6;
  }
}

void FigureView::show_panel(size_t panel) {
  turn_ = panel;
  chosen_ = -1;
  zoom_.clear();
  lay_out();
}

void FigureView::paintEvent(QPaintEvent*) {
  QPainter p(this);
  if (!figure_.empty()) {
    paint_figure(p, laid(), screen_colours());
    return paint_reading(p);
  }
  p.setPen(theme::color(Ink::quiet));
  p.setFont(theme::words(14));
  p.drawText(rect().adjusted(24, 0, -24, 0), Qt::AlignCenter | Qt::TextWordWrap, spoken(empty_sentence_));
}

std::vector<Handle> FigureView::handles() const {
  std::vector<Handle> out;
  for (const figure::HandleSpot& s : laid().handles) out.push_back(s.handle);
  return out;
}

QPointF FigureView::handle_position(size_t n) const {
  return {laid().handles.at(n).at.x, laid().handles.at(n).at.y};
}

int FigureView::handle_at(const QPointF& at) const {
  for (size_t i = 0; i < laid().handles.size(); ++i) {
    const QPointF d = handle_position(i) - at;
    if (std::abs(d.x()) <= 12 && std::abs(d.y()) <= 12) return int(i);
  }
  return -1;
}

double FigureView::value_at(const QPointF& px) const {
  const figure::Frame& f = laid().frames.at(grabbed_spot_.panel);
  return grabbed_spot_.handle.along_x ? f.data_x(px.x()) : f.data_y(px.y());
}

void FigureView::move_cursor(const QPointF& at) {
  const Figure f = shown();
  for (size_t i = 0; i < laid().frames.size() && i < f.panels.size(); ++i) {
    const figure::Frame& frame = laid().frames[i];
    if (!frame.holds(at.x(), at.y()) || f.panels[i].traces.empty()) continue;
    const Trace& t = f.panels[i].traces[0];
    double nearest = HUGE_VAL;
    for (size_t k = 0; k < std::min(t.x.size(), t.y.size()); ++k) {
      // Along a time the nearest sample is that of the time; a loop is looked for along both.
      const double dx = frame.px(t.x[k]) - at.x(), dy = 0.5 * (frame.py(t.y[k]) - at.y()), d = dx * dx + dy * dy;
      if (d < nearest) nearest = d, cursor_ = k;
    }
    return lay_out();
  }
}

void FigureView::mousePressEvent(QMouseEvent* event) {
  setFocus();
  grabbed_ = event->button() == Qt::LeftButton ? handle_at(event->position()) : -1;
  if (grabbed_ >= 0) {
    grabbed_spot_ = laid().handles[size_t(grabbed_)];
    chosen_ = grabbed_;
    return lay_out();
  }
  for (const figure::Pick& pick : laid().picks)
    if (std::hypot(pick.at.x - event->position().x(), pick.at.y - event->position().y()) < 12) {
      emit picked(qs(pick.key));
      return;
    }
  if (event->button() == Qt::LeftButton) begin_sweep(event);
}

void FigureView::mouseMoveEvent(QMouseEvent* event) {
  if (grabbed_ >= 0) {
    emit dragged(grabbed_spot_.handle, value_at(event->position()));
    return;
  }
  if (sweep_) return go_on_sweeping(event->position());
  pointer_ = event->position();
  if (figure_.linked)
    move_cursor(event->position());
  else
    update();
  const int over = handle_at(event->position());
  if (over < 0)
    setCursor(Qt::ArrowCursor);
  else
    setCursor(laid().handles[size_t(over)].handle.along_x ? Qt::SizeHorCursor : Qt::SizeVerCursor);
}

void FigureView::mouseReleaseEvent(QMouseEvent* event) {
  if (sweep_) {
    const QRectF box = QRectF(*sweep_, event->position()).normalized();
    const int panel = panel_at(*sweep_);
    sweep_.reset();
    if (boxing_ && panel >= 0 && box.width() > 6 && box.height() > 6) magnify(size_t(panel), box);
    boxing_ = false;
    return update();
  }
  if (grabbed_ < 0) return;
  const double value = value_at(event->position());
  grabbed_ = -1;
  emit released(grabbed_spot_.handle, value);
}

void FigureView::keyPressEvent(QKeyEvent* event) {
  const int n = int(laid().handles.size());
  const int key = event->key();
  if (event->matches(QKeySequence::Copy) && !empty()) return copy_picture();
  if (key == Qt::Key_0 && zoomed()) return show_all();
  if (key == Qt::Key_Y && !empty()) return zoomed() ? show_all() : show_beginning();
  if ((key == Qt::Key_Plus || key == Qt::Key_Minus) && !laid().frames.empty()) {
    const figure::Frame& f = laid().frames.front();
    return magnify_about({f.left + f.width / 2, f.top + f.height / 2}, key == Qt::Key_Plus ? 1.4 : 1 / 1.4);
  }
  if (n > 0 && (key == Qt::Key_Left || key == Qt::Key_Right)) {
    chosen_ = (chosen_ + (key == Qt::Key_Right ? 1 : n - 1)) % n;
    return lay_out();
  }
  if (n > 0 && (key == Qt::Key_Up || key == Qt::Key_Down)) {
    chosen_ = std::clamp(chosen_, 0, n - 1);
    const figure::HandleSpot& spot = laid().handles[size_t(chosen_)];
    const figure::Frame& f = laid().frames.at(spot.panel);
    const double span = spot.handle.along_x ? f.x1 - f.x0 : f.y1 - f.y0;
    const double step = span * (event->modifiers() & Qt::ShiftModifier ? 0.02 : 0.004);
    const double at = spot.handle.along_x ? spot.handle.at.x : spot.handle.at.y;
    emit released(spot.handle, at + (key == Qt::Key_Up ? step : -step));
    return;
  }
  if (n == 0 && figure_.linked && !figure_.panels[0].traces.empty() && (key == Qt::Key_Left || key == Qt::Key_Right)) {
    const long size = long(figure_.panels[0].traces[0].x.size());
    const long step = std::max(1L, size / (event->modifiers() & Qt::ShiftModifier ? 20 : 200));
    cursor_ = size_t(std::clamp(long(cursor_.value_or(0)) + (key == Qt::Key_Right ? step : -step), 0L, size - 1));
    return lay_out();
  }
  QWidget::keyPressEvent(event);
}

void FigureView::focusInEvent(QFocusEvent* event) {
  QWidget::focusInEvent(event);
  lay_out();
}

void FigureView::focusOutEvent(QFocusEvent* event) {
  QWidget::focusOutEvent(event);
  lay_out();
}

void FigureView::resizeEvent(QResizeEvent* event) {
  QWidget::resizeEvent(event);
  lay_out();
}

}  // namespace fortitor
