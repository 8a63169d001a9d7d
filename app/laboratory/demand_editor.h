// A demand sheet as it is written: a row a demand, each with a picture of the band that it allows.
#pragma once

#include <QWidget>

#include "app/model/workbench.h"
#include "store/papers.h"

class QComboBox;
class QLineEdit;
class QVBoxLayout;

namespace fortitor {

/// The band of values that a demand allows, on the axis of its sheet's results of the same unit.
class BandView : public QWidget {
  Q_OBJECT

 public:
  BandView(const lab::DemandRow& row, double from, double to, QWidget* parent = nullptr);
  QSize sizeHint() const override;

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  lab::DemandRow row_;
  double from_, to_;
};

class DemandEditor : public QWidget {
  Q_OBJECT

 public:
  explicit DemandEditor(Workbench* bench, QWidget* parent = nullptr);
  void show_sheet(const lab::DemandSheet& sheet);
  const lab::DemandSheet& sheet() const { return sheet_; }
  void keep();

 signals:
  void kept(const QString& name);

 private:
  void show_rows();
  void fill_results();
  void take_row();
  void edit_row(size_t n);

  Workbench* bench_;
  lab::DemandSheet sheet_;
  std::map<std::string, QLineEdit*> words_;
  QComboBox *direction_, *method_, *result_, *rule_, *compared_;
  QVBoxLayout* rows_;
  int editing_ = -1;
};

}  // namespace fortitor
