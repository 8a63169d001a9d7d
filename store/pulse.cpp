#include "store/pulse.h"

#include <sys/socket.h>
#include <QSqlQuery>
#include <chrono>
#include <utility>

#include "store/engine.h"
#include "store/sql.h"

namespace fortitor {
namespace {

constexpr double kBetween = 1;  // s from one question to the next

// Of steady time, for how long something takes.
double seconds() {
  return std::chrono::duration<double>(std::chrono::steady_clock::now().time_since_epoch()).count();
}

}  // namespace

Pulse::Pulse(std::string address, const QSqlDatabase& book, double patience)
    : address_(std::move(address)), patience_(patience), book_(engine::socket_of(book)) {
  asks_ = std::thread([this] { ask(); });
  looks_ = std::thread([this] { look(); });
}

Pulse::~Pulse() {
  {
    const std::lock_guard lock(guard_);
    end_ = true;
    if (own_ >= 0) ::shutdown(own_, SHUT_RDWR);  // a question that nobody answers
  }
  end_now_.notify_all();
  asks_.join();
  looks_.join();
}

void Pulse::watch(const QSqlDatabase& book) {
  const std::lock_guard lock(guard_);
  book_ = engine::socket_of(book);
}

void Pulse::watch_nothing() {
  const std::lock_guard lock(guard_);
  book_ = -1;
}

// False when it is time to end.
bool Pulse::rest(double time) {
  std::unique_lock lock(guard_);
  return !end_now_.wait_for(lock, std::chrono::duration<double>(time), [this] { return end_; });
}

void Pulse::cut() {
  beats_ = false;
  for (int* socket : {&book_, &own_})
    if (*socket >= 0) ::shutdown(std::exchange(*socket, -1), SHUT_RDWR);
}

void Pulse::ask() {
  const QString name = QString("pulse-%1").arg(reinterpret_cast<quintptr>(this));
  const auto target = engine::target_of(address_);
  {
    QSqlDatabase db = QSqlDatabase::addDatabase("QPSQL", name);
    if (target) engine::aim(db, *target);
    do {
      bool silent = false;
      if (!db.isOpen()) {
        const double from = seconds();
        silent = !db.open() && seconds() - from > patience_ / 2;
        const std::lock_guard lock(guard_);
        own_ = engine::socket_of(db);
      }
      {
        const std::lock_guard lock(guard_);
        asked_ = seconds();
      }
      bool answered = false;
      if (db.isOpen()) {
        QSqlQuery q(db);
        answered = q.exec("SELECT 1");
      }
      const std::lock_guard lock(guard_);
      asked_ = 0;
      // A server that is gone says so to whoever has a connection; only one that is silent has to be cut off.
      beats_ = answered;
      if (silent) cut();
      if (!answered) {
        own_ = -1;
        db.close();
      }
    } while (rest(kBetween));
    const std::lock_guard lock(guard_);
    own_ = -1;
  }
  QSqlDatabase::removeDatabase(name);
}

void Pulse::look() {
  while (rest(kBetween / 4)) {
    const std::lock_guard lock(guard_);
    if (asked_ > 0 && seconds() - asked_ > patience_) cut();
  }
}

}  // namespace fortitor
