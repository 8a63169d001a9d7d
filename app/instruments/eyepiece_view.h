// The eyepiece: an indent in its field, two lines that are driven to its edges, the drums they turn.
#pragma once

#include <QImage>
#include <array>

#include "app/instruments/instrument.h"

namespace fortitor {

class EyepieceView : public Instrument {
  Q_OBJECT

 public:
  explicit EyepieceView(QWidget* parent = nullptr);
  void ask(const CallOut& now, const TestRecord& record, UnitSet units) override;
  void look(const StepMachine* machine) override;
  bool take_key(const QKeyEvent& event) override;
  QString reading() const override;
  void offer(const QString& typed) override;
  bool advance() override;
  QString keys() const override;

  /// A photograph instead of a machine: `width` is that of the picture, mm.
  void show_photograph(const QImage& picture, double width);
  /// Divisions at which a line stands; 0 left, 1 right.
  double line(int which) const { return lines_[size_t(which)]; }
  int in_hand() const { return hand_; }
  double focus_knob() const { return focus_; }
  bool empty() const { return !sight_ && photo_.isNull(); }

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;
  void dragEnterEvent(QDragEnterEvent* event) override;
  void dropEvent(QDropEvent* event) override;

 private:
  void take_photograph(const QString& path);
  void move_line(int which, double to);
  void take_line(int which);
  void start_lines();
  QRectF circle() const;
  double px(double divisions) const;
  double divisions(double px) const;
  void paint_field(QPainter& p, const QRectF& c) const;
  void paint_indent(QPainter& p, const QRectF& c) const;
  void paint_scale(QPainter& p, const QRectF& c) const;
  void paint_drums(QPainter& p, const QRectF& c) const;

  std::optional<Sight> sight_;
  QImage photo_;
  double photo_width_ = 0;  ///< mm
  double division_ = 0;     ///< mm; 0: not known
  bool counted_ = true;     ///< readings are divisions; else a length between the lines
  bool second_ = false;     ///< turned to the second diagonal
  std::string column_;
  size_t row_ = SIZE_MAX;
  std::array<double, 2> lines_ = {60, 340};
  int hand_ = 0, drag_ = -1;
  double focus_ = 0.5, field_ = 400;
  QString title_;
};

}  // namespace fortitor
