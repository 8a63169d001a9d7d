// Find or do…: any job, specimen, action or unit conversion by typing.
#pragma once

#include <QFrame>
#include <QLineEdit>
#include <QListWidget>
#include <functional>
#include <vector>

namespace fortitor {

struct Doable {
  QString title, detail;
  std::function<void()> act;
};

class FindBox : public QFrame {
  Q_OBJECT

 public:
  explicit FindBox(QWidget* parent);
  /// Opens under the top bar with what can be found now.
  void open(std::vector<Doable> all, const QRect& below);
  QLineEdit* line() const { return line_; }
  QListWidget* list() const { return list_; }

 protected:
  bool eventFilter(QObject* object, QEvent* event) override;

 private:
  void filter();
  void act();

  QLineEdit* line_;
  QListWidget* list_;
  std::vector<Doable> all_;
};

}  // namespace fortitor
