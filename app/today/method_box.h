// The method of a new series, chosen from drawn cards by the bench it is run on; closed, it is a box that takes the
// first letters of a name.
#pragma once

#include <QAbstractButton>
#include <QComboBox>
#include <QFrame>

#include "core/methods/method.h"

namespace fortitor {

/// One method: its piece as it is drawn at Prepare, its name, what it follows.
class MethodCard : public QAbstractButton {
  Q_OBJECT

 public:
  explicit MethodCard(const Method* method, QWidget* parent = nullptr);
  QSize sizeHint() const override;
  const Method* method() const { return method_; }

 protected:
  void paintEvent(QPaintEvent* event) override;
  void enterEvent(QEnterEvent* event) override;

 private:
  const Method* method_;
};

/// All of them over the window; arrows go from card to card, Enter takes one, Esc none.
class MethodCards : public QFrame {
  Q_OBJECT

 public:
  explicit MethodCards(QWidget* parent = nullptr);
  void show_over(QWidget* window, const std::string& chosen);

 signals:
  void taken(const QString& id);

 protected:
  void keyPressEvent(QKeyEvent* event) override;

 private:
  MethodCard* beside(const MethodCard* from, int key) const;
  std::vector<MethodCard*> cards_;
};

class MethodBox : public QComboBox {
  Q_OBJECT

 public:
  explicit MethodBox(QWidget* parent = nullptr);
  void showPopup() override;

 private:
  MethodCards* cards_ = nullptr;
};

}  // namespace fortitor
