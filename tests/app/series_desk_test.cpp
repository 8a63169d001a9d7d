// The series desk: what is looked at stays with the series, outliers want a word, the report is written once.
#include <QComboBox>
#include <QFile>
#include <QInputDialog>
#include <QMenu>
#include <QTableWidget>
#include <QTimer>

#include "app/series/common_page.h"
#include "app/series/series_page.h"
#include "core/standin/tension_bench.h"
#include "tests/app/window_fixture.h"

namespace fortitor::series_desk_test {
namespace {

class SeriesDesk : public WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    Book& book = *bench_.book();
    const Id job = *book.add_job("TC-095", "Tubes");
    series_ = *book.add_series(job, "Crush", "crush-shell");
    const double peaks[] = {18000, 18120, 17930, 18060, 18010, 17960, 18090, 21500};
    for (size_t i = 0; i < std::size(peaks); ++i) {
      TestRecord r;
      r.method = "crush-shell";
      r.fields.set("specimen.id", "T-" + std::to_string(i + 1));
      const std::string typed = std::to_string(int(peaks[i])) + " N";
      r.fields.set("run.peak_force", reading_of(parse_quantity(typed, Dimension::force).value()));
      ASSERT_TRUE(book.add_specimen(series_, "T-" + std::to_string(i + 1), r));
    }
    page_ = window_->part<SeriesPage>();
    show();
  }
  void show() {
    QSignalSpy shown(page_, &SeriesPage::shown);
    window_->show_series(series_);
    ASSERT_TRUE(until([&] { return shown.count() > 0; }));
  }
  // Types into the next dialog and accepts it.
  void answer_next(const QString& text) {
    auto* watch = new QTimer(qApp);
    QObject::connect(watch, &QTimer::timeout, qApp, [text, watch] {
      auto* dialog = qobject_cast<QInputDialog*>(QApplication::activeModalWidget());
      if (dialog == nullptr) return;
      watch->deleteLater();
      dialog->setTextValue(text);
      dialog->accept();
    });
    watch->start(10);
  }
  Id series_ = 0;
  SeriesPage* page_ = nullptr;
};

TEST_F(SeriesDesk, NumbersFigureAndWordsAreThere) {
  const Evaluation& e = page_->view().judged;
  EXPECT_EQ(e.find("n")->value, 8);
  EXPECT_FALSE(e.figures.empty());
  ASSERT_NE(e.finding("outlier"), nullptr);
  EXPECT_EQ(page_->table()->rowCount(), 8);
  EXPECT_EQ(page_->table()->item(0, 1)->text(), "18.00 kN");
}

TEST_F(SeriesDesk, AnOutlierIsAnsweredAndTheAnswerStays) {
  QSignalSpy shown(page_, &SeriesPage::shown);
  answer_next("the wall of this heat is thicker");
  click("series-answer");
  ASSERT_TRUE(until([&] { return shown.count() > 0; }));
  EXPECT_TRUE(page_->view().judged.open_judgements().empty());
  const auto kept = bench_.book()->series_record(series_);
  ASSERT_TRUE(kept);
  ASSERT_EQ(kept->answers.size(), 1u);
  EXPECT_EQ(kept->answers[0].reason, "the wall of this heat is thicker");
  EXPECT_EQ(kept->answers[0].by, "R. Vale");
  window_->show_today();
  show();
  EXPECT_TRUE(page_->view().judged.open_judgements().empty()) << "it is in the book";
}

