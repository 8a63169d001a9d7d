// Find or do…: any job, specimen, action or unit conversion by typing.
#pragma once

#include <QFrame>
#include <QLineEdit>
#include <QListWidget>
#include <functional>
#include <vector>

#include "app/frame/doable.h"

namespace fortitor {

class FindBox : public QFrame {
  Q_OBJECT

 public:
  explicit FindBox(QWidget* parent);
  /// Gives what the book has for what is typed, at most so many.
  using Search = std::function<std::vector<Doable>(const QString& typed, int most)>;
  /// Opens under the top bar with what can be done now; `search` is asked at every letter.
  void open(std::vector<Doable> all, Search search, const QRect& below);
  QLineEdit* line() const { return line_; }
  QListWidget* list() const { return list_; }

 protected:
  bool eventFilter(QObject* object, QEvent* event) override;

 private:
  void filter();
  void act();

  QLineEdit* line_;
  QListWidget* list_;
  void show_row(const Doable& doable);

  std::vector<Doable> all_, shown_;
  Search search_;
};

}  // namespace fortitor
