// The curve of an evaluation, whole or elastic lens, with constructions that can be dragged.
#pragma once

#include <qcustomplot.h>

#include "app/model/evaluator.h"
#include "core/evaluation/evaluation.h"

namespace fortitor {

class ConstructionLayer;

class CurveFigure : public QCustomPlot {
  Q_OBJECT

 public:
  enum class View { whole, lens };
  explicit CurveFigure(View view, QWidget* parent = nullptr);

  /// Shows an evaluation in the units of `set`; `original` is drawn paler beneath when there is one.
  void show_evaluation(const EvaluationPtr& evaluation, const EvaluationPtr& original, UnitSet set);
  void show_nothing(const QString& sentence);
  /// Draws the constructions of one result bold and the others thin.
  void highlight(const std::string& key);
  void restyle();

  /// Handles that can be dragged in this view, in drawing order.
  std::vector<Handle> handles() const;
  /// Where a handle sits, px.
  QPointF handle_position(const Handle& handle) const;
  double handle_value(const Handle& handle) const;

 signals:
  /// While dragging: internal units.
  void dragged(const fortitor::Handle& handle, double value);
  void released(const fortitor::Handle& handle, double value);
  void picked(const QString& key);

 protected:
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void focusInEvent(QFocusEvent* event) override;
  void focusOutEvent(QFocusEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;

 private:
  friend class ConstructionLayer;
  void feed(QCPCurve* curve, const CurveData& data);
  void fit_axes();
  int handle_at(const QPointF& px) const;
  double unit_x() const;
  double unit_y() const;

  View view_;
  EvaluationPtr evaluation_, original_;
  UnitSet set_ = UnitSet::si;
  std::string highlighted_;
  QString empty_sentence_;
  QCPCurve *curve_, *ghost_;
  ConstructionLayer* layer_;
  int grabbed_ = -1, chosen_ = -1;
  Handle grabbed_handle_;
};

}  // namespace fortitor
