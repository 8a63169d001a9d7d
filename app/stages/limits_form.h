// What a piece must meet: a line for each result that is usually limited, at least and at most.
#pragma once

#include <QLineEdit>
#include <vector>

#include "app/model/field_host.h"

namespace fortitor {

class LimitsForm : public QWidget {
  Q_OBJECT

 public:
  LimitsForm(FieldHost* host, const Method& method, QWidget* parent = nullptr);
  void refresh();

 private:
  struct Line {
    std::string key;
    QLineEdit *min, *max;
  };
  void keep(const Line& line, bool min);

  FieldHost* host_;
  const Method& method_;
  std::vector<Line> lines_;
};

}  // namespace fortitor
