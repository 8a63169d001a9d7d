// The page of whoever keeps a shared book: who is connected, roles, size, the last backup.
#pragma once

#include "app/frame/desk.h"

class QGridLayout;

namespace fortitor {

class SharedDesk : public Desk {
  Q_OBJECT

 public:
  explicit SharedDesk(Workbench* bench, QWidget* parent = nullptr);
  QString name() const override { return "shared"; }
  QString title() const override { return "Shared book"; }
  Docket::Place place() const override { return Docket::Place::laboratory; }
  std::vector<Doable> doable() override;
  QString obstacle(Id what) const override;
  void open(Id what, int detail) override;

 private:
  QGridLayout* add_sheet(const QString& heading, QLayout* into);
  Workbench* bench_;
  QGridLayout *book_, *people_, *roles_, *refused_;
};

}  // namespace fortitor
