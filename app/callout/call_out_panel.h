// The dark panel of the call-out sheet: readable from three metres.
#pragma once

#include <QFrame>
#include <QLineEdit>

#include "app/theme/widgets.h"
#include "core/plan/call_out.h"

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
  QLineEdit* entry() const { return entry_; }

 signals:
  void key_wanted(int key);

 private:
  QLabel *head_, *stop_, *line_, *unit_, *alarm_, *standin_, *channels_;
  QLineEdit* entry_;
  QWidget* keys_;
  std::vector<QPushButton*> buttons_;
};

/// The stops so far: number, control, readings, distance from the line, note.
class StopTable : public QWidget {
  Q_OBJECT

 public:
  explicit StopTable(QWidget* parent = nullptr);
  void show_stops(const Method& method, const TestRecord& record, const Evaluation* evaluation, const CallOut& now,
                  UnitSet set);
  /// Stop chosen by hand, or none.
  std::optional<size_t> chosen() const { return chosen_; }
  void choose(std::optional<size_t> stop);
  void move_choice(int by);
  /// All rows as text with units, tab separated.
  QString text() const;

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  QSize sizeHint() const override;

 private:
  struct Row {
    QString number, control, off, note;
    QStringList readings;
    bool doubtful = false, flagged = false, coming = false;
  };
  int row_height() const;
  std::vector<Row> rows_;
  QStringList heads_;
  std::optional<size_t> chosen_;
  size_t stops_ = 0;
};

}  // namespace fortitor
