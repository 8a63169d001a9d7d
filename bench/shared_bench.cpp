// A shared book of ten years, and twelve benches at once (shared-book.md, "Size").
// Wanted over 1 ms of network: 100,000 specimens shown within 1 s, an answer of Find or do within 50 ms; twelve benches
// with a run of 1 kHz each and a person who types, no write longer than 0.5 s.
//   book_bench --make BOOK 10000; fortitorctl copy BOOK ADDRESS; shared_bench ADDRESS SECONDS [--wire]
// With --wire every answer takes half a millisecond each way; the address then names the folder of the server's socket
// (host=…), as that of scripts/shared-book --trial does.
#include <QApplication>
#include <QTest>
#include <QUrl>
#include <QUrlQuery>
#include <algorithm>
#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <mutex>
#include <thread>
#include <vector>

#include "app/frame/main_window.h"
#include "app/theme/theme.h"
#include "core/quantity/plain.h"
#include "store/book.h"
#include "store/book_plan.h"
#include "tests/store/wire.h"

namespace fortitor {
namespace {

double now() {
  return std::chrono::duration<double>(std::chrono::steady_clock::now().time_since_epoch()).count();
}

template <class F>
void timed(const char* what, const F& work) {
  double best = 1e9;
  for (int i = 0; i < 5; ++i) {
    const double from = now();
    static_cast<void>(work());
    best = std::min(best, now() - from);
  }
  std::printf("%-44s %8.1f ms\n", what, best * 1000);
}

// One bench: four parts a second of a run at 1 kHz with four channels, and a version of a record every second.
void bench(const std::string& address, Id piece, int seconds, std::mutex& guard, std::vector<double>& waits) {
  auto book = Book::open(address, "bench " + std::to_string(piece));
  if (!book) return void(std::fprintf(stderr, "%s\n", book.error().message.c_str()));
  const auto run = (*book)->begin_run(piece, {"time", "force", "extension", "position"}, "frame");
  if (!run) return void(std::fprintf(stderr, "%s\n", run.error().message.c_str()));
  std::vector<std::vector<double>> part(4, std::vector<double>(250));
  const double from = now();
  std::vector<double> own;
  for (int beat = 0; beat < 4 * seconds; ++beat) {
    for (size_t c = 0; c < part.size(); ++c)
      for (size_t i = 0; i < part[c].size(); ++i) part[c][i] = double(beat) * 250 + double(i) * double(c + 1) * 1.37;
    double at = now();
    if (const auto done = (*book)->append_run(*run, part); !done)
      std::fprintf(stderr, "%s\n", done.error().message.c_str());
    own.push_back(now() - at);
    if (beat % 4 == 0) {
      TestRecord r;
      r.method = "tension-metal";
      r.fields.set("specimen.note", std::to_string(beat));
      at = now();
      if (const auto done = (*book)->save_record(piece, 0, r, {"1000000", "none", 0}, "typed"); !done)
        std::fprintf(stderr, "%s\n", done.error().message.c_str());
      own.push_back(now() - at);
    }
    std::this_thread::sleep_until(std::chrono::steady_clock::now() +
                                  std::chrono::duration<double>(std::max(0.0, from + 0.25 * (beat + 1) - now())));
  }
  const std::lock_guard lock(guard);
  waits.insert(waits.end(), own.begin(), own.end());
}

// What a person waits for in the window.
void window(const std::string& address) {
  Workbench bench;
  std::unique_ptr<MainWindow> window;
  const auto shown = [&](const char* what, const std::function<void()>& act) {
    const double from = now();
    act();
    QCoreApplication::sendPostedEvents(nullptr, QEvent::LayoutRequest);
    if (window) window->grab();
    std::printf("%-44s %8.1f ms\n", what, (now() - from) * 1000);
  };
  const double from = now();
  if (const auto opened = bench.open(QString::fromStdString(address), "bench"); !opened)
    return void(std::fprintf(stderr, "%s\n", opened.error().message.c_str()));
  window = std::make_unique<MainWindow>(&bench);
  bench.touch_docket();
  window->show_today();
  window->resize(1280, 800);
  window->show();
  window->grab();
  std::printf("%-44s %8.1f ms\n", "from the address to Today in the window", (now() - from) * 1000);
  QTest::qWait(3000);
  shown("All jobs", [&] { window->open("jobs"); });
  shown("Today again", [&] { window->show_today(); });
  shown("the docket after somebody wrote", [&] {
    TestRecord r;
    r.method = "tension-metal";
    r.fields.set("specimen.note", std::to_string(now()));
    if (const auto saved = bench.book()->save_record(4711, 0, r, {"1000000", "none", 0}, "typed"); !saved)
      std::fprintf(stderr, "%s\n", saved.error().message.c_str());
    bench.touch_docket();
  });
  shown("a piece opened", [&] { window->show_specimen(7777, 0); });
}

int run(const std::string& address, int seconds) {
  std::vector<Id> pieces;
  {
    auto book = Book::open(address, "bench");
    if (!book) return std::fprintf(stderr, "%s\n", book.error().message.c_str()), 2;
    const double first = now();
    const size_t count = (*book)->outline().size();
    std::printf("%-44s %8.1f ms (%zu jobs)\n", "jobs, series and specimens, the first time", (now() - first) * 1000,
                count);
    timed("jobs, series and specimens, again", [&] { return (*book)->outline(); });
    timed("the plan of the day", [&] { return agenda_input(**book, "2026-11-26", "2026-11-26T10:00"); });
    timed("find “spare 777”", [&] { return (*book)->search("spare 777", 60); });
    timed("find “B-77”", [&] { return (*book)->search("B-77", 60); });
    timed("find what is not there", [&] { return (*book)->search("nothing", 60); });
    timed("one piece", [&] { return (*book)->typed_record(7777); });
    timed("logbook, newest 200", [&] { return (*book)->logbook(200); });
    for (Id n = 1; n <= 12; ++n) pieces.push_back(n);
  }
  timed("opened", [&] { return Book::open(address, "bench"); });
  window(address);
  std::mutex guard;
  std::vector<double> waits;
  std::vector<std::thread> benches;
  for (Id piece : pieces) benches.emplace_back([&, piece] { bench(address, piece, seconds, guard, waits); });
  for (std::thread& t : benches) t.join();
  std::sort(waits.begin(), waits.end());
  if (waits.empty()) return 2;
  std::printf("%-44s %8zu\n", "writes of twelve benches", waits.size());
  std::printf("%-44s %8.1f ms\n", "the middle one waited", waits[waits.size() / 2] * 1000);
  std::printf("%-44s %8.1f ms\n", "one in a hundred waited", waits[waits.size() * 99 / 100] * 1000);
  std::printf("%-44s %8.1f ms\n", "the longest waited", waits.back() * 1000);
  return 0;
}

}  // namespace
}  // namespace fortitor

int main(int argc, char** argv) {
  qputenv("QT_QPA_PLATFORM", "offscreen");
  QApplication app(argc, argv);
  fortitor::theme::install(app, 1.0);
  const auto seconds = argc >= 3 ? fortitor::plain::whole(argv[2]) : std::nullopt;
  if (!seconds) return std::fprintf(stderr, "shared_bench ADDRESS SECONDS [--wire]\n"), 2;
  std::string address = argv[1];
  std::unique_ptr<fortitor::Wire> wire;
  if (argc == 4 && std::string(argv[3]) == "--wire") {
    QUrl url(QString::fromStdString(address));
    QUrlQuery query(url);
    const QString folder = query.queryItemValue("host");
    if (folder.isEmpty()) return std::fprintf(stderr, "--wire wants an address with host=FOLDER\n"), 2;
    wire = std::make_unique<fortitor::Wire>((folder + "/.s.PGSQL.5432").toStdString(), 0.0005);
    query.removeQueryItem("host");
    url.setQuery(query);
    url.setHost("127.0.0.1");
    url.setPort(wire->port());
    address = url.toString().toStdString();
  }
  return fortitor::run(address, int(*seconds));
}
