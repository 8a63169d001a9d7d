// Names that fit what is being typed, under the field; the field keeps the keys. Nothing is taken unless it is picked.
#pragma once

#include <QLineEdit>
#include <QListWidget>

namespace fortitor {

class OfferList : public QListWidget {
  Q_OBJECT

 public:
  OfferList(QLineEdit* line, QStringList names);

 signals:
  void picked(const QString& name);

 protected:
  bool eventFilter(QObject* object, QEvent* event) override;

 private:
  void offer(const QString& typed);
  void pick();

  QLineEdit* line_;
  QStringList names_;
};

}  // namespace fortitor
