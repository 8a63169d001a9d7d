// Figures painted: what was laid out is there, in the right place and colour, on screen, on paper and as SVG.
#include "report/figure.h"

#include <gtest/gtest.h>

#include <QImage>
#include <QPainter>
#include <QSvgRenderer>

#include <random>

#include "core/methods/method.h"
#include "core/series/series.h"
#include "core/standin/benches.h"
#include "report/series_report.h"

#include <QFile>
#include <QTemporaryDir>

namespace fortitor::figure_test {
namespace {

QImage painted(const figure::Layout& layout) {
  QImage image(int(layout.width), int(layout.height), QImage::Format_RGB32);
  image.fill(paper_colours().paper);
  QPainter p(&image);
  paint_figure(p, layout, paper_colours());
  return image;
}

// Pixels near a place whose colour is near another.
int near_colour(const QImage& image, Point at, const QColor& wanted, int reach = 3) {
  int n = 0;
  for (int y = int(at.y) - reach; y <= int(at.y) + reach; ++y)
    for (int x = int(at.x) - reach; x <= int(at.x) + reach; ++x) {
      if (!image.rect().contains(x, y)) continue;
      const QColor c = image.pixelColor(x, y);
      n +=
          std::abs(c.red() - wanted.red()) + std::abs(c.green() - wanted.green()) + std::abs(c.blue() - wanted.blue()) <
          90;
    }
  return n;
}

Panel panel_of(Trace t) {
  Panel p;
  p.x.name = "x";
  p.y.name = "y";
  p.traces = {std::move(t)};
  return p;
}

Trace trace_of(Trace::Kind kind) {
  Trace t;
  t.kind = kind;
  t.x = {10, 100, 1000};
  t.y = {2, 6, 4};
  t.tone = 2;
  t.weight = 3;
  return t;
}

// Noise along both axes is painted stroke by stroke, and looks as one line does.
TEST(FigurePainting, ACloudLooksAsOneLineDoes) {
  std::mt19937_64 random(5);
  std::uniform_real_distribution<double> any(20, 180);
  figure::Layout layout;
  layout.width = layout.height = 200;
  figure::Shape line;
  line.kind = figure::Shape::Kind::polyline;
  line.stroke = figure::Ink::temper;
  line.width = 2;
  for (int i = 0; i < 240; ++i) line.points.push_back({any(random), any(random)});
  for (const double alpha : {1.0, 0.5}) {
    line.alpha = alpha;
    layout.shapes = {line};
    const QImage cloud = painted(layout);
    QImage whole(cloud.size(), cloud.format());
    whole.fill(paper_colours().paper);
    QPolygonF points;
    for (const Point& p : line.points) points << QPointF(p.x, p.y);
    QColor colour = paper_colours().temper[size_t(line.tone % 7)];
    colour.setAlphaF(float(alpha));
    QPainter p(&whole);
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(QPen(colour, line.width, Qt::SolidLine, Qt::FlatCap, Qt::RoundJoin));
    p.drawPolyline(points);
    p.end();
    double apart = 0;
    int inked = 0;
    for (int y = 0; y < 200; ++y)
      for (int x = 0; x < 200; ++x) {
        apart += std::abs(qGray(cloud.pixel(x, y)) - qGray(whole.pixel(x, y)));
        inked += whole.pixel(x, y) != paper_colours().paper.rgb();
      }
    EXPECT_GT(inked, 10000);
    EXPECT_LT(apart / inked, 4) << "shades of grey, of 255";
  }
}

TEST(FigurePainting, EveryKindOfTraceIsWhereItsDataAre) {
  for (Trace::Kind kind : {Trace::Kind::line, Trace::Kind::points, Trace::Kind::steps, Trace::Kind::bars})
    for (Axis::Scale scale : {Axis::Scale::linear, Axis::Scale::log}) {
      if (kind == Trace::Kind::bars && scale == Axis::Scale::log) continue;
      Figure f;
      f.panels = {panel_of(trace_of(kind))};
      f.panels[0].x.scale = scale;
      const figure::Layout l = figure::lay_out(f, {});
      const QImage image = painted(l);
      const figure::Frame& frame = l.frames[0];
      for (size_t i = 0; i < 3; ++i) {
        const Trace& t = f.panels[0].traces[0];
        const Point at{frame.px(t.x[i]), frame.py(t.y[i])};
        if (kind == Trace::Kind::bars) {  // a pale fill from the value down
          EXPECT_NE(image.pixelColor(int(at.x), int(at.y) + 8), paper_colours().paper) << t.x[i];
          EXPECT_EQ(near_colour(image, {at.x, at.y - 12}, paper_colours().temper[2]), 0) << "nothing above the bar";
        } else {
          EXPECT_GT(near_colour(image, at, paper_colours().temper[2]), 2) << int(kind) << " at " << t.x[i];
        }
      }
    }
}

TEST(FigurePainting, ErrorBarsBoundsBandsAndLevels) {
  Trace t = trace_of(Trace::Kind::points);
  t.error = {1, 1, 1};
  t.bound = {0, 0, 1};
  Figure f;
  f.panels = {panel_of(t)};
  Mark level;
  level.kind = Mark::Kind::level;
  level.points = {{0, 5}};
  level.tone = Mark::Tone::limit;
  Mark band;
  band.kind = Mark::Kind::band;
  band.points = {{100, 3}, {100, 5}};
  f.panels[0].marks = {level, band};
  const figure::Layout l = figure::lay_out(f, {});
  const QImage image = painted(l);
  const figure::Frame& frame = l.frames[0];
  EXPECT_GT(near_colour(image, {frame.px(10), frame.py(2.9)}, paper_colours().temper[2]), 1) << "end of an error bar";
  // The level is dashed: along it some pixels have its colour, above it none.
  int on = 0, off = 0;
  for (double x = frame.left + 40; x < frame.left + frame.width * 0.5; x += 5) {
    on += near_colour(image, {x, frame.py(5)}, paper_colours().limit, 1) > 0;
    off += near_colour(image, {x, frame.py(5.7)}, paper_colours().limit, 1) > 0;
  }
  EXPECT_GT(on, 5);
  EXPECT_EQ(off, 0);
}

TEST(FigurePainting, AMapIsToScaleOnPaper) {
  Trace t = trace_of(Trace::Kind::points);
  t.x = {0, 40};
  t.y = {0, 10};
  Figure f;
  f.panels = {panel_of(t)};
  f.panels[0].equal_aspect = true;
  const figure::Layout l = figure::lay_out(f, {});
  const figure::Frame& frame = l.frames[0];
  EXPECT_NEAR(frame.px(10) - frame.px(0), frame.py(0) - frame.py(10), 1e-6);
  const QImage image = painted(l);
  EXPECT_GT(near_colour(image, {frame.px(40), frame.py(10)}, paper_colours().temper[2]), 2);
}

TEST(FigurePainting, EveryMethodDrawsItselfInEveryUnitSet) {
  for (const Method* m : methods::all()) {
    const TestRecord r = standin::find_bench(m->standin)->simulate({});
    const Evaluation e = methods::evaluate(r, {.uncertainty = false});
    ASSERT_FALSE(e.figures.empty()) << m->id;
    for (UnitSet set : {UnitSet::si, UnitSet::us, UnitSet::kgf}) {
      figure::Options o;
      o.set = set;
      o.width = 900;
      const std::string svg = figure_svg(e.figures.front(), o);
      QSvgRenderer renderer(QByteArray::fromStdString(svg));
      EXPECT_TRUE(renderer.isValid()) << m->id;
      EXPECT_EQ(svg.find("nan"), std::string::npos) << m->id;
      EXPECT_LT(svg.size(), 600000u) << m->id;
    }
  }
}

struct Tubes {
  std::vector<TestRecord> records;
  std::vector<Evaluation> evaluations;
  SeriesReport report() {
    const Method& m = *methods::find("crush-shell");
    for (uint64_t seed = 1; seed <= 5; ++seed) {
      standin::SimulateOptions o;
      o.seed = seed;
      if (seed == 3) o.faults = {"dent"};
      records.push_back(standin::find_bench(m.standin)->simulate(o));
      evaluations.push_back(methods::evaluate(records.back(), {.uncertainty = false}));
    }
    SeriesReport r;
    r.method = &m;
    r.title = "Buffer tubes <line 1>";
    r.job = "TC-039";
    r.key = "peak_force";
    for (size_t i = 0; i < records.size(); ++i) r.pieces.push_back({&records[i], &evaluations[i]});
    r.judged = series_evaluate(m, r.pieces, r.settings);
    return r;
  }
};

TEST(SeriesReportTest, NamesPiecesNumbersAndDerivations) {
  Tubes tubes;
  const SeriesReport r = tubes.report();
  const std::string html = series_report_html(r);
  for (const char* word : {"Series report", "SI-3", "Σx/n", "coefficient of variation", "dent seen before the test",
                           "Buffer tubes &lt;line 1&gt;", "<svg", "stand-in machine", "licensed practice"})
    EXPECT_NE(html.find(word), std::string::npos) << word;
  EXPECT_EQ(html.find("<line 1>"), std::string::npos) << "what a person typed is never markup";
}

TEST(SeriesReportTest, PdfIsWrittenOnce) {
  Tubes tubes;
  const SeriesReport r = tubes.report();
  QTemporaryDir folder;
  const std::string path = folder.filePath("series.pdf").toStdString();
  ASSERT_TRUE(series_report_pdf(r, path));
  QFile file(QString::fromStdString(path));
  ASSERT_TRUE(file.open(QIODevice::ReadOnly));
  EXPECT_TRUE(file.readAll().startsWith("%PDF"));
  EXPECT_FALSE(series_report_pdf(r, path)) << "nothing is overwritten";
  EXPECT_FALSE(series_report_pdf(r, "/no/such/place/s.pdf"));
}

}  // namespace
}  // namespace fortitor::figure_test
