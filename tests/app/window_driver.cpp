// The real window under any hand: keys, clicks, words and drags at random, each written down before it is done, so that
// a fault can be done again.
//   window_driver FOLDER [--seed N] [--seconds S] [--again FILE]
// FOLDER gets the book, keys.txt (what was done), stalls.txt (where the window stood still) and memory.txt.
#include <malloc.h>
#include <unistd.h>

#include <QApplication>
#include <QDir>
#include <QElapsedTimer>
#include <QFile>
#include <QPointer>
#include <QTest>
#include <QTextStream>
#include <QWheelEvent>
#include <random>

#include "app/frame/main_window.h"
#include "app/theme/theme.h"
#include "core/memory.h"
#include "tests/app/demo_book_copy.h"
#include "tests/app/stall_watch.h"

namespace fortitor {
namespace {

const QStringList kWords = {"1",
                            "0",
                            "-1",
                            "10 mm",
                            "2 5/8 in",
                            "12,47",
                            "1,450",
                            "1e999",
                            "nan",
                            "inf",
                            "-0",
                            "1/0",
                            "999999999999999999999",
                            "1e-320",
                            "R",
                            "abc",
                            "<b>x</b>",
                            "<img src=\"/dev/zero\">",
                            "'; drop table job;--",
                            "%s%n",
                            "S355J2",
                            "x",
                            "10.02 mm",
                            "50 kN",
                            "3 t",
                            "200 GPa",
                            "0.1",
                            "(",
                            "((((((((((((((((((((((((((((((((((((((((((((((((((((((((((((",
                            "in 3 days",
                            "27.11.",
                            "Fri",
                            "yesterday",
                            "max(1,2)",
                            "....",
                            "HB-01",
                            "TC-031",
                            "..",
                            "a/b",
                            "10;11;12",
                            "5:42.5",
                            "292.5",
                            "100",
                            "12",
                            "9.98",
                            "40",
                            "0.02",
                            "20 J",
                            "15 %",
                            "63",
                            "-1 g",
                            "0 mm"};
const QStringList kPlaces = {"Today",
                             "All jobs",
                             "New job",
                             "Units",
                             "Light or dark",
                             "Larger text",
                             "Smaller text",
                             "Docket beside",
                             "Undo",
                             "Redo",
                             "Reference values",
                             "Plan",
                             "Slate",
                             "Practice",
                             "Kit",
                             "Logbook",
                             "Spectrum",
                             "New spectrum",
                             "Operator",
                             "What holds for the series",
                             "Version",
                             "How",
                             "Debrief",
                             "hv 0.5kgf 43.2um",
                             "2 5/8 in to mm",
                             "snatch 2000 kg 1.2 m/s 20 mm"};
constexpr Qt::Key kKeys[] = {
    Qt::Key_Return, Qt::Key_Return, Qt::Key_Return, Qt::Key_Escape,   Qt::Key_Escape, Qt::Key_Delete, Qt::Key_Backspace,
    Qt::Key_Tab,    Qt::Key_Tab,    Qt::Key_Space,  Qt::Key_Space,    Qt::Key_Up,     Qt::Key_Down,   Qt::Key_Down,
    Qt::Key_Left,   Qt::Key_Right,  Qt::Key_PageUp, Qt::Key_PageDown, Qt::Key_Home,   Qt::Key_End,    Qt::Key_Plus,
    Qt::Key_Minus,  Qt::Key_F1,     Qt::Key_F2,     Qt::Key_T,        Qt::Key_Z,      Qt::Key_B,      Qt::Key_X,
    Qt::Key_O,      Qt::Key_E,      Qt::Key_R,      Qt::Key_G,        Qt::Key_M,      Qt::Key_D,      Qt::Key_N,
    Qt::Key_C,      Qt::Key_J,      Qt::Key_U,      Qt::Key_H,        Qt::Key_P,      Qt::Key_L,      Qt::Key_S,
    Qt::Key_F,      Qt::Key_1,      Qt::Key_2,      Qt::Key_3};
constexpr Qt::Key kWithControl[] = {Qt::Key_N,    Qt::Key_Z, Qt::Key_Z, Qt::Key_U, Qt::Key_B, Qt::Key_D,
                                    Qt::Key_Home, Qt::Key_A, Qt::Key_C, Qt::Key_V, Qt::Key_X, Qt::Key_K};

class Driver : public QObject {
 public:
  Driver(MainWindow& window, const QString& folder, uint64_t seed, int seconds, QStringList again)
      : window_(window),
        random_(seed),
        seconds_(seconds),
        again_(std::move(again)),
        keys_(folder + "/keys.txt"),
        memory_(folder + "/memory.txt") {
    if (!keys_.open(QIODevice::WriteOnly | QIODevice::Unbuffered) ||
        !memory_.open(QIODevice::WriteOnly | QIODevice::Unbuffered))
      qFatal("the folder cannot be written");
    for (const JobOutline& j : window.bench().book()->outline())
      for (const SeriesOutline& s : j.series) {
        places_ << "Series: " + QString::fromStdString(s.series.title);
        for (const SpecimenRow& p : s.specimens) codes_ << QString::fromStdString(p.code);
      }
    places_ += kPlaces;
    since_.start();
    QTimer::singleShot(25, this, [this] { step(); });
  }
  int done() const { return count_; }

