// Where the parts of a drawn bar lie; shared by the sketches of a bar.
#pragma once

#include <algorithm>

#include "app/sketches/sketch.h"
#include "app/theme/spoken.h"
#include "app/theme/theme.h"

namespace fortitor::bar {

inline std::string shape_of(const TestRecord& r) {
  const std::string s = r.fields.text("specimen.section.shape");
  return s.empty() ? "round" : s;
}

inline void caption(QPainter& p, QPointF centre, const QString& text, const QColor& colour, double px = 12,
                    int weight = QFont::Medium) {
  p.setFont(theme::words(px, weight));
  p.setPen(colour);
  const QString said = spoken(text);
  const double w = p.fontMetrics().horizontalAdvance(said) + 8;
  p.drawText(QRectF(centre.x() - w / 2, centre.y() - px, w, px * 2), Qt::AlignCenter, said);
}

struct BarPlan {
  QRectF bar;
  double head = 0, waist = 0, head_width = 0, left = 0, right = 0;  // parallel part
};

inline BarPlan plan_bar(const QRectF& area) {
  BarPlan b;
  b.head = std::min(124.0, area.height() * 0.24);
  b.waist = b.head * 0.56;
  b.head_width = area.width() * 0.13;
  b.bar = QRectF(area.left() + 12, area.top() + area.height() * 0.46 - b.head / 2, area.width() - 24, b.head);
  b.left = b.bar.left() + b.head_width + b.head * 0.45;
  b.right = b.bar.right() - b.head_width - b.head * 0.45;
  return b;
}

/// Where the editor of the i-th of three readings stands: apart from its neighbours even on a short bar.
inline double editor_x(double m0, double m1, int i, double width) {
  return (m0 + m1) / 2 + (i - 1) * std::max(0.38 * (m1 - m0), width + 10);
}

}  // namespace fortitor::bar
