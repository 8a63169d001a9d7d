// The real window with one run that lasts for hours while its person works elsewhere in it: what it holds of the
// machine must not grow but by the samples themselves, and everything that was measured is in the book at the end.
//   window_soak FOLDER [--hours H] [--speed S]     H: of the machine's time, S: its seconds a second
// FOLDER gets the book and soak.txt, a line a minute. Exit 1: something grew, or the book is not sound.
#include <malloc.h>
#include <unistd.h>

#include <QApplication>
#include <QDir>
#include <QElapsedTimer>
#include <QTextStream>
#include <cmath>

#include "app/theme/theme.h"
#include "core/memory.h"
#include "core/standin/benches.h"
#include "tests/app/demo_book_copy.h"
#include "tests/app/live_run.h"

namespace fortitor {
namespace {

struct Held {
  double in_use = 0;  ///< MB of the heap
  qsizetype handles = 0, threads = 0, widgets = 0;
};

Held held() {
  const struct mallinfo2 heap = ::mallinfo2();
  return {double(heap.uordblks + heap.hblkhd) / 1e6,
          QDir("/proc/self/fd").entryList(QDir::NoDotAndDotDot | QDir::AllEntries | QDir::System).size(),
          QDir("/proc/self/task").entryList(QDir::NoDotAndDotDot | QDir::Dirs).size(),
          QApplication::allWidgets().size()};
}

// Where a person goes while a machine runs: other pages of the piece, other desks, and back.
struct Walk {
  MainWindow& window;
  Id piece;
  int at = 0;
  void step() {
    static const char* const desks[] = {"today", "plan", "kit", "logbook", "jobs", "reference", "slate"};
    const int n = at++;
    if (n % 3 == 0)
      window.open(desks[size_t(n / 3) % std::size(desks)]);
    else
      window.show_specimen(piece, n % 3 == 1 ? n / 3 % 7 : int(Stage::run));
  }
};

// Bytes of a sample: eight a channel. What else may grow between the first quarter and the end, in MB.
constexpr double kSlack = 24;

int soak(const QString& folder, double hours, double speed) {
  QDir().mkpath(folder);
  const QString path = folder + "/book.fortitor";
  for (const char* more : {"", "-wal", "-shm"}) QFile::remove(path + more);
  QTextStream err(stderr);
  if (const std::string why = copy_demo_book(path); !why.empty()) {
    err << QString::fromStdString(why) << "\n";
    return 2;
  }
  Workbench bench;
  if (!bench.open(path, "R. Vale")) return 2;
  QFile lines(folder + "/soak.txt");
  if (!lines.open(QIODevice::WriteOnly | QIODevice::Unbuffered)) return 2;
  int64_t rows = 0;
  bool grew = false;
  {
    MainWindow window(&bench);
    bench.touch_docket();
    window.show();
    const Id piece = demo_piece(*bench.book(), "HB-05");
    window.show_specimen(piece, int(Stage::run));
    // So slow that it never leaves the straight part.
    bench.edit("slow", [](TestRecord& r) { standin::type_into(r, "settings.speed.elastic", "0.00002 mm/min"); });
    if (!begin_run(window, piece, speed)) {
      err << "no run: " << window.message() << "\n";
      return 2;
    }
    RunStage& run = *window.part<RunStage>();
    Walk walk{window, piece};
    QTimer walks;
    QObject::connect(&walks, &QTimer::timeout, [&] { walk.step(); });
    walks.start(5000);
    QElapsedTimer since;
    since.start();
    const double total = hours * 3600;
    std::optional<Held> first;
    double first_bytes = 0;
    QTimer minutes;
    const auto note = [&] {
      const double time = run.machine().reading("time");
      const size_t channels = run.machine().now.size();
      const auto runs = bench.book()->runs(piece);
      rows = runs.empty() ? 0 : runs.back().rows;
      ::malloc_trim(0);
      const Held now = held();
      const double bytes = double(rows) * double(channels) * 8 / 1e6;
      lines.write(QString("%1 h of the machine, %2 min: %3 rows, %4 MB in use (%5 of samples), %6 handles, %7 threads, "
                          "%8 widgets\n")
                      .arg(time / 3600, 0, 'f', 2)
                      .arg(since.elapsed() / 60000)
                      .arg(rows)
                      .arg(now.in_use, 0, 'f', 1)
                      .arg(bytes, 0, 'f', 1)
                      .arg(now.handles)
                      .arg(now.threads)
                      .arg(now.widgets)
                      .toUtf8());
      if (!first && time > total / 4) {
        first = now;
        first_bytes = bytes;
      } else if (first) {
        // Doubling of a vector may hold as much again for a while.
        grew = now.in_use - first->in_use > (bytes - first_bytes) + kSlack || now.handles > first->handles + 4 ||
               now.widgets > first->widgets + first->widgets / 4;
      }
      if (!run.running() || time >= total) QApplication::exit(run.running() ? 0 : 3);
    };
    QObject::connect(&minutes, &QTimer::timeout, note);
    minutes.start(int(std::clamp(hours * 3600e3 / speed / 200, 1000.0, 60000.0)));
    if (QApplication::exec() == 3) {
      err << "the run ended by itself: " << QString::fromStdString(run.machine().message) << "\n";
      return 1;
    }
    walks.stop();
    minutes.stop();
    window.show_specimen(piece, int(Stage::run));
    run.setFocus();
    QTest::keyClick(&run, Qt::Key_Space);  // held
    const bool holds = QTest::qWaitFor([&] { return run.machine().state == MachineState::holding; }, 30000);
    QTest::keyClick(&run, Qt::Key_R);
    if (!holds || !QTest::qWaitFor([&] { return !run.running(); }, 120000)) {
      err << "the run did not end\n";
      return 1;
    }
    const auto runs = bench.book()->runs(piece);
    rows = runs.back().rows;
    const auto samples = bench.record().run.samples();
    if (!samples || int64_t(samples->size()) != rows) {
      err << "the window has another number of samples than the book\n";
      return 1;
    }
    note();
  }
  const auto damage = bench.book()->verify();
  for (const Damage& d : damage) err << QString::fromStdString(d.what) << "\n";
  QTextStream(stdout) << rows << " rows; " << (grew ? "something grew" : "nothing grew but the samples")
                      << "; the book is " << (damage.empty() ? "sound" : "not sound") << "\n";
  return damage.empty() && !grew ? 0 : 1;
}

}  // namespace
}  // namespace fortitor

int main(int argc, char** argv) {
  fortitor::keep_memory();
  if (!qEnvironmentVariableIsSet("DISPLAY") && !qEnvironmentVariableIsSet("WAYLAND_DISPLAY"))
    qputenv("QT_QPA_PLATFORM", "offscreen");
  QApplication app(argc, argv);
  fortitor::theme::install(app, 1.0);
  const QStringList a = app.arguments();
  const auto value = [&](const char* name, double otherwise) {
    const qsizetype at = a.indexOf(name);
    return at > 0 && at + 1 < a.size() ? a[at + 1].toDouble() : otherwise;
  };
  if (a.size() < 2) {
    QTextStream(stderr) << "window_soak FOLDER [--hours H] [--speed S]\n";
    return 2;
  }
  return fortitor::soak(QDir(a[1]).absolutePath(), value("--hours", 8), value("--speed", 1));
}
