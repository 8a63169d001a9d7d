// The logbook on sight: what happened, who did it, and the end of its chain.
#pragma once

#include <QComboBox>
#include <QLabel>

#include "app/frame/desk.h"
#include "app/model/workbench.h"
#include "app/theme/widgets.h"

namespace fortitor {

class LogView;

class LogbookPage : public Desk {
  Q_OBJECT

 public:
  explicit LogbookPage(Workbench* bench, QWidget* parent = nullptr);
  QString name() const override { return "logbook"; }
  QString title() const override { return "Logbook"; }
  Docket::Place place() const override { return Docket::Place::series; }
  bool wants_room() const override { return true; }
  bool over_the_book() const override { return true; }
  std::vector<Doable> doable() override { return {opens("Logbook", "what happened, and its chain", 0, 0)}; }
  void open(Id, int) override;
  void refresh();
  LogView* view() const { return view_; }
  QString head() const;
  QString chain_words() const { return whole_->text(); }
  /// What stands there as .pdf or .html; nothing is written over.
  Outcome<Done> print_to(const QString& path);

 signals:
  /// The chain was walked to its end.
  void walked();

 private:
  Workbench* bench_;
  LogQuery query();
  void fill_choices();

  QLabel *count_, *head_, *whole_;
  QLineEdit *filter_, *day_;
  QComboBox *job_, *who_;
  std::string title_;
  LogView* view_;
};

}  // namespace fortitor
