// Signing: what is signed is what is stored, and stays so.

#include "core/practice/practice.h"
#include "store/book.h"
#include "store/seal.h"
#include "store/sha256.h"
#include "store/sql.h"

namespace fortitor {

// Over every run the version was saved with: channels, segment, every part with its number and its bytes' hash.
Outcome<std::string> Book::run_hash(Id specimen_id, Id newest_run) const {
  Sha256 hash;
  QSqlQuery runs(db());
  runs.prepare("SELECT id, channels, segment FROM run WHERE specimen_id = ? AND id <= ? ORDER BY id");
  runs.addBindValue(qlonglong(specimen_id));
  runs.addBindValue(qlonglong(newest_run));
  if (!runs.exec()) return sql_error(runs, "The runs could not be read");
  while (runs.next()) {
    hash.addData(runs.value(1).toString().toUtf8() + '\0' + runs.value(2).toString().toUtf8() + '\0');
    QSqlQuery parts(db());
    parts.prepare("SELECT part, row_count, columns FROM run_chunk WHERE run_id = ? ORDER BY part");
    parts.addBindValue(runs.value(0));
    if (!parts.exec()) return sql_error(parts, "The run could not be read");
    while (parts.next()) {
      hash.addData(QByteArray::number(parts.value(0).toLongLong()) + ',' +
                   QByteArray::number(parts.value(1).toLongLong()) + ',');
      hash.addData(Sha256::of(parts.value(2).toByteArray()));
    }
  }
  return hash.result().toHex().toStdString();
}

Outcome<Done> Book::sign_off(Id specimen_id, Id version, const std::string& evaluation_json, const std::string& verdict,
                             const std::function<Outcome<Done>(Id)>& also) {
  const auto row = specimen(specimen_id);
  return change("signed off", verdict, specimen_id, [&]() -> Outcome<Done> {
    if (!row) return InputError{"The specimen is not in the book.", {}};
    const Id newest = record_version(specimen_id);
    if (newest != version)
      return InputError{"Not signed: the book holds version " + std::to_string(newest) + " of " + row->code +
                            ", and version " + std::to_string(version) + " was evaluated. Look at it again.",
                        {}};
    if (const auto typed = typed_record(specimen_id); typed && practice::is_practice(*typed))
      return InputError{"Practice is not signed.", {}};
    QSqlQuery q(db());
    q.prepare("SELECT COUNT(*) FROM run WHERE specimen_id = ? AND closed_at = ''");
    q.addBindValue(qlonglong(specimen_id));
    if (!q.exec() || !q.next()) return sql_error(q, "The runs could not be read");
    if (q.value(0).toInt() > 0) return InputError{"Not signed: the run of " + row->code + " is not closed.", {}};
    q.prepare("SELECT id, json, COALESCE(run_id, 0) FROM record WHERE specimen_id = ? AND version = ?");
    q.addBindValue(qlonglong(specimen_id));
    q.addBindValue(qlonglong(version));
    if (!q.exec() || !q.next()) return sql_error(q, "The record could not be read");
    const qlonglong record_id = q.value(0).toLongLong();
    const std::string record_hash = str(sha256(q.value(1).toString().toUtf8()));
    const auto run = run_hash(specimen_id, q.value(2).toLongLong());
    if (!run) return run.error();
    const std::string evaluation_hash = str(sha256(QByteArray::fromStdString(evaluation_json)));
    q.prepare("INSERT INTO evaluation (record_id, json, saved_at) VALUES (?, ?, ?)");
    q.addBindValue(record_id);
    q.addBindValue(text(evaluation_json));
    q.addBindValue(text(clock_.utc()));
    if (!q.exec()) return sql_error(q, "The evaluation could not be kept");
    const QVariant evaluation_id = q.lastInsertId();
    touch("evaluation", evaluation_id);
    q.prepare(
        "INSERT INTO signature (specimen_id, record_version, verdict, signed_by, signed_at, evaluation_id, "
        "record_sha256, "
        "run_sha256, evaluation_sha256) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)");
    q.addBindValue(qlonglong(specimen_id));
    q.addBindValue(qlonglong(version));
    q.addBindValue(text(verdict));
    q.addBindValue(text(who_));
    q.addBindValue(text(clock_.utc()));
    q.addBindValue(evaluation_id);
    for (const std::string& hash : {record_hash, *run, evaluation_hash}) q.addBindValue(text(hash));
    if (!q.exec()) return sql_error(q, "The signature could not be kept");
    const Id signature_id = q.lastInsertId().toLongLong();
    touch("signature", qlonglong(signature_id));
    if (also)
      if (const auto kept = also(signature_id); !kept) return kept;
    // The chain holds the hashes too: a signature that is changed later no longer agrees with its line.
    if (const auto sealed = log("sealed", record_hash + " " + *run + " " + evaluation_hash, specimen_id); !sealed)
      return sealed;
    // What the paper will say of the job, so that a later change of it can be told.
    return log("signed for", "version " + std::to_string(version) + ": " + job_of(specimen_id).title, specimen_id);
  });
}

std::optional<std::string> Book::title_when_signed(Id specimen_id, Id version) const {
  const auto row = specimen(specimen_id);
  if (!row) return std::nullopt;
  const std::string head = "version " + std::to_string(version) + ": ";
  QSqlQuery q(db());
  q.prepare(
      "SELECT detail FROM logbook WHERE what = 'signed for' AND specimen = ? AND substr(detail, 1, ?) = ? ORDER BY id "
      "DESC LIMIT 1");
  q.addBindValue(text(row->code));
  q.addBindValue(int(head.size()));
  q.addBindValue(text(head));
  if (!q.exec() || !q.next()) return std::nullopt;
  return str(q.value(0).toString()).substr(head.size());
}

Outcome<Done> Book::check_job(Id job) const {
  return seal::check_row(db(), "job", QString::number(job));
}

std::optional<SignOff> Book::signature(Id specimen_id, Id version) const {
  QSqlQuery q(db());
  q.prepare(
      "SELECT signed_by, signed_at, verdict, record_version, record_sha256, run_sha256, evaluation_sha256, id FROM "
      "signature "
      "WHERE specimen_id = ? AND (? = 0 OR record_version = ?) ORDER BY id DESC LIMIT 1");
  q.addBindValue(qlonglong(specimen_id));
  q.addBindValue(qlonglong(version));
  q.addBindValue(qlonglong(version));
  if (!q.exec() || !q.next()) return std::nullopt;
  auto column = [&](int i) { return str(q.value(i).toString()); };
  return SignOff{column(0), column(1), column(2), q.value(3).toLongLong(),
                 column(4), column(5), column(6), q.value(7).toLongLong()};
}

bool Book::has_signature(const SignOff& wanted) const {
  QSqlQuery q(db());
  q.prepare(
      "SELECT id FROM signature WHERE record_version = ? AND record_sha256 = ? AND run_sha256 = ? AND "
      "evaluation_sha256 = ?");
  q.addBindValue(qlonglong(wanted.record_version));
  for (const std::string& hash : {wanted.record_sha256, wanted.run_sha256, wanted.evaluation_sha256})
    q.addBindValue(text(hash));
  return q.exec() && q.next();
}

std::optional<std::string> Book::signed_evaluation(Id specimen_id, Id version) const {
  QSqlQuery q(db());
  q.prepare(
      "SELECT e.json FROM signature s JOIN evaluation e ON e.id = s.evaluation_id WHERE s.specimen_id = ? AND (? "
      "= 0 OR s.record_version = ?) ORDER BY s.id DESC LIMIT 1");
  q.addBindValue(qlonglong(specimen_id));
  q.addBindValue(qlonglong(version));
  q.addBindValue(qlonglong(version));
  if (!q.exec() || !q.next()) return std::nullopt;
  return str(q.value(0).toString());
}

Outcome<Done> Book::check_signature(Id specimen_id) const {
  const auto signed_off = signature(specimen_id);
  if (!signed_off || signed_off->record_sha256.empty()) return Done{};  // before version 3 nothing was sealed
  QSqlQuery q(db());
  q.prepare("SELECT id FROM signature WHERE specimen_id = ? ORDER BY id DESC LIMIT 1");
  q.addBindValue(qlonglong(specimen_id));
  if (!q.exec() || !q.next()) return sql_error(q, "The signature could not be checked");
  if (const auto sound = seal::check_row(db(), "signature", q.value(0).toString()); !sound) return sound;
  q.prepare(
      "SELECT r.json, COALESCE(r.run_id, 0), e.json FROM signature s JOIN record r ON r.specimen_id = s.specimen_id "
      "AND "
      "r.version = s.record_version LEFT JOIN evaluation e ON e.id = s.evaluation_id WHERE s.specimen_id = ? ORDER BY "
      "s.id DESC LIMIT 1");
  q.addBindValue(qlonglong(specimen_id));
  if (!q.exec()) return sql_error(q, "The signature could not be checked");
  if (!q.next()) return InputError{"What was signed is no longer in the book.", {}};
  std::string differs;
  if (str(sha256(q.value(0).toString().toUtf8())) != signed_off->record_sha256) differs = "the record";
  const auto run = run_hash(specimen_id, q.value(1).toLongLong());
  if (!run) return run.error();
  if (*run != signed_off->run_sha256) differs += (differs.empty() ? "" : ", ") + std::string("the run");
  if (str(sha256(q.value(2).toString().toUtf8())) != signed_off->evaluation_sha256)
    differs += (differs.empty() ? "" : ", ") + std::string("the evaluation");
  if (!differs.empty())
    return InputError{"What is stored is not what was signed by " + signed_off->by + " on " + signed_off->at + ": " +
                          differs + " changed in the file.",
                      {}};
  return Done{};
}

}  // namespace fortitor
