// The bar: a specimen stretched across the page with the seven stages as nodes in temper colours.
#pragma once

#include <QWidget>

#include "app/model/workbench.h"

namespace fortitor {

class StageBar : public QWidget {
  Q_OBJECT

 public:
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
