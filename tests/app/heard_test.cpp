// What somebody hears who does not see the window: every painted part has a name, a value, a place and a press that
// does what a click does; controls can be changed, and what is changed counts as typed.
#include <QAccessible>

#include "app/docket/docket.h"
#include "app/figures/figure_view.h"
#include "app/frame/stage_bar.h"
#include "app/plan/lanes_view.h"
#include "tests/app/demo_book_copy.h"
#include "tests/app/window_fixture.h"

namespace fortitor::heard_test {
namespace {

class Heard : public WindowTest {
 protected:
  void lay_out_book(const QString& path) override { ASSERT_EQ(copy_demo_book(path), ""); }
  QAccessibleInterface* of(QObject* widget) { return QAccessible::queryAccessibleInterface(widget); }
  template <class W>
  W* shown() {
    for (W* w : window_->findChildren<W*>())
      if (w->isVisible()) return w;
    ADD_FAILURE() << "it is not shown";
    return nullptr;
  }
  // The part of that name among the children of a painted widget.
  QAccessibleInterface* part(QObject* widget, const QString& name) {
    QAccessibleInterface* list = of(widget);
    for (int i = 0; i < list->childCount(); ++i)
      if (list->child(i)->text(QAccessible::Name) == name) return list->child(i);
    return nullptr;
  }
  static void act(QAccessibleInterface* on, const QString& what) {
    ASSERT_NE(on, nullptr);
    ASSERT_TRUE(on->actionInterface()->actionNames().contains(what)) << what.toStdString();
    on->actionInterface()->doAction(what);
  }
  void show_piece(const std::string& code, Stage stage) {
    for (const JobOutline& job : bench_.book()->outline())
      for (const SeriesOutline& series : job.series)
        for (const SpecimenRow& s : series.specimens)
          if (s.code == code) window_->show_specimen(s.id, int(stage));
    settle();
  }
};

TEST_F(Heard, TheDocketOpensWhatIsPressed) {
  auto* docket = shown<Docket>();
  QAccessibleInterface* list = of(docket);
  EXPECT_EQ(list->role(), QAccessible::List);
  ASSERT_GT(list->childCount(), 40);
  QAccessibleInterface* piece = part(docket, "HB-01");
  ASSERT_NE(piece, nullptr);
  EXPECT_EQ(piece->text(QAccessible::Description), "meets");
  EXPECT_EQ(piece->parent()->object(), docket);
  EXPECT_EQ(list->indexOfChild(piece) >= 0, true);
  act(piece, QAccessibleActionInterface::pressAction());
  settle();
  EXPECT_EQ(bench_.record().specimen_id(), "HB-01");
  EXPECT_TRUE(part(docket, "HB-01")->state().selected);
  EXPECT_FALSE(part(docket, "HB-02")->state().selected);
  const QRect where = part(docket, "HB-01")->rect();
  EXPECT_EQ(where.size(), docket->row_of(bench_.specimen()).size());
}

TEST_F(Heard, StagesLedgerAndFigureSayWhatTheyShow) {
  show_piece("HB-01", Stage::evaluate);
  auto* bar = shown<StageBar>();
  ASSERT_EQ(of(bar)->childCount(), kStageCount);
  EXPECT_EQ(part(bar, "Evaluate")->role(), QAccessible::PageTab);
  EXPECT_TRUE(part(bar, "Evaluate")->state().selected);
  EXPECT_EQ(part(bar, "Run")->text(QAccessible::Value), "done");
  auto* ledger = shown<LedgerList>();
  const ResultValue* rm = bench_.evaluation()->find("rm");
  QAccessibleInterface* row = part(ledger, "tensile strength");
  ASSERT_NE(row, nullptr);
  const QString heard = row->text(QAccessible::Value);
  EXPECT_TRUE(heard.startsWith(QString::fromStdString(reported(*rm, bench_.record().fields, bench_.units()).text())))
      << heard.toStdString();
  EXPECT_TRUE(heard.contains("±") && heard.endsWith(", meets")) << heard.toStdString();
  act(row, QAccessibleActionInterface::pressAction());
  EXPECT_EQ(ledger->open_key(), "rm") << "its How is open";
  auto* figure = shown<FigureView>();
  int charts = 0;
  for (int i = 0; i < of(figure)->childCount(); ++i) charts += of(figure)->child(i)->role() == QAccessible::Chart;
  EXPECT_GE(charts, 1);
  EXPECT_GT(of(figure)->childCount(), charts + 2) << "landmarks are heard, not the curve alone";
  act(part(bar, "Measure"), QAccessibleActionInterface::pressAction());
  EXPECT_EQ(bench_.stage(), Stage::measure);
  EXPECT_FALSE(part(bar, "Run")->state().selected);
}

TEST_F(Heard, LanesOfTheDayAreHeard) {
  window_->open("plan");
  auto* lanes = shown<LanesView>();
  ASSERT_TRUE(until([&] { return of(lanes)->childCount() > 0; }));
  QAccessibleInterface* bar = of(lanes)->child(0);
  EXPECT_TRUE(bar->text(QAccessible::Value).contains("–")) << "from when to when";
  act(bar, QAccessibleActionInterface::pressAction());
  EXPECT_TRUE(lanes->selected());
  EXPECT_TRUE(of(lanes)->child(0)->state().selected);
}

TEST_F(Heard, WhatIsSetFromOutsideCountsAsTyped) {
  show_piece("HB-03", Stage::prepare);
  QLineEdit* material = nullptr;
  for (QLineEdit* e : window_->findChildren<QLineEdit*>())
    if (e->isVisible() && of(e)->text(QAccessible::Name) == "Material") material = e;
  ASSERT_NE(material, nullptr);
  ASSERT_NE(of(material)->editableTextInterface(), nullptr);
  of(material)->editableTextInterface()->replaceText(0, of(material)->textInterface()->characterCount(), "C45");
  act(of(material), QAccessibleActionInterface::pressAction());
  EXPECT_EQ(bench_.record().fields.text("specimen.material"), "C45");
  QComboBox* rule = nullptr;
  for (QComboBox* b : window_->findChildren<QComboBox*>())
    if (b->isVisible() && of(b)->text(QAccessible::Name) == "Decision rule") rule = b;
  ASSERT_NE(rule, nullptr);
  const QString before = of(rule)->text(QAccessible::Description);
  act(of(rule), QAccessibleActionInterface::increaseAction());
  settle();
  EXPECT_FALSE(bench_.record().fields.text("settings.decision").empty()) << before.toStdString();
}

TEST_F(Heard, ATickIsAClick) {
  QCheckBox box("&Guard closed");
  int clicks = 0;
  QObject::connect(&box, &QCheckBox::clicked, [&] { ++clicks; });
  EXPECT_EQ(of(&box)->text(QAccessible::Name), "Guard closed");
  act(of(&box), QAccessibleActionInterface::toggleAction());
  EXPECT_TRUE(box.isChecked());
  EXPECT_TRUE(of(&box)->state().checked);
  EXPECT_EQ(clicks, 1);
  box.setEnabled(false);
  EXPECT_TRUE(of(&box)->actionInterface()->actionNames().isEmpty());
}

TEST_F(Heard, APassphraseIsNotReadOut) {
  QLineEdit line("secret");
  line.setEchoMode(QLineEdit::Password);
  EXPECT_FALSE(of(&line)->textInterface()->text(0, 6).contains("secret"));
  EXPECT_TRUE(of(&line)->state().passwordEdit);
}

}  // namespace
}  // namespace fortitor::heard_test
