#include "app/model/acquisition.h"

#include <QElapsedTimer>
#include <QTimer>

namespace fortitor {

class Acquisition::Driver : public QObject {
 public:
  Driver(Acquisition* owner, std::unique_ptr<Machine> machine, double speed)
      : owner_(owner), machine_(std::move(machine)), speed_(speed) {}

  void begin() {
    timer_ = new QTimer(this);
    timer_->setTimerType(Qt::PreciseTimer);
    connect(timer_, &QTimer::timeout, this, [this] { tick(); });
    clock_.start();
    timer_->start(33);
    emit owner_->status(machine_->status());
  }
  void tick() {
    const double seconds = std::min(0.25, clock_.nsecsElapsed() * 1e-9);  // a stalled thread does not leap
    clock_.restart();
    auto columns = std::make_shared<MachineColumns>(machine_->advance(seconds * speed_));
    if (!columns->empty() && !columns->front().empty()) emit owner_->samples(columns);
    emit owner_->status(machine_->status());
  }
  void command(MachineCommand c, double value) {
    const auto done = machine_->command(c, value);
    if (!done) emit owner_->refused(QString::fromStdString(done.error().message));
    emit owner_->status(machine_->status());
  }
  void program(const MachineProgram& p) {
    const auto done = machine_->program(p);
    if (!done) emit owner_->refused(QString::fromStdString(done.error().message));
  }
  void set_speed(double speed) { speed_ = speed; }

 private:
  Acquisition* owner_;
  std::unique_ptr<Machine> machine_;
  double speed_;
  QTimer* timer_ = nullptr;
  QElapsedTimer clock_;
};

Acquisition::Acquisition(std::unique_ptr<Machine> machine, double speed, QObject* parent)
    : QObject(parent),
      controls_(machine->controls()),
      channels_(machine->channels()),
      driver_(new Driver(this, std::move(machine), speed)) {
  qRegisterMetaType<ColumnsPtr>("fortitor::ColumnsPtr");
  qRegisterMetaType<MachineStatus>("fortitor::MachineStatus");
  driver_->moveToThread(&thread_);
  connect(&thread_, &QThread::started, driver_, [this] { driver_->begin(); });
  connect(&thread_, &QThread::finished, driver_, &QObject::deleteLater);
  thread_.start();
}

Acquisition::~Acquisition() {
  thread_.quit();
  thread_.wait();
}

void Acquisition::command(MachineCommand c, double value) {
  QMetaObject::invokeMethod(driver_, [this, c, value] { driver_->command(c, value); });
}

void Acquisition::program(const MachineProgram& p) {
  QMetaObject::invokeMethod(driver_, [this, p] { driver_->program(p); });
}

void Acquisition::set_speed(double speed) {
  QMetaObject::invokeMethod(driver_, [this, speed] { driver_->set_speed(speed); });
}

}  // namespace fortitor
