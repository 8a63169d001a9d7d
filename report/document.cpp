#include "report/document.h"

#include <QBuffer>
#include <QDateTime>
#include <QImage>
#include <QPainter>
#include <algorithm>

#include "core/bench/records.h"
#include "core/evaluation/evaluation_json.h"
#include "core/laboratory/editions.h"
#include "core/practice/practice.h"
#include "core/quantity/plain.h"
#include "core/series/series.h"
#include "report/archive.h"
#include "report/export.h"
#include "report/piece_parts.h"
#include "store/new_file.h"

namespace fortitor {
namespace {

constexpr int kSharpest = 1100;     // px: half a page wide at 300 dpi
constexpr size_t kForSeries = 3;    // pieces from which statistics say something
constexpr size_t kMostColumns = 6;  // of results beside the name of the piece

// A bar of a round length in the corner, where a scale is set.
void draw_scale(QImage& image, double pixels_per_mm) {
  double length = 1000;  // mm
  for (const double round : {500.0, 200.0, 100.0, 50.0, 20.0, 10.0, 5.0, 2.0, 1.0, 0.5, 0.2, 0.1, 0.05, 0.02, 0.01})
    if (length * pixels_per_mm > image.width() / 3.0) length = round;
  QPainter p(&image);
  const double u = image.width() / 300.0, long_px = length * pixels_per_mm;
  const QRectF box(6 * u, image.height() - 20 * u, long_px + 8 * u, 16 * u);
  p.fillRect(box, QColor(255, 255, 255, 215));
  p.setPen(QPen(Qt::black, 1.6 * u));
  p.drawLine(QPointF(box.left() + 4 * u, box.bottom() - 4 * u),
             QPointF(box.left() + 4 * u + long_px, box.bottom() - 4 * u));
  QFont font("Inter");
  font.setPixelSize(int(9 * u));
  p.setFont(font);
  p.drawText(box.adjusted(0, 0, 0, -5 * u), Qt::AlignCenter, QString::fromStdString(plain::shortest(length)) + " mm");
}

// A photograph as paper wants it: no more dots than are seen, without what the camera says of its owner.
QByteArray for_paper(const QByteArray& whole, double pixels_per_mm) {
  QImage image = QImage::fromData(whole);
  if (image.isNull()) return {};
  const double before = image.width();
  if (std::max(image.width(), image.height()) > kSharpest)
    image = image.scaled(kSharpest, kSharpest, Qt::KeepAspectRatio, Qt::SmoothTransformation);
  image = image.convertToFormat(QImage::Format_RGB32);
  if (pixels_per_mm > 0) draw_scale(image, pixels_per_mm * image.width() / before);
  QByteArray out;
  QBuffer buffer(&out);
  buffer.open(QIODevice::WriteOnly);
  image.save(&buffer, "JPEG", 86);
  return out;
}

// Results of the table: those the template names, else those that are demanded, else the main ones.
std::vector<std::string> columns_of(const DocumentSeries& s, const lab::Entry& layout) {
  std::vector<std::string> out;
  const auto add = [&](const std::string& key) {
    if (out.size() < 2 * kMostColumns && std::find(out.begin(), out.end(), key) == out.end()) out.push_back(key);
  };
  for (const std::string& key : words_of(layout.text("results"))) {
    std::string plain_key;
    for (char c : key)
      if (c != ' ') plain_key += c;
    if (s.method->result(plain_key)) add(plain_key);
  }
  if (!out.empty()) return out;
  const auto each = [&](const auto& wanted) {
    for (const DocumentPiece& p : s.pieces)
      for (const ResultValue& r : p.certificate.evaluation.results)
        if (!r.is_text() && wanted(r)) add(r.spec.key);
  };
  if (s.demand)
    for (const lab::DemandRow& row : s.demand->rows)
      if (row.method == s.method->id) add(row.key);
  each([](const ResultValue& r) { return r.verdict != Verdict::none || r.limit.min || r.limit.max; });
  if (out.empty()) each([](const ResultValue& r) { return r.spec.headline; });
  return out;
}

Outcome<lab::Entry> named(const Papers& papers, std::string_view kind, const std::string& name) {
  if (name.empty()) return lab::entry_of(kind, "");
  return papers.entry(kind, name);
}

}  // namespace

std::string_view covers_word(DocumentRequest::Covers covers) {
  switch (covers) {
    case DocumentRequest::Covers::series: return "series";
    case DocumentRequest::Covers::piece: return "piece";
    case DocumentRequest::Covers::pieces: return "pieces";
    case DocumentRequest::Covers::job: break;
  }
  return "job";
}

std::string Document::covers_words() const {
  if (covers == DocumentRequest::Covers::job || covers == DocumentRequest::Covers::pieces || series.empty())
    return job.code;
  if (covers == DocumentRequest::Covers::series) return job.code + " · " + series.front().row.title;
  return job.code + " · " + (series.front().pieces.empty() ? "" : series.front().pieces.front().row.code);
}

std::vector<std::string> Document::parts() const {
  if (!layout.fields.has("settings.parts")) return {"series", "photographs", "pieces", "equipment"};
  std::vector<std::string> once;  // a part that was named twice is printed where it was named first
  for (const std::string& part : words_of(layout.text("parts")))
    if (std::find(once.begin(), once.end(), part) == once.end()) once.push_back(part);
  return once;
}

bool Document::has_part(const std::string& part) const {
  const auto all = parts();
  return std::find(all.begin(), all.end(), part) != all.end();
}

std::vector<const Figure*> Document::figures_of(const Evaluation& e) const {
  std::vector<const Figure*> out;
  const auto named = words_of(layout.text("figures"));
  for (std::string name : named) {
    name.erase(0, name.find_first_not_of(' '));
    name.erase(name.find_last_not_of(' ') + 1);
    for (const Figure& f : e.figures)
      if (f.id == name || f.title == name) out.push_back(&f);
  }
  if (!named.empty()) return out;
  for (size_t i = 0; i < e.figures.size(); ++i)
    if (i == 0 || e.figures[i].printed) out.push_back(&e.figures[i]);
  return out;
}

Outcome<Document> collect(const Book& book, const DocumentRequest& request, const page::Progress& progress) {
  using Covers = DocumentRequest::Covers;
  const auto job = book.job_by_code(request.job);
  if (!job) return InputError{"There is no job " + request.job + " in this book.", {}};
  if (const auto sound = book.check_job(job->id); !sound)
    return InputError{request.job + ": " + sound.error().message, {}};
  const Papers papers(book);
  Document d;
  d.job = *job;
  d.covers = request.covers;
  d.head = book.head();
  d.made_at = book.clock().utc();
  const auto paper = papers.job(job->code);
  const auto head = papers.letterhead();
  if (!paper) return paper.error();
  if (!head) return head.error();
  d.paper = *paper;
  d.letterhead = *head;
  const auto customer = named(papers, lab::kCustomer, d.paper.text("customer"));
  if (!customer) return customer.error();
  d.customer = *customer;
  if (d.customer.id == 0 && !d.paper.text("customer").empty())
    d.customer.fields.set("settings.name", d.paper.text("customer"));
  std::string layout = request.layout.value_or(d.paper.text("template"));
  if (layout.empty() && !request.layout) layout = d.customer.text("template");
  const auto chosen = named(papers, lab::kTemplate, layout);
  if (!chosen) return chosen.error();
  if (!layout.empty() && chosen->id == 0) return InputError{"There is no template “" + layout + "” in this book.", {}};
  d.layout = *chosen;
  std::string language;
  for (const lab::Entry* from : {&d.layout, &d.customer, &d.paper})
    if (const std::string code = from->text("language"); !code.empty()) language = code;
  d.language = request.language.value_or(language_of(language).value_or(Language::english));
  const std::string units = d.layout.text("units");
  d.units = request.units.value_or(units == "us" ? UnitSet::us : units == "kgf" ? UnitSet::kgf : UnitSet::si);
  double done = 0, all = 0;
  bool found = request.covers == Covers::job || request.covers == Covers::pieces, tested = false;
  for (const SeriesRow& s : book.series(job->id)) all += double(book.specimens(s.id).size());
  for (const SeriesRow& s : book.series(job->id)) {
    if (request.covers == Covers::series && s.id != request.what) continue;
    DocumentSeries one;
    one.row = s;
    one.method = methods::find(s.method);
    if (one.method == nullptr) continue;
    if (auto demand = papers.demand_of(s.id); demand)
      one.demand = std::move(*demand);
    else
      return demand.error();
    std::vector<SpecimenRow> rows = book.specimens(s.id);
    if (request.covers == Covers::piece)
      std::erase_if(rows, [&](const SpecimenRow& r) { return r.id != request.what; });
    found = found || !rows.empty();
    auto certificates = stored_certificates(book, rows, d.units, [&](double share) {
      if (progress) progress((done + share * double(rows.size())) / std::max(1.0, all));
    });
    done += double(rows.size());
    for (size_t i = 0; i < rows.size(); ++i) {
      const SpecimenRow& row = rows[i];
      auto& c = certificates[i];
      if (!c) {  // one bad piece never stops the others
        d.refused.push_back(c.error().message);
        continue;
      }
      if (practice::is_practice(c->record)) continue;
      c->language = d.language;
      DocumentPiece piece{std::move(*c), row, signed_by(book, row.id), {}, {}};
      if (d.has_part("photographs"))
        for (PhotographRow& p : papers.photographs(row.id)) {
          const auto whole = papers.picture(p.id);
          if (!whole) return whole.error();
          piece.pictures.push_back(for_paper(*whole, p.pixels_per_mm));
          piece.photographs.push_back(std::move(p));
        }
      tested = tested || piece.tested();
      one.pieces.push_back(std::move(piece));
    }
    if (one.pieces.empty()) continue;
    one.keys = columns_of(one, d.layout);
    std::vector<SeriesPiece> pieces;
    std::vector<lab::DemandPiece> wanted;
    for (const DocumentPiece& p : one.pieces) {
      wanted.push_back({p.row.id, p.row.code, &p.certificate.record, p.tested() ? &p.certificate.evaluation : nullptr});
      if (p.tested()) pieces.push_back({&p.certificate.record, &p.certificate.evaluation});
    }
    if (one.demand) one.completeness = lab::completeness(*one.demand, wanted);
    if (request.covers != Covers::piece && request.covers != Covers::pieces && pieces.size() >= kForSeries &&
        d.has_part("series")) {
      const auto settings = book.series_record(s.id);
      if (!settings) return settings.error();
      SeriesReport report;
      report.method = one.method;
      report.job = job->code;
      report.title = s.title;
      report.key = series_key(*one.method, *settings, pieces);
      report.settings = *settings;
      report.judged = series_evaluate(*one.method, pieces, *settings);
      report.units = d.units;
      one.report = std::move(report);
    }
    d.series.push_back(std::move(one));
  }
  if (!found) return InputError{"That is not a part of job " + request.job + ".", {}};
  if (!tested)
    return InputError{
        d.refused.empty() ? "No specimen of job " + request.job + " has been run yet." : d.refused.front(), {}};
  return d;
}

Outcome<DocumentRow> issue_document(Book& book, const DocumentRequest& request, const std::optional<Hand>& hand,
                                    const std::string& replaced, const std::string& reason,
                                    const page::Progress& progress) {
  Papers papers(book);
  const std::string who = hand ? hand->person : book.operator_name();
  if (const auto allowed = may(papers, who, "signs"); !allowed) return allowed.error();
  const auto keyed = signs_with_key(papers, who);
  if (!keyed) return keyed.error();
  if (*keyed && !hand) return InputError{"Not issued: " + who + "'s passphrase is asked for.", {}};
  if (hand)
    if (const auto opened = opens(papers, *hand); !opened) return opened.error();
  auto document = collect(book, request, progress);
  if (!document) return document.error();
  if (!document->refused.empty()) return InputError{"Not issued: " + document->refused.front(), {}};
  for (const DocumentSeries& s : document->series)
    for (const DocumentPiece& p : s.pieces) {
      if (!p.tested()) continue;
      if (!p.certificate.signature) return InputError{"Not issued: " + p.row.code + " is tested and not signed.", {}};
      const bool released = std::any_of(p.signatures.begin(), p.signatures.end(),
                                        [](const SignedBy& by) { return by.role == "released"; });
      if (document->paper.flag("released") && !released)
        return InputError{"Not issued: the job wants a second signature, and " + p.row.code + " is not released.", {}};
    }
  DocumentRow row;
  row.job = document->job.id;
  row.kind = covers_word(document->covers);
  row.covers = document->covers_words();
  row.customer = document->paper.text("customer");
  row.language = language_code(document->language);
  document->issued_by = row.issued_by = who;
  document->replaces = replaced;
  document->reason = replaced.empty() ? "" : reason;
  const auto issued = papers.issue(
      row,
      [&](const std::string& number, int edition) -> Outcome<Papers::Made> {
        document->number = number;
        document->edition = edition;
        auto pdf = document_pdf(*document, progress);
        if (!pdf) return pdf.error();
        return Papers::Made{std::move(*pdf), document_json(*document)};
      },
      replaced, reason);
  if (!issued) return issued.error();
  if (hand)
    if (const auto kept = sign_document(book, *issued, *hand); !kept) return kept.error();
  return issued;
}

}  // namespace fortitor