TEST_F(SeriesDesk, TheChartOverTimeMayTakeTheWholeBook) {
  Book& book = *bench_.book();
  // Six pieces of the same material in another job, two of another material, and one that is practice.
  for (const auto& [code, material, n] :
       {std::tuple{"TC-096", "paper tube", 6}, {"TC-097", "steel tube", 2}, {"PRACTICE", "Paper tube", 1}}) {
    const Id series = *book.add_series(*book.add_job(code, "Elsewhere"), "Crush", "crush-shell");
    for (int i = 0; i < n; ++i) {
      TestRecord r;
      r.method = "crush-shell";
      r.tested_at = "2026-10-0" + std::to_string(i + 1) + "T09:00:00";
      const std::string id = std::string(code) + "-" + std::to_string(i);
      r.fields.set("specimen.id", id);
      r.fields.set("specimen.material", std::string(material));
      r.fields.set("run.peak_force",
                   reading_of(parse_quantity(std::to_string(18000 + 40 * (i % 3)) + " N", Dimension::force).value()));
      ASSERT_TRUE(book.add_specimen(series, id, r));
    }
  }
  const auto pieces = book.specimens(series_);
  for (size_t i = 0; i < pieces.size(); ++i) {
    auto r = *book.record(pieces[i].id);
    r.fields.set("specimen.material", std::string("Paper tube"));
    r.tested_at = "2026-11-0" + std::to_string(i + 1) + "T09:00:00";
    ASSERT_TRUE(book.save_record(pieces[i].id, 0, r, {}, "material", ""));
  }
  show();
  const auto named = [&] {
    for (const Figure& f : page_->view().judged.figures)
      if (f.id == "over-time") return f.panels[0].x.categories.size();
    return size_t(0);
  };
  EXPECT_EQ(named(), 8u);
  auto* over = find<QComboBox>("series-over");
  ASSERT_NE(over, nullptr);
  EXPECT_EQ(over->currentText(), "this series");
  QSignalSpy shown(page_, &SeriesPage::shown);
  over->setFocus();
  QTest::keyClick(over, Qt::Key_Down);
  ASSERT_TRUE(until([&] { return shown.count() > 0; }));
  EXPECT_EQ(named(), 14u) << "eight of the series and six from elsewhere";
  EXPECT_EQ(page_->view().judged.find("n")->value, 8) << "the statistics stay those of the series";
  EXPECT_EQ(page_->table()->rowCount(), 8);
  EXPECT_EQ(book.series_record(series_)->fields.text("settings.over"), "book");
}

TEST_F(SeriesDesk, TheResultLookedAtIsThereAgainTomorrow) {
  auto* keys = find<QComboBox>("series-key");
  ASSERT_NE(keys, nullptr);
  const int other = keys->findData("crush_energy");
  ASSERT_GE(other, 0);
  QSignalSpy shown(page_, &SeriesPage::shown);
  keys->setCurrentIndex(other);
  emit keys->activated(other);
  ASSERT_TRUE(until([&] { return shown.count() > 0; }));
  EXPECT_EQ(page_->view().key, "crush_energy");
  window_->show_today();
  show();
  EXPECT_EQ(page_->view().key, "crush_energy");
}

TEST_F(SeriesDesk, TheReportIsWrittenOnceInEitherForm) {
  for (const char* ending : {".pdf", ".html"}) {
    const QString path = dir_.path() + "/report" + ending;
    const auto done = page_->write_report(path);
    ASSERT_TRUE(done) << done.error().message;
    QFile file(path);
    ASSERT_TRUE(file.open(QIODevice::ReadOnly));
    EXPECT_GT(file.size(), 2000);
    EXPECT_FALSE(page_->write_report(path)) << "nothing is overwritten";
  }
  EXPECT_FALSE(page_->write_report("/no/such/place/report.pdf"));
}

TEST_F(SeriesDesk, FurtherResultsStandBesideItAndAreRemembered) {
  Book& book = *bench_.book();
  for (const char* title : {"Bars", "More bars"}) {
    series_ = *book.add_series(*book.add_job(std::string("TC-") + title, title), title, "tension-metal");
    for (unsigned seed : {1u, 2u, 3u}) {
      TestRecord r = standin::simulate_tension({.seed = seed});
      const Id id = *book.add_specimen(series_, "S-" + std::to_string(seed), r);
      ASSERT_TRUE(book.store_run(id, *r.run.samples(), "made"));
      ASSERT_TRUE(book.save_record(id, 0, r, {}, "made"));
    }
  }
  show();
  const int before = page_->table()->columnCount();
  auto* menu = find<QPushButton>("series-columns")->menu();
  const auto tick = [&](const QString& name) {
    emit menu->aboutToShow();
    for (QAction* a : menu->actions())
      if (a->text().endsWith(name)) return a->toggle();
    ADD_FAILURE() << name.toStdString();
  };
  tick("upper yield strength");
  tick("modulus of elasticity");
  ASSERT_EQ(page_->table()->columnCount(), before + 2);
  // In the order of the ledger, whatever was ticked first, each with its own number.
  EXPECT_EQ(page_->table()->horizontalHeaderItem(before)->text(), "E");
  const Evaluation& e = page_->view().evaluations.front();
  EXPECT_TRUE(page_->table()->item(0, before)->text().startsWith(QString::fromStdString(
      reported(*e.find("e_modulus"), page_->view().records.front().fields, UnitSet::si).number)));
  // The reason of a piece that is left out is still typed where it was.
  EXPECT_EQ(page_->table()->horizontalHeaderItem(before - 1)->text(), "left out because");
  // Another series of that method has them too, one of another method has not.
  window_->show_today();
  show();
  EXPECT_EQ(page_->table()->columnCount(), before + 2);
  tick("modulus of elasticity");
  EXPECT_EQ(page_->table()->columnCount(), before + 1);
}

