// How a piece stands to its series: as the series goes, or where it differs; and the ways from one to the other.
#pragma once

#include <QWidget>

#include "app/model/workbench.h"

class QLabel;
class QPushButton;

namespace fortitor {

class SeriesStrip : public QWidget {
  Q_OBJECT

 public:
  /// `wide`: words and buttons beside each other.
  SeriesStrip(Workbench* bench, bool wide, QWidget* parent = nullptr);
  void refresh();

 private:
  Workbench* bench_;
  QLabel* words_;
  QPushButton *hold_, *as_series_, *last_;
};

}  // namespace fortitor
