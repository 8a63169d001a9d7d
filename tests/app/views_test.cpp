// What is drawn: sketches, theme, docket, today.
#include <QImage>
#include <QLabel>
#include <QPushButton>
#include <cmath>

#include "app/docket/docket.h"
#include "app/series/series_page.h"
#include "app/sketches/sketch.h"
#include "app/stages/reading_stage.h"
#include "app/theme/theme.h"
#include "app/today/today_page.h"
#include "core/standin/benches.h"
#include "core/standin/tension_bench.h"
#include "tests/app/demo_book_copy.h"
#include "tests/app/window_fixture.h"

namespace fortitor::views_test {
namespace {

QImage painted(const Sketch& sketch, QSize size, const SketchState& state) {
  QImage image(size, QImage::Format_ARGB32);
  image.fill(Qt::transparent);
  QPainter p(&image);
  sketch.paint(p, QRectF(QPointF(0, 0), size), state);
  return image;
}

size_t inked(const QImage& image) {
  size_t n = 0;
  for (int y = 0; y < image.height(); ++y)
    for (int x = 0; x < image.width(); ++x) n += qAlpha(image.pixel(x, y)) > 0;
  return n;
}

class EverySketch : public testing::TestWithParam<const char*> {};

TEST_P(EverySketch, DrawsAndKeepsItsEditorsApart) {
  const auto sketch = make_sketch(GetParam());
  ASSERT_TRUE(sketch);
  TestRecord r = standin::simulate_tension({.seed = 3});
  const Evaluation e = methods::evaluate(r);
  const Plan plan = methods::find(r.method)->plan(r);
  for (const char* shape : {"round", "flat", "tube", "by-mass"}) {
    r.fields.set("specimen.section.shape", std::string(shape));
    for (const QSize size : {QSize(640, 560), QSize(420, 420), QSize(1280, 900)}) {
      const SketchState state{r, &e, &plan, nullptr, UnitSet::si, {}, 0};
      EXPECT_GT(inked(painted(*sketch, size, state)), size_t(size.width()));
      const auto anchors = sketch->anchors(QRectF(QPointF(0, 0), size), r);
      std::vector<QRectF> placed;
      for (const Anchor& a : anchors) {
        const QRectF box(a.at.x() - a.width / 2, a.at.y() - 14, a.width, 28);
        EXPECT_TRUE(QRectF(QPointF(-2, -2), size + QSize(4, 4)).contains(box))
            << shape << " " << a.path << size.width();
        for (const QRectF& other : placed)
          EXPECT_FALSE(box.intersects(other)) << shape << " " << a.path << size.width();
        if (size.width() >= 640) placed.push_back(box);
        EXPECT_NE(methods::find(r.method)->field(a.path), nullptr) << a.path;
      }
    }
  }
}

// At large text the editors on a drawing are wider: they are not laid over one another.
TEST(Sketches, EditorsStayApartAtLargeText) {
  for (const double scale : {1.0, 1.5}) {
    theme::set_scale(scale);
    for (const Method* m : methods::all())
      for (const std::string& name : {m->measure_sketch, m->after_sketch}) {
        const auto sketch = make_sketch(name);
        if (!sketch) continue;
        TestRecord r;
        r.method = m->id;
        const QRectF area(0, 0, 800, 540);
        const auto anchors = sketch->anchors(area, r);
        const auto boxes = editor_boxes(anchors, 27 * scale, area);
        ASSERT_EQ(boxes.size(), anchors.size());
        for (size_t i = 0; i < boxes.size(); ++i) {
          EXPECT_TRUE(area.contains(boxes[i])) << m->id << " " << name << " " << anchors[i].path << " at " << scale;
          for (size_t k = 0; k < i; ++k)
            EXPECT_FALSE(boxes[i].intersects(boxes[k]))
                << m->id << " " << name << " " << anchors[i].path << " at " << scale;
          // At the usual size they stand where the drawing wants them.
          const double moved = QLineF(boxes[i].center(), anchors[i].at).length();
          EXPECT_TRUE(scale > 1 || moved < 8) << name << " " << anchors[i].path << " by " << moved;
        }
      }
  }
  theme::set_scale(1.0);
}

INSTANTIATE_TEST_SUITE_P(Sketches, EverySketch, testing::Values("tagged-bar", "bar", "halves", "load-path", "frame"),
                         [](const auto& test) {
                           std::string n = test.param;
                           std::replace(n.begin(), n.end(), '-', '_');
                           return n;
                         });

TEST(FrameSketchTest, TheBarChangesWithTheMachine) {
  const auto sketch = make_sketch("frame");
  const TestRecord r = standin::simulate_tension({.seed = 3});
  MachineStatus whole, broken;
  whole.top_grip = whole.bottom_grip = broken.top_grip = broken.bottom_grip = true;
  broken.broken = true;
  broken.neck = 1;
  broken.now["crosshead"] = 14;
  const SketchState a{r, nullptr, nullptr, &whole, UnitSet::si, {}, 0},
      b{r, nullptr, nullptr, &broken, UnitSet::si, {}, 0};
  EXPECT_NE(painted(*sketch, QSize(200, 400), a), painted(*sketch, QSize(200, 400), b));
}

// Every drawn choice of every method has a picture of its own, and every sketch a method names exists and
// draws at the sizes and scales it may meet.
TEST(Sketches, EveryMethodIsDrawn) {
  for (const Method* m : methods::all()) {
    for (const FieldSpec& f : m->fields) {
      if (f.kind != FieldKind::choice || f.stage != Stage::after) continue;
      std::vector<QImage> looks;
      for (const Choice& c : f.choices) {
        QImage image(80, 80, QImage::Format_ARGB32);
        image.fill(Qt::white);
        QPainter p(&image);
        EXPECT_TRUE(paint_choice(p, QRectF(0, 0, 80, 80), m->after_sketch, f.path, c.value)) << m->id << " " << f.path;
        p.end();
        if (c.value == "other" || c.value == "none") continue;  // may share the plain picture
        for (const QImage& other : looks) EXPECT_NE(image, other) << m->id << " " << c.value;
        looks.push_back(image);
      }
    }
    standin::SimulateOptions o;
    o.seed = 4;
    TestRecord r = standin::find_bench(m->standin)->simulate(o);
    r.method = m->id;
    const Plan plan = m->plan(r);
    MachineStatus machine;
    for (const std::string& name :
         {m->prepare_sketch, m->measure_sketch, m->setup_sketch, m->run_sketch, m->after_sketch}) {
      const auto sketch = make_sketch(name);
      ASSERT_NE(sketch, nullptr) << m->id << ": " << name;
      for (const QSize size : {QSize(180, 140), QSize(560, 420), QSize(1120, 840)}) {
        const SketchState state{r, nullptr, &plan, &machine, UnitSet::si, {}, 0};
        QImage empty(size, QImage::Format_ARGB32_Premultiplied);
        empty.fill(Qt::white);
        EXPECT_NE(painted(*sketch, size, state), empty) << m->id << " " << name;
      }
      // Editors stay on the paper and never on each other.
      const QRectF area(10, 10, 600, 520);
      const auto anchors = sketch->anchors(area, r);
      for (size_t i = 0; i < anchors.size(); ++i) {
        EXPECT_TRUE(area.adjusted(-1, -1, 1, 1).contains(anchors[i].at)) << m->id << " " << anchors[i].path;
        for (size_t k = 0; k < i; ++k) {
          const QPointF d = anchors[i].at - anchors[k].at;
          EXPECT_TRUE(std::abs(d.x()) > 0.5 * (anchors[i].width + anchors[k].width) - 2 || std::abs(d.y()) > 24)
              << m->id << " " << anchors[i].path << " on " << anchors[k].path;
        }
      }
    }
  }
}

TEST(Sketches, TheBeamBendsAsReadingsComeIn) {
  standin::SimulateOptions o;
  o.seed = 4;
  TestRecord r = standin::find_bench("bending-bench")->simulate(o);
  const auto sketch = make_sketch("beam");
  const QImage late = painted(*sketch, QSize(500, 320), {r, nullptr, nullptr, nullptr, UnitSet::si, {}, 0});
  r.run.tables["stations"].resize(2);
  EXPECT_NE(painted(*sketch, QSize(500, 320), {r, nullptr, nullptr, nullptr, UnitSet::si, {}, 0}), late);
}

TEST(Sketches, FractureLooksAreAllDifferent) {
  std::vector<QImage> looks;
  for (const Choice& c : methods::find("tension-metal")->field("specimen.after.fracture")->choices) {
    QImage image(80, 80, QImage::Format_ARGB32);
    image.fill(Qt::white);
    QPainter p(&image);
    EXPECT_TRUE(paint_choice(p, QRectF(0, 0, 80, 80), "halves", "specimen.after.fracture", c.value));
    p.end();
    for (const QImage& other : looks) EXPECT_NE(image, other) << c.value;
    looks.push_back(image);
  }
  EXPECT_EQ(make_sketch("no such sketch"), nullptr);
}

double luminance(const QColor& c) {
  auto channel = [](double v) { return v <= 0.03928 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4); };
  return 0.2126 * channel(c.redF()) + 0.7152 * channel(c.greenF()) + 0.0722 * channel(c.blueF());
}

// WCAG 2.1 contrast: no grey on grey.
TEST(Theme, TextIsReadableInBothThemes) {
  using theme::Ink;
  for (bool dark : {false, true}) {
    theme::set_dark(dark);
    for (Ink paper : {Ink::sheet, Ink::background, Ink::docket})
      for (Ink ink : {Ink::ink, Ink::quiet}) {
        const double a = luminance(theme::color(paper)), b = luminance(theme::color(ink));
        const double contrast = (std::max(a, b) + 0.05) / (std::min(a, b) + 0.05);
        EXPECT_GT(contrast, ink == Ink::ink ? 7 : 3.8) << dark << int(paper) << int(ink);
      }
  }
  theme::set_dark(false);
}

TEST(Theme, VerdictsAreToldByShapeToo) {
  std::vector<QImage> glyphs;
  for (Verdict v : {Verdict::meets, Verdict::open, Verdict::conditional_pass, Verdict::conditional_fail, Verdict::fails,
                    Verdict::void_test}) {
    QImage image(24, 24, QImage::Format_ARGB32);
    image.fill(Qt::transparent);
    QPainter p(&image);
    theme::draw_glyph(p, QRectF(2, 2, 20, 20), v);
    p.end();
    const QImage shape = image.convertToFormat(QImage::Format_Alpha8);
    for (const QImage& other : glyphs) EXPECT_NE(shape, other);
    glyphs.push_back(shape);
  }
}

class DemoViews : public WindowTest {
 protected:
  void lay_out_book(const QString& path) override { ASSERT_EQ(copy_demo_book(path), ""); }
  void SetUp() override {
    WindowTest::SetUp();
    QCoreApplication::processEvents();
  }
};

TEST_F(DemoViews, TodayPutsJudgementsFirstAndOpensThem) {
  const auto rows = [&] {
    QCoreApplication::processEvents();  // fresh rows are shown by a posted event
    std::vector<std::pair<int, QString>> out;
    for (QPushButton* b : window_->findChildren<QPushButton*>())
      if (b->isVisible() && b->property("key").toString().startsWith("today:"))
        out.emplace_back(b->mapTo(window_.get(), QPoint(0, 0)).y(), b->text());
    std::sort(out.begin(), out.end());
    return out;
  };
  size_t open = 0;
  for (const JobOutline& job : bench_.book()->outline())
    for (const auto& [series, pieces] : job.series)
      for (const SpecimenRow& s : pieces) open += s.open_judgements > 0 && !s.signed_off;
  ASSERT_GE(open, 3u);
  // Judgements stand first, and leave room for the hours of the day.
  std::vector<std::pair<int, QString>> first_rows, all_rows;
  ASSERT_TRUE(until([&] { return (first_rows = rows()).size() >= 5; }));
  for (size_t i = 0; i < 3; ++i) EXPECT_EQ(first_rows[i].second, "Decide") << i;
  EXPECT_NE(first_rows[3].second, "Decide");
  // All of them, each a row of its own, stand behind a button.
  ASSERT_TRUE(until([&] { return ready("today-more"); }));  // shown by an event of its own
  click("today-more");
  ASSERT_TRUE(until([&] { return (all_rows = rows()).size() > std::max(open, first_rows.size()); }));
  for (size_t i = 0; i < open; ++i) EXPECT_EQ(all_rows[i].second, "Decide") << i;
  QPushButton* first = nullptr;
  for (QPushButton* b : window_->findChildren<QPushButton*>())
    if (b->isVisible() && b->text() == "Decide" &&
        (first == nullptr || b->mapTo(window_.get(), QPoint(0, 0)).y() < first->mapTo(window_.get(), QPoint(0, 0)).y()))
      first = b;
  ASSERT_NE(first, nullptr);
  // Which job comes first depends on the day: what is due on Friday may be over or far.
  QTest::mouseClick(first, Qt::LeftButton);
  EXPECT_GT(bench_.book()->specimen(bench_.specimen())->open_judgements, 0);
  EXPECT_EQ(bench_.stage(), Stage::evaluate);
}

TEST_F(DemoViews, DocketWalksByKeys) {
  Docket* docket = window_->docket();
  docket->setFocus();
  QTest::keyClick(docket, Qt::Key_Down);  // all jobs
  for (const char* desk : {"plan", "kit", "laboratory", "slate", "practice", "job"}) {
    QTest::keyClick(docket, Qt::Key_Down);
    EXPECT_EQ(window_->desk_in_hand(), desk);
    docket->setFocus();
  }
  QTest::keyClick(docket, Qt::Key_Down);  // the first series
  EXPECT_EQ(window_->part<SeriesPage>()->isVisible(), true);
  docket->setFocus();
  QTest::keyClick(docket, Qt::Key_Down);
  ASSERT_TRUE(bench_.has_specimen());
  EXPECT_EQ(record().specimen_id(), "HB-01");
  docket->setFocus();
  QTest::keyClick(docket, Qt::Key_Down);
  EXPECT_EQ(record().specimen_id(), "HB-02");
  QTest::keyClick(docket, Qt::Key_Up);
  EXPECT_EQ(record().specimen_id(), "HB-01");
}

TEST_F(DemoViews, NarrowWindowsGiveTheDocketsPlaceToTheBench) {
  window_->show_specimen(bench_.book()->specimens(bench_.book()->series(bench_.book()->jobs()[0].id)[0].id)[2].id,
                         int(Stage::evaluate));
  window_->resize(1400, 800);
  QCoreApplication::processEvents();
  EXPECT_TRUE(window_->docket()->isVisible());
  window_->resize(1024, 700);
  QCoreApplication::processEvents();
  EXPECT_FALSE(window_->docket()->isVisible());
  QTest::keyClick(window_.get(), Qt::Key_B, Qt::ControlModifier);
  EXPECT_TRUE(window_->docket()->isVisible());
}

TEST_F(DemoViews, LogbookTellsWhoDidWhat) {
  const auto log = bench_.book()->logbook(500);
  auto has = [&](const char* what) {
    return std::any_of(log.begin(), log.end(), [&](const LogEntry& e) { return e.what == what; });
  };
  EXPECT_TRUE(has("job TC-031 opened"));
  EXPECT_TRUE(has("run stored"));
  EXPECT_TRUE(has("signed off"));
  EXPECT_TRUE(bench_.book()->verify().empty());
}

TEST_F(DemoViews, ReadingsAreShownInTheSetWithWhatWasTyped) {
  const Reading inches = reading_of(parse_quantity("25/64 in", Dimension::length).value());
  EXPECT_EQ(shown_reading(inches, Dimension::length, UnitSet::us), "25/64 in");
  EXPECT_EQ(shown_reading(inches, Dimension::length, UnitSet::si), "9.9219 mm");
  const Reading mm = reading_of(parse_quantity("10.0 mm", Dimension::length).value());
  EXPECT_EQ(shown_reading(mm, Dimension::length, UnitSet::si), "10.0 mm");
  EXPECT_EQ(shown_reading(mm, Dimension::length, UnitSet::us), "0.39370 in");
  EXPECT_EQ(shown_reading(Reading{}, Dimension::length, UnitSet::si), "missed");
}

}  // namespace
}  // namespace fortitor::views_test
