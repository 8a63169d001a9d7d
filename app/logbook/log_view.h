// The logbook as it is drawn: a chain of lines down the page, a link for each, day by day.
#pragma once

#include <QDate>
#include <QWidget>
#include <vector>

#include "app/theme/painted_parts.h"
#include "store/book.h"

namespace fortitor {

class LogView : public QWidget, public PaintedParts {
  Q_OBJECT

 public:
  explicit LogView(QWidget* parent = nullptr);
  void show_lines(std::vector<LogEntry> lines);
  const std::vector<LogEntry>& lines() const { return lines_; }
  std::vector<PaintedPart> painted_parts() override;

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  struct Row {
    int top = 0, height = 0;
    int line = -1;  ///< -1: the heading of a day
    QDate day;
  };
  void paint_line(QPainter& p, const Row& row) const;

  std::vector<LogEntry> lines_;
  std::vector<Row> rows_;
};

}  // namespace fortitor
