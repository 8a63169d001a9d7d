// Demand × piece: what is demanded, and how far every piece is, each cell one click from its piece.
#pragma once

#include <QWidget>

#include "app/theme/painted_parts.h"
#include "store/papers.h"

namespace fortitor {

class CompletenessView : public QWidget, public PaintedParts {
  Q_OBJECT

 public:
  explicit CompletenessView(QWidget* parent = nullptr);
  void show_series(const SeriesCompleteness& series);
  QSize sizeHint() const override { return {400, minimumHeight()}; }
  /// Where the cell of a piece under a demand stands, for tests and the keyboard.
  QRect cell(size_t line, size_t piece) const;

  std::vector<PaintedPart> painted_parts() override;

 signals:
  void piece_wanted(fortitor::Id piece);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void focusInEvent(QFocusEvent* event) override;
  void focusOutEvent(QFocusEvent* event) override;

 private:
  double cell_width() const;
  int words_width() const;
  int at(const QPoint& p) const;

  SeriesCompleteness shown_;
  int held_ = -1;  ///< cell that the keyboard holds
};

}  // namespace fortitor
