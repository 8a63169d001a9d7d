// A week from its overview, with the window that all pictures of the desk look through: slide it, wheel zooms.
#pragma once

#include <QWidget>
#include <memory>

#include "app/spectrum/overview_file.h"

namespace fortitor {

class WeekView : public QWidget {
  Q_OBJECT

 public:
  explicit WeekView(QWidget* parent = nullptr);
  void show_week(std::shared_ptr<const overview::Kept> week, const QString& caption);
  /// The window, in seconds from the start.
  double from() const { return from_; }
  double length() const { return length_; }
  void set_window(double from, double length);
  /// What is drawn, as a table: time, least and largest strain.
  std::string table() const;
  double seconds() const { return week_ ? double(week_->samples) / week_->rate : 0; }
  /// What is drawn at present, in seconds; wheel and + − change it.
  double shown_from() const { return shown_from_; }
  double shown_length() const { return shown_length_; }

 signals:
  void window_moved();

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  QSize sizeHint() const override { return {600, 120}; }

 private:
  QRectF plot() const;
  double time_at(double x) const;
  void zoom(double factor, double around);
  std::shared_ptr<const overview::Kept> week_;
  QString caption_;
  double from_ = 0, length_ = 20, shown_from_ = 0, shown_length_ = 1, grip_ = 0;
  float low_ = 0, high_ = 1;  ///< of nearly everything: a spike must not flatten the week
};

}  // namespace fortitor
