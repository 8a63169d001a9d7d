// The call-out sheet: the next stop in huge digits, what the line says, one entry field; for a table without a control
// the tally: row after row. Everything it knows is in the record; core/bench/call_out decides what every key does.
#pragma once

#include <QElapsedTimer>
#include <QTimer>
#include <memory>

#include "app/callout/call_out_panel.h"
#include "app/figures/figure_view.h"
#include "app/instruments/instrument.h"
#include "app/model/timer_board.h"
#include "app/series/series_view.h"
#include "app/stages/reading_stage.h"
#include "app/theme/widgets.h"
#include "core/bench/call_out.h"
#include "core/bench/wired_stop.h"
#include "core/standin/step_machine.h"

namespace fortitor {

class RigView;
class RowTable;
class SoFar;
class WireBoard;

class CallOutSheet : public QWidget {
  Q_OBJECT

 public:
  CallOutSheet(Workbench* bench, TimerBoard* timers, QWidget* parent = nullptr);
  ~CallOutSheet() override;
  void rebuild();
  void refresh();
  void evaluated();
  /// The field in which readings are typed.
  QLineEdit* entry() const;
  /// Machine and gauges on wires are shown beside the stop, and read at once when they stand.
  void listen_to(WireBoard* wires);
  /// Reads the stop from the wires. False when it does not stand, or not all of it is on wires.
  bool take_stop();

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  bool key(int key);
  /// Puts a mark of the table on the row in hand.
  bool mark(int key);
  void keep();
  void keep_note();
  /// Keeps what was typed under a mark that asks for it.
  void keep_word();
  /// The row a mark is put on: the chosen one, else the newest.
  size_t marked_row() const;
  void missed();
  void drive();
  void broke();
  void end_run();
  QString obstacle() const;
  size_t chosen_row() const;
  QString row_name(size_t row) const;
  void change(const QString& what, const std::function<void(TestRecord&)>& edit);
  /// The piece lies under an instrument and is read through it.
  bool through() const;
  /// Rows are run by a machine that goes on by itself.
  bool by_rig() const;
  /// Starts or stops the stopwatch of the table. True: it was started, and that is all for now.
  bool take_time();
  void show_time(CallOutPanel::Text& text) const;
  /// How the result is written, piece by piece.
  void show_written();
  // With wires (call_out_wires.cpp):
  std::vector<Id> wired_items() const;
  void look_at_wires();
  void show_wires();
  // With an instrument (call_out_instrument.cpp):
  void build_instrument();
  void look_into_instrument();
  bool instrument_key(const QKeyEvent& event);
  /// What the row would be with what the instrument shows now, and what a step of it changes.
  void show_so_far(CallOutPanel::Text& text);
  void show_room();
  std::optional<TestRecord> with_reading(const QString& typed) const;

  Workbench* bench_;
  TimerBoard* timers_;
  CallOut now_;
  enum class Typing { reading, note, stop, word } typing_ = Typing::reading;
  RowMark asked_mark_;                 ///< whose value is typed
  std::optional<Reading> other_stop_;  ///< typed with G: goes with the next reading
  std::unique_ptr<StepMachine> machine_;
  Id machine_for_ = 0;
  QString shown_;  ///< what the stand-in shows or says

  WireBoard* wires_ = nullptr;
  WiredStop wired_;
  std::vector<Id> wired_items_;  ///< of piece `wired_for_`
  Id wired_for_ = 0;
  size_t wired_count_ = 0;
  std::vector<WiredValue> heard_;  ///< what `wired_` was found from
  bool takes_ = true;              ///< a stop that stands is taken without F8, once the run has begun

  QTimer watch_;  ///< runs while a piece is out of the bath
  QElapsedTimer since_;
  std::optional<double> took_;  ///< s from the bath to the blow of `timed_row_`
  size_t timed_row_ = SIZE_MAX;
  SeriesJudge* judge_ = nullptr;  ///< over the series, where the method judges one
  QLabel* written_ = nullptr;
  QFrame* written_sheet_ = nullptr;
  QHBoxLayout* beside_ = nullptr;  ///< under the dark panel: how it is written, and what helps to read the piece

  FigureView* figure_ = nullptr;
  SketchPad* sketch_ = nullptr;
  RigView* rig_ = nullptr;  ///< where rows are run by a machine for hours
  Instrument* instrument_ = nullptr;
  SoFar* live_ = nullptr;          ///< of the instrument
  size_t machine_row_ = SIZE_MAX;  ///< row that lies under the instrument
  QVBoxLayout* left_ = nullptr;    ///< instrument, or figure and drawing
  QHBoxLayout* lower_ = nullptr;   ///< beneath the dark panel: figure (with an instrument) and rows
  QHBoxLayout* drawing_ = nullptr;
  QLabel* room_ = nullptr;
  CallOutPanel* panel_ = nullptr;
  RowTable* table_ = nullptr;
  QScrollArea* scroll_ = nullptr;
  FieldForm* standin_ = nullptr;
  std::vector<FieldSpec> standin_fields_;  ///< as the stand-in of the method gives them
  QLabel *so_far_ = nullptr, *caution_ = nullptr;
};

}  // namespace fortitor
