#include "app/demo/demo_papers.h"

#include <QBuffer>
#include <QImage>
#include <QPainter>
#include <QRandomGenerator>

#include "app/photographs/photographs.h"
#include "app/sketches/sketch.h"
#include "core/evaluation/evaluation_json.h"
#include "core/json/json.h"
#include "core/methods/method.h"
#include "core/quantity/date.h"
#include "report/document.h"
#include "store/keys.h"

namespace fortitor {
namespace {

Outcome<Done> add_entry(Papers& papers, std::string_view kind, const std::string& name, const Json& fields,
                        const std::string& today) {
  lab::Entry e = lab::entry_of(kind, name);
  for (const auto& [key, value] : fields.items()) {
    const std::string path = "settings." + key;
    const FieldSpec* field = lab::schema(kind).field(path);
    if (field == nullptr) return InputError{"there is no field " + path, {}};
    if (value.is_boolean()) {
      e.fields.set(path, value.get<bool>());
      continue;
    }
    std::string text = value.get<std::string>();
    if (field->kind == FieldKind::date) {
      const auto day = parse_day(text, today, field->sense);
      if (!day) return day.error();
      text = *day;
    }
    e.fields.set(path, text);
  }
  const auto kept = papers.save(e);
  if (!kept) return kept.error();
  return Done{};
}

Id piece_of(const Book& book, const std::string& job, const std::string& code) {
  if (const auto row = book.job_by_code(job))
    for (const SeriesRow& s : book.series(row->id))
      for (const SpecimenRow& p : book.specimens(s.id))
        if (p.code == code) return p.id;
  return 0;
}

// The stand-in's own picture of what became of the piece, with the grain of a photograph.
QImage fracture(const TestRecord& record) {
  const Method& m = *methods::find(record.method);
  const auto sketch = make_sketch(m.after_sketch.empty() ? m.measure_sketch : m.after_sketch);
  QImage image(1600, 1000, QImage::Format_RGB32);
  image.fill(QColor("#3A3733"));
  QPainter p(&image);
  p.setRenderHint(QPainter::Antialiasing);
  QLinearGradient light(0, 0, 1600, 1000);
  light.setColorAt(0, QColor("#E9E3D4"));
  light.setColorAt(1, QColor("#A9A294"));
  p.fillRect(QRect(60, 60, 1480, 880), light);
  if (sketch != nullptr) {
    p.save();
    p.translate(100, 100);
    p.scale(2, 2);
    SketchState state{.record = record, .focus = {}};
    sketch->paint(p, QRectF(0, 0, 700, 400), state);
    p.restore();
  }
  QRandomGenerator grain(7);
  for (int i = 0; i < 9000; ++i) {
    p.setPen(QColor(0, 0, 0, int(grain.bounded(28))));
    p.drawPoint(int(grain.bounded(1600)), int(grain.bounded(1000)));
  }
  return image;
}

Outcome<Done> add_photograph(Book& book, const Json& j) {
  const Id piece = piece_of(book, j.at("job").get<std::string>(), j.at("piece").get<std::string>());
  const auto record = book.record(piece);
  if (!record) return record.error();
  const auto taken = take_picture(fracture(*record));
  if (!taken) return taken.error();
  PhotographRow row;
  row.specimen = piece;
  row.stage = int(Stage::after);
  row.name = j.at("piece").get<std::string>() + ".jpg";
  row.caption = j.at("caption").get<std::string>();
  row.small = taken->small;
  const auto kept = Papers(book).add(row, taken->bytes);
  if (!kept) return kept.error();
  return Done{};
}

// Two people sign: who tested and who releases. Their keys are made for it and end with it: the demo asks nobody for a
// passphrase.
Outcome<Done> sign_and_release(Book& book, const Json& j, const std::vector<std::string>& people) {
  const std::string passphrase = "a demo signs once";
  Papers papers(book);
  std::vector<Hand> hands;
  for (const std::string& name : people) {
    const auto pair = keys::make(passphrase);
    if (!pair) return pair.error();
    auto person = papers.entry(lab::kPerson, name);
    if (!person) return person.error();
    if (const auto given = keys::publish(papers, *person, pair->public_key, book.clock()); !given) return given;
    hands.push_back({name, pair->pem, passphrase});
  }
  for (const Json& code : j.at("pieces")) {
    const Id id = piece_of(book, j.at("job").get<std::string>(), code.get<std::string>());
    const auto record = book.record(id);
    if (!record) return record.error();
    const Evaluation e = methods::evaluate(*record);
    const std::string verdict(verdict_word(e.verdict));
    if (const auto done = sign_results(book, id, book.record_version(id), evaluation_to_json(e, record->fields, -1),
                                       verdict, hands.front());
        !done)
      return done;
    if (const auto done = release_results(book, id, hands.back()); !done) return done;
    if (const auto done = book.set_summary(id, {"2222222", verdict, 0}); !done) return done;
  }
  DocumentRequest request;
  request.job = j.at("job").get<std::string>();
  if (j.value("covers", "") == "piece") {
    request.covers = DocumentRequest::Covers::piece;
    request.what = piece_of(book, request.job, j.at("pieces")[0].get<std::string>());
  }
  const auto issued = issue_document(book, request, hands.back());
  if (!issued) return issued.error();
  for (const std::string& name : people) {
    const auto person = papers.entry(lab::kPerson, name);
    if (!person) return person.error();
    if (const auto taken = keys::take_away(papers, *person, book.clock()); !taken) return taken;
  }
  return Done{};
}

// On another day of the year a calibration may have ended and a piece of the demo waits for a word: then its documents
// wait too.
bool can_be(const Book& book, const Json& j) {
  const Papers papers(book);
  for (const char* number : {"withdraw", "replaces"})
    if (j.contains(number) && !papers.document(j[number].get<std::string>())) return false;
  for (const Json& code : j.value("pieces", Json::array())) {
    const auto row = book.specimen(piece_of(book, j.at("job").get<std::string>(), code.get<std::string>()));
    if (!row || !row->signed_off) return false;
  }
  return true;
}

Outcome<Done> add_document(Book& book, const Json& j) {
  if (!can_be(book, j)) return Done{};
  if (j.contains("withdraw"))
    return Papers(book).withdraw(j["withdraw"].get<std::string>(), j.at("because").get<std::string>());
  if (j.contains("released_by")) return sign_and_release(book, j, j["released_by"].get<std::vector<std::string>>());
  DocumentRequest request;
  request.job = j.at("job").get<std::string>();
  request.covers = DocumentRequest::Covers::piece;
  request.what = piece_of(book, request.job, j.at("pieces")[0].get<std::string>());
  if (const auto language = language_of(j.value("language", ""))) request.language = *language;
  const auto issued = issue_document(book, request, {}, j.value("replaces", ""), j.value("because", ""));
  if (!issued) return issued.error();
  return Done{};
}

}  // namespace

Outcome<Done> fill_demo_papers(Book& book, const Json& recipe) {
  Papers papers(book);
  const std::string today = book.clock().day();
  if (recipe.contains("laboratory"))
    if (const auto kept = add_entry(papers, lab::kHead, std::string(lab::kLetterhead), recipe["laboratory"], today);
        !kept)
      return kept;
  for (const auto& [list, kind] :
       {std::pair("customers", lab::kCustomer), {"people", lab::kPerson}, {"templates", lab::kTemplate}})
    for (const Json& j : recipe.value(list, Json::array()))
      if (const auto kept = add_entry(papers, kind, j.at("name").get<std::string>(), j, today); !kept) return kept;
  if (recipe.contains("demands")) {
    const auto sheets = lab::demands_from_json(Json{{"fortitor", "demands/1"}, {"sheets", recipe["demands"]}}.dump());
    if (!sheets) return sheets.error();
    for (const lab::DemandSheet& s : *sheets)
      if (const auto kept = papers.save(s); !kept) return kept.error();
  }
  for (const Json& job : recipe.at("jobs")) {
    const std::string code = job.at("code").get<std::string>();
    if (job.contains("paper"))
      if (const auto kept = add_entry(papers, lab::kJob, code, job["paper"], today); !kept) return kept;
    const auto row = book.job_by_code(code);
    const auto sheets = papers.sheets();
    if (!sheets) return sheets.error();
    for (const Json& series : job.at("series"))
      for (const SeriesRow& s : book.series(row->id))
        for (const lab::DemandSheet& sheet : *sheets)
          if (s.title == series.at("title").get<std::string>() && sheet.name == series.value("demand", ""))
            if (const auto chosen = papers.choose(s.id, sheet); !chosen) return chosen.error();
  }
  for (const Json& j : recipe.value("photographs", Json::array()))
    if (const auto kept = add_photograph(book, j); !kept) return kept;
  for (const Json& j : recipe.value("documents", Json::array()))
    if (const auto done = add_document(book, j); !done) return InputError{"demo document: " + done.error().message, {}};
  return Done{};
}

}  // namespace fortitor
