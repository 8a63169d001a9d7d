// The window in other languages: every desk and every stage of a piece of each method of the demo's book, and no text
// of the program among them that no catalogue has.
#include <QDialogButtonBox>
#include <QDirIterator>
#include <QFile>
#include <QRegularExpression>
#include <QStringList>
#include <map>
#include <set>

#include "app/frame/find_box.h"
#include "app/guide/tour.h"
#include "app/theme/spoken.h"
#include "app/theme/theme.h"
#include "tests/app/demo_book_copy.h"
#include "tests/app/window_fixture.h"

namespace fortitor::languages_test {
namespace {

const QStringList kDesignations = {"T_max", "Fmax", "Ti grade 2", "ash …", "usual: {year}-{0000}", "Wedge 2"};

class SpokenWindow : public WindowTest {
 protected:
  explicit SpokenWindow(const char* language) : language_(language) {}
  void lay_out_book(const QString& path) override {
    ASSERT_EQ(copy_demo_book(path), "");
    speak(*language_of(language_));
  }
  void TearDown() override {
    WindowTest::TearDown();
    speak(Language::english);
  }
  void look() {
    theme::settle();
    for (int i = 0; i < 5; ++i) QCoreApplication::processEvents();  // fresh rows are laid out by posted events
    window_->grab();
  }

