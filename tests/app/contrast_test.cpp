// Words are read from the machine, in either theme: 4.5 to 1 against what is painted behind them, large ones 3 to 1
// (WCAG 2.2, 1.4.3), measured on the pixels of every main view.
#include <QAbstractButton>
#include <QLabel>
#include <QScrollArea>
#include <algorithm>
#include <cmath>
#include <map>

#include "app/series/series_page.h"
#include "app/theme/theme.h"
#include "tests/app/demo_book_copy.h"
#include "tests/app/window_fixture.h"

namespace fortitor::contrast_test {
namespace {

double luminance(QRgb c) {
  const auto part = [](int v) {
    const double x = v / 255.0;
    return x <= 0.03928 ? x / 12.92 : std::pow((x + 0.055) / 1.055, 2.4);
  };
  return 0.2126 * part(qRed(c)) + 0.7152 * part(qGreen(c)) + 0.0722 * part(qBlue(c));
}

double contrast(QRgb a, QRgb b) {
  const double x = luminance(a), y = luminance(b);
  return (std::max(x, y) + 0.05) / (std::min(x, y) + 0.05);
}

// The colour that is most of a place, and the one in it that stands out most: strokes are thin, their middle is theirs.
double painted_contrast(const QImage& image) {
  std::map<QRgb, int> count;
  for (int y = 0; y < image.height(); ++y)
    for (int x = 0; x < image.width(); ++x) ++count[image.pixel(x, y)];
  const QRgb paper = std::max_element(count.begin(), count.end(), [](const auto& a, const auto& b) {
                       return a.second < b.second;
                     })->first;
  double most = 1;
  for (const auto& [colour, n] : count)
    if (n >= 2) most = std::max(most, contrast(colour, paper));
  return most;
}

class Contrast : public WindowTest {
 protected:
  void lay_out_book(const QString& path) override { ASSERT_EQ(copy_demo_book(path), ""); }
  void TearDown() override {
    theme::set_dark(false);
    theme::set_strong(false);
    WindowTest::TearDown();
  }
  // Every label and button that is seen now.
  void look(const QString& where) {
    theme::settle();
    for (int i = 0; i < 5; ++i) QCoreApplication::processEvents();  // fresh rows are laid out by posted events
    const QImage all = window_->grab().toImage();
    const double ratio = all.devicePixelRatio();
    for (QWidget* w : window_->findChildren<QWidget*>()) {
      const auto* label = qobject_cast<QLabel*>(w);
      const auto* button = qobject_cast<QAbstractButton*>(w);
      const QString text = label != nullptr ? label->text() : button != nullptr ? button->text() : QString();
      if (!w->isVisible() || !w->isEnabled() || text.trimmed().size() < 2) continue;
      const QRect seen = w->visibleRegion().boundingRect();
      if (seen.height() < w->height() || seen.width() < 12) continue;  // scrolled away
      const QRect at = QRect(w->mapTo(window_.get(), seen.topLeft()), seen.size()).adjusted(2, 2, -2, -2);
      const QRect px(QPoint(int(at.x() * ratio), int(at.y() * ratio)), at.size() * ratio);
      if (!all.rect().contains(px)) continue;
      const double is = painted_contrast(all.copy(px));
      const QFont font = w->font();
      const bool large = font.pixelSize() >= 24 || (font.pixelSize() >= 19 && font.weight() >= QFont::Bold);
      ++looked_;
      EXPECT_GE(is, large ? least_ - 1.3 : least_) << where.toStdString() << ": “" << text.left(60).toStdString()
                                                   << "” " << w->property("key").toString().toStdString();
    }
  }
  int looked_ = 0;
  double least_ = 4.3;  // of 4.5: the strokes of small letters are thinner than a dot
};

// Higher contrast asks for 7 to 1 (1.4.6).
TEST_F(Contrast, HigherContrastIsHigher) {
  window_->resize(1280, 800);
  theme::set_strong(true);
  least_ = 6.4;
  for (const bool dark : {false, true}) {
    theme::set_dark(dark);
    for (const char* desk : {"today", "jobs", "kit", "plan", "logbook", "slate", "reference", "laboratory"}) {
      window_->open(desk);
      look(QString(dark ? "dark, " : "light, ") + desk);
    }
  }
  EXPECT_GT(looked_, 200);
}

TEST_F(Contrast, WordsStandOutInEitherTheme) {
  window_->resize(1280, 800);
  Id signed_piece = 0, failing = 0;
  for (const JobOutline& j : bench_.book()->outline())
    for (const SeriesOutline& s : j.series)
      for (const SpecimenRow& p : s.specimens) {
        if (p.code == "HB-01") signed_piece = p.id;
        if (p.code == "AF-12") failing = p.id;
      }
  ASSERT_NE(signed_piece, 0);
  for (const bool dark : {false, true}) {
    theme::set_dark(dark);
    const QString theme = dark ? "dark, " : "light, ";
    for (const char* desk :
         {"today", "jobs", "kit", "plan", "logbook", "slate", "reference", "laboratory", "practice"}) {
      window_->open(desk);
      look(theme + desk);
    }
    for (const Id id : {signed_piece, failing})
      for (int stage = 0; stage < kStageCount; ++stage) {
        window_->show_specimen(id, stage);
        settle();
        look(theme + "stage " + QString::number(stage));
      }
  }
  EXPECT_GT(looked_, 500);
}

}  // namespace
}  // namespace fortitor::contrast_test
