// An empty book: three ways in, drawn.
#pragma once

#include <QWidget>

namespace fortitor {

class Welcome : public QWidget {
  Q_OBJECT

 public:
  explicit Welcome(QWidget* parent = nullptr);

 signals:
  void files_wanted();
  void job_wanted();
  void practice_wanted();
  void tour_wanted();
};

}  // namespace fortitor
