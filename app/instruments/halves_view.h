// The two halves of a broken bar as they lie in the hand: turned until they look as they do, their face filled until it
// looks as it does. What is set becomes bend, shear and lateral expansion.
#pragma once

#include "app/instruments/instrument.h"

namespace fortitor {

class HalvesView : public Instrument {
  Q_OBJECT

 public:
  explicit HalvesView(QWidget* parent = nullptr);
  void ask(const CallOut& now, const TestRecord& record, UnitSet units) override;
  void look(const StepMachine*) override {}
  bool holds_piece() const override { return false; }
  bool take_key(const QKeyEvent& event) override;
  QString reading() const override;
  void offer(const QString& typed) override;
  QString headline() const override;
  QString keys() const override;
  double bend() const { return bend_; }

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  enum class Asked { nothing, bend, shear, expansion };
  Asked asked_ = Asked::nothing;
  size_t row_ = SIZE_MAX;
  bool touched_ = false;  ///< a hand has set what is asked for
  double bend_ = 150;     ///< degrees
  double shear_ = 50;     ///< per cent of the face
  double expansion_ = 1;  ///< mm
};

}  // namespace fortitor
