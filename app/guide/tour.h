// Three minutes on a stand-in machine: each page says beneath itself what it is for, with a frame round where to begin.
#pragma once

#include <QFrame>
#include <QPointer>

#include "app/model/workbench.h"

class QLabel;
class QPushButton;

namespace fortitor {

/// One page of the tour.
struct TourStep {
  const char* title;
  const char* words;
  const char* desk;
  int stage = -1;       ///< of the piece; −1: the desk as it opens
  const char* at = "";  ///< key or class of what is framed
};
/// In the order in which they are walked: from Today over a practice piece to its debrief.
const std::vector<TourStep>& tour_steps();

/// The strip beneath the desks. It follows the person: who does what a step asks for is on the next one by that.
/// Nothing waits for it, and what was done stays when it is left: a piece of the job PRACTICE.
class Tour : public QFrame {
  Q_OBJECT

 public:
  explicit Tour(Workbench* bench, QWidget* parent = nullptr);
  void begin();
  void leave();
  bool on() const { return step_ >= 0; }
  int step() const { return step_; }
  /// What is framed now; none where it is not in sight.
  QWidget* framed() const;
  /// A desk was opened: the step it belongs to is the one in hand, if it is this or the next.
  void arrived(const QString& desk);

 signals:
  void desk_wanted(const QString& name, fortitor::Id what, int detail);

 protected:
  bool eventFilter(QObject* object, QEvent* event) override;

 private:
  class Ring;
  void go(int step);
  void show_step();
  void put_ring();

  Workbench* bench_;
  int step_ = -1;
  QLabel *title_, *words_;
  QPushButton *back_, *next_;
  QPointer<Ring> ring_;
  QPointer<QWidget> target_;
};

}  // namespace fortitor
