// Other pieces whose curves are laid under the one in hand: read and evaluated beside the window, kept while the piece
// stays on the bench.
#pragma once

#include <QMenu>
#include <QObject>
#include <map>

#include "app/model/workbench.h"

namespace fortitor {

class Compare : public QObject {
  Q_OBJECT

 public:
  explicit Compare(Workbench* bench, QObject* parent = nullptr);
  /// Lays nothing beneath any more.
  void clear();
  /// Takes a piece in or out.
  void toggle(Id piece);
  /// All pieces of the series that were tested, at most kMost.
  void take_series();
  /// The pieces of the same method whose mark is the one typed; false, and said, when there is none.
  bool take_mark(const QString& mark);
  /// Fills a menu with what can be compared.
  void fill(QMenu& menu);
  bool empty() const { return pieces_.empty(); }
  /// Lays the curves beneath a figure of the piece in hand.
  void lay(Figure& figure) const;

  static constexpr size_t kMost = 12;

 signals:
  /// Another curve is there, or one fewer.
  void changed();
  /// A piece that stands in no list is to be named.
  void mark_wanted();

 private:
  struct Beside {
    QString mark;
    EvaluationPtr evaluation;  ///< null until it is read
  };
  std::vector<SpecimenRow> tested() const;
  void take(Id piece);

  Workbench* bench_;
  std::map<Id, Beside> pieces_;
};

}  // namespace fortitor
