// The dark panel of the call-out sheet and of the tally: readable from three metres.
#pragma once

#include <QFrame>
#include <QLineEdit>

#include "app/theme/painted_parts.h"
#include "app/theme/widgets.h"
#include "core/bench/call_out.h"

namespace fortitor {

class CallOutPanel : public QFrame {
  Q_OBJECT

 public:
  explicit CallOutPanel(QWidget* parent = nullptr);
  void set_method(const Method& method);
  struct Text {
    QString head, stop, line, unit, alarm, standin;
    QStringList channels;  ///< what is read at this stop, done ones with their value
    int channel = 0;
    bool broken = false, unloading = false, ended = false;
  };
  void show_text(const Text& text);
  /// What machine and gauges say on their wires, each as "FR-1 <b>2.001 kN</b>", and what becomes of it; without any
  /// of them there is no machine on a wire.
  void show_wires(const QStringList& says, const QString& words, bool stands);
  QLineEdit* entry() const { return entry_; }
  /// Shows the keys of these marks only.
  void show_marks(const std::vector<RowMark>& marks);

 signals:
  void key_wanted(int key);

 private:
  QLabel *head_, *stop_, *line_, *unit_, *alarm_, *standin_, *channels_, *wires_;
  QLineEdit* entry_;
  QWidget* keys_;
  std::vector<QPushButton*> buttons_;
  std::vector<RowMark> marks_;  ///< of the last buttons
};

/// The rows so far: number, control, readings, distance from the line or the row's own result, note.
class RowTable : public QWidget, public PaintedParts {
  Q_OBJECT

 public:
  explicit RowTable(QWidget* parent = nullptr);
  void show_rows(const TestRecord& record, const Evaluation* evaluation, const CallOut& now, UnitSet set);
  /// Row chosen by hand, or none.
  std::optional<size_t> chosen() const { return chosen_; }
  void choose(std::optional<size_t> row);
  void move_choice(int by);
  std::vector<PaintedPart> painted_parts() override;
  /// All rows as text with units, tab separated.
  QString text() const;

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  QSize sizeHint() const override;

 private:
  struct Line {
    QString number, off, note;
    QStringList cells;
    bool doubtful = false, flagged = false, coming = false;
  };
  int row_height() const;
  std::vector<Line> rows_;
  QStringList heads_;
  std::optional<size_t> chosen_;
  size_t kept_ = 0;
};

}  // namespace fortitor
