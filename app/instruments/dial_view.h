// The dial: a small hand that comes to its set mark under the preliminary force, a large one that is read by eye.
#pragma once

#include <QVariantAnimation>

#include "app/instruments/instrument.h"

namespace fortitor {

class DialView : public Instrument {
  Q_OBJECT

 public:
  explicit DialView(QWidget* parent = nullptr);
  void ask(const CallOut& now, const TestRecord& record, UnitSet units) override;
  void look(const StepMachine* machine) override;
  bool take_key(const QKeyEvent&) override { return false; }
  QString reading() const override { return {}; }  // a dial is read by eye
  void offer(const QString&) override {}
  QString headline() const override;
  QString keys() const override;
  const std::optional<DialFace>& face() const { return face_; }

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  double turn_of(double reading) const;  ///< of the large hand, in whole turns from the top

  std::optional<DialFace> face_;
  bool diamond_ = true;
  QString title_, ring_;
  QVariantAnimation hand_;  ///< the needle travels; what counts is in the face
};

}  // namespace fortitor
