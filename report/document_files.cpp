// A document as a file: the PDF with what it was made of inside, tables, JSON.
#include <cmath>

#include "core/bench/records.h"
#include "core/evaluation/evaluation_json.h"
#include "core/json/json.h"
#include "core/laboratory/editions.h"
#include "core/quantity/plain.h"
#include "report/archive.h"
#include "report/document.h"
#include "report/export.h"
#include "report/piece_parts.h"
#include "store/new_file.h"

namespace fortitor {
namespace {

// In the one unit of its column; `difference`: the zero of a temperature scale does not enter.
std::string in_unit(double value, Dimension d, UnitSet set, int figures, bool difference = false) {
  const Unit& unit = display_unit(d, set);
  return plain::general((value - (difference ? 0 : unit.offset)) / unit.factor, figures);
}

}  // namespace

Outcome<QByteArray> document_pdf(const Document& d, const page::Progress& progress) {
  const Tongue say(d.language);
  const std::string title = say("Test report") + " " + (d.number.empty() ? d.job.code : d.number);
  const auto pages = page::flow_pdf(document_parts(d), document_surround(d), title, progress);
  if (!pages) return pages.error();
  std::vector<Attachment> within = {
      {"document.json", "application/json", "document/1", QByteArray::fromStdString(document_json(d))}};
  for (const DocumentSeries& s : d.series)
    for (const DocumentPiece& p : s.pieces) {
      if (!p.tested()) continue;
      const Certificate& c = p.certificate;
      TestRecord plain = c.record;
      plain.run.drop_samples();
      within.push_back({p.row.code + ".record.json", "application/json", "record/1",
                        QByteArray::fromStdString(record_to_json(plain))});
      within.push_back({p.row.code + ".evaluation.json", "application/json", "evaluation/1",
                        QByteArray::fromStdString(evaluation_to_json(c.evaluation, c.record.fields))});
    }
  return archived(*pages,
                  {title, d.letterhead.text("laboratory"), d.covers_words(), std::string(language_code(d.language)),
                   d.made_at, "document " + (d.number.empty() ? "draft" : d.number) + ";"},
                  within);
}

std::string document_csv(const Document& d) {
  std::string out;
  for (const DocumentSeries& s : d.series) {
    std::string head = "series,piece,lot,heat,verdict", limits = csv_cell(s.row.title) + ",,,,";
    for (const std::string& key : s.keys) {
      const auto spec = s.method->result(key);
      const std::string unit = std::string(display_unit(spec->dimension, d.units).symbol);
      head += "," + csv_cell(key + (unit.empty() ? "" : " [" + unit + "]")) + "," + csv_cell(key + " U") + "," +
              csv_cell(key + " verdict");
    }
    out += head + "\n";
    for (const DocumentPiece& p : s.pieces) {
      const TestRecord& r = p.certificate.record;
      out += csv_cell(s.row.title) + "," + csv_cell(p.row.code) + "," + csv_cell(r.fields.text("specimen.lot")) + "," +
             csv_cell(r.fields.text("specimen.heat")) + "," +
             std::string(verdict_word(p.certificate.evaluation.verdict));
      for (const std::string& key : s.keys) {
        const ResultValue* v = p.certificate.evaluation.find(key);
        if (v == nullptr || v->is_text()) {
          out += ",,,";
          continue;
        }
        out +=
            "," +
            csv_cell((v->censored && v->censored->above ? "≥ " : "") +
                     in_unit(v->value, v->spec.dimension, d.units, 6)) +
            "," +
            (v->standard_uncertainty > 0 ? csv_cell(in_unit(v->expanded(), v->spec.dimension, d.units, 3, true)) : "") +
            "," + (v->verdict == Verdict::none ? "" : std::string(verdict_word(v->verdict)));
      }
      out += "\n";
    }
  }
  return out;
}

std::string document_json(const Document& d) {
  const auto entry = [](const lab::Entry& e) {
    Json j = Json::object();
    for (const FieldSpec& f : lab::schema(e.kind).fields)
      if (f.kind != FieldKind::picture && !f.brought && e.fields.has(f.path)) {
        const std::string key = f.path.substr(std::string("settings.").size());
        if (f.kind == FieldKind::flag)
          j[key] = e.fields.flag(f.path);
        else
          j[key] = e.fields.text(f.path);
      }
    return j;
  };
  Json j = {{"fortitor", "document/1"},
            {"number", d.number.empty() ? Json(nullptr) : Json(d.number)},
            {"edition", d.edition},
            {"covers", covers_word(d.covers)},
            {"of", d.covers_words()},
            {"language", language_code(d.language)},
            {"made_at", d.made_at},
            {"issued_by", d.issued_by.empty() ? Json(nullptr) : Json(d.issued_by)},
            {"replaces", d.replaces.empty() ? Json(nullptr) : Json(d.replaces)},
            {"reason", d.reason.empty() ? Json(nullptr) : Json(d.reason)},
            {"job", d.job.code},
            {"title", d.job.title},
            {"laboratory", entry(d.letterhead)},
            {"customer", entry(d.customer)},
            {"order", entry(d.paper)},
            {"series", Json::array()}};
  for (const DocumentSeries& s : d.series) {
    Json one = {{"title", s.row.title},
                {"method", s.method->id},
                {"standard", lab::with_editions(s.method->standard)},
                {"demand", s.demand ? Json(s.demand->title()) : Json(nullptr)},
                {"pieces", Json::array()}};
    for (const DocumentPiece& p : s.pieces) {
      const Evaluation& e = p.certificate.evaluation;
      Json piece = {
          {"specimen", p.row.code},
          {"tested_at", p.certificate.record.tested_at},
          {"operator", p.certificate.record.operator_name},
          {"verdict", p.tested() ? Json(verdict_word(e.verdict)) : Json(nullptr)},
          {"rule", e.rule},
          {"compared", e.compared},
          {"record_sha256", p.certificate.signature ? Json(p.certificate.signature->record_sha256) : Json(nullptr)},
          {"results", Json::array()},
          {"signatures", Json::array()}};
      for (const std::string& key : s.keys)
        if (const ResultValue* r = e.find(key); r != nullptr && !r->is_text() && std::isfinite(r->value))
          piece["results"].push_back(
              {{"key", key},
               {"value", r->value},
               {"unit", internal_symbol(r->spec.dimension)},
               {"expanded_uncertainty", r->standard_uncertainty > 0 ? Json(r->expanded()) : Json(nullptr)},
               {"k", r->coverage_factor()},
               {"reported", reported(*r, p.certificate.record.fields, UnitSet::si).text()},
               {"verdict", verdict_word(r->verdict)},
               {"near", r->near},
               {"probability", r->probability ? Json(*r->probability) : Json(nullptr)}});
      for (const SignedBy& by : p.signatures)
        piece["signatures"].push_back({{"role", by.role}, {"person", by.person}, {"at", by.at}, {"key", by.with_key}});
      one["pieces"].push_back(std::move(piece));
    }
    j["series"].push_back(std::move(one));
  }
  j["not_printed"] = d.refused;
  return j.dump(1);
}

Outcome<Done> write_document(const Document& d, const std::string& path, const page::Progress& progress) {
  if (path.ends_with(".csv")) return page::write_new(document_csv(d), path);
  if (path.ends_with(".json")) return page::write_new(document_json(d) + "\n", path);
  if (!path.ends_with(".pdf")) return page::write_new(document_html(d), path);
  const auto pdf = document_pdf(d, progress);
  if (!pdf) return pdf.error();
  return write_new_file(path, *pdf);
}

}  // namespace fortitor
