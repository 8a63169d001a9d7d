// Evaluate: whole curve and elastic lens, handles to drag, schools, what-if beside the original.
#pragma once

#include "app/figures/curve_figure.h"
#include "app/stages/alternatives_strip.h"
#include "app/stages/stage_page.h"
#include "app/theme/widgets.h"

namespace fortitor {

class EvaluateStage : public StagePage {
  Q_OBJECT

 public:
  explicit EvaluateStage(Workbench* bench, QWidget* parent = nullptr);
  void rebuild() override;
  void refresh() override;
  CurveFigure* whole() const { return whole_; }
  CurveFigure* lens() const { return lens_; }

 signals:
  void result_picked(const QString& key);

 private:
  void show_evaluation();
  void drag(const Handle& handle, double value, bool keep);
  void export_figure();

  CurveFigure *whole_, *lens_;
  QLabel *whole_title_, *lens_title_;
  QHBoxLayout* first_row_;  ///< of the schools, beside the buttons
  QVBoxLayout* schools_;
  AlternativesStrip* alternatives_ = nullptr;
  QPushButton *what_if_, *keep_, *drop_;
  std::vector<QPushButton*> chips_;
};

}  // namespace fortitor
