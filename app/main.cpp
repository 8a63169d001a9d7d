#include <QApplication>
#include <QCommandLineParser>
#include <QDir>
#include <QElapsedTimer>
#include <QFile>
#include <QFileInfo>
#include <QIcon>
#include <QStandardPaths>
#include <QTextStream>
#include <algorithm>
#include <cstring>
#include <functional>
#include <memory>
#include <utility>

#include "app/demo/demo_book.h"
#include "app/demo/screenshots.h"
#include "app/diary/diary.h"
#include "app/frame/main_window.h"
#include "app/theme/painted_parts.h"
#include "app/theme/spoken.h"
#include "app/theme/theme.h"
#include "core/memory.h"
#include "core/reference/library.h"
#include "store/own.h"

namespace {

int refuse(const std::string& sentence) {
  QTextStream(stderr) << "fortitor: " << QString::fromStdString(sentence) << "\n";
  return 2;
}

QString home_book() {
  const QString folder = QStandardPaths::writableLocation(QStandardPaths::AppDataLocation);
  QDir().mkpath(folder);
  return folder + "/bench.fortitor";
}

// A book by its name or by what it begins with; what does not exist yet is one to be made.
bool is_book(const QString& path) {
  QFile file(path);
  if (path.endsWith(".fortitor") || !QFileInfo::exists(path)) return true;
  return file.open(QIODevice::ReadOnly) && file.read(15) == "SQLite format 3";
}

// Tells once when the window's first picture is on the screen.
class FirstPaint : public QObject {
 public:
  explicit FirstPaint(std::function<void()> then) : then_(std::move(then)) {}
  bool eventFilter(QObject* object, QEvent* event) override {
    if (event->type() == QEvent::Paint && then_) {
      object->removeEventFilter(this);
      // The children are painted within this event: queued, it comes after them.
      QMetaObject::invokeMethod(this, std::exchange(then_, nullptr), Qt::QueuedConnection);
    }
    return QObject::eventFilter(object, event);
  }

 private:
  std::function<void()> then_;
};

}  // namespace

