// Work that may take longer than a moment, off the interface thread: what it is, how far, and a way to stop it. One
// board knows them all; the window shows it.
#pragma once

#include <QObject>
#include <QPointer>
#include <QString>
#include <functional>
#include <memory>
#include <mutex>
#include <stop_token>
#include <vector>

namespace fortitor {

/// What the work itself holds: asks whether it should stop, says how far it is.
class Task {
 public:
  explicit Task(QString words) : words_(std::move(words)) {}
  const QString& words() const { return words_; }
  std::stop_token stop_token() const { return stop_.get_token(); }
  bool stopped() const { return stop_.stop_requested(); }
  /// 0 … 1; below 0 nothing is known.
  void set_progress(double progress);
  double progress() const;

 private:
  friend class TaskBoard;
  QString words_;
  std::stop_source stop_;
  mutable std::mutex lock_;
  double progress_ = -1;
};
using TaskPtr = std::shared_ptr<Task>;

class TaskBoard : public QObject {
  Q_OBJECT

 public:
  explicit TaskBoard(QObject* parent = nullptr);
  /// Stops everything and waits for it.
  ~TaskBoard() override;

  /// Runs `work` on another thread, then `done` on this one unless the task was cancelled or `owner` is gone.
  TaskPtr run(const QString& words, QObject* owner, const std::function<void(Task&)>& work,
              const std::function<void()>& done, const std::function<void()>& cancelled = {});
  /// The same, one after the other in the order in which they were asked for: what writes in the book.
  TaskPtr run_in_turn(const QString& words, QObject* owner, const std::function<void(Task&)>& work,
                      const std::function<void()>& done, const std::function<void()>& cancelled = {});
  void cancel(const TaskPtr& task);
  /// Those that are going on, the oldest first.
  const std::vector<TaskPtr>& tasks() const { return tasks_; }

 signals:
  void changed();

 private:
  TaskPtr start(class QThreadPool* pool, const QString& words, QObject* owner, const std::function<void(Task&)>& work,
                const std::function<void()>& done, const std::function<void()>& cancelled);
  std::vector<TaskPtr> tasks_;
  class QThreadPool *pool_, *in_turn_;
};

}  // namespace fortitor
