// What must not happen, whatever somebody types, names or takes away.
#include <QFile>
#include <QLabel>
#include <QSignalSpy>
#include <QSqlDatabase>
#include <QSqlQuery>

#include "app/plan/lanes_view.h"
#include "app/plan/plan_desk.h"
#include "app/stages/limits_form.h"
#include "app/theme/theme.h"
#include "core/bench/records.h"
#include "core/record/rules.h"
#include "core/standin/benches.h"
#include "core/standin/tension_bench.h"
#include "tests/app/demo_book_copy.h"
#include "tests/app/one_bar.h"

namespace fortitor::solid_test {
namespace {

class Solid : public OneBar {
 protected:
  // Runs SQL behind the book's back, while the window has it.
  void outside(const QString& sql) {
    {
      QSqlDatabase db = QSqlDatabase::addDatabase("QSQLITE", "outside");
      db.setDatabaseName(dir_.path() + "/b.fortitor");
      ASSERT_TRUE(db.open());
      QSqlQuery q(db);
      EXPECT_TRUE(q.exec(sql)) << sql.toStdString();
    }
    QSqlDatabase::removeDatabase("outside");
  }
  Id another(const char* code) {
    TestRecord r = standin::simulate_tension({.seed = 9});
    r.run = fortitor::Run{};
    return *bench_.book()->add_specimen(bench_.book()->specimen(id_)->series, code, r);
  }
};

TEST_F(Solid, ALimitThatContradictsTheOtherIsNotKept) {
  window_->show_specimen(id_, int(Stage::prepare));
  settle();
  type("limit:rm:min", "490 MPa");
  ASSERT_EQ(record().limits.count("rm"), 1u);
  const Id version = bench_.book()->record_version(id_);
  type("limit:rm:max", "63");
  EXPECT_TRUE(window_->message().contains("lies above")) << window_->message().toStdString();
  EXPECT_FALSE(record().limits.at("rm").max);
  EXPECT_EQ(find<QLineEdit>("limit:rm:max")->text(), "63") << "it stays to be mended";
  EXPECT_EQ(bench_.book()->record_version(id_), version);
  type("limit:rm:max", "630");
  EXPECT_TRUE(record().limits.at("rm").max);
  EXPECT_TRUE(bench_.book()->record(id_)->faults.empty());
  EXPECT_TRUE(bench_.book()->verify().empty());
}

TEST_F(Solid, AnyNumberCarriesALimitAndABareRatioIsAskedBack) {
  window_->show_specimen(id_, int(Stage::prepare));
  settle();
  type("limit:a:min", "0.22");
  EXPECT_TRUE(window_->message().contains("as a ratio")) << window_->message().toStdString();
  EXPECT_EQ(record().limits.count("a"), 0u);
  type("limit:a:min", "22");
  ASSERT_EQ(record().limits.count("a"), 1u);
  EXPECT_NEAR(*record().limits.at("a").min->value, 0.22, 1e-12);
  auto* others = find<QComboBox>("limit-other");
  ASSERT_NE(others, nullptr);
  EXPECT_EQ(others->findData("rm"), -1) << "it has its line";
  const int at = others->findData("ag");
  ASSERT_GE(at, 0);
  others->setCurrentIndex(at);
  emit others->activated(at);
  type("limit:ag:min", "8 %");
  ASSERT_EQ(record().limits.count("ag"), 1u);
  EXPECT_NEAR(*record().limits.at("ag").min->value, 0.08, 1e-12);
}

// Rows are kept outside undo, as they are read: the same rules hold for them.
TEST_F(Solid, ARowThatBreaksARuleIsNotKept) {
  const Method& density = *methods::find("density");
  TestRecord r;
  r.method = density.id;
  const Id series = *bench_.book()->add_series(bench_.book()->jobs().front().id, "Planks", density.id);
  const Id piece = *bench_.book()->add_specimen(series, "WP-1", r);
  window_->show_specimen(piece, int(Stage::run));
  settle();
  const TableSpec& table = density.tables.front();
  for (const char* typed : {"-1 g", "0 g"}) {
    bench_.keep_raw("weighed", [&](TestRecord& now) {
      Row row;
      row.cells.set(table.columns.front().path, reading_of(parse_quantity(typed, Dimension::mass).value()));
      now.run.tables[table.id].push_back(row);
    });
    EXPECT_TRUE(window_->message().contains("not above zero")) << window_->message().toStdString();
    EXPECT_TRUE(record().run.rows(table.id).empty());
  }
  EXPECT_TRUE(bench_.book()->record(piece)->run.rows(table.id).empty());
}

// Every field of every method, typed as nobody means it: what is kept can be read again.
TEST_F(Solid, WhatAFieldKeepsCanBeRead) {
  const std::vector<const char*> typed = {
      "-1", "0",   "-5 mm", "1e30",  "1e-30", "-3 kN",     "0 mm",    "99999 km", "1e300", "-40 %", "1/3",
      "-0", "0.0", "-1 g",  "-20 J", "0 Hz",  "-2 mm/min", "-273.16", "-300",     "1,250", "<b>",   "63"};
  for (const UnitSet set : {UnitSet::si, UnitSet::us}) {
    bench_.set_units(set);
    for (const Method* m : methods::all()) {
      standin::SimulateOptions options;
      options.method = m->id;
      const TestRecord r = standin::find_bench(m->standin)->simulate(options);
      for (const FieldSpec& f : m->fields)
        for (const char* text : typed) {
          FieldSpec one = f;
          if (f.kind == FieldKind::readings || f.kind == FieldKind::texts) one.kind = FieldKind::quantity;
          if (f.kind == FieldKind::choice || f.kind == FieldKind::choices || f.kind == FieldKind::picture ||
              f.path == "specimen.id")
            continue;
          const auto value = bench_.parse_field(one, text);
          if (!value) continue;
          TestRecord with = r;
          with.fields.set(f.path, one.kind == f.kind ? *value : FieldValue(Readings{std::get<Reading>(*value)}));
          for (const RecordFault& fault : faults_of(with, *m))
            ADD_FAILURE() << m->id << " " << f.path << " “" << text << "”: " << fault.message;
        }
    }
  }
}

TEST_F(Solid, AnEditThatBreaksARuleChangesNothing) {
  const Id version = bench_.book()->record_version(id_);
  bench_.edit("a length below nothing", [](TestRecord& r) {
    r.fields.set("specimen.gauge_length", Reading{"-50 mm", -50.0, 1.0});
  });
  EXPECT_TRUE(window_->message().contains("not above zero")) << window_->message().toStdString();
  EXPECT_EQ(bench_.book()->record_version(id_), version);
  EXPECT_GT(*record().fields.number("specimen.gauge_length"), 0);
}

TEST_F(Solid, APieceThatCannotBeOpenedSaysSo) {
  const Id other = another("B-2");
  outside(QString("UPDATE record SET json = '{}' WHERE specimen_id = %1").arg(other));
  window_->show_specimen(other);
  EXPECT_TRUE(window_->message().contains("B-2 cannot be opened")) << window_->message().toStdString();
  EXPECT_EQ(bench_.specimen(), id_);
}

TEST_F(Solid, OpeningAPieceSaysWhatTheLogbookSaysOfIt) {
  const Id other = another("B-2");
  outside(QString("UPDATE series SET title = 'Bars of another melt'"));
  window_->show_specimen(other);
  ASSERT_TRUE(until([&] { return window_->message().contains("its series"); })) << window_->message().toStdString();
}

// A change that could not be written is kept until it can be, whatever is opened meanwhile.
TEST_F(Solid, KeptMeansKept) {
  const Id other = another("B-2");
  const QString path = dir_.path() + "/b.fortitor";
  ASSERT_TRUE(QFile::rename(path, dir_.path() + "/aside.fortitor"));
  bench_.edit("a note", [](TestRecord& r) { r.fields.set("specimen.note", std::string("GONE1")); });
  EXPECT_TRUE(window_->message().contains("kept here")) << window_->message().toStdString();
  window_->show_specimen(other);
  bench_.edit("another note", [](TestRecord& r) { r.fields.set("specimen.note", std::string("GONE2")); });
  window_->show_specimen(id_);
  EXPECT_EQ(record().fields.text("specimen.note"), "GONE1");
  EXPECT_EQ(bench_.unsaved(), 2u);
  EXPECT_FALSE(window_->close()) << "closing says what would be lost";
  EXPECT_TRUE(window_->message().contains("2 pieces"));
  ASSERT_TRUE(bench_.move_book(dir_.path() + "/elsewhere.fortitor"));
  EXPECT_EQ(bench_.unsaved(), 0u);
  const auto written = Book::open_read_only((dir_.path() + "/elsewhere.fortitor").toStdString());
  ASSERT_TRUE(written);
  EXPECT_EQ((*written)->record(id_)->fields.text("specimen.note"), "GONE1");
  EXPECT_EQ((*written)->record(other)->fields.text("specimen.note"), "GONE2");
  EXPECT_TRUE((*written)->verify().empty());
}

TEST_F(Solid, ABookThatIsBackGetsWhatWasKept) {
  const QString path = dir_.path() + "/b.fortitor";
  ASSERT_TRUE(QFile::rename(path, dir_.path() + "/aside.fortitor"));
  bench_.edit("a note", [](TestRecord& r) { r.fields.set("specimen.note", std::string("WAITED")); });
  ASSERT_EQ(bench_.unsaved(), 1u);
  ASSERT_TRUE(QFile::rename(dir_.path() + "/aside.fortitor", path));
  ASSERT_TRUE(until([&] { return bench_.unsaved() == 0; }));
  EXPECT_EQ(bench_.book()->record(id_)->fields.text("specimen.note"), "WAITED");
}

TEST_F(Solid, WhatCannotBeWrittenDoesNotHoldUpTheOthers) {
  const Id other = another("B-2");
  outside(QString("CREATE TRIGGER refuse BEFORE INSERT ON record WHEN NEW.specimen_id = %1 BEGIN SELECT RAISE(ABORT, "
                  "'no'); END")
              .arg(id_));
  const QString path = dir_.path() + "/b.fortitor";
  ASSERT_TRUE(QFile::rename(path, dir_.path() + "/aside.fortitor"));
  bench_.edit("a note", [](TestRecord& r) { r.fields.set("specimen.note", std::string("STUCK")); });
  window_->show_specimen(other);
  bench_.edit("another note", [](TestRecord& r) { r.fields.set("specimen.note", std::string("FREE")); });
  ASSERT_EQ(bench_.unsaved(), 2u);
  ASSERT_TRUE(QFile::rename(dir_.path() + "/aside.fortitor", path));
  ASSERT_TRUE(until([&] { return bench_.unsaved() == 1; })) << bench_.unsaved();
  EXPECT_EQ(bench_.book()->record(other)->fields.text("specimen.note"), "FREE");
  EXPECT_TRUE(window_->message().contains("B-2")) << window_->message().toStdString();
  outside("DROP TRIGGER refuse");
  ASSERT_TRUE(until([&] { return bench_.unsaved() == 0; }));
  EXPECT_EQ(bench_.book()->record(id_)->fields.text("specimen.note"), "STUCK");
}

// Names come from anywhere: in bundles, in books of others. They are letters.
TEST_F(Solid, NamesArePlainTextEverywhere) {
  const std::string name = "<img src=\"/dev/zero\"><b>B</b> & <table width=2000000000>";
  Book& book = *bench_.book();
  const Id job = *book.add_job("<i>J</i>", name, "2026-11-27");
  const Id series = *book.add_series(job, name, "tension-metal");
  TestRecord r = standin::simulate_tension({.seed = 9});
  r.run = fortitor::Run{};
  for (const char* path : {"specimen.note", "specimen.material", "specimen.lot"}) r.fields.set(path, name);
  const Id piece = *book.add_specimen(series, name.substr(0, 60), r);
  bench_.touch_docket();
  QSignalSpy planned(&window_->day_board(), &DayBoard::planned);
  for (const char* desk : {"today", "jobs", "plan", "logbook", "kit"}) {
    window_->open(desk);
    QCoreApplication::processEvents();
  }
  ASSERT_TRUE(until([&] { return planned.count() > 0; }));
  window_->show_series(series);
  for (int stage = 0; stage < kStageCount; ++stage) {
    window_->show_specimen(piece, stage);
    QCoreApplication::processEvents();
  }
  settle();
  size_t seen = 0;
  for (QLabel* l : window_->findChildren<QLabel*>()) {
    if (!l->text().contains("<img src=\"/dev/zero\">")) continue;
    ++seen;
    EXPECT_EQ(l->textFormat(), Qt::PlainText) << l->text().toStdString();
  }
  EXPECT_GT(seen, 0u);
  for (QWidget* w : window_->findChildren<QWidget*>())
    EXPECT_FALSE(w->toolTip().contains("<img src=\"/dev/zero\">")) << w->toolTip().toStdString();
  QWidget tipped(window_.get());
  tipped.setToolTip("<img src=\"/dev/zero\">");
  EXPECT_TRUE(tipped.toolTip().contains("&lt;img")) << tipped.toolTip().toStdString();
}

class SolidDemo : public WindowTest {
 protected:
  void lay_out_book(const QString& path) override { ASSERT_EQ(copy_demo_book(path), ""); }
};

// The smallest window with the largest text: what starts and stops a machine is there, and reads whole.
TEST_F(SolidDemo, NothingThatStopsAMachineIsCut) {
  theme::set_scale(2.0);
  theme::settle();
  window_.reset();
  window_ = std::make_unique<MainWindow>(&bench_);
  window_->show();
  window_->resize(1024, 700);
  size_t seen = 0;
  for (const JobOutline& j : bench_.book()->outline())
    for (const SeriesOutline& s : j.series) {
      if (s.specimens.empty()) continue;
      window_->show_specimen(s.specimens.back().id, int(Stage::run));
      QCoreApplication::processEvents();
      settle();
      for (QPushButton* b : window_->findChildren<QPushButton*>()) {
        const QString key = b->property("key").toString();
        if (!b->isVisible() || (key != "run-stop" && key != "run-main" && key != "rig-switch")) continue;
        ++seen;
        EXPECT_EQ(b->visibleRegion().boundingRect(), b->rect()) << s.specimens.back().code << " " << key.toStdString();
        EXPECT_LE(b->fontMetrics().horizontalAdvance(b->text()), b->width() - 8)
            << s.specimens.back().code << " " << b->text().toStdString();
      }
    }
  theme::set_scale(1.0);
  EXPECT_GT(seen, 4u);
}

// A view shows the plan that it was given, however often the board has planned since.
TEST_F(SolidDemo, AHiddenPlanKeepsWhatItPaints) {
  auto* desk = window_->findChild<PlanDesk*>();
  QSignalSpy planned(&window_->day_board(), &DayBoard::planned);
  window_->open("plan");
  ASSERT_TRUE(until([&] { return planned.count() > 0; }));
  LanesView* lanes = desk->lanes();
  ASSERT_NE(lanes->agenda(), nullptr);
  const AgendaPtr shown = lanes->agenda();
  lanes->setFocus();
  QTest::keyClick(lanes, Qt::Key_Right);
  window_->show_today();
  // Fewer tasks than before: numbers of the old plan mean nothing in the new one.
  for (const JobOutline& j : bench_.book()->outline())
    for (const SeriesOutline& s : j.series)
      for (const SpecimenRow& p : s.specimens) (void)bench_.book()->set_summary(p.id, {"2222222", "meets", 0});
  bench_.touch_docket();
  const qsizetype before = planned.count();
  window_->day_board().ask();
  ASSERT_TRUE(until([&] { return planned.count() > before; }));
  EXPECT_NE(window_->day_board().agenda(), shown);
  EXPECT_EQ(lanes->agenda(), shown);
  EXPECT_FALSE(lanes->grab().isNull());
  for (const Qt::Key key : {Qt::Key_Right, Qt::Key_Left, Qt::Key_P}) QTest::keyClick(lanes, key);
}

}  // namespace
}  // namespace fortitor::solid_test
