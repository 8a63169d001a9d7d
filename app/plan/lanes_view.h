// A day drawn: a lane for every person, machine and wait, bars of the jobs' colours, the running clock.
#pragma once

#include <QWidget>
#include <memory>
#include <optional>
#include <vector>

#include "app/theme/painted_parts.h"
#include "core/bench/agenda.h"

namespace fortitor {

using AgendaPtr = std::shared_ptr<const agenda::Agenda>;

class LanesView : public QWidget, public PaintedParts {
  Q_OBJECT

 public:
  std::vector<PaintedPart> painted_parts() override;
  explicit LanesView(QWidget* parent = nullptr);
  /// Shows a day of the plan. `now`: local time ("2026-11-26T10:05"); empty: no clock.
  void show_day(const AgendaPtr& agenda, const agenda::Hours& hours, const std::string& day, const std::string& now);
  /// The plan that is shown: numbers of tasks are numbers in it, whatever was planned since.
  const AgendaPtr& agenda() const { return agenda_; }
  /// The clock went on.
  void set_now(const std::string& now);
  /// Looked at only: nothing can be dragged, people have no lanes.
  void set_small(bool on) { small_ = on; }
  std::optional<size_t> selected() const { return selected_; }
  void select(std::optional<size_t> task);
  /// Where the bar of a task lies in its first lane, for tests; empty when it is not on this day.
  QRectF bar_of(size_t task) const;
  QSize sizeHint() const override;
  QSize minimumSizeHint() const override { return {200, sizeHint().height()}; }

 signals:
  void picked();
  /// The bar was put somewhere else: minute from the plan's first midnight.
  void moved(size_t task, int minute);
  void opened(size_t task);
  void pin_wanted(size_t task);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void mouseDoubleClickEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void leaveEvent(QEvent* event) override;

 private:
  struct Lane {
    size_t resource = 0;
    int top = 0, rows = 1;
  };
  struct Shown {
    size_t bar = 0, lane = 0;
    int row = 0;
    int from = 0, to = 0;  ///< minutes of the plan
  };
  double names_width() const;
  double x_of(double minute) const;
  int minute_at(double x) const;
  QRectF rect_of(const Shown& s) const;
  double next_on_lane(const Shown& s) const;
  const Shown* at(QPointF where) const;
  void build();
  void paint_name(QPainter& p) const;

  AgendaPtr agenda_;
  agenda::Hours hours_;
  std::string day_, now_;
  int from_ = 8 * 60, to_ = 17 * 60;  ///< of the day that is drawn
  int midnight_ = 0;                  ///< of the day, in minutes of the plan
  std::vector<Lane> lanes_;
  std::vector<Shown> shown_;
  std::vector<std::string> jobs_;  ///< order of colours
  std::optional<size_t> selected_;
  std::optional<std::ptrdiff_t> hovered_;  ///< of what is shown
  bool small_ = false;
  std::optional<size_t> dragged_;
  double grab_ = 0, shift_ = 0;
};

}  // namespace fortitor