 private:
  int below(int n) { return std::uniform_int_distribution<int>(0, n - 1)(random_); }
  double chance() { return std::uniform_real_distribution<double>(0, 1)(random_); }
  template <class List>
  auto one_of(const List& list) {
    return list[size_t(below(int(std::size(list))))];
  }

  // What is to be done next, in words: "click 120 300 1", "key 16777220 0", "find HB-01".
  QString next() {
    const double r = chance();
    const QSize size = window_.size();
    if (r < 0.22)
      return QString("click %1 %2 %3")
          .arg(chance() < 0.25 ? below(216) : below(size.width()))
          .arg(below(size.height()))
          .arg(chance() < 0.9 ? 1 : 2);
    if (r < 0.27)
      return QString("drag %1 %2 %3 %4")
          .arg(below(size.width()))
          .arg(below(size.height()))
          .arg(below(size.width()))
          .arg(below(size.height()));
    if (r < 0.52)
      return QString("key %1 %2")
          .arg(int(one_of(kKeys)))
          .arg(chance() < 0.88  ? 0
               : chance() < 0.8 ? int(Qt::ShiftModifier)
                                : int(Qt::ControlModifier));
    if (r < 0.62) return "type " + kWords[below(int(kWords.size()))];
    if (r < 0.66)
      return QString("wheel %1 %2 %3")
          .arg(below(size.width()))
          .arg(below(size.height()))
          .arg((below(2) * 2 - 1) * 120 * (1 + below(8)));
    if (r < 0.74) return QString("key %1 %2").arg(int(Qt::Key_1) + below(7)).arg(int(Qt::AltModifier));
    if (r < 0.86)
      return "find " + (chance() < 0.55 ? codes_[below(int(codes_.size()))] : places_[below(int(places_.size()))]);
    if (r < 0.95) return QString("key %1 %2").arg(int(one_of(kWithControl))).arg(int(Qt::ControlModifier));
    return QString("size %1 %2").arg(1024 + below(257)).arg(700 + below(101));
  }

  QWidget* target() const {
    if (QWidget* popup = QApplication::activePopupWidget()) return popup;
    if (QWidget* modal = QApplication::activeModalWidget()) return modal;
    return &window_;
  }

  void press(QWidget* on, int key, Qt::KeyboardModifiers with) {
    QWidget* to = on->focusWidget() != nullptr ? on->focusWidget() : on;
    QTest::keyClick(to, Qt::Key(key), with);
  }

  void carry_out(const QString& words) {
    const QStringList p = words.split(' ');
    QWidget* on = target();
    const auto child = [&](const QPoint& at) { return on->childAt(at) != nullptr ? on->childAt(at) : on; };
    if (p[0] == "click") {
      const QPoint at(p[1].toInt(), p[2].toInt());
      QWidget* w = child(at);
      const QPoint there = w->mapFrom(on, at);
      if (p[3] == "2")
        QTest::mouseDClick(w, Qt::LeftButton, {}, there);
      else
        QTest::mouseClick(w, Qt::LeftButton, {}, there);
    } else if (p[0] == "drag") {
      const QPoint from(p[1].toInt(), p[2].toInt()), to(p[3].toInt(), p[4].toInt());
      QPointer<QWidget> w = child(from);
      QTest::mousePress(w, Qt::LeftButton, {}, w->mapFrom(on, from));
      for (int i = 1; i <= 4 && !w.isNull(); ++i) QTest::mouseMove(w, w->mapFrom(on, from + (to - from) * i / 4));
      if (!w.isNull()) QTest::mouseRelease(w, Qt::LeftButton, {}, w->mapFrom(on, to));
    } else if (p[0] == "key") {
      press(on, p[1].toInt(), Qt::KeyboardModifiers(p[2].toInt()));
    } else if (p[0] == "type") {
      QWidget* to = on->focusWidget() != nullptr ? on->focusWidget() : on;
      QTest::keyClicks(to, words.mid(5));
      QTest::keyClick(to->isVisible() ? to : on, Qt::Key_Return);
    } else if (p[0] == "wheel") {
      const QPoint at(p[1].toInt(), p[2].toInt());
      QWidget* w = child(at);
      QWheelEvent event(w->mapFrom(on, at), on->mapToGlobal(at), {}, {0, p[3].toInt()}, Qt::NoButton, Qt::NoModifier,
                        Qt::NoScrollPhase, false);
      QApplication::sendEvent(w, &event);
    } else if (p[0] == "find") {
      if (on != &window_) return press(on, Qt::Key_Escape, {});
      QTest::keyClick(&window_, Qt::Key_K, Qt::ControlModifier);
      if (QWidget* box = QApplication::focusWidget()) {
        QTest::keyClicks(box, words.mid(5));
        QTest::keyClick(box, Qt::Key_Return);
      }
    } else if (p[0] == "size") {
      window_.resize(p[1].toInt(), p[2].toInt());
    }
  }

