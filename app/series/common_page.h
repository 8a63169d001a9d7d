// What is typed once for a series: material, limits, shape, equipment, speed, rule. It holds for every piece.
#pragma once

#include <QPointer>

#include "app/frame/desk.h"
#include "app/stages/equipment_panel.h"
#include "app/stages/field_form.h"
#include "app/stages/limits_form.h"

namespace fortitor {

class CommonPage : public Desk, public FieldHost {
  Q_OBJECT

 public:
  explicit CommonPage(Workbench* bench, QWidget* parent = nullptr);
  QString name() const override { return "common"; }
  QString title() const override { return "What holds for the series"; }
  Docket::Place place() const override { return Docket::Place::series; }
  std::vector<Doable> doable() override;
  void open(Id series, int detail) override;
  bool wants_room() const override { return true; }

  const TestRecord& record() const override { return settings_; }
  UnitSet units() const override { return bench_->units(); }
  ReferenceShelf shelf() const override { return bench_->shelf(); }
  std::string today() const override { return bench_->today(); }
  const Method* host_method() const override { return method_; }
  void edit(const QString& what, const std::function<void(TestRecord&)>& change) override;
  void say(const QString& sentence) override { bench_->say(sentence); }

 signals:
  /// What was changed is kept, or said.
  void kept();
  /// The pieces are held against it.
  void compared();

 private:
  static void take_back_later(Workbench* bench, const QPointer<CommonPage>& page, Id series, const QString& what,
                              const TestRecord& was, const TestRecord& now);
  void rebuild();
  void refresh();
  void refresh_pieces();

  Workbench* bench_;
  Id series_ = 0;
  const Method* method_ = nullptr;
  TestRecord settings_;
  QHBoxLayout* sheets_;
  QLabel* title_;
  std::vector<FieldForm*> forms_;
  EquipmentPanel* equipment_ = nullptr;
  LimitsForm* limits_ = nullptr;
  LimitsForm* of_series_ = nullptr;  ///< limits of the series as a whole
  QLabel* usual_ = nullptr;
  QVBoxLayout* pieces_ = nullptr;
  TaskPtr comparing_;
};

}  // namespace fortitor
