#include "app/frame/stage_bar.h"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QPainter>
#include <QPainterPath>
#include <QToolTip>

#include "app/theme/parts.h"
#include "app/theme/theme.h"

namespace fortitor {

using parts::qs;
using theme::Ink;

StageBar::StageBar(Workbench* bench, QWidget* parent) : QWidget(parent), bench_(bench) {
  setFixedHeight(int(56 * std::min(1.5, theme::scale())));
  setFocusPolicy(Qt::StrongFocus);
  setAccessibleName(spoken("Stages"));
  for (auto signal : {&Workbench::record_changed, &Workbench::evaluation_changed, &Workbench::stage_changed,
                      &Workbench::docket_changed})
    connect(bench, signal, this, [this] { update(); });
}

QPointF StageBar::node(int stage) const {
  const double left = 58, right = width() - 58;
  return {left + (right - left) * stage / 6.0, 18};
}

void StageBar::paintEvent(QPaintEvent*) {
  if (!bench_->has_specimen()) return;
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const Progress progress = bench_->progress();
  int reached = -1;
  for (int i = 0; i < kStageCount; ++i)
    if (progress[size_t(i)].state == StageProgress::State::done) reached = i;
  const double cy = 18, head = 20, waist = 7, hw = 40;
  QPainterPath bar(QPointF(0, cy - head / 2));
  const double r = width();
  bar.lineTo(hw * 0.9, cy - head / 2);
  bar.cubicTo(hw * 1.2, cy - head / 2, hw * 1.25, cy - waist / 2, hw * 1.7, cy - waist / 2);
  bar.lineTo(r - hw * 1.7, cy - waist / 2);
  bar.cubicTo(r - hw * 1.25, cy - waist / 2, r - hw * 1.2, cy - head / 2, r - hw * 0.9, cy - head / 2);
  bar.lineTo(r, cy - head / 2);
  bar.lineTo(r, cy + head / 2);
  bar.lineTo(r - hw * 0.9, cy + head / 2);
  bar.cubicTo(r - hw * 1.2, cy + head / 2, r - hw * 1.25, cy + waist / 2, r - hw * 1.7, cy + waist / 2);
  bar.lineTo(hw * 1.7, cy + waist / 2);
  bar.cubicTo(hw * 1.25, cy + waist / 2, hw * 1.2, cy + head / 2, hw * 0.9, cy + head / 2);
  bar.lineTo(0, cy + head / 2);
  bar.closeSubpath();
  p.setPen(Qt::NoPen);
  p.setBrush(theme::dark() ? QColor("#36424C") : QColor("#DDD7C8"));
  p.drawPath(bar);
  if (reached >= 0) {  // heat runs along the bar as far as the work has gone
    QLinearGradient heat(0, 0, r, 0);
    for (int i = 0; i < kStageCount; ++i) heat.setColorAt(node(i).x() / r, theme::temper(i));
    p.setBrush(heat);
    p.setClipRect(QRectF(0, 0, reached == 6 ? r : node(reached).x(), height()));
    p.drawPath(bar);
    p.setClipping(false);
  }
  for (int i = 0; i < kStageCount; ++i) {
    const QPointF c = node(i);
    const auto state = progress[size_t(i)].state;
    const bool here = int(bench_->stage()) == i;
    const double radius = here ? 10 : 6.5;
    p.setPen(QPen(here            ? theme::color(Ink::ink)
                  : theme::dark() ? QColor("#5A6873")
                                  : QColor("#A79F8D"),
                  here ? 2.5 : 1.4));
    p.setBrush(state == StageProgress::State::done    ? theme::temper(i)
               : state == StageProgress::State::begun ? theme::temper(i).lighter(150)
                                                      : theme::color(Ink::sheet));
    p.drawEllipse(c, radius, radius);
    if (here && hasFocus()) {
      p.setPen(QPen(theme::color(Ink::action), 2));
      p.setBrush(Qt::NoBrush);
      p.drawEllipse(c, radius + 4, radius + 4);
    }
    p.setFont(theme::words(12, here ? QFont::Bold : QFont::Normal));
    p.setPen(state == StageProgress::State::open && !here ? theme::color(Ink::quiet) : theme::color(Ink::ink));
    p.drawText(QRectF(c.x() - 60, 34, 120, 18 * theme::scale()), Qt::AlignHCenter | Qt::AlignTop,
               spoken(qs(stage_name(Stage(i)))));
  }
}

std::vector<PaintedPart> StageBar::painted_parts() {
  if (!bench_->has_specimen()) return {};
  std::vector<PaintedPart> out;
  const Progress progress = bench_->progress();
  for (int i = 0; i < kStageCount; ++i) {
    const auto state = progress[size_t(i)].state;
    const QPoint c = node(i).toPoint();
    out.push_back({spoken(qs(stage_name(Stage(i)))),
                   spoken(state == StageProgress::State::done    ? "done"
                          : state == StageProgress::State::begun ? "begun"
                                                                 : "open"),
                   QRect(c.x() - 46, 0, 92, height()), QAccessible::PageTab, int(bench_->stage()) == i,
                   [this, i] { bench_->set_stage(Stage(i)); }});
  }
  return out;
}

int StageBar::at(const QPointF& p) const {
  for (int i = 0; i < kStageCount; ++i)
    if (std::abs(node(i).x() - p.x()) < 46) return i;
  return -1;
}

void StageBar::mousePressEvent(QMouseEvent* event) {
  const int i = at(event->position());
  if (i >= 0 && bench_->has_specimen()) bench_->set_stage(Stage(i));
}

void StageBar::keyPressEvent(QKeyEvent* event) {
  const int step = event->key() == Qt::Key_Right ? 1 : event->key() == Qt::Key_Left ? -1 : 0;
  if (step == 0) return QWidget::keyPressEvent(event);
  bench_->set_stage(Stage(std::clamp(int(bench_->stage()) + step, 0, kStageCount - 1)));
}

bool StageBar::event(QEvent* e) {
  if (e->type() == QEvent::ToolTip && bench_->has_specimen()) {
    auto* help = static_cast<QHelpEvent*>(e);
    const int i = at(help->pos());
    if (i < 0) return false;
    const auto progress = bench_->progress();
    QString text = qs(stage_name(Stage(i))) + "  Alt+" + QString::number(i + 1);
    for (const auto& m : progress[size_t(i)].missing) text += "\n" + qs(m);
    QToolTip::showText(help->globalPos(), text, this);
    return true;
  }
  return QWidget::event(e);
}

}  // namespace fortitor
