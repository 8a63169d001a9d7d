#include "app/figures/curve_figure.h"

#include <cmath>

#include "app/figures/construction_layer.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"

namespace fortitor {

using parts::qs;
using theme::Ink;

CurveFigure::CurveFigure(View view, QWidget* parent) : QCustomPlot(parent), view_(view) {
  setFocusPolicy(Qt::StrongFocus);
  setAccessibleName(view == View::whole ? "Whole curve" : "Elastic lens");
  setMinimumSize(220, 210);
  setMouseTracking(true);
  ghost_ = new QCPCurve(xAxis, yAxis);
  curve_ = new QCPCurve(xAxis, yAxis);
  layer_ = new ConstructionLayer(this);
  axisRect()->setAutoMargins(QCP::msLeft | QCP::msBottom | QCP::msRight | QCP::msTop);
  axisRect()->setMinimumMargins(QMargins(8, 20, 14, 4));
  empty_sentence_ = "Nothing has been run or imported yet.";
  restyle();
}

void CurveFigure::restyle() {
  setBackground(theme::color(Ink::sheet));
  for (QCPAxis* a : {xAxis, yAxis}) {
    a->setBasePen(QPen(theme::color(Ink::ink), 1.2));
    a->setTickPen(Qt::NoPen);
    a->setSubTickPen(Qt::NoPen);
    a->setTickLabelFont(theme::numbers(11));
    a->setTickLabelColor(theme::color(Ink::quiet));
    a->setLabelFont(theme::words(12, QFont::Medium));
    a->setLabelColor(theme::color(Ink::ink));
    a->setLabelPadding(4);
    a->grid()->setPen(QPen(theme::color(Ink::grid), 1));
    a->grid()->setZeroLinePen(Qt::NoPen);
    a->ticker()->setTickCount(view_ == View::whole ? 6 : 4);
  }
  QColor thread = theme::temper(5);
  const bool stations = evaluation_ && evaluation_->curve && evaluation_->curve->stations;
  thread.setAlpha(stations ? 90 : 255);  // between stops nothing was read
  curve_->setPen(QPen(thread, stations ? 1.2 : 2));
  QColor pale = theme::color(Ink::quiet);
  pale.setAlpha(120);
  ghost_->setPen(QPen(pale, 1.4, Qt::DashDotLine));
  replot(QCustomPlot::rpQueuedReplot);
}

double CurveFigure::unit_x() const {
  if (!evaluation_ || !evaluation_->curve) return 1;
  const CurveData& c = *evaluation_->curve;
  return display_unit(c.x_dimension, set_, 0).factor;
}

double CurveFigure::unit_y() const {
  if (!evaluation_ || !evaluation_->curve) return 1;
  return display_unit(evaluation_->curve->y_dimension, set_, 0).factor;
}

// Keeps a point only when it has moved by half a pixel: a million samples draw like a thousand.
void CurveFigure::feed(QCPCurve* curve, const CurveData& c) {
  const double ux = unit_x(), uy = unit_y();
  double top_x = 0, top_y = 0;
  const double edge = view_ == View::lens ? c.lens_x.value_or(HUGE_VAL) * 1.15 : HUGE_VAL;
  for (size_t i = 0; i < c.x.size(); ++i) {
    if (!std::isfinite(c.x[i]) || c.x[i] > edge) continue;
    top_x = std::max(top_x, std::abs(c.x[i]));
    top_y = std::max(top_y, std::abs(c.y[i]));
  }
  const double step_x = std::max(1e-12, top_x / std::max(200, width()) * 0.5),
               step_y = std::max(1e-12, top_y / std::max(200, height()) * 0.5);
  QVector<QCPCurveData> points;
  double last_x = HUGE_VAL, last_y = HUGE_VAL, t = 0;
  const size_t end = std::min(c.x.size(), c.break_index + 1);
  for (size_t i = 0; i < end; ++i) {
    if (!std::isfinite(c.x[i]) || !std::isfinite(c.y[i])) continue;
    if (c.x[i] > edge && last_x > edge && last_x != HUGE_VAL) continue;
    if (std::abs(c.x[i] - last_x) < step_x && std::abs(c.y[i] - last_y) < step_y) continue;
    last_x = c.x[i];
    last_y = c.y[i];
    points.push_back({t++, last_x / ux, last_y / uy});
  }
  curve->data()->set(points, true);
}

void CurveFigure::fit_axes() {
  const CurveData& c = *evaluation_->curve;
  double top_x = 0, top_y = 0, low_x = 0;
  const double edge = view_ == View::lens ? c.lens_x.value_or(HUGE_VAL) : HUGE_VAL;
  for (double x : c.second.x)
    if (std::isfinite(x)) {
      low_x = std::min(low_x, std::max(x, -edge));
      if (x <= edge) top_x = std::max(top_x, x);
    }
  for (size_t i = 0; i < std::min(c.x.size(), c.break_index + 1); ++i) {
    if (!std::isfinite(c.x[i]) || c.x[i] > edge) continue;
    top_x = std::max(top_x, c.x[i]);
    top_y = std::max(top_y, c.y[i]);
  }
  if (view_ == View::lens && std::isfinite(edge)) top_x = edge;
  const double room = view_ == View::lens ? 1.0 : c.stations ? 1.1 : 1.04;
  xAxis->setRange(low_x * 1.15 / unit_x(), std::max(1e-9, top_x * room) / unit_x());
  yAxis->setRange(0, std::max(1e-9, top_y * 1.12) / unit_y());
}

void CurveFigure::show_evaluation(const EvaluationPtr& evaluation, const EvaluationPtr& original, UnitSet set) {
  set_ = set;
  if (!evaluation || !evaluation->curve || evaluation->curve->x.empty()) return show_nothing(empty_sentence_);
  evaluation_ = evaluation;
  original_ = original;
  const CurveData& c = *evaluation->curve;
  restyle();
  feed(curve_, c);
  if (original && original->curve && original->curve != evaluation->curve)
    feed(ghost_, *original->curve);
  else
    ghost_->data()->clear();
  if (grabbed_ < 0) fit_axes();  // the paper stands still under a dragging hand
  xAxis->setLabel(qs(c.x_name) + ", " + qs(display_unit(c.x_dimension, set, 0).symbol) +
                  (view_ == View::lens ? ", elastic lens" : ""));
  yAxis->setLabel(qs(c.y_name) + ", " + qs(display_unit(c.y_dimension, set, 0).symbol));
  replot(QCustomPlot::rpQueuedReplot);
}

void CurveFigure::show_nothing(const QString& sentence) {
  evaluation_.reset();
  original_.reset();
  empty_sentence_ = sentence;
  curve_->data()->clear();
  ghost_->data()->clear();
  xAxis->setLabel("strain, %");
  yAxis->setLabel("stress");
  xAxis->setRange(0, 1);
  yAxis->setRange(0, 1);
  replot(QCustomPlot::rpQueuedReplot);
}

void CurveFigure::highlight(const std::string& key) {
  highlighted_ = key;
  replot(QCustomPlot::rpQueuedReplot);
}

std::vector<Handle> CurveFigure::handles() const {
  std::vector<Handle> out;
  if (view_ != View::lens || !evaluation_) return out;
  for (const Construction& c : evaluation_->constructions) out.insert(out.end(), c.handles.begin(), c.handles.end());
  return out;
}

QPointF CurveFigure::handle_position(const Handle& h) const {
  const QRectF plot = axisRect()->rect();
  if (h.along_x) return {xAxis->coordToPixel(h.at.x / unit_x()), plot.top() + 8};
  return {plot.right() - 9, yAxis->coordToPixel(h.at.y / unit_y())};
}

double CurveFigure::handle_value(const Handle& h) const {
  return h.along_x ? h.at.x : h.at.y;
}

int CurveFigure::handle_at(const QPointF& at) const {
  const auto all = handles();
  for (size_t i = 0; i < all.size(); ++i) {
    const QPointF d = handle_position(all[i]) - at;
    if (std::abs(d.x()) <= 12 && std::abs(d.y()) <= 12) return int(i);
  }
  return -1;
}

void CurveFigure::mousePressEvent(QMouseEvent* event) {
  setFocus();
  grabbed_ = event->button() == Qt::LeftButton ? handle_at(event->position()) : -1;
  if (grabbed_ >= 0) {
    grabbed_handle_ = handles()[size_t(grabbed_)];
    chosen_ = grabbed_;
    replot(QCustomPlot::rpQueuedReplot);
    return;
  }
  if (!evaluation_) return;
  for (const Construction& c : evaluation_->constructions) {  // a point picks its result
    if (c.kind != Construction::Kind::point || c.points.empty()) continue;
    const QPointF at(xAxis->coordToPixel(c.points[0].x / unit_x()), yAxis->coordToPixel(c.points[0].y / unit_y()));
    if (std::hypot(at.x() - event->position().x(), at.y() - event->position().y()) < 12) {
      emit picked(qs(c.key));
      return;
    }
  }
}

void CurveFigure::mouseMoveEvent(QMouseEvent* event) {
  if (grabbed_ < 0) {
    setCursor(handle_at(event->position()) >= 0 ? Qt::SizeVerCursor : Qt::ArrowCursor);
    return;
  }
  const double value = grabbed_handle_.along_x ? xAxis->pixelToCoord(event->position().x()) * unit_x()
                                               : yAxis->pixelToCoord(event->position().y()) * unit_y();
  emit dragged(grabbed_handle_, value);
}

void CurveFigure::mouseReleaseEvent(QMouseEvent* event) {
  if (grabbed_ < 0) return;
  const double value = grabbed_handle_.along_x ? xAxis->pixelToCoord(event->position().x()) * unit_x()
                                               : yAxis->pixelToCoord(event->position().y()) * unit_y();
  grabbed_ = -1;
  emit released(grabbed_handle_, value);
}

void CurveFigure::keyPressEvent(QKeyEvent* event) {
  const auto all = handles();
  if (all.empty()) return QCustomPlot::keyPressEvent(event);
  if (event->key() == Qt::Key_Left || event->key() == Qt::Key_Right) {
    chosen_ = (chosen_ + (event->key() == Qt::Key_Right ? 1 : int(all.size()) - 1)) % int(all.size());
    replot(QCustomPlot::rpQueuedReplot);
    return;
  }
  if (event->key() == Qt::Key_Up || event->key() == Qt::Key_Down) {
    chosen_ = std::clamp(chosen_, 0, int(all.size()) - 1);
    const Handle h = all[size_t(chosen_)];
    const double span = yAxis->range().size() * unit_y();
    const double step = span * (event->modifiers() & Qt::ShiftModifier ? 0.02 : 0.004);
    emit released(h, handle_value(h) + (event->key() == Qt::Key_Up ? step : -step));
    return;
  }
  QCustomPlot::keyPressEvent(event);
}

void CurveFigure::focusInEvent(QFocusEvent* event) {
  QCustomPlot::focusInEvent(event);
  replot(QCustomPlot::rpQueuedReplot);
}

void CurveFigure::focusOutEvent(QFocusEvent* event) {
  QCustomPlot::focusOutEvent(event);
  replot(QCustomPlot::rpQueuedReplot);
}

void CurveFigure::resizeEvent(QResizeEvent* event) {
  QCustomPlot::resizeEvent(event);
  if (evaluation_) show_evaluation(evaluation_, original_, set_);
}

}  // namespace fortitor
