// Run: the stand-in machine with live curve and large figures, or import of a machine's file.
#pragma once

#include <QElapsedTimer>

#include "app/callout/call_out_sheet.h"
#include "app/callout/paste_panel.h"
#include "app/figures/figure_view.h"
#include "app/model/acquisition.h"
#include "app/model/timer_board.h"
#include "app/stages/big_figures.h"
#include "app/stages/early_leave.h"
#include "app/stages/import_panel.h"
#include "app/stages/reading_stage.h"
#include "app/stages/tested_strip.h"
#include "app/theme/widgets.h"
#include "app/wires/wire_board.h"
#include "core/standin/benches.h"
#include "core/standin/recording.h"

namespace fortitor {

class RunStage : public StagePage {
  Q_OBJECT

 public:
  RunStage(Workbench* bench, TimerBoard* timers, QWidget* parent = nullptr);
  ~RunStage() override;
  /// Machines of the Kit that speak: a piece that names one is run on it, and nothing drives it.
  void listen_to(WireBoard* wires);
  void rebuild() override;
  void refresh() override;
  /// Seconds of machine time per second; the stand-in can be hurried, a real machine could not.
  void set_speed(double speed);
  bool running() const { return run_ != 0; }
  ImportPanel* import_panel() const { return import_; }
  const MachineStatus& machine() const { return status_; }
  void show_import(bool on);
  /// Rows out of a table in place of keying them.
  void show_table();
  PastePanel* paste_panel() const { return table_; }
  CallOutSheet* call_out() const { return call_out_; }
  void evaluated() override;
  bool wants_ledger() const override;
  /// Focus where the next key belongs: the entry of the call-out sheet, else the page with its machine keys.
  void take_focus();

 signals:
  void run_ended();
  void machine_changed();

 protected:
  void keyPressEvent(QKeyEvent* event) override;
  void keyReleaseEvent(QKeyEvent* event) override;

 private:
  struct Control {
    MachineCommand command;
    double value;
    QPushButton* button;
  };
  QWidget* standin_page();
  void connect_machine();
  /// Devices on wires that the piece in hand names, with what they send for its method.
  std::vector<Ear> ears() const;
  /// A name for them and what they send: another one is another machine.
  static std::string name_of(const std::vector<Ear>& ears);
  void do_command(MachineCommand command, double value = 0);
  void space();
  void start();
  void take_samples(const ColumnsPtr& columns);
  void show_readings();
  void show_run();
  void show_curve();
  void take_status(const MachineStatus& status);
  /// Keeps what was handled at the machine, in order: it stands among the events of the run, before its start at a
  /// negative time.
  void note_handling(const char* kind);
  /// Writes what is not in the book yet. False: it could not be written; the machine is held and nothing is forgotten.
  bool flush();
  void end_run();
  void build_panel();
  void add_control(int n, const MachineControl& control);
  QString obstacle() const;
  /// Rows are keyed instead of channels recorded.
  bool keyed() const;
  const standin::Bench* standin() const;
  void refresh_controls();
  /// Builds the answers to what the method asks while the machine waits.
  void build_question();
  /// Keeps the n-th answer and lets the machine go on.
  void answer_question(size_t n);
  bool asking() const { return running() && status_.waits && !answers_.empty(); }

  TimerBoard* timers_;
  WireBoard* wires_ = nullptr;
  std::string heard_;    ///< devices that are listened to; empty: the stand-in
  size_t happened_ = 0;  ///< events of the machine that are among those of the run
  TestedStrip* tested_;
  PastePanel* table_;
  EarlyLeave* early_ = nullptr;
  std::unique_ptr<Acquisition> machine_;
  MachineStatus status_;
  Id machine_for_ = 0, run_ = 0;
  int machine_number_ = 0;  ///< of the machine that is listened to
  double speed_ = 1;
  Recording recording_;
  size_t flushed_ = 0, shown_ = 0;  ///< rows that are in the book; that the curve shows
  bool unwritten_ = false;          ///< the run is over and not all of it is in the book yet
  std::vector<Event> events_;
  std::vector<std::pair<const char*, qint64>> handled_;  ///< before the run: what, and ms of since_set_up_
  QElapsedTimer since_flush_, since_show_, since_set_up_;

  QStackedWidget* pages_ = nullptr;
  QPushButton *standin_tab_ = nullptr, *import_tab_ = nullptr, *table_tab_ = nullptr, *main_ = nullptr;
  SketchPad* frame_ = nullptr;
  FigureView* live_ = nullptr;
  BigFigures* figures_ = nullptr;
  QLabel *hint_ = nullptr, *caution_ = nullptr, *jog_ = nullptr, *listens_ = nullptr;
  QPushButton* stop_ = nullptr;
  QWidget* pace_ = nullptr;
  FieldForm* piece_ = nullptr;
  std::vector<FieldSpec> standin_fields_;  ///< as the stand-in of the method gives them
  ImportPanel* import_ = nullptr;
  CallOutSheet* call_out_ = nullptr;
  QGridLayout* panel_ = nullptr;
  QString panel_for_;
  std::vector<Control> controls_;
  std::vector<QPushButton*> speeds_, answers_;
  QWidget* question_ = nullptr;
  QVBoxLayout* question_layout_ = nullptr;
};

}  // namespace fortitor
