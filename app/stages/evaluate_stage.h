// Evaluate: the figure of the method, handles to drag, schools, what-if beside the original.
#pragma once

#include "app/figures/figure_view.h"
#include "app/stages/alternatives_strip.h"
#include "app/stages/compare.h"
#include "app/stages/how_panel.h"
#include "app/stages/stage_page.h"
#include "app/theme/widgets.h"

namespace fortitor {

class FlowLayout;

class EvaluateStage : public StagePage {
  Q_OBJECT

 public:
  explicit EvaluateStage(Workbench* bench, QWidget* parent = nullptr);
  void rebuild() override;
  void refresh() override;
  FigureView* figure() const { return figure_; }
  Compare& compare() { return *compare_; }

 signals:
  void result_picked(const QString& key);

 private:
  void show_evaluation();
  void show_schools();
  /// A button for each figure, where the method draws more than one.
  void offer_figures(const Evaluation& e);
  void drag(const Handle& handle, double at, bool keep);
  void export_figure();

  FigureView* figure_;
  QHBoxLayout* pictures_;
  std::vector<QPushButton*> picture_buttons_;
  std::string picture_;  ///< id of the figure that is shown; empty: the first
  FlowLayout* schools_;
  AlternativesStrip* alternatives_ = nullptr;
  HowPanel* how_;
  Compare* compare_;
  QPushButton *what_if_, *keep_, *drop_, *how_open_, *compare_open_, *save_;
  std::vector<QPushButton*> chips_;
};

}  // namespace fortitor
