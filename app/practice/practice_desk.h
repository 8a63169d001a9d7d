// Practice: tasks on the stand-in machines with something hidden, and the debrief of what came of it.
#pragma once

#include <QLabel>

#include "app/frame/desk.h"
#include "app/model/task.h"
#include "app/practice/course_view.h"
#include "core/practice/practice.h"
#include "store/book_setting.h"

namespace fortitor {

class PracticeDesk : public Desk {
  Q_OBJECT

 public:
  explicit PracticeDesk(Workbench* bench, QWidget* parent = nullptr);
  QString name() const override { return "practice"; }
  QString title() const override { return "Practice · practice, not a test"; }
  Docket::Place place() const override { return Docket::Place::practice; }
  std::vector<Doable> doable() override;
  /// `piece`: the practice piece to debrief; 0: the tasks.
  void open(Id piece, int) override;
  bool wants_room() const override { return true; }
  const practice::Debrief* shown() const { return debrief_ ? &*debrief_ : nullptr; }
  /// Begins a task; a seed of 0 draws one.
  void begin(const practice::Task& task, uint64_t seed = 0);

 signals:
  void debriefed();

 private:
  struct Result {
    std::string person, task, at;
    uint64_t seed = 0;
    Id specimen = 0;
    int seen = -1, of = 0, off = 0;  ///< −1: begun, no debrief yet
  };
  std::vector<Result> results() const;
  static const SettingRows<Result>& results_of_book();
  void keep(const std::vector<Result>& all);
  Result* newest(std::vector<Result>& all, const std::string& task) const;
  void choose(const practice::Task& task);
  void ask_debrief(Id specimen);
  practice::Worked worked(Id specimen) const;
  void show_debrief();
  void show_cards();
  void clear_debrief(const QString& words);

  Workbench* bench_;
  const practice::Task* task_ = nullptr;
  Id specimen_ = 0;
  std::optional<practice::Debrief> debrief_;
  TaskPtr task_running_;
  QLabel *head_, *sub_, *said_;
  QPushButton *begin_, *go_on_, *look_;
  CourseView* course_;
  QVBoxLayout *table_, *cost_;
  QGridLayout* cards_;
};

}  // namespace fortitor
