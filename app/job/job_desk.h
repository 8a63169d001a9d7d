// The desk of a job: who asked and what came, what is demanded and how far it is, the documents issued of it.
#pragma once

#include "app/frame/desk.h"
#include "app/laboratory/entry_host.h"
#include "app/stages/field_form.h"

class QComboBox;
class QVBoxLayout;

namespace fortitor {

class JobDesk : public Desk {
  Q_OBJECT

 public:
  explicit JobDesk(Workbench* bench, QWidget* parent = nullptr);
  QString name() const override { return "job"; }
  QString title() const override;
  Docket::Place place() const override { return Docket::Place::job; }
  bool over_the_book() const override { return true; }
  std::vector<Doable> doable() override;
  /// Customers with their jobs, and documents by their number.
  std::vector<Doable> found(const QString& typed) override;
  bool wants_room() const override { return true; }
  QString obstacle(Id job) const override;
  void open(Id job, int detail) override;
  /// Issues a document of what is chosen, with the passphrase typed where one is asked for.
  void issue();
  /// Writes what is chosen as a draft to a file.
  void write_draft(const QString& path);

 signals:
  /// The table of completeness is worked out anew beside the window.
  void shown();

 private:
  void reload();
  void show_paper();
  void show_demands();
  void show_completeness(const std::vector<SeriesCompleteness>& all);
  void show_documents();
  void choose_sheet(Id series, const QString& sheet);
  void document_actions(const DocumentRow& d, QHBoxLayout* row);
  void labels();

  Workbench* bench_;
  Id job_ = 0;
  JobRow row_;
  EntryHost* host_;
  QLabel *head_, *customer_, *state_;
  FieldForm* form_;
  std::vector<const FieldSpec*> asked_;
  QVBoxLayout *demands_, *documents_;
  QComboBox *covers_, *language_, *layout_;
  QLineEdit* passphrase_;
  QLabel* missing_;
  std::string replaces_;  ///< number of the document that the next one takes the place of
  QLabel* replaces_words_;
  QLineEdit* reason_;
  int asked_for_ = 0;
};

}  // namespace fortitor
