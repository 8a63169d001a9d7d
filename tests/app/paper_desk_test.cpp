// A whole job of paper in the real window: who asked, what is demanded, keys, signatures, documents, photographs,
// labels scanned back.
#include <QClipboard>
#include <QFile>
#include <QLabel>
#include <QRegularExpression>

#include "app/frame/find_box.h"
#include "app/frame/specimen_desk.h"
#include "app/job/completeness_view.h"
#include "app/job/job_desk.h"
#include "app/laboratory/demand_editor.h"
#include "app/laboratory/laboratory_desk.h"
#include "app/model/my_key.h"
#include "app/photographs/photographs.h"
#include "core/standin/tension_bench.h"
#include "store/keys.h"
#include "tests/app/window_fixture.h"

namespace fortitor::paper_desk_test {
namespace {

class PaperDesk : public WindowTest {
 protected:
  void SetUp() override {
    qputenv("XDG_CONFIG_HOME", (dir_.path() + "/config").toUtf8());  // keys of the test are nobody's
    WindowTest::SetUp();
    Book& book = *bench_.book();
    job_ = *book.add_job("TC-031", "Hanger bolts");
    series_ = *book.add_series(job_, "Tension", "tension-metal");
    for (int n = 1; n <= 2; ++n) {
      TestRecord r = standin::simulate_tension({.seed = uint64_t(2 + n)});
      r.job = "TC-031";
      r.operator_name = "R. Vale";
      r.tested_at = "2026-11-24T09:00:00";
      for (const Finding& f : methods::evaluate(r).findings)
        if (f.severity == Severity::check) r.answers.push_back({f.code, "accept", "seen", "R. Vale", "2026-11-24"});
      const std::string code = "HB-0" + std::to_string(n);
      TestRecord first = r;
      first.run = {};
      pieces_.push_back(*book.add_specimen(series_, code, first));
      ASSERT_TRUE(book.store_run(pieces_.back(), *r.run.samples(), "stand-in"));
      r.fields.set("specimen.id", code);
      ASSERT_TRUE(book.save_record(pieces_.back(), 0, r, {"1111110", "none", 0}, "tested"));
    }
    bench_.touch_docket();
  }
  void TearDown() override {
    WindowTest::TearDown();
    qunsetenv("XDG_CONFIG_HOME");
  }
  Papers papers() { return Papers(*bench_.book()); }
  void open_job() {
    QSignalSpy shown(desk(), &JobDesk::shown);
    window_->open("job", job_);
    ASSERT_TRUE(shown.wait(30000));
  }
  JobDesk* desk() { return window_->findChild<JobDesk*>(); }
  LaboratoryDesk* laboratory() { return window_->findChild<LaboratoryDesk*>(); }
  void choose(const QString& key, const QString& words) {
    auto* box = find<QComboBox>(key);
    ASSERT_NE(box, nullptr);
    const int at = box->findText(words, Qt::MatchContains);
    ASSERT_GE(at, 0) << words.toStdString();
    box->setCurrentIndex(at);
    emit box->activated(at);
  }
  void sign_all(const QString& passphrase = {}) {
    for (Id piece : pieces_) {
      window_->show_specimen(piece, int(Stage::sign_off));
      settle();
      ASSERT_TRUE(until([&] { return ready("sign"); }));
      if (!passphrase.isEmpty()) {
        type("sign-passphrase", passphrase);  // Enter signs
      } else {
        click("sign");
      }
      ASSERT_TRUE(bench_.signed_off()) << window_->message().toStdString();
    }
  }
  void give_key(const QString& name, const QString& passphrase) {
    window_->open("laboratory", 0, int(LaboratoryDesk::Part::people));
    ASSERT_TRUE(until([&] { return laboratory()->findChild<QPushButton*>() != nullptr; }));
    click("entry-new");
    QCoreApplication::processEvents();
    type("settings.name", name);
    QCoreApplication::processEvents();
    for (const char* role : {"tests", "signs", "keeps"}) {
      for (auto* b : laboratory()->findChildren<QPushButton*>())
        if (b->property("word").toString() == role && b->isVisible()) {
          QTest::mouseClick(b, Qt::LeftButton);
          break;
        }
      QCoreApplication::processEvents();
    }
    ASSERT_EQ(papers().entry(lab::kPerson, name.toStdString())->text("roles"), "tests;signs;keeps");
    find<QLineEdit>("key-passphrase")->setText(passphrase);
    find<QLineEdit>("key-again")->setText(passphrase + "x");
    click("key-give");
    EXPECT_TRUE(window_->message().contains("differ")) << window_->message().toStdString();
    QCoreApplication::processEvents();
    find<QLineEdit>("key-passphrase")->setText(passphrase);
    find<QLineEdit>("key-again")->setText(passphrase);
    click("key-give");
    ASSERT_FALSE(keys::current(*papers().entry(lab::kPerson, name.toStdString())).empty())
        << window_->message().toStdString();
  }

