#include <QSqlQuery>
#include <QVariant>

#include "store/book.h"
#include "store/sql.h"

namespace fortitor {

Outcome<Id> Book::start_timer(Id specimen, const std::string& label, const std::string& started_at,
                              const std::string& ends_at) {
  Id id = 0;
  const auto done = change("timer started: " + label, ends_at, specimen, [&]() -> Outcome<Done> {
    for (const TimerRow& t : timers())
      if (t.specimen == specimen && t.label == label) touch("timer", qlonglong(t.id));
    QSqlQuery old(db());
    old.prepare("UPDATE timer SET acknowledged_at = ? WHERE specimen_id = ? AND label = ? AND acknowledged_at = ''");
    old.addBindValue(text(clock_.utc()));
    old.addBindValue(qlonglong(specimen));
    old.addBindValue(text(label));
    if (!old.exec()) return sql_error(old, "The timer could not be started");
    QSqlQuery q(db());
    q.prepare("INSERT INTO timer (specimen_id, label, started_at, ends_at) VALUES (?, ?, ?, ?)");
    q.addBindValue(qlonglong(specimen));
    q.addBindValue(text(label));
    q.addBindValue(text(started_at));
    q.addBindValue(text(ends_at));
    if (!q.exec()) return sql_error(q, "The timer could not be started");
    id = Id(q.lastInsertId().toLongLong());
    touch("timer", qlonglong(id));
    return Done{};
  });
  if (!done) return done.error();
  return id;
}

std::vector<TimerRow> Book::timers() const {
  std::vector<TimerRow> rows;
  QSqlQuery q(db());
  q.exec(
      "SELECT t.id, t.specimen_id, s.code, t.label, t.started_at, t.ends_at FROM timer t JOIN specimen s ON s.id = "
      "t.specimen_id WHERE t.acknowledged_at = '' ORDER BY t.ends_at, t.id");
  while (q.next()) {
    auto word = [&](int i) { return q.value(i).toString().toStdString(); };
    rows.push_back(
        {Id(q.value(0).toLongLong()), Id(q.value(1).toLongLong()), word(2), word(3), word(4), word(5), false});
  }
  return rows;
}

Outcome<Done> Book::acknowledge_timer(Id timer, const std::string& what) {
  Id specimen = 0;
  for (const TimerRow& t : timers())
    if (t.id == timer) specimen = t.specimen;
  if (specimen == 0) return InputError{"There is no such timer.", {}};
  return change(what, std::to_string(timer), specimen, [&]() -> Outcome<Done> {
    QSqlQuery q(db());
    q.prepare("UPDATE timer SET acknowledged_at = ? WHERE id = ?");
    q.addBindValue(text(clock_.utc()));
    q.addBindValue(qlonglong(timer));
    if (!q.exec()) return sql_error(q, "The timer could not be ended");
    touch("timer", qlonglong(timer));
    return Done{};
  });
}

}  // namespace fortitor
