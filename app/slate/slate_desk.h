// The Slate: one line to type, calculators to choose, answers with their formula, and a tape of past lines.
#pragma once

#include <QLineEdit>
#include <map>

#include "app/frame/desk.h"
#include "app/theme/widgets.h"
#include "core/slate/slate.h"
#include "store/book_setting.h"

namespace fortitor {

class SlateDesk : public Desk {
  Q_OBJECT

 public:
  explicit SlateDesk(Workbench* bench, QWidget* parent = nullptr);
  QString name() const override { return "slate"; }
  QString title() const override { return "Slate"; }
  Docket::Place place() const override { return Docket::Place::slate; }
  bool of_the_book() const override { return false; }
  std::vector<Doable> doable() override { return {opens("Slate", "calculators and their tape")}; }
  /// A line of the Slate is worked out while it is typed.
  std::vector<Doable> found(const QString& typed) override;
  void open(Id, int) override;
  bool wants_room() const override { return true; }
  /// Works a line out and puts it on the tape, as if it had been typed.
  void take_line(const QString& line);

 private:
  struct Kept {
    std::string line, note;
  };
  void choose(const slate::Calculator* calculator, const std::map<std::string, std::string>& typed);
  void build_inputs();
  void work();
  void keep();
  void read_tape();
  static const SettingRows<Kept>& tape_of_book();
  void keep_tape();
  void show_tape();
  void hand_over();
  std::string line_of_inputs() const;

  Workbench* bench_;
  const slate::Calculator* calculator_ = nullptr;
  std::map<std::string, std::string> typed_;
  std::map<std::string, QWidget*> edits_;
  std::vector<Kept> tape_;
  std::map<std::string, QPushButton*> choices_;
  QLineEdit* line_;
  QLabel *head_, *error_, *caution_;
  QGridLayout* inputs_;
  QVBoxLayout *answers_, *rolls_;
  QPushButton *keep_, *hand_;
};

}  // namespace fortitor
