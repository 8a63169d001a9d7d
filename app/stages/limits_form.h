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
  void add_line(const std::string& key);
  /// Results that have no line yet, to be chosen by name.
  void offer_others();

  FieldHost* host_;
  const Method& method_;
  std::vector<Line> lines_;
  class QGridLayout* grid_;
  class QComboBox* others_;
};

}  // namespace fortitor
