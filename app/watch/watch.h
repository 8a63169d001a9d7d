// What wants a person's judgement: sentences with evidence, remedies as buttons, answers logged.
#pragma once

#include <QWidget>

#include "app/model/workbench.h"
#include "app/theme/widgets.h"

namespace fortitor {

class Watch : public QWidget {
  Q_OBJECT

 public:
  explicit Watch(Workbench* bench, QWidget* parent = nullptr);

 signals:
  /// The guide is wanted about that sentence.
  void explained(const QString& code);

 private:
  void refresh();
  void add_row(const Finding& finding);
  QString signature() const;

  Workbench* bench_;
  QLabel* count_;
  QVBoxLayout* rows_;
  QScrollArea* area_;
  QString shown_;  ///< what the rows were built from: typing a reason must survive a re-evaluation
};

}  // namespace fortitor
