// The desk of the laboratory itself: letterhead, customers, people and their keys, templates, demand sheets, the
// register of documents.
#pragma once

#include "app/frame/desk.h"
#include "app/laboratory/entry_host.h"
#include "app/stages/field_form.h"

namespace fortitor {

class DemandEditor;

class LaboratoryDesk : public Desk {
  Q_OBJECT

 public:
  enum class Part { letterhead, customers, people, templates, demands, documents };

  explicit LaboratoryDesk(Workbench* bench, QWidget* parent = nullptr);
  QString name() const override { return "laboratory"; }
  QString title() const override { return "Laboratory"; }
  Docket::Place place() const override { return Docket::Place::laboratory; }
  std::vector<Doable> doable() override;
  bool wants_room() const override { return true; }
  /// `detail`: the part.
  void open(Id entry, int detail) override;
  DemandEditor* demand_editor() const { return editor_; }
  EntryHost* host() const { return host_; }

 private:
  void show_part();
  void show_entries();
  std::optional<lab::Entry> list_entries();
  void show_more();
  void show_entry(const lab::Entry& entry);
  void show_person(const lab::Entry& person);
  void show_sheets();
  void show_register();
  QPushButton* list_button(const QString& words, const QString& key, bool here);
  void import_sheets();
  void export_sheets();

  Workbench* bench_;
  Part part_ = Part::letterhead;
  std::string picked_;  ///< what is shown of the list; empty: the first
  bool fresh_ = false;  ///< … or a new one
  EntryHost* host_;
  std::vector<QPushButton*> parts_;
  QVBoxLayout *list_, *card_;
  QWidget* list_sheet_;
  FieldForm* form_ = nullptr;
  QLabel* head_ = nullptr;
  QVBoxLayout* more_ = nullptr;  ///< what can be done with an entry that is kept
  std::vector<const FieldSpec*> asked_;
  DemandEditor* editor_ = nullptr;
};

}  // namespace fortitor
