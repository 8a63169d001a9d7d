// A shared book whose server is away: what is confirmed at the bench lies in its journal at once, and moves to the
// server in order when it is back. Every line arrives once: with it the server keeps the number of the line, in one
// transaction.
#include <QDataStream>
#include <QScopeGuard>
#include <QSqlQuery>

#include "core/bench/records.h"
#include "core/quantity/plain.h"
#include "store/book.h"
#include "store/engine.h"
#include "store/journal.h"
#include "store/pulse.h"
#include "store/sql.h"

namespace fortitor {
namespace {

QByteArray packed(const std::function<void(QDataStream&)>& write) {
  QByteArray out;
  QDataStream s(&out, QIODevice::WriteOnly);
  s.setVersion(QDataStream::Qt_6_0);
  write(s);
  return out;
}

struct Opened {
  explicit Opened(const QByteArray& body) : stream(body) { stream.setVersion(QDataStream::Qt_6_0); }
  Id number() {
    qlonglong v = 0;
    stream >> v;
    return v;
  }
  std::string words() {
    QByteArray v;
    stream >> v;
    return v.toStdString();
  }
  QDataStream stream;
};

QByteArray bytes(const std::string& s) {
  return QByteArray::fromStdString(s);
}

}  // namespace

Outcome<Done> Book::keep_journal(const std::string& folder) {
  if (!shared() || read_only_) return Done{};
  auto journal = Journal::open(folder, path_);
  if (!journal) return journal.error();
  journal_ = std::move(*journal);
  pulse_ = std::make_unique<Pulse>(path_, db());
  if (const auto brought = bring_in(); !brought) return brought;
  recover_runs();  // of a window that ended while its server was away
  return Done{};
}

Id Book::on_server(Id run) const {
  return journal_ ? journal_->number_of(run) : run;
}

size_t Book::waiting() const {
  return journal_ ? journal_->waiting() : 0;
}

std::string Book::away_since() const {
  return journal_ && journal_->waiting() > 0 ? journal_->since() : away_at_;
}

// Whether a change that failed is one that the journal takes.
bool Book::journals() const {
  return journal_ && away() && !bringing_in_ && !joined_;
}

Outcome<Done> Book::put_aside(const char* kind, const QByteArray& body) {
  return journal_->add({0, kind, who_, clock_.utc(), body});
}

Outcome<Id> Book::begin_aside(Id specimen, const std::vector<std::string>& channels, const std::string& source,
                              const std::string& segment, Id tried) {
  const auto number = journal_->new_run();
  if (!number) return number.error();
  const auto kept = put_aside("begin", packed([&](QDataStream& s) {
                                s << qlonglong(*number) << qlonglong(specimen) << bytes(source) << bytes(segment)
                                  << qlonglong(channels.size());
                                for (const std::string& c : channels) s << bytes(c);
                                s << qlonglong(tried);
                              }));
  if (!kept) return kept.error();
  return *number;
}

Outcome<Done> Book::append_aside(Id run, const std::vector<std::vector<double>>& columns) {
  return put_aside("part", packed([&](QDataStream& s) {
                     s << qlonglong(run) << qlonglong(parts_[run] + 1) << qlonglong(columns.size());
                     for (const auto& column : columns)
                       s << QByteArray(reinterpret_cast<const char*>(column.data()),
                                       qsizetype(column.size() * sizeof(double)));
                     ++parts_[run];
                   }));
}

Outcome<Done> Book::close_aside(Id run, const std::string& stopped) {
  return put_aside("close", packed([&](QDataStream& s) { s << qlonglong(run) << bytes(stopped); }));
}

Outcome<Saved> Book::save_aside(Id specimen, Id from, const std::string& json, const Summary& summary,
                                const std::string& what, const std::string& detail, Id tried) {
  const auto kept = put_aside("record", packed([&](QDataStream& s) {
                                s << qlonglong(specimen) << qlonglong(from) << bytes(json) << bytes(summary.stages)
                                  << bytes(summary.verdict) << qlonglong(summary.open_judgements) << bytes(what)
                                  << bytes(detail) << qlonglong(tried);
                              }));
  if (!kept) return kept.error();
  Saved out;
  out.version = from;
  out.waits = true;
  return out;
}

// A run that another bench closed as interrupted meanwhile goes on as one with all of its parts.
Outcome<Id> Book::open_again(Id run) {
  QSqlQuery q(db());
  q.prepare("SELECT closed_at, specimen_id, channels, source, segment FROM run WHERE id = ?");
  q.addBindValue(qlonglong(run));
  if (!q.exec() || !q.next()) return sql_error(q, "The run could not be read");
  if (q.value(0).toString().isEmpty()) return run;
  std::vector<std::string> channels;
  for (const QString& c : q.value(2).toString().split(',')) channels.push_back(str(c));
  const auto again =
      insert_run(q.value(1).toLongLong(), channels, str(q.value(3).toString()), str(q.value(4).toString()));
  if (!again) return again;
  QSqlQuery parts(db());
  parts.prepare(
      "INSERT INTO run_chunk (run_id, part, row_count, columns, sha256) SELECT ?, part, row_count, columns, sha256 "
      "FROM "
      "run_chunk WHERE run_id = ?");
  parts.addBindValue(qlonglong(*again));
  parts.addBindValue(qlonglong(run));
  if (!parts.exec()) return sql_error(parts, "The run could not go on");
  if (const auto noted =
          log("run gone on", "it was closed while its bench could not reach the server", q.value(1).toLongLong());
      !noted)
    return noted.error();
  return again;
}

// One line of the journal, as it would have been written then.
Outcome<Done> Book::bring_line(const std::string& kind, const QByteArray& body) {
  Opened o(body);
  if (kind == "begin") {
    const Id number = o.number(), specimen_id = o.number();
    const std::string source = o.words(), segment = o.words();
    std::vector<std::string> channels(size_t(o.number()));
    for (std::string& c : channels) c = o.words();
    const Id tried = o.number();
    QSqlQuery there(db());
    there.prepare("SELECT 1 FROM run WHERE id = ? AND specimen_id = ?");
    there.addBindValue(qlonglong(tried));
    there.addBindValue(qlonglong(specimen_id));
    if (!there.exec()) return sql_error(there, "The run could not be read");
    if (there.next()) return journal_->is_now(number, tried);  // it arrived, only its answer did not
    const auto run = insert_run(specimen_id, channels, source, segment);
    if (!run) return run.error();
    if (const auto noted = log("run begun", source + ", kept at the bench until the server was back", specimen_id);
        !noted)
      return noted;
    return journal_->is_now(number, *run);
  }
  if (kind == "part") {
    const Id given = o.number(), part = o.number();
    std::vector<std::vector<double>> columns(size_t(o.number()));
    for (auto& column : columns) {
      QByteArray raw;
      o.stream >> raw;
      column.assign(reinterpret_cast<const double*>(raw.constData()),
                    reinterpret_cast<const double*>(raw.constData() + raw.size()));
    }
    const Id run = journal_->number_of(given);
    QSqlQuery there(db());
    there.prepare("SELECT 1 FROM run_chunk WHERE run_id = ? AND part = ?");
    there.addBindValue(qlonglong(run));
    there.addBindValue(qlonglong(part));
    if (!there.exec()) return sql_error(there, "The run could not be read");
    if (there.next()) return Done{};  // it arrived, only its answer did not
    const auto open = open_again(run);
    if (!open) return open.error();
    if (*open != given)
      if (const auto known = journal_->is_now(given, *open); !known) return known;
    return insert_part(*open, columns, part);
  }
  if (kind == "close") {
    const Id run = journal_->number_of(o.number());
    const std::string stopped = o.words();
    QSqlQuery q(db());
    q.prepare("SELECT closed_at, interrupted, specimen_id FROM run WHERE id = ?");
    q.addBindValue(qlonglong(run));
    if (!q.exec() || !q.next()) return sql_error(q, "The run could not be read");
    const Id specimen_id = q.value(2).toLongLong();
    engine::let_go(db(), specimen_id);
    held_.erase(specimen_id);
    if (!q.value(0).toString().isEmpty()) return Done{};
    if (const auto ended = end_run(run, stopped); !ended) return ended;
    return log("run closed", stopped, specimen_id);
  }
  if (kind == "record") {
    const Id specimen_id = o.number(), from = o.number();
    const std::string json = o.words();
    Summary summary;
    summary.stages = o.words();
    summary.verdict = o.words();
    summary.open_judgements = int(o.number());
    const std::string what = o.words(), detail = o.words();
    QSqlQuery there(db());
    there.prepare("SELECT json FROM record WHERE specimen_id = ? AND version = ?");
    there.addBindValue(qlonglong(specimen_id));
    there.addBindValue(qlonglong(o.number()));
    if (!there.exec()) return sql_error(there, "The record could not be read");
    if (there.next() && str(there.value(0).toString()) == json) return Done{};  // it arrived, only its answer did not
    auto record = stored_record_from_json(json);
    if (!record) return record.error();
    const auto saved = save_record(specimen_id, from, *record, summary, what, detail);
    if (!saved) return saved.error();
    return Done{};
  }
  return InputError{"The journal of this bench holds a line of another kind: " + kind + ".", {}};
}

bool Book::look_for_server() {
  if (!pulse_) return false;
  if (!away() && engine::hung_up(db())) goes_away(false);
  if (!pulse_->beats()) {
    if (away()) return false;
    away_at_ = clock_.utc();
    return true;
  }
  if (!away() && waiting() == 0) return false;
  const size_t before = waiting();
  const bool was_away = away();
  const auto back = come_back();
  return !back ? was_away != away() || waiting() != before : true;
}

Outcome<Done> Book::come_back() {
  if (!away()) return bring_in();
  if (!out_of_room_ || engine::lost(db())) {
    if (pulse_) pulse_->watch_nothing();
    if (const auto open = engine::connect(db(), read_only_); !open) return open;
    if (pulse_) pulse_->watch(db());
    engine::say_who(db(), qs(who_));
    if (heard_) listen(heard_);
  }
  away_at_.clear();
  for (Id piece : held_) engine::hold(db(), piece);
  return bring_in();
}

Outcome<Done> Book::bring_in() {
  if (!journal_ || bringing_in_) return Done{};
  bringing_in_ = true;
  const auto over = qScopeGuard([this] { bringing_in_ = false; });
  const std::string mark = "journal." + journal_->name();
  while (journal_->waiting() > 0) {
    const auto next = journal_->next();
    if (!next) return next.error();
    if (next->empty()) break;
    const Journal::Line& line = next->front();
    const std::string who = std::exchange(who_, line.who);
    const Clock clock = std::exchange(clock_, Clock::at(QDateTime::fromString(qs(line.at), Qt::ISODateWithMs)));
    const auto done = together([&]() -> Outcome<Done> {
      QSqlQuery q(db());
      q.prepare("SELECT value FROM setting WHERE key = ?");
      q.addBindValue(text(mark));
      if (!q.exec()) return sql_error(q, "What the server has could not be read");
      if (q.next() && q.value(0).toLongLong() >= line.id) return Done{};
      if (const auto brought = bring_line(line.kind, line.body); !brought) return brought;
      return set_setting(mark, std::to_string(line.id));
    });
    who_ = who;
    clock_ = clock;
    // A line that will never be taken does not hold up what was confirmed after it.
    const bool never = !done && !away() && engine::refusal_of(done.error()) == engine::Refusal::for_good;
    if (!done && !never) return done;
    const auto kept = never ? journal_->refuse(line.id, done.error().message) : journal_->taken(line.id);
    if (!kept) return kept;
  }
  return Done{};
}

std::vector<RefusedChange> Book::refused() const {
  std::vector<RefusedChange> out;
  if (!journal_) return out;
  for (const Journal::Refused& r : journal_->refused()) {
    const bool run = r.kind == "begin" || r.kind == "part" || r.kind == "close";
    out.push_back({run ? "run, its " + r.kind : r.kind, r.who, r.at, r.why});
  }
  return out;
}

}  // namespace fortitor