  void step() {
    if (since_.elapsed() > seconds_ * 1000LL || (!again_.isEmpty() && count_ >= again_.size())) {
      if (QWidget* modal = QApplication::activeModalWidget()) modal->close();
      // A dialog's loop ends before the application's does: asked again until that one hears it.
      QTimer::singleShot(25, this, [this] { step(); });
      return QCoreApplication::exit(0);  // quit() would ask the window, which may have a run on
    }
    // Before it is done: a dialog that it opens has a loop of its own, in which the next one comes too.
    QTimer::singleShot(25, this, [this] { step(); });
    const QString words = again_.isEmpty() ? next() : again_[count_];
    keys_.write(words.toUtf8() + '\n');
    ++count_;
    carry_out(words);
    if (since_.elapsed() - measured_ < 5000) return;
    measured_ = since_.elapsed();
    QFile status("/proc/self/statm");
    if (!status.open(QIODevice::ReadOnly)) return;
    const qint64 resident = status.readAll().split(' ').value(1).toLongLong() * ::sysconf(_SC_PAGESIZE) >> 20;
    const struct mallinfo2 heap = ::mallinfo2();
    memory_.write(QString("%1 s, %2 actions: %3 MB resident, %4 MB in use, %5 widgets\n")
                      .arg(measured_ / 1000)
                      .arg(count_)
                      .arg(resident)
                      .arg(qint64(heap.uordblks + heap.hblkhd) >> 20)
                      .arg(QApplication::allWidgets().size())
                      .toUtf8());
  }

  MainWindow& window_;
  std::mt19937_64 random_;
  const int seconds_;
  const QStringList again_;
  QFile keys_, memory_;
  QStringList codes_, places_;
  QElapsedTimer since_;
  int count_ = 0;
  qint64 measured_ = 0;
};

int drive(const QString& folder, uint64_t seed, int seconds, const QStringList& again) {
  QDir().mkpath(folder);
  QDir::setCurrent(folder);
  const QString book = folder + "/book.fortitor";
  for (const char* more : {"", "-wal", "-shm"}) QFile::remove(book + more);
  if (const std::string why = copy_demo_book(book); !why.empty()) {
    QTextStream(stderr) << QString::fromStdString(why) << "\n";
    return 2;
  }
  Workbench bench;
  if (const auto opened = bench.open(book, "R. Vale", test_clock()); !opened) {
    QTextStream(stderr) << QString::fromStdString(opened.error().message) << "\n";
    return 2;
  }
  QFile where(folder + "/stalls.txt");
  if (!where.open(QIODevice::WriteOnly)) return 2;
  size_t stalls = 0;
  int longest = 0, done = 0;
  {
    MainWindow window(&bench);
    bench.touch_docket();
    window.show_today();
    window.show();
    StallWatch watch(100, where.handle());
    Driver driver(window, folder, seed, seconds, again);
    QApplication::exec();
    done = driver.done();
    stalls = watch.stalls().size();
    longest = watch.longest();
  }
  const auto damage = bench.book()->verify();
  for (const Damage& d : damage) QTextStream(stderr) << QString::fromStdString(d.what) << "\n";
  QTextStream(stdout) << "seed " << seed << ": " << done << " actions, " << stalls
                      << " stalls over 100 ms, the longest " << longest << " ms\n";
  return damage.empty() ? 0 : 1;
}

}  // namespace
}  // namespace fortitor

int main(int argc, char** argv) {
  fortitor::keep_memory();  // as the program does
  if (!qEnvironmentVariableIsSet("DISPLAY") && !qEnvironmentVariableIsSet("WAYLAND_DISPLAY"))
    qputenv("QT_QPA_PLATFORM", "offscreen");
  QApplication app(argc, argv);
  QApplication::setAttribute(Qt::AA_DontUseNativeDialogs);
  app.setQuitOnLastWindowClosed(false);
  fortitor::theme::install(app, 1.0);
  const QStringList a = app.arguments();
  const auto value = [&](const char* name, const QString& otherwise) {
    const qsizetype at = a.indexOf(name);
    return at > 0 && at + 1 < a.size() ? a[at + 1] : otherwise;
  };
  if (a.size() < 2) {
    QTextStream(stderr) << "window_driver FOLDER [--seed N] [--seconds S] [--again FILE]\n";
    return 2;
  }
  QStringList again;
  if (QFile keys(value("--again", {})); keys.open(QIODevice::ReadOnly))
    for (const QByteArray& line : keys.readAll().split('\n'))
      if (!line.isEmpty()) again << QString::fromUtf8(line);
  return fortitor::drive(QDir(a[1]).absolutePath(), value("--seed", "1").toULongLong(),
                         value("--seconds", again.isEmpty() ? "120" : "86400").toInt(), again);
}
