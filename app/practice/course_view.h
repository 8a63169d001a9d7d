// A practice run along its own line: the curve as recorded over the piece as it was, and under it, on the same line,
// what happened, what could be seen and what was done.
#pragma once

#include <QWidget>
#include <vector>

#include "app/theme/painted_parts.h"
#include "core/figure/layout.h"
#include "core/practice/practice.h"

namespace fortitor {

class CourseView : public QWidget, public PaintedParts {
  Q_OBJECT

 public:
  explicit CourseView(QWidget* parent = nullptr);
  void show_debrief(const practice::Debrief& debrief, UnitSet set);
  void show_nothing(const QString& sentence);
  /// A dot and its words as they are drawn, for tests and tool tips.
  struct Spot {
    size_t moment = 0;
    QPointF dot;
    QRectF words;
  };
  const std::vector<Spot>& spots() const { return spots_; }
  const std::vector<practice::Moment>& moments() const { return moments_; }
  const figure::Layout& curve() const { return curve_; }
  QSize minimumSizeHint() const override;
  std::vector<PaintedPart> painted_parts() override;

 protected:
  void paintEvent(QPaintEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;
  bool event(QEvent* event) override;

 private:
  void lay_out();
  double x_of(const practice::Instant& when) const;

  Figure course_;
  UnitSet set_ = UnitSet::si;
  std::vector<practice::Moment> moments_;
  QString sentence_;
  figure::Layout curve_;
  struct Lane {
    double head = 0, top = 0, rows = 0;
  };
  std::vector<Lane> lanes_;
  std::vector<Spot> spots_;
  double height_ = 0;
};

}  // namespace fortitor
