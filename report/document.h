// Documents: what a laboratory issues of a job, a series or a piece, in the customer's language.
#pragma once

#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "core/laboratory/demands.h"
#include "core/laboratory/entry.h"
#include "report/certificate.h"
#include "report/flow.h"
#include "report/series_report.h"
#include "store/papers.h"
#include "store/signing.h"

namespace fortitor {

/// What is asked for.
struct DocumentRequest {
  std::string job;                                                        ///< its code
  enum class Covers { job, series, piece, pieces } covers = Covers::job;  ///< pieces: each on pages of its own
  Id what = 0;                                                            ///< the series or the piece
  std::optional<Language> language = {};                                  ///< else the job's, the customer's, English
  std::optional<std::string> layout = {};  ///< name of a template; else the job's, the customer's, none
  std::optional<UnitSet> units = {};       ///< else the template's, SI
};
std::string_view covers_word(DocumentRequest::Covers covers);

struct DocumentPiece {
  Certificate certificate;
  SpecimenRow row;
  std::vector<SignedBy> signatures;
  std::vector<PhotographRow> photographs;
  std::vector<QByteArray> pictures;  ///< of each photograph, fit for paper
  bool tested() const { return certificate.record.has_run(); }
};

struct DocumentSeries {
  SeriesRow row;
  const Method* method = nullptr;
  std::optional<lab::DemandSheet> demand;
  std::optional<lab::Completeness> completeness;
  std::vector<DocumentPiece> pieces;
  std::optional<SeriesReport> report;  ///< of three pieces and more
  std::vector<std::string> keys;       ///< results in the table of the first page
};

/// Everything that a document prints, out of the book.
struct Document {
  JobRow job;
  lab::Entry paper, customer, letterhead, layout;
  DocumentRequest::Covers covers = DocumentRequest::Covers::job;
  Language language = Language::english;
  UnitSet units = UnitSet::si;
  std::vector<DocumentSeries> series;
  std::vector<std::string> refused;  ///< pieces that are not printed, and why
  ChainHead head;
  std::string made_at;  ///< when it was put together
  /// Of an issued one; an empty number is a draft.
  std::string number, issued_by, replaces, reason;
  int edition = 1;

  std::string covers_words() const;
  /// What the list of ISO/IEC 17025 wants and nobody entered yet.
  std::vector<lab::Missing> missing() const { return lab::missing_for_document(paper, letterhead); }
  bool has_part(const std::string& part) const;
  /// Parts behind the first page, as the template names them; without one: series, photographs, pieces, equipment.
  std::vector<std::string> parts() const;
  /// Figures of a piece that are printed, in their order: those that the template names, else the first one and what
  /// belongs beside it.
  std::vector<const Figure*> figures_of(const Evaluation& evaluation) const;
};

/// Puts a document together. Errors: no such job, series, piece or template; nothing of it was tested.
Outcome<Document> collect(const Book& book, const DocumentRequest& request, const page::Progress& progress = {});

/// Its pages, the first with everything, then series, pieces and equipment as the template wants them.
std::vector<page::Part> document_parts(const Document& document);
page::Surround document_surround(const Document& document);

/// PDF/A with records, evaluations and `document/1` inside.
Outcome<QByteArray> document_pdf(const Document& document, const page::Progress& progress = {});
std::string document_html(const Document& document);
/// The table of the first page: a line a piece, a column a result.
std::string document_csv(const Document& document);
/// `document/1`: what stands on the first page as data.
std::string document_json(const Document& document);
/// To a new file by the ending of its name: .pdf, .html, .csv, .json.
Outcome<Done> write_document(const Document& document, const std::string& path, const page::Progress& progress = {});

/// Issues it under the next number; with a hand that is signed with a key too. `replaced`: number of the one that it
/// takes the place of, for the reason. Errors: pieces that are not signed; a second signature that the job wants and
/// that is missing; what Papers::issue() refuses.
Outcome<DocumentRow> issue_document(Book& book, const DocumentRequest& request, const std::optional<Hand>& hand = {},
                                    const std::string& replaced = {}, const std::string& reason = {},
                                    const page::Progress& progress = {});

}  // namespace fortitor
