// What comes in on the wire of an item: the lines, the parts of the newest to be pointed at, what each is taken for,
// and the format in words. Shows a format and says how it should be; whoever owns it keeps it.
#pragma once

#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QWidget>

#include "app/wires/wire_board.h"
#include "core/line/teach.h"

namespace fortitor {

/// A line with its parts in boxes, and under each what it is; one of them in hand, by mouse or arrow keys.
class LineParts : public QWidget {
  Q_OBJECT

 public:
  explicit LineParts(QWidget* parent = nullptr);
  void show_parts(std::vector<line::Piece> parts);
  size_t chosen() const { return chosen_; }
  void choose(size_t part);
  /// Place of a part, for tests.
  QRect box_of(size_t part) const;
  QSize sizeHint() const override;
  int heightForWidth(int width) const override;
  bool hasHeightForWidth() const override { return true; }

 signals:
  void picked(size_t part);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  std::vector<QRect> boxes(int width) const;
  std::vector<line::Piece> parts_;
  size_t chosen_ = 0;
};

class TeachPanel : public QWidget {
  Q_OBJECT

 public:
  TeachPanel(WireBoard* wires, Id item, QWidget* parent = nullptr);
  void refresh();

 signals:
  void keep_wanted();

 private:
  void show_choice();
  void export_format();
  void apply();

  WireBoard* wires_;
  Id item_;
  std::string line_;   ///< that is pointed at: it stands still while a part is in hand
  bool held_ = false;  ///< a hand is at it
  line::Format shown_;
  QLabel *state_, *lines_, *problem_;
  LineParts* parts_;
  QWidget* choice_;
  QComboBox *use_, *name_;
  QLineEdit* unit_;
  QPushButton *keep_, *export_;
};

}  // namespace fortitor
