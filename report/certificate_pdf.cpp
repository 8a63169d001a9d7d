#include "core/evaluation/evaluation_json.h"
#include "core/methods/method.h"
#include "report/certificate_parts.h"
#include "report/page.h"

namespace fortitor {
namespace {

std::vector<page::Sheet> sheets_of(const std::vector<Certificate>& certificates) {
  std::vector<page::Sheet> out;
  for (const Certificate& c : certificates) {
    std::vector<Figure> figures;
    for (const Figure* f : figures_of(c)) figures.push_back(*f);
    out.push_back({certificate_body(c, std::vector<std::string>(figures.size(), page::kFigure)), figures, c.units, 0.36,
                   c.evaluation.specimen + " · " + c.record.job,
                   c.signature ? "record " + c.signature->record_sha256.substr(0, 16) : "draft, not signed"});
  }
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

namespace {

// One stored piece as a certificate, without what belongs to it.
Outcome<Certificate> stored(const Book& book, const SpecimenRow& row, TestRecord record, const std::string& title, UnitSet units) {
  if (const auto sound = book.check_signature(row.id); !sound) return InputError{row.code + ": " + sound.error().message, {}};
  Certificate c;
  c.record = std::move(record);
  c.evaluation = methods::evaluate(c.record);
  c.job_title = title;
  if (row.signed_off) {
    c.signature = book.signature(row.id);
    compare_with_signed(c.evaluation, book.signed_evaluation(row.id).value_or(""));
  }
  c.units = units;
  return c;
}

}  // namespace

Outcome<std::vector<Certificate>> parts_of(const Book& book, const TestRecord& record, UnitSet units) {
  std::vector<Certificate> out;
  const auto job = book.job_by_code(record.job);
  if (!job) return out;
  for (const FieldSpec& f : methods::find(record.method)->fields) {
    const std::string wanted = f.record_of.empty() ? std::string() : record.fields.text(f.path);
    if (wanted.empty()) continue;
    for (const SeriesRow& s : book.series(job->id)) {
      if (s.method != f.record_of) continue;
      for (const SpecimenRow& row : book.specimens(s.id)) {
        if (row.code != wanted) continue;
        auto part = book.record(row.id);
        if (!part) return InputError{row.code + ": " + part.error().message, {}};
        if (!part->has_run()) continue;
        auto c = stored(book, row, std::move(*part), job->title, units);
        if (!c) return c.error();
        out.push_back(std::move(*c));
      }
    }
  }
  return out;
}

Outcome<std::vector<Certificate>> certificates_of_job(const Book& book, const std::string& job_code, UnitSet units) {
  const auto job = book.job_by_code(job_code);
  if (!job) return InputError{"There is no job " + job_code + " in this book.", {}};
  std::vector<Certificate> out;
  for (const SeriesRow& s : book.series(job->id)) {
    for (const SpecimenRow& row : book.specimens(s.id)) {
      auto record = book.record(row.id);
      if (!record) return InputError{row.code + ": " + record.error().message, {}};
      if (!record->has_run()) {
        if (const auto sound = book.check_signature(row.id); !sound)
          return InputError{row.code + ": " + sound.error().message, {}};
        continue;
      }
      auto c = stored(book, row, std::move(*record), job->title, units);
      if (!c) return c.error();
      auto parts = parts_of(book, c->record, units);
      if (!parts) return parts.error();
      c->parts = std::move(*parts);
      c->head = book.head();
      out.push_back(std::move(*c));
    }
  }
  if (out.empty()) return InputError{"No specimen of job " + job_code + " has been run yet.", {}};
  return out;
}

}  // namespace fortitor
