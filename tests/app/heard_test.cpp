// What somebody hears who does not see the window: every painted part has a name, a value, a place and a press that
// does what a click does; controls can be changed, and what is changed counts as typed.
#include <QAccessible>

#include "app/callout/call_out_panel.h"
#include "app/docket/docket.h"
#include "app/figures/figure_view.h"
#include "app/frame/stage_bar.h"
#include "app/job/completeness_view.h"
#include "app/kit/kit_lives.h"
#include "app/logbook/log_view.h"
#include "app/plan/lanes_view.h"
#include "app/reference/reference_ranges.h"
#include "app/theme/heard_changes.h"
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

TEST_F(Heard, RowsOfACallOutSheet) {
  show_piece("HH-01", Stage::run);
  auto* rows = shown<RowTable>();
  ASSERT_GE(of(rows)->childCount(), 3);
  QAccessibleInterface* second = part(rows, "2");
  ASSERT_NE(second, nullptr);
  EXPECT_TRUE(second->text(QAccessible::Value).contains(rows->text().split('\n').at(2).split('\t').at(1)));
  EXPECT_FALSE(second->state().selected);
  act(second, QAccessibleActionInterface::pressAction());
  EXPECT_EQ(rows->chosen(), std::optional<size_t>(1));
  EXPECT_TRUE(part(rows, "2")->state().selected);
}

TEST_F(Heard, TheLogbookIsReadLineByLine) {
  window_->open("logbook");
  auto* log = shown<LogView>();
  ASSERT_TRUE(until([&] { return of(log)->childCount() > 20; }));
  EXPECT_EQ(of(log)->child(0)->role(), QAccessible::Heading) << "a day";
  QAccessibleInterface* line = of(log)->child(1);
  EXPECT_EQ(line->text(QAccessible::Name), QString::fromStdString(log->lines().front().what));
  EXPECT_TRUE(line->text(QAccessible::Value).contains(QString::fromStdString(log->lines().front().who)));
  EXPECT_TRUE(line->actionInterface()->actionNames().isEmpty()) << "it is only read";
}

TEST_F(Heard, EveryCellOfTheCompleteness) {
  Id job = 0;
  for (const JobOutline& j : bench_.book()->outline())
    if (j.job.code == "TC-031") job = j.job.id;
  window_->open("job", job);
  ASSERT_TRUE(until([&] { return window_->findChild<CompletenessView*>() != nullptr; }));
  CompletenessView* table = nullptr;
  ASSERT_TRUE(until([&] {
    for (auto* t : window_->findChildren<CompletenessView*>())
      if (t->isVisible() && of(t)->childCount() > 2) table = t;
    return table != nullptr;
  }));
  EXPECT_EQ(of(table)->child(0)->role(), QAccessible::Heading);
  QAccessibleInterface* cell = of(table)->child(1);
  const QString piece = cell->text(QAccessible::Name).section(", ", 0, 0);
  EXPECT_FALSE(cell->text(QAccessible::Value).isEmpty());
  act(cell, QAccessibleActionInterface::pressAction());
  settle();
  EXPECT_EQ(QString::fromStdString(bench_.record().specimen_id()), piece);
}

TEST_F(Heard, ItemsOfTheKitAndMaterials) {
  window_->open("kit");
  auto* lives = shown<KitLives>();
  QAccessibleInterface* item = part(lives, "EX-25");
  ASSERT_NE(item, nullptr);
  EXPECT_TRUE(item->text(QAccessible::Value).contains("overdue")) << item->text(QAccessible::Value).toStdString();
  act(item, QAccessibleActionInterface::pressAction());
  EXPECT_TRUE(part(lives, "EX-25")->state().selected);
  window_->open("reference");
  auto* ranges = shown<ReferenceRanges>();
  ASSERT_GT(of(ranges)->childCount(), 4);
  EXPECT_TRUE(of(ranges)->child(0)->text(QAccessible::Value).contains("–"));
  act(of(ranges)->child(2), QAccessibleActionInterface::pressAction());
  EXPECT_EQ(QString::fromStdString(ranges->selected()), of(ranges)->child(2)->text(QAccessible::Name));
}

// That they are told at all is heard from outside: tests/heard.
TEST(HeardChanges, AreAPartMoreAnotherValueAndAnotherInHand) {
  const auto part = [](const char* name, const char* value, bool current = false) {
    PaintedPart p{name, value, QRect(0, 0, 1, 1)};
    p.current = current;
    return p;
  };
  using E = QAccessible::Event;
  using Changes = std::vector<HeardChange>;
  const std::vector<PaintedPart> one = {part("1", "60.0"), part("2", "61.0", true)};
  EXPECT_EQ(heard_changes(one, one), Changes{});
  EXPECT_EQ(heard_changes(one, {part("1", "60.0"), part("2", "61.5", true)}), (Changes{{E::DescriptionChanged, 1}}));
  EXPECT_EQ(heard_changes(one, {part("1", "60.0"), part("2", "61.0"), part("3", "62.0", true)}),
            (Changes{{E::ObjectCreated, 2}, {E::Selection, 2}, {E::Focus, 2}}));
  EXPECT_EQ(heard_changes(one, {part("1", "60.0")}), (Changes{{E::ObjectReorder, -1}}));
  EXPECT_EQ(heard_changes(one, {part("1", "60.0", true), part("2", "61.0")}),
            (Changes{{E::Selection, 0}, {E::Focus, 0}}));
  std::vector<PaintedPart> page;
  for (int i = 0; i < 100; ++i) page.push_back(part("another", "page"));
  EXPECT_EQ(heard_changes(one, page), (Changes{{E::ObjectReorder, -1}})) << "nobody listens to a hundred";
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
