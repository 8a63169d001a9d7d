// The slots of a method, filled from the Kit: a whole bench in one act, an item each, or typed by hand.
#pragma once

#include <QWidget>
#include <vector>

#include "app/stages/field_form.h"
#include "core/bench/kit.h"

class QVBoxLayout;

namespace fortitor {

class EquipmentPanel : public QWidget {
  Q_OBJECT

 public:
  /// `host`: whose equipment it is; the Kit comes out of the book on the bench.
  EquipmentPanel(Workbench* bench, FieldHost* host, QWidget* parent = nullptr);
  /// Builds the slots of a method, of one stage or of all (then, and at Set up, with the benches); fields that
  /// `elsewhere` names have an editor on a drawing.
  void show_slots(const Method& method, std::optional<Stage> stage,
                  const std::function<bool(const std::string& path)>& elsewhere = {});
  void refresh();
  /// The Kit as it was when the slots were built.
  const std::vector<kit::Item>& items() const { return items_; }

 private:
  struct Slot {
    const EquipmentSlot* slot;
    QComboBox* choice = nullptr;
    QLabel* words = nullptr;  ///< what the chosen item is and how long it may be used
    FieldForm* form = nullptr;
    QPushButton* keep = nullptr;
  };
  void build_bench(QVBoxLayout* into);
  void build_slot(QVBoxLayout* into, const EquipmentSlot& slot);
  void choose_bench(int index);
  void choose_item(const Slot& slot);
  void keep_item(const Slot& slot);
  void refresh_slot(const Slot& slot);

  Workbench* bench_;
  FieldHost* host_;
  const Method* method_ = nullptr;
  std::optional<Stage> stage_;
  std::function<bool(const std::string&)> elsewhere_;
  std::vector<kit::Item> items_;
  QComboBox* benches_ = nullptr;
  std::vector<Slot> slots_;
};

}  // namespace fortitor
