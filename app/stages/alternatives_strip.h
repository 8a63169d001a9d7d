// What if the limit were another stop: the other choices of an evaluation, one step at a time, with stress,
// modulus and verdict beside the original.
#pragma once

#include <QFrame>

#include "app/model/workbench.h"
#include "app/theme/widgets.h"

namespace fortitor {

class AlternativesStrip : public QFrame {
  Q_OBJECT

 public:
  explicit AlternativesStrip(Workbench* bench, QWidget* parent = nullptr);
  void refresh();

 private:
  void step(int by);
  void keep_both();
  const std::vector<Alternative>& list() const;
  int current() const;

  Workbench* bench_;
  std::string chosen_;  ///< id of the alternative tried now
  QLabel *label_, *text_, *kept_;
  QPushButton *earlier_, *later_, *both_;
};

}  // namespace fortitor
