#include "report/certificate.h"

#include <gtest/gtest.h>

#include <QBuffer>
#include <QDir>
#include <QFile>
#include <QImage>
#include <QProcess>
#include <QSvgRenderer>
#include <QTemporaryDir>

#include "core/bench/records.h"
#include "core/methods/method.h"
#include "core/standin/benches.h"
#include "core/standin/tension_bench.h"
#include "report/export.h"
#include "report/figure.h"

namespace fortitor::certificate_test {
namespace {

Certificate made() {
  Certificate c;
  c.record = standin::simulate_tension({.seed = 4, .forget_zero = true});
  c.record.job = "TC-031";
  c.record.series = "Tension <round> bar";
  c.record.limits["rm"].min = reading_of(parse_quantity("490 MPa", Dimension::stress).value());
  c.record.answers.push_back({"not-zeroed", "shift", "seen at the start", "R. Vale", "2026-11-23"});
  c.job_title = "Hanger bolts";
  c.evaluation = methods::evaluate(c.record);
  return c;
}

QString pdf_text(const QString& path) {
  QProcess p;
  p.start("pdftotext", {"-layout", path, "-"});
  p.waitForFinished();
  return QString::fromUtf8(p.readAllStandardOutput()).simplified();
}

TEST(Certificate, PdfCarriesItsTextAndNeverOverwrites) {
  QTemporaryDir dir;
  const QString path = dir.path() + "/c.pdf";
  const Certificate c = made();
  ASSERT_TRUE(certificate_pdf({c}, path.toStdString()));
  const QString text = pdf_text(path);
  const QString rm = QString::fromStdString(reported(*c.evaluation.find("rm"), c.record.fields, UnitSet::si).number);
  for (const QString& wanted :
       {QString("Test certificate"), QString("tensile strength"), rm, QString("meets"), QString("TC-031"),
        QString("seen at the start"), QString("stand-in machine"), QString("local codes"), QString("not signed")})
    EXPECT_TRUE(text.contains(wanted)) << wanted.toStdString() << "\n" << text.toStdString();
  const auto again = certificate_pdf({c}, path.toStdString());
  ASSERT_FALSE(again);
  EXPECT_NE(again.error().message.find("nothing is overwritten"), std::string::npos);
}

// A photograph stands where it belongs, once; what is no picture says so. No figure is drawn in its place.
TEST(Certificate, PhotographsArePrinted) {
  QTemporaryDir dir;
  standin::SimulateOptions options;
  options.method = "drop-impact";
  Certificate c;
  c.record = standin::find_bench(methods::find("drop-impact")->standin)->simulate(options);
  c.evaluation = methods::evaluate(c.record);
  const std::string bare = dir.filePath("bare.pdf").toStdString(), with = dir.filePath("with.pdf").toStdString(),
                    broken = dir.filePath("broken.pdf").toStdString();
  ASSERT_TRUE(certificate_pdf({c}, bare));
  QImage red(600, 400, QImage::Format_RGB32);
  red.fill(QColor(220, 20, 30));
  QByteArray png;
  QBuffer buffer(&png);
  buffer.open(QIODevice::WriteOnly);
  ASSERT_TRUE(red.save(&buffer, "PNG"));
  c.record.fields.set("specimen.damage.photo", "data:image/png;base64," + png.toBase64().toStdString());
  ASSERT_TRUE(certificate_pdf({c}, with));
  const auto reds = [&](const std::string& pdf) {
    QProcess p;
    p.start("pdftoppm", {"-r", "40", "-png", QString::fromStdString(pdf), dir.filePath("page")});
    EXPECT_TRUE(p.waitForFinished());
    size_t n = 0;
    for (const QString& name : QDir(dir.path()).entryList({"page*.png"})) {
      const QImage page(dir.filePath(name));
      for (int y = 0; y < page.height(); ++y)
        for (int x = 0; x < page.width(); ++x) {
          const QColor at = page.pixelColor(x, y);
          n += at.red() > 200 && at.green() < 50 && at.blue() < 60;
        }
      QFile::remove(dir.filePath(name));
    }
    return n;
  };
  EXPECT_EQ(reds(bare), 0u);
  // 300 px at 96 dpi are 125 px at 40 dpi, 83 high.
  EXPECT_NEAR(double(reds(with)), 125 * 83, 1200);
  c.record.fields.set("specimen.damage.photo", std::string("data:image/png;base64,bm8gcGljdHVyZQ=="));
  ASSERT_TRUE(certificate_pdf({c}, broken));
  EXPECT_TRUE(pdf_text(QString::fromStdString(broken)).contains("photograph cannot be read"));
  EXPECT_NE(certificate_html({c}).find("<img src=\"data:image/png"), std::string::npos);
}

TEST(Certificate, HtmlHoldsItsFigureAndEscapesNames) {
  const std::string html = certificate_html({made()});
  EXPECT_NE(html.find("<svg"), std::string::npos);
  EXPECT_NE(html.find("Tension &lt;round&gt; bar"), std::string::npos);
  EXPECT_EQ(html.find("src=\"http"), std::string::npos);  // nothing is fetched from anywhere
}

TEST(Certificate, UnwritablePlacesGetASentence) {
  EXPECT_FALSE(certificate_pdf({made()}, "/no/such/place/c.pdf"));
}

TEST(Figure, IsDrawableInEveryUnitSet) {
  const Certificate c = made();
  for (UnitSet set : {UnitSet::si, UnitSet::us, UnitSet::kgf}) {
    figure::Options options;
    options.set = set;
    const std::string svg = figure_svg(c.evaluation.figures.front(), options);
    QSvgRenderer renderer(QByteArray::fromStdString(svg));
    ASSERT_TRUE(renderer.isValid());
    EXPECT_EQ(svg.find("nan"), std::string::npos);
    EXPECT_LT(svg.size(), 200000u);
  }
  EXPECT_TRUE(figure_svg({}, {}).empty());
}

TEST(Export, RecordAndCsvEvaluateToTheSameNumbers) {
  QTemporaryDir dir;
  const Certificate c = made();
  const auto path = export_record(c.record, dir.path().toStdString());
  ASSERT_TRUE(path);
  const auto back = load_record(*path);
  ASSERT_TRUE(back) << back.error().message;
  const Evaluation again = methods::evaluate(*back);
  for (const char* key : {"e_modulus", "reh", "rm", "a", "at"})
    EXPECT_NEAR(again.find(key)->value, c.evaluation.find(key)->value, 1e-5 * again.find(key)->value) << key;
  const auto second = export_record(c.record, dir.path().toStdString());
  ASSERT_TRUE(second);
  EXPECT_NE(*second, *path);
}

TEST(Export, FiguresInThreeFormats) {
  QTemporaryDir dir;
  const Certificate c = made();
  for (const char* ending : {".svg", ".png", ".pdf"}) {
    const std::string path = (dir.path() + "/f" + ending).toStdString();
    EXPECT_TRUE(export_figure(c.evaluation, UnitSet::si, path)) << ending;
    EXPECT_FALSE(export_figure(c.evaluation, UnitSet::si, path)) << ending;
  }
  EXPECT_EQ(QImage(dir.path() + "/f.png").width(), 1800);
  EXPECT_FALSE(export_figure(c.evaluation, UnitSet::si, (dir.path() + "/f.gif").toStdString()));
}

TEST(Export, ResultsAsTextWithUnits) {
  const Certificate c = made();
  const std::string text = results_text(c.evaluation, c.record.fields, UnitSet::us);
  EXPECT_NE(text.find("Rm\ttensile strength\t"), std::string::npos);
  EXPECT_NE(text.find("\tksi\t"), std::string::npos);
}

}  // namespace
}  // namespace fortitor::certificate_test
