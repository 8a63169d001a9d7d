// What leaves the laboratory, as a book keeps it: customers, people and the other entries, demand sheets, documents
// that were issued, photographs, signatures made with a key. Every change is a line of the logbook, nothing vanishes.
#pragma once

#include <functional>
#include <map>
#include <set>
#include <string>
#include <vector>

#include "core/laboratory/demands.h"
#include "core/laboratory/entry.h"
#include "store/book.h"

namespace fortitor {

/// A document of the register. Its bytes are read apart.
struct DocumentRow {
  Id id = 0, job = 0, replaces = 0;
  std::string number;
  int edition = 1;
  std::string kind, covers, customer, language, issued_at, issued_by, state, reason, sha256;
  std::string facts;  ///< `document/1`
};

/// A photograph of a piece; the picture itself is read apart.
struct PhotographRow {
  Id id = 0, specimen = 0;
  int stage = 0;
  std::string name, taken_by, taken_at;
  std::string caption;
  double pixels_per_mm = 0;  ///< 0: no scale is set
  QByteArray small;          ///< JPEG of a few kilobytes
};

/// A signature made with a key, of a piece's results or of a document.
struct KeySignature {
  Id id = 0;
  std::string subject;  ///< "signature/12", "document/3"
  std::string role;     ///< "tested", "released", "issued"
  std::string person, public_key, words, signature, at;
};

/// Who ordered a job, as its entry says.
struct OrderRow {
  std::string job, customer, order, project;
};

class Papers {
 public:
  explicit Papers(Book& book) : book_(&book), writer_(&book) {}
  explicit Papers(const Book& book) : book_(&book) {}

  /// Entries of a kind by name; what is gone is left out. Errors: a row that is not what was written.
  Outcome<std::vector<lab::Entry>> entries(std::string_view kind) const;
  /// One of them; an empty one of that name (id 0) when there is none.
  Outcome<lab::Entry> entry(std::string_view kind, const std::string& name) const;
  Outcome<lab::Entry> job(const std::string& code) const { return entry(lab::kJob, code); }
  Outcome<lab::Entry> letterhead() const { return entry(lab::kHead, std::string(lab::kLetterhead)); }
  /// Adds or changes one. Errors: those of lab::check(); the name is taken.
  Outcome<Id> save(const lab::Entry& entry);
  /// Takes one out of use; its row and its lines stay. Errors: a customer whom documents or jobs name, a person who
  /// signed, a template that jobs name.
  Outcome<Done> remove(const lab::Entry& entry);

  /// Demand sheets of the book, by name, and those that are shipped and not in it.
  Outcome<std::vector<lab::DemandSheet>> sheets() const;
  Outcome<Id> save(const lab::DemandSheet& sheet);
  Outcome<Done> remove(const lab::DemandSheet& sheet);
  /// The copy of the sheet that a series was given; nothing when it has none.
  Outcome<std::optional<lab::DemandSheet>> demand_of(Id series) const;
  /// Gives a sheet to a series: its copy stays there, and the limits go to every piece that is not signed, all or none.
  /// Says what could not be set.
  Outcome<std::vector<std::string>> choose(Id series, const lab::DemandSheet& sheet);

  /// The register, the oldest first.
  std::vector<DocumentRow> documents(Id job = 0) const;
  std::optional<DocumentRow> document(const std::string& number) const;
  /// The very bytes that were issued. Errors: they are not what was sealed.
  Outcome<QByteArray> bytes(const DocumentRow& document) const;
  /// What is made of a number while the book waits: the file and its facts.
  struct Made {
    QByteArray bytes;
    std::string facts;
  };
  using Make = std::function<Outcome<Made>(const std::string& number, int edition)>;
  /// Issues a document under the next number of the laboratory's pattern; with `replaced` in place of that one, for the
  /// reason. All or nothing: a document that could not be made leaves no gap. `row`: kind, job, covers, customer,
  /// language. Errors: the pattern; no reason; the other is not in force any more.
  Outcome<DocumentRow> issue(DocumentRow row, const Make& make, const std::string& replaced = {},
                             const std::string& reason = {});
  Outcome<Done> withdraw(const std::string& number, const std::string& reason);

  /// Series that were given a demand.
  std::set<Id> with_demand() const;
  /// Of all jobs at once, without asking whether each entry is as it was sealed.
  std::vector<OrderRow> orders() const;

  /// Photographs of a piece in the order in which they came, small; one whole.
  std::vector<PhotographRow> photographs(Id specimen) const;
  Outcome<QByteArray> picture(Id photograph) const;
  /// Errors: no bytes, more than 64 MB, no small picture.
  Outcome<Id> add(const PhotographRow& photograph, const QByteArray& bytes);
  /// Caption and scale.
  Outcome<Done> change(const PhotographRow& photograph, const std::string& what);
  Outcome<Done> remove(const PhotographRow& photograph);

  Outcome<Done> keep(const KeySignature& signature);
  /// The same within a change of the book that is under way.
  Outcome<Done> keep_within(const KeySignature& signature);
  std::vector<KeySignature> key_signatures(const std::string& subject = {}) const;
  /// What a signature of that subject is over: the hashes of a piece's results, that of a document.
  Outcome<std::vector<std::string>> hashes_of(const std::string& subject) const;
  /// Signatures of results that were made without a key.
  int without_key() const;

 private:
  Outcome<Book*> writer() const;
  Outcome<std::string> text_of(std::string_view kind, const std::string& name) const;
  Outcome<Id> put(std::string_view kind, Id id, const std::string& name, const std::string& json,
                  const std::string& what, const std::string& detail);
  Outcome<Done> set_gone(std::string_view kind, Id id, const std::string& what);

  const Book* book_;
  Book* writer_ = nullptr;
};

/// Customer of every job that names one, by the number of the job.
std::map<std::string, std::string> customers_of(const Book& book);

/// A series under its demand: the table of completeness over its pieces, in the order of the book.
struct SeriesCompleteness {
  SeriesRow series;
  lab::DemandSheet sheet;
  std::vector<std::string> codes;
  std::vector<Id> ids;
  lab::Completeness table;
};
/// Of all series of a job that have a demand. Every piece is evaluated: seconds for a large job.
Outcome<std::vector<SeriesCompleteness>> completeness_of(const Book& book, Id job);

}  // namespace fortitor
