#pragma once

#include "app/figures/curve_figure.h"

namespace fortitor {

/// Draws what an evaluation did on the curve; knows no method, only kinds of constructions.
class ConstructionLayer : public QCPAbstractItem {
 public:
  explicit ConstructionLayer(CurveFigure* figure) : QCPAbstractItem(figure), figure_(figure) {
    setSelectable(false);
    setLayer("overlay");
  }
  double selectTest(const QPointF&, bool, QVariant*) const override { return -1; }

 protected:
  void draw(QCPPainter* painter) override;

 private:
  QPointF px(Point p) const;
  void draw_points(QCPPainter* p, std::vector<QRectF>& placed);
  void draw_one(QCPPainter* p, const Construction& c, bool bold, std::vector<QRectF>& placed);
  void draw_label(QCPPainter* p, QPointF at, const QString& text, const QColor& colour, std::vector<QRectF>& placed);

  CurveFigure* figure_;
};

}  // namespace fortitor
