// Documents, photographs and key signatures in the book.
#include <QDate>
#include <QJsonDocument>
#include <QJsonObject>
#include <QSqlQuery>
#include <QVariant>

#include "store/papers.h"
#include "store/seal.h"
#include "store/sql.h"

namespace fortitor {
namespace {

constexpr const char* kRegister =
    "SELECT id, job_id, COALESCE(replaces, 0), number, edition, kind, covers, customer, language, issued_at, "
    "issued_by, "
    "state, reason, sha256, facts FROM document";

DocumentRow row_of(const QSqlQuery& q) {
  const auto words = [&](int i) { return str(q.value(i).toString()); };
  DocumentRow d;
  d.id = q.value(0).toLongLong();
  d.job = q.value(1).toLongLong();
  d.replaces = q.value(2).toLongLong();
  d.number = words(3);
  d.edition = q.value(4).toInt();
  d.kind = words(5);
  d.covers = words(6);
  d.customer = words(7);
  d.language = words(8);
  d.issued_at = words(9);
  d.issued_by = words(10);
  d.state = words(11);
  d.reason = words(12);
  d.sha256 = words(13);
  d.facts = words(14);
  return d;
}

std::string photograph_json(const PhotographRow& p) {
  QJsonObject o{{"caption", qs(p.caption)}};
  if (p.pixels_per_mm > 0) o["pixels_per_mm"] = p.pixels_per_mm;
  return QJsonDocument(o).toJson(QJsonDocument::Compact).toStdString();
}

}  // namespace

std::vector<DocumentRow> Papers::documents(Id job) const {
  std::vector<DocumentRow> out;
  QSqlQuery q(book_->db());
  q.prepare(QString(kRegister) + (job != 0 ? " WHERE job_id = ? ORDER BY id" : " ORDER BY id"));
  if (job != 0) q.addBindValue(qlonglong(job));
  for (bool more = q.exec(); more && q.next();) out.push_back(row_of(q));
  return out;
}

std::optional<DocumentRow> Papers::document(const std::string& number) const {
  QSqlQuery q(book_->db());
  q.prepare(QString(kRegister) + " WHERE number = ? ORDER BY edition DESC");
  q.addBindValue(text(number));
  if (!q.exec() || !q.next()) return std::nullopt;
  return row_of(q);
}

Outcome<QByteArray> Papers::bytes(const DocumentRow& d) const {
  if (const auto sound = seal::check_row(book_->db(), "document", QString::number(d.id)); !sound) return sound.error();
  QSqlQuery q(book_->db());
  q.prepare("SELECT bytes FROM document WHERE id = ?");
  q.addBindValue(qlonglong(d.id));
  if (!q.exec() || !q.next()) return sql_error(q, "The document could not be read");
  const QByteArray bytes = q.value(0).toByteArray();
  if (str(sha256(bytes)) != d.sha256) return InputError{"Document " + d.number + " is not what was issued.", {}};
  return bytes;
}

Outcome<DocumentRow> Papers::issue(DocumentRow row, const Make& make, const std::string& replaced,
                                   const std::string& reason) {
  const auto writer_of = writer();
  if (!writer_of) return writer_of.error();
  Book& book = **writer_of;
  std::optional<DocumentRow> old;
  if (!replaced.empty()) {
    old = document(replaced);
    if (!old) return InputError{"There is no document " + replaced + " in the register.", {}};
    if (old->job != row.job) return InputError{"Document " + replaced + " is of another job.", {}};
    if (old->state != "issued") return InputError{"Document " + replaced + " is " + old->state + " already.", {}};
    if (reason.empty()) return InputError{"A document is replaced for a reason, which is printed on the new one.", {}};
  }
  const auto head = letterhead();
  if (!head) return head.error();
  const auto done = book.together([&]() -> Outcome<Done> {
    // Within the change: two benches that issue at once get numbers one after the other.
    std::vector<std::string> given_out;
    for (const DocumentRow& d : documents()) given_out.push_back(d.number);
    row.issued_at = book.clock_.utc();
    const auto number = lab::next_number(head->text("pattern"), book.clock_.now().date().year(), given_out);
    if (!number) return number.error();
    row.number = *number;
    row.edition = old ? old->edition + 1 : 1;
    if (row.issued_by.empty()) row.issued_by = book.who_;
    row.state = "issued";
    row.replaces = old ? old->id : 0;
    row.reason = old ? reason : "";
    auto made = make(row.number, row.edition);
    if (!made) return made.error();
    if (made->bytes.isEmpty()) return InputError{"The document came out empty; nothing was issued.", {}};
    row.sha256 = str(sha256(made->bytes));
    row.facts = made->facts;
    if (old) {
      const auto changed =
          book.change("document " + old->number + " replaced", row.number + ": " + reason, 0, [&]() -> Outcome<Done> {
            QSqlQuery q(book.db());
            q.prepare("UPDATE document SET state = 'replaced' WHERE id = ?");
            q.addBindValue(qlonglong(old->id));
            if (!q.exec()) return sql_error(q, "The document could not be replaced");
            book.touch("document", qlonglong(old->id));
            return Done{};
          });
      if (!changed) return changed;
    }
    return book.change(
        "document " + row.number + " issued", row.covers + ", SHA-256 " + row.sha256, 0, [&]() -> Outcome<Done> {
          QSqlQuery q(book.db());
          q.prepare(
              "INSERT INTO document (number, edition, kind, job_id, covers, customer, language, issued_at, issued_by, "
              "state, replaces, reason, sha256, facts, bytes) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)");
          q.addBindValue(text(row.number));
          q.addBindValue(row.edition);
          q.addBindValue(text(row.kind));
          q.addBindValue(qlonglong(row.job));
          for (const auto* words :
               {&row.covers, &row.customer, &row.language, &row.issued_at, &row.issued_by, &row.state})
            q.addBindValue(text(*words));
          q.addBindValue(row.replaces == 0 ? QVariant(QMetaType(QMetaType::LongLong))
                                           : QVariant(qlonglong(row.replaces)));
          for (const auto* words : {&row.reason, &row.sha256, &row.facts}) q.addBindValue(text(*words));
          q.addBindValue(made->bytes);
          if (!q.exec()) return sql_error(q, "The document could not be issued");
          row.id = q.lastInsertId().toLongLong();
          book.touch("document", qlonglong(row.id));
          return Done{};
        });
  });
  if (!done) return done.error();
  return row;
}

Outcome<Done> Papers::withdraw(const std::string& number, const std::string& reason) {
  const auto book = writer();
  if (!book) return book.error();
  const auto d = document(number);
  if (!d) return InputError{"There is no document " + number + " in the register.", {}};
  if (d->state != "issued") return InputError{"Document " + number + " is " + d->state + " already.", {}};
  if (reason.empty()) return InputError{"A document is withdrawn for a reason, which stays in the register.", {}};
  return (*book)->change("document " + number + " withdrawn", reason, 0, [&]() -> Outcome<Done> {
    QSqlQuery q((*book)->db());
    q.prepare("UPDATE document SET state = 'withdrawn', reason = ? WHERE id = ?");
    q.addBindValue(text(reason));
    q.addBindValue(qlonglong(d->id));
    if (!q.exec()) return sql_error(q, "The document could not be withdrawn");
    (*book)->touch("document", qlonglong(d->id));
    return Done{};
  });
}

std::vector<PhotographRow> Papers::photographs(Id specimen) const {
  std::vector<PhotographRow> out;
  QSqlQuery q(book_->db());
  q.prepare(
      "SELECT id, specimen_id, stage, name, taken_by, taken_at, json, small FROM photograph WHERE specimen_id = ? AND "
      "gone = 0 ORDER BY id");
  q.addBindValue(qlonglong(specimen));
  for (bool more = q.exec(); more && q.next();) {
    PhotographRow p;
    p.id = q.value(0).toLongLong();
    p.specimen = q.value(1).toLongLong();
    p.stage = q.value(2).toInt();
    p.name = str(q.value(3).toString());
    p.taken_by = str(q.value(4).toString());
    p.taken_at = str(q.value(5).toString());
    const QJsonObject o = QJsonDocument::fromJson(q.value(6).toString().toUtf8()).object();
    p.caption = str(o["caption"].toString());
    p.pixels_per_mm = o["pixels_per_mm"].toDouble();
    p.small = q.value(7).toByteArray();
    out.push_back(std::move(p));
  }
  return out;
}

Outcome<QByteArray> Papers::picture(Id photograph) const {
  if (const auto sound = seal::check_row(book_->db(), "photograph", QString::number(photograph)); !sound)
    return sound.error();
  QSqlQuery q(book_->db());
  q.prepare("SELECT bytes FROM photograph WHERE id = ?");
  q.addBindValue(qlonglong(photograph));
  if (!q.exec() || !q.next()) return sql_error(q, "The photograph could not be read");
  return q.value(0).toByteArray();
}

Outcome<Id> Papers::add(const PhotographRow& p, const QByteArray& bytes) {
  constexpr qsizetype kLargest = 64 * 1024 * 1024;
  const auto book = writer();
  if (!book) return book.error();
  if (bytes.isEmpty()) return InputError{p.name + ": the file is empty.", {}};
  if (bytes.size() > kLargest) return InputError{p.name + ": more than 64 MB; that is no photograph of a piece.", {}};
  if (p.small.isEmpty()) return InputError{p.name + ": no picture that can be shown.", {}};
  Id id = 0;
  const auto done = (*book)->change("photograph added", p.name, p.specimen, [&]() -> Outcome<Done> {
    QSqlQuery q((*book)->db());
    q.prepare(
        "INSERT INTO photograph (specimen_id, stage, name, taken_by, taken_at, json, small, bytes) VALUES (?, ?, ?, ?, "
        "?, ?, ?, ?)");
    q.addBindValue(qlonglong(p.specimen));
    q.addBindValue(p.stage);
    q.addBindValue(text(p.name));
    q.addBindValue(text(p.taken_by.empty() ? (*book)->who_ : p.taken_by));
    q.addBindValue(text(p.taken_at.empty() ? (*book)->clock_.utc() : p.taken_at));
    q.addBindValue(text(photograph_json(p)));
    q.addBindValue(p.small);
    q.addBindValue(bytes);
    if (!q.exec()) return sql_error(q, "The photograph could not be kept");
    id = q.lastInsertId().toLongLong();
    (*book)->touch("photograph", qlonglong(id));
    return Done{};
  });
  if (!done) return done.error();
  return id;
}

Outcome<Done> Papers::change(const PhotographRow& p, const std::string& what) {
  const auto book = writer();
  if (!book) return book.error();
  return (*book)->change(what, p.name, p.specimen, [&]() -> Outcome<Done> {
    QSqlQuery q((*book)->db());
    q.prepare("UPDATE photograph SET json = ? WHERE id = ?");
    q.addBindValue(text(photograph_json(p)));
    q.addBindValue(qlonglong(p.id));
    if (!q.exec()) return sql_error(q, "The photograph could not be changed");
    (*book)->touch("photograph", qlonglong(p.id));
    return Done{};
  });
}

Outcome<Done> Papers::remove(const PhotographRow& p) {
  const auto book = writer();
  if (!book) return book.error();
  return (*book)->change("photograph taken away", p.name, p.specimen, [&]() -> Outcome<Done> {
    QSqlQuery q((*book)->db());
    q.prepare("UPDATE photograph SET gone = 1 WHERE id = ?");
    q.addBindValue(qlonglong(p.id));
    if (!q.exec()) return sql_error(q, "The photograph could not be taken away");
    (*book)->touch("photograph", qlonglong(p.id));
    return Done{};
  });
}

Outcome<Done> Papers::keep(const KeySignature& s) {
  const auto book = writer();
  if (!book) return book.error();
  return (*book)->change("signed with a key", s.subject + ", " + s.role + " by " + s.person, 0,
                         [&] { return keep_within(s); });
}

Outcome<Done> Papers::keep_within(const KeySignature& s) {
  const auto book = writer();
  if (!book) return book.error();
  QSqlQuery q((*book)->db());
  q.prepare(
      "INSERT INTO key_signature (subject, role, person, public_key, words, signature, made_at) VALUES (?, ?, ?, ?, ?, "
      "?, ?)");
  for (const auto* words : {&s.subject, &s.role, &s.person, &s.public_key, &s.words, &s.signature, &s.at})
    q.addBindValue(text(*words));
  if (!q.exec()) return sql_error(q, "The signature could not be kept");
  (*book)->touch("key_signature", q.lastInsertId());
  return Done{};
}

std::vector<KeySignature> Papers::key_signatures(const std::string& subject) const {
  std::vector<KeySignature> out;
  QSqlQuery q(book_->db());
  q.prepare(QString("SELECT id, subject, role, person, public_key, words, signature, made_at FROM key_signature") +
            (subject.empty() ? " ORDER BY id" : " WHERE subject = ? ORDER BY id"));
  if (!subject.empty()) q.addBindValue(text(subject));
  for (bool more = q.exec(); more && q.next();) {
    const auto words = [&](int i) { return str(q.value(i).toString()); };
    out.push_back({q.value(0).toLongLong(), words(1), words(2), words(3), words(4), words(5), words(6), words(7)});
  }
  return out;
}

Outcome<std::vector<std::string>> Papers::hashes_of(const std::string& subject) const {
  const QString table = qs(subject).section('/', 0, 0);
  const QVariant id = qs(subject).section('/', 1).toLongLong();
  QSqlQuery q(book_->db());
  if (table == "signature")
    q.prepare("SELECT record_sha256, run_sha256, evaluation_sha256 FROM signature WHERE id = ?");
  else if (table == "document")
    q.prepare("SELECT sha256 FROM document WHERE id = ?");
  else
    return InputError{"“" + subject + "” is nothing that is signed.", {}};
  q.addBindValue(id);
  if (!q.exec()) return sql_error(q, "What was signed could not be read");
  if (!q.next()) return InputError{"What was signed is no longer in the book.", {}};
  std::vector<std::string> out;
  for (int i = 0; i < (table == "signature" ? 3 : 1); ++i) out.push_back(str(q.value(i).toString()));
  return out;
}

int Papers::without_key() const {
  QSqlQuery q(book_->db());
  const bool counted = q.exec(
      "SELECT COUNT(*) FROM signature WHERE NOT EXISTS (SELECT 1 FROM key_signature WHERE subject = 'signature/' || "
      "signature.id)");
  return counted && q.next() ? q.value(0).toInt() : 0;
}

}  // namespace fortitor
