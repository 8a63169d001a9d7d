// Components and fatigue points in the real window: a proof load with its questions, points typed and marked.
#include "app/series/series_page.h"
#include "app/stages/evaluate_stage.h"
#include "tests/app/slow_methods_fixture.h"

namespace fortitor::component_desk_test {
namespace {

class ComponentDesk : public SlowMethods {
 protected:
  RunStage* run() { return window_->part<RunStage>(); }
  void press(Qt::Key k) { QTest::keyClick(run(), k); }
};

TEST_F(ComponentDesk, AProofLoadAsksAfterEveryCycle) {
  new_job("proof-load", "RC-01");
  type("specimen.material", "forged rope clamp");
  type("specimen.family", "alloy steel");
  type("specimen.rated", "10 kN");
  type("specimen.proof", "20 kN");
  type("specimen.rule.text", "line order 12: 5 × rated");
  go(2);
  type("specimen.fixture_limit", "15 kN");
  EXPECT_FALSE(bench_.method().plan(record()).blocking.empty()) << "the proof load is above the fixture's limit";
  type("specimen.fixture_limit", "60 kN");
  type("equipment.load_cell.capacity#0", "100 kN");
  settle();
  set_up();
  run()->set_speed(50);
  ASSERT_TRUE(until([&] { return !run()->machine().now.empty(); }));
  press(Qt::Key_T);
  ASSERT_TRUE(until([&] { return run()->machine().obstacle.empty(); }));
  press(Qt::Key_Z);
  ASSERT_TRUE(until([&] { return run()->machine().force_zeroed; }));
  press(Qt::Key_Space);
  for (int cycle = 1; cycle <= 2; ++cycle) {
    ASSERT_TRUE(until([&] { return run()->machine().waits; })) << cycle;
    press(Qt::Key_Space);
    EXPECT_TRUE(run()->machine().waits) << "nothing goes on before it is said";
    EXPECT_TRUE(window_->message().contains("Say first")) << window_->message().toStdString();
    press(Qt::Key_1);
    ASSERT_TRUE(until([&] { return !run()->machine().waits; }));
    EXPECT_EQ(words_of(record().fields.text("specimen.function")).size(), size_t(cycle));
  }
  ASSERT_TRUE(until([&] { return record().run.has_samples() && !run()->running() && bench_.evaluation_current(); }));
  EXPECT_EQ(words_of(record().fields.text("specimen.function")), (std::vector<std::string>{"free", "free"}));
  EXPECT_GT(result("force_max"), 40e3);
  EXPECT_NEAR(result("function_limit"), 20e3, 300);
  EXPECT_NEAR(result("required"), 50e3, 1e-6);
  EXPECT_GT(result("stiffness_2"), 7000);
  go(5);
  EXPECT_FALSE(window_->part<EvaluateStage>()->figure()->empty());
  sign();
}

TEST_F(ComponentDesk, GradesOfAnImportedRunAreSaidAtAfter) {
  new_job("proof-load", "RC-02");
  go(4);
  const QString path = "specimen.function";
  for (const char* word : {"word-free", "word-free", "word-stuck", "word-by tool"}) click(word);
  EXPECT_EQ(words_of(record().fields.text(path.toStdString())),
            (std::vector<std::string>{"free", "free", "stuck", "by tool"}));
  click("word-back");
  EXPECT_EQ(words_of(record().fields.text(path.toStdString())).size(), 3u);
}

TEST_F(ComponentDesk, FatiguePointsByKeys) {
  new_job("fatigue-constant", "BW-01");
  type("specimen.material", "bracket weld");
  type("specimen.family", "carbon steel");
  type("specimen.detail_category", "71 MPa");
  set_up();
  // The levels are planned: cycles are all that is typed.
  const std::vector<Fields> planned = bench_.method().keyed_table()->planned_rows(record());
  ASSERT_EQ(planned.size(), 12u) << "four levels, three pieces each";
  const char* cycles[] = {"310000", "640000", "1150000", "3100000", "290000", "520000", "1400000", "2800000"};
  for (const char* n : cycles) read(n);
  ASSERT_EQ(record().run.rows("points").size(), 8u);
  EXPECT_EQ(record().run.rows("points")[5].number("range"), planned[5].number("range"));
  // One more, on another level than planned; it ran out. Where the others began is typed.
  read("10000000");
  key(Qt::Key_L);
  read("60 MPa");
  key(Qt::Key_U);
  EXPECT_TRUE(record().run.rows("points").back().cells.flag("runout"));
  EXPECT_EQ(record().run.rows("points").back().number("range"), 60);
  key(Qt::Key_PageUp);
  key(Qt::Key_O);
  read("toe, left");
  EXPECT_EQ(record().run.rows("points")[8].cells.text("origin") + record().run.rows("points")[7].cells.text("origin"),
            "toe, left");
  key(Qt::Key_P);
  read("BW-A7");
  EXPECT_EQ(record().run.rows("points").back().cells.text("specimen"), "BW-A7");
  key(Qt::Key_S);
  read("0.1");
  EXPECT_EQ(record().run.rows("points").back().number("r"), 0.1);
  key(Qt::Key_E);
  ASSERT_TRUE(until([&] { return std::isfinite(result("sn_slope")) && bench_.evaluation_current(); }));
  EXPECT_NEAR(result("sn_slope"), 3, 1.2);
  go(5);
  EXPECT_FALSE(window_->part<EvaluateStage>()->figure()->empty());
  sign();
}

TEST_F(ComponentDesk, ARigRunsForDaysWhileOtherWorkIsDone) {
  QDateTime now = QDateTime::fromString("2026-11-25T08:00:00Z", Qt::ISODate);
  const Clock clock([&now] { return now; });
  bench_.set_clock(clock);
  new_job("fatigue-constant", "BW-01, BW-02");
  type("specimen.material", "bracket weld");
  type("specimen.family", "carbon steel");
  type("specimen.detail_category", "71 MPa");
  go(2);
  type("settings.gauges.count", "6");
  settle();
  set_up();
  key(Qt::Key_Space);
  LongRuns& rigs = window_->timers().rigs();
  const Id piece = bench_.specimen();
  ASSERT_NE(rigs.of(piece), nullptr) << window_->message().toStdString();
  EXPECT_TRUE(record().run.rows("points").front().number("range")) << "what is on the rig is in the book";
  click("rig-hurry-1");
  now = now.addSecs(3600);
  window_->timers().tick();
  const double hour = record().fields.number("settings.frequency").value_or(10) * 3600;
  EXPECT_NEAR(rigs.of(piece)->status.cycles, hour, 1);
  key(Qt::Key_Space);  // halted: its counter stands
  now = now.addSecs(3600);
  window_->timers().tick();
  EXPECT_NEAR(rigs.of(piece)->status.cycles, hour, 1);
  key(Qt::Key_Space);
  // Another piece is on the bench, the program is closed and opened again: the rig has gone on.
  Id other = 0;
  for (const SpecimenRow& s : bench_.book()->specimens(bench_.book()->series_of(piece).id))
    if (s.id != piece) other = s.id;
  window_->show_specimen(other);
  settle();
  window_.reset();
  ASSERT_TRUE(bench_.open(dir_.path() + "/other.fortitor", "R. Vale", clock));  // lets the first one go
  ASSERT_TRUE(bench_.open(dir_.path() + "/b.fortitor", "R. Vale", clock));
  window_ = std::make_unique<MainWindow>(&bench_);
  window_->show();
  ASSERT_TRUE(QTest::qWaitForWindowExposed(window_.get()));
  window_->show_specimen(other);
  settle();
  now = now.addSecs(3600);
  window_->timers().tick();
  ASSERT_NE(window_->timers().rigs().of(piece), nullptr);
  EXPECT_NEAR(window_->timers().rigs().of(piece)->status.cycles, 2 * hour, 1);
  EXPECT_NE(find<QWidget>("rig:BW-01"), nullptr) << "a pill in the bar";
  now = now.addDays(60);
  window_->timers().tick();
  ASSERT_TRUE(until([&] { return window_->timers().rigs().of(piece) == nullptr; }))
      << "its row is kept beside the window";
  EXPECT_TRUE(window_->message().contains("BW-01, point 1")) << window_->message().toStdString();
  const auto kept = bench_.book()->record(piece);
  ASSERT_TRUE(kept);
  const Row& row = kept->run.rows("points").front();
  EXPECT_GT(row.number("cycles").value_or(0), hour);
  EXPECT_TRUE(row.has("frequency"));
  ASSERT_NE(kept->run.samples("toe_gauges"), nullptr);
  EXPECT_EQ(kept->run.samples("toe_gauges")->channels.size(), 7u);
  const Evaluation e = methods::evaluate(*kept);
  if (!row.cells.flag("runout")) {
    ASSERT_NE(e.find("n_initiation"), nullptr);
    EXPECT_NEAR(e.find("n_initiation")->value / *row.number("cycles"), 0.55, 0.15);
  }
  EXPECT_TRUE(bench_.book()->verify().empty());
}

TEST_F(ComponentDesk, GroupsOfASeriesSideBySide) {
  new_job("proof-load", "RC-01, RC-02, RC-03, RC-04");
  const Id series = bench_.book()->series_of(bench_.specimen()).id;
  std::vector<Id> ids;
  for (const SpecimenRow& s : bench_.book()->specimens(series)) ids.push_back(s.id);
  const standin::Bench& bench = standin::proof_bench();
  for (size_t i = 0; i < ids.size(); ++i) {
    standin::SimulateOptions options;
    options.piece = i < 2 ? "forged-clamp" : "cast-clamp";
    options.seed = i + 1;
    const TestRecord made = bench.simulate(options);
    change_piece(ids[i], "made", [&](TestRecord& r) {
      const std::string id = r.specimen_id();
      r.fields = made.fields;
      r.fields.set("specimen.id", id);
      r.fields.set("specimen.lot", std::string(i < 2 ? "new" : "old"));
      r.fields.set("specimen.price", reading_of(parse_quantity(i < 2 ? "40" : "5", Dimension::none).value()));
      r.run = made.run;
    });
    for (const Segment& s : made.run.segments) {
      if (!s.samples) continue;
      const auto kept = bench_.book()->store_run(ids[i], *s.samples, "stand-in", s.name);
      ASSERT_TRUE(kept);
    }
    change_piece(ids[i], "run kept", [&](TestRecord& r) { r.run = made.run; });
  }
  window_->show_series(series);
  auto* groups = find<QComboBox>("series-groups");
  ASSERT_NE(groups, nullptr);
  ASSERT_TRUE(until([&] { return groups->findData("specimen.lot") > 0; }));
  groups->setCurrentIndex(groups->findData("specimen.lot"));
  emit groups->activated(groups->currentIndex());
  ASSERT_TRUE(until([&] { return window_->part<SeriesPage>()->view().judged.find("group_2") != nullptr; }));
  const Evaluation& e = window_->part<SeriesPage>()->view().judged;
  EXPECT_EQ(e.find("group_1")->spec.name, "new");
  const double mean = e.find("group_1_mean")->value;
  EXPECT_NEAR(e.find("group_1_price_per_kn")->value, 40 / (mean / 1e3), 1e-9);
  EXPECT_LE(e.find("group_2_least")->value, e.find("group_2_mean")->value);
  EXPECT_NE(e.finding("groups"), nullptr);
  ASSERT_GE(e.figures.size(), 2u);
  EXPECT_EQ(e.figures[1].panels.back().x.categories, (std::vector<std::string>{"new", "old"}));
  EXPECT_TRUE(std::isfinite(e.find("mann_whitney_p")->value));
  // A margin, typed; the picture in hand; the number of pieces for an interval; all of it there again tomorrow.
  auto* margin = find<QLineEdit>("series-margin");
  ASSERT_TRUE(margin->isEnabled());
  margin->setFocus();
  QTest::keyClicks(margin, "500 N");
  QTest::keyClick(margin, Qt::Key_Return);
  ASSERT_TRUE(until([&] { return window_->part<SeriesPage>()->view().judged.finding("equivalence") != nullptr; }));
  auto* tab = find<QPushButton>("series-figure-groups");
  ASSERT_NE(tab, nullptr);
  tab->click();
  auto* interval = find<QLineEdit>("series-interval");
  interval->setFocus();
  QTest::keyClicks(interval, "2 %");
  QTest::keyClick(interval, Qt::Key_Return);
  ASSERT_TRUE(until([&] { return window_->part<SeriesPage>()->view().judged.finding("pieces-wanted") != nullptr; }));
  EXPECT_TRUE(find<QPushButton>("series-figure-groups")->isChecked()) << "the picture in hand stays";
  window_->show_today();
  window_->show_series(series);
  ASSERT_TRUE(until([&] { return window_->part<SeriesPage>()->view().judged.finding("equivalence") != nullptr; }));
  EXPECT_EQ(margin->text(), "500 N");
}

}  // namespace
}  // namespace fortitor::component_desk_test
