// An instrument that is looked into at Run: what the person does with it becomes a reading. Chosen by
// TableSpec::instrument; the call-out sheet shows it and keeps what it says.
#pragma once

#include <QKeyEvent>
#include <QWidget>
#include <memory>
#include <optional>
#include <string>

#include "app/theme/painted_parts.h"
#include "core/bench/call_out.h"
#include "core/standin/step_machine.h"

namespace fortitor {

class Instrument : public QWidget, public PaintedParts {
  Q_OBJECT

 public:
  using QWidget::QWidget;
  /// What is asked for now; a new row or cell may turn the instrument.
  virtual void ask(const CallOut& now, const TestRecord& record, UnitSet units) = 0;
  /// What the machine shows; null: nothing is under it.
  virtual void look(const StepMachine* machine) = 0;
  /// A key while nothing is typed. True: it was one of the instrument's.
  virtual bool take_key(const QKeyEvent& event) = 0;
  /// What the hand has set, as typed text for the cell asked for; empty: the reading is typed.
  virtual QString reading() const = 0;
  /// Sets it to what a good eye would read (the stand-in's).
  virtual void offer(const QString& typed) = 0;
  /// True: the cell wants more from this instrument before `reading()` is all of it.
  virtual bool advance() { return false; }
  /// True: the piece of the row lies under it and is read through it. False: it helps to read what a machine left.
  virtual bool holds_piece() const { return true; }
  /// What comes next, in the largest words; empty: what is asked for.
  virtual QString headline() const { return {}; }
  /// What comes next and what the hand has set, for who hears the window.
  std::vector<PaintedPart> painted_parts() override;
  /// Keys of the instrument, in a line.
  virtual QString keys() const = 0;

 signals:
  void changed();
  /// A sentence for the person.
  void says(const QString& sentence);
};

/// Null when there is none of that name.
std::unique_ptr<Instrument> make_instrument(const std::string& name);

}  // namespace fortitor
