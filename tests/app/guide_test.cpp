// The guide in the window: F1 on any page, questions in Find or do.
#include <QListWidget>
#include <QPushButton>
#include <QTextBrowser>

#include "app/frame/desk.h"
#include "app/frame/find_box.h"
#include "app/guide/guide_desk.h"
#include "app/theme/spoken.h"
#include "core/methods/method.h"
#include "core/standin/tension_bench.h"
#include "tests/app/window_fixture.h"

namespace fortitor {
namespace {

class Guide : public WindowTest {
 protected:
  QTextBrowser* page() { return window_->findChild<GuideDesk*>()->findChild<QTextBrowser*>(); }
  QString heading_in_hand() { return page()->textCursor().block().text(); }
};

TEST_F(Guide, F1OpensThePartAboutWhereOneIs) {
  const std::pair<const char*, const char*> wanted[] = {
      {"kit", "The Kit and benches"}, {"plan", "The plan"},     {"slate", "The Slate"},
      {"logbook", "The logbook"},     {"practice", "Practice"}, {"reference", "Reference values"}};
  for (const auto& [desk, heading] : wanted) {
    window_->open(desk);
    QTest::keyClick(window_.get(), Qt::Key_F1);
    EXPECT_EQ(window_->desk_in_hand(), "guide");
    EXPECT_EQ(heading_in_hand(), heading) << desk;
  }
}

TEST_F(Guide, EveryMethodHasItsPageAndEveryPageAHeadAndItsPictures) {
  for (const Method* m : methods::all()) {
    const size_t part = guide_for("specimen", m);
    ASSERT_LT(part, guide_parts().size());
    EXPECT_EQ(guide_parts()[part].page.toStdString(), "methods/" + m->id + ".md");
  }
  QSet<QString> pages;
  for (size_t i = 0; i < guide_parts().size(); ++i) {
    window_->open("guide", 0, int(i));
    EXPECT_EQ(heading_in_hand(), guide_parts()[i].heading);
    pages.insert(guide_parts()[i].page);
    EXPECT_GT(page()->document()->characterCount(), 200);
  }
  EXPECT_GE(pages.size(), 26);
  // Pages name one another; where a link leads there is a page.
  const QRegularExpression link("\\]\\(([a-z/.-]+\\.(?:md|png))");
  for (const QString& name : pages) {
    QFile file(":/guide/" + name);
    ASSERT_TRUE(file.open(QIODevice::ReadOnly));
    auto all = link.globalMatch(QString::fromUtf8(file.readAll()));
    while (all.hasNext()) {
      const QUrl to = QUrl("qrc:/guide/" + name).resolved(QUrl(all.next().captured(1)));
      EXPECT_TRUE(QFile::exists(":" + to.path()) || to.path().contains("decisions"))
          << name.toStdString() << " → " << to.path().toStdString();
    }
  }
}

// A picture in the language of the reader, where one was made; a name that no page shows, so that none is in the way.
TEST_F(Guide, APictureInTheLanguageIsTakenWhereThereIsOne) {
  const QTemporaryDir data;
  const QByteArray was = qgetenv("XDG_DATA_HOME");
  qputenv("XDG_DATA_HOME", data.path().toUtf8());
  ASSERT_TRUE(QDir(data.path()).mkpath("fortitor/guide/de"));
  const QString made = data.filePath("fortitor/guide/de/measure.png");
  ASSERT_TRUE(QImage(8, 8, QImage::Format_RGB32).save(made));
  EXPECT_EQ(guide_picture("screenshots/measure.png", Language::german), made);
  EXPECT_EQ(guide_picture("screenshots/measure.png", Language::italian), ":/guide/screenshots/measure.png");
  EXPECT_EQ(guide_picture("screenshots/measure.png", Language::english), ":/guide/screenshots/measure.png");
  was.isNull() ? qunsetenv("XDG_DATA_HOME") : qputenv("XDG_DATA_HOME", was);
}

// A finding is shown on a piece that raises it, behind its words; one without a case has words alone.
TEST_F(Guide, AFindingShowsItsCase) {
  const auto images = [&] {
    int n = 0;
    for (QTextBlock b = page()->document()->begin(); b.isValid(); b = b.next())
      for (auto i = b.begin(); !i.atEnd(); ++i) n += i.fragment().charFormat().isImageFormat();
    return n;
  };
  window_->open("guide", 0, int(*guide_for_finding("grip-preload")));
  ASSERT_TRUE(until([&] { return images() == 1; }));
  QTextBlock b = page()->document()->begin();
  while (b.text() != "grip-preload") b = b.next();
  while (!b.text().startsWith("A case, Tension of metals: ")) {
    b = b.next();
    ASSERT_TRUE(b.isValid());
    ASSERT_LE(b.blockFormat().headingLevel(), 0) << "it stands under its own finding";
  }
  const QVariant picture = page()->document()->resource(QTextDocument::ImageResource, QUrl("case:grip-preload"));
  const QImage image = picture.value<QImage>();
  ASSERT_FALSE(image.isNull());
  QSet<QRgb> colours;
  for (int x = 0; x < image.width(); x += 3)
    for (int y = 0; y < image.height(); y += 3) colours.insert(image.pixel(x, y));
  EXPECT_GT(colours.size(), 8) << "a curve with its words";
  window_->open("guide", 0, int(*guide_for_finding("sign-flipped")));
  ASSERT_TRUE(until([&] { return images() == 2; }));
  window_->open("guide", 0, int(*guide_for_finding("grip-preload")));
  ASSERT_TRUE(until([&] { return bench_.tasks().tasks().empty(); }));
  EXPECT_EQ(images(), 2) << "once is enough";
}

// Every sentence of the Watch that a method can raise has its page: what it means, why, what to do.
TEST_F(Guide, EveryFindingIsExplained) {
  const QRegularExpression listed("Findings of this method: ([^\n]*)"), code("`([^`]+)`");
  const QSet<QString> no_finding = {"at-chuck", "on-edge"};  // values that stand in the same line of code
  int findings = 0;
  for (const Method* m : methods::all()) {
    QFile file(":/guide/methods/" + QString::fromStdString(m->id) + ".md");
    ASSERT_TRUE(file.open(QIODevice::ReadOnly));
    auto all = code.globalMatch(listed.match(QString::fromUtf8(file.readAll())).captured(1));
    while (all.hasNext()) {
      const QString one = all.next().captured(1);
      if (no_finding.contains(one)) continue;
      ++findings;
      const auto part = guide_for_finding(one);
      ASSERT_TRUE(part) << m->id << " " << one.toStdString();
      // Two sentences at least: what it is and what it does to the result.
      EXPECT_GE(guide_parts()[*part].words.count('.'), 1) << one.toStdString();
      EXPECT_GE(guide_parts()[*part].words.size(), 40) << one.toStdString();
    }
  }
  EXPECT_GT(findings, 150);
}

TEST_F(Guide, TheWatchAsksForItsPage) {
  Book& book = *bench_.book();
  TestRecord r = standin::simulate_tension({.seed = 4, .forget_zero = true});
  r.fields.set("specimen.id", std::string("B-1"));
  const Id id = *book.add_specimen(*book.add_series(*book.add_job("J-1", "one"), "Bars", "tension-metal"), "B-1", r);
  ASSERT_TRUE(book.store_run(id, *r.run.samples(), "made"));
  ASSERT_TRUE(book.save_record(id, 0, r, {}, "made"));
  window_->show_specimen(id, int(Stage::evaluate));
  ASSERT_TRUE(until([&] { return seen<QPushButton>("explain:not-zeroed") != nullptr; }));
  click("explain:not-zeroed");
  EXPECT_EQ(window_->desk_in_hand(), "guide");
  EXPECT_EQ(heading_in_hand(), "not-zeroed");
  // F1 on its answer, too.
  window_->show_specimen(id, int(Stage::evaluate));
  ASSERT_TRUE(until([&] { return seen<QPushButton>("explain:not-zeroed") != nullptr; }));
  QApplication::setActiveWindow(window_.get());
  find<QPushButton>("explain:not-zeroed")->setFocus();
  QTest::keyClick(window_.get(), Qt::Key_F1);
  EXPECT_EQ(heading_in_hand(), "not-zeroed");
}

TEST_F(Guide, WordsInsideAPartAreFoundAfterItsHeading) {
  auto lines = window_->findChild<GuideDesk*>()->found("crosshead stiffness extensometer");
  ASSERT_FALSE(lines.empty());
  lines = window_->findChild<GuideDesk*>()->found("oil");
  for (const Doable& line : lines)
    EXPECT_TRUE(line.title.contains("oil", Qt::CaseInsensitive)) << "three letters say little";
}

TEST_F(Guide, AQuestionFindsItsPart) {
  QTest::keyClick(window_.get(), Qt::Key_K, Qt::ControlModifier);
  QTest::keyClicks(QApplication::focusWidget(), "how do I type numbers");
  QTest::keyClick(QApplication::focusWidget(), Qt::Key_Return);
  EXPECT_EQ(window_->desk_in_hand(), "guide") << "“type” is not in that heading, but in its words";
  QTest::keyClick(window_.get(), Qt::Key_K, Qt::ControlModifier);
  QTest::keyClicks(QApplication::focusWidget(), "typing numbers");
  QTest::keyClick(QApplication::focusWidget(), Qt::Key_Return);
  EXPECT_EQ(window_->desk_in_hand(), "guide");
  EXPECT_EQ(heading_in_hand(), "Typing numbers");
}

// Keys are called as keyboards of the language call them, in the guide as on the buttons.
QString keys_said(QString text, Language l) {
  static const std::map<Language, std::vector<std::pair<const char*, const char*>>> kNames = {
      {Language::german, {{"Ctrl", "Strg"}, {"Shift", "Umschalt"}, {"Space", "Leertaste"}, {"Delete", "Entf"}}},
      {Language::italian, {{"Shift", "Maiusc"}, {"Space", "Spazio"}, {"Enter", "Invio"}, {"Delete", "Canc"}}},
      {Language::french,
       {{"Shift", "Maj"}, {"Space", "Espace"}, {"Enter", "Entrée"}, {"Delete", "Suppr"}, {"Esc", "Échap"}}},
      {Language::spanish, {{"Shift", "Mayús"}, {"Space", "Espacio"}, {"Enter", "Intro"}, {"Delete", "Supr"}}}};
  for (const auto& [english, own] : kNames.at(l))
    text.replace(QRegularExpression(QString("\\b%1\\b").arg(english)), QString::fromUtf8(own));
  return text;
}

// What the guide says it says in every language, with the same keys, numbers and links.
TEST(GuidePages, AreSaidLineByLine) {
  const QRegularExpression code("`[^`]+`"), number("[0-9]+"), link("\\]\\([^)]*\\)");
  const auto all = [](const QRegularExpression& of, const QString& in) {
    QStringList out;
    for (auto i = of.globalMatch(in); i.hasNext();) out << i.next().captured();
    out.sort();
    return out.join(' ').toStdString();
  };
  size_t lines = 0;
  for (const QString& page : guide_pages()) {
    for (const QString& line : guide_lines(page)) {
      if (page == "findings.md" && guide_for_finding(line)) continue;  // a code is the same everywhere
      ++lines;
      for (Language l : kLanguages) {
        if (l == Language::english) continue;
        const auto said = guide_line(line, l);
        if (!said)
          ADD_FAILURE() << language_code(l) << " lacks, of " << page.toStdString() << ": " << line.toStdString();
        if (!said) continue;
        EXPECT_FALSE(said->contains('\n')) << "a line for a line: " << line.toStdString();
        EXPECT_EQ(all(code, *said), all(code, keys_said(line, l))) << language_code(l);
        EXPECT_EQ(*said, keys_said(*said, l)) << "a key by its English name";
        EXPECT_EQ(all(number, *said), all(number, line)) << language_code(l) << line.toStdString();
        EXPECT_EQ(all(link, *said), all(link, line)) << language_code(l);
      }
    }
  }
  EXPECT_GT(lines, 780u);
}

class GuideInGerman : public Guide {
 protected:
  void lay_out_book(const QString&) override { speak(Language::german); }
  void TearDown() override {
    Guide::TearDown();
    speak(Language::english);
  }
};

TEST_F(GuideInGerman, F1AndQuestionsLeadToItsParts) {
  window_->open("plan");
  QTest::keyClick(window_.get(), Qt::Key_F1);
  EXPECT_EQ(heading_in_hand(), "Der Plan");
  window_->open("guide", 0, int(*guide_for_finding("grip-preload")));
  EXPECT_EQ(heading_in_hand(), "grip-preload");
  EXPECT_TRUE(page()->textCursor().block().next().text().startsWith("Das Schließen der Spannzeuge"));
  QTest::keyClick(window_.get(), Qt::Key_K, Qt::ControlModifier);
  QTest::keyClicks(QApplication::focusWidget(), "wie kann ich Zahlen eingeben");
  QTest::keyClick(QApplication::focusWidget(), Qt::Key_Return);
  EXPECT_EQ(heading_in_hand(), "Zahlen eingeben");
}

TEST_F(GuideInGerman, EveryPartIsReached) {
  for (size_t i = 0; i < guide_parts().size(); ++i) {
    window_->open("guide", 0, int(i));
    ASSERT_EQ(heading_in_hand(), guide_parts()[i].said) << guide_parts()[i].heading.toStdString();
  }
}

}  // namespace
}  // namespace fortitor
