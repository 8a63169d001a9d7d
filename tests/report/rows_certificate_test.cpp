// Certificates of every kind of record: rows as typed, bounds, settings of the method, what was not answered.
#include <gtest/gtest.h>

#include <QTextDocument>

#include "core/methods/method.h"
#include "core/standin/benches.h"
#include "report/certificate.h"

namespace fortitor::rows_certificate_test {
namespace {

Certificate of(TestRecord r) {
  Certificate c;
  c.record = std::move(r);
  c.evaluation = methods::evaluate(c.record);
  c.job_title = "Rows";
  return c;
}

Certificate simulated(const char* method, const char* piece = "", const char* fault = nullptr) {
  standin::SimulateOptions o;
  o.seed = 7;
  o.piece = piece;
  if (fault != nullptr) o.faults = {fault};
  TestRecord r = standin::find_bench(methods::find(method)->standin)->simulate(o);
  r.method = method;
  return of(std::move(r));
}

bool has(const std::string& html, const std::string& words) {
  return html.find(words) != std::string::npos;
}

TEST(RowsCertificate, StopsArePrintedAsTypedWithTheirNames) {
  const Certificate c = simulated("flexure-beam", "ash");
  const std::string html = certificate_html({c});
  EXPECT_TRUE(has(html, "Stops as read"));
  EXPECT_TRUE(has(html, ">load<")) << "the control has its name over its column";
  EXPECT_TRUE(has(html, ">" + methods::find("flexure-beam")->keyed_table()->column("deflection")->label + "<"));
  const Rows& rows = c.record.run.rows("stations");
  for (size_t i : {size_t(0), rows.size() / 2, rows.size() - 1})
    EXPECT_TRUE(has(html, rows[i].reading("deflection")->typed)) << rows[i].reading("deflection")->typed;
  EXPECT_TRUE(has(html, "Break"));
}

TEST(RowsCertificate, ReadingsOfATallyCountFromOne) {
  const Certificate c = simulated("density");
  const std::string html = certificate_html({c});
  EXPECT_TRUE(has(html, "Readings as read"));
  EXPECT_TRUE(has(html, "<tr><td>1</td>"));
  EXPECT_TRUE(has(html, "kg/m³"));
  EXPECT_TRUE(has(html, "Density and moisture"));
}

TEST(RowsCertificate, DoubtAndNotesStandBesideTheRow) {
  Certificate c = simulated("flexure-beam", "ash");
  Rows& rows = c.record.run.tables["stations"];
  rows[3].state = Row::State::doubtful;
  rows[3].note = "first read 2.11 mm <sic>";
  rows[4].cells.set("deflection", Reading{});
  const std::string html = certificate_html({of(c.record)});
  EXPECT_TRUE(has(html, "doubtful first read 2.11 mm &lt;sic&gt;"));
  EXPECT_TRUE(has(html, ">missed<"));
  EXPECT_TRUE(has(html, "left out of the fits")) << "the note says what the numbers are with and without";
}

TEST(RowsCertificate, AMisreadReadingWaitsForAWord) {
  const std::string html = certificate_html({simulated("flexure-beam", "ash", "misread")});
  EXPECT_TRUE(has(html, "Not answered yet."));
}

TEST(RowsCertificate, BoundsArePrintedAsBounds) {
  standin::SimulateOptions o;
  o.seed = 3;
  o.stop_force = 20e3;
  const Certificate c = of(standin::find_bench("universal-frame")->simulate(o));
  const std::string html = certificate_html({c});
  EXPECT_TRUE(has(html, "≥ "));
  EXPECT_TRUE(has(html, "lower bound"));
}

TEST(RowsCertificate, SettingsAreThoseOfTheMethod) {
  TestRecord r = simulated("torsion-bar").record;
  standin::type_into(r, "settings.offset", "0.04");
  const std::string html = certificate_html({of(r)});
  EXPECT_TRUE(has(html, "Yield offset"));
  EXPECT_TRUE(has(html, "0.04 %"));
  EXPECT_FALSE(has(certificate_html({simulated("density")}), "Yield offset"));
}

TEST(RowsCertificate, WhatAPersonTypedIsNeverMarkup) {
  TestRecord r = simulated("density").record;
  r.fields.set("specimen.id", std::string("<b>WP & 1</b>"));
  r.fields.set("specimen.note", std::string("\"quoted\" <script>"));
  r.operator_name = "R. <i>Vale</i>";
  const std::string html = certificate_html({of(r)});
  for (const char* raw : {"<b>WP", "<script>", "<i>Vale"}) EXPECT_FALSE(has(html, raw)) << raw;
  EXPECT_TRUE(has(html, "&lt;b&gt;WP &amp; 1&lt;/b&gt;"));
}

TEST(RowsCertificate, EveryMethodPrintsWithItsFigureItsCautionAndAsADraft) {
  for (const Method* m : methods::all()) {
    const Certificate c = simulated(m->id.c_str());
    const std::string html = certificate_html({c});
    EXPECT_TRUE(has(html, "<svg")) << m->id;
    EXPECT_TRUE(has(html, "Draft: not signed.")) << m->id;
    EXPECT_TRUE(has(html, "rate no component")) << m->id;
    EXPECT_TRUE(has(html, "stand-in machine")) << m->id;
    for (const ResultValue& x : c.evaluation.results) {
      if (!x.spec.headline) continue;
      EXPECT_TRUE(has(html, x.spec.name)) << m->id << " " << x.spec.key;
    }
    QTextDocument document;
    fill_document(document, {c}, 640);
    EXPECT_GT(document.size().height(), 300) << m->id;
  }
}

TEST(RowsCertificate, TheSignatureTakesThePlaceOfTheDraft) {
  Certificate c = simulated("density");
  c.signature = SignOff{"R. Vale", "2026-11-25T08:00:00Z", "meets", 4, "", "", ""};
  const std::string html = certificate_html({c});
  EXPECT_TRUE(has(html, "Signed by <b>R. Vale</b>"));
  EXPECT_FALSE(has(html, "Draft"));
}

TEST(RowsCertificate, UnitsAreThoseAskedFor) {
  Certificate c = simulated("flexure-beam", "ash");
  EXPECT_TRUE(has(certificate_html({c}), "MPa"));
  c.units = UnitSet::us;
  EXPECT_TRUE(has(certificate_html({c}), "ksi"));
}

}  // namespace
}  // namespace fortitor::rows_certificate_test
