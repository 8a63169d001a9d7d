#include "core/evaluation/evaluation_json.h"
#include "core/methods/method.h"
#include "core/parallel.h"
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
                   c.signature ? "record " + c.signature->record_sha256.substr(0, 16) : "draft, not signed",
                   c.language});
  }
  return out;
}

}  // namespace

void fill_document(QTextDocument& document, const std::vector<Certificate>& certificates, double width) {
  page::fill(document, sheets_of(certificates), width);
}

Outcome<Done> certificate_pdf(const std::vector<Certificate>& certificates, const std::string& path,
                              const std::function<void(double)>& progress) {
  return page::pdf(sheets_of(certificates), "Test certificate", path, seals_of(certificates), progress);
}

Outcome<Done> write_certificates(const std::vector<Certificate>& certificates, const std::string& path,
                                 const std::function<void(double)>& progress) {
  if (path.ends_with(".pdf")) return certificate_pdf(certificates, path, progress);
  return page::write_new(certificate_html(certificates), path);
}

namespace {

// What the book holds of a certificate. What comes of it wants no book: it is worked out wherever there are hands.
struct Stored {
  Certificate certificate;
  std::string signed_evaluation;
};

Outcome<Stored> read_version(const Book& book, Id specimen, Id version, bool as_signed, UnitSet units) {
  const auto row = book.specimen(specimen);
  if (!row) return InputError{"A piece that is printed there is not in the book.", {}};
  auto record = book.record_at(specimen, version);
  if (!record) return InputError{row->code + ": " + record.error().message, {}};
  Stored out;
  Certificate& c = out.certificate;
  c.record = std::move(*record);
  c.job_title = book.job_of(specimen).title;
  c.specimen = specimen;
  c.version = version;
  c.units = units;
  if (!as_signed) return out;
  c.signature = book.signature(specimen, version);
  if (!c.signature) return InputError{row->code + ": version " + std::to_string(version) + " was never signed.", {}};
  out.signed_evaluation = book.signed_evaluation(specimen, version).value_or("");
  if (const auto title = book.title_when_signed(specimen, version); title && *title != c.job_title)
    c.signed_title = *title;
  return out;
}

Outcome<Stored> read_newest(const Book& book, const SpecimenRow& row, UnitSet units) {
  if (const auto sound = book.check_signature(row.id); !sound)
    return InputError{row.code + ": " + sound.error().message, {}};
  return read_version(book, row.id, book.record_version(row.id), row.signed_off, units);
}

Certificate judged(Stored stored) {
  Certificate& c = stored.certificate;
  c.evaluation = methods::evaluate(c.record);
  if (c.signature) compare_with_signed(c.evaluation, stored.signed_evaluation);
  return std::move(c);
}

}  // namespace

Outcome<Certificate> certificate_of_version(const Book& book, Id specimen, Id version, bool as_signed, UnitSet units) {
  auto stored = read_version(book, specimen, version, as_signed, units);
  if (!stored) return stored.error();
  return judged(std::move(*stored));
}

Outcome<Certificate> stored_certificate(const Book& book, const SpecimenRow& row, UnitSet units) {
  auto stored = read_newest(book, row, units);
  if (!stored) return stored.error();
  return judged(std::move(*stored));
}

std::vector<Outcome<Certificate>> stored_certificates(const Book& book, const std::vector<SpecimenRow>& rows,
                                                      UnitSet units, const std::function<void(double)>& progress) {
  Crew crew;
  struct Coming {
    std::optional<InputError> refused;
    std::future<Certificate> made;
  };
  std::vector<Coming> coming;
  for (const SpecimenRow& row : rows) {
    auto stored = read_newest(book, row, units);
    if (!stored) {
      coming.push_back({stored.error(), {}});
      continue;
    }
    const auto held = std::make_shared<Stored>(std::move(*stored));
    coming.push_back({std::nullopt, crew.start([held] { return judged(std::move(*held)); })});
  }
  std::vector<Outcome<Certificate>> out;
  for (Coming& c : coming) {
    if (progress) progress(double(out.size()) / double(rows.size()));
    if (c.refused)
      out.emplace_back(*c.refused);
    else
      out.emplace_back(c.made.get());
  }
  return out;
}

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
        auto c = stored_certificate(book, row, units);
        if (!c) return c.error();
        if (c->record.has_run()) out.push_back(std::move(*c));
      }
    }
  }
  return out;
}

Outcome<JobPages> certificates_of_job(const Book& book, const std::string& job_code, UnitSet units,
                                      const std::function<void(double)>& progress) {
  const auto job = book.job_by_code(job_code);
  if (!job) return InputError{"There is no job " + job_code + " in this book.", {}};
  if (const auto sound = book.check_job(job->id); !sound)
    return InputError{job_code + ": " + sound.error().message, {}};
  JobPages out;
  const ChainHead head = book.head();
  std::vector<SpecimenRow> all;
  for (const SeriesRow& s : book.series(job->id))
    for (SpecimenRow& row : book.specimens(s.id)) all.push_back(std::move(row));
  for (auto& c : stored_certificates(book, all, units, progress)) {
    if (c && !c->record.has_run()) continue;
    auto parts = c ? parts_of(book, c->record, units) : Outcome<std::vector<Certificate>>(c.error());
    if (!parts) {  // one bad piece never stops the others
      out.refused.push_back(parts.error().message);
      continue;
    }
    c->parts = std::move(*parts);
    c->head = head;
    out.pages.push_back(std::move(*c));
  }
  if (out.pages.empty())
    return InputError{
        out.refused.empty() ? "No specimen of job " + job_code + " has been run yet." : out.refused.front(), {}};
  return out;
}

}  // namespace fortitor
