#include "app/model/task.h"

#include <QThreadPool>
#include <algorithm>

namespace fortitor {

void Task::set_progress(double progress) {
  const std::lock_guard guard(lock_);
  progress_ = progress;
}

double Task::progress() const {
  const std::lock_guard guard(lock_);
  return progress_;
}

TaskBoard::TaskBoard(QObject* parent) : QObject(parent), pool_(new QThreadPool(this)), in_turn_(new QThreadPool(this)) {
  // A long import must not keep an evaluation waiting, on one core neither.
  pool_->setMaxThreadCount(std::max(4, pool_->maxThreadCount()));
  in_turn_->setMaxThreadCount(1);
}

TaskBoard::~TaskBoard() {
  for (const TaskPtr& t : tasks_) t->stop_.request_stop();
  pool_->waitForDone();
  in_turn_->waitForDone();
}

TaskPtr TaskBoard::run(const QString& words, QObject* owner, const std::function<void(Task&)>& work,
                       const std::function<void()>& done, const std::function<void()>& cancelled) {
  return start(pool_, words, owner, work, done, cancelled);
}

TaskPtr TaskBoard::run_in_turn(const QString& words, QObject* owner, const std::function<void(Task&)>& work,
                               const std::function<void()>& done, const std::function<void()>& cancelled) {
  return start(in_turn_, words, owner, work, done, cancelled);
}

TaskPtr TaskBoard::start(QThreadPool* pool, const QString& words, QObject* owner,
                         const std::function<void(Task&)>& work, const std::function<void()>& done,
                         const std::function<void()>& cancelled) {
  const auto task = std::make_shared<Task>(words);
  tasks_.push_back(task);
  emit changed();
  const QPointer<QObject> alive(owner);
  pool->start([this, task, alive, work, done, cancelled] {
    if (!task->stopped()) work(*task);
    QMetaObject::invokeMethod(this, [this, task, alive, done, cancelled] {
      std::erase(tasks_, task);
      emit changed();
      if (alive.isNull()) return;
      if (!task->stopped())
        done();
      else if (cancelled)
        cancelled();
    });
  });
  return task;
}

void TaskBoard::cancel(const TaskPtr& task) {
  task->stop_.request_stop();
}

}  // namespace fortitor
