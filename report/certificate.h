// The test certificate: one specimen, one page or two, from its record and evaluation.
#pragma once

#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "core/evaluation/evaluation.h"
#include "core/language/language.h"
#include "store/book.h"

class QTextDocument;

namespace fortitor {

struct Certificate {
  TestRecord record;
  Evaluation evaluation;
  std::string job_title;
  Id specimen = 0, version = 0;   ///< in the book; 0: from nowhere
  std::string signed_title = {};  ///< of the job when it was signed, where it is another now
  std::optional<SignOff> signature;
  ChainHead head;  ///< of the book's logbook when the certificate was made
  UnitSet units = UnitSet::si;
  Language language = Language::english;
  std::vector<Certificate> parts;  ///< other records of the same piece that belong to it (FieldSpec::record_of)
};

/// Records that the fields of `record` name: the impact of a plate that is compressed. Of the same job. Refused, with a
/// sentence, when what is stored of one is not what was written or signed; one that is not in the book is left out.
Outcome<std::vector<Certificate>> parts_of(const Book& book, const TestRecord& record, UnitSet units);

/// The sentence that stands on every certificate about local codes and licensed practice.
std::string practice_sentence();

/// A complete HTML document with the figures inside it.
std::string certificate_html(const std::vector<Certificate>& certificates);

/// What certificates rest on, for machines to read; check_certificate() finds it again in the HTML and the PDF.
std::string seals_of(const std::vector<Certificate>& certificates);
/// Holds a book against a certificate file: the head of the chain, every signature, and every word that is printed:
/// the pages are made again out of what is stored in the versions they name, and must read the same. Errors say what
/// differs; a file without seals, or with seals and without the pages, is no certificate of this program.
Outcome<Done> check_certificate(const Book& book, const std::string& path);

/// Writes the certificates as an A4 PDF with real text and vector figures. Refuses to write over a
/// file that is there.
Outcome<Done> certificate_pdf(const std::vector<Certificate>& certificates, const std::string& path,
                              const std::function<void(double)>& progress = {});

/// The same to a new file; the ending of the path (.pdf, else HTML) says as what.
Outcome<Done> write_certificates(const std::vector<Certificate>& certificates, const std::string& path,
                                 const std::function<void(double)>& progress = {});

/// The same pages as a document to be painted elsewhere (preview). Width in px at 96 dpi.
void fill_document(QTextDocument& document, const std::vector<Certificate>& certificates, double width);

/// Certificates of all specimens of a job that have been run, and a sentence for each that is not printed because what
/// is stored of it is not what was written or signed. Errors: no such job, nothing to print.
struct JobPages {
  std::vector<Certificate> pages;
  std::vector<std::string> refused;
};
Outcome<JobPages> certificates_of_job(const Book& book, const std::string& job_code, UnitSet units,
                                      const std::function<void(double)>& progress = {});
/// One stored piece as a certificate, without what belongs to it. Refused when what is stored is not what was signed.
Outcome<Certificate> stored_certificate(const Book& book, const SpecimenRow& row, UnitSet units);
/// The same of many, in their order; what comes of their records is worked out on all cores.
std::vector<Outcome<Certificate>> stored_certificates(const Book& book, const std::vector<SpecimenRow>& rows,
                                                      UnitSet units, const std::function<void(double)>& progress = {});
/// The certificate of a version of a piece as it was printed, signed or as a draft; without what belongs to it.
Outcome<Certificate> certificate_of_version(const Book& book, Id specimen, Id version, bool as_signed, UnitSet units);

}  // namespace fortitor
