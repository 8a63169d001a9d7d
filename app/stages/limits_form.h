// What a piece must meet: a line for each result that is usually limited, at least and at most.
#pragma once

#include <QLineEdit>
#include <vector>

#include "app/model/field_host.h"

namespace fortitor {

/// What can be limited: those that stand there first, any by its key, and those to be added by name.
struct Limitable {
  std::vector<std::string> first;
  std::function<std::optional<ResultSpec>(const std::string& key)> result;
  std::function<std::vector<ResultSpec>(const TestRecord&)> others = {};
  static Limitable pieces_of(const Method& method);
  /// A series as a whole, under that result: its mean, its smallest, its scatter.
  static Limitable series_under(const Method& method, const std::string& result);
};

class LimitsForm : public QWidget {
  Q_OBJECT

 public:
  LimitsForm(FieldHost* host, Limitable of, QWidget* parent = nullptr);
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
  Limitable of_;
  std::vector<Line> lines_;
  class QGridLayout* grid_;
  class QComboBox* others_;
};

}  // namespace fortitor