  Id job_ = 0, series_ = 0;
  std::vector<Id> pieces_;
};

TEST_F(PaperDesk, ACustomerTypedOnAJobIsSeenEverywhereAndFound) {
  open_job();
  type("settings.customer", "Upper Station Works");
  type("settings.order", "USW 4711");
  choose("settings.condition", "damaged");
  QCoreApplication::processEvents();
  type("settings.damage", "two are bent");
  const auto paper = papers().job("TC-031");
  EXPECT_EQ(paper->text("customer"), "Upper Station Works");
  EXPECT_EQ(paper->text("damage"), "two are bent");
  EXPECT_TRUE(says("Upper Station Works · order USW 4711"));
  window_->show_jobs();
  EXPECT_TRUE(until([&] { return says("Upper Station Works"); }));
  window_->show_today();
  EXPECT_TRUE(until([&] { return says("Upper Station Works"); }));
  QTest::keyClick(window_.get(), Qt::Key_K, Qt::ControlModifier);
  QTest::keyClicks(window_->find_box()->line(), "upper station");
  ASSERT_GT(window_->find_box()->list()->count(), 0);
  QTest::keyClick(window_->find_box()->line(), Qt::Key_Return);
  EXPECT_EQ(window_->desk_in_hand(), "job");
  // A label that is scanned types its address and Enter.
  QTest::keyClick(window_.get(), Qt::Key_K, Qt::ControlModifier);
  QTest::keyClicks(window_->find_box()->line(), "fortitor:TC-031/HB-02");
  QTest::keyClick(window_->find_box()->line(), Qt::Key_Return);
  EXPECT_EQ(window_->desk_in_hand(), "specimen");
  EXPECT_EQ(bench_.specimen(), pieces_[1]);
}

TEST_F(PaperDesk, ADemandSheetIsWrittenChosenAndShownPieceByPiece) {
  window_->open("laboratory", 0, int(LaboratoryDesk::Part::demands));
  click("sheet-new");
  QCoreApplication::processEvents();
  type("demand-name", "Hanger bolts");
  type("demand-source", "drawing TC-7");
  choose("demand-result", "tensile strength");
  type("demand-min", "600 mm");
  click("demand-take");
  EXPECT_TRUE(window_->message().contains("min")) << window_->message().toStdString();
  type("demand-min", "900 MPa");
  type("demand-pieces", "2");
  click("demand-take");
  EXPECT_EQ(window_->message(), "");
  choose("demand-result", "elongation after fracture");
  type("demand-min", "10 %");
  click("demand-take");
  click("demand-keep");
  QCoreApplication::processEvents();
  const auto sheets = papers().sheets();
  const auto kept =
      std::find_if(sheets->begin(), sheets->end(), [](const auto& s) { return s.name == "Hanger bolts"; });
  ASSERT_NE(kept, sheets->end());
  ASSERT_EQ(kept->rows.size(), 2u);
  EXPECT_EQ(kept->rows[0].pieces, 2);

  open_job();
  QSignalSpy shown(desk(), &JobDesk::shown);
  choose("demand-of:" + QString::number(series_), "Hanger bolts");
  ASSERT_TRUE(shown.wait(30000));
  EXPECT_EQ(*bench_.book()->typed_record(pieces_[0])->limits.at("rm").min->value, 900);
  auto* view = find<CompletenessView>("completeness:" + QString::number(series_));
  ASSERT_NE(view, nullptr);
  EXPECT_TRUE(view->accessibleName().contains("2 pieces fail")) << view->accessibleName().toStdString();
  QTest::mouseClick(view, Qt::LeftButton, {}, view->cell(0, 1).center());
  EXPECT_EQ(window_->desk_in_hand(), "specimen");
  EXPECT_EQ(bench_.specimen(), pieces_[1]);
  // Who comes later gets the demand of the series.
  const auto late = bench_.book()->add_specimen(series_, "HB-09", [] {
    TestRecord r;
    r.method = "tension-metal";
    return r;
  }());
  EXPECT_EQ(*bench_.book()->typed_record(*late)->limits.at("rm").min->value, 900);
  EXPECT_EQ(bench_.book()->typed_record(*late)->fields.text("settings.demand"), "Hanger bolts · drawing TC-7");
}

TEST_F(PaperDesk, DocumentsAreIssuedReplacedAndWithdrawnByHand) {
  open_job();
  click("document-issue");
  ASSERT_TRUE(until([&] { return window_->message().contains("tested and not signed"); }))
      << window_->message().toStdString();
  EXPECT_TRUE(papers().documents().empty());
  sign_all();
  open_job();
  EXPECT_TRUE(until([&] { return says("Not entered yet"); }));
  click("document-issue");
  ASSERT_TRUE(until([&] { return window_->message().contains("2026-0001 is issued"); }))
      << window_->message().toStdString();
  click("document-replace:2026-0001");
  QCoreApplication::processEvents();
  click("document-issue");
  ASSERT_TRUE(until([&] { return window_->message().contains("for a reason"); })) << window_->message().toStdString();
  find<QLineEdit>("document-reason")->setText("the order was missing");
  choose("document-language", "Deutsch");
  click("document-issue");
  ASSERT_TRUE(until([&] { return window_->message().contains("2026-0002 is issued"); }))
      << window_->message().toStdString();
  EXPECT_EQ(papers().document("2026-0001")->state, "replaced");
  EXPECT_EQ(papers().document("2026-0002")->language, "de");
  click("document-withdraw:2026-0002");
  EXPECT_TRUE(window_->message().contains("for a reason"));
  find<QLineEdit>("document-reason")->setText("pieces mixed up");
  click("document-withdraw:2026-0002");
  QCoreApplication::processEvents();
  EXPECT_EQ(papers().document("2026-0002")->state, "withdrawn");
  window_->open("laboratory", 0, int(LaboratoryDesk::Part::documents));
  EXPECT_TRUE(until([&] { return says("replaced by 2026-0002"); }));
  EXPECT_TRUE(says("withdrawn in place of 2026-0001: pieces mixed up"));
  const QString draft = dir_.path() + "/draft.pdf";
  desk()->write_draft(draft);
  EXPECT_TRUE(until([&] { return QFile::exists(draft) && window_->message().contains("Draft written"); }));
  EXPECT_TRUE(bench_.book()->verify().empty());
}

TEST_F(PaperDesk, SigningAsksForThePassphraseAndAnotherReleases) {
  give_key("R. Vale", "upper station, platform 2");
  EXPECT_TRUE(QFile::exists(QString::fromStdString(keys::path_of(keys_folder(), "R. Vale"))));
  window_->show_specimen(pieces_[0], int(Stage::sign_off));
  settle();
  ASSERT_TRUE(until([&] { return ready("sign"); }));
  click("sign");
  EXPECT_TRUE(window_->message().contains("passphrase")) << window_->message().toStdString();
  type("sign-passphrase", "not this one at all");
  EXPECT_TRUE(window_->message().contains("The passphrase is wrong")) << window_->message().toStdString();
  EXPECT_FALSE(bench_.signed_off());
  type("sign-passphrase", "upper station, platform 2");
  ASSERT_TRUE(bench_.signed_off()) << window_->message().toStdString();
  EXPECT_TRUE(until([&] { return says("with a key"); }));
  EXPECT_FALSE(window_->findChild<SignOffStage*>()->findChild<QPushButton*>("release")) << "never the same person";
  give_key("M. Orr", "a long enough phrase");
  bench_.book()->set_operator("M. Orr");
  window_->show_specimen(pieces_[0], int(Stage::sign_off));
  settle();
  window_->part<SignOffStage>()->refresh();
  type("sign-passphrase", "a long enough phrase");
  EXPECT_EQ(window_->message(), "Released.");
  EXPECT_TRUE(until([&] { return says("Released by M. Orr"); }));
  EXPECT_TRUE(bench_.book()->verify().empty());
  // Somebody who is none of the book's people.
  bench_.book()->set_operator("N. Obody");
  window_->show_specimen(pieces_[1], int(Stage::sign_off));
  settle();
  ASSERT_TRUE(until([&] { return ready("sign"); }));
  click("sign");
  EXPECT_TRUE(window_->message().contains("N. Obody")) << window_->message().toStdString();
  EXPECT_FALSE(bench_.signed_off());
}

TEST_F(PaperDesk, RightsAreAskedAtTheMachineAndInTheKit) {
  lab::Entry keeper = lab::entry_of(lab::kPerson, "M. Orr");
  keeper.fields.set("settings.roles", std::string("keeps"));
  ASSERT_TRUE(papers().save(keeper));
  TestRecord r = standin::simulate_tension({.seed = 6});
  r.run = fortitor::Run{};
  r.events.clear();
  for (const CheckItem& c : methods::find(r.method)->guide(Stage::set_up).checklist)
    r.fields.set("settings.checks." + c.id, true);
  const Id fresh = *bench_.book()->add_specimen(series_, "HB-05", r);
  window_->show_specimen(fresh, int(Stage::run));
  settle();
  window_->part<RunStage>()->setFocus();
  for (int key : {Qt::Key_T, Qt::Key_Z, Qt::Key_B, Qt::Key_X, Qt::Key_Space})
    QTest::keyClick(window_->part<RunStage>(), Qt::Key(key));
  EXPECT_TRUE(window_->message().contains("R. Vale may not start tests")) << window_->message().toStdString();
  EXPECT_FALSE(window_->part<RunStage>()->running());
  window_->open("kit");
  bench_.book()->set_operator("M. Orr");
  kit::Item caliper;
  caliper.kind = "caliper";
  caliper.fields.set("equipment.caliper.id", std::string("CAL-1"));
  ASSERT_TRUE(bench_.book()->save_item(caliper, "entered"));
  bench_.book()->set_operator("R. Vale");
  window_->open("kit");
  click("kit-retire");
  EXPECT_TRUE(window_->message().contains("R. Vale may not change what the book keeps"))
      << window_->message().toStdString();
}

TEST_F(PaperDesk, WhatADocumentWillLackIsTypedAtSignOff) {
  lab::Entry head = lab::entry_of(lab::kHead, std::string(lab::kLetterhead));
  head.fields.set("settings.laboratory", std::string("Tarnfell Laboratory"));
  head.fields.set("settings.address", std::string("Lower Station 2"));
  ASSERT_TRUE(papers().save(head));
  window_->show_specimen(pieces_[0], int(Stage::sign_off));
  settle();
  EXPECT_TRUE(until([&] { return says("will lack the customer"); }));
  type("settings.customer", "Upper Station Works");
  EXPECT_TRUE(until([&] { return says("will lack the day on which the items came"); }));
  EXPECT_EQ(papers().job("TC-031")->text("customer"), "Upper Station Works");
}

TEST_F(PaperDesk, PhotographsAreTakenInMeasuredAndTakenAway) {
  QImage image(1200, 800, QImage::Format_RGB32);
  image.fill(Qt::lightGray);
  const QString path = dir_.path() + "/side.png", text = dir_.path() + "/text.png";
  ASSERT_TRUE(image.save(path));
  QFile file(text);
  ASSERT_TRUE(file.open(QIODevice::WriteOnly));
  file.write("no picture");
  file.close();
  window_->show_specimen(pieces_[0], int(Stage::after));
  settle();
  window_->take_files({text});
  EXPECT_TRUE(window_->message().contains("no picture that can be read"));
  window_->take_files({path});
  ASSERT_EQ(papers().photographs(pieces_[0]).size(), 1u);
  EXPECT_EQ(papers().photographs(pieces_[0])[0].stage, int(Stage::after));
  PhotographView view(&bench_, papers().photographs(pieces_[0])[0], window_.get());
  view.set_scale("10 mm");
  EXPECT_TRUE(view.said().contains("two marks"));
  view.mark({100, 100});
  view.mark({900, 100});
  view.set_scale("ten");
  view.set_scale("20.0 mm");
  EXPECT_TRUE(view.said().contains("The scale is set")) << view.said().toStdString();
  view.mark({100, 200});
  view.mark({100, 440});
  EXPECT_TRUE(view.said().contains("6.0")) << view.said().toStdString();
  const size_t before = record().fields.readings("specimen.after.diameter").size();
  view.take_reading("specimen.after.diameter");
  const Readings after = record().fields.readings("specimen.after.diameter");
  ASSERT_EQ(after.size(), before + 1);
  EXPECT_NEAR(*after.back().value, 6.0, 0.051);
  EXPECT_EQ(papers().photographs(pieces_[0])[0].pixels_per_mm, 40);
  QApplication::clipboard()->setImage(image);
  QTest::keyClick(window_.get(), Qt::Key_V, Qt::ControlModifier | Qt::ShiftModifier);
  EXPECT_TRUE(until([&] { return papers().photographs(pieces_[0]).size() == 2; }));
}

}  // namespace
}  // namespace fortitor::paper_desk_test