 private:
  const char* language_;
};

class Languages : public SpokenWindow, public testing::WithParamInterface<const char*> {
 protected:
  Languages() : SpokenWindow(GetParam()) {}
};

// All catalogues hold the same phrases (Catalogues.HoldTheSamePhrasesWithTheSameValues): what one has, each has.
class InGerman : public SpokenWindow {
 protected:
  InGerman() : SpokenWindow("de") {}
};

// What a person typed, and what names a thing of the world: each part of the text stands in the recipe of the demo, or
// is a designation, or a line for the Slate.
bool is_typed(const QString& text, const QString& recipe) {
  static const QRegularExpression apart("  +| · |›|, | \\(usual\\)"), job("TC-\\d+ "), slate("^[a-z]+ [a-z ]*[0-9]");
  if (slate.match(text).hasMatch()) return true;
  for (const QString& part : QString(text).remove(job).split(apart, Qt::SkipEmptyParts))
    if (const QString p = part.trimmed();
        has_words(p.toStdString()) && !recipe.contains(p) && !kDesignations.contains(p))
      return false;
  return true;
}

TEST_F(InGerman, EveryTextOfTheDemoIsSaid) {
  window_->resize(1280, 800);
  QFile file(":/demo/tarnfell.json");
  ASSERT_TRUE(file.open(QIODevice::ReadOnly));
  const QString recipe = QString::fromUtf8(file.readAll());
  for (const char* desk : {"today", "jobs", "plan", "kit", "laboratory", "slate", "practice", "reference"}) {
    window_->open(desk);
    look();
  }
  window_->open("tour");
  for (size_t i = 1; i < tour_steps().size(); ++i) find<QPushButton>("tour-next")->click();
  find<QPushButton>("tour-leave")->click();
  std::set<std::string> methods;
  for (const JobOutline& job : bench_.book()->outline())
    for (const SeriesOutline& series : job.series) {
      if (series.specimens.empty() || !methods.insert(series.series.method).second) continue;
      window_->show_series(series.series.id);
      look();
      for (int stage = 0; stage < kStageCount; ++stage) {
        window_->show_specimen(series.specimens.front().id, stage);
        settle();
        look();
      }
    }
  EXPECT_GE(methods.size(), 18u);
  int untold = 0;
  for (const QString& text : unspoken())
    if (!is_typed(text, recipe) && ++untold < 40) ADD_FAILURE() << "no catalogue has: " << text.toStdString();
  EXPECT_EQ(untold, 0);
}

// What works beside the window is named only where the machine is slow: the names stand in the sources.
TEST(TaskNames, AreSaid) {
  const std::set<std::string> phrases = [] {
    std::set<std::string> out;
    QFile file(FORTITOR_SOURCE_DIR "/data/languages/de.po");
    EXPECT_TRUE(file.open(QIODevice::ReadOnly));
    for (const QString& line : QString::fromUtf8(file.readAll()).split('\n'))
      if (line.startsWith("msgid \"")) out.insert(line.mid(7, line.size() - 8).toStdString());
    return out;
  }();
  static const QRegularExpression started("\\.run(?:_in_turn)?\\(\\s*\"([^\"]+)\"( \\+)?");
  int seen = 0;
  QDirIterator sources(FORTITOR_SOURCE_DIR "/app", {"*.cpp"}, QDir::Files, QDirIterator::Subdirectories);
  while (sources.hasNext()) {
    QFile file(sources.next());
    ASSERT_TRUE(file.open(QIODevice::ReadOnly));
    for (auto all = started.globalMatch(QString::fromUtf8(file.readAll())); all.hasNext();) {
      const QRegularExpressionMatch m = all.next();
      const std::string name = m.captured(1).toStdString() + (m.captured(2).isEmpty() ? "" : "{");
      const auto at = phrases.lower_bound(name);
      ++seen;
      EXPECT_TRUE(at != phrases.end() && (m.captured(2).isEmpty() ? *at == name : at->rfind(name, 0) == 0))
          << file.fileName().toStdString() << ": " << name;
    }
  }
  EXPECT_GT(seen, 20);
}

// Typed text goes into the record as it was typed, and what was done into the logbook in its one language.
TEST_P(Languages, TheBookKeepsOneLanguage) {
  Id piece = 0;
  for (const JobOutline& job : bench_.book()->outline())
    for (const SeriesOutline& series : job.series)
      for (const SpecimenRow& p : series.specimens)
        if (p.code == "HB-05") piece = p.id;
  ASSERT_NE(piece, 0);
  window_->show_specimen(piece, int(Stage::measure));
  settle();
  look();
  const auto reading = [&] { return find<QLineEdit>("specimen.section.diameter#0"); };
  ASSERT_NE(reading(), nullptr);
  const QString shown = reading()->text();
  EXPECT_FALSE(shown.isEmpty());
  type("specimen.section.diameter#0", "10,02 mm");
  settle();
  const Readings kept = record().fields.readings("specimen.section.diameter");
  ASSERT_FALSE(kept.empty());
  EXPECT_EQ(kept[0].typed, "10,02 mm");
  EXPECT_DOUBLE_EQ(*kept[0].value, 10.02);
  std::string said;
  for (const LogEntry& line : bench_.book()->logbook()) said += line.what + " " + line.detail + "\n";
  EXPECT_NE(said.find("Diameter 1"), std::string::npos);
}

// Each language but the one that is spoken is offered, and asked for at once.
TEST_P(Languages, AnotherLanguageIsAskedForInFindOrDo) {
  QSignalSpy asked(window_.get(), &MainWindow::language_chosen);
  QTest::keyClick(window_.get(), Qt::Key_K, Qt::ControlModifier);
  FindBox* box = window_->find_box();
  ASSERT_TRUE(until([&] { return box->isVisible(); }));
  QTest::keyClicks(box->line(), "English");
  ASSERT_GT(box->list()->count(), 0);
  EXPECT_TRUE(box->list()->item(0)->text().startsWith("English")) << box->list()->item(0)->text().toStdString();
  QTest::keyClick(box->line(), Qt::Key_Return);
  ASSERT_EQ(asked.count(), 1);
  EXPECT_EQ(asked.front().front().value<Language>(), Language::english);
}

// What the toolkit brings itself speaks as well.
TEST_P(Languages, ButtonsOfTheToolkitAreSaid) {
  const std::map<std::string, QString> cancel = {
      {"de", "Abbrechen"}, {"it", "Annulla"}, {"fr", "Annuler"}, {"es", "Cancelar"}};
  QDialogButtonBox box(QDialogButtonBox::Cancel);
  EXPECT_EQ(box.button(QDialogButtonBox::Cancel)->text().remove('&'), cancel.at(GetParam()));
}

INSTANTIATE_TEST_SUITE_P(Window, Languages, testing::Values("de", "it", "fr", "es"));

}  // namespace
}  // namespace fortitor::languages_test
