#include "core/evaluation/evaluation_json.h"
#include "core/methods/method.h"
#include "report/certificate_parts.h"
#include "report/page.h"

namespace fortitor {
namespace {

std::vector<page::Sheet> sheets_of(const std::vector<Certificate>& certificates) {
  std::vector<page::Sheet> out;
  for (const Certificate& c : certificates)
    out.push_back({certificate_body(c, page::kFigure),
                   c.evaluation.figures.empty() ? Figure{} : c.evaluation.figures.front(), c.units, 0.36,
                   c.evaluation.specimen + " · " + c.record.job,
                   c.signature ? "record " + c.signature->record_sha256.substr(0, 16) : "draft, not signed"});
  return out;
}

}  // namespace

void fill_document(QTextDocument& document, const std::vector<Certificate>& certificates, double width) {
  page::fill(document, sheets_of(certificates), width);
}

Outcome<Done> certificate_pdf(const std::vector<Certificate>& certificates, const std::string& path) {
  return page::pdf(sheets_of(certificates), "Test certificate", path, seals_of(certificates));
}

Outcome<Done> write_certificates(const std::vector<Certificate>& certificates, const std::string& path) {
  if (path.ends_with(".pdf")) return certificate_pdf(certificates, path);
  return page::write_new(certificate_html(certificates), path);
}

Outcome<std::vector<Certificate>> certificates_of_job(const Book& book, const std::string& job_code, UnitSet units) {
  const auto job = book.job_by_code(job_code);
  if (!job) return InputError{"There is no job " + job_code + " in this book.", {}};
  std::vector<Certificate> out;
  for (const SeriesRow& s : book.series(job->id)) {
    for (const SpecimenRow& row : book.specimens(s.id)) {
      auto record = book.record(row.id);
      if (!record) return InputError{row.code + ": " + record.error().message, {}};
      if (const auto sound = book.check_signature(row.id); !sound)
        return InputError{row.code + ": " + sound.error().message, {}};
      if (!record->has_run()) continue;
      Certificate c;
      c.record = *record;
      c.evaluation = methods::evaluate(c.record);
      c.job_title = job->title;
      if (row.signed_off) {
        c.signature = book.signature(row.id);
        compare_with_signed(c.evaluation, book.signed_evaluation(row.id).value_or(""));
      }
      c.head = book.head();
      c.units = units;
      out.push_back(std::move(c));
    }
  }
  if (out.empty()) return InputError{"No specimen of job " + job_code + " has been run yet.", {}};
  return out;
}

}  // namespace fortitor
