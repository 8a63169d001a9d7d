// The bar: a specimen stretched across the page with the seven stages as nodes in temper colours.
#pragma once

#include <QWidget>

#include "app/model/workbench.h"
#include "app/theme/painted_parts.h"

namespace fortitor {

class StageBar : public QWidget, public PaintedParts {
  Q_OBJECT

 public:
  std::vector<PaintedPart> painted_parts() override;
  explicit StageBar(Workbench* bench, QWidget* parent = nullptr);
  QPointF node(int stage) const;

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  bool event(QEvent* event) override;

 private:
  int at(const QPointF& p) const;
  Workbench* bench_;
};

}  // namespace fortitor
