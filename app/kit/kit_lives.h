// The lives of the Kit, drawn: a bar an item from its last calibration to the next, over the months around today.
#pragma once

#include <QWidget>
#include <map>
#include <vector>

#include "app/theme/painted_parts.h"
#include "core/bench/kit.h"

namespace fortitor {

class KitLives : public QWidget, public PaintedParts {
  Q_OBJECT

 public:
  /// By kind, by bench, or what is due next on top.
  enum class Order { kind, bench, due };

  explicit KitLives(QWidget* parent = nullptr);
  void show_items(std::vector<kit::Item> items, Order order, const std::string& today, UnitSet units);
  /// What was read of items today, by id: stands over the end of their bars.
  void show_checks(std::map<long long, QString> words);
  void select(long long id);
  long long selected() const { return selected_; }
  const std::vector<kit::Item>& items() const { return items_; }
  /// Place of an item in the drawing, for tests.
  QRect row_of(long long id) const;

  std::vector<PaintedPart> painted_parts() override;

 signals:
  void picked(long long id);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void focusInEvent(QFocusEvent* event) override;

 private:
  struct Row {
    int top = 0, height = 0;
    QString heading;  ///< of a group; else an item
    int item = -1;
  };
  void add_group(const QString& heading, const std::vector<int>& members);
  double names_width() const;
  double x_of(const std::string& day) const;
  void paint_months(QPainter& p) const;
  void paint_item(QPainter& p, const Row& row) const;
  void paint_today(QPainter& p) const;

  std::vector<kit::Item> items_;
  std::vector<Row> rows_;
  std::string today_, from_, to_;
  UnitSet units_ = UnitSet::si;
  long long selected_ = 0;
  std::map<long long, QString> checks_;
};

}  // namespace fortitor