int main(int argc, char** argv) {
  fortitor::keep_memory();
  QElapsedTimer since_start;
  since_start.start();
  // What wants no window wants no display either.
  for (int i = 1; i < argc; ++i)
    for (const char* word : {"-h", "--help", "--help-all", "-v", "--version"})
      if (std::strcmp(argv[i], word) == 0) qputenv("QT_QPA_PLATFORM", "offscreen");
  fortitor::diary::refuse_politely();
  QApplication app(argc, argv);
  fortitor::hear_window();
  app.setApplicationName("fortitor");
  app.setApplicationVersion(FORTITOR_VERSION);
  app.setWindowIcon(QIcon(":/icons/fortitor.svg"));
  QCommandLineParser parser;
  parser.setApplicationDescription("The bench of a mechanical test engineer.");
  parser.addHelpOption();
  parser.addVersionOption();
  parser.addPositionalArgument("BOOK", "Job book to open (*.fortitor); made when it does not exist.", "[BOOK]");
  parser.addPositionalArgument("FILES", "Files of a testing machine, or folders of them, to take in.", "[FILES…]");
  const QCommandLineOption demo("demo", "Fill an empty book with the Tarnfell demo.");
  const QCommandLineOption shot(
      "shot", "With --screenshots: only this specimen and stage, such as AF-11:3 or jobs:desk.", "CODE:N");
  const QCommandLineOption shots("screenshots", "Write the screenshots into DIR and end.", "DIR");
  const QCommandLineOption scale("text-scale", "Text size, 1.0 to 2.0.", "FACTOR", "1.0");
  const QCommandLineOption dark("dark", "Dark theme.");
  const QCommandLineOption contrast("high-contrast", "Words and lines that are seen from further off.");
  const QCommandLineOption clock("clock", "Stand the clock still, for pictures: 2026-11-26T10:05.", "TIME");
  const QCommandLineOption language("language", "Language of the window: en, de, it, fr, es.", "CODE");
  const QCommandLineOption until_shown("until-shown", "Print how long the first view took to be painted, and end.");
  parser.addOptions({demo, shots, shot, scale, dark, contrast, clock, language, until_shown});
  parser.process(app);

  // Theme and size of text are a person's own, not the book's: as they were left, unless the start says otherwise.
  const bool as_left = !parser.isSet(shots) && !parser.isSet(until_shown);
  const double text = parser.isSet(scale) || !as_left
                          ? parser.value(scale).toDouble()
                          : std::clamp(fortitor::own::of(fortitor::own::text_scale), 1.0, 2.0);
  const QString crash = as_left ? fortitor::diary::last_crash(fortitor::own::folder()) : QString();
  fortitor::diary::begin(as_left ? fortitor::own::folder() : QString());
  fortitor::diary::note("started, version " FORTITOR_VERSION);
  fortitor::theme::install(app, text);
  fortitor::theme::set_calm(as_left && fortitor::own::of(fortitor::own::calm));
  fortitor::theme::set_strong(parser.isSet(contrast) || (as_left && fortitor::own::of(fortitor::own::strong)));
  fortitor::theme::set_dark(parser.isSet(dark) || (as_left && fortitor::own::of(fortitor::own::dark)));
  const auto said = fortitor::language_of(parser.value(language).toStdString());
  if (parser.isSet(language) && !said)
    return refuse("--language: “" + parser.value(language).toStdString() + "” is none of en, de, it, fr, es");
  // Pictures and measurements are the same everywhere: English, unless the start says otherwise.
  fortitor::speak(said ? *said : as_left ? fortitor::language_wanted() : fortitor::Language::english);
  // What is no book is a machine's file.
  QStringList files = parser.positionalArguments();
  const bool named = !files.isEmpty() && is_book(files.first());
  const QString path = named ? files.takeFirst() : home_book();
  const auto own_values = fortitor::load_own_reference(fortitor::own_reference_path());
  fortitor::Clock time;
  if (parser.isSet(clock)) {
    const QDateTime at = QDateTime::fromString(parser.value(clock), Qt::ISODate);
    if (!at.isValid())
      return refuse("--clock: “" + parser.value(clock).toStdString() + "” is no time; write 2026-11-26T10:05");
    time = fortitor::Clock::at(at);
  }
  fortitor::Workbench bench;
  if (own_values) bench.use_shelf(*own_values);
  const auto opened = bench.open(path, qEnvironmentVariable("USER", "operator"), time);
  if (!opened) return refuse(opened.error().message);
  if (const auto who = bench.book()->setting("operator")) bench.book()->set_operator(*who);
  std::string recipe;
  if (parser.isSet(demo) && bench.book()->jobs().empty()) {
    QFile file(":/demo/tarnfell.json");
    if (!file.open(QIODevice::ReadOnly)) return refuse("the demo recipe is missing from this build");
    recipe = file.readAll().toStdString();
    if (parser.isSet(shots)) {  // pictures are of what is there
      const auto filled = fortitor::fill_demo(*bench.book(), recipe);
      if (!filled) return refuse(filled.error().message);
      recipe.clear();
    }
  }
  auto window = std::make_unique<fortitor::MainWindow>(&bench);
  // Every text of a window is said when it is made: another language is another window over the same bench.
  const std::function<void(fortitor::Language)> in_other_words = [&](fortitor::Language wanted) {
    fortitor::own::keep(fortitor::own::language, QString::fromUtf8(fortitor::language_code(wanted)));
    fortitor::speak(wanted);
    auto old = std::exchange(window, std::make_unique<fortitor::MainWindow>(&bench));
    window->setGeometry(old->geometry());
    window->setWindowState(old->windowState());
    window->show_today();
    window->show();
    old->hide();
    old.release()->deleteLater();
    QObject::connect(window.get(), &fortitor::MainWindow::language_chosen, window.get(), in_other_words,
                     Qt::QueuedConnection);
  };
  QObject::connect(window.get(), &fortitor::MainWindow::language_chosen, window.get(), in_other_words,
                   Qt::QueuedConnection);
  if (!own_values) bench.say(QString::fromStdString(own_values.error().message) + " The shipped values are used.");
  bench.touch_docket();
  window->show_today();
  FirstPaint painted([&] {
    QTextStream(stdout) << "shown " << since_start.elapsed() << " ms\n";
    QApplication::quit();
  });
  if (parser.isSet(until_shown)) window->installEventFilter(&painted);
  window->show();
  if (!recipe.empty())
    bench.write_beside(
        "Filling the demo", [recipe](fortitor::Book& book) { return fortitor::fill_demo(book, recipe); },
        [&bench, &window](const fortitor::Outcome<fortitor::Done>& came) {
          if (!came) bench.say(QString::fromStdString(came.error().message));
          if (window->desk_in_hand() == "today") window->show_today();
        });
  if (!files.isEmpty()) window->take_files(files);
  if (!parser.isSet(shots)) bench.back_up_daily();
  if (!crash.isEmpty()) bench.check_after_crash(crash);
  if (parser.isSet(shots)) return fortitor::write_screenshots(*window, parser.value(shots), parser.values(shot));
  const int ended = QApplication::exec();
  if (as_left) {
    fortitor::own::keep(fortitor::own::text_scale, fortitor::theme::scale());
    fortitor::own::keep(fortitor::own::dark, fortitor::theme::dark());
    fortitor::own::keep(fortitor::own::strong, fortitor::theme::strong());
    fortitor::own::keep(fortitor::own::calm, fortitor::theme::calm());
  }
  fortitor::diary::note("ended");
  return ended;
}
