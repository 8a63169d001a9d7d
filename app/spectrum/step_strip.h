// The eight steps of a spectrum as cards side by side: name, what was chosen, the one in hand framed.
#pragma once

#include <QPushButton>
#include <QWidget>
#include <array>

#include "core/spectrum/spectrum.h"

namespace fortitor {

class StepStrip : public QWidget {
  Q_OBJECT

 public:
  explicit StepStrip(QWidget* parent = nullptr);
  /// Words under the names; steps that are not computed are pale.
  void show_steps(const spectrum::Spectrum* spectrum);
  void choose(int step);
  int chosen() const { return chosen_; }

 signals:
  void step_wanted(int step);

 private:
  std::array<QPushButton*, spectrum::kSteps> cards_{};
  int chosen_ = 0;
};

}  // namespace fortitor