TEST_F(SeriesDesk, UnitsChangeTheTable) {
  QTest::keyClick(window_.get(), Qt::Key_U, Qt::ControlModifier);
  EXPECT_TRUE(page_->table()->item(0, 1)->text().contains("lbf")) << page_->table()->item(0, 1)->text().toStdString();
}

// Two windows on one book: the second reads and says who writes.
TEST_F(SeriesDesk, ASecondWindowReadsAndSaysWhoWrites) {
  Workbench other;
  const auto opened = other.open(dir_.path() + "/b.fortitor", "N. Ext");
  ASSERT_TRUE(opened) << opened.error().message;
  EXPECT_TRUE(other.book()->read_only());
  ASSERT_FALSE(other.book()->notices().empty());
  EXPECT_NE(other.book()->notices()[0].find("process"), std::string::npos);
  QSignalSpy said(&other, &Workbench::message);
  other.select(bench_.book()->specimens(series_).front().id);
  ASSERT_TRUE(QTest::qWaitFor([&] { return other.evaluation() != nullptr; }, 20000));
  const auto before = bench_.book()->record_version(bench_.book()->specimens(series_).front().id);
  other.edit("a note", [](TestRecord& r) { r.fields.set("specimen.note", std::string("from the second window")); });
  EXPECT_EQ(bench_.book()->record_version(bench_.book()->specimens(series_).front().id), before);
  bool told = false;
  for (const auto& s : said) told = told || s[0].toString().contains("reading only");
  EXPECT_TRUE(told);
}

TEST_F(SeriesDesk, AVersionThatOvertookIsSaidAndCanBeTakenBack) {
  const Id piece = bench_.book()->specimens(series_).front().id;
  window_->show_specimen(piece);
  settle();
  // Someone saves behind the window's back, through the same book.
  TestRecord theirs = *bench_.book()->record(piece);
  theirs.fields.set("specimen.note", std::string("theirs"));
  ASSERT_TRUE(bench_.book()->save_record(piece, 0, theirs, {}, "theirs"));
  QSignalSpy said(&bench_, &Workbench::message);
  bench_.edit("mine", [](TestRecord& r) { r.fields.set("specimen.note", std::string("mine")); });
  bool told = false;
  for (const auto& s : said) told = told || s[0].toString().contains("Someone else saved version 2");
  EXPECT_TRUE(told);
  EXPECT_EQ(bench_.book()->record(piece)->fields.text("specimen.note"), "mine");
  bench_.back_to(2);
  EXPECT_EQ(bench_.book()->record(piece)->fields.text("specimen.note"), "theirs");
  EXPECT_EQ(bench_.book()->versions(piece).size(), 4u) << "nothing is ever overwritten";
}

// What the series must meet is typed on its common page and stands beside its numbers.
TEST_F(SeriesDesk, ADemandOnTheWholeStandsBesideItsNumber) {
  window_->open("common", series_);
  QCoreApplication::processEvents();
  QSignalSpy kept(window_->findChild<CommonPage*>(), &CommonPage::kept);
  type("limit:peak_force.mean:min", "17.5 kN");
  ASSERT_TRUE(until([&] { return kept.count() > 0; }));
  type("limit:peak_force.sd:max", "50 N");
  ASSERT_TRUE(until([&] { return kept.count() > 1; }));
  type("limit:peak_force.mean:max", "17 kN");  // above its lower one: asked back, not kept
  EXPECT_EQ(kept.count(), 2);
  show();
  EXPECT_EQ(page_->view().judged.find("mean")->verdict, Verdict::meets);
  EXPECT_EQ(page_->view().judged.find("sd")->verdict, Verdict::fails);
  EXPECT_TRUE(says("≥ 17.50 kN: meets"));
  EXPECT_TRUE(says(": fails"));
  for (Id id : page_->view().specimens) EXPECT_TRUE(bench_.book()->record(id)->limits.empty());
  EXPECT_TRUE(bench_.book()->verify().empty());
}

}  // namespace
}  // namespace fortitor::series_desk_test
