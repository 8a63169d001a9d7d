// The Kit desk: the lives of every item, and the one picked with what is known of it and what can be done.
#pragma once

#include "app/frame/desk.h"
#include "app/kit/kit_lives.h"
#include "app/model/workbench.h"
#include "app/stages/field_form.h"
#include "app/wires/teach_panel.h"

namespace fortitor {

class KitPage : public Desk, public FieldHost {
  Q_OBJECT

 public:
  explicit KitPage(Workbench* bench, QWidget* parent = nullptr);
  QString name() const override { return "kit"; }
  QString title() const override { return "Kit"; }
  Docket::Place place() const override { return Docket::Place::kit; }
  bool over_the_book() const override { return true; }
  std::vector<Doable> doable() override { return {opens("Kit", "equipment, calibration, benches", 0, 0)}; }
  void open(Id item, int detail) override;
  void leave() override;
  bool wants_room() const override { return true; }
  KitLives* lives() const { return lives_; }
  /// Whose items speak on wires; their cards show what comes in.
  void listen_to(WireBoard* wires) override;
  /// Keeps the file of an item's certificate in the book.
  void attach(const kit::Item& item, const QString& path);
  /// Begins a new item of a kind, or a bench; it is kept when it is named and kept.
  void begin(const std::string& kind);

  // The item that is being written, as any form edits it.
  const TestRecord& record() const override { return draft_; }
  UnitSet units() const override { return bench_->units(); }
  std::string today() const override { return bench_->today(); }
  void edit(const QString& what, const std::function<void(TestRecord&)>& change) override;
  void say(const QString& sentence) override { bench_->say(sentence); }

 signals:
  /// Something in the Kit is another.
  void kit_changed();

 private:
  void reload();
  void pick(long long id);
  void show_item(const kit::Item& item);
  void show_empty();
  void show_form(const kit::Item& item);
  void add_uses(const kit::Item& item);
  void add_benches(const kit::Item& item);
  void add_checks(const kit::Item& item);
  void mark_records(const kit::Item& item);
  void add_actions(const kit::Item& item);
  void add_bench_choices(const kit::Item& item);
  void keep();
  Outcome<Id> keep_item(const kit::Item& item, const std::string& what);
  void add_wire(const kit::Item& item);
  bool may_change();
  void change(kit::Item item, const QString& what, const std::function<void(kit::Item&)>& change);
  const kit::Item* find(long long id) const;

  Workbench* bench_;
  std::vector<kit::Item> items_;
  KitLives::Order order_ = KitLives::Order::kind;
  KitLives* lives_;
  QVBoxLayout* card_;
  kit::Item written_;  ///< while a form is open
  bool writing_ = false;
  TestRecord draft_;
  FieldForm* form_ = nullptr;
  WireBoard* wires_ = nullptr;
  QPointer<TeachPanel> teach_;  ///< of the card that is shown
  std::vector<QPushButton*> orders_;
};

}  // namespace fortitor
